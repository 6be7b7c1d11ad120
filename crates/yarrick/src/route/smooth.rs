//! Pulling a path straight: corners that can be walked past are left out.
//!
//! From each corner kept, the farthest later one that is found in clear sight is taken next, as a string
//! pulled tight would. On ground of several speeds a short cut is taken only if it costs no
//! more than the cells that it leaves out, so that the way round the mud is kept.

use super::line::line_cost;
use super::scan::Scan;
use super::work::{LOOKED_A_CELL, WRITTEN_A_CELL};
use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap, GroundView, LinkId, Sight};

/// Cells on tested lines as which each test counts, besides those on its line.
const LOOK: u32 = 8;

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
    /// The indices of the corners to which links lead.
    linked: Vec<usize>,
    points: Vec<Vec2>,
    links: Vec<(u32, LinkId)>,
    taken: Taken,
    /// The index of the corner kept last, and the state of the look for the next.
    at: usize,
    scan: Scan,
    /// Number of cells written down, and of cells on tested lines.
    written: u32,
    looked: u32,
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

    /// The work since a path was begun, counted in cells that a search settles.
    pub(super) fn work(&self) -> u32 {
        self.written / WRITTEN_A_CELL + self.looked / LOOKED_A_CELL
    }

    /// A path of one straight line.
    pub(super) fn take_straight(&mut self, ends: &Ends) {
        self.clear();
        self.points.extend([ends.from, ends.to]);
    }

    /// Forgets the path.
    pub(super) fn clear(&mut self) {
        self.corners.clear();
        self.linked.clear();
        self.points.clear();
        self.links.clear();
        (self.at, self.written, self.looked) = (0, 0, 0);
        self.scan = Scan::default();
    }

    /// Begins to pull the path through the middles of cells straight. Its ends lie in the first and the last cell, or in
    /// clear sight of their middles. First [`Pull::collect`] takes in the cells, then [`Pull::advance`] goes on.
    pub(super) fn begin(&mut self, view: GroundView<'_>, ends: &Ends) {
        self.clear();
        self.corners.push(Corner::new(ends.from, 0.0));
        if let Some(point) = ends.via {
            let slowness = slowness(view, view.ground().nearest_cell(point));
            let cost = ends.from.distance(point) * slowness;
            self.corners.push(Corner::new(point, cost));
        }
        self.taken = Taken {
            cost: self.corners.last().map_or(0.0, |corner| corner.cost),
            ..Taken::default()
        };
    }

    /// Begins to pull straight a path given as its corners. Each link comes with the index of the corner to which it leads.
    /// [`Pull::advance`] continues.
    pub(super) fn begin_at_points(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        (points, links): (&[Vec2], &[(u32, LinkId)]),
    ) {
        self.clear();
        let mut links = links.iter().copied().peekable();
        let mut cost = 0.0;
        for (k, &point) in points.iter().enumerate() {
            let link = links.next_if(|(at, _)| *at as usize == k);
            let link = link.map(|(_, link)| link);
            cost += match (link, k.checked_sub(1)) {
                (Some(link), _) => view.ground().links()[usize::from(link.0)].cost_m * PLAIN,
                // On even ground the cost is not needed.
                (None, Some(before)) if !clearance.is_even() => {
                    line_cost(view, points[before], point)
                }
                (None, _) => 0.0,
            };
            self.corners.push(Corner { point, cost, link });
        }
        self.set_out();
    }

    fn set_out(&mut self) {
        let linked = self.corners.iter().enumerate();
        let linked = linked.filter(|(_, corner)| corner.link.is_some());
        self.linked.extend(linked.map(|(at, _)| at));
        self.points
            .extend(self.corners.first().map(|corner| corner.point));
    }

    /// Continues to pull the path straight, for about `most` more work. Returns whether it is done.
    pub(super) fn advance(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        most: u32,
    ) -> bool {
        let end = self.work().saturating_add(most);
        while self.at + 1 < self.corners.len() {
            if self.work() >= end {
                return false;
            }
            if let Some(next) = self.look_farther(view, clearance, radius) {
                self.keep(next);
            }
        }
        if let &[only] = &self.points[..] {
            self.points.push(only);
        }
        true
    }

    /// Adds a corner to the path.
    fn keep(&mut self, next: usize) {
        let corner = self.corners[next];
        if self.points.last() != Some(&corner.point) {
            self.points.push(corner.point);
        }
        if let Some(link) = corner.link {
            self.links.push((self.points.len() as u32 - 1, link));
        }
        self.at = next;
        self.scan = self.scan.anew();
    }

    /// Tests the line from the corner kept last to one more corner. Returns the farthest corner in sight when it is known.
    fn look_farther(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
    ) -> Option<usize> {
        let linked = self.linked.partition_point(|at| *at <= self.at);
        let end = self.linked.get(linked).copied();
        if end == Some(self.at + 1) {
            return end;
        }
        let last = end.unwrap_or(self.corners.len()) - 1;
        let Some(next) = self.scan.next(self.at, last) else {
            return Some(self.scan.farthest(self.at));
        };
        let (here, there) = (self.corners[self.at], self.corners[next]);
        let (from, to) = (here.point, there.point);
        let hides = |wall: &Cell| view.stands_between(*wall, from, to, radius);
        let mut until = from;
        let mut clear = false;
        if !self.scan.walls.iter().flatten().any(hides) {
            match view.look_along(from, to, radius) {
                Sight::Clear => (clear, until) = (true, to),
                Sight::Closed(cell) => {
                    self.scan.note_wall(cell);
                    until = view.ground().centre(cell);
                }
                Sight::Rim => {}
            }
        }
        self.looked += LOOK + (from.distance(until) / view.ground().cell_m()) as u32;
        let seen = clear && (clearance.is_even() || costs_no_more(view, here, there));
        self.scan.note(self.at, next, seen);
        None
    }

    /// Reads the cells, for about `most` more work: adds the turns as corners with their costs, and at last the end. Returns
    /// whether it is done.
    pub(super) fn collect(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        (ends, way): (&Ends, Way<'_>),
        most: u32,
    ) -> bool {
        if self.taken.is_done {
            return true;
        }
        let first = self.taken.cells;
        let most = most.max(1).saturating_mul(WRITTEN_A_CELL) as usize;
        let last = way.cells.len().min(first.saturating_add(most));
        self.written += (last - first) as u32;
        for k in first..last {
            if clearance.is_even() && way.links.is_empty() {
                self.take_even(view, way.cells, k);
            } else {
                self.take(view, way, k);
            }
        }
        self.taken.cells = last;
        if last == way.cells.len() {
            let from = way
                .cells
                .last()
                .map(|cell| (view.ground().centre(*cell), slowness(view, *cell)));
            let (from, slowness) = from.unwrap_or((ends.from, 1.0));
            let cost = self.taken.cost + from.distance(ends.to) * slowness;
            self.corners.push(Corner::new(ends.to, cost));
            self.taken.is_done = true;
            self.set_out();
        }
        self.taken.is_done
    }

    /// Reads a cell on even ground without links, where the cost of the path is not needed.
    fn take_even(&mut self, view: GroundView<'_>, cells: &[Cell], k: usize) {
        let is_end = k == 0 || k + 1 == cells.len();
        if is_end || !goes_straight_on(view, &cells[k - 1..=k + 1]) {
            let point = view.ground().centre(cells[k]);
            self.corners.push(Corner::new(point, 0.0));
        }
    }

    /// Reads a cell.
    fn take(&mut self, view: GroundView<'_>, way: Way<'_>, k: usize) {
        let (ground, cells) = (view.ground(), way.cells);
        let (point, here) = (ground.centre(cells[k]), slowness(view, cells[k]));
        let linked = |at: usize| {
            let found = way.links.binary_search_by_key(&(at as u32), |(at, _)| *at);
            found.ok().map(|found| way.links[found].1)
        };
        let link = linked(k);
        self.taken.cost += match (link, k.checked_sub(1)) {
            (Some(link), _) => ground.links()[usize::from(link.0)].cost_m * PLAIN,
            (None, Some(before)) => {
                let before = cells[before];
                let both = slowness(view, before) + here;
                ground.centre(before).distance(point) * both * 0.5
            }
            (None, None) => {
                let last = self.corners.last().map_or(point, |corner| corner.point);
                last.distance(point) * here
            }
        };
        let is_end = k == 0 || k + 1 == cells.len() || link.is_some() || linked(k + 1).is_some();
        if is_end || !goes_straight_on(view, &cells[k - 1..=k + 1]) {
            let cost = self.taken.cost;
            self.corners.push(Corner { point, cost, link });
        }
    }
}

