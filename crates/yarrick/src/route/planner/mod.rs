//! The planner: routes for many, a bounded amount of work at a time.
//!
//! A caller that needs a route gets in line with a [`RouteRequest`]. [`Planner::next`] serves the line as long as
//! a budget lasts, which is counted in cells that are looked at, not in time: so the same requests give
//! the same routes in the same rounds everywhere. A search that the budget cuts short is gone on with
//! in the next round. Urgent tickets go first; among tickets as urgent, the side goes next for which
//! the least work has been done. Where a ticket leads is asked when its turn comes, not before: so a
//! goal may move meanwhile, and a ticket whose holder wants nothing any more costs nothing.
//!
//! Up to eight searches are under way at the same time, at desks, each for at most 12,288 cells before the others have done as much. With
//! [`Planner::next_on`] they run on several threads. If requests are cheap, a desk serves several of them in a turn. Results, their order
//! and round, and the counted work do not depend on the number of threads.
//!
//! A little work is spread over a few rounds, so that it does not show: the first round with work does 4,096 cells of it, or 64 for
//! each ticket if that is more, and each after it a thirty-second more, from 10,240 cells on half as much again, up to the budget,
//! until nothing is left.
//!
//! Waiting is bounded. With `s` sides, `b` tickets of the same side before it and a cost of at most `c` cells each, a ticket
//! that is not urgent is served within `s · (b + 16) · c / w` rounds and nine more, since tickets behind it that take little may go
//! first while each of eight desks has a long search; with budgets below 16,384, for which one
//! search at a time is under way, within `s · (b + 1) · c / w` and two more; urgent tickets that arrive meanwhile add to
//! that, and with budgets above 4,096 the rounds until they are used in full: 36 with 100,000. `w` is the budget less what a
//! round may leave unused: at most 3,000 cells, or 18,000 where goals are out of reach or areas, and never more than half of the
//! budget; and less what [`Planner::charge`] adds to it. Budgets should be several times as large.
//! Searches under way begin anew when the ground changes for a body. While its clearance map is not finished
//! ([`ClearanceMap::repair_in_parts`]), its requests wait.
//!
//! Long routes over large maps are kept for 200 rounds as *tracks*. A request with nearly the same start and goal joins the track
//! and leaves it along parts of fields, 32 by 32 cells each, which are computed when they are first needed. A hundred bodies
//! that set out together thus cost little more than one. Such routes cost 0.2 % more on average than routes found by a search,
//! and at most 10 % more on random maps. At most 512 tracks with 1,048,576 cells and 2,048 parts are kept, about 34 MB.
//!
//! Tickets may name a *group*: all of it go to places round one point. From [`MANY`] of a group
//! on, one [goal field](super::GoalField) serves them all, if it costs less: on large maps the first of them show what a
//! way costs there.
//!
//! ```
//! use yarrick::ground::{Ground, ClearanceMap, Terrain};
//! use yarrick::route::{Ask, Goal, Planner, RouteRequest};
//! use yarrick::Vec2;
//!
//! let ground = Ground::from_rows(1.0, &[".#...", ".#.#.", "...#."], &[
//!     ('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))])?;
//! let clearance = ClearanceMap::new(&ground, 0.4);
//! let mut planner = Planner::default();
//! planner.request(RouteRequest::new(7));
//!
//! let ask = |_who: u64| Some(Ask {
//!     body: 0, clearance: &clearance, radius: 0.4,
//!     from: Vec2::new(0.5, 2.5), goal: Goal::Point(Vec2::new(4.5, 0.5)),
//! });
//! let mut rounds = 0;
//! let route = loop {
//!     rounds += 1;
//!     planner.begin_round(25);
//!     if let Some((7, route)) = planner.next(&ground, ask) {
//!         break route?;
//!     }
//! };
//! assert_eq!((rounds, route.points.len()), (3, 6));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod budget;
mod current;
mod desk;
mod job;
mod line;
mod more;
mod request;
mod serve;
mod shared;
mod tools;
mod tracks;
mod tries;

pub use request::{Ask, COST_OF_A_ROUTE, Group, RouteRequest};

use super::{NoRoute, Route};
use crate::ground::{ClearanceMap, Ground, Repair};
use crate::threads::Threads;
use budget::{Budget, DESKS};
use current::{Current, Stage};
use desk::Desk;
use line::Line;
use serde::{Deserialize, Serialize};
use shared::Fields;
use std::collections::VecDeque;
use tools::Toolbox;
use tracks::Tracks;
use tries::Tries;

/// Members of a group from which on a field may serve them all. Measured on maps of 512 by 512 cells, a field
/// costs as much as 3 searches in clutter, 1 in a maze, 10 among rooms and hundreds on open ground: where the map has a chart,
/// and ways of their own are cheap, it is made only if it costs less than these would.
pub const MANY: u32 = 24;

