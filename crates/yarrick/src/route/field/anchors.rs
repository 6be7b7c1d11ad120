//! Which way to go: for each cell the farthest one on the way that can be walked to straight, its
//! *anchor*.
//!
//! A cell takes over the anchor of the next cell on its way if that can be walked to straight, else
//! the next cell is its anchor. So a body heads past the corners of walls as a string pulled tight
//! does, not along the eight directions of steps. Anchors are worked out where somebody stands, and
//! remembered: each cell is looked at once.

use super::spread::{in_fifths, price};
use super::{FAR, GoalField};
use crate::geom::Vec2;
use crate::ground::steps::{ANY, Eight, Four, Six, Tiling, offsets};
use crate::ground::{Cell, ClearanceMap, Ground, GroundView, Lattice, LinkId, Patch};
use crate::route::line::line_cost;

/// Where a body is to walk that follows a field.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum NextPoint {
    /// Straight to this point, in metres.
    To(Vec2),
    /// Nowhere: it is in the cell of a goal.
    Arrived,
    /// Nowhere: no goal can be reached from where it is.
    Unreachable,
}

/// What is clear from a middle must stay so on the way, however numbers are rounded there. Far less
/// than what a body may reach into walls without touching them.
const ROUNDING_M: f32 = 1e-4;

/// No anchor is known.
const UNKNOWN: u32 = u32::MAX;

/// Where to go from a node.
enum Next {
    Step(usize),
    Link(usize, LinkId),
}

impl GoalField {
    /// The next cell on a cheapest way to the goal; `None` in a goal itself, and where none can be
    /// reached. It may be at the end of a link.
    #[must_use]
    pub fn next_cell(&self, clearance: &ClearanceMap, cell: Cell) -> Option<Cell> {
        let node = clearance.node(cell)?;
        match self.next(clearance, node)? {
            Next::Step(next) | Next::Link(next, _) => Some(clearance.cell(next)),
        }
    }

    /// The direction in which a body of `radius` metres that stands at a point is to go, as a vector of
    /// length 1: that of [`GoalField::next_point`], which see. A body that takes long steps had better
    /// walk to the point, and not past it.
    pub fn heading(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        radius: f32,
        at: Vec2,
    ) -> Option<Vec2> {
        match self.next_point(ground, clearance, radius, at) {
            NextPoint::To(point) => (point - at).try_normalize(),
            NextPoint::Arrived | NextPoint::Unreachable => None,
        }
    }

    /// The point to which a body of `radius` metres is to walk straight from where it stands: as far
    /// round the corners as it can see.
    ///
    /// Of the ways of the cells round it the one is taken that is shortest from the body itself, so
    /// that the direction does not jump from one cell to the next.
    ///
    /// Looks along a few lines; amortised, along one more for each cell that it is asked from.
    pub fn next_point(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        radius: f32,
        at: Vec2,
    ) -> NextPoint {
        let Some(own) = ground.cell_at(at) else {
            return NextPoint::Unreachable;
        };
        if clearance.node(own).is_some_and(|node| self.left[node] == 0) {
            return NextPoint::Arrived;
        }
        let view = ground.view(clearance.gait());
        let around = Patch { min: own, max: own }.grown(1);
        let near = |cell: &Cell| ground.centre(*cell).distance(at) < ground.cell_m();
        // A body between two walls may see no middle but one farther off.
        let farther = around.cells().filter(|cell| !near(cell));
        let cells = around.cells().filter(near).chain(farther);
        let mut best: Option<(f32, Vec2)> = None;
        for cell in cells {
            if best.is_some() && !near(&cell) {
                break;
            }
            let node = clearance.node(cell).filter(|node| self.left[*node] != FAR);
            let Some(node) = node else {
                continue;
            };
            let anchor = self.anchor(view, clearance, radius, node);
            let left = |node: usize| self.left[node] as f32 * self.m_per_unit(clearance);
            let middle = ground.centre(clearance.cell(node));
            let (points, left_m) = match anchor {
                Some((anchor, None)) => {
                    let anchor_at = ground.centre(clearance.cell(anchor));
                    let beyond = left(anchor);
                    let to_middle = beyond + self.line_m(view, middle, anchor_at);
                    ([anchor_at, middle], [beyond, to_middle])
                }
                _ => ([middle; 2], [left(node); 2]),
            };
            for (point, left_m) in points.into_iter().zip(left_m) {
                let way = self.line_m(view, at, point) + left_m;
                let shorter = best.is_none_or(|(known, _)| way < known);
                let stands_on_it = at.distance(point) < 1e-3 * ground.cell_m();
                if shorter && !stands_on_it && view.line_is_clear(at, point, radius - ROUNDING_M) {
                    best = Some((way, point));
                }
            }
        }
        best.map_or(NextPoint::Unreachable, |(_, point)| NextPoint::To(point))
    }

