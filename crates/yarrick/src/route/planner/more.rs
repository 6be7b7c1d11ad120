//! Gives a desk further tickets if its own will probably take little work. Threads are synchronised once a turn, and one cheap ticket a turn
//! would leave them mostly waiting.
//!
//! A further ticket is served if the tickets before it at the same desk leave enough budget. Otherwise it goes back to its place in the line.

use super::current::{Current, Ends, Seeking, Stage};
use super::request::{Ask, COST_OF_A_ROUTE, RouteRequest};
use super::serve::Task;
use super::{MANY, Planner};
use crate::ground::Ground;

/// Maximum number of further tickets of a desk.
const MOST_MORE: u32 = 16;

/// Maximum number of tickets that are skipped in a turn, because a route found for another may serve them.
const MOST_PASSED: usize = 8;

impl Planner {
    /// Gives tickets from the line to desks, one at a time to each. Returns the tickets that were skipped, with their numbers.
    pub(super) fn add_more<'a>(
        &mut self,
        ground: &Ground,
        tasks: &mut [Task<'a>],
        ask: &impl Fn(u64) -> Option<Ask<'a>>,
    ) -> Vec<(u64, RouteRequest)> {
        let mut passed = Vec::new();
        if self.typical == 0 || self.served().any(Current::waits) {
            return passed;
        }
        let cell_m = ground.cell_m();
        let shareable = self
            .served()
            .filter_map(|current| current.shareable(cell_m));
        let mut others: Vec<Ends> = shareable.collect();
        let counts = tasks.iter().map(|task| self.count_of_more(task));
        let counts: Vec<u32> = counts.collect();
        let turns = (0..MOST_MORE).flat_map(|round| (0..counts.len()).map(move |at| (round, at)));
        for (_, at) in turns.filter(|(round, at)| counts[*at] > *round) {
            let Some(one) = self.one_more(cell_m, (&others, &mut passed), ask) else {
                break;
            };
            others.extend(one.0.shareable(cell_m));
            tasks[at].more.push(one);
        }
        passed
    }

    /// The number of further tickets that a desk will probably be able to serve.
    fn count_of_more(&self, task: &Task<'_>) -> u32 {
        let current = self.desks[task.at].current.as_ref();
        let may_last = current.is_some_and(Current::may_last);
        // The last one is begun while there is as much left as it may take.
        let spare = task.most.saturating_sub(task.least);
        if may_last { 0 } else { spare / self.typical }
    }

    /// Takes the next ticket from the line that does not depend on the others of this turn, with its request. Tickets that do are skipped.
    /// `None` if the line is empty, or too many are skipped.
    fn one_more<'a>(
        &mut self,
        cell_m: f32,
        (others, passed): (&[Ends], &mut Vec<(u64, RouteRequest)>),
        ask: &impl Fn(u64) -> Option<Ask<'a>>,
    ) -> Option<(Current, Ask<'a>)> {
        while passed.len() < MOST_PASSED {
            let ticket = self.line.pop()?;
            let Some(wanted) = ask(ticket.who) else {
                continue;
            };
            let may_be = self.may_be_one_more((ticket, &wanted), (others, cell_m));
            let mut current = self.begins(ticket);
            if may_be {
                current.stage = Stage::Seeks(Seeking::begins(&wanted, false));
                return Some((current, wanted));
            }
            passed.push((current.number, ticket));
        }
        None
    }

    /// Whether a ticket does not depend on what is found for the others of this turn.
    fn may_be_one_more(
        &self,
        (ticket, ask): (RouteRequest, &Ask<'_>),
        (others, cell_m): (&[Ends], f32),
    ) -> bool {
        let by_field = ticket.group.is_some_and(|group| {
            let count = self.line.of_group(group) + 1;
            let many = count >= MANY && self.tries.field_pays(group, count, ask.clearance);
            many || self.fields.settled(group).is_some()
        });
        ask.clearance.is_finished()
            && !by_field
            && !others.iter().any(|other| other.may_serve(ask, cell_m))
    }

    /// Puts tickets back to their places in the line, which follow from their numbers.
    pub(super) fn put_back(&mut self, mut tickets: Vec<(u64, RouteRequest)>) {
        tickets.sort_unstable_by_key(|(number, _)| *number);
        for (_, ticket) in tickets.into_iter().rev() {
            self.line.refund(ticket.side, COST_OF_A_ROUTE);
            self.line.put_back(ticket);
        }
    }
}
