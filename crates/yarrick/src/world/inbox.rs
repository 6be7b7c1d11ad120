//! Changes that wait for the next tick, and their tickets.

use super::ids::{SideId, Ticket};
use super::message::Change;
use super::state::table::{Single, Visitor};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// The most changes that wait for a tick.
pub const MAX_CHANGES: usize = 1 << 16;

/// Why a change could not even be handed in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{MAX_CHANGES} changes wait for this tick already")]
pub struct TooManyChanges;

/// Changes that wait for the next tick.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Inbox {
    waiting: Vec<(Ticket, Change)>,
    /// The last number of each side's tickets, and of the game's.
    last: BTreeMap<Option<SideId>, u32>,
}

impl Inbox {
    pub(crate) fn add(&mut self, change: Change) -> Result<Ticket, TooManyChanges> {
        if self.waiting.len() >= MAX_CHANGES {
            return Err(TooManyChanges);
        }
        let side = match &change {
            Change::Command(command) => Some(command.side),
            _ => None,
        };
        let last = self.last.entry(side).or_insert(0);
        *last = last.wrapping_add(1);
        let ticket = Ticket {
            side,
            number: *last,
        };
        self.waiting.push((ticket, change));
        Ok(ticket)
    }

    /// The changes that wait, in the order in which they are made: by sort and side, and of one sort and side as they
    /// were handed in. The stable sort keeps that.
    pub(crate) fn take(&mut self) -> Vec<(Ticket, Change)> {
        let mut waiting = core::mem::take(&mut self.waiting);
        waiting.sort_by_key(|(ticket, change)| (rank(change), ticket.side));
        waiting
    }

    /// Drops the changes that wait.
    pub(crate) fn forget(&mut self) {
        self.waiting.clear();
    }

    /// The changes that wait, in the order in which they were handed in.
    pub(crate) fn waiting(&self) -> impl ExactSizeIterator<Item = &Change> {
        self.waiting.iter().map(|(_, change)| change)
    }

    /// Shows every column to `visit`.
    pub(crate) fn visit(&self, visit: &mut Visitor<'_>) {
        let Inbox { waiting, last } = self;
        visit("Inbox", "waiting", &Single(waiting));
        visit("Inbox", "tickets", &Single(last));
    }
}

/// The rank of a sort of change: the lower goes first.
fn rank(change: &Change) -> u8 {
    match change {
        Change::Block { .. }
        | Change::Unblock { .. }
        | Change::SetDoor { .. }
        | Change::SetTerrain { .. } => 0,
        Change::Remove { .. } => 1,
        Change::Spawn { .. } => 2,
        Change::Harm { .. }
        | Change::Heal { .. }
        | Change::SetHealth { .. }
        | Change::Teleport { .. }
        | Change::ChangeSide { .. }
        | Change::ChangeKind { .. } => 3,
        Change::SetDial { .. } | Change::SetSense { .. } | Change::StepDone { .. } => 4,
        Change::Flock { .. } => 5,
        Change::Start { .. } | Change::Stop { .. } => 6,
        Change::Command(_) => 7,
    }
}
