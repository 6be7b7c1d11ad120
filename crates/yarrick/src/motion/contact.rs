//! What bodies that come upon one another do to each other's steps: of all steps that keep them apart, those
//! nearest to what all of them want.
//!
//! The contact model of Maury and Venel ("A discrete contact model for crowd motion", 2011): each pair that
//! might touch, and each wall, limits the steps towards it; the steps are put right contact by contact, over and over,
//! and what one gives the other takes, by their weights (projected Gauss-Seidel). Pushes thus go through a crowd as
//! far as they have to. Weights decide which of two gives way, so that no two wait for each other in a gap.

use crate::geom::{Vec2, angle};
use crate::ground::{GroundView, SKIN_M};
use crate::motion::Turns;
use crate::near::Near;

/// Iterations over all contacts. With more, a push travels farther within a tick.
const ROUNDS: usize = 16;

/// Overlap between two standing bodies that is ignored, as a fraction of the smaller radius.
const REST_OVERLAP: f32 = 0.04;

/// Push weight of the body with right of way, relative to 1 for the body behind it.
const FIRST: f32 = 0.15;

/// The same for two alike that nobody comes against: fewer arches form before gaps.
const FIRST_OF_ALIKE: f32 = 0.05;

/// Push weight of a standing body, relative to 1 for the walking body that pushes it.
const STANDING: f32 = 0.5;

/// Factor by which rounding may lengthen a step.
pub(crate) const ROUNDED_UP: f32 = 1.0001;

/// Contacts for each body in a dense crowd: half the number of its neighbours.
const USUAL: usize = 4;

/// The bodies of a tick, as parallel lists.
#[derive(Clone, Copy, Debug)]
pub struct Bodies<'a> {
    /// Positions in metres.
    pub at: &'a [Vec2],
    /// Wanted steps in metres; zero for standing bodies.
    pub steps: &'a [Vec2],
    /// Radii in metres.
    pub radii: &'a [f32],
    /// The largest of the radii.
    pub widest: f32,
    /// Longest step of each body in a tick, in metres; `0` for a body that cannot be pushed.
    pub limits: &'a [f32],
    /// The largest of the limits.
    pub farthest: f32,
    /// The right of way.
    pub turns: Turns<'a>,
    /// Whether others come against each of them.
    pub oncoming: &'a [bool],
    /// Side of each body: a standing body makes room for its own side only.
    pub sides: &'a [u8],
}

/// Bodies that might touch, or one and a wall.
#[derive(Clone, Copy, Debug)]
struct Contact {
    a: u32,
    /// The other body, or [`WALL`].
    b: u32,
    /// From the first towards the other.
    toward: Vec2,
    /// The metres between them; less than zero if they overlap.
    gap: f32,
    /// Push weights of both; their sum is above zero.
    gives: (f32, f32),
    /// How much they push each other.
    push: f32,
}

const WALL: u32 = u32::MAX;

/// The contacts of a tick: workspace.
#[derive(Clone, Debug, Default)]
pub struct Contacts {
    all: Vec<Contact>,
    /// Whether each body could get to another, or to closed ground, or off the map.
    meets: Vec<bool>,
}

impl Contacts {
    /// Forgets those of the tick before, and makes room for those of a crowd of `bodies` bodies.
    pub fn clear(&mut self, bodies: usize) {
        self.all.clear();
        self.all.reserve(bodies * USUAL);
        self.meets.clear();
        self.make_room(bodies);
    }

    fn make_room(&mut self, bodies: usize) {
        if self.meets.len() < bodies {
            self.meets.resize(bodies, false);
        }
    }

    /// Whether a body that has looked round could get to another in this tick, or to closed ground, or to the edge of
    /// the map. One that could not may take its step whatever the others do.
    #[must_use]
    pub fn meets_any(&self, who: u32) -> bool {
        self.meets.get(who as usize).is_none_or(|meets| *meets)
    }

