//! Desks: searches that are under way at the same time, on as many threads as there are.
//!
//! How many desks there are, and how much each does before the others have done as much, does not depend on the number of
//! threads, and none looks at what another does. So the same is found with the same work on any number of them.

use super::request::{Ask, Group, RouteRequest};
use super::shared::{Down, Fields};
use super::tracks::{Track, track_of};
use crate::geom::Vec2;
use crate::ground::Ground;
use crate::route::router::Begun;
use crate::route::{Goal, NoRoute, Route, Router};
use serde::{Deserialize, Serialize};
use std::sync::{Mutex, PoisonError};

/// Number of desks.
pub(super) const DESKS: usize = 8;

/// Maximum work of a desk, in settled cells, before all others that are busy have done as much.
pub(super) const SLICE: u32 = 4096;

/// A budget is shared by at most one desk for each such amount of work.
pub(super) const LEAST_SHARE: u32 = 8192;

/// Maximum distance between the starts, and between the goals, of two requests for the later one to wait for the search of the
/// earlier one, in cells.
const NEAR_CELLS: f32 = 64.0;

/// A place for one ticket, and the workspace of its search.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(super) struct Desk {
    pub(super) current: Option<Current>,
    /// The workspace of the search under way, which is done again from what `current` gives.
    #[serde(skip)]
    pub(super) router: Option<Router>,
}

/// Workspaces that are free. The one used last is taken first: it is still in the caches of the processor. Which one a search gets
/// makes no difference to what it finds.
#[derive(Debug, Default)]
pub(super) struct Routers(Mutex<Vec<Router>>);

impl Clone for Routers {
    fn clone(&self) -> Routers {
        Routers::default()
    }
}

impl Routers {
    fn take(&self) -> Option<Router> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).pop()
    }

    fn put_back(&self, router: Option<Router>) {
        let mut free = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        free.extend(router);
    }
}

/// The ticket that is being served.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(super) struct Current {
    pub(super) ticket: RouteRequest,
    /// Its number, among all that came to a desk.
    pub(super) number: u64,
    pub(super) stage: Stage,
}

#[derive(Clone, Debug, Serialize, Deserialize)]
pub(super) enum Stage {
    /// Nothing has been done for it.
    Begins,
    /// It waits for the search of another desk, whose route it may be able to share.
    Waits,
    /// Its search is under way, from a point to a goal, or down the field of a group; and the work that it was allowed, step by
    /// step.
    Searches {
        from: Vec2,
        goal: Goal,
        down: Option<Down>,
        allowed: Vec<u32>,
    },
}

impl Current {
    pub(super) fn begins(ticket: RouteRequest, number: u64) -> Current {
        let stage = Stage::Begins;
        Current {
            ticket,
            number,
            stage,
        }
    }

    /// Where its search begins, if it is under way.
    pub(super) fn from(&self) -> Option<Vec2> {
        match &self.stage {
            Stage::Searches { from, .. } => Some(*from),
            Stage::Begins | Stage::Waits => None,
        }
    }

    /// The group whose field it follows.
    pub(super) fn field(&self) -> Option<Group> {
        match self.stage {
            Stage::Searches { down, .. } => down.map(|down| down.group),
            Stage::Begins | Stage::Waits => None,
        }
    }

    /// Whether its search has still to be begun.
    pub(super) fn is_new(&self) -> bool {
        matches!(&self.stage, Stage::Searches { allowed, .. } if allowed.is_empty())
    }

    /// Whether what is found may serve another, too: both ends lie near those of the other, and far from each other.
    pub(super) fn may_serve(&self, ask: &Ask<'_>, cell_m: f32) -> bool {
        let Stage::Searches {
            from,
            goal,
            down: None,
            ..
        } = &self.stage
        else {
            return false;
        };
        let (Goal::Point(to), &Goal::Point(wanted)) = (goal, &ask.goal) else {
            return false;
        };
        let near_m = NEAR_CELLS * cell_m;
        let is_long = ask.clearance.chart().is_some() && from.distance(*to) > near_m;
        is_long && from.distance(ask.from) <= near_m && to.distance(wanted) <= near_m
    }
}

