//! Further tickets for desks that will soon be done with theirs, so that threads need not come together for each ticket.
//!
//! Which of them are served depends on what those before them take. The others go back to where they were in the line.

use super::current::{Current, Seeking, Stage};
use super::request::{Ask, COST_OF_A_ROUTE, RouteRequest};
use super::serve::Task;
use super::{MANY, Planner};
use crate::ground::Ground;

/// Maximum number of further tickets of a desk.
const MOST_MORE: u32 = 16;

/// Maximum number of tickets that are passed over in a turn, since they may share what others find.
const MOST_PASSED: usize = 8;

impl Planner {
    /// Hands further tickets to desks, one each in turn. Returns those that are passed over, each with its number.
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
        let counts = tasks.iter().map(|task| self.count_of_more(task));
        let counts: Vec<u32> = counts.collect();
        let turns = (0..MOST_MORE).flat_map(|round| (0..counts.len()).map(move |at| (round, at)));
        for (_, at) in turns.filter(|(round, at)| counts[*at] > *round) {
            let Some(one) = self.one_more(ground, (tasks, &mut passed), ask) else {
                break;
            };
            tasks[at].more.push(one);
        }
        passed
    }

    /// How many further tickets a desk can be expected to serve.
    fn count_of_more(&self, task: &Task<'_>) -> u32 {
        let current = self.desks[task.at].current.as_ref();
        let may_last = current.is_some_and(Current::may_last);
        // The last one is begun while there is as much left as it may take.
        let spare = task.most.saturating_sub(task.least);
        if may_last { 0 } else { spare / self.typical }
    }

    /// The next ticket in line that can be served whatever comes of the others in this turn, and what its holder wants; `None` if there
    /// is none, or too many are passed over.
    fn one_more<'a>(
        &mut self,
        ground: &Ground,
        (tasks, passed): (&[Task<'a>], &mut Vec<(u64, RouteRequest)>),
        ask: &impl Fn(u64) -> Option<Ask<'a>>,
    ) -> Option<(Current, Ask<'a>)> {
        while passed.len() < MOST_PASSED {
            let ticket = self.line.pop()?;
            let Some(wanted) = ask(ticket.who) else {
                continue;
            };
            let may_be = self.may_be_one_more(ground, (ticket, &wanted), tasks);
            let mut current = self.begins(ticket);
            if may_be {
                current.stage = Stage::Seeks(Seeking::begins(&wanted, false));
                return Some((current, wanted));
            }
            passed.push((current.number, ticket));
        }
        None
    }

    fn may_be_one_more(
        &self,
        ground: &Ground,
        (ticket, ask): (RouteRequest, &Ask<'_>),
        tasks: &[Task<'_>],
    ) -> bool {
        let by_field = ticket.group.is_some_and(|group| {
            let count = self.line.of_group(group) + 1;
            let many = count >= MANY && self.tries.field_pays(group, count, ask.clearance);
            many || self.fields.settled(group).is_some()
        });
        let more = tasks.iter().flat_map(|task| &task.more);
        let mut others = self.served().chain(more.map(|(current, _)| current));
        ask.clearance.is_finished()
            && !by_field
            && !others.any(|other| other.may_serve(ask, ground.cell_m()))
    }

    /// Puts tickets back to where they were in the line, by their numbers.
    pub(super) fn put_back(&mut self, mut tickets: Vec<(u64, RouteRequest)>) {
        tickets.sort_unstable_by_key(|(number, _)| *number);
        for (_, ticket) in tickets.into_iter().rev() {
            self.line.refund(ticket.side, COST_OF_A_ROUTE);
            self.line.put_back(ticket);
        }
    }
}
