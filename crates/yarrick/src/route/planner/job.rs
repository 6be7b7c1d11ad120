//! The work of a desk in a turn: steps for its ticket, and then for further tickets while the budget of the turn suffices.
//!
//! Jobs only read shared state, so they can run on several threads. [`Done`] holds the results, which the planner takes in afterwards.

use super::current::{Current, Need, Seeking, Stage};
use super::desk::Desk;
use super::request::{Ask, Group, RouteRequest};
use super::shared::Fields;
use super::tools::{Toolbox, Tools};
use super::tracks::{
    self, Attempt, MOST_TO_KEEP, NewParts, Note, Outcome, Track, Tracks, track_of,
};
use crate::ground::Ground;
use crate::route::{NoRoute, Route};

/// Maximum work of a step of a search, in settled cells.
pub(super) const SLICE: u32 = 4096;

/// The state that all jobs read.
pub(super) struct Shared<'a> {
    pub(super) ground: &'a Ground,
    pub(super) fields: &'a Fields,
    pub(super) tracks: &'a Tracks,
    pub(super) toolbox: &'a Toolbox,
    /// The fixed cost of a route, in settled cells.
    pub(super) cost: u32,
}

/// The work of a desk in a turn.
pub(super) struct Job<'desk, 'ground> {
    desk: &'desk mut Desk,
    /// The request of the ticket at the desk.
    ask: Ask<'ground>,
    /// Further tickets.
    more: Vec<(Current, Ask<'ground>)>,
    /// The maximum work.
    most: u32,
    /// The workspace, from its first step to its last.
    tools: Option<Tools>,
    is_over: bool,
    done: Done,
}

/// The results of a job.
pub(super) struct Done {
    pub(super) reports: Vec<Report>,
    /// Parts of fields that were computed.
    pub(super) parts: NewParts,
    /// Tickets for which nothing was done, each with its number.
    pub(super) left: Vec<(u64, RouteRequest)>,
    work: u32,
}

/// The result of a step for one ticket.
pub(super) struct Report {
    pub(super) ticket: RouteRequest,
    pub(super) work: u32,
    /// The result, if it is known, the work of all turns, and the track of the route if it may serve others.
    pub(super) found: Option<Result<Route, NoRoute>>,
    pub(super) spent: u32,
    pub(super) track: Option<Track>,
    /// The group whose field it follows with a body of a radius, and the legs of the route that may serve others.
    pub(super) field: Option<(Group, f32)>,
    pub(super) legs: Vec<(u32, u32)>,
    /// What the step has shown about tracks.
    pub(super) note: Note,
}

impl<'desk, 'ground> Job<'desk, 'ground> {
    pub(super) fn new(
        desk: &'desk mut Desk,
        (ask, more): (Ask<'ground>, Vec<(Current, Ask<'ground>)>),
        most: u32,
    ) -> Job<'desk, 'ground> {
        let done = Done {
            reports: Vec::new(),
            parts: NewParts::default(),
            left: Vec::new(),
            work: 0,
        };
        Job {
            desk,
            ask,
            more,
            most,
            tools: None,
            is_over: false,
            done,
        }
    }

    pub(super) fn done(self) -> Done {
        self.done
    }

    /// The work that it may still do, in settled cells; 0 if there is nothing more for it to do.
    pub(super) fn left(&self) -> u32 {
        if self.is_over { 0 } else { self.rest().max(1) }
    }

    /// The work of which nothing has been done.
    fn rest(&self) -> u32 {
        self.most.saturating_sub(self.done.work)
    }

    /// Does a step for the ticket at the desk, or for the next one, if there is one for which the work suffices.
    pub(super) fn step(&mut self, shared: &Shared<'_>) {
        let tools = self.tools.take().or_else(|| self.desk.tools.take());
        let mut tools = tools.unwrap_or_else(|| shared.toolbox.take());
        let is_first = self.done.reports.is_empty();
        if is_first || self.may_go_on(shared) || self.begins_next(shared) {
            let need = self.need(shared);
            self.serve(shared, &mut tools, need);
            self.tools = Some(tools);
        } else {
            self.put_away(shared, tools);
        }
    }

    /// Whether it may go on with the search for the ticket at the desk.
    fn may_go_on(&self, shared: &Shared<'_>) -> bool {
        let current = self.desk.current.as_ref();
        current.is_some_and(Current::searches) && self.need(shared).whole() <= self.rest()
    }

    /// Takes the next of the further tickets, if the desk is free and the work suffices.
    fn begins_next(&mut self, shared: &Shared<'_>) -> bool {
        if self.desk.current.is_some() {
            return false;
        }
        let mut more = core::mem::take(&mut self.more).into_iter();
        let next = more.find_map(|(current, ask)| {
            let fits = current.need(shared.ground, &ask).whole() <= self.rest();
            if !fits {
                self.done.left.push((current.number, current.ticket));
            }
            fits.then_some((current, ask))
        });
        self.more = more.collect();
        let Some((current, ask)) = next else {
            return false;
        };
        (self.desk.current, self.ask) = (Some(current), ask);
        true
    }

