//! The turns of a way over cells: what is left of it before it is pulled straight.

use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap, GroundView, LinkId};
use core::ops::Range;

/// The slowness of plain ground.
pub(super) const PLAIN: f32 = 16.0;

/// Where a path begins and ends, and how wide the body is that walks it.
pub(super) struct Ends {
    pub(super) from: Vec2,
    /// A point to walk to first.
    pub(super) via: Option<Vec2>,
    pub(super) to: Vec2,
    pub(super) radius: f32,
}

/// The cells of a path, as entries, and the links among them: the number of the cell to which each leads.
#[derive(Clone, Copy)]
pub(super) struct Way<'a> {
    pub(super) nodes: &'a [u32],
    pub(super) links: &'a [(u32, LinkId)],
}

/// A corner of a path.
#[derive(Clone, Copy, Debug)]
pub(super) struct Corner {
    pub(super) point: Vec2,
    /// The cost of the way from the start up to here, in metres times slowness.
    pub(super) cost: f32,
    /// The cell in whose middle it is, if it is in one.
    pub(super) cell: Option<Cell>,
    /// The column and row by which the inside of the turn lies next to that; zero at both ends of a path.
    pub(super) inwards: (i8, i8),
    /// The link that leads here.
    pub(super) link: Option<LinkId>,
    /// Whether it is known to be the farthest in sight of the corner before.
    pub(super) is_farthest: bool,
}

impl Corner {
    pub(super) fn new(point: Vec2, cost: f32) -> Corner {
        Corner {
            point,
            cost,
            cell: None,
            inwards: (0, 0),
            link: None,
            is_farthest: false,
        }
    }

    /// The closed cell nearest to the corner on the inside of the turn, at most so many cells off. It hides most of the corners after
    /// the next one.
    pub(super) fn wall(&self, view: GroundView<'_>, near: i32) -> Option<Cell> {
        let (here, inwards) = (self.cell?, self.inwards);
        if inwards == (0, 0) {
            return None;
        }
        let at = |far: i32| {
            let (x, y) = (i32::from(inwards.0) * far, i32::from(inwards.1) * far);
            Cell::new(here.x + x, here.y + y)
        };
        (1..=near).map(at).find(|cell| view.is_closed(*cell))
    }
}

/// The map, and the body that walks on it.
#[derive(Clone, Copy)]
pub(super) struct Walk<'a> {
    pub(super) view: GroundView<'a>,
    clearance: &'a ClearanceMap,
}

/// How far a way has been read.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Turns {
    /// The number of cells, and their cost in metres times slowness.
    cells: usize,
    cost: f32,
    pub(super) is_done: bool,
}

impl Turns {
    /// Adds the corners with which a path begins.
    pub(super) fn begin(view: GroundView<'_>, ends: &Ends, corners: &mut Vec<Corner>) -> Turns {
        corners.push(Corner::new(ends.from, 0.0));
        let mut cost = 0.0;
        if let Some(point) = ends.via {
            let here = view.slowness(view.ground().nearest_cell(point));
            cost = ends.from.distance(point) * f32::from(here.unwrap_or(1));
            corners.push(Corner::new(point, cost));
        }
        Turns {
            cost,
            ..Turns::default()
        }
    }

    /// Reads at most `most` more cells: adds the turns as corners with their costs, and at last the end. Returns the number of
    /// cells that it read.
    pub(super) fn read(
        &mut self,
        walk: Walk<'_>,
        (way, to): (Way<'_>, Vec2),
        most: usize,
        corners: &mut Vec<Corner>,
    ) -> usize {
        if self.is_done {
            return 0;
        }
        let first = self.cells;
        let last = way.nodes.len().min(first.saturating_add(most));
        if walk.clearance.is_even() && way.links.is_empty() {
            walk.add_turns(way.nodes, first..last, corners);
        } else {
            for k in first..last {
                self.take(walk, way, k, corners);
            }
        }
        self.cells = last;
        if last == way.nodes.len() {
            let from = corners.last().map_or(to, |corner| corner.point);
            let end = way.nodes.last().map_or(1.0, |node| walk.slowness(*node));
            let cost = self.cost + from.distance(to) * end;
            corners.push(Corner::new(to, cost));
            self.is_done = true;
        }
        last - first
    }

    /// Reads a cell.
    fn take(&mut self, walk: Walk<'_>, way: Way<'_>, k: usize, corners: &mut Vec<Corner>) {
        let (ground, nodes) = (walk.view.ground(), way.nodes);
        let (cell, here) = (
            walk.clearance.cell(nodes[k] as usize),
            walk.slowness(nodes[k]),
        );
        let point = ground.centre(cell);
        let linked = |at: usize| {
            let found = way.links.binary_search_by_key(&(at as u32), |(at, _)| *at);
            found.ok().map(|found| way.links[found].1)
        };
        let link = linked(k);
        self.cost += match (link, k.checked_sub(1)) {
            (Some(link), _) => ground.links()[usize::from(link.0)].cost_m * PLAIN,
            (None, Some(before)) => {
                let before = nodes[before];
                let both = walk.slowness(before) + here;
                walk.point(before).distance(point) * both * 0.5
            }
            (None, None) => {
                let last = corners.last().map_or(point, |corner| corner.point);
                last.distance(point) * here
            }
        };
        if link.is_some() || linked(k + 1).is_some() {
            corners.push(Corner {
                link,
                ..walk.middle(cell, self.cost)
            });
        } else if k == 0 || k + 1 == nodes.len() {
            corners.push(walk.middle(cell, self.cost));
        } else {
            let step = |from: usize| walk.step(nodes[from], nodes[from + 1]);
            let steps = [step(k - 1), step(k)];
            if steps[0] != steps[1] {
                corners.push(walk.corner(cell, steps, self.cost));
            }
        }
    }
}

impl<'a> Walk<'a> {
    pub(super) fn new(view: GroundView<'a>, clearance: &'a ClearanceMap) -> Walk<'a> {
        Walk { view, clearance }
    }

