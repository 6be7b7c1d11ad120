//! Fields that groups share: worked out by and by, kept while they are of use, at most a few.

use super::budget::{Budget, KEPT_ROUNDS};
use super::request::{Ask, COST_OF_A_ROUTE, Group};
use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap, Ground, GroundView, Patch};
use crate::route::{Goal, GoalField, Route, Router, reach, smooth, turns};
use serde::{Deserialize, Serialize};

/// The most fields that are kept.
const MOST: usize = 4;

/// How many cells a search for the last steps, from the group's point to one's own place, may settle at
/// the most before it is left off: the place had then better be searched for on its own.
const LAST_STEPS: u32 = 2_000;

/// The same with what a router may do beyond its budget.
fn last_steps(clearance: &ClearanceMap) -> u32 {
    LAST_STEPS + Router::least_step(clearance)
}

/// What came of asking for a route.
pub(super) enum Served {
    /// The route.
    Route(Route),
    /// The budget did not suffice.
    UnderWay,
    /// Fields are of no use here.
    NotHere,
}

/// The fields that are kept.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(super) struct Fields(Vec<Shared>);

#[derive(Clone, Debug, Serialize, Deserialize)]
struct Shared {
    group: Group,
    /// Worked out again from what follows.
    #[serde(skip)]
    field: GoalField,
    /// The work that it was allowed since it was begun or last begun anew.
    allowed: Vec<u32>,
    /// Where ways down the field were looked at since it changed last, for bodies of what radius: those are known and
    /// cost nothing any more.
    traced: Vec<(Cell, f32)>,
    /// The round in which it was used last.
    used: u64,
}

impl Fields {
    pub(super) fn settled(&self, group: Group) -> Option<u32> {
        let known = self.0.iter().find(|shared| shared.group == group);
        known.map(|shared| shared.field.settled_count())
    }

    pub(super) fn forget_unused(&mut self, round: u64) {
        self.0.retain(|shared| round - shared.used <= KEPT_ROUNDS);
    }

    pub(super) fn repair(&mut self, body: u16, clearance: &ClearanceMap, touched: Patch) {
        // One whose goal was closed is of no more use.
        self.0.retain_mut(|shared| {
            if shared.group.body != body || touched.is_empty() {
                return true;
            }
            // Mended, a field that was done equals one that is done anew; one that was not is begun anew.
            shared.allowed.clear();
            shared.traced.clear();
            if shared.field.is_done() {
                shared.allowed.push(u32::MAX);
            }
            shared.field.repair(clearance, touched).is_ok()
        });
    }

    /// Works all out again.
    pub(super) fn redo<'a>(
        &mut self,
        ground: &Ground,
        clearance: impl Fn(u16) -> Option<&'a ClearanceMap>,
    ) -> Result<(), &'static str> {
        for shared in &mut self.0 {
            let known =
                clearance(shared.group.body).ok_or("a field for bodies that do not exist")?;
            let field = GoalField::begin(known, &[shared.group.cell()]);
            shared.field = field.map_err(|_| "a field whose goal is closed")?;
            for most in &shared.allowed {
                shared.field.advance(known, *most);
            }
            for (cell, radius) in &shared.traced {
                let ways = (&mut Vec::new(), &mut Vec::new());
                shared.field.corners(ground, known, *radius, *cell, ways);
            }
        }
        Ok(())
    }

    /// Whether they could have come about: for what was read from a file.
    pub(super) fn is_consistent(&self, round: u64) -> bool {
        self.0.len() <= MOST && self.0.iter().all(|shared| shared.used <= round)
    }

    /// The route of one of a group, by the field of that, which is begun if `many` go there.
    pub(super) fn serve(
        &mut self,
        ground: &Ground,
        (group, many, round): (Group, bool, u64),
        budget: &mut Budget,
        ask: &Ask<'_>,
        router: &mut Router,
    ) -> Served {
        let &Goal::Point(to) = &ask.goal else {
            return Served::NotHere;
        };
        let known = self.0.iter().position(|shared| shared.group == group);
        let Some(at) = known.or_else(|| self.begin(group, many, round, ask.clearance)) else {
            return Served::NotHere;
        };
        let shared = &mut self.0[at];
        shared.used = round;
        let footing = reach::footing(ground, ask.clearance, ask.radius, ask.from);
        let Some(footing) = footing else {
            return Served::NotHere;
        };
        if !shared.field.knows(ask.clearance, footing.cell) {
            shared.allowed.push(budget.left());
            let settled = shared.field.advance(ask.clearance, budget.left());
            budget.charge(settled);
            if !shared.field.knows(ask.clearance, footing.cell) {
                return Served::UnderWay;
            }
        }
        // The way down the field is looked at where nobody went before, and the last steps may need
        // a search: none of it is begun that this round might not see the end of.
        let unseen = shared.field.unseen(ask.clearance, footing.cell);
        let most = unseen + last_steps(ask.clearance) + COST_OF_A_ROUTE;
        if !budget.allows(most) {
            return Served::UnderWay;
        }
        let mut work = COST_OF_A_ROUTE + unseen;
        let route = trace(
            &mut shared.field,
            ground,
            ask,
            (&footing, to),
            router,
            &mut work,
        );
        if unseen > 0 && shared.field.unseen(ask.clearance, footing.cell) == 0 {
            shared.traced.push((footing.cell, ask.radius));
        }
        budget.charge(work);
        route.map_or(Served::NotHere, Served::Route)
    }

    fn begin(
        &mut self,
        group: Group,
        many: bool,
        round: u64,
        clearance: &ClearanceMap,
    ) -> Option<usize> {
        if !many {
            return None;
        }
        let field = GoalField::begin(clearance, &[group.cell()]).ok()?;
        if self.0.len() >= MOST {
            let oldest = self
                .0
                .iter()
                .enumerate()
                .min_by_key(|(_, shared)| shared.used);
            let oldest = oldest.map_or(0, |(at, _)| at);
            self.0.remove(oldest);
        }
        self.0.push(Shared {
            group,
            field,
            allowed: Vec::new(),
            traced: Vec::new(),
            used: round,
        });
        Some(self.0.len() - 1)
    }
}

