//! What a round may do, and what it has done.

use serde::{Deserialize, Serialize};

/// Number of desks.
pub(super) const DESKS: usize = 8;

/// Rounds without use after which what was found for one request is no longer kept for others.
pub(super) const KEPT_ROUNDS: u64 = 200;

/// Maximum work of the first round that has any, if few tickets wait. While work is left over, each round may do more than the one
/// before: a thirty-second more at first, and half as much again from [`MUCH`] on. A little work is thus spread over a few rounds, and
/// much is done at full speed after 36 rounds.
const FIRST_PACE: u32 = 4096;

/// From this much work in a round on it is plain that there is much to do.
const MUCH: u32 = 10_240;

/// Work that the first round may do for each ticket, if that is more.
const PACE_A_TICKET: u32 = 64;

/// The budget of a round, in cells that are looked at.
#[derive(Clone, Copy, Debug, Default, Serialize, Deserialize)]
pub(super) struct Budget {
    whole: u32,
    left: u32,
    spent: u32,
    /// The work after which the round ends, at most `whole`.
    pace: u32,
    /// By how much the rounds before have done more than they were to.
    owed: u32,
    /// Work done before the next round, which is part of that.
    before: u32,
}

impl Budget {
    /// Begins a round with a number of tickets. `is_behind` means that some were being served when the last round ended. What is owed
    /// is paid first, then what has been done before it.
    pub(super) fn renew(&mut self, whole: u32, tickets: usize, is_behind: bool) {
        let paid = self.owed.min(whole);
        let is_behind = is_behind || self.spent >= self.pace;
        let more = if self.pace < MUCH { 32 } else { 2 };
        let faster = self.pace.saturating_add(self.pace / more);
        let all = (tickets as u32).saturating_mul(PACE_A_TICKET);
        let pace = FIRST_PACE.max(all).max(if is_behind { faster } else { 0 });
        *self = Budget {
            whole,
            left: (whole - paid).saturating_sub(self.before),
            spent: self.before,
            pace: pace.min(whole),
            owed: self.owed - paid,
            before: 0,
        };
    }

    /// Notes work that was done before the next round.
    pub(super) fn charge_next(&mut self, work: u32) {
        self.before = self.before.saturating_add(work);
    }

    /// That work so far.
    pub(super) fn charged(&self) -> u32 {
        self.before
    }

    /// Notes work that was done.
    pub(super) fn charge(&mut self, work: u32) {
        self.spent = self.spent.saturating_add(work);
        self.owed = self.owed.saturating_add(work.saturating_sub(self.left));
        self.left = self.left.saturating_sub(work);
    }

    /// Whether an amount of work may be begun: the round has not ended early, and there is as much left, or half of a budget that is
    /// too small.
    pub(super) fn allows(&self, work: u32) -> bool {
        self.spare() > 0 && self.left >= work.min(self.whole / 2)
    }

    /// How much more work the round may do.
    pub(super) fn spare(&self) -> u32 {
        self.left.min(self.pace.saturating_sub(self.spent))
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
