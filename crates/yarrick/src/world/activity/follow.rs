//! Keeping near another unit without pushing.
//!
//! Those that follow the same unit keep in rings round it, the nearest in the first, so many in
//! each as find room on the side from which they come:
//!
//! ```text
//!     f f
//!   f f f        the first ring a little behind the unit,
//!   f f f  U →   the next a body farther off
//!     f f
//! ```

use super::Activity;
use super::closing::{Closing, Distance, Progress, close_in};
use crate::world::order::{Order, Task};
use crate::world::queue;
use crate::world::state::{Scratch, State};

/// The gap that the first ring keeps, in metres.
const GAP_M: f32 = 1.0;

/// How much farther the unit may get before those that follow it set out again, in metres.
const SLACK_M: f32 = 1.0;

/// For such a part of a second a follower tries to get past others to a unit that stands.
const PATIENCE_PER_S: u32 = 4;

/// From ring to ring, and from one to the next on a ring, in radii.
const SPACING: f32 = 2.4;

/// Two bodies touch within so much of the sum of their radii.
const TOUCH: f32 = 1.1;

/// Finds out who follows whom, and in which ring.
pub(crate) fn line_up(state: &State, scratch: &mut Scratch) {
    let followers = &mut scratch.followers;
    followers.clear();
    for row in 0..state.units.len() {
        let first = state.units.orders[row].first();
        if let Some(Task::Follow { target } | Task::Guard { target }) =
            first.map(|order| &order.task)
        {
            let gap = state
                .units
                .row(*target)
                .map_or(0.0, |of| state.gap_m(row, of));
            // The bits of numbers that are not negative are ordered as these are.
            followers.push((*target, gap.to_bits(), state.units.id[row], row as u32));
        }
    }
    followers.sort_unstable();
    scratch.ring_m.clear();
    let mut start = 0;
    while start < followers.len() {
        let target = followers[start].0;
        let of_target = followers[start..].partition_point(|(other, ..)| *other == target);
        let around = state
            .units
            .row(target)
            .map_or(0.0, |row| state.units.radius[row]);
        let mut ring = Ring::first(around);
        for (.., row) in &followers[start..start + of_target] {
            let gap = ring.next_gap(state.units.radius[*row as usize]);
            scratch.ring_m.push((*row, gap));
        }
        start += of_target;
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
    fn first(around: f32) -> Ring {
        Ring {
            around,
            gap: GAP_M,
            taken: 0.0,
            widest: 0.0,
        }
    }

    /// The gap that the next one keeps, whose body has a radius.
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

/// Goes on following.
pub(crate) fn follow(state: &mut State, scratch: &Scratch, row: usize, target: usize) {
    let known = scratch
        .ring_m
        .binary_search_by_key(&(row as u32), |(row, _)| *row);
    let near_m = known.map_or(GAP_M, |at| scratch.ring_m[at].1);
    let rests = matches!(state.units.activity[target], Activity::Stand);
    if !rests {
        state.units.progress[row] = Progress::from(state.tick);
    }
    let (stands, held_up) = match &state.units.activity[row] {
        Activity::Stand => (true, 0),
        Activity::AwaitRoute { .. } => (false, 0),
        Activity::Go(go) => (false, go.held_up()),
    };
    if stands && (!state.thinks_now(row) || state.units.progress[row].is_settled()) {
        return;
    }
    let near_enough = state.gap_m(row, target) <= near_m + 3.0 * SLACK_M;
    let held_up = held_up > state.ticks_per_second / PATIENCE_PER_S;
    if rests && near_enough && (held_up || stands_behind(state, scratch, row, target)) {
        state.units.progress[row] = Progress::settled(state.tick);
        return queue::halt(state, row);
    }
    let distance = Distance {
        near_m,
        keep_m: near_m + SLACK_M,
        strict: false,
        side: None,
    };
    if let Closing::Stranded { .. } = close_in(state, row, target, distance) {
        // It waits there, and does not look for a way again until the other moves.
        state.units.progress[row] = Progress::settled(state.tick);
    }
}

/// Whether a unit touches another that stands, keeps near the same unit, and is nearer to it.
fn stands_behind(state: &State, scratch: &Scratch, row: usize, target: usize) -> bool {
    let units = &state.units;
    let goal = units.position[target];
    let mine = units.position[row].distance(goal);
    let about = |row: usize| units.orders[row].first().and_then(Order::target);
    let before = |other: u32| {
        let other = other as usize;
        let at = units.position[other];
        let reach = (units.radius[row] + units.radius[other]) * TOUCH;
        matches!(units.activity[other], Activity::Stand)
            && about(other) == about(row)
            && at.distance(units.position[row]) <= reach
            && at.distance(goal) < mine
    };
    let reach = (units.radius[row] + state.widest) * TOUCH;
    let mut near = scratch.near.within(units.position[row], reach);
    near.any(before)
}
