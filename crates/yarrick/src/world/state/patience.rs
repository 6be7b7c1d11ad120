//! How long something has come no nearer to what it is after: the one measure of progress, for
//! walks, for chases and for the members of a formation.

use serde::{Deserialize, Serialize};

/// How near something has come so far, and for how long it has come no nearer.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Patience {
    /// The least that was ever left, in metres.
    pub(crate) best_m: f32,
    /// Ticks without progress in which it tried to get on.
    pub(crate) held_up: u32,
    /// Ticks without progress in which it waited for its turn.
    pub(crate) waited: u32,
}

impl Default for Patience {
    fn default() -> Patience {
        Patience {
            best_m: f32::INFINITY,
            held_up: 0,
            waited: 0,
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
}

impl Patience {
    /// Counts a tick after which `left_m` metres are left. Less by `least_m` or more is progress, and begins anew.
    /// Gives whether there was progress.
    pub(crate) fn count(&mut self, left_m: f32, least_m: f32, waits: bool) -> bool {
        if left_m < self.best_m - least_m {
            *self = Patience {
                best_m: left_m,
                ..Patience::default()
            };
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

    /// What has become of it.
    pub(crate) fn verdict(&self, limits: PatienceLimits) -> Verdict {
        let all = self.held_up.saturating_add(self.waited);
        if self.held_up >= limits.held_up || self.waited >= limits.waited {
            Verdict::Ends
        } else if all > 0 && all.is_multiple_of(limits.fray.max(1)) {
            Verdict::Frays
        } else {
            Verdict::Holds
        }
    }

    /// The same patience on another way to the same place: what was left of the old way says nothing of this one.
    pub(crate) fn on_another_way(self) -> Patience {
        Patience {
            best_m: f32::INFINITY,
            ..self
        }
    }

    /// Counts the ticks in which it was held up as waited, to try on.
    pub(crate) fn forbear(&mut self) {
        self.waited = self.waited.saturating_add(self.held_up);
        self.held_up = 0;
    }
}
