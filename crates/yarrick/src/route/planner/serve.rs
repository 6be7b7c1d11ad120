//! How the line is served, turn by turn: each desk gets a ticket ready, then all do their work at the same time, and then what they
//! found is kept for others.

use super::budget::DESKS;
use super::current::{Current, Seeking, Stage};
use super::job::{Done, Job, Report, SLICE, Shared};
use super::request::{Ask, COST_OF_A_ROUTE, RouteRequest};
use super::shared::Served;
use super::{MANY, Planner};
use crate::ground::Ground;
use crate::threads::Threads;

/// Cells by which the holder may have moved since its search began, for the search to go on.
const STRAYED_CELLS: f32 = 8.0;

/// A budget is shared by at most one desk for each such amount of work.
const LEAST_SHARE: u32 = 8192;

/// Maximum work of a desk in a turn, in settled cells.
const BATCH: u32 = 12_288;

/// Unless only one desk works, a turn has at least this much work for each: the fewer turns in a round, the less time threads wait for
/// each other.
const SHARE_A_TURN: u32 = 2048;

/// The same for a desk that has no ticket yet: enough for several that take little.
const SHARE_OF_A_NEW_ONE: u32 = 3072;

/// The latest request weighs 1 in this number for what a request typically takes.
const WEIGHT: u32 = 8;

/// What a desk does next.
enum Turn<'a> {
    /// Nothing: its ticket waits for another desk, or there is none.
    Idle,
    /// It goes on.
    Work(Ask<'a>),
    /// The budget does not suffice for what is next.
    Over,
}

