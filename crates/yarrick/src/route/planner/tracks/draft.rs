//! The route of a body along a track.
//!
//! ```text
//!   s                      Straight to the first corner c, if it is in sight. Otherwise straight to a point P on the leg that
//!     '-.                  leads to c: half the way along it, a quarter, and so on, the first in sight. Otherwise from cell
//!   o----P-------- c       to cell, pulled straight. The same at the end.
//! ```

use super::course::{Corner, Course, bend};
use super::lead::{Ends, Lead};
use crate::geom::Vec2;
use crate::ground::{GroundView, LinkId, Sight};
use crate::route::planner::request::Ask;
use crate::route::work::LOOKED_A_CELL;
use crate::route::{Route, smooth};

/// Maximum work to pull a route straight, in settled cells.
const MOST_WORK: u32 = 1200;

/// Fractions of a leg at which points on it are tried, the farthest first.
const PARTS: [f32; 4] = [0.5, 0.25, 0.125, 0.0625];

/// The route of a body along a track, and the work in settled cells. Only its beginning and end are pulled straight, since the
/// track itself is straight between its corners. `None` if that takes more work than [`MOST_WORK`].
pub(super) fn route(
    view: GroundView<'_>,
    (ask, ends, lead): (&Ask<'_>, &Ends, &Lead),
    course: &Course,
    pull: &mut smooth::Pull,
) -> (Option<Route>, u32) {
    let on_it = |corner: &&Corner| (lead.first..=lead.last).contains(&corner.at);
    let kept: Vec<Corner> = course.corners.iter().filter(on_it).copied().collect();
    let mut draft = Draft {
        view,
        ask,
        course,
        points: vec![ask.from],
        links: Vec::new(),
        looked_m: 0.0,
    };
    let [Some(first), Some(last)] = [kept.first(), kept.last()] else {
        let is_straight = draft.add_leg(ends, lead);
        if !is_straight {
            let mut cells = lead.onto.clone();
            cells.extend_from_slice(&course.cells[lead.first + 1..=lead.last.max(lead.first)]);
            cells.extend(lead.off.iter().rev().skip(1));
            draft.points.extend(ends.start.via);
            draft.add_turns(&cells);
            draft.points.extend(ends.goal.via);
            draft.points.push(ends.to);
        }
        let end = draft.points.len() - 1;
        let straight = if is_straight { (0, end) } else { (end, 0) };
        return draft.pulled(straight, pull);
    };
    let is_straight = draft.add_head(ends, lead, first);
    let at_first = draft.points.len() - 1;
    for corner in kept.iter().skip(1) {
        let at = draft.points.len() as u32;
        draft.links.extend(corner.link.map(|link| (at, link)));
        draft.points.push(corner.point);
    }
    let at_last = draft.points.len() - 1;
    let ends_straight = draft.add_tail(ends, lead, last);
    // Where the route turns to the same side as the track, the obstacle inside the turn blocks every shorter way.
    let head = if is_straight && draft.bends_at(at_first, first) {
        at_first
    } else {
        at_first + 1
    };
    let tail = if ends_straight && draft.bends_at(at_last, last) {
        at_last
    } else {
        at_last.saturating_sub(1)
    };
    let from = if head == at_first { 0 } else { head };
    let to = if tail == at_last {
        draft.points.len() - 1
    } else {
        tail
    };
    draft.pulled((from, to), pull)
}

/// The corners of a route before it is pulled straight.
struct Draft<'a> {
    view: GroundView<'a>,
    ask: &'a Ask<'a>,
    course: &'a Course,
    points: Vec<Vec2>,
    /// The links used, each with the index of the corner to which it leads.
    links: Vec<(u32, LinkId)>,
    /// Total length of the lines tested, in metres.
    looked_m: f32,
}

