//! Lets a unit that has no way to its place any more, for others that stand round it, stop as near to it as it can get.
//!
//! ```text
//!          o o                o   bodies that stand
//!         o g o               g   the goal of the unit a
//!   a → q  o o                q   the free place nearest to that, of those that it can reach
//! ```

use crate::geom::Vec2;
use crate::motion::{Mesh, Obstacle, Surroundings};
use crate::route::Shortfall;
use crate::world::legs;
use crate::world::state::{
    Arrival, Locomotion, Owner, Place, Report, SETTLING_TICKS, Scratch, State,
};

/// The mesh on which the place is searched: the distance of its nodes in radii of the unit, and the nodes to either side.
const MESH: (f32, u32) = (0.5, 36);

/// Within this many of its radii of where its group assembles, and the radius of the widest body, a unit stops short of its place. Farther
/// off it waits for the others to go away, and gives up in the end.
const NEAR_RADII: f32 = 12.0;

/// A place is worth the way if it is this many radii nearer to the goal.
const NEARER_RADII: f32 = 1.0;

/// After so many looks for a way round in vain, which is some four seconds.
pub(super) const AFTER_LOOKS: u8 = 3;

/// Sends a unit to the free place nearest to its goal, or lets it arrive where it is, if it is near. Gives the work that it took.
pub(super) fn run(state: &mut State, scratch: &mut Scratch, row: usize) -> u32 {
    let (from, radius) = (state.units.position[row], state.units.radius[row]);
    let Some(target) = state.units.locomotion[row].place().copied() else {
        return 0;
    };
    let place = target.place;
    let off_m = from.distance(place.middle);
    let makes_room = state.units.legs_owner[row] == Owner::Nobody;
    let near_m = place.spread_m + NEAR_RADII * radius + state.derived.widest;
    if makes_room || off_m > near_m {
        return 0;
    }
    let (way, work) = nearest_place(state, scratch, row, place.middle);
    let at = way.last().copied().unwrap_or(from);
    let is_there = legs::is_at_assembly(state, row, (at, &place));
    let crowded = (!is_there).then_some(Shortfall::Crowded);
    let short = place.short.or(crowded);
    let place = Place { at, short, ..place };
    if at.distance(place.middle) > off_m - NEARER_RADII * radius {
        stop(state, scratch, row, (target.goal, &place));
    } else if let Locomotion::Walking(walk) = &mut state.units.locomotion[row] {
        let all = walk.path().len() as u32;
        walk.set_place(place);
        walk.take_detour(from, way, all);
    }
    work
}

/// The way of a unit to the free place that is nearest to a point, past bodies of which none makes room, and the work to find it. Empty if
/// the unit is as near as it can get.
fn nearest_place(state: &State, scratch: &mut Scratch, row: usize, to: Vec2) -> (Vec<Vec2>, u32) {
    let (from, radius) = (state.units.position[row], state.units.radius[row]);
    let (spacing, reach) = MESH;
    let mesh = Mesh {
        spacing_m: spacing * radius.max(0.05),
        reach,
        middle: None,
    };
    note_standing(state, scratch, row, mesh.half_m());
    let around = Surroundings {
        view: state.ground_view(row),
        radius_m: radius,
        obstacles: &scratch.obstacles,
    };
    let search = &mut scratch.detours;
    let way = search.find_nearest(&around, &mesh, (from, to));
    (way, search.work())
}

fn note_standing(state: &State, scratch: &mut Scratch, row: usize, half_m: f32) {
    let units = &state.units;
    let reach = half_m * core::f32::consts::SQRT_2 + units.radius[row] + state.derived.widest;
    let near = scratch.near.within(units.position[row], reach);
    let standing = near.map(|other| other as usize).filter(|other| {
        *other != row && units.radius[*other] > 0.0 && units.locomotion[*other].stands()
    });
    scratch.obstacles.clear();
    scratch.obstacles.extend(standing.map(|other| Obstacle {
        at: units.position[other],
        radius_m: units.radius[other],
        yields: false,
    }));
}

/// Lets a unit arrive where it is.
fn stop(state: &mut State, scratch: &mut Scratch, row: usize, (goal, place): (Vec2, &Place)) {
    let is_known = |(known, _): &(u32, Report)| *known as usize == row;
    if scratch.reports.iter().any(is_known) {
        return;
    }
    state.units.settling_ticks[row] = SETTLING_TICKS;
    let arrival = Arrival {
        goal,
        short: place.short,
        facing: place.facing,
    };
    scratch.reports.push((row as u32, Report::Arrived(arrival)));
}