/// How a ticket stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Standing {
    /// So many of its own side and urgency are before it.
    Waiting {
        /// How many.
        before: u32,
    },
    /// Its search is under way; the number of cells that it has settled.
    UnderWay {
        /// How many.
        settled: u32,
    },
    /// The field of its group is being worked out; the number of cells that are done.
    WithItsGroup {
        /// How many.
        settled: u32,
    },
}

/// Serves requests for routes within a budget.
///
/// Saved and loaded, it goes on in the same way: what is saved is the requests and what has been done for them, and
/// [`Planner::redo`] then does that again. Save it when [`Planner::next`] has returned `None`: routes that were found and not yet
/// returned are not saved.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub struct Planner {
    line: Line,
    desks: [Desk; DESKS],
    #[serde(skip)]
    toolbox: Toolbox,
    /// Number of tickets that have come to a desk.
    served: u64,
    /// About how much work a ticket took of late; `0` before the first.
    typical: u32,
    /// Results that [`Planner::next_on`] has yet to return.
    #[serde(skip)]
    found: VecDeque<(u64, Result<Route, NoRoute>)>,
    fields: Fields,
    tracks: Tracks,
    tries: Tries,
    /// How many rounds there were, for what has not been used for long.
    round: u64,
    /// The budget of this round, and what is left of it.
    budget: Budget,
}

impl Planner {
    /// Gets in line. One who is in line already keeps its place, becomes urgent if the new ticket is, and
    /// goes with the group of the new one.
    pub fn request(&mut self, ticket: RouteRequest) {
        self.found.retain(|(who, _)| *who != ticket.who);
        let mut served = self.desks.iter_mut().flat_map(|desk| &mut desk.current);
        match served.find(|current| current.ticket.who == ticket.who) {
            Some(current) if current.ticket.group != ticket.group => {
                current.ticket.group = ticket.group;
                current.stage = Stage::Begins;
            }
            Some(_) => {}
            None => self.line.add(ticket),
        }
    }

    /// Leaves the line. Gives whether the ticket was in it, or being served.
    pub fn cancel(&mut self, who: u64) -> bool {
        let found = self.found.len();
        self.found.retain(|(known, _)| *known != who);
        let mut desks = self.desks.iter_mut();
        let is_this = |current: &mut Current| current.ticket.who == who;
        let served = desks.find_map(|desk| desk.current.take_if(is_this));
        served.is_some() || self.found.len() < found || self.line.remove(who)
    }

    /// How a ticket stands; `None` for one who waits for nothing.
    #[must_use]
    pub fn standing(&self, who: u64) -> Option<Standing> {
        let mut desks = self.desks.iter();
        let served = desks.find_map(|desk| {
            let current = desk.current.as_ref();
            let current = current.filter(|current| current.ticket.who == who)?;
            Some((current, desk.tools.as_ref()))
        });
        let Some((current, tools)) = served else {
            return self
                .line
                .before(who)
                .map(|before| Standing::Waiting { before });
        };
        let field = current
            .ticket
            .group
            .and_then(|group| self.fields.settled(group));
        Some(match (&current.stage, field) {
            (Stage::Begins, Some(settled)) => Standing::WithItsGroup { settled },
            (Stage::Begins | Stage::Seeks(_) | Stage::Waits, _) => Standing::Waiting { before: 0 },
            (Stage::Searches { .. }, _) if current.is_new() => Standing::UnderWay { settled: 0 },
            (Stage::Searches { .. }, _) => Standing::UnderWay {
                settled: tools.map_or(0, |tools| tools.router.work()),
            },
        })
    }

    /// Number of requests without an answer, including those being served and those whose route [`Planner::next`] has yet to return.
    #[must_use]
    pub fn waiting(&self) -> usize {
        self.served().count() + self.line.len() + self.found.len()
    }

    /// The requests being served, then those in line in the order of their names.
    pub fn tickets(&self) -> impl Iterator<Item = &RouteRequest> {
        self.served()
            .map(|current| &current.ticket)
            .chain(self.line.tickets())
    }

    fn served(&self) -> impl Iterator<Item = &Current> {
        self.desks.iter().flat_map(|desk| &desk.current)
    }

    /// Begins a new round with a budget, in cells that are looked at: call it once before those calls of
    /// [`Planner::next`] that share it.
    pub fn begin_round(&mut self, budget: u32) {
        self.round += 1;
        let is_behind = self.served().count() > 0;
        self.budget.renew(budget, self.waiting(), is_behind);
        self.fields.forget_unused(self.round);
        self.tracks.forget_unused(self.round);
        self.tries.forget_old(self.round);
    }

