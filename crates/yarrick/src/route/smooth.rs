//! Pulling a path straight: corners that can be walked past are left out.
//!
//! From each corner kept, the farthest later one in clear sight is taken next, as a string
//! pulled tight would. On ground of several speeds a short cut is taken only if it costs no
//! more than the cells that it leaves out, so that the way round the mud is kept.

use crate::geom::Vec2;
use crate::ground::{Cell, Ground, Passage};

/// How many corners in a row may be out of sight before looking farther is given up.
const GIVE_UP_AFTER: usize = 8;

/// Where a path begins and ends, and how wide the body is that walks it.
pub(super) struct Ends {
    pub(super) from: Vec2,
    /// A point to walk to first.
    pub(super) via: Option<Vec2>,
    pub(super) to: Vec2,
    pub(super) radius: f32,
}

/// The pulling, and the workspace that it reuses.
#[derive(Clone, Debug, Default)]
pub(super) struct Pull {
    corners: Vec<Corner>,
    points: Vec<Vec2>,
}

#[derive(Clone, Copy, Debug)]
struct Corner {
    point: Vec2,
    /// The cost of the way from the start up to here, in metres times slowness.
    cost: f32,
}

impl Pull {
    /// The path pulled last.
    pub(super) fn points(&self) -> &[Vec2] {
        &self.points
    }

    /// A path of one straight line.
    pub(super) fn take_straight(&mut self, ends: &Ends) {
        self.points.clear();
        self.points.extend([ends.from, ends.to]);
    }

    /// Pulls the path through the middles of `cells` straight. Its ends lie in the first and
    /// the last cell, or in clear sight of their middles.
    pub(super) fn pull(&mut self, ground: &Ground, passage: &Passage, ends: &Ends, cells: &[Cell]) {
        self.find_corners(ground, ends, cells);
        self.points.clear();
        self.points.push(ends.from);
        let mut at = 0;
        while at + 1 < self.corners.len() {
            at = self.farthest_in_sight(ground, passage, ends.radius, at);
            self.points.push(self.corners[at].point);
        }
        self.points.dedup();
        if self.points.len() == 1 {
            self.points.push(ends.to);
        }
    }

    /// The turns of the path with their costs so far, and the two ends.
    fn find_corners(&mut self, ground: &Ground, ends: &Ends, cells: &[Cell]) {
        let slowness = |cell: Cell| f32::from(ground.slowness(cell).unwrap_or(1));
        let mut cost = 0.0;
        let mut last = ends.from;
        let mut last_slowness = None;
        self.corners.clear();
        self.corners.push(Corner { point: last, cost });
        if let Some(point) = ends.via {
            cost += last.distance(point) * slowness(ground.nearest_cell(point));
            self.corners.push(Corner { point, cost });
            last = point;
        }
        for (k, &cell) in cells.iter().enumerate() {
            let point = ground.centre(cell);
            let here = slowness(cell);
            cost += last.distance(point) * (last_slowness.unwrap_or(here) + here) * 0.5;
            let goes_straight_on = 0 < k
                && k + 1 < cells.len()
                && cells[k + 1].x - cell.x == cell.x - cells[k - 1].x
                && cells[k + 1].y - cell.y == cell.y - cells[k - 1].y;
            if !goes_straight_on {
                self.corners.push(Corner { point, cost });
            }
            last = point;
            last_slowness = Some(here);
        }
        cost += last.distance(ends.to) * last_slowness.unwrap_or(1.0);
        let point = ends.to;
        self.corners.push(Corner { point, cost });
    }

    fn farthest_in_sight(
        &self,
        ground: &Ground,
        passage: &Passage,
        radius: f32,
        at: usize,
    ) -> usize {
        let here = self.corners[at];
        let mut farthest = at + 1;
        let mut missed = 0;
        for (k, there) in self.corners.iter().enumerate().skip(at + 2) {
            let clear = ground.line_is_clear(here.point, there.point, radius);
            if clear && (passage.is_even() || costs_no_more(ground, here, *there)) {
                farthest = k;
                missed = 0;
            } else {
                missed += 1;
                if missed > GIVE_UP_AFTER {
                    break;
                }
            }
        }
        farthest
    }
}

/// Whether the straight line is the best way beyond doubt, so that no search is needed: it is
/// clear, and goes over nothing but the fastest ground of the map.
pub(super) fn straight_is_best(ground: &Ground, passage: &Passage, ends: &Ends) -> bool {
    if !ground.line_is_clear(ends.from, ends.to, ends.radius) {
        return false;
    }
    let least = ends.from.distance(ends.to) * f32::from(passage.lightest());
    passage.is_even() || line_cost(ground, ends.from, ends.to) <= least * 1.0001
}

/// The metres of plain ground that take as long to walk as a clear path.
pub(super) fn plain_metres(ground: &Ground, points: &[Vec2]) -> f32 {
    const PLAIN: f32 = 16.0;
    let legs = points.windows(2);
    legs.map(|leg| line_cost(ground, leg[0], leg[1]))
        .sum::<f32>()
        / PLAIN
}

fn costs_no_more(ground: &Ground, here: Corner, there: Corner) -> bool {
    let known = there.cost - here.cost;
    line_cost(ground, here.point, there.point) <= known * 1.0001 + 1e-3
}

/// The cost of a clear straight line, in metres times slowness, cell by cell from one grid line
/// to the next (Amanatides and Woo, 1987).
fn line_cost(ground: &Ground, a: Vec2, b: Vec2) -> f32 {
    let length = a.distance(b);
    let along = b - a;
    let cell_m = ground.cell_m();
    let (mut cell, last) = (ground.nearest_cell(a), ground.nearest_cell(b));
    let axis = |from: f32, step: f32, at: i32| {
        let edge = if step > 0.0 { at + 1 } else { at } as f32 * cell_m;
        if step == 0.0 {
            (f32::INFINITY, f32::INFINITY)
        } else {
            ((edge - from) / step, cell_m / step.abs())
        }
    };
    let (mut next_x, step_x) = axis(a.x, along.x, cell.x);
    let (mut next_y, step_y) = axis(a.y, along.y, cell.y);
    let mut steps_left = cell.x.abs_diff(last.x) + cell.y.abs_diff(last.y);
    let (mut cost, mut reached) = (0.0, 0.0_f32);
    loop {
        let leave = next_x.min(next_y).min(1.0).max(reached);
        let slowness = f32::from(ground.slowness(cell).unwrap_or(u8::MAX));
        let until = if steps_left == 0 { 1.0 } else { leave };
        cost += (until - reached) * length * slowness;
        reached = until;
        if steps_left == 0 {
            return cost;
        }
        steps_left -= 1;
        if next_x < next_y {
            cell.x += if along.x > 0.0 { 1 } else { -1 };
            next_x += step_x;
        } else {
            cell.y += if along.y > 0.0 { 1 } else { -1 };
            next_y += step_y;
        }
    }
}
