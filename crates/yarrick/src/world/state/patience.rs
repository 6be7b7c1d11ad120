//! How long something has come no nearer to what it is after: the one measure of progress against the clock, for
//! walks, for chases and for the members of a formation.

use super::digest::word;
use serde::{Deserialize, Serialize};

/// How near something has come so far, and for how long it has come no nearer.
///
/// Ticks without progress add up. Progress takes ticks off again, as many as it would have taken at the slowest pace
/// that still counts: creeping on is no progress, and to walk on sets everything right soon.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Patience {
    /// The least that was left on the present way, in metres.
    pub(crate) best_m: f32,
    /// Ticks without progress in which it tried to get on.
    pub(crate) held_up: u32,
    /// Ticks without progress in which it waited for its turn.
    pub(crate) waited: u32,
    /// The least that was ever left, on any way, in metres; and the ticks since.
    nearest_m: f32,
    since_nearest: u32,
}

/// What counts as progress.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Pace<Top> {
    /// The least that is noted, in metres.
    pub(crate) least_m: f32,
    /// How far it could go in a tick, in metres. To find that out costs a look at the ground, and it seldom matters.
    pub(crate) top_m: Top,
}

/// Part of its top speed below which something that walks creeps.
const CREEP: f32 = 0.02;

impl Default for Patience {
    fn default() -> Patience {
        Patience {
            best_m: f32::INFINITY,
            held_up: 0,
            waited: 0,
            nearest_m: f32::INFINITY,
            since_nearest: 0,
        }
    }
}

/// The limits of patience, in ticks.
#[derive(Clone, Copy, Debug)]
pub(crate) struct PatienceLimits {
    /// Ticks without progress from one fraying to the next.
    pub(crate) fray: u32,
    /// Ticks held up after which it ends.
    pub(crate) held_up: u32,
    /// Ticks of waiting after which it ends.
    pub(crate) waited: u32,
    /// Ticks after which it ends if it never came nearer on any way.
    pub(crate) in_all: u32,
}

/// What becomes of patience in a tick.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Verdict {
    /// It holds.
    Holds,
    /// It frays: another way may be better, or this may be near enough.
    Frays,
    /// It ends.
    Ends,
    /// It ends for good: whatever way was tried, nothing came nearer for too long.
    EndsForGood,
}

impl Patience {
    /// What goes into a checksum: two full words, and half of one.
    #[inline]
    pub(super) fn words(&self) -> (u64, u64, u32) {
        let Patience {
            best_m,
            held_up,
            waited,
            nearest_m,
            since_nearest,
        } = *self;
        let way = word(best_m.to_bits(), nearest_m.to_bits());
        (way, word(held_up, waited), since_nearest)
    }

    /// Counts a tick after which `left_m` metres are left. Gives whether there was progress.
    pub(crate) fn count(
        &mut self,
        left_m: f32,
        pace: Pace<impl FnOnce() -> f32>,
        waits: bool,
    ) -> bool {
        if left_m < self.nearest_m - pace.least_m {
            (self.nearest_m, self.since_nearest) = (left_m, 0);
        } else {
            self.since_nearest = self.since_nearest.saturating_add(1);
        }
        if self.best_m == f32::INFINITY {
            self.best_m = left_m;
            return true;
        }
        if left_m < self.best_m - pace.least_m {
            let nearer_m = self.best_m - left_m;
            self.best_m = left_m;
            if self.is_fresh() {
                return true;
            }
            let creep_m = (pace.top_m)() * CREEP;
            let ticks = (nearer_m / creep_m.max(1e-6)) as u32;
            self.held_up = self.held_up.saturating_sub(ticks);
            self.waited = self.waited.saturating_sub(ticks);
            return true;
        }
        let ticks = if waits {
            &mut self.waited
        } else {
            &mut self.held_up
        };
        *ticks = ticks.saturating_add(1);
        false
    }

    /// All ticks without progress.
    pub(crate) fn all(&self) -> u32 {
        self.held_up.saturating_add(self.waited)
    }

    /// Whether no ticks without progress are left.
    pub(crate) fn is_fresh(&self) -> bool {
        self.held_up == 0 && self.waited == 0
    }

    /// What has become of it.
    pub(crate) fn verdict(&self, limits: PatienceLimits) -> Verdict {
        let all = self.all();
        let is_over = self.held_up >= limits.held_up || self.waited >= limits.waited;
        if self.since_nearest >= limits.in_all {
            Verdict::EndsForGood
        } else if is_over {
            Verdict::Ends
        } else if all > 0 && all.is_multiple_of(limits.fray.max(1)) {
            Verdict::Frays
        } else {
            Verdict::Holds
        }
    }

    /// The same patience on another way to the same place, of which `left_m` metres are left.
    pub(crate) fn on_another_way(self, left_m: f32) -> Patience {
        Patience {
            best_m: left_m,
            ..self
        }
    }

    /// Counts the ticks in which it was held up as waited, to try on.
    pub(crate) fn forbear(&mut self) {
        self.waited = self.waited.saturating_add(self.held_up);
        self.held_up = 0;
    }
}