/// What a desk is to do in a turn.
pub(super) struct Task<'a> {
    pub(super) at: usize,
    ask: Ask<'a>,
    /// The work that its next step may take, and the most that it may do.
    pub(super) least: u32,
    pub(super) most: u32,
    /// Further tickets.
    pub(super) more: Vec<(Current, Ask<'a>)>,
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
        let most = (self.budget.whole() / LEAST_SHARE).clamp(1, DESKS as u32);
        let open = (self.budget.spare() / SHARE_OF_A_NEW_ONE).clamp(1, most) as usize;
        let mut ready = Vec::new();
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
                Turn::Work(ask) => ready.push((at, ask)),
                Turn::Over => {
                    is_over = true;
                    break;
                }
            }
        }
        let count = ready.len();
        let mut tasks = self.affordable(ground, ready);
        if tasks.is_empty() {
            return !is_over && before != (self.budget.spent(), self.line.len());
        }
        // While tickets at desks wait, none from the line go before them.
        let passed = if tasks.len() == count {
            self.add_more(ground, &mut tasks, ask)
        } else {
            Vec::new()
        };
        let left = self.work(threads, ground, tasks);
        self.put_back([passed, left].concat());
        true
    }

    /// The number of the ticket at a desk; the largest where there is none.
    fn number(&self, at: usize) -> u64 {
        let current = self.desks[at].current.as_ref();
        current.map_or(u64::MAX, |current| current.number)
    }

    /// Gets the ticket of a desk, or the next one in line, ready.
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
                self.desks[at].current = Some(self.begins(ticket));
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
            let (from, goal, down) = match &current.stage {
                Stage::Searches {
                    from, goal, down, ..
                } => (from, goal, *down),
                Stage::Seeks(seeking) => (&seeking.from, &seeking.goal, None),
                Stage::Begins | Stage::Waits => return self.begin(ground, (at, ticket), wanted),
            };
            let strayed_m = from.distance(wanted.from);
            let goes_on = *goal == wanted.goal
                && strayed_m <= STRAYED_CELLS * ground.cell_m()
                && down.is_none_or(|down| self.fields.uses(down.group, self.round));
            if goes_on {
                return self.go_on(at, wanted);
            }
            // It wants to go elsewhere, has been moved, or its field is no longer kept.
            current.stage = Stage::Begins;
        }
    }

    /// A ticket that comes to a desk. It costs its side something at once, so that sides take turns.
    pub(super) fn begins(&mut self, ticket: RouteRequest) -> Current {
        self.served += 1;
        self.line.charge(ticket.side, COST_OF_A_ROUTE);
        Current::begins(ticket, self.served)
    }

    /// Gets a ticket ready for which nothing has been done, or that waits.
    fn begin<'a>(
        &mut self,
        ground: &Ground,
        (at, ticket): (usize, RouteRequest),
        ask: Ask<'a>,
    ) -> Turn<'a> {
        let before = self.budget.spent();
        let by_field = self.serve_from_field(ground, ticket, &ask);
        self.line.charge(ticket.side, self.budget.spent() - before);
        let stage = match by_field {
            Served::UnderWay => return Turn::Over,
            Served::ByField(down) => Stage::Searches {
                from: ask.from,
                goal: ask.goal.clone(),
                down: Some(down),
                allowed: Vec::new(),
            },
            Served::NotHere => {
                let mut others = self.desks.iter().enumerate();
                let is_awaited = others.any(|(other, desk)| {
                    let current = desk.current.as_ref().filter(|_| other != at);
                    current.is_some_and(|current| current.may_serve(&ask, ground.cell_m()))
                });
                let current = self.desks[at].current.as_ref();
                if is_awaited && current.is_some_and(Current::waits) {
                    return Turn::Idle;
                }
                Stage::Seeks(Seeking::begins(&ask, is_awaited))
            }
        };
        if let Some(current) = &mut self.desks[at].current {
            current.stage = stage;
        }
        Turn::Work(ask)
    }

    /// Lets a ticket go on for which something has been done.
    fn go_on<'a>(&mut self, at: usize, ask: Ask<'a>) -> Turn<'a> {
        let number = self.number(at);
        let wanted = self.desks[at].current.as_ref().and_then(Current::wants);
        let Some(track) = wanted.map(|wants| wants.track) else {
            return Turn::Work(ask);
        };
        // Of two that want parts of a track the earlier one gets them first: they may be the same.
        let is_later = self.served().any(|other| {
            let same = other.wants().is_some_and(|wants| wants.track == track);
            same && other.number < number
        });
        if is_later {
            return Turn::Idle;
        }
        if let Some(Current {
            stage: Stage::Seeks(seeking),
            ..
        }) = &mut self.desks[at].current
        {
            self.tracks.leave_out_known(&mut seeking.wants);
            if let Some(wants) = &mut seeking.wants {
                wants.cut_to(self.budget.spare());
            }
        }
        Turn::Work(ask)
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

    /// What desks are to do: those for whose next step the budget suffices, whatever it may take. All may do about as much; the
    /// earlier ones go first, where it does not suffice for all.
    fn affordable<'a>(&self, ground: &Ground, ready: Vec<(usize, Ask<'a>)>) -> Vec<Task<'a>> {
        let mut tasks: Vec<Task<'a>> = Vec::new();
        let mut reserved = 0;
        let count = (self.budget.spare() / SHARE_A_TURN).max(1);
        for (at, ask) in ready.into_iter().take(count as usize) {
            let Some(current) = &self.desks[at].current else {
                continue;
            };
            let least = current.need(ground, &ask).whole();
            let fits = if tasks.is_empty() {
                self.budget.allows(least)
            } else {
                reserved + least <= self.budget.spare()
            };
            if fits {
                reserved += least;
                let (most, more) = (least, Vec::new());
                tasks.push(Task {
                    at,
                    ask,
                    least,
                    most,
                    more,
                });
            }
        }
        let spare = self.budget.spare().saturating_sub(reserved);
        let share = spare / tasks.len().max(1) as u32;
        for task in &mut tasks {
            let most = (task.least + share).min(BATCH.max(task.least));
            task.most = most.min(self.budget.left());
        }
        tasks
    }

    /// Lets desks do what they are to do, and takes in what they have done. Returns the tickets for which nothing was done, each with
    /// its number.
    fn work(
        &mut self,
        threads: &Threads,
        ground: &Ground,
        tasks: Vec<Task<'_>>,
    ) -> Vec<(u64, RouteRequest)> {
        let mut desks: Vec<_> = self.desks.iter_mut().map(Some).collect();
        let mut jobs: Vec<Job<'_, '_>> = Vec::new();
        for task in tasks {
            if let Some(desk) = desks[task.at].take() {
                jobs.push(Job::new(desk, (task.ask, task.more), task.most));
            }
        }
        let shared = Shared {
            ground,
            fields: &self.fields,
            tracks: &self.tracks,
            toolbox: &self.toolbox,
            // Even the smallest budget serves one.
            cost: COST_OF_A_ROUTE.min(self.budget.whole()),
        };
        threads.step_each(&mut jobs, SLICE, Job::left, |job| job.step(&shared));
        let mut done: Vec<Done> = jobs.into_iter().map(Job::done).collect();
        for done in &mut done {
            let notes = done.reports.iter().map(|report| &report.note);
            notes.for_each(|note| self.tracks.note_attempt(note, self.round));
        }
        for done in &mut done {
            self.tracks.add_parts(core::mem::take(&mut done.parts));
        }
        self.tracks.make_room();
        let mut left = Vec::new();
        for done in done {
            left.extend(done.left);
            let reports = done.reports.into_iter();
            reports.for_each(|report| self.take_in(report));
        }
        left
    }

    /// Takes in what was done for a ticket, and keeps what was found for others.
    fn take_in(&mut self, report: Report) {
        self.budget.charge(report.work);
        self.line.charge(report.ticket.side, report.work);
        if let Some(known) = report.field {
            self.fields.note_legs(known, &report.legs);
        }
        let Some(found) = report.found else {
            return;
        };
        if let (Some(group), None) = (report.ticket.group, report.field) {
            self.tries.note(group, report.spent, self.round);
        }
        if let Some(track) = report.track {
            self.tracks.keep(track, self.round);
        }
        let latest = report.spent.max(report.work);
        self.typical = match self.typical {
            0 => latest,
            known => known - known / WEIGHT + latest / WEIGHT,
        }
        .max(1);
        self.found.push_back((report.ticket.who, found));
    }
}
