//! A ticket that is being served, and how far it has come.

use super::request::{Ask, COST_OF_A_ROUTE, Group, RouteRequest};
use super::shared::Down;
use super::tracks::{self, Asked, MOST_TO_EXAMINE, Wants};
use crate::geom::Vec2;
use crate::ground::Ground;
use crate::route::descent::MOST_LEGS;
use crate::route::{Goal, Router};
use serde::{Deserialize, Serialize};

/// Maximum distance between the starts, and between the goals, of two requests for the later one to wait for the search of the
/// earlier one, in cells.
const NEAR_CELLS: f32 = 64.0;

/// A search goes on if at least this much work is left, in settled cells.
const WORTHWHILE: u32 = 128;

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
    /// It is looked at whether a track leads there.
    Seeks(Seeking),
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

/// A ticket for which a track is looked for.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(super) struct Seeking {
    pub(super) from: Vec2,
    pub(super) goal: Goal,
    /// Whether it then waits for the search of another desk; otherwise it is searched for.
    pub(super) is_awaited: bool,
    pub(super) asked: Asked,
    /// Parts of fields that are computed next.
    pub(super) wants: Option<Wants>,
    /// The work that has been done for it.
    pub(super) spent: u32,
}

/// The budget that the next step for a ticket needs, in settled cells: the most that it may take, however little it is allowed.
#[derive(Clone, Copy, Debug)]
pub(super) struct Need {
    pub(super) step: u32,
    /// The same for the legs of a route down a field that is found in that step.
    pub(super) legs: u32,
}

impl Need {
    pub(super) fn whole(self) -> u32 {
        self.step + self.legs
    }
}

/// The ends of a route that is looked for.
#[derive(Clone, Copy, Debug)]
pub(super) struct Ends {
    from: Vec2,
    to: Vec2,
}

impl Ends {
    /// Whether the route may serve another request: both ends lie near those of the other.
    pub(super) fn may_serve(&self, ask: &Ask<'_>, cell_m: f32) -> bool {
        let Goal::Point(to) = ask.goal else {
            return false;
        };
        let near_m = NEAR_CELLS * cell_m;
        let is_near = |a: Vec2, b: Vec2| a.distance_squared(b) <= near_m * near_m;
        ask.clearance.chart().is_some() && is_near(self.from, ask.from) && is_near(self.to, to)
    }
}

impl Seeking {
    pub(super) fn begins(ask: &Ask<'_>, is_awaited: bool) -> Seeking {
        Seeking {
            from: ask.from,
            goal: ask.goal.clone(),
            is_awaited,
            asked: Asked::default(),
            wants: None,
            spent: 0,
        }
    }

    fn need(&self, ground: &Ground, ask: &Ask<'_>) -> Need {
        if let Some(wants) = &self.wants {
            let step = wants.most_work();
            return Need { step, legs: 0 };
        }
        let track = ask.clearance.chart().map_or(1, |_| tracks::MOST_WORK);
        if self.is_awaited {
            return Need {
                step: track,
                legs: 0,
            };
        }
        let search = need_of_search(ground, ask, None);
        let step = (search.step + MOST_TO_EXAMINE).max(track);
        Need { step, ..search }
    }
}

/// What it may take to begin a search and to do a step of it.
fn need_of_search(ground: &Ground, ask: &Ask<'_>, down: Option<Down>) -> Need {
    let begin = match down {
        Some(_) => Router::most_to_begin_down(ask.clearance),
        None => Router::most_to_begin(ground, ask.clearance, (ask.from, &ask.goal)),
    };
    let Need { step, legs } = need_to_go_on(ask, down);
    let step = step + begin + COST_OF_A_ROUTE;
    Need { step, legs }
}

/// What a step of a search may take.
fn need_to_go_on(ask: &Ask<'_>, down: Option<Down>) -> Need {
    let legs = down.map_or(0, |_| MOST_LEGS);
    let step = Router::least_step(ask.clearance).max(WORTHWHILE);
    Need { step, legs }
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

    /// The work that its next step may take.
    pub(super) fn need(&self, ground: &Ground, ask: &Ask<'_>) -> Need {
        match &self.stage {
            Stage::Begins | Stage::Waits => Need { step: 1, legs: 0 },
            Stage::Seeks(seeking) => seeking.need(ground, ask),
            Stage::Searches { down, .. } if self.is_new() => need_of_search(ground, ask, *down),
            Stage::Searches { down, .. } => need_to_go_on(ask, *down),
        }
    }

    /// The group whose field it follows.
    pub(super) fn field(&self) -> Option<Group> {
        match self.stage {
            Stage::Searches { down, .. } => down.map(|down| down.group),
            Stage::Begins | Stage::Seeks(_) | Stage::Waits => None,
        }
    }

    /// Whether its search has still to be begun.
    pub(super) fn is_new(&self) -> bool {
        matches!(&self.stage, Stage::Searches { allowed, .. } if allowed.is_empty())
    }

    /// Whether it is being searched for, or will be next.
    pub(super) fn searches(&self) -> bool {
        matches!(self.stage, Stage::Searches { .. })
    }

    /// Whether its search is under way, and needs its workspace.
    pub(super) fn is_under_way(&self) -> bool {
        matches!(&self.stage, Stage::Searches { allowed, .. } if !allowed.is_empty())
    }

    /// Whether it waits for another desk.
    pub(super) fn waits(&self) -> bool {
        matches!(self.stage, Stage::Waits)
    }

    /// Whether it will probably stay at its desk for another turn: its search is under way, or others do something for it.
    pub(super) fn may_last(&self) -> bool {
        match &self.stage {
            Stage::Seeks(seeking) => seeking.is_awaited || seeking.wants.is_some(),
            Stage::Searches { .. } => self.is_under_way(),
            Stage::Begins | Stage::Waits => true,
        }
    }

    /// The parts of fields that are computed next for it.
    pub(super) fn wants(&self) -> Option<&Wants> {
        match &self.stage {
            Stage::Seeks(seeking) => seeking.wants.as_ref(),
            _ => None,
        }
    }

    /// Whether the route that is found may serve another request, too.
    pub(super) fn may_serve(&self, ask: &Ask<'_>, cell_m: f32) -> bool {
        self.shareable(cell_m)
            .is_some_and(|ends| ends.may_serve(ask, cell_m))
    }

    /// The ends of the route that is looked for, if other requests may be able to share it: they lie far from each other.
    pub(super) fn shareable(&self, cell_m: f32) -> Option<Ends> {
        let (from, goal) = match &self.stage {
            Stage::Seeks(seeking) if !seeking.is_awaited => (seeking.from, &seeking.goal),
            Stage::Searches {
                from,
                goal,
                down: None,
                ..
            } => (*from, goal),
            _ => return None,
        };
        let &Goal::Point(to) = goal else {
            return None;
        };
        (from.distance(to) > NEAR_CELLS * cell_m).then_some(Ends { from, to })
    }

    /// Whether the values are possible: for what was read from a file.
    pub(super) fn is_consistent(&self) -> bool {
        self.wants().is_none_or(Wants::is_consistent)
    }
}
