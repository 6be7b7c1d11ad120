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
use crate::route::work::{LOOK, LOOKED_A_CELL, READ_A_CELL};

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

/// What was done to find anchors: the number of entries read, and of cells on tested lines, with [`LOOK`] for each line.
#[derive(Default)]
struct Looked {
    read: u32,
    looked: u32,
}

impl Looked {
    /// In settled cells.
    fn work(&self) -> u32 {
        self.read.div_ceil(READ_A_CELL) + self.looked.div_ceil(LOOKED_A_CELL)
    }

    /// Whether one more line can be tested within an amount of work. The first one always can, if there is any.
    fn has_time_for(&self, look: u32, most: u32) -> bool {
        let after = Looked {
            looked: self.looked + look,
            ..*self
        };
        most > 0 && (self.work() == 0 || after.work() <= most)
    }
}

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

    /// The anchor of an entry, and the link that leads there if one does; `None` at a goal. [`GoalField::look_down`] must be done
    /// for the entry, or for one on the way to it.
    pub(in crate::route) fn next_corner(
        &self,
        clearance: &ClearanceMap,
        node: u32,
    ) -> Option<(u32, Option<LinkId>)> {
        let link = match self.next(clearance, node as usize)? {
            Next::Link(_, link) => Some(link),
            Next::Step(_) => None,
        };
        let anchor = self.anchors.get(node as usize).copied()?;
        (anchor != UNKNOWN).then_some((anchor, link))
    }

    /// Whether less is left from an entry than from another.
    pub(in crate::route) fn is_nearer(&self, node: u32, than: u32) -> bool {
        let left = |node: u32| self.left.get(node as usize).copied().unwrap_or(FAR);
        left(node) < left(than)
    }

    /// Forgets the anchors: for a body that is wider than those for which they were found.
    pub(in crate::route) fn forget_anchors(&mut self) {
        self.anchors.clear();
        self.looks_from = None;
    }

    /// Finds the anchors of an entry and of all on the way from there to a goal, for about `most` work. What is left from the entry
    /// must be known. Returns the work, and whether it is done: otherwise it goes on where it was left off, if the next call is for
    /// the same entry.
    pub(in crate::route) fn look_down(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        (node, most): (u32, u32),
    ) -> (u32, bool) {
        if self.anchors.is_empty() {
            self.anchors.resize(self.left.len(), UNKNOWN);
        }
        if self.looks_from != Some(node) {
            self.looks_from = Some(node);
            self.way.clear();
            self.way.push(node);
        }
        let mut done = Looked::default();
        loop {
            let goes_on = self.read_down(clearance, most, &mut done)
                && self.look_back((view, clearance), radius, most, &mut done);
            if !goes_on {
                return (done.work(), false);
            }
            self.way.clear();
            // Where a link leads to may be unknown.
            let Some(next) = self.first_unknown(clearance, node, &mut done) else {
                self.looks_from = None;
                return (done.work(), true);
            };
            self.way.push(next);
        }
    }

    /// Reads the way on, to the first entry of which the anchor is known. Returns whether it came to it.
    fn read_down(&mut self, clearance: &ClearanceMap, most: u32, done: &mut Looked) -> bool {
        while let Some(at) = self.way.last().map(|at| *at as usize)
            && self.anchors[at] == UNKNOWN
        {
            if done.work() >= most {
                return false;
            }
            done.read += 1;
            match self.next(clearance, at) {
                Some(Next::Step(next)) => self.way.push(next as u32),
                // What heads for a link walks up to it.
                Some(Next::Link(to, _)) => self.anchors[at] = to as u32,
                None => self.anchors[at] = at as u32,
            }
        }
        true
    }

    /// Finds the anchors of the way read, the last one first. Returns whether all are known.
    fn look_back(
        &mut self,
        (view, clearance): (GroundView<'_>, &ClearanceMap),
        radius: f32,
        most: u32,
        done: &mut Looked,
    ) -> bool {
        while let [.., at, next] = self.way[..] {
            let (at, next) = (at as usize, next as usize);
            let far = self.anchors[next] as usize;
            let [a, b] = [at, far].map(|node| clearance.cell(node));
            let look = LOOK + a.x.abs_diff(b.x).max(a.y.abs_diff(b.y));
            if !done.has_time_for(look, most) {
                return false;
            }
            done.looked += look;
            self.way.pop();
            let links = matches!(self.next(clearance, next), Some(Next::Link(..)));
            let looks = !links && far != next;
            let is_straight = looks && self.can_skip(view, clearance, radius, (at, far));
            self.anchors[at] = if is_straight { far } else { next } as u32;
        }
        true
    }

    /// The first entry on the way from one, from anchor to anchor, whose own anchor is not known.
    fn first_unknown(&self, clearance: &ClearanceMap, node: u32, done: &mut Looked) -> Option<u32> {
        let mut at = node;
        while !clearance.hops().is_empty() {
            done.read += 1;
            match self.anchors[at as usize] {
                UNKNOWN => return Some(at),
                anchor if anchor == at => return None,
                anchor => at = anchor,
            }
        }
        None
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
        // What is left is the least over all steps, so the first step that leaves as much is one of the best.
        let leads_on = |step: usize| {
            let next = node.wrapping_add_signed(offsets[step]);
            let cost = price(self.even, clearance, tiling, step, node, next);
            let is_best = self.left[next].checked_add(cost) == Some(self.left[node]);
            is_best.then_some(Next::Step(next))
        };
        let mut all = (0..8).filter(|step| steps >> step & 1 == 1);
        if let Some(next) = all.find_map(leads_on) {
            return Some(next);
        }
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
        self.look_down(view, clearance, radius, (node as u32, u32::MAX));
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
        (from, to): (usize, usize),
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
