//! Keeping near another unit without pushing.
//!
//! Units that follow the same unit keep in rings round it, the nearest in the first, as many in
//! each as find room on the side from which they come:
//!
//! ```text
//!     f f
//!   f f f        the first ring a little behind the unit,
//!   f f f  U →   the next a body farther off
//!     f f
//! ```

use super::closing::{Closing, Distance, close_in};
use super::{Act, Activities, Activity, Behaviour, Faculties, Next};
use crate::world::arms::{self, Alertness};
use crate::world::ids::UnitId;
use crate::world::legs;
use crate::world::message::USUAL_FOLLOW_GAP_M;
use crate::world::state::{Follower, Locomotion, Owner, Patience, Scratch, State};
use serde::{Deserialize, Serialize};

/// How much farther the unit may get before those that follow it set out again, in metres.
const SLACK_M: f32 = 1.0;

/// A follower tries to get past others to a unit that stands for one so-many-th of a second.
const PATIENCE_PER_S: u32 = 4;

/// From ring to ring, and from unit to unit on a ring, in radii.
const SPACING: f32 = 2.4;

/// Two bodies touch within this multiple of the sum of their radii.
const TOUCH: f32 = 1.1;

/// Keeping near another unit.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Follow {
    target: UnitId,
    /// The gap that the first ring keeps, in metres.
    gap_m: f32,
    patience: Patience,
    /// Whether it has come as near as it gets: it does not look for a way again until the other moves.
    is_settled: bool,
}

impl Follow {
    pub(crate) fn new(target: UnitId, gap_m: f32) -> Follow {
        Follow {
            target,
            gap_m,
            patience: Patience::default(),
            is_settled: false,
        }
    }

    pub(super) fn begin(&mut self, act: &mut Act<'_>) {
        *self = Follow::new(self.target, self.gap_m);
        legs::halt(act.state, act.row);
    }

    /// Keeps near the unit, and strikes foes in reach while it stands there.
    pub(super) fn keep_near(&mut self, act: &mut Act<'_>) {
        let known = act.sighting.take();
        if let Some(target) = act.state.units.row(self.target) {
            self.follow(act.state, act.scratch, act.row, target);
        }
        act.sighting = known;
        let units = &act.state.units;
        let (legs, arms) = (units.legs_owner[act.row], units.arms_owner[act.row]);
        if arms != Owner::Nobody && arms != legs {
            // Another activity has the arms.
            return;
        }
        if units.locomotion[act.row].stands() {
            act.strike_in_reach();
        } else {
            arms::lower(act.state, act.row);
        }
    }

    fn follow(&mut self, state: &mut State, scratch: &Scratch, row: usize, target: usize) {
        let known = scratch
            .ring_m
            .binary_search_by_key(&(row as u32), |(row, _)| *row);
        let near_m = known.map_or(self.gap_m, |at| scratch.ring_m[at].1);
        let rests = state.units.locomotion[target].stands();
        if !rests {
            *self = Follow::new(self.target, self.gap_m);
        }
        let (stands, held_up) = match &state.units.locomotion[row] {
            Locomotion::Standing => (true, 0),
            Locomotion::AwaitingRoute { .. } | Locomotion::Steered(_) => (false, 0),
            Locomotion::Walking(walk) => (false, walk.held_up()),
        };
        if stands && (!state.thinks_now(row) || self.is_settled) {
            return;
        }
        let near_enough = state.gap_m(row, target) <= near_m + 3.0 * SLACK_M;
        let held_up = held_up > state.rules.ticks_per_second / PATIENCE_PER_S;
        if rests && near_enough && (held_up || stands_behind(state, scratch, row, target)) {
            self.is_settled = true;
            return legs::halt(state, row);
        }
        let distance = Distance::within(near_m, near_m + SLACK_M);
        match close_in(state, scratch, (row, target), distance, &mut self.patience) {
            // It waits there.
            Closing::Stranded { .. } => self.is_settled = true,
            Closing::There => self.is_settled = false,
            Closing::OnTheWay { .. } | Closing::Waits { .. } => {}
        }
    }
}

