//! Pulling a path straight: corners that can be walked past are left out.
//!
//! From each corner kept, the farthest later one in clear sight is taken next, as a string
//! pulled tight would. On ground of several speeds a short cut is taken only if it costs no
//! more than the cells that it leaves out, so that the way round the mud is kept.

use super::line::line_cost;
use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap, GroundView, LinkId};

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

/// The cells of a path, and the links among them: the number of the cell to which each leads.
#[derive(Clone, Copy)]
pub(super) struct Way<'a> {
    pub(super) cells: &'a [Cell],
    pub(super) links: &'a [(u32, LinkId)],
}

/// The pulling, and the workspace that it reuses.
#[derive(Clone, Debug, Default)]
pub(super) struct Pull {
    corners: Vec<Corner>,
    points: Vec<Vec2>,
    links: Vec<(u32, LinkId)>,
}

#[derive(Clone, Copy, Debug)]
struct Corner {
    point: Vec2,
    /// The cost of the way from the start up to here, in metres times slowness.
    cost: f32,
    /// The link that leads here.
    link: Option<LinkId>,
}

impl Corner {
    fn new(point: Vec2, cost: f32) -> Corner {
        Corner {
            point,
            cost,
            link: None,
        }
    }
}

impl Pull {
    /// The path pulled last.
    pub(super) fn points(&self) -> &[Vec2] {
        &self.points
    }

    /// The links of that path, each with the number of the point to which it leads.
    pub(super) fn links(&self) -> &[(u32, LinkId)] {
        &self.links
    }

    /// A path of one straight line.
    pub(super) fn take_straight(&mut self, ends: &Ends) {
        self.links.clear();
        self.points.clear();
        self.points.extend([ends.from, ends.to]);
    }

    /// Pulls the path through the middles of cells straight, or leaves it as it is. Its ends lie in the
    /// first and the last cell, or in clear sight of their middles.
    pub(super) fn pull(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        ends: &Ends,
        way: Way<'_>,
        straight: bool,
    ) {
        self.find_corners(view, ends, way);
        self.pull_corners(view, clearance, ends.radius, straight);
    }

    /// The same for a path that is given as its corners, of which some are led to by links.
    pub(super) fn pull_points(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        points: &[Vec2],
        links: &[(u32, LinkId)],
    ) {
        let mut links = links.iter().copied().peekable();
        let mut cost = 0.0;
        self.corners.clear();
        for (k, &point) in points.iter().enumerate() {
            let link = links.next_if(|(at, _)| *at as usize == k);
            let link = link.map(|(_, link)| link);
            cost += match (link, k.checked_sub(1)) {
                (Some(link), _) => view.ground().links()[usize::from(link.0)].cost_m * PLAIN,
                (None, Some(before)) => line_cost(view, points[before], point),
                (None, None) => 0.0,
            };
            self.corners.push(Corner { point, cost, link });
        }
        self.pull_corners(view, clearance, radius, true);
    }

    fn pull_corners(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        straight: bool,
    ) {
        self.points.clear();
        self.links.clear();
        self.points
            .extend(self.corners.first().map(|corner| corner.point));
        let mut at = 0;
        while at + 1 < self.corners.len() {
            at = if straight {
                self.farthest_in_sight(view, clearance, radius, at)
            } else {
                at + 1
            };
            let corner = self.corners[at];
            if self.points.last() != Some(&corner.point) {
                self.points.push(corner.point);
            }
            if let Some(link) = corner.link {
                self.links.push((self.points.len() as u32 - 1, link));
            }
        }
        if let &[only] = &self.points[..] {
            self.points.push(only);
        }
    }

