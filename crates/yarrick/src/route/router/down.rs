//! Routes down a goal field, which need no search but for the last steps.

use super::start::Start;
use super::{Method, Quest, Router};
use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap, Ground, GroundView};
use crate::route::descent::{Rest, Slope};
use crate::route::goal::{Ends, Goal};
use crate::route::{NoRoute, Route, smooth};

/// Maximum work of the search from the goal of the field to a point near it, in settled cells. Beyond that, the body had better search
/// on its own.
const LAST_STEPS: u32 = 2_000;

/// How often the last leg is halved to find where it can turn off.
const HALVINGS: u32 = 7;

/// What came of beginning a route.
pub(in crate::route) enum Begun {
    /// The result, which needs no search.
    Found(Result<Route, NoRoute>),
    /// [`Router::advance_down`] goes on, or [`Router::advance`] where there is no field.
    UnderWay,
    /// The field is of no use.
    NotHere,
}

impl Router {
    /// Begins a route down a field to its goal, and from there to a point near it. The field must know the cell of the start.
    pub(in crate::route) fn begin_down(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        radius: f32,
        (from, goal, to): (Vec2, Cell, Vec2),
    ) -> Begun {
        let view = ground.view(clearance.gait());
        self.forget();
        let rest = self.last_steps(ground, clearance, radius, (ground.centre(goal), to));
        let work = self.work();
        self.forget();
        self.aside = work;
        let start = Start::new(view, clearance, radius, from).ok();
        let first = start.and_then(|start| clearance.node(start.footing.cell));
        let (Some(rest), Some(start), Some(first), Some(end)) =
            (rest, start, first, ground.cell_at(to))
        else {
            return Begun::NotHere;
        };
        let quest = Quest {
            start,
            goal: Goal::Point(to),
            ends: Ends::at_point(end, to),
            radius,
            short: None,
        };
        let pulled = quest.pulled_to(to);
        if smooth::straight_is_best(view, clearance, &pulled) {
            self.pull.take_straight(&pulled);
            return Begun::Found(Ok(self.route((view, clearance), quest, 0)));
        }
        let corners = [start.from].into_iter().chain(start.footing.via);
        let corners = corners.chain([ground.centre(start.footing.cell)]);
        self.descent.begin(corners, first as u32, rest);
        self.by = Some(Method::Down);
        self.quest = Some(quest);
        Begun::UnderWay
    }

    /// The way from the goal of a field to a point near it; `None` if that is out of reach, or not near.
    fn last_steps(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        radius: f32,
        (goal, to): (Vec2, Vec2),
    ) -> Option<Rest> {
        let view = ground.view(clearance.gait());
        if view.line_is_clear(goal, to, radius) {
            return Some(Rest {
                corners: vec![to],
                links: Vec::new(),
            });
        }
        let end = Goal::Point(to);
        if Router::most_to_begin(ground, clearance, (goal, &end)) > 0 {
            return None;
        }
        let found = self
            .begin(ground, clearance, radius, goal, &end)
            .or_else(|| self.advance(ground, clearance, LAST_STEPS));
        let route = found?.ok().filter(|route| route.short.is_none())?;
        let links = route.links.iter().map(|(at, link)| (at - 1, *link));
        Some(Rest {
            links: links.collect(),
            corners: route.points[1..].to_vec(),
        })
    }

    /// Continues a route down a field, for about `most` more work. `None` where it is not done yet.
    pub(in crate::route) fn advance_down(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        slope: Slope<'_>,
        most: u32,
    ) -> Option<Result<Route, NoRoute>> {
        let before = self.work();
        if !self.descent.advance(slope, (ground, clearance), most) {
            return None;
        }
        let view = ground.view(clearance.gait());
        if !self.pulls {
            let radius = self.quest.as_ref()?.radius;
            if let Some(corners) = self.descent.turn_at_goal() {
                turn_off_early((view, clearance), radius, corners);
            }
            self.pull
                .begin_at_points(view, clearance, self.descent.way());
            self.pull.note_farthest(self.descent.pulled());
            self.pulls = true;
        }
        let left = most.saturating_sub(self.work() - before);
        self.advance(ground, clearance, left)
    }

    /// The legs of the route found last, if it leads down a field, that others can share: from one entry to another each.
    pub(in crate::route) fn legs(&self) -> Vec<(u32, u32)> {
        match self.by {
            Some(Method::Down) => self.descent.legs(self.pull.kept()),
            _ => Vec::new(),
        }
    }

    /// The work that [`Router::begin_down`] may do, in settled cells.
    pub(in crate::route) fn most_to_begin_down(clearance: &ClearanceMap) -> u32 {
        LAST_STEPS + Router::least_step(clearance)
    }
}

/// Lets a way that comes to the goal of a field and from there straight to its end turn off before it, as early as that can be
/// seen, if that is shorter in time: nobody walks up to the flag to come back.
fn turn_off_early(
    (view, clearance): (GroundView<'_>, &ClearanceMap),
    radius: f32,
    corners: &mut [Vec2],
) {
    let [.., start, turn, to] = corners else {
        return;
    };
    let (start, end, to) = (*start, *turn, *to);
    let (mut hidden, mut seen) = (0.0_f32, 1.0_f32);
    for _ in 0..HALVINGS {
        let middle = (hidden + seen) * 0.5;
        if view.line_is_clear(start.lerp(end, middle), to, radius) {
            seen = middle;
        } else {
            hidden = middle;
        }
    }
    let metres = |via: Vec2| smooth::plain_metres((view, clearance), &[start, via, to], &[]);
    let earlier = start.lerp(end, seen);
    if metres(earlier) < metres(end) {
        *turn = earlier;
    }
}
