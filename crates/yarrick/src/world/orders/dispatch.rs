//! The queues of units: orders taken up, carried out one after another, each ended once.

use super::{Held, Minds, Queue};
use crate::drill::Machine;
use crate::geom::Vec2;
use crate::world::activity::{Act, Activity, Faculties, Next, Running};
use crate::world::ids::{OrderNo, UnitId};
use crate::world::kind::Ability;
use crate::world::legs;
use crate::world::message::{Event, Failure, MAX_PATROL_POINTS, Outcome};
use crate::world::state::{
    Departure, Destination, Events, GroupNo, Owner, Report, Scratch, Sighting, State,
};
use smallvec::SmallVec;

/// What it takes to give units orders and to end them.
pub(crate) struct Dispatch<'a> {
    pub(crate) state: &'a mut State,
    pub(crate) minds: &'a mut Minds,
    pub(crate) scratch: &'a mut Scratch,
    pub(crate) events: &'a mut Events,
}

impl Dispatch<'_> {
    /// What the activities of a unit work with.
    pub(super) fn act(&mut self, row: usize) -> (&mut Minds, Act<'_>) {
        let act = Act {
            state: self.state,
            scratch: self.scratch,
            events: self.events,
            row,
            sighting: None,
        };
        (self.minds, act)
    }

    /// Puts an order in place of all that the unit has.
    pub(crate) fn replace(&mut self, row: usize, held: Held) {
        let by = held.number;
        self.stop_order(row);
        for old in core::mem::take(&mut self.minds.queue[row]) {
            self.end(row, &old, Outcome::Replaced { by });
        }
        self.minds.queue[row].push(held);
        self.begin(row);
    }

    /// Puts an order behind all that the unit has.
    pub(crate) fn append(&mut self, row: usize, held: Held) {
        self.minds.queue[row].push(held);
        if self.minds.queue[row].len() == 1 {
            self.begin(row);
        }
        self.note_what_follows(row);
    }

    /// Puts an order before all that the unit has. The one that it was carrying out waits, and goes on afterwards.
    pub(crate) fn interrupt(&mut self, row: usize, held: Held) {
        let paused = self.stop_order(row);
        let queue = &mut self.minds.queue[row];
        if let Some(first) = queue.first_mut() {
            first.activity = paused;
        }
        queue.insert(0, held);
        self.begin(row);
    }

    /// Takes one order out of those that the unit has, and ends the one that asked for it.
    pub(crate) fn cancel(&mut self, row: usize, number: OrderNo, by: OrderNo) {
        let queue = &self.minds.queue[row];
        let Some(at) = queue.iter().position(|held| held.number == number) else {
            return;
        };
        if at == 0 {
            self.stop_order(row);
        }
        let held = self.minds.queue[row].remove(at);
        self.end(row, &held, Outcome::Replaced { by });
        self.end_at_once(row, by, Outcome::Done);
        match at {
            0 => self.begin(row),
            _ => self.note_what_follows(row),
        }
    }

    /// Ends the order that the unit carries out, whose activity is over, and begins the next.
    fn finish(&mut self, row: usize, outcome: Outcome) {
        self.end_first(row, outcome);
        self.begin(row);
    }

    fn end_first(&mut self, row: usize, outcome: Outcome) {
        if !self.minds.queue[row].is_empty() {
            let held = self.minds.queue[row].remove(0);
            self.end(row, &held, outcome);
        }
    }

    /// Ends an order that is out of the queue.
    fn end(&mut self, row: usize, held: &Held, outcome: Outcome) {
        let unit = self.state.units.id[row];
        // One that has come to its place, or stays where it is, leaves no gap in its formation.
        let is_elsewhere = matches!(outcome, Outcome::Replaced { .. } | Outcome::UnitLost);
        let leaves_gap = is_elsewhere || !self.minds.queue[row].is_empty();
        if !self.state.marches.is_empty() {
            let march = self
                .state
                .marches
                .iter()
                .find(|march| march.order == Some(held.number));
            if let Some(group) = march.map(|march| march.group) {
                legs::leave_march(self.state, unit, group, leaves_gap);
            }
        }
        self.end_at_once(row, held.number, outcome);
    }

    /// Says that an order has ended for a unit.
    pub(super) fn end_at_once(&mut self, row: usize, order: OrderNo, outcome: Outcome) {
        let minds = &mut *self.minds;
        let Some(&ticket) = minds.tickets.get(&order) else {
            return;
        };
        self.events.push(Event::Ended {
            ticket,
            unit: self.state.units.id[row],
            order,
            outcome,
        });
        let holders = minds.given.change(order, |given| {
            given.holders = given.holders.saturating_sub(1);
            given.holders
        });
        if holders == Some(0) {
            minds.given.remove(order);
            minds.tickets.remove(&order);
        }
    }

    /// Stops what carries out the first order of a unit. Gives it, to go on with it later.
    fn stop_order(&mut self, row: usize) -> Option<Activity> {
        let at = order_at(self.minds, row)?;
        let running = self.minds.activities[row].remove(at);
        let (_, mut act) = self.act(row);
        running.stop(&mut act)
    }

    /// Begins the first order that is not done at once; with none left, the unit stands.
    fn begin(&mut self, row: usize) {
        let unit = self.state.units.id[row];
        while let Some(first) = self.minds.queue[row].first_mut() {
            let number = first.number;
            // The facing that the last order asked for does not hold for another order.
            self.state.ordered_facing.remove(unit);
            let Some(activity) = first.activity.take() else {
                self.end_first(row, Outcome::Done);
                continue;
            };
            let needs = activity.look().needs();
            self.stop_scripts(row, needs, Outcome::Replaced { by: number });
            let (minds, mut act) = self.act(row);
            match Running::start(&mut act, Owner::Order(number), activity) {
                Ok(running) => {
                    minds.activities[row].insert(0, running);
                    return self.note_what_follows(row);
                }
                Err(outcome) => self.end_first(row, outcome),
            }
        }
        self.note_what_follows(row);
        if self.state.units.legs_owner[row] == Owner::Nobody {
            legs::halt(self.state, row);
        }
    }

    /// Lets the legs know whether the unit goes on elsewhere afterwards.
    fn note_what_follows(&mut self, row: usize) {
        let next = self.minds.queue[row].get(1);
        let next = next.and_then(|held| held.activity.as_ref());
        let stays = |next: &Activity| {
            matches!(
                next,
                Activity::Hold(_) | Activity::Fire(_) | Activity::Face(_)
            )
        };
        self.state.units.passes_through[row] = next.is_some_and(|next| !stays(next));
    }

    /// Lets every activity of a unit go on for a tick.
    pub(crate) fn advance(&mut self, row: usize, sighting: Option<Sighting>) {
        if self.minds.activities[row].is_empty() {
            if let Some(sighting) = sighting.filter(|sighting| sighting.chases) {
                self.answer(row, sighting);
            } else if sighting.is_some() || self.state.units.aim[row].is_some() {
                let (_, mut act) = self.act(row);
                act.sighting = sighting;
                act.strike_in_reach();
            }
            return;
        }
        // Most walk, and have noticed nothing.
        let mut running = self.minds.activities[row].iter();
        if sighting.is_none() && running.all(Running::only_waits) {
            return;
        }
        let mut sighting = sighting;
        self.each(row, |running, act| {
            act.sighting = sighting.take();
            let outcome = running.advance(act);
            sighting = act.sighting.take();
            outcome
        });
    }

    /// Passes on what the legs of a unit report.
    pub(crate) fn hear(&mut self, row: usize, report: Report) {
        self.each(row, |running, act| {
            if running.needs().legs {
                running.heard(act, report)
            } else {
                None
            }
        });
    }

    /// Does something with every activity of a unit, and ends those that are over.
    fn each(
        &mut self,
        row: usize,
        mut work: impl FnMut(&mut Running, &mut Act<'_>) -> Option<Outcome>,
    ) {
        let mut ended: SmallVec<[(Owner, Outcome); 2]> = SmallVec::new();
        let (minds, mut act) = self.act(row);
        minds.activities[row].retain(|running| match work(running, &mut act) {
            Some(outcome) => {
                ended.push((running.owner, outcome));
                false
            }
            None => true,
        });
        for (owner, outcome) in ended {
            match owner {
                Owner::Order(_) => self.finish(row, outcome),
                _ => self.end_script(row, owner, outcome),
            }
        }
    }

    /// Ends what a unit is about with those that have left: orders in its queue, and activities.
    pub(crate) fn settle(&mut self, row: usize, departure: &dyn Fn(UnitId) -> Option<Departure>) {
        let is_about_gone = |held: &Held| {
            let activity = held.activity.as_ref();
            activity
                .and_then(|activity| activity.look().target())
                .is_some_and(|unit| departure(unit).is_some())
        };
        let mut ended = None;
        if !self.minds.activities[row].is_empty() {
            let mut scripts = Vec::new();
            let (minds, mut act) = self.act(row);
            minds.activities[row].retain(|running| {
                match running.targets_gone(&mut act, departure) {
                    Some(outcome) => {
                        match running.owner {
                            Owner::Order(_) => ended = Some(outcome),
                            owner => scripts.push((owner, outcome)),
                        }
                        false
                    }
                    None => true,
                }
            });
            for (owner, outcome) in scripts {
                self.end_script(row, owner, outcome);
            }
        }
        if let Some(outcome) = ended {
            self.end_first(row, outcome);
        }
        while let Some(at) = self.minds.queue[row].iter().position(is_about_gone) {
            let mut held = self.minds.queue[row].remove(at);
            let target = held
                .activity
                .as_ref()
                .and_then(|activity| activity.look().target());
            let outcome = match (held.activity.as_mut(), target.and_then(departure)) {
                (Some(activity), Some(departure)) => {
                    let (_, mut act) = self.act(row);
                    ended_by(activity, &mut act, departure)
                }
                _ => target_gone(),
            };
            self.end(row, &held, outcome);
        }
        match ended {
            Some(_) => self.begin(row),
            None => self.note_what_follows(row),
        }
        self.wake_memories(row, departure);
        if let Some(aim) = self.state.units.aim[row]
            && departure(aim.foe).is_some()
        {
            self.state.units.aim[row] = None;
        }
    }

    /// Lets the drills of a unit look again that remember one that has left.
    fn wake_memories(&mut self, row: usize, departure: &dyn Fn(UnitId) -> Option<Departure>) {
        let now = self.state.clock.tick;
        let remembers = |machine: &Machine| {
            let mut units = machine.remembered().map(UnitId::of_number);
            units.any(|unit| departure(unit).is_some())
        };
        if self.minds.drills.as_slice()[row].iter().any(remembers) {
            for machine in &mut self.minds.drills[row] {
                machine.look_again(now);
            }
        }
    }

    /// Ends all orders and activities of a unit that is about to leave, or changes hands.
    pub(crate) fn abandon(&mut self, row: usize, outcome: Outcome) {
        self.stop_order(row);
        for held in core::mem::take(&mut self.minds.queue[row]) {
            self.end(row, &held, outcome);
        }
        self.stop_scripts(row, Faculties::BOTH, outcome);
        self.note_what_follows(row);
    }

    /// Ends what other units do about a unit that has changed sides, where that makes no sense any more: a friend is not
    /// attacked, and a foe is not guarded.
    pub(crate) fn forget_about(&mut self, unit: UnitId) {
        let Some(changed) = self.state.units.row(unit) else {
            return;
        };
        let side = self.state.units.side[changed];
        let gone = |id: UnitId| (id == unit).then_some(Departure::Removed);
        for row in 0..self.state.units.len() {
            let own = self.state.units.side[row];
            let is_foe = self.state.derived.stances.are_foes(own, side);
            let is_over = |activity: &Activity| {
                let activity = activity.look();
                activity.target() == Some(unit) && !activity.suits(is_foe)
            };
            if self.has_any(row, is_over) {
                self.settle(row, &gone);
            }
            if !is_foe && self.state.units.aim[row].is_some_and(|aim| aim.foe == unit) {
                self.state.units.aim[row] = None;
            }
        }
    }

    /// Ends all orders of a unit that has become another kind, if that kind cannot carry out one of them.
    pub(crate) fn drop_what_it_cannot_do(&mut self, row: usize) {
        let kind = self.state.kind_of(row);
        let (walks, strikes) = (kind.can(Ability::Moves), kind.can(Ability::Strikes));
        if self.has_any(row, |activity| !activity.look().is_possible_for(kind)) {
            self.abandon(row, Outcome::Stopped);
        }
        if !walks {
            legs::halt(self.state, row);
        }
        if !strikes {
            self.state.units.aim[row] = None;
        }
    }

    /// Whether any activity of a unit, running or in its queue, is of a sort.
    fn has_any(&self, row: usize, is_such: impl Fn(&Activity) -> bool) -> bool {
        let mut waiting = self.minds.queue[row].iter();
        let mut running = self.minds.activities[row].iter();
        waiting.any(|held| held.activity.as_ref().is_some_and(&is_such))
            || running.any(|running| running.each().any(&is_such))
    }

    /// Adds points to the patrol that is the last order of a unit. The order that brought them is done with that.
    pub(super) fn extend_patrol(&mut self, row: usize, posts: &[Destination], by: OrderNo) {
        if let Some(Activity::Patrol(patrol)) = last_activity(self.minds, row) {
            patrol.extend(posts);
        }
        self.end_at_once(row, by, Outcome::Done);
    }

    /// The next number for units that are sent somewhere together.
    pub(super) fn next_group(&mut self) -> GroupNo {
        self.state.next_group()
    }
}