impl Draft<'_> {
    /// Whether the straight line between two points is clear, on ground where no way can be better.
    fn goes_straight(&mut self, from: Vec2, to: Vec2) -> bool {
        if !self.ask.clearance.is_even() {
            return false;
        }
        let sight = self.view.look_along(from, to, self.ask.radius);
        self.looked_m += from.distance(match sight {
            Sight::Clear => to,
            Sight::Closed(cell) => self.view.ground().centre(cell),
            Sight::Rim => from,
        });
        sight == Sight::Clear
    }

    /// The point in sight of `eye` that is farthest along from `near`, the point of a leg nearest to it, to `far`, another point
    /// of that leg; of those at [`PARTS`].
    fn meets(&mut self, eye: Vec2, (near, far): (Vec2, Vec2)) -> Option<Vec2> {
        let points = PARTS.map(|part| near.lerp(far, part));
        points
            .into_iter()
            .find(|point| self.goes_straight(eye, *point))
    }

    /// Adds the way that joins and leaves the same leg by straight lines, if both are clear.
    fn add_leg(&mut self, ends: &Ends, lead: &Lead) -> bool {
        let (before, after) = (self.course.before(lead.first), self.course.after(lead.last));
        let (Some(before), Some(after)) = (before, after) else {
            return false;
        };
        let [onto, off] = [self.ask.from, ends.to].map(|eye| nearest_on(before, after, eye));
        let middle = onto.midpoint(off);
        if (off - onto).dot(after - before) <= 0.0 {
            return false;
        }
        let met = self.meets(self.ask.from, (onto, middle));
        let left = met.and_then(|_| self.meets(ends.to, (off, middle)));
        self.points.extend(met.filter(|_| left.is_some()));
        self.points.extend(left);
        self.points.extend(left.map(|_| ends.to));
        left.is_some()
    }

    /// Adds the way to the first corner of the track. Returns whether its legs need no pulling.
    fn add_head(&mut self, ends: &Ends, lead: &Lead, first: &Corner) -> bool {
        let from = self.ask.from;
        if self.goes_straight(from, first.point) {
            self.points.push(first.point);
            return true;
        }
        let before = self
            .course
            .before(first.at)
            .filter(|_| first.link.is_none());
        let leg = before.map(|before| (nearest_on(before, first.point, from), first.point));
        if let Some(met) = leg.and_then(|leg| self.meets(from, leg)) {
            self.points.extend([met, first.point]);
            return true;
        }
        let mut head = lead.onto.clone();
        head.extend_from_slice(&self.course.cells[lead.first + 1..=first.at.max(lead.first)]);
        self.points.extend(ends.start.via);
        self.add_turns(&head);
        false
    }

    /// Adds the way from the last corner, which has been added, to the goal. Returns whether its legs need no pulling.
    fn add_tail(&mut self, ends: &Ends, lead: &Lead, last: &Corner) -> bool {
        let to = ends.to;
        if self.goes_straight(last.point, to) {
            self.points.push(to);
            return true;
        }
        let after = self.course.after(last.at);
        let leg = after.map(|after| (nearest_on(last.point, after, to), last.point));
        if let Some(left) = leg.and_then(|leg| self.meets(to, leg)) {
            self.points.extend([left, to]);
            return true;
        }
        let mut tail = self.course.cells[last.at..=lead.last].to_vec();
        tail.extend(lead.off.iter().rev().skip(1));
        self.points.pop();
        self.add_turns(&tail);
        self.points.extend(ends.goal.via);
        self.points.push(to);
        false
    }

    /// Whether the route turns at a corner to the same side as the track.
    fn bends_at(&self, number: usize, corner: &Corner) -> bool {
        let around = [number - 1, number + 1].map(|at| self.points.get(at));
        let [Some(before), Some(after)] = around else {
            return false;
        };
        corner.bend * bend(*before, corner.point, *after) > 0.0
    }

    /// Adds the centres of the first and last of some cells, and of those where the direction changes.
    fn add_turns(&mut self, cells: &[u32]) {
        let step = |k: usize| cells[k + 1].wrapping_sub(cells[k]);
        let is_turn = |k: &usize| *k == 0 || k + 1 == cells.len() || step(k - 1) != step(*k);
        let turns = (0..cells.len()).filter(is_turn);
        let (ground, clearance) = (self.view.ground(), self.ask.clearance);
        let middles = turns.map(|k| ground.centre(clearance.cell(cells[k] as usize)));
        self.points.extend(middles);
    }

    /// The route, and the work. Between the two corners given by index nothing is pulled, if the second is the later one.
    fn pulled(self, straight: (usize, usize), pull: &mut smooth::Pull) -> (Option<Route>, u32) {
        let looked = (self.looked_m / self.view.ground().cell_m()) as u32;
        let mut work = looked / LOOKED_A_CELL;
        let route = self.pull(straight, pull, &mut work);
        (route, work)
    }

    fn pull(
        &self,
        (first, last): (usize, usize),
        pull: &mut smooth::Pull,
        work: &mut u32,
    ) -> Option<Route> {
        let mut route = Route {
            points: Vec::new(),
            ..Route::standing(self.ask.from, 0.0)
        };
        let (clearance, radius) = (self.ask.clearance, self.ask.radius);
        let end = self.points.len() - 1;
        let parts = if first < last {
            vec![(0, first, true), (first, last, false), (last, end, true)]
        } else {
            vec![(0, end, true)]
        };
        for (from, to, bends) in parts {
            let inside = |(at, link): &(u32, LinkId)| {
                let at = (*at as usize).checked_sub(from)?;
                (at > 0 && at <= to - from).then_some((at as u32, *link))
            };
            let links: Vec<_> = self.links.iter().filter_map(inside).collect();
            let points = &self.points[from..=to];
            // A single leg is straight.
            if bends && points.len() > 2 {
                pull.begin_at_points(self.view, clearance, (points, &links));
                let is_done = pull.advance(
                    self.view,
                    clearance,
                    radius,
                    MOST_WORK - (*work).min(MOST_WORK),
                );
                *work += pull.work();
                if !is_done {
                    return None;
                }
                route.append(pull.points(), pull.links());
            } else {
                route.append(points, &links);
            }
        }
        route.settled = *work;
        route.measure(self.view, clearance);
        Some(route)
    }
}

/// The point of a leg that is nearest to another.
fn nearest_on(from: Vec2, to: Vec2, point: Vec2) -> Vec2 {
    let along = to - from;
    let part = (point - from).dot(along) / along.length_squared().max(f32::MIN_POSITIVE);
    from.lerp(to, part.clamp(0.0, 1.0))
}