    fn point(self, node: u32) -> Vec2 {
        let cell = self.clearance.cell(node as usize);
        self.view.ground().centre(cell)
    }

    fn slowness(self, node: u32) -> f32 {
        f32::from(self.clearance.weights()[node as usize].max(1))
    }

    /// Adds the ends and the turns among some cells of a way without links on even ground, where the cost of the path is not
    /// needed.
    fn add_turns(self, nodes: &[u32], range: Range<usize>, corners: &mut Vec<Corner>) {
        let Some(end) = nodes.len().checked_sub(1) else {
            return;
        };
        let end_at = |node: u32| self.middle(self.clearance.cell(node as usize), 0.0);
        if range.start == 0 {
            corners.push(end_at(nodes[0]));
        }
        let between = range.start.max(1)..range.end.min(end);
        if !between.is_empty() {
            self.add_turns_between(&nodes[between.start - 1..=between.end], corners);
        }
        if range.end > end && end > 0 {
            corners.push(end_at(nodes[end]));
        }
    }

    /// Adds the turns of a way over cells, ends left out.
    fn add_turns_between(self, nodes: &[u32], corners: &mut Vec<Corner>) {
        // Counted on from turn to turn, since a division for each takes long.
        let mut place = self.clearance.place(nodes[0] as usize);
        let (mut at, mut onto) = (0, self.step(nodes[0], nodes[1]));
        // Whether there is a turn is looked up for many cells at a time: there is no guessing it one by one.
        for first in (1..nodes.len() - 1).step_by(u64::BITS as usize) {
            let rest = &nodes[first - 1..];
            let threes = rest.windows(3).take(u64::BITS as usize).enumerate();
            let mut turns = threes.fold(0_u64, |turns, (bit, three)| {
                let is_turn = three[1].wrapping_sub(three[0]) != three[2].wrapping_sub(three[1]);
                turns | u64::from(is_turn) << bit
            });
            while turns != 0 {
                let k = first + turns.trailing_zeros() as usize;
                turns &= turns - 1;
                let steps = (k - at) as i32;
                place = (place.0 + onto.0 * steps, place.1 + onto.1 * steps);
                let off = self.step(nodes[k], nodes[k + 1]);
                corners.push(self.corner(self.clearance.cell_in(place), [onto, off], 0.0));
                (at, onto) = (k, off);
            }
        }
    }

    /// The corner in the middle of a cell.
    fn middle(self, cell: Cell, cost: f32) -> Corner {
        Corner {
            cell: Some(cell),
            ..Corner::new(self.view.ground().centre(cell), cost)
        }
    }

    /// The corner where a way turns in a cell from one step to another.
    #[inline]
    fn corner(self, cell: Cell, [onto, off]: [(i32, i32); 2], cost: f32) -> Corner {
        let mut corner = self.middle(cell, cost);
        if self.view.ground().lattice().is_square() {
            let sign = |from: i32, to: i32| (to - from).signum() as i8;
            corner.inwards = (sign(onto.0, off.0), sign(onto.1, off.1));
        }
        corner
    }

    /// The columns and rows by which a step leads on from one entry to another.
    fn step(self, from: u32, to: u32) -> (i32, i32) {
        let offset = to.wrapping_sub(from) as i32;
        let rows = match offset {
            ..-1 => -1,
            -1..=1 => 0,
            2.. => 1,
        };
        (offset - rows * self.clearance.stride() as i32, rows)
    }
}