fn target_gone() -> Outcome {
    let why = Failure::TargetGone;
    Outcome::Failed { why }
}

/// How an order that waits ends when the unit that it is about has left.
fn ended_by(activity: &mut Activity, act: &mut Act<'_>, departure: Departure) -> Outcome {
    match activity.behaviour().target_gone(act, departure) {
        Next::Ended(outcome) => outcome,
        Next::Continue | Next::RunFirst(_) => target_gone(),
    }
}

/// Where among its activities is the one of the order that a unit carries out.
fn order_at(minds: &Minds, row: usize) -> Option<usize> {
    let is_ordered = |owner: Owner| matches!(owner, Owner::Order(_));
    minds.activities[row]
        .iter()
        .position(|running| is_ordered(running.owner))
}

/// What carries out the last order of a unit.
fn last_activity(minds: &mut Minds, row: usize) -> Option<&mut Activity> {
    let running = order_at(minds, row);
    let queue: &mut Queue = &mut minds.queue[row];
    if queue.len() == 1
        && let Some(at) = running
    {
        return Some(minds.activities[row][at].root_mut());
    }
    queue.last_mut()?.activity.as_mut()
}

/// The number of posts of the patrol that is the last order of a unit, if it is one.
pub(super) fn posts_of_last(minds: &Minds, row: usize) -> Option<usize> {
    let running = order_at(minds, row);
    let queue = &minds.queue[row];
    let last = match (queue.len(), running) {
        (1, Some(at)) => Some(minds.activities[row][at].root()),
        _ => queue.last()?.activity.as_ref(),
    };
    match last? {
        Activity::Patrol(patrol) => Some(patrol.route().posts.len()),
        _ => None,
    }
}

/// Whether a patrol that a unit has as its last order can take `more` further points. A unit that
/// has none has room.
pub(super) fn has_room_for_posts(minds: &Minds, row: usize, more: usize) -> bool {
    // Where it began is a post besides.
    posts_of_last(minds, row).is_none_or(|posts| posts + more <= MAX_PATROL_POINTS + 1)
}

/// Where a unit will stand after all its orders.
pub(crate) fn resting_place(state: &State, minds: &Minds, row: usize) -> Vec2 {
    let waiting = minds.queue[row].iter().rev();
    let mut places = waiting.filter_map(|held| held.activity.as_ref()?.look().place());
    if let Some(place) = places.next() {
        return place.at;
    }
    // The place that legs lead to may have been traded since.
    if let Some(target) = state.units.locomotion[row].place() {
        return target.place.at;
    }
    let running = minds.activities[row].iter();
    let mut places = running.filter_map(|running| running.root().look().place());
    places
        .next()
        .map_or(state.units.position[row], |place| place.at)
}
