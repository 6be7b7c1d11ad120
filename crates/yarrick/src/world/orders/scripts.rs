//! Activities without an order: how a game scripts units, and how drills will act.

use super::Dispatch;
use crate::world::activity::{Activity, Faculties, Running};
use crate::world::ids::Ticket;
use crate::world::legs;
use crate::world::message::{Event, Outcome, Refusal};
use crate::world::state::Owner;

impl Dispatch<'_> {
    /// Starts an activity without an order.
    pub(super) fn start_script(
        &mut self,
        row: usize,
        ticket: Ticket,
        activity: Activity,
    ) -> Result<(), Refusal> {
        let needs = activity.look().needs();
        let busy = |running: &Running| {
            matches!(running.owner, Owner::Order(_)) && running.needs().overlap(needs)
        };
        if self.minds.activities[row].iter().any(busy) {
            return Err(Refusal::UnderOrders);
        }
        self.stop_scripts(row, needs, Outcome::Stopped);
        let owner = Owner::Change(ticket);
        let (minds, mut act) = self.act(row);
        match Running::start(&mut act, owner, activity) {
            Ok(running) => minds.activities[row].push(running),
            Err(outcome) => self.end_script(row, owner, outcome),
        }
        Ok(())
    }

    /// Stops an activity that was started by a change.
    pub(super) fn stop_script(&mut self, row: usize, started: Ticket) -> Result<(), Refusal> {
        let owner = Owner::Change(started);
        let mut activities = self.minds.activities[row].iter();
        let at = activities.position(|running| running.owner == owner);
        self.stop_at(row, at.ok_or(Refusal::NoSuchActivity)?, Outcome::Stopped);
        Ok(())
    }

    /// Stops the activities without an order that need one of some faculties.
    pub(super) fn stop_scripts(&mut self, row: usize, needs: Faculties, outcome: Outcome) {
        let is_in_the_way = |running: &Running| {
            matches!(running.owner, Owner::Change(_)) && running.needs().overlap(needs)
        };
        while let Some(at) = self.minds.activities[row].iter().position(is_in_the_way) {
            self.stop_at(row, at, outcome);
        }
    }

    fn stop_at(&mut self, row: usize, at: usize, outcome: Outcome) {
        let running = self.minds.activities[row].remove(at);
        let owner = running.owner;
        let (_, mut act) = self.act(row);
        running.stop(&mut act);
        self.end_script(row, owner, outcome);
    }

    /// Says that an activity has ended that a change started. Legs that nothing controls stand.
    pub(super) fn end_script(&mut self, row: usize, owner: Owner, outcome: Outcome) {
        if let Owner::Change(ticket) = owner {
            let unit = self.state.units.id[row];
            self.leave_march_of(row);
            self.events.push(Event::ActivityEnded {
                ticket,
                unit,
                outcome,
            });
        }
        if self.state.units.legs_owner[row] == Owner::Nobody {
            legs::halt(self.state, row);
        }
    }

    /// A unit that a game led in formation leaves it.
    fn leave_march_of(&mut self, row: usize) {
        let unit = self.state.units.id[row];
        let place = self.state.units.locomotion[row].place();
        if let Some(group) = place.map(|target| target.group) {
            legs::leave_march(self.state, unit, group, true);
        }
    }
}
