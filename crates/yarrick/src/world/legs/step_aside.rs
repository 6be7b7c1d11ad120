//! Making room: a unit that stands in the way of one of its own side walks out of its way, or ahead of it.
//!
//! ```text
//!      ####   ###########            the unit s stands in a narrow place; the nearest place off the way
//!      ####  q #########             of m, as far as both are wide, is q
//!       m →→→→→→→ s →→→→→
//!      #################
//! ```

use super::nearest::{nearest_place, note_bodies};
use crate::geom::{Vec2, segment_nearest, segment_point_distance_squared};
use crate::ground::GroundView;
use crate::motion::{Mesh, Surroundings};
use crate::world::state::{
    Claim, GroupNo, GroupPlace, Locomotion, MoveTarget, Owner, Patience, Place, Return, Scratch,
    State, Walk,
};

/// The meshes on which a place is searched: the distance of their nodes in radii of the unit, and the nodes to either side.
const MESHES: [(f32, u32); 2] = [(0.5, 24), (1.0, 64)];

/// How far off the way of the other a unit steps, beyond the sum of their radii, in its own radii.
const BESIDE_RADII: f32 = 0.15;

/// How long the other is given to pass, as a multiple of the time that it takes alone, and in seconds besides; and for how
/// many seconds from then on the unit means to come back.
const TIMES_ALONE: f32 = 1.5;
const SPARE_S: f32 = 0.5;
const COME_BACK_S: f32 = 8.0;

/// Whether a unit that stands would walk out of the way of another.
pub(crate) fn would_step_aside(state: &State, row: usize) -> bool {
    let units = &state.units;
    units.locomotion[row].stands()
        && units.legs_owner[row] == Owner::Nobody
        && !units.stands_firm[row]
        && state.kind_of(row).speed() > 0.0
}

/// Lets a unit walk out of the way that another is about to take: to the nearest place beside it, or, where there is none,
/// ahead. Gives the work that it took.
pub(crate) fn step_aside(
    state: &mut State,
    scratch: &mut Scratch,
    (row, mover): (usize, usize),
    way: &[Vec2],
) -> u32 {
    let (from, radius) = (state.units.position[row], state.units.radius[row]);
    let apart = radius * (1.0 + BESIDE_RADII) + state.units.radius[mover];
    let passage = Passage {
        view: state.ground_view(mover),
        squeezes: !state.kind_of(mover).drives(),
        radius_m: state.units.radius[mover],
        apart_m: apart,
        start: state.units.position[mover],
        way,
    };
    let mut spent = 0;
    for size in MESHES {
        let mesh = Mesh::in_radii(radius, size);
        let yields = |other: usize| yields(state, other, mover);
        note_bodies(state, scratch, (row, mesh.half_m()), yields);
        let around = Surroundings {
            view: state.ground_view(row),
            radius_m: radius,
            obstacles: &scratch.obstacles,
        };
        let search = &mut scratch.detours;
        let found = search.find_place(&around, &mesh, from, |at| {
            passage.is_left_free(at) && around.is_free(at)
        });
        spent += search.work();
        if let Some(points) = found {
            walk_aside(state, (row, mover), (points, way));
            return spent;
        }
    }
    spent + move_up(state, scratch, (row, mover), way)
}

/// Lets a unit go ahead of another as far as there is room, where it can step off the way of that nowhere: in a dead end. Gives the work
/// that it took.
fn move_up(
    state: &mut State,
    scratch: &mut Scratch,
    (row, mover): (usize, usize),
    way: &[Vec2],
) -> u32 {
    let (from, radius) = (state.units.position[row], state.units.radius[row]);
    let Some(&end) = way.last() else {
        return 0;
    };
    let yields = |other: usize| yields(state, other, mover);
    let (points, work) = nearest_place(state, scratch, (row, end), yields);
    let is_worth_it = |to: &Vec2| to.distance(end) < from.distance(end) - radius;
    if points.last().is_some_and(is_worth_it) {
        walk_aside(state, (row, mover), (points, way));
    }
    work
}

/// The way for which room is made.
struct Passage<'a> {
    view: GroundView<'a>,
    /// Whether it steps aside as easily as it goes on.
    squeezes: bool,
    /// Radius of the passing unit, and the distance between both middles as it passes, in metres.
    radius_m: f32,
    apart_m: f32,
    start: Vec2,
    way: &'a [Vec2],
}

impl Passage<'_> {
    /// Whether a body at a point leaves the way free, or room beside it: between two walls both go to the side.
    fn is_left_free(&self, at: Vec2) -> bool {
        let mut from = self.start;
        self.way.iter().all(|&to| {
            let leg = core::mem::replace(&mut from, to);
            let beside = segment_nearest(leg, to, at) - at;
            let off_m = beside.length();
            if off_m >= self.apart_m {
                return true;
            }
            let across = (to - leg).normalize_or_zero().perp();
            let toward = if beside.dot(across) < 0.0 {
                -across
            } else {
                across
            };
            let passes = at + toward * self.apart_m;
            self.squeezes
                && off_m > LEAST_OFF * self.apart_m
                && self.view.disc_is_clear(passes, self.radius_m)
        })
    }
}

/// How far off the way itself one has to go at least that leaves room beside it, as a part of the distance at which the two
/// pass.
const LEAST_OFF: f32 = 0.25;

/// Whether another body would step aside for a unit that itself makes room for the mover. `None` if that body is not in the way.
fn yields(state: &State, other: usize, mover: usize) -> Option<bool> {
    let counts = other == mover || state.units.locomotion[other].stands();
    counts.then(|| other != mover && would_step_aside(state, other))
}

fn walk_aside(
    state: &mut State,
    (row, mover): (usize, usize),
    (points, way): (Vec<Vec2>, &[Vec2]),
) {
    let Some(&at) = points.last() else {
        return;
    };
    let here = state.units.position[row];
    let target = MoveTarget::Place(GroupPlace {
        group: GroupNo::default(),
        goal: at,
        place: Place::alone(at),
        claim: Claim::Keeps,
    });
    let second = state.rules.ticks_per_second as f32;
    let until_past_m = way_up_to(state.units.position[mover], way, here)
        + 2.0 * (state.units.radius[row] + state.units.radius[mover]);
    let passes_s = until_past_m / state.top_speed(mover).max(0.1) * TIMES_ALONE + SPARE_S;
    let from = state.clock.tick + (passes_s * second) as u64;
    state.units.return_to[row] = Some(Return {
        at: state.units.return_to[row].map_or(here, |known| known.at),
        from,
        until: from + (COME_BACK_S * second) as u64,
    });
    let walk = Walk::new(target, here, points, Patience::default());
    state.units.locomotion[row] = Locomotion::Walking(walk);
}

/// The metres along a way up to the leg that comes nearest to a point.
fn way_up_to(start: Vec2, way: &[Vec2], at: Vec2) -> f32 {
    let (mut from, mut walked) = (start, 0.0);
    let mut nearest = (f32::INFINITY, 0.0);
    for &to in way {
        let leg = core::mem::replace(&mut from, to);
        let off = segment_point_distance_squared(leg, to, at);
        let length = leg.distance(to);
        let along = (at - leg)
            .dot((to - leg).normalize_or_zero())
            .clamp(0.0, length);
        if off < nearest.0 {
            nearest = (off, walked + along);
        }
        walked += length;
    }
    nearest.1
}