    /// Ends: what has not been begun goes back, and a search under way keeps its workspace.
    fn put_away(&mut self, shared: &Shared<'_>, tools: Tools) {
        let left = self.more.iter();
        let left = left.map(|(current, _)| (current.number, current.ticket));
        self.done.left.extend(left);
        let current = self.desk.current.as_ref();
        if current.is_some_and(Current::is_under_way) {
            self.desk.tools = Some(tools);
        } else {
            shared.toolbox.put_back(tools);
        }
        self.is_over = true;
    }

    fn need(&self, shared: &Shared<'_>) -> Need {
        let current = self.desk.current.as_ref();
        current.map_or(Need { step: 0, legs: 0 }, |current| {
            current.need(shared.ground, &self.ask)
        })
    }

    /// Does a step for the ticket at the desk.
    fn serve(&mut self, shared: &Shared<'_>, tools: &mut Tools, need: Need) {
        let Some(current) = &self.desk.current else {
            return;
        };
        let radius = self.ask.radius;
        let mut report = Report {
            ticket: current.ticket,
            work: 0,
            found: None,
            spent: 0,
            track: None,
            field: current.field().map(|group| (group, radius)),
            legs: Vec::new(),
            note: Note::default(),
        };
        let left = self.rest();
        while self.seek(shared, tools, left, &mut report) {}
        if report.found.is_none() {
            let left = left.saturating_sub(report.work);
            self.search(shared, tools, (need, left), &mut report);
        }
        if report.found.is_some() {
            self.desk.current = None;
        }
        // Nothing is free, so that no round goes on for ever.
        report.work = report.work.max(1);
        self.done.work += report.work;
        self.done.reports.push(report);
    }

    /// Looks for a track that leads there, or computes parts of fields for one. Returns whether to look again.
    fn seek(
        &mut self,
        shared: &Shared<'_>,
        tools: &mut Tools,
        left: u32,
        report: &mut Report,
    ) -> bool {
        let Some(Current { stage, .. }) = &mut self.desk.current else {
            return false;
        };
        let Stage::Seeks(seeking) = stage else {
            return false;
        };
        let clearance = self.ask.clearance;
        if let Some(wants) = seeking.wants.take() {
            let parts = (&mut *tools.tile, &mut self.done.parts);
            let work = shared.tracks.compute(clearance, parts, &wants);
            report.work += work;
            seeking.spent = seeking.spent.saturating_add(work);
            return may_go_on(seeking, report.work, left);
        }
        let Attempt {
            outcome,
            work,
            note,
        } = shared.tracks.attempt(
            shared.ground,
            (&self.ask, &seeking.asked),
            (&mut tools.pull, &self.done.parts),
        );
        report.work += work;
        report.note.add(note);
        seeking.spent = seeking.spent.saturating_add(work);
        match outcome {
            Outcome::Route(route) => {
                report.spent = seeking.spent;
                report.found = Some(Ok(route));
            }
            Outcome::Wants(wants) => {
                seeking.asked.note(&wants);
                let work = report.work + wants.most_work();
                seeking.wants = Some(wants);
                return may_go_on(seeking, work, left);
            }
            Outcome::NotHere if seeking.is_awaited => *stage = Stage::Waits,
            Outcome::NotHere => {
                *stage = Stage::Searches {
                    from: self.ask.from,
                    goal: self.ask.goal.clone(),
                    down: None,
                    allowed: Vec::new(),
                };
            }
        }
        false
    }

    /// Begins its search, or goes on with it, for at most `left` work.
    fn search(
        &mut self,
        shared: &Shared<'_>,
        tools: &mut Tools,
        (need, left): (Need, u32),
        report: &mut Report,
    ) {
        let Some(current) = &self.desk.current else {
            return;
        };
        let Stage::Searches { from, .. } = current.stage else {
            return;
        };
        let is_new = current.is_new();
        if is_new && report.work > 0 && left < current.need(shared.ground, &self.ask).whole() {
            // The next turn begins it.
            return;
        }
        let cost = if is_new { shared.cost } else { 0 };
        // With a small rest, only the tracks of shorter routes can be kept.
        let kept = self.ask.clearance.chart().map_or(0, |_| MOST_TO_KEEP);
        let most = left.saturating_sub(need.legs + kept.min(left / 4) + cost);
        // The smallest budgets do not suffice for a step.
        let most = most
            .min(SLICE.max(need.step))
            .max(need.step.saturating_sub(cost).min(left));
        let (ground, router) = (shared.ground, &mut tools.router);
        let step = self
            .desk
            .step(ground, shared.fields, &self.ask, (router, most));
        report.work += cost + step.0;
        let Some(found) = step.1 else {
            return;
        };
        if let Ok(route) = &found {
            let rest = left.saturating_sub(cost + step.0);
            let (track, work) = track_of(ground, &self.ask, (from, route), (router, rest));
            report.track = track;
            report.work += work;
        }
        report.spent = router.work();
        report.legs = router.legs();
        report.work += report.legs.len() as u32;
        let begun = |route| begun_from(ground, &self.ask, route);
        report.found = Some(found.map(begun));
    }
}

/// Whether parts may be computed and used in the turn in which they are wanted: no other ticket of the turn wants the same, and the work
/// suffices.
fn may_go_on(seeking: &Seeking, work: u32, left: u32) -> bool {
    !seeking.is_awaited && work.saturating_add(tracks::MOST_WORK) <= left
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