    /// The corners of the way from a cell to a goal, the middle of the cell itself left out, and the
    /// links that it takes: each with the number of the corner to which it leads. Appends them. Gives
    /// whether a goal can be reached.
    pub(crate) fn corners(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        radius: f32,
        cell: Cell,
        (corners, links): (&mut Vec<Vec2>, &mut Vec<(u32, LinkId)>),
    ) -> bool {
        let view = ground.view(clearance.gait());
        let Some(mut at) = clearance.node(cell).filter(|node| self.left[*node] != FAR) else {
            return false;
        };
        while let Some((anchor, link)) = self.anchor(view, clearance, radius, at) {
            corners.push(ground.centre(clearance.cell(anchor)));
            if let Some(link) = link {
                links.push((corners.len() as u32 - 1, link));
            }
            at = anchor;
        }
        true
    }

    /// How many cells of the way from one have not been looked at, so that its corners are not known.
    pub(crate) fn unseen(&self, clearance: &ClearanceMap, cell: Cell) -> u32 {
        let mut at = clearance.node(cell);
        let mut count = 0;
        while let Some(node) = at {
            let is_known = self
                .anchors
                .get(node)
                .is_some_and(|anchor| *anchor != UNKNOWN);
            if is_known || self.left[node] == FAR {
                break;
            }
            count += 1;
            at = match self.next(clearance, node) {
                Some(Next::Step(next) | Next::Link(next, _)) => Some(next),
                None => None,
            };
        }
        count
    }

    /// The next node on a cheapest way. Ties go to the first of the eight steps, then to links.
    fn next(&self, clearance: &ClearanceMap, node: usize) -> Option<Next> {
        match clearance.lattice() {
            Lattice::Squares => self.next_on(clearance, Eight { even: false }, node),
            Lattice::Squares4 => self.next_on(clearance, Four, node),
            Lattice::Hexes => self.next_on(clearance, Six, node),
        }
    }

    fn next_on(&self, clearance: &ClearanceMap, tiling: impl Tiling, node: usize) -> Option<Next> {
        if matches!(self.left[node], 0 | FAR) {
            return None;
        }
        let offsets = offsets(clearance.stride());
        let steps = tiling.ways_on(ANY, clearance.neighbours()[node]);
        let mut best: Option<(u32, Next)> = None;
        let mut offer = |total: u32, next: Next| {
            if best.as_ref().is_none_or(|(known, _)| total < *known) {
                best = Some((total, next));
            }
        };
        for step in (0..8).filter(|step| steps >> step & 1 == 1) {
            let next = node.wrapping_add_signed(offsets[step]);
            if self.left[next] != FAR {
                let cost = price(self.even, clearance, tiling, step, node, next);
                offer(self.left[next].saturating_add(cost), Next::Step(next));
            }
        }
        for (_, hop) in clearance.hops_from(node) {
            let next = hop.to as usize;
            if self.left[next] != FAR {
                let total = self.left[next].saturating_add(in_fifths(hop.cost));
                offer(total, Next::Link(next, LinkId(hop.link)));
            }
        }
        // A field that is not done may know no neighbour yet that leads nearer.
        let nearer = |next: &Next| match next {
            Next::Step(next) | Next::Link(next, _) => self.left[*next] < self.left[node],
        };
        best.map(|(_, next)| next).filter(nearer)
    }

    /// The node that a body in another heads for, and the link that leads there if one does.
    fn anchor(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        node: usize,
    ) -> Option<(usize, Option<LinkId>)> {
        if self.anchors.is_empty() {
            self.anchors.resize(self.left.len(), UNKNOWN);
        }
        // Down the way to the first that is known, and back.
        let mut way = Vec::new();
        let mut at = node;
        while self.anchors[at] == UNKNOWN {
            match self.next(clearance, at) {
                Some(Next::Step(next)) => {
                    way.push((at, next));
                    at = next;
                }
                // What heads for a link walks up to it.
                Some(Next::Link(to, _)) => self.anchors[at] = to as u32,
                None => self.anchors[at] = at as u32,
            }
        }
        while let Some((at, next)) = way.pop() {
            let far = self.anchors[next] as usize;
            let links = matches!(self.next(clearance, next), Some(Next::Link(..)));
            let straight = !links && far != next && self.can_skip(view, clearance, radius, at, far);
            self.anchors[at] = if straight { far } else { next } as u32;
        }
        let link = match self.next(clearance, node)? {
            Next::Link(_, link) => Some(link),
            Next::Step(_) => None,
        };
        Some((self.anchors[node] as usize, link))
    }

    /// The metres of plain ground that take as long as a straight line.
    fn line_m(&self, view: GroundView<'_>, a: Vec2, b: Vec2) -> f32 {
        if self.even {
            a.distance(b) * f32::from(self.lightest) / 16.0
        } else {
            line_cost(view, a, b) / 16.0
        }
    }

    /// Whether a body can walk straight from node to node, and that costs no more than the cells.
    fn can_skip(
        &self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        from: usize,
        to: usize,
    ) -> bool {
        let ground = view.ground();
        let [a, b] = [from, to].map(|node| ground.centre(clearance.cell(node)));
        if !view.line_is_clear(a, b, radius) {
            return false;
        }
        // Diagonal steps count a hundredth too little in fields.
        const SLACK: f32 = 1.0125;
        let known = (self.left[from] - self.left[to]) as f32 * self.m_per_unit(clearance);
        self.even || line_cost(view, a, b) <= known * 16.0 * SLACK
    }
}
