//! How the line is served: each ticket by what is shared, or else by a search at a desk.

use super::desk::{Current, DESKS, Done, Job, LEAST_SHARE, SLICE, Stage};
use super::request::{Ask, COST_OF_A_ROUTE, RouteRequest};
use super::shared::Served;
use super::tracks::{MOST_TO_KEEP, Track};
use super::{MANY, Planner};
use crate::ground::Ground;
use crate::route::descent::MOST_LEGS;
use crate::route::{NoRoute, Route, Router};
use crate::threads::Threads;

/// Cells by which the holder may have moved since its search began, for the search to go on.
const STRAYED_CELLS: f32 = 8.0;

/// What a desk does next.
enum Turn<'a> {
    /// Nothing: its ticket has been served, waits for another desk, or there is none.
    Idle,
    /// Its search goes on.
    Search(Ask<'a>),
    /// The budget does not suffice for what is next.
    Over,
}

impl Planner {
    /// Lets each desk do a part of its work. Returns whether it may help to go on.
    pub(super) fn advance<'a>(
        &mut self,
        threads: &Threads,
        ground: &Ground,
        ask: &impl Fn(u64) -> Option<Ask<'a>>,
    ) -> bool {
        let before = (self.budget.spent(), self.line.len());
        let open = (self.budget.whole() / LEAST_SHARE).clamp(1, DESKS as u32) as usize;
        let mut searches = Vec::new();
        let mut is_over = false;
        // Tickets that came to a desk earlier go first.
        let mut desks: Vec<(u64, usize)> = (0..DESKS).map(|at| (self.number(at), at)).collect();
        desks.sort_unstable();
        let busy = self.served().count();
        for (k, (_, at)) in desks.into_iter().enumerate() {
            if k >= open.max(busy) {
                break;
            }
            match self.prepare(ground, at, ask) {
                Turn::Idle => {}
                Turn::Search(ask) => searches.push((at, ask)),
                Turn::Over => {
                    is_over = true;
                    break;
                }
            }
        }
        let goes_on = self.search(threads, ground, searches);
        goes_on || !is_over && before != (self.budget.spent(), self.line.len())
    }

    /// The number of the ticket at a desk; the largest where there is none.
    fn number(&self, at: usize) -> u64 {
        let current = self.desks[at].current.as_ref();
        current.map_or(u64::MAX, |current| current.number)
    }

    /// Serves the ticket of a desk, or the next one in line, by what is shared; or else gets its search ready.
    fn prepare<'a>(
        &mut self,
        ground: &Ground,
        at: usize,
        ask: &impl Fn(u64) -> Option<Ask<'a>>,
    ) -> Turn<'a> {
        loop {
            if self.desks[at].current.is_none() {
                if !self.budget.allows(COST_OF_A_ROUTE) {
                    return Turn::Over;
                }
                let Some(ticket) = self.line.pop() else {
                    return Turn::Idle;
                };
                self.served += 1;
                self.desks[at].current = Some(Current::begins(ticket, self.served));
            }
            let Some(current) = &mut self.desks[at].current else {
                return Turn::Idle;
            };
            let ticket = current.ticket;
            let Some(wanted) = ask(ticket.who) else {
                self.desks[at].current = None;
                continue;
            };
            if !wanted.clearance.is_finished() {
                return Turn::Idle;
            }
            if let Stage::Searches {
                from, goal, down, ..
            } = &current.stage
            {
                let strayed_m = from.distance(wanted.from);
                let goes_on = *goal == wanted.goal
                    && strayed_m <= STRAYED_CELLS * ground.cell_m()
                    && down.is_none_or(|down| self.fields.uses(down.group, self.round));
                if goes_on {
                    return Turn::Search(wanted);
                }
                // It wants to go elsewhere, has been moved, or its field is no longer kept.
                current.stage = Stage::Begins;
            }
            return self.begin(ground, (at, ticket), wanted);
        }
    }

    /// Serves a ticket by what is shared, or gets its search ready.
    fn begin<'a>(
        &mut self,
        ground: &Ground,
        (at, ticket): (usize, RouteRequest),
        ask: Ask<'a>,
    ) -> Turn<'a> {
        let before = self.budget.spent();
        let by_field = self.serve_from_field(ground, ticket, &ask);
        let is_awaited =
            matches!(by_field, Served::NotHere) && self.may_be_served_by_others(ground, at, &ask);
        if is_awaited && self.waits(at) {
            return Turn::Idle;
        }
        let served = match by_field {
            Served::NotHere => self.serve_from_track(ground, ticket, &ask),
            served => served,
        };
        self.line.charge(ticket.side, self.budget.spent() - before);
        let down = match served {
            Served::Route(route) => {
                self.found.push_back((ticket.who, Ok(route)));
                self.desks[at].current = None;
                return Turn::Idle;
            }
            Served::UnderWay => return Turn::Over,
            Served::ByField(down) => Some(down),
            Served::NotHere => None,
        };
        let stage = if is_awaited {
            Stage::Waits
        } else if self.budget.allows(COST_OF_A_ROUTE) {
            // Even the smallest budget serves one.
            let cost = COST_OF_A_ROUTE.min(self.budget.whole());
            self.budget.charge(cost);
            self.line.charge(ticket.side, cost);
            Stage::Searches {
                from: ask.from,
                goal: ask.goal.clone(),
                down,
                allowed: Vec::new(),
            }
        } else {
            return Turn::Over;
        };
        if let Some(current) = &mut self.desks[at].current {
            current.stage = stage;
        }
        if is_awaited {
            Turn::Idle
        } else {
            Turn::Search(ask)
        }
    }

    /// Whether a desk waits for another.
    fn waits(&self, at: usize) -> bool {
        let current = self.desks[at].current.as_ref();
        current.is_some_and(|current| matches!(current.stage, Stage::Waits))
    }

    /// Whether a search under way at another desk may find a route that this request can share.
    fn may_be_served_by_others(&self, ground: &Ground, at: usize, ask: &Ask<'_>) -> bool {
        let others = self.desks.iter().enumerate();
        let mut others = others.filter(|(other, _)| *other != at);
        others.any(|(_, desk)| {
            let current = desk.current.as_ref();
            current.is_some_and(|current| current.may_serve(ask, ground.cell_m()))
        })
    }

    /// The route along a track, if one fits.
    fn serve_from_track(&mut self, ground: &Ground, ticket: RouteRequest, ask: &Ask<'_>) -> Served {
        let before = self.budget.spent();
        let served = self.tracks.serve(ground, &mut self.budget, ask, self.round);
        if let (Served::Route(_), Some(group)) = (&served, ticket.group) {
            self.tries
                .note(group, self.budget.spent() - before, self.round);
        }
        served
    }

    /// Whether a field leads there.
    fn serve_from_field(&mut self, ground: &Ground, ticket: RouteRequest, ask: &Ask<'_>) -> Served {
        let Some(group) = ticket.group else {
            return Served::NotHere;
        };
        // Itself, those at other desks, and those behind it.
        let served = self.served();
        let here = served.filter(|current| current.ticket.group == Some(group));
        let count = self.line.of_group(group) + here.count() as u32;
        let many = count >= MANY && self.tries.field_pays(group, count, ask.clearance);
        if self.fields.widen(group, ask.radius) {
            // What was found for narrower bodies is of no more use.
            let others = self.desks.iter_mut().flat_map(|desk| &mut desk.current);
            let others = others.filter(|current| current.field() == Some(group));
            others.for_each(|current| current.stage = Stage::Begins);
        }
        let asked = (group, many, self.round);
        self.fields.serve(ground, asked, &mut self.budget, ask)
    }

    /// Lets searches go on, each at its desk and all for about as much work; the earlier ones first, where the budget does not
    /// suffice for all. Returns whether it did for any.
    fn search(
        &mut self,
        threads: &Threads,
        ground: &Ground,
        searches: Vec<(usize, Ask<'_>)>,
    ) -> bool {
        let (chosen, spare) = self.affordable(ground, searches);
        if chosen.is_empty() {
            return false;
        }
        let (left, share) = (self.budget.left(), spare / chosen.len() as u32);
        let mut desks: Vec<_> = self.desks.iter_mut().map(Some).collect();
        let mut jobs: Vec<Job<'_, '_>> = Vec::new();
        for (at, ask, least) in chosen {
            let most = (least + share).min(SLICE.max(least)).min(left);
            if let Some(desk) = desks[at].take() {
                jobs.push(Job::new((at, desk), ask, most));
            }
        }
        let (fields, routers) = (&self.fields, &self.routers);
        threads.each(&mut jobs, |job| job.run(ground, fields, routers));
        let done: Vec<Done<'_>> = jobs.into_iter().map(Job::done).collect();
        for done in done {
            self.budget.charge(done.work);
            if let Some(current) = &self.desks[done.at].current {
                self.line.charge(current.ticket.side, done.work);
            }
            let field = self.desks[done.at].current.as_ref();
            if let Some(group) = field.and_then(Current::field) {
                let radius = done.ask.radius;
                self.fields.note_legs((group, radius), &done.legs);
            }
            if let Some(found) = done.found {
                self.finish(
                    ground,
                    (done.at, &done.ask),
                    (found, done.searched),
                    done.track,
                );
            }
        }
        true
    }

    /// The searches for whose next step the budget suffices, whatever it may take, each with the most that this may be; and what
    /// is then left of the budget.
    fn affordable<'a>(
        &self,
        ground: &Ground,
        searches: Vec<(usize, Ask<'a>)>,
    ) -> (Vec<(usize, Ask<'a>, u32)>, u32) {
        let mut chosen: Vec<(usize, Ask<'a>, u32)> = Vec::new();
        let mut reserved = 0;
        for (at, ask) in searches {
            let current = self.desks[at].current.as_ref();
            let mut least = Router::least_step(ask.clearance);
            if current.is_some_and(Current::is_new) {
                least += match current.and_then(Current::field) {
                    Some(_) => Router::most_to_begin_down(ask.clearance),
                    None => Router::most_to_begin(ground, ask.clearance, (ask.from, &ask.goal)),
                };
            }
            // What it finds may be kept in the same step.
            let kept = match current.and_then(Current::field) {
                Some(_) => MOST_LEGS,
                None => ask.clearance.chart().map_or(0, |_| MOST_TO_KEEP),
            };
            let most = least + kept;
            let fits = if chosen.is_empty() {
                self.budget.allows(most)
            } else {
                reserved + most <= self.budget.spare()
            };
            if fits {
                reserved += most;
                chosen.push((at, ask, least));
            }
        }
        (chosen, self.budget.spare().saturating_sub(reserved))
    }

    /// Takes a ticket whose search is over from its desk, and keeps what was found for others.
    fn finish(
        &mut self,
        ground: &Ground,
        (at, ask): (usize, &Ask<'_>),
        (found, searched): (Result<Route, NoRoute>, u32),
        track: Option<Track>,
    ) {
        let Some(current) = self.desks[at].current.take() else {
            return;
        };
        if let (Some(group), None) = (current.ticket.group, current.field()) {
            self.tries.note(group, searched, self.round);
        }
        if let Some(track) = track {
            self.tracks.keep(track, self.round);
        }
        let found = found.map(|route| begun_from(ground, ask, route));
        self.found.push_back((current.ticket.who, found));
    }
}

/// The route that was found for one who has taken a few steps since.
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
