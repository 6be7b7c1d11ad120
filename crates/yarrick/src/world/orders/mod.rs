//! Orders: what players ask of units, and that each order ends in exactly one outcome.
//!
//! A command becomes an order with a number. Each unit that takes it up holds the order in its queue, with the
//! [activity](super::activity) that carries it out; the first one of the queue runs. An order never changes once it is
//! accepted. All that adds to queues and ends orders is in [`Dispatch`].

mod context;
mod dispatch;
mod order;
mod rally;
mod scripts;
mod take;

pub use context::{ContextRule, ContextRules};
pub(crate) use context::{aspect, fitting_verb};
pub(crate) use dispatch::{Dispatch, resting_place};
pub(crate) use order::{ORDERS, OrderKind, kind_of_order};
pub use order::{OrderReader, OrderWriter};

use super::activity::{Activities, Activity, Running};
use super::ids::{OrderNo, Ticket, UnitId};
use super::kind::DrillUse;
use super::message::{Action, Spot};
use super::senses::Look;
use super::state::table::{Single, Visitor};
use super::state::{Digest, Hashed, Sparse, State};
use crate::drill::{Machine, Senses as _};
use serde::{Deserialize, Serialize};
use smallvec::SmallVec;
use std::collections::BTreeMap;

/// The most orders that a unit holds, the one that it carries out included.
pub const MAX_QUEUED: usize = 64;

/// What units are about. Lists have one row a unit, in the order of the table of units.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Minds {
    /// The orders of each unit, the one that it carries out first.
    pub(crate) queue: Hashed<Queue>,
    /// What each unit does, by orders or without.
    pub(crate) activities: Hashed<Activities>,
    /// The drills of each unit, in the order of its kind.
    pub(crate) drills: Hashed<Vec<Machine>>,
    /// Where buildings send units that come out of them.
    pub(crate) rally: Sparse<UnitId, Vec<Spot>>,
    /// The orders that units hold, by number.
    pub(crate) given: Sparse<OrderNo, Given>,
    /// The tickets under which they were given: labels for answers, and no part of the checksum.
    pub(crate) tickets: BTreeMap<OrderNo, Ticket>,
    pub(crate) last_order: OrderNo,
    /// What fits which click, for which units.
    pub(crate) context_rules: ContextRules,
}

/// An order as it was given. It never changes.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Given {
    pub(crate) action: Action,
    /// How many units still hold it.
    pub(crate) holders: u32,
}

/// An order in the queue of a unit.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Held {
    pub(crate) number: OrderNo,
    /// What carries it out, until that runs. None for one that only stops the unit.
    pub(crate) activity: Option<Activity>,
}

/// The orders of a unit. Most have one or none.
pub(crate) type Queue = SmallVec<[Held; 1]>;

impl Minds {
    /// A unit has come into the world, in the last row.
    pub(crate) fn add(&mut self, state: &State) {
        self.queue.push(Queue::new());
        self.activities.push(Activities::new());
        let machines = machines(state, state.units.len() - 1);
        self.drills.push(machines);
    }

    /// A unit has become another kind: it goes by the drills of that.
    pub(crate) fn change_drills(&mut self, state: &State, row: usize) {
        self.drills[row] = machines(state, row);
    }

    /// A unit has left; the last row moves into its place.
    pub(crate) fn remove(&mut self, row: usize, unit: UnitId) {
        self.queue.swap_remove(row);
        self.activities.swap_remove(row);
        self.drills.swap_remove(row);
        self.rally.remove(unit);
    }

    /// What is wrong with what was read from a file, if anything is.
    pub(crate) fn check(&self, state: &State) -> Result<(), &'static str> {
        let count = state.units.len();
        let lengths = [self.queue.len(), self.activities.len(), self.drills.len()];
        let fits = lengths.iter().all(|length| *length == count);
        let program = &state.derived.program;
        let drilled = (0..count).zip(self.drills.iter()).all(|(row, machines)| {
            let kind = state.kind_of(row);
            machines.len() == kind.drills.len()
                && machines.iter().all(|machine| machine.fits(program))
        });
        let waiting = self.queue.iter().flatten();
        let waiting = waiting.filter_map(|held| held.activity.as_ref());
        let running = self.activities.iter().flatten();
        let sound = running.clone().all(Running::is_consistent)
            && waiting.chain(running.flat_map(Running::each)).all(is_sound);
        let short = self.queue.iter().all(|queue| queue.len() <= MAX_QUEUED);
        if fits && sound && short && drilled {
            Ok(())
        } else {
            Err("orders that make no sense")
        }
    }

    /// Shows every column to `visit`.
    pub(crate) fn visit(&self, visit: &mut Visitor<'_>) {
        // Taken apart, so that a new part cannot be forgotten.
        let Minds {
            queue,
            activities,
            drills,
            rally,
            given,
            tickets: _,
            last_order,
            context_rules,
        } = self;
        visit("Orders", "queue", queue);
        visit("Orders", "activities", activities);
        visit("Orders", "drills", drills);
        visit("Orders", "rally", rally);
        visit("Orders", "given", given);
        visit("Orders", "last_order", &Single(last_order));
        visit("Orders", "context_rules", &Single(context_rules));
    }

    /// Prepares for the checksum: hashes what has changed.
    pub(crate) fn refresh(&mut self, digest: &mut Digest) {
        self.queue.refresh(digest);
        self.activities.refresh(digest);
        self.drills.refresh(digest);
    }

    /// Shows what is no part of the checksum.
    pub(crate) fn visit_labels(&self, visit: &mut Visitor<'_>) {
        visit("Orders", "tickets", &Single(&self.tickets));
    }
}

/// The machines of the unit in a row, at the beginning of its drills.
fn machines(state: &State, row: usize) -> Vec<Machine> {
    let used = state.kind_of(row).drills.iter().enumerate();
    let (program, now) = (&state.derived.program, state.clock.tick);
    let machine = |(nth, used): (usize, &DrillUse)| {
        let look = Look {
            state,
            near: None,
            row,
            nth,
            since: now,
        };
        let part = look.chance(0);
        Machine::new(program, used.drill, now, part, &look)
    };
    used.filter_map(machine).collect()
}

/// Whether an activity that was read from a file can be worked with.
fn is_sound(activity: &Activity) -> bool {
    match activity {
        Activity::Patrol(patrol) => patrol.is_consistent(),
        _ => true,
    }
}
