//! Pulling a path straight: corners that can be walked past are left out.
//!
//! From each corner kept, the farthest later one that is found in clear sight is taken next, as a string
//! pulled tight would. On ground of several speeds a short cut is taken only if it costs no
//! more than the cells that it leaves out, so that the way round the mud is kept.

use super::line::line_cost;
use super::scan::Scan;
use super::turns::{Corner, Ends, PLAIN, Turns, Walk, Way};
use super::work::{GLANCE, LOOK, LOOKED_A_CELL, SCANNED_A_CELL, TURN};
use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap, Glances, Ground, GroundView, LinkId, Sight};

/// Maximum number of cells between a corner and the wall that it turns round: for very wide bodies on very small cells.
const MOST_TO_WALL: i32 = 16;

/// Where a corner next to an end of a path may be cut, in cells before the point beside that end.
const CUTS_CELLS: [f32; 3] = [2.0, 1.0, 0.0];

/// The pulling, and the workspace that it reuses.
#[derive(Clone, Debug, Default)]
pub(super) struct Pull {
    corners: Vec<Corner>,
    /// The indices of the corners to which links lead.
    linked: Vec<usize>,
    points: Vec<Vec2>,
    links: Vec<(u32, LinkId)>,
    /// The indices of the corners kept.
    kept: Vec<usize>,
    turns: Turns,
    /// The index of the corner kept last.
    at: usize,
    /// The index of the last corner that may follow it: where the next link begins, or the end of the path.
    last: usize,
    /// The state of the search for the corner that follows.
    scan: Scan,
    glances: Glances,
    /// Number of cells read, with [`TURN`] for each turn, and of cells on tested lines, with [`LOOK`] or [`GLANCE`] for each line.
    scanned: u32,
    looked: u32,
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
        self.scanned / SCANNED_A_CELL + self.looked / LOOKED_A_CELL
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
        self.kept.clear();
        (self.at, self.last, self.scanned, self.looked) = (0, 0, 0, 0);
        self.scan = Scan::default();
    }

    /// Begins to pull the path through the middles of cells straight. Its ends lie in the first and the last cell, or in
    /// clear sight of their middles. First [`Pull::collect`] takes in the cells, then [`Pull::advance`] goes on.
    pub(super) fn begin(&mut self, view: GroundView<'_>, ends: &Ends) {
        self.clear();
        self.turns = Turns::begin(view, ends, &mut self.corners);
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
        let has_links = !links.is_empty();
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
            self.corners.push(Corner {
                link,
                cell: middle_at(view.ground(), point),
                ..Corner::new(point, cost)
            });
        }
        self.set_out(view, has_links);
    }

    /// Notes that some corners, given by index, are each the farthest in sight of the one before.
    pub(super) fn note_farthest(&mut self, corners: impl Iterator<Item = usize>) {
        for at in corners {
            self.corners[at].is_farthest = true;
        }
    }

    /// The indices of the corners that the path pulled last consists of, except the first.
    pub(super) fn kept(&self) -> &[usize] {
        &self.kept
    }

    fn set_out(&mut self, view: GroundView<'_>, has_links: bool) {
        if has_links {
            let linked = self.corners.iter().enumerate();
            let linked = linked.filter(|(_, corner)| corner.link.is_some());
            self.linked.extend(linked.map(|(at, _)| at));
        }
        self.points
            .extend(self.corners.first().map(|corner| corner.point));
        self.face_on(view);
    }

    /// Gets ready to look on from the corner kept last.
    fn face_on(&mut self, view: GroundView<'_>) {
        let linked = self.linked.partition_point(|at| *at <= self.at);
        let end = self.linked.get(linked).copied();
        self.last = end.unwrap_or(self.corners.len()).saturating_sub(1);
        // A closed cell beside the next corner hides the one after it: there is no need to look.
        let is_tight = |corner: &Corner| corner.wall(view, 1).is_some();
        if self.at + 2 <= self.last && self.corners.get(self.at + 1).is_some_and(is_tight) {
            self.scan.note(self.at, self.at + 2, false);
        }
    }

    /// Continues to pull the path straight, for about `most` more work. Returns whether it is done.
    pub(super) fn advance(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        most: u32,
    ) -> bool {
        let begun = self.work();
        let end = begun.saturating_add(most);
        let step = Pull::most_of_a_step(clearance);
        while self.at + 1 < self.corners.len() {
            let done = self.work();
            // The first step is always taken, if there is any budget.
            if done >= end || done > begun && done + step > end {
                return false;
            }
            if self.corners[self.at + 1].is_farthest {
                self.scanned += TURN;
                self.keep(view, self.at + 1);
            } else if let Some(next) = self.look_farther(view, clearance, radius) {
                self.keep(view, next);
            }
        }
        if let &[only] = &self.points[..] {
            self.points.push(only);
        }
        self.cut_ends(view, clearance, radius);
        true
    }

    /// Cuts the corners next to both ends. The path goes through the middles of cells, but its ends need not lie in the middle of one, so that
    /// it may lead past an end and back.
    fn cut_ends(&mut self, view: GroundView<'_>, clearance: &ClearanceMap, radius: f32) {
        let Some(last) = self.points.len().checked_sub(1).filter(|last| *last >= 2) else {
            return;
        };
        for [end, corner, beyond] in [[last, last - 1, last - 2], [0, 1, 2]] {
            // The legs must not lead over links.
            let mut linked = self.links.iter().map(|(to, _)| *to as usize);
            let is_linked = linked.any(|to| to == corner || to == end.max(beyond));
            if !is_linked {
                self.cut_end((view, clearance), radius, [end, corner, beyond]);
            }
        }
    }

    /// Cuts the corner next to one end, if the path turns back there by more than a right angle. The end, the corner and the point beyond it
    /// are given by index.
    fn cut_end(
        &mut self,
        (view, clearance): (GroundView<'_>, &ClearanceMap),
        radius: f32,
        indices: [usize; 3],
    ) {
        let [end, corner, beyond] = indices.map(|at| self.points[at]);
        let (way, leg_m) = (
            (beyond - corner).normalize_or_zero(),
            corner.distance(beyond),
        );
        let beside_m = (end - corner).dot(way);
        if beside_m <= 0.0 {
            return;
        }
        let cell_m = view.ground().cell_m();
        let costs_no_more = |cut: Vec2| {
            let over = line_cost(view, end, corner) + line_cost(view, corner, cut);
            clearance.is_even() || line_cost(view, end, cut) <= over
        };
        let metres = CUTS_CELLS.map(|cells| beside_m + cells * cell_m);
        for metres in metres.into_iter().filter(|metres| *metres < leg_m) {
            let cut = corner + way * metres;
            self.looked += LOOK + (end.distance(cut) / cell_m) as u32;
            if view.line_is_clear(end, cut, radius) && costs_no_more(cut) {
                self.points[indices[1]] = cut;
                return;
            }
        }
    }

    /// What testing one line may count as, at the most.
    pub(super) fn most_of_a_step(clearance: &ClearanceMap) -> u32 {
        let rows = clearance.weights().len() / clearance.stride();
        (LOOK + 2 * rows.max(clearance.stride()) as u32) / LOOKED_A_CELL + 1
    }

    /// Adds a corner to the path.
    fn keep(&mut self, view: GroundView<'_>, next: usize) {
        let corner = self.corners[next];
        if self.points.last() != Some(&corner.point) {
            self.points.push(corner.point);
        }
        if let Some(link) = corner.link {
            self.links.push((self.points.len() as u32 - 1, link));
        }
        self.kept.push(next);
        self.at = next;
        self.scan.begin_anew();
        self.face_on(view);
    }

    /// Tests the line from the corner kept last to one more corner. Returns the farthest corner in sight when it is known.
    fn look_farther(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
    ) -> Option<usize> {
        let Some(next) = self.scan.next(self.at, self.last) else {
            return Some(self.scan.farthest(self.at));
        };
        let (here, there) = (&self.corners[self.at], &self.corners[next]);
        let ends = (here.point, there.point);
        let told = here.cell.zip(there.cell);
        let told = told.and_then(|(from, to)| self.glances.look(view, radius, from, to));
        let is_clear = match told {
            Some(is_clear) => {
                self.looked += GLANCE;
                is_clear
            }
            None => !self.is_hidden(view, next, radius) && self.looks_clear(view, ends, radius),
        };
        let seen = is_clear && (clearance.is_even() || self.costs_no_more(view, next));
        self.scan.note(self.at, next, seen);
        None
    }

    /// Whether one of the closed cells that hide most corners hides one from the corner kept last.
    fn is_hidden(&mut self, view: GroundView<'_>, next: usize, radius: f32) -> bool {
        self.looked += LOOK;
        let (from, to) = (self.corners[self.at].point, self.corners[next].point);
        let hides = |wall: Cell| view.stands_between(wall, from, to, radius);
        // Casts saturate.
        let near = ((radius / view.ground().cell_m()).ceil() as i32).saturating_add(1);
        let wall = |at: usize| self.corners[at].wall(view, near.min(MOST_TO_WALL));
        let (first, last) = (wall(self.at + 1), wall(next - 1));
        let others = [last.filter(|_| last != first)].into_iter();
        let mut walls = others.chain(self.scan.walls).flatten();
        first.is_some_and(hides) || walls.any(|wall| Some(wall) != first && hides(wall))
    }

    /// Whether the straight line from the corner kept last to another costs no more than the path.
    fn costs_no_more(&self, view: GroundView<'_>, next: usize) -> bool {
        let (here, there) = (&self.corners[self.at], &self.corners[next]);
        let known = there.cost - here.cost;
        line_cost(view, here.point, there.point) <= known * 1.0001 + 1e-3
    }

    /// Whether a line is clear. Remembers what is in the way.
    fn looks_clear(&mut self, view: GroundView<'_>, (from, to): (Vec2, Vec2), radius: f32) -> bool {
        let sight = view.look_along(from, to, radius);
        let until = match sight {
            Sight::Clear => to,
            Sight::Closed(cell) => {
                self.scan.note_wall(cell);
                view.ground().centre(cell)
            }
            Sight::Rim => from,
        };
        self.looked += (from.distance(until) / view.ground().cell_m()) as u32;
        sight == Sight::Clear
    }

    /// Reads the cells of a way to a point, for about `most` more work. Returns whether it is done.
    pub(super) fn collect(&mut self, walk: Walk<'_>, way: (Way<'_>, Vec2), most: u32) -> bool {
        let was_done = self.turns.is_done;
        // A turn in each cell, at the most.
        let most = most.saturating_mul(SCANNED_A_CELL) / (1 + TURN);
        let before = self.corners.len();
        let read = self.turns.read(walk, way, most as usize, &mut self.corners);
        self.scanned += read as u32 + (self.corners.len() - before) as u32 * TURN;
        if self.turns.is_done && !was_done {
            self.set_out(walk.view, !way.0.links.is_empty());
        }
        self.turns.is_done
    }
}

/// The cell in whose middle a point is, if it is in one.
fn middle_at(ground: &Ground, point: Vec2) -> Option<Cell> {
    let cell = ground.cell_at(point)?;
    (ground.centre(cell) == point).then_some(cell)
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

/// The metres of plain ground that take as long as a clear path with links.
pub(super) fn plain_metres(
    (view, clearance): (GroundView<'_>, &ClearanceMap),
    points: &[Vec2],
    links: &[(u32, LinkId)],
) -> f32 {
    let slowness = f32::from(clearance.lightest());
    let legs = points.windows(2).zip(1_u32..);
    let cost = |(leg, end): (&[Vec2], u32)| match links.binary_search_by_key(&end, |(at, _)| *at) {
        Ok(at) => view.ground().links()[usize::from(links[at].1.0)].cost_m,
        Err(_) if clearance.is_even() => leg[0].distance(leg[1]) * slowness / PLAIN,
        Err(_) => line_cost(view, leg[0], leg[1]) / PLAIN,
    };
    legs.map(cost).sum()
}
