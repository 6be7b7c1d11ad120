//! What a round may do, and what it has done.

use serde::{Deserialize, Serialize};

/// Rounds without use after which what was found for one request is no longer kept for others.
pub(super) const KEPT_ROUNDS: u64 = 200;

/// The budget of a round, in cells that are looked at.
#[derive(Clone, Copy, Debug, Default, Serialize, Deserialize)]
pub(super) struct Budget {
    whole: u32,
    left: u32,
    spent: u32,
    /// By how much the rounds before have done more than they were to.
    owed: u32,
    /// Work done before the next round, which is part of that.
    before: u32,
}

impl Budget {
    /// Begins a round. What is owed is paid first, then what has been done before it.
    pub(super) fn renew(&mut self, whole: u32) {
        let paid = self.owed.min(whole);
        *self = Budget {
            whole,
            left: (whole - paid).saturating_sub(self.before),
            spent: self.before,
            owed: self.owed - paid,
            before: 0,
        };
    }

    /// Notes work that was done before the next round.
    pub(super) fn charge_next(&mut self, work: u32) {
        self.before = self.before.saturating_add(work);
    }

    /// Notes work that was done.
    pub(super) fn charge(&mut self, work: u32) {
        self.spent = self.spent.saturating_add(work);
        self.owed = self.owed.saturating_add(work.saturating_sub(self.left));
        self.left = self.left.saturating_sub(work);
    }

    /// Whether an amount of work may be begun: there is as much left, or half of a budget that is too small.
    pub(super) fn allows(&self, work: u32) -> bool {
        self.left > 0 && self.left >= work.min(self.whole / 2)
    }

    pub(super) fn whole(&self) -> u32 {
        self.whole
    }

    pub(super) fn left(&self) -> u32 {
        self.left
    }

    pub(super) fn spent(&self) -> u32 {
        self.spent
    }
}