    /// Counts work that was done for requests before the next round, such as looking for the place nearest to a goal with
    /// [`reach`](super::reach()), as part of that round. Call it before [`Planner::begin_round`].
    pub fn charge(&mut self, work: u32) {
        self.budget.charge_next(work);
    }

    /// What has been counted as part of the next round so far.
    pub(crate) fn charged(&self) -> u32 {
        self.budget.charged()
    }

    /// The work done in this round so far. It exceeds the budget only where that is smaller than twice what cannot be divided,
    /// by less than that: [`Router::least_step`](super::Router::least_step), with it 2,000 for the last steps of a group, and where a
    /// goal is out of reach or an area [`Router::most_to_begin`](super::Router::most_to_begin), for which later rounds make up, and
    /// where what was done before the round ([`Planner::charge`]) is more than the budget.
    #[must_use]
    pub fn spent(&self) -> u32 {
        self.budget.spent()
    }

    /// Does again what had been done when the planner was saved. `ask` gives what the holder of a request wants, as for
    /// [`Planner::next`]; `clearance` the clearance map that the caller numbers so.
    ///
    /// # Errors
    /// What makes no sense about it.
    pub fn redo<'a>(
        &mut self,
        ground: &Ground,
        ask: impl Fn(u64) -> Option<Ask<'a>>,
        clearance: impl Fn(u16) -> Option<&'a ClearanceMap>,
    ) -> Result<(), &'static str> {
        self.fields.redo(ground, &clearance)?;
        self.tracks.redo(ground, clearance)?;
        for desk in &mut self.desks {
            let ticket = desk.current.as_ref().map(|current| current.ticket);
            // One who wants nothing any more is dropped when its turn comes.
            if let Some(wanted) = ticket.and_then(|ticket| ask(ticket.who)) {
                desk.redo(ground, &self.fields, &wanted)?;
            }
        }
        Ok(())
    }

    /// What is wrong with a planner that was read from a file, if anything is: sides and clearance maps that do not exist,
    /// and lists that do not fit each other.
    ///
    /// # Errors
    /// What makes no sense about it.
    pub fn check(&self, sides: u8, clearances: u16) -> Result<(), &'static str> {
        let mut tickets = self.tickets();
        let known = |ticket: &RouteRequest| {
            let body = ticket.group.is_none_or(|group| group.body < clearances);
            ticket.side < sides && body
        };
        let mut served: Vec<u64> = self.served().map(|current| current.ticket.who).collect();
        served.sort_unstable();
        let each_once = served.windows(2).all(|pair| pair[0] != pair[1]);
        let in_line = served
            .iter()
            .any(|who| self.line.tickets().any(|ticket| ticket.who == *who));
        if tickets.all(known)
            && each_once
            && !in_line
            && self.served().all(Current::is_consistent)
            && self.line.is_consistent()
            && self.fields.is_consistent(self.round)
            && self.tracks.is_consistent(self.round, clearances)
            && self.tries.is_consistent(self.round)
        {
            Ok(())
        } else {
            Err("requests for routes that make no sense")
        }
    }

    /// Takes in that the map has changed: `repair` is what [`ClearanceMap::repair`] gave for the clearance map that
    /// the caller numbers so. Call it for each clearance map. Searches under way begin anew, and fields are
    /// mended, or begun anew where much of them has changed. The work of that and of the repair is part of the next round.
    pub fn ground_changed(&mut self, body: u16, clearance: &ClearanceMap, repair: &Repair) {
        if repair.touched.is_empty() {
            return;
        }
        for current in self.desks.iter_mut().flat_map(|desk| &mut desk.current) {
            current.stage = Stage::Begins;
        }
        let work = self.fields.repair(body, clearance, repair.touched);
        self.charge(repair.work.saturating_add(work));
        self.tracks.forget_of(body);
        self.tries.clear();
    }

    /// Serves the line until somebody's route is found, or it is known that there is none; `None` where
    /// the budget of the round is used up or nobody waits. `ask` gives what the holder of a request
    /// wants, or `None` if nothing any more.
    pub fn next<'a>(
        &mut self,
        ground: &Ground,
        ask: impl Fn(u64) -> Option<Ask<'a>>,
    ) -> Option<(u64, Result<Route, NoRoute>)> {
        self.next_on(&Threads::default(), ground, ask)
    }

    /// As [`Planner::next`], with searches on several threads. The results and their order do not depend on the number of threads.
    pub fn next_on<'a>(
        &mut self,
        threads: &Threads,
        ground: &Ground,
        ask: impl Fn(u64) -> Option<Ask<'a>>,
    ) -> Option<(u64, Result<Route, NoRoute>)> {
        while self.found.is_empty() && self.advance(threads, ground, &ask) {}
        self.found.pop_front()
    }
}
