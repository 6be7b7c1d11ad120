//! The planner: routes for many, a bounded amount of work at a time.
//!
//! A caller that needs a route gets in line with a [`RouteRequest`]. [`Planner::next`] serves the line as long as
//! a budget lasts, which is counted in cells that are looked at, not in time: so the same requests give
//! the same routes in the same rounds everywhere. A search that the budget cuts short is gone on with
//! in the next round. Urgent tickets go first; among tickets as urgent, the side goes next for which
//! the least work has been done. Where a ticket leads is asked when its turn comes, not before: so a
//! goal may move meanwhile, and a ticket whose holder wants nothing any more costs nothing.
//!
//! Waiting is bounded. With `s` sides, `b` tickets of the same side before it and a cost of at most `c` cells each, a ticket
//! that is not urgent is served within `s · (b + 1) · c / w` rounds and one more; urgent tickets that arrive meanwhile add to
//! that. `w` is the budget less what a round may leave unused, at most 2,600 cells; budgets should be several times as large.
//! A search under way begins anew when the ground changes for its body.
//!
//! Long routes over large maps are kept for 200 rounds as *tracks*. A request with nearly the same start and goal joins the track
//! and leaves it along parts of fields, 32 by 32 cells each, which are computed when they are first needed. A hundred bodies
//! that set out together thus cost little more than one. Such routes cost 0.2 % more on average than routes found by a search,
//! and at most 10 % more on random maps. At most 512 tracks with 1,048,576 cells and 2,048 parts are kept, about 32 MB.
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
//!     planner.begin_round(30);
//!     if let Some((7, route)) = planner.next(&ground, ask) {
//!         break route?;
//!     }
//! };
//! assert_eq!((rounds, route.points.len()), (2, 6));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod budget;
mod line;
mod request;
mod shared;
mod tracks;
mod tries;

pub use request::{Ask, COST_OF_A_ROUTE, Group, RouteRequest};

use super::{Goal, NoRoute, Route, Router};
use crate::geom::Vec2;
use crate::ground::{ClearanceMap, Ground, Patch};
use budget::Budget;
use line::Line;
use serde::{Deserialize, Serialize};
use shared::Fields;
use tracks::Tracks;
use tries::Tries;

/// Members of a group from which on a field may serve them all. Measured on maps of 512 by 512 cells, a field
/// costs as much as 3 searches in clutter, 1 in a maze, 10 among rooms and hundreds on open ground: where the map has a chart,
/// and ways of their own are cheap, it is made only if it costs less than these would.
pub const MANY: u32 = 24;

/// Cells by which the holder may have moved since its search began, for the search to go on.
const STRAYED_CELLS: f32 = 8.0;

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
/// [`Planner::redo`] then does that again.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub struct Planner {
    line: Line,
    current: Option<Current>,
    /// The search under way is done again from what `current` gives.
    #[serde(skip)]
    router: Router,
    fields: Fields,
    tracks: Tracks,
    tries: Tries,
    /// How many rounds there were, for what has not been used for long.
    round: u64,
    /// The budget of this round, and what is left of it.
    budget: Budget,
}

/// The ticket that is being served.
#[derive(Clone, Debug, Serialize, Deserialize)]
struct Current {
    ticket: RouteRequest,
    stage: Stage,
}

#[derive(Clone, Debug, Serialize, Deserialize)]
enum Stage {
    /// Nothing has been done for it.
    Begins,
    /// Its search is under way, from a point to a goal; and the work that it was allowed, round by round.
    Searches {
        from: Vec2,
        goal: Goal,
        allowed: Vec<u32>,
    },
}

impl Planner {
    /// Gets in line. One who is in line already keeps its place, becomes urgent if the new ticket is, and
    /// goes with the group of the new one.
    pub fn request(&mut self, ticket: RouteRequest) {
        match &mut self.current {
            Some(current) if current.ticket.who == ticket.who => {
                if current.ticket.group != ticket.group {
                    current.ticket.group = ticket.group;
                    current.stage = Stage::Begins;
                }
            }
            _ => self.line.add(ticket),
        }
    }

    /// Leaves the line. Gives whether the ticket was in it, or being served.
    pub fn cancel(&mut self, who: u64) -> bool {
        let served = self.current.take_if(|current| current.ticket.who == who);
        served.is_some() || self.line.remove(who)
    }