    /// Finds the bodies that body `who` might touch in this tick. `looks` says which bodies look for themselves: of two that do, the
    /// one with the smaller number notes the contact.
    ///
    /// Costs in proportion to the bodies near it.
    pub fn find(&mut self, bodies: &Bodies<'_>, near: &Near, who: u32, looks: &[bool]) {
        let me = who as usize;
        self.make_room(bodies.at.len());
        let (at, radius) = (bodies.at[me], bodies.radii[me]);
        let reach = radius + bodies.widest + (bodies.limits[me] + bodies.farthest) * ROUNDED_UP;
        // Inner iteration: the index's nested loops stay loops.
        near.within(at, reach).for_each(|other| {
            let them = other as usize;
            if other == who || looks[them] && other < who {
                return;
            }
            let between = bodies.at[them] - at;
            let apart = radius + bodies.radii[them];
            let most = apart + (bodies.limits[me] + bodies.limits[them]) * ROUNDED_UP;
            let square = between.length_squared();
            if square >= most * most {
                return;
            }
            (self.meets[me], self.meets[them]) = (true, true);
            let distance = square.sqrt();
            let stand = bodies.steps[me] == Vec2::ZERO && bodies.steps[them] == Vec2::ZERO;
            let rests = radius.min(bodies.radii[them]) * REST_OVERLAP;
            let gives = gives(bodies, me, them);
            if stand && distance > apart - rests || gives.0 + gives.1 <= 0.0 {
                return;
            }
            let toward = if distance > 1e-4 {
                between / distance
            } else {
                way_out_of_a_heap(who, other)
            };
            self.all.push(Contact {
                a: who,
                b: other,
                toward,
                gap: distance - apart,
                gives,
                push: 0.0,
            });
        });
    }

    /// Finds the walls that a body might touch.
    pub fn find_walls(&mut self, bodies: &Bodies<'_>, view: GroundView<'_>, who: u32) {
        let me = who as usize;
        self.make_room(bodies.at.len());
        let (at, radius) = (bodies.at[me], bodies.radii[me]);
        let reach = radius + bodies.limits[me] * ROUNDED_UP;
        if view.is_in_the_open(at, reach) {
            return;
        }
        self.meets[me] |= !view.ground().bounds().grown(-reach).contains(at);
        for wall in view.closed_cells_under(at, reach) {
            self.meets[me] = true;
            let between = wall.nearest(at) - at;
            let distance = between.length();
            if distance > 1e-4 {
                self.all.push(Contact {
                    a: who,
                    b: WALL,
                    toward: between / distance,
                    gap: distance - radius + SKIN_M * 0.5,
                    gives: (1.0, 0.0),
                    push: 0.0,
                });
            }
        }
    }

    /// Corrects the steps so that no two bodies overlap. Calls `pushed(body, by)` for each body that another one pushed.
    pub fn solve(&mut self, steps: &mut [Vec2], mut pushed: impl FnMut(u32, u32)) {
        for _ in 0..ROUNDS {
            for contact in &mut self.all {
                let (a, b) = (contact.a as usize, contact.b as usize);
                let other = if contact.b == WALL {
                    Vec2::ZERO
                } else {
                    steps[b]
                };
                let over = (steps[a] - other).dot(contact.toward) - contact.gap;
                let (mine, theirs) = contact.gives;
                let push = (contact.push + over / (mine + theirs)).max(0.0);
                let change = contact.toward * (push - contact.push);
                contact.push = push;
                steps[a] -= change * mine;
                if contact.b != WALL {
                    steps[b] += change * theirs;
                }
            }
        }
        for contact in &self.all {
            if contact.push > 0.0 && contact.b != WALL {
                pushed(contact.a, contact.b);
                pushed(contact.b, contact.a);
            }
        }
    }
}

/// Push weights of two bodies in contact.
fn gives(bodies: &Bodies<'_>, me: usize, them: usize) -> (f32, f32) {
    let turns = &bodies.turns;
    let stands = |who: usize| bodies.steps[who] == Vec2::ZERO;
    let are_own = bodies.sides[me] == bodies.sides[them];
    let (mine, theirs) = match (stands(me), stands(them)) {
        (true, false) if !are_own => (0.0, 1.0),
        (false, true) if !are_own => (1.0, 0.0),
        (true, false) => (STANDING, 1.0),
        (false, true) => (1.0, STANDING),
        (false, false) if turns.go_together(bodies.steps, me, them) => {
            let alike = bodies.radii[me] == bodies.radii[them];
            let first = if alike && !bodies.oncoming[me] && !bodies.oncoming[them] {
                FIRST_OF_ALIKE
            } else {
                FIRST
            };
            if turns.goes_before(me, them) {
                (first, 1.0)
            } else {
                (1.0, first)
            }
        }
        _ => (1.0, 1.0),
    };
    let moves = |who: usize| if bodies.limits[who] > 0.0 { 1.0 } else { 0.0 };
    (mine * moves(me), theirs * moves(them))
}

/// Bodies in the very same place leave it in opposite directions, by their numbers.
fn way_out_of_a_heap(who: u32, other: u32) -> Vec2 {
    const GOLDEN_ANGLE: f32 = 2.399_963;
    let pair = who.min(other).wrapping_mul(31).wrapping_add(who.max(other));
    let outward = angle::direction(angle::wrap((pair % 4096) as f32 * GOLDEN_ANGLE));
    if who < other { -outward } else { outward }
}