/// Number of cells of a path read so far, and their cost in metres times slowness.
#[derive(Clone, Copy, Debug, Default)]
struct Taken {
    cells: usize,
    cost: f32,
    is_done: bool,
}

fn slowness(view: GroundView<'_>, cell: Cell) -> f32 {
    f32::from(view.slowness(cell).unwrap_or(1))
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
pub(super) fn plain_metres(
    (view, clearance): (GroundView<'_>, &ClearanceMap),
    points: &[Vec2],
    links: &[(u32, LinkId)],
) -> f32 {
    let slowness = f32::from(clearance.lightest());
    let legs = points.windows(2).zip(1_u32..);
    let cost = |(leg, end): (&[Vec2], u32)| {
        let link = links.iter().find(|(at, _)| *at == end);
        match link {
            Some((_, link)) => view.ground().links()[usize::from(link.0)].cost_m,
            None if clearance.is_even() => leg[0].distance(leg[1]) * slowness / PLAIN,
            None => line_cost(view, leg[0], leg[1]) / PLAIN,
        }
    };
    legs.map(cost).sum()
}

fn costs_no_more(view: GroundView<'_>, here: Corner, there: Corner) -> bool {
    let known = there.cost - here.cost;
    line_cost(view, here.point, there.point) <= known * 1.0001 + 1e-3
}
