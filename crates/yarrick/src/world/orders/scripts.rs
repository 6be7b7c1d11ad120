//! Activities without an order: how a game scripts units, and how drills will act.

use super::Dispatch;
use crate::world::activity::{Activity, Answer, Faculties, Running};
use crate::world::ids::Ticket;
use crate::world::kind::Posture;
use crate::world::legs;
use crate::world::message::{Event, Outcome, Refusal};
use crate::world::state::{Owner, Sighting};

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

    /// Starts an activity for a drill of a unit. Gives whether it lasts.
    pub(crate) fn start_drill(&mut self, row: usize, nth: u8, activity: Activity) -> bool {
        let kind = self.state.kind_of(row);
        if !activity.look().is_possible_for(kind) {
            return false;
        }
        self.stop_drill(row, nth);
        let (minds, mut act) = self.act(row);
        let started = Running::start(&mut act, Owner::Drill(nth), activity);
        match started {
            Ok(running) => {
                minds.activities[row].push(running);
                true
            }
            Err(_) => false,
        }
    }

    /// Lets a unit that has nothing else to do go for a foe, as its posture says.
    pub(super) fn answer(&mut self, row: usize, sighting: Sighting) {
        let home = (self.state.posture(row) != Posture::Pursue).then(|| {
            let looks = self.state.ordered_facing.get(self.state.units.id[row]);
            let facing = looks.copied().unwrap_or(self.state.units.facing[row]);
            (self.state.units.position[row], facing)
        });
        let answer = Activity::Answer(Answer::new(sighting.foe, home));
        let (minds, mut act) = self.act(row);
        if let Ok(running) = Running::start(&mut act, Owner::Posture, answer) {
            minds.activities[row].push(running);
        }
    }

    /// Changes what a unit does about foes while it has nothing else to do. What it does of its own accord ends.
    pub(super) fn set_posture(&mut self, row: usize, posture: Posture) {
        self.state.units.posture[row] = Some(posture);
        let mut activities = self.minds.activities[row].iter();
        let at = activities.position(|running| running.owner == Owner::Posture);
        if let Some(at) = at {
            self.stop_at(row, at, Outcome::Stopped);
        }
        if self.minds.activities[row].is_empty() {
            let (_, mut act) = self.act(row);
            act.stand_down();
        }
    }

    /// Stops what a drill of a unit has started.
    pub(crate) fn stop_drill(&mut self, row: usize, nth: u8) {
        let owner = Owner::Drill(nth);
        let mut activities = self.minds.activities.as_slice()[row].iter();
        let Some(at) = activities.position(|running| running.owner == owner) else {
            return;
        };
        let running = self.minds.activities[row].remove(at);
        let (_, mut act) = self.act(row);
        running.stop(&mut act);
        if self.state.units.legs_owner[row] == Owner::Nobody {
            legs::halt(self.state, row);
        }
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
            !matches!(running.owner, Owner::Order(_)) && running.needs().overlap(needs)
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
        if let Owner::Drill(nth) = owner
            && let Some(machine) = self.minds.drills[row].get_mut(usize::from(nth))
        {
            // One that was interrupted begins its state anew, once it may.
            match outcome {
                Outcome::Stopped | Outcome::Replaced { .. } | Outcome::UnitLost => machine.sleep(),
                Outcome::Done | Outcome::CameShort { .. } | Outcome::Failed { .. } => {
                    machine.step_ended();
                }
            }
        }
        if let Owner::Change(ticket) = owner {
            let unit = self.state.units.id[row];
            self.leave_march_of(row);
            // What nobody handed in is answered to nobody.
            if ticket.number > 0 {
                self.events.push(Event::ActivityEnded {
                    ticket,
                    unit,
                    outcome,
                });
            }
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