    /// How a ticket stands; `None` for one who waits for nothing.
    #[must_use]
    pub fn standing(&self, who: u64) -> Option<Standing> {
        let current = self
            .current
            .as_ref()
            .filter(|current| current.ticket.who == who);
        let Some(current) = current else {
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
            (Stage::Begins, None) => Standing::Waiting { before: 0 },
            (Stage::Searches { .. }, _) => Standing::UnderWay {
                settled: self.router.work(),
            },
        })
    }

    /// How many wait, with the one that is being served.
    #[must_use]
    pub fn waiting(&self) -> usize {
        self.line.len() + usize::from(self.current.is_some())
    }

    /// Who waits, in the order of their names, after the one that is being served.
    pub fn tickets(&self) -> impl Iterator<Item = &RouteRequest> {
        let current = self.current.iter().map(|current| &current.ticket);
        current.chain(self.line.tickets())
    }

    /// Begins a new round with a budget, in cells that are looked at: call it once before those calls of
    /// [`Planner::next`] that share it.
    pub fn begin_round(&mut self, budget: u32) {
        self.round += 1;
        self.budget.renew(budget);
        self.fields.forget_unused(self.round);
        self.tracks.forget_unused(self.round);
        self.tries.forget_old(self.round);
    }

    /// The work done in this round so far. It exceeds the budget only where that is smaller than twice
    /// [`Router::least_step`], by less than that; and where a goal is out of reach that lies far within closed
    /// ground: what it takes to find the place nearest to it cannot be divided. Later rounds make up for it.
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
        let Some(current) = &self.current else {
            return Ok(());
        };
        let Stage::Searches {
            from,
            goal,
            allowed,
        } = &current.stage
        else {
            return Ok(());
        };
        let Some(wanted) = ask(current.ticket.who) else {
            // It wants nothing any more, and is dropped when its turn comes.
            return Ok(());
        };
        let (clearance, radius) = (wanted.clearance, wanted.radius);
        let mut is_under_way = self
            .router
            .begin(ground, clearance, radius, *from, goal)
            .is_none();
        for most in allowed {
            is_under_way &= self.router.advance(ground, clearance, *most).is_none();
        }
        if is_under_way {
            Ok(())
        } else {
            Err("a search that is over")
        }
    }

    /// What is wrong with a planner that was read from a file, if anything is: sides and clearance maps that do not exist,
    /// and lists that do not fit each other.
    ///
    /// # Errors
    /// What makes no sense about it.
    pub fn check(&self, sides: u8, clearances: u16) -> Result<(), &'static str> {
        let current = self.current.iter().map(|current| &current.ticket);
        let mut tickets = current.chain(self.line.tickets());
        let known = |ticket: &RouteRequest| {
            let body = ticket.group.is_none_or(|group| group.body < clearances);
            ticket.side < sides && body
        };
        if tickets.all(known)
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

    /// Takes in that the map has changed: `touched` is what [`ClearanceMap::repair`] gave for the clearance map that
    /// the caller numbers so. Call it for each clearance map. Searches under way begin anew, and fields are
    /// mended.
    pub fn ground_changed(&mut self, body: u16, clearance: &ClearanceMap, touched: Patch) {
        if touched.is_empty() {
            return;
        }
        if let Some(current) = &mut self.current {
            current.stage = Stage::Begins;
        }
        self.fields.repair(body, clearance, touched);
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
        loop {
            if self.current.is_none() {
                let ticket = self.line.pop()?;
                let stage = Stage::Begins;
                self.current = Some(Current { ticket, stage });
            }
            let current = self.current.as_ref()?;
            let ticket = current.ticket;
            let Some(wanted) = ask(ticket.who) else {
                self.current = None;
                continue;
            };
            let before = self.budget.spent();
            let served = self.serve(ground, &wanted);
            let work = self.budget.spent() - before;
            self.line.charge(ticket.side, work);
            match served {
                Some(route) => {
                    self.current = None;
                    return Some((ticket.who, route));
                }
                None => return None,
            }
        }
    }

    /// Does what the budget allows for the current ticket.
    fn serve(&mut self, ground: &Ground, ask: &Ask<'_>) -> Option<Result<Route, NoRoute>> {
        let current = self.current.as_mut()?;
        if let Stage::Searches { from, goal, .. } = &current.stage
            && (goal != &ask.goal || from.distance(ask.from) > STRAYED_CELLS * ground.cell_m())
        {
            // It wants to go elsewhere, or has been moved.
            current.stage = Stage::Begins;
        }
        if matches!(current.stage, Stage::Begins) {
            let ticket = current.ticket;
            match self.serve_from_shared(ground, &ticket, ask) {
                shared::Served::Route(route) => return Some(Ok(route)),
                shared::Served::UnderWay => return None,
                shared::Served::NotHere => {}
            }
            if !self.budget.allows(COST_OF_A_ROUTE) {
                return None;
            }
            // Even the smallest budget serves one.
            let cost = COST_OF_A_ROUTE.min(self.budget.whole());
            self.budget.charge(cost);
            let (from, goal) = (ask.from, ask.goal.clone());
            let found = self
                .router
                .begin(ground, ask.clearance, ask.radius, from, &goal);
            self.budget.charge(self.router.work());
            self.current.as_mut()?.stage = match found {
                Some(found) => return Some(found),
                None => Stage::Searches {
                    from,
                    goal,
                    allowed: Vec::new(),
                },
            };
        }
        if !self.budget.allows(Router::least_step(ask.clearance)) {
            return None;
        }
        let before = self.router.work();
        if let Some(Current {
            stage: Stage::Searches { allowed, .. },
            ..
        }) = &mut self.current
        {
            allowed.push(self.budget.left());
        }
        let found = self
            .router
            .advance(ground, ask.clearance, self.budget.left());
        self.budget.charge(self.router.work() - before);
        self.finished(ground, ask, found?)
    }

    /// Keeps the result of a search for other requests.
    fn finished(
        &mut self,
        ground: &Ground,
        ask: &Ask<'_>,
        found: Result<Route, NoRoute>,
    ) -> Option<Result<Route, NoRoute>> {
        let current = self.current.as_ref()?;
        if let Some(group) = current.ticket.group {
            let work = self.router.work();
            self.tries.note(group, work, self.round);
        }
        if let (Ok(route), Stage::Searches { from, .. }) = (&found, &current.stage) {
            let way = (*from, route);
            self.tracks.keep(ground, ask, way, &self.router, self.round);
        }
        Some(found.map(|route| begun_from(ground, ask, route)))
    }

    /// The route from a field or a track, if one fits.
    fn serve_from_shared(
        &mut self,
        ground: &Ground,
        ticket: &RouteRequest,
        ask: &Ask<'_>,
    ) -> shared::Served {
        match self.serve_from_field(ground, ticket, ask) {
            shared::Served::NotHere => {}
            served => return served,
        }
        let before = self.budget.spent();
        let served = self.tracks.serve(ground, &mut self.budget, ask, self.round);
        if let (shared::Served::Route(_), Some(group)) = (&served, ticket.group) {
            self.tries
                .note(group, self.budget.spent() - before, self.round);
        }
        served
    }

    fn serve_from_field(
        &mut self,
        ground: &Ground,
        ticket: &RouteRequest,
        ask: &Ask<'_>,
    ) -> shared::Served {
        let Some(group) = ticket.group else {
            return shared::Served::NotHere;
        };
        // Itself, and those behind it.
        let count = self.line.of_group(group) + 1;
        let many = count >= MANY && self.tries.field_pays(group, count, ask.clearance);
        let asked = (group, many, self.round);
        self.fields
            .serve(ground, asked, &mut self.budget, ask, &mut self.router)
    }
}

/// A route that was found for one who has taken a few steps since.
fn begun_from(ground: &Ground, ask: &Ask<'_>, mut route: Route) -> Route {
    if route.points[0] == ask.from || route.pushed_m > 0.0 {
        return route;
    }
    let view = ground.view(ask.clearance.gait());
    if view.line_is_clear(ask.from, route.points[1], ask.radius) {
        route.points[0] = ask.from;
    } else {
        route.points.insert(0, ask.from);
        route.links.iter_mut().for_each(|(at, _)| *at += 1);
    }
    route.measure(view, ask.clearance);
    route
}