/// How often the leg is halved on which one turns off for one's own place.
const HALVINGS: u32 = 7;

/// Lets a way that ends at the group's point turn off for `to` as early on its last leg as that can be seen, if
/// that is shorter in time: nobody walks up to the flag to come back.
fn turn_off_early(
    (view, clearance): (GroundView<'_>, &ClearanceMap),
    radius: f32,
    points: &mut [Vec2],
    to: Vec2,
) {
    let [.., from, last] = points else {
        return;
    };
    let (start, end) = (*from, *last);
    let (mut hidden, mut seen) = (0.0_f32, 1.0_f32);
    for _ in 0..HALVINGS {
        let middle = (hidden + seen) * 0.5;
        if view.line_is_clear(start.lerp(end, middle), to, radius) {
            seen = middle;
        } else {
            hidden = middle;
        }
    }
    let turn = start.lerp(end, seen);
    let metres = |via: Vec2| smooth::plain_metres((view, clearance), &[start, via, to], &[]);
    if metres(turn) < metres(end) {
        *last = turn;
    }
}

/// The way that a field shows from where one stands, and from it to one's own place.
fn trace(
    field: &mut GoalField,
    ground: &Ground,
    ask: &Ask<'_>,
    (footing, to): (&reach::Footing, Vec2),
    router: &mut Router,
    work: &mut u32,
) -> Option<Route> {
    let (clearance, radius) = (ask.clearance, ask.radius);
    let view = ground.view(clearance.gait());
    let ends = turns::Ends {
        from: ask.from,
        via: None,
        to,
        radius,
    };
    let mut pull = smooth::Pull::default();
    if smooth::straight_is_best(view, clearance, &ends) {
        pull.take_straight(&ends);
    } else {
        let mut points = vec![ask.from];
        let mut links = Vec::new();
        points.extend(footing.via);
        points.push(ground.centre(footing.cell));
        let ways = (&mut points, &mut links);
        if !field.corners(ground, clearance, radius, footing.cell, ways) {
            return None;
        }
        let middle = *points.last()?;
        if !view.line_is_clear(middle, to, radius) {
            let goal = Goal::Point(to);
            let found = router
                .begin(ground, clearance, radius, middle, &goal)
                .or_else(|| router.advance(ground, clearance, last_steps(clearance)));
            *work += router.settled_count();
            let rest = found?.ok()?;
            let count = points.len() as u32 - 1;
            links.extend(rest.links.iter().map(|(at, link)| (at + count, *link)));
            points.extend_from_slice(&rest.points[1..rest.points.len() - 1]);
        } else if !links.iter().any(|(at, _)| *at as usize + 1 == points.len()) {
            turn_off_early((view, clearance), radius, &mut points, to);
        }
        points.push(to);
        pull.begin_at_points(view, clearance, (&points, &links));
        pull.advance(view, clearance, radius, u32::MAX);
        *work += pull.work();
    }
    let mut route = Route {
        points: pull.points().to_vec(),
        links: pull.links().to_vec(),
        ..Route::standing(ask.from, 0.0)
    };
    route.measure(view, clearance);
    Some(route)
}
