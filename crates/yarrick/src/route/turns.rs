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
    /// The link that leads here.
    pub(super) link: Option<LinkId>,
    /// The closed cell nearest to the corner on the inside of the turn. It hides most of the corners after the next one.
    pub(super) wall: Option<Cell>,
    /// Whether `wall` is adjacent to the cell of the corner. It then blocks the straight line from the previous corner to the next one,
    /// so that this line need not be tested.
    pub(super) is_tight: bool,
    /// Whether it is known to be the farthest in sight of the corner before.
    pub(super) is_farthest: bool,
}

impl Corner {
    pub(super) fn new(point: Vec2, cost: f32) -> Corner {
        Corner {
            point,
            cost,
            link: None,
            wall: None,
            is_tight: false,
            is_farthest: false,
        }
    }
}

/// The map, and the body that walks on it.
#[derive(Clone, Copy)]
pub(super) struct Walk<'a> {
    view: GroundView<'a>,
    clearance: &'a ClearanceMap,
    /// Maximum distance between a turn and its [`Corner::wall`], in cells.
    near: i32,
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
        let (point, here) = (walk.point(nodes[k]), walk.slowness(nodes[k]));
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
                ..Corner::new(point, self.cost)
            });
        } else if k == 0 || k + 1 == nodes.len() {
            corners.push(Corner::new(point, self.cost));
        } else {
            let step = |from: usize| nodes[from + 1].wrapping_sub(nodes[from]);
            let steps = [step(k - 1), step(k)];
            if steps[0] != steps[1] {
                corners.push(walk.corner(nodes[k], steps, self.cost));
            }
        }
    }
}

impl<'a> Walk<'a> {
    pub(super) fn new(view: GroundView<'a>, clearance: &'a ClearanceMap, radius: f32) -> Walk<'a> {
        let near = 1 + (radius / view.ground().cell_m()).ceil() as i32;
        Walk {
            view,
            clearance,
            near,
        }
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
        if range.start == 0 {
            corners.push(Corner::new(self.point(nodes[0]), 0.0));
        }
        let first = range.start.max(1);
        let mut here = nodes[first.min(end)];
        let mut onto = here.wrapping_sub(nodes[first - 1]);
        for next in nodes
            .get(first + 1..=range.end.min(end))
            .unwrap_or_default()
        {
            let off = next.wrapping_sub(here);
            if off != onto {
                corners.push(self.corner(here, [onto, off], 0.0));
            }
            (here, onto) = (*next, off);
        }
        if range.end > end && end > 0 {
            corners.push(Corner::new(self.point(nodes[end]), 0.0));
        }
    }

    /// The corner where a way turns from one step to another, each given as the difference between two entries.
    #[inline]
    fn corner(self, node: u32, steps: [u32; 2], cost: f32) -> Corner {
        let ground = self.view.ground();
        let here = self.clearance.cell(node as usize);
        let mut corner = Corner::new(ground.centre(here), cost);
        if ground.lattice().is_square() {
            let [onto, off] = steps.map(|step| self.step(step as i32));
            self.find_wall(here, [onto, off], &mut corner);
        }
        corner
    }

    /// The columns and rows by which a step leads on, given as the difference between two entries.
    fn step(self, offset: i32) -> (i32, i32) {
        let rows = match offset {
            ..-1 => -1,
            -1..=1 => 0,
            2.. => 1,
        };
        (offset - rows * self.clearance.stride() as i32, rows)
    }

    /// Finds the wall of a turn from one step to another, given in columns and rows. Squares only.
    fn find_wall(self, here: Cell, [onto, off]: [(i32, i32); 2], corner: &mut Corner) {
        let inwards = ((off.0 - onto.0).signum(), (off.1 - onto.1).signum());
        for far in 1..=self.near {
            let cell = Cell::new(here.x + inwards.0 * far, here.y + inwards.1 * far);
            if self.view.is_closed(cell) {
                (corner.wall, corner.is_tight) = (Some(cell), far == 1);
                break;
            }
        }
    }
}