impl Desk {
    /// Does a search again that had been under way.
    pub(super) fn redo(
        &mut self,
        ground: &Ground,
        fields: &Fields,
        ask: &Ask<'_>,
    ) -> Result<(), &'static str> {
        let Some(Current {
            stage: Stage::Searches { allowed, .. },
            ..
        }) = &mut self.current
        else {
            return Ok(());
        };
        for most in core::mem::take(allowed) {
            if self.step(ground, fields, ask, most).1.is_some() {
                return Err("a search that is over");
            }
        }
        Ok(())
    }

    /// Continues the search, for about `most` more work. Returns the work, and the result when it is known.
    fn step(
        &mut self,
        ground: &Ground,
        fields: &Fields,
        ask: &Ask<'_>,
        most: u32,
    ) -> (u32, Option<Result<Route, NoRoute>>) {
        let Some(current) = &mut self.current else {
            return (0, None);
        };
        let Stage::Searches {
            from,
            goal,
            down,
            allowed,
        } = &mut current.stage
        else {
            return (0, None);
        };
        let slope = down.and_then(|down| fields.slope(down));
        if down.is_some() && slope.is_none() {
            // Its field is no longer kept.
            current.stage = Stage::Begins;
            return (0, None);
        }
        let is_new = allowed.is_empty();
        allowed.push(most);
        let (clearance, router) = (ask.clearance, self.router.get_or_insert_default());
        let before = if is_new { 0 } else { router.work() };
        if is_new {
            match begin(ground, router, ask, (*from, goal, *down)) {
                Begun::UnderWay => {}
                Begun::Found(found) => return (router.work(), Some(found)),
                Begun::NotHere => {
                    // The next step begins without.
                    (*down, *allowed) = (None, Vec::new());
                    return (router.work(), None);
                }
            }
        }
        let left = most.saturating_sub(router.work() - before);
        let found = match slope {
            Some(slope) => router.advance_down(ground, clearance, slope, left),
            None => router.advance(ground, clearance, left),
        };
        (router.work() - before, found)
    }
}

/// Begins a route, down a field if there is one.
fn begin(
    ground: &Ground,
    router: &mut Router,
    ask: &Ask<'_>,
    (from, goal, down): (Vec2, &Goal, Option<Down>),
) -> Begun {
    let (clearance, radius) = (ask.clearance, ask.radius);
    match (down, goal) {
        (Some(down), Goal::Point(to)) => {
            router.begin_down(ground, clearance, radius, (from, down.group.cell(), *to))
        }
        _ => {
            let found = router.begin(ground, clearance, radius, from, goal);
            found.map_or(Begun::UnderWay, Begun::Found)
        }
    }
}

/// A search that goes on for a while.
pub(super) struct Job<'desk, 'ground> {
    desk: &'desk mut Desk,
    most: u32,
    done: Done<'ground>,
}

/// What has been done at a desk.
pub(super) struct Done<'ground> {
    /// Number of the desk.
    pub(super) at: usize,
    pub(super) ask: Ask<'ground>,
    pub(super) work: u32,
    /// The result, if it is known, the work of the whole search, and the track of the route if it may serve others.
    pub(super) found: Option<Result<Route, NoRoute>>,
    pub(super) searched: u32,
    pub(super) track: Option<Track>,
    /// The legs of a route down a field that may serve others.
    pub(super) legs: Vec<(u32, u32)>,
}

impl<'desk, 'ground> Job<'desk, 'ground> {
    pub(super) fn new(
        (at, desk): (usize, &'desk mut Desk),
        ask: Ask<'ground>,
        most: u32,
    ) -> Job<'desk, 'ground> {
        let done = Done {
            at,
            ask,
            work: 0,
            found: None,
            searched: 0,
            track: None,
            legs: Vec::new(),
        };
        Job { desk, most, done }
    }

    pub(super) fn run(&mut self, ground: &Ground, fields: &Fields, routers: &Routers) {
        let done = &mut self.done;
        if self.desk.router.is_none() {
            self.desk.router = routers.take();
        }
        (done.work, done.found) = self.desk.step(ground, fields, &done.ask, self.most);
        let from = self.desk.current.as_ref().and_then(Current::from);
        let router = self.desk.router.take_if(|_| done.found.is_some());
        if let Some(router) = &router {
            if let (Some(Ok(route)), Some(from)) = (&done.found, from) {
                let found = track_of(ground, &done.ask, (from, route), router);
                done.track = found.0;
                done.work += found.1;
            }
            done.searched = router.work();
            done.legs = router.legs();
            done.work += done.legs.len() as u32;
        }
        routers.put_back(router);
        // Nothing is free, so that no round goes on for ever.
        done.work = done.work.max(1);
    }

    pub(super) fn done(self) -> Done<'ground> {
        self.done
    }
}