    /// The turns of the path with their costs so far, and the two ends.
    fn find_corners(&mut self, view: GroundView<'_>, ends: &Ends, way: Way<'_>) {
        let ground = view.ground();
        let slowness = |cell: Cell| f32::from(view.slowness(cell).unwrap_or(1));
        let cells = way.cells;
        let mut links = way.links.iter().copied().peekable();
        let mut cost = 0.0;
        let mut last = ends.from;
        let mut last_slowness = None;
        self.corners.clear();
        self.corners.push(Corner::new(last, cost));
        if let Some(point) = ends.via {
            cost += last.distance(point) * slowness(ground.nearest_cell(point));
            self.corners.push(Corner::new(point, cost));
            last = point;
        }
        for (k, &cell) in cells.iter().enumerate() {
            let point = ground.centre(cell);
            let here = slowness(cell);
            let link = links.next_if(|(at, _)| *at as usize == k);
            cost += match link {
                Some((_, link)) => ground.links()[usize::from(link.0)].cost_m * PLAIN,
                None => last.distance(point) * (last_slowness.unwrap_or(here) + here) * 0.5,
            };
            let leads_on = links.peek().is_some_and(|(at, _)| *at as usize == k + 1);
            let is_end = k == 0 || k + 1 == cells.len() || link.is_some() || leads_on;
            if is_end || !goes_straight_on(view, &cells[k - 1..=k + 1]) {
                let link = link.map(|(_, link)| link);
                self.corners.push(Corner { point, cost, link });
            }
            last = point;
            last_slowness = Some(here);
        }
        cost += last.distance(ends.to) * last_slowness.unwrap_or(1.0);
        self.corners.push(Corner::new(ends.to, cost));
    }

    fn farthest_in_sight(
        &self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        at: usize,
    ) -> usize {
        let here = self.corners[at];
        let mut farthest = at + 1;
        let mut missed = 0;
        if self.corners[farthest].link.is_some() {
            return farthest;
        }
        for (k, there) in self.corners.iter().enumerate().skip(at + 2) {
            if there.link.is_some() {
                break;
            }
            let clear = view.line_is_clear(here.point, there.point, radius);
            if clear && (clearance.is_even() || costs_no_more(view, here, *there)) {
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

/// Whether three cells in a row lie on one line.
fn goes_straight_on(view: GroundView<'_>, cells: &[Cell]) -> bool {
    let [a, b, c] = [cells[0], cells[1], cells[2]];
    if view.ground().lattice().is_square() {
        return c.x - b.x == b.x - a.x && c.y - b.y == b.y - a.y;
    }
    let [a, b, c] = [a, b, c].map(|cell| view.ground().centre(cell));
    ((c - b) - (b - a)).length_squared() < 1e-6 * (b - a).length_squared()
}

/// Whether the straight line is the best way beyond doubt, so that no search is needed: it is
/// clear, and goes over nothing but the fastest ground of the map. Links may be quicker.
pub(super) fn straight_is_best(
    view: GroundView<'_>,
    clearance: &ClearanceMap,
    ends: &Ends,
) -> bool {
    if !clearance.hops().is_empty() || !view.line_is_clear(ends.from, ends.to, ends.radius) {
        return false;
    }
    let least = ends.from.distance(ends.to) * f32::from(clearance.lightest());
    clearance.is_even() || line_cost(view, ends.from, ends.to) <= least * 1.0001
}

/// The slowness of plain ground.
const PLAIN: f32 = 16.0;

/// The metres of plain ground that take as long as a clear path with links.
pub(super) fn plain_metres(view: GroundView<'_>, points: &[Vec2], links: &[(u32, LinkId)]) -> f32 {
    let legs = points.windows(2).zip(1_u32..);
    let cost = |(leg, end): (&[Vec2], u32)| {
        let link = links.iter().find(|(at, _)| *at == end);
        match link {
            Some((_, link)) => view.ground().links()[usize::from(link.0)].cost_m,
            None => line_cost(view, leg[0], leg[1]) / PLAIN,
        }
    };
    legs.map(cost).sum()
}

fn costs_no_more(view: GroundView<'_>, here: Corner, there: Corner) -> bool {
    let known = there.cost - here.cost;
    line_cost(view, here.point, there.point) <= known * 1.0001 + 1e-3
}