impl Behaviour for Follow {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.begin(act);
        Next::Continue
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        self.keep_near(act);
        Next::Continue
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.target)
    }

    fn alertness(&self, _: &State) -> Alertness {
        Alertness::InReach {
            only_standing: true,
        }
    }
}

/// The unit that another keeps near, and at what gap in metres.
fn followed(activities: &Activities) -> Option<(UnitId, f32)> {
    let roots = activities.iter().map(|running| running.root());
    roots.into_iter().find_map(|root| match root {
        Activity::Follow(follow) => Some((follow.target, follow.gap_m)),
        Activity::Guard(guard) => Some((guard.target()?, USUAL_FOLLOW_GAP_M)),
        _ => None,
    })
}

/// Finds out which units follow which, and in which ring.
pub(crate) fn line_up(state: &State, activities: &[Activities], scratch: &mut Scratch) {
    let followers = &mut scratch.followers;
    followers.clear();
    for (row, activities) in activities.iter().enumerate() {
        if let Some((target, least_m)) = followed(activities) {
            let gap = state
                .units
                .row(target)
                .map_or(0.0, |of| state.gap_m(row, of));
            followers.push(Follower {
                target,
                gap_bits: gap.to_bits(),
                unit: state.units.id[row],
                row: row as u32,
                least_bits: least_m.to_bits(),
            });
        }
    }
    followers.sort_unstable();
    scratch.ring_m.clear();
    for of_target in followers.chunk_by(|a, b| a.target == b.target) {
        let target = state.units.row(of_target[0].target);
        let around = target.map_or(0.0, |row| state.kind_of(row).body.radius_m);
        let gaps = of_target
            .iter()
            .map(|follower| f32::from_bits(follower.least_bits));
        let mut ring = Ring::first(around, gaps.fold(f32::INFINITY, f32::min));
        for follower in of_target {
            let gap = ring.next_gap(state.units.radius[follower.row as usize]);
            let gap = gap.max(f32::from_bits(follower.least_bits));
            scratch.ring_m.push((follower.row, gap));
        }
    }
    scratch.ring_m.sort_unstable_by_key(|(row, _)| *row);
}

/// The rings round a unit as they fill up.
struct Ring {
    around: f32,
    gap: f32,
    /// How much of the half ring is taken, in metres.
    taken: f32,
    /// The widest radius on the ring.
    widest: f32,
}

impl Ring {
    fn first(around: f32, gap: f32) -> Ring {
        Ring {
            around,
            gap,
            taken: 0.0,
            widest: 0.0,
        }
    }

    /// The gap that the next unit keeps, given the radius of its body.
    fn next_gap(&mut self, radius: f32) -> f32 {
        let half_ring = core::f32::consts::PI * (self.around + self.gap + radius);
        if self.taken > 0.0 && self.taken + SPACING * radius > half_ring {
            self.gap += SPACING * self.widest.max(radius);
            self.taken = 0.0;
            self.widest = 0.0;
        }
        self.taken += SPACING * radius;
        self.widest = self.widest.max(radius);
        self.gap
    }
}

/// Whether a unit touches another that stands, keeps near the same unit, and is nearer to it.
fn stands_behind(state: &State, scratch: &Scratch, row: usize, target: usize) -> bool {
    let units = &state.units;
    let goal = units.position[target];
    let mine = units.position[row].distance(goal);
    let of_target = |follower: &&Follower| follower.target == units.id[target];
    let first = scratch
        .followers
        .partition_point(|follower| follower.target < units.id[target]);
    let fellows = scratch.followers[first..].iter().take_while(of_target);
    fellows.map(|follower| follower.row as usize).any(|other| {
        let at = units.position[other];
        let reach = (units.radius[row] + units.radius[other]) * TOUCH;
        units.locomotion[other].stands()
            && at.distance(units.position[row]) <= reach
            && at.distance(goal) < mine
    })
}
