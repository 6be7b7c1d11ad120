//! Takes a command: it becomes orders, or is refused with a reason.

use super::context::fitting_verb;
use super::dispatch::posts_of_last;
use super::order::{Asked, Effect, Prepare, Taken};
use super::{Dispatch, Given, Held, MAX_QUEUED, kind_of_order, resting_place};
use crate::world::activity::Activity;
use crate::world::ids::{OrderNo, Ticket, UnitId};
use crate::world::legs::{Member, join_assembly};
use crate::world::message::{Action, Command, Event, Refusal, Verb, When};
use crate::world::state::{GroupNo, State};
use std::borrow::Cow;

/// Units that take up the same action, which a context order may have turned into several.
struct Share<'a> {
    verb: Option<Verb>,
    action: Cow<'a, Action>,
    rows: Vec<usize>,
}

impl Dispatch<'_> {
    /// Takes a command.
    pub(crate) fn take(&mut self, ticket: Ticket, command: &Command) {
        if let Some(why) = flaw(self.state, command) {
            return self.refuse(ticket, command, None, why);
        }
        let mut shares = self.shares(ticket, command);
        if shares.is_empty() {
            return;
        }
        if let Effect::Becomes(begin) = kind_of_order(&command.action).effect {
            match begin(self, command.side, &command.action) {
                Ok(action) => {
                    for share in &mut shares {
                        share.action = Cow::Owned(action.clone());
                    }
                }
                Err(why) => return self.refuse(ticket, command, None, why),
            }
        }
        let rows = shares.iter().flat_map(|share| &share.rows);
        let mut units: Vec<UnitId> = rows.map(|&row| self.state.units.id[row]).collect();
        units.sort_unstable();
        let last = &mut self.minds.last_order;
        *last = OrderNo(last.0.wrapping_add(1));
        let order = *last;
        self.minds.tickets.insert(order, ticket);
        let given = Given {
            action: command.action.clone(),
            holders: units.len() as u32,
        };
        self.minds.given.set(order, given);
        let became = |share: &Share<'_>| Some((share.verb?, share.rows.len() as u32));
        self.events.push(Event::Ordered {
            ticket,
            order,
            side: command.side,
            units,
            action: command.action.clone(),
            when: command.when,
            became: shares.iter().filter_map(became).collect(),
        });
        let group = self.next_group();
        for share in &shares {
            self.give(share, (order, command.when, group));
        }
    }

    fn refuse(&mut self, ticket: Ticket, command: &Command, unit: Option<UnitId>, why: Refusal) {
        self.events.push(Event::Refused {
            ticket,
            side: command.side,
            action: command.action.clone(),
            unit,
            why,
        });
    }

    /// Gives an order to the units that take it up.
    fn give(&mut self, share: &Share<'_>, (number, when, group): (OrderNo, When, GroupNo)) {
        match kind_of_order(&share.action).effect {
            Effect::AtOnce(work) => {
                for &row in &share.rows {
                    work(self, Taken { row, number, when }, &share.action);
                }
            }
            Effect::Activities(prepare) => {
                let activities = self.prepare((&share.rows, when), Some(number), group, |p| {
                    prepare(p, &share.action)
                });
                for (&row, activity) in share.rows.iter().zip(activities) {
                    self.put(row, number, when, Some(activity));
                }
            }
            Effect::Stop | Effect::WhatFits | Effect::Becomes(_) => {
                for &row in &share.rows {
                    self.put(row, number, when, None);
                }
            }
        }
    }

    /// What each of some units is to do.
    fn prepare(
        &mut self,
        (rows, when): (&[usize], When),
        order: Option<OrderNo>,
        group: GroupNo,
        make: impl FnOnce(&mut Prepare<'_>) -> Vec<Activity>,
    ) -> Vec<Activity> {
        let (state, minds) = (&*self.state, &*self.minds);
        let from = |row| match when {
            When::Afterwards => resting_place(state, minds, row),
            When::Now | When::First => state.units.position[row],
        };
        let member = |&row: &usize| Member {
            row,
            from: from(row),
        };
        let mut prepare = Prepare {
            state,
            minds,
            members: rows.iter().map(member).collect(),
            scratch: self.scratch,
            group,
            is_now: when == When::Now,
            march: None,
            bound: Vec::new(),
        };
        let activities = make(&mut prepare);
        let Prepare {
            group,
            march,
            bound,
            ..
        } = prepare;
        if let Some(mut march) = march {
            march.order = order;
            self.state.marches.push(march);
        }
        if let Some(side) = rows.first().map(|row| self.state.units.side[*row]) {
            join_assembly(self.state, self.scratch, (side, group), &bound);
        }
        activities
    }

    /// Puts an order into the queue of a unit.
    fn put(&mut self, row: usize, number: OrderNo, when: When, activity: Option<Activity>) {
        if let Some(Activity::Patrol(patrol)) = &activity
            && when == When::Afterwards
            && posts_of_last(self.minds, row).is_some()
        {
            let posts = patrol.route().posts[1..].to_vec();
            return self.extend_patrol(row, &posts, number);
        }
        let held = Held { number, activity };
        match when {
            When::Now => self.replace(row, held),
            When::Afterwards => self.append(row, held),
            When::First => self.interrupt(row, held),
        }
    }

    /// Starts an activity of a unit without an order.
    pub(crate) fn start(
        &mut self,
        ticket: Ticket,
        unit: UnitId,
        action: &Action,
    ) -> Result<(), Refusal> {
        let row = self.state.units.row(unit).ok_or(Refusal::NoSuchUnit)?;
        let side = self.state.units.side[row];
        let kind = kind_of_order(action);
        let Effect::Activities(prepare) = kind.effect else {
            return Err(Refusal::NotAnActivity);
        };
        if let Some(why) = (kind.flaw)(self.state, side, action) {
            return Err(why);
        }
        let asked = Asked {
            state: self.state,
            minds: self.minds,
            row,
            when: When::Now,
        };
        (kind.check)(&asked, action)?;
        let group = self.next_group();
        let mut activities = self.prepare((&[row], When::Now), None, group, |p| prepare(p, action));
        let activity = activities.pop().ok_or(Refusal::NotAnActivity)?;
        self.start_script(row, ticket, activity)
    }

    /// Stops an activity of a unit that was started without an order.
    pub(crate) fn stop_started(&mut self, unit: UnitId, started: Ticket) -> Result<(), Refusal> {
        let row = self.state.units.row(unit).ok_or(Refusal::NoSuchUnit)?;
        self.stop_script(row, started)
    }

    /// Which units take up what, in order of id; the others are refused.
    fn shares<'c>(&mut self, ticket: Ticket, command: &'c Command) -> Vec<Share<'c>> {
        let mut units = command.units.clone();
        units.sort_unstable();
        units.dedup();
        let mut shares: Vec<Share<'_>> = Vec::new();
        for unit in units {
            match self.obeys(command, unit) {
                Ok((row, verb, action)) => {
                    match shares.iter_mut().find(|share| share.verb == verb) {
                        Some(share) => share.rows.push(row),
                        None => shares.push(Share {
                            verb,
                            action,
                            rows: vec![row],
                        }),
                    }
                }
                Err(why) => self.refuse(ticket, command, Some(unit), why),
            }
        }
        shares
    }

    fn obeys<'c>(&self, command: &'c Command, unit: UnitId) -> Result<Obedience<'c>, Refusal> {
        let state = &*self.state;
        let row = state.units.row(unit).ok_or(Refusal::NoSuchUnit)?;
        let owner = state.units.side[row];
        if !state.derived.stances.may_command(command.side, owner) {
            return Err(Refusal::NotYours);
        }
        let Action::Context { at } = command.action else {
            self.check(command, row, &command.action)?;
            return Ok((row, None, Cow::Borrowed(&command.action)));
        };
        let verb = fitting_verb(state, &self.minds.context_rules, row, command.side, at);
        let verb = verb.ok_or(Refusal::NoSuchTarget)?;
        let where_at = |unit: UnitId| state.units.row(unit).map(|row| state.units.position[row]);
        let action = verb.about(at, where_at).ok_or(Refusal::NothingToDo)?;
        self.check(command, row, &action)?;
        Ok((row, Some(verb), Cow::Owned(action)))
    }

    /// Whether the unit in a row can take up an action.
    fn check(&self, command: &Command, row: usize, action: &Action) -> Result<(), Refusal> {
        let asked = Asked {
            state: self.state,
            minds: self.minds,
            row,
            when: command.when,
        };
        let kind = kind_of_order(action);
        (kind.check)(&asked, action)?;
        let waits = !matches!(kind.effect, Effect::AtOnce(_));
        let is_full = self.minds.queue[row].len() >= MAX_QUEUED;
        if waits && command.when != When::Now && is_full {
            Err(Refusal::QueueFull)
        } else {
            Ok(())
        }
    }
}

/// The unit that takes up what, and by which verb if it is what fits.
type Obedience<'a> = (usize, Option<Verb>, Cow<'a, Action>);

/// What is wrong with a command as a whole.
fn flaw(state: &State, command: &Command) -> Option<Refusal> {
    if usize::from(command.side.0) >= state.rules.sides.len() {
        return Some(Refusal::NoSuchSide);
    }
    if command.units.is_empty() {
        return Some(Refusal::NoUnits);
    }
    (kind_of_order(&command.action).flaw)(state, command.side, &command.action)
}
