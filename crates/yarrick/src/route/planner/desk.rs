//! Desks: searches that are under way at the same time, on as many threads as there are.
//!
//! How many desks there are, and how much each does before the others have done as much, does not depend on the number of
//! threads, and none looks at what another does. So the same is found with the same work on any number of them.

use super::current::{Current, Stage};
use super::request::Ask;
use super::shared::{Down, Fields};
use super::tools::Tools;
use crate::geom::Vec2;
use crate::ground::Ground;
use crate::route::router::Begun;
use crate::route::{Goal, NoRoute, Route, Router};
use serde::{Deserialize, Serialize};

/// A place for one ticket, and the workspace of its search.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(super) struct Desk {
    pub(super) current: Option<Current>,
    /// The workspace of the search under way, which is done again from what `current` gives.
    #[serde(skip)]
    pub(super) tools: Option<Tools>,
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
        let mut tools = self.tools.take().unwrap_or_default();
        for most in core::mem::take(allowed) {
            let router = &mut tools.router;
            if self.step(ground, fields, ask, (router, most)).1.is_some() {
                return Err("a search that is over");
            }
        }
        self.tools = Some(tools);
        Ok(())
    }

    /// Continues the search, for about `most` more work. Returns the work, and the result when it is known.
    pub(super) fn step(
        &mut self,
        ground: &Ground,
        fields: &Fields,
        ask: &Ask<'_>,
        (router, most): (&mut Router, u32),
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
        let clearance = ask.clearance;
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
