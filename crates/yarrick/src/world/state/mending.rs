//! What is left to work out anew after large changes of the ground: a bounded part of it in each tick.

use super::State;
use super::table::{Single, Visitor};
use crate::ground::Task;
use serde::{Deserialize, Serialize};

/// The part of the budget for routes that may be used for it in a tick.
const SHARE: u32 = 2;

/// More than what cannot be divided takes.
const STEP: u32 = 8000;

/// What is left, to be saved: what it is about is not, and is worked out anew from this after loading.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub(crate) struct Mending {
    /// For each clearance map what its chart lacks; empty where none lacks anything.
    charts: Vec<Vec<Task>>,
    /// The fields to goals of the assault that are being worked out, and how many cells of each are.
    ways: Vec<(u16, u32)>,
}

impl Mending {
    pub(super) fn visit(&self, visit: &mut Visitor<'_>) {
        visit("Ground", "mending", &Single(self));
    }

    pub(crate) fn is_empty(&self) -> bool {
        self.charts.is_empty() && self.ways.is_empty()
    }
}

impl State {
    /// Notes what is left after a change of the ground, or after a part of it has been done.
    pub(crate) fn note_mending(&mut self) {
        let charts: Vec<Vec<Task>> = self
            .derived
            .clearances
            .iter()
            .map(|map| map.tasks())
            .collect();
        let ways = (0..).zip(&self.derived.ways);
        let ways = ways.filter_map(|(at, ways)| Some((at, ways.settled()?)));
        self.mending.ways = ways.collect();
        self.mending.charts = if charts.iter().all(Vec::is_empty) {
            Vec::new()
        } else {
            charts
        };
    }

    /// Does a part of what is left. Gives the work, counted in cells that a search settles. `done` is the work that was done before, in
    /// the same tick.
    pub(crate) fn mend_on(&mut self, done: u32) -> u32 {
        if self.mending.is_empty() {
            return 0;
        }
        let budget = self.rules.plan_budget;
        let left = budget.saturating_sub(done.saturating_add(STEP));
        // A step in each tick, however little is left.
        let most = (budget / SHARE).min(left).max(1);
        let mut work = 0;
        for clearance in &mut self.derived.clearances {
            work += clearance.finish(most.saturating_sub(work));
        }
        for ways in &mut self.derived.ways {
            let clearance = &self.derived.clearances[ways.clearance()];
            work += ways.advance(clearance, most.saturating_sub(work));
        }
        self.note_mending();
        work
    }

    /// Puts back, after loading, what was left.
    ///
    /// # Errors
    /// What makes no sense about it.
    pub(crate) fn resume_mending(&mut self) -> Result<(), &'static str> {
        const NONE: &str = "mending of what does not exist";
        let (clearances, all) = (&mut self.derived.clearances, &mut self.derived.ways);
        for (number, tasks) in self.mending.charts.iter().enumerate() {
            clearances.get_mut(number).ok_or(NONE)?.set_tasks(tasks)?;
        }
        let goals = self
            .assault
            .as_ref()
            .map_or(&[][..], |running| &running.goals);
        for (at, settled) in &self.mending.ways {
            let ways = all.get_mut(usize::from(*at)).ok_or(NONE)?;
            let clearance = &clearances[ways.clearance()];
            ways.resume(&self.ground, clearance, goals, *settled);
        }
        let saved = core::mem::take(&mut self.mending);
        self.note_mending();
        if saved == self.mending {
            Ok(())
        } else {
            Err("mending that makes no sense")
        }
    }
}
