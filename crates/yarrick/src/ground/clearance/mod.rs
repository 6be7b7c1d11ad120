//! Where a body of some radius fits, and which parts of the ground hang together for it.
//!
//! A cell is open to a body when a disc of its radius, put in the middle of the cell, touches
//! no closed ground. On squares the body then also fits all along every straight or diagonal step
//! between two such cells, as long as a diagonal step asks that both cells beside it be open too: of
//! all points of the step, one of the four centres is always the nearest to any closed cell. Between
//! hexes, corners stand in the way of wide bodies: there each step is looked at by itself.

mod chart;
mod crossing;
mod cut;
mod finish;
mod fit;
mod graph;
mod nearest;
mod regions;
mod repair;
mod tracts;

pub(crate) use chart::{Chart, Exit, FAR, Spread, Task, Tile, Tract};
pub(crate) use crossing::Crossing;
pub use regions::Region;
pub use repair::Repair;

use super::{Cell, GaitId, Ground, Lattice};
use crate::ground::steps::{self, Eight, Four, STRAIGHT, Six, Tiling};
use regions::Regions;
use tracts::Tracts;

/// Where a body of some radius and gait fits on a map, what each step costs, and which regions are connected.
/// After each change of the map, call [`ClearanceMap::repair`].
#[derive(Clone, Debug)]
pub struct ClearanceMap {
    lattice: Lattice,
    width: u32,
    height: u32,
    cell_m: f32,
    gait: GaitId,
    radius: f32,
    /// Entries in a row of the arrays, which have a rim of one entry round the map. The rim spares
    /// a search every test for the edge.
    stride: usize,
    /// Slowness of each cell; `0` is closed.
    weights: Vec<u8>,
    /// How many cells there are of each slowness.
    tally: Vec<u32>,
    regions: Regions,
    /// On squares that are left by their corners, too, which neighbours of each cell are open; on all
    /// others, which steps can be taken. A bit for each of the eight steps on squares.
    neighbours: Vec<u8>,
    lightest: u8,
    heaviest: u8,
    /// Closed cells as bits, along rows and along columns; only on squares left by their corners.
    lines: Option<Crossing>,
    /// The links that it can use, in the order of the cells at which they begin.
    hops: Vec<Hop>,
    chart: Option<Chart>,
}

/// What a straight step over plain ground costs in searches: its slowness is 16.
const COST_OF_A_CELL: f64 = (STRAIGHT * 2 * 16) as f64;

/// A link, between entries of a clearance map's arrays.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Hop {
    pub(crate) from: u32,
    pub(crate) to: u32,
    /// The number of the link.
    pub(crate) link: u16,
    /// What it costs, in the units of searches.
    pub(crate) cost: u64,
}

impl ClearanceMap {
    /// The largest radius that can be asked for, in cells.
    pub const MAX_RADIUS_CELLS: f32 = 16.0;

    /// The largest radius that can be asked for on a ground, in metres.
    #[must_use]
    pub fn max_radius_m(ground: &Ground) -> f32 {
        ClearanceMap::MAX_RADIUS_CELLS * ground.cell_m()
    }

    /// The ground as a body of `radius` metres finds it on foot. A radius that is not a number counts
    /// as 0, one above [`ClearanceMap::MAX_RADIUS_CELLS`] as that.
    ///
    /// Costs a few passes over the map, one of them times the radius in cells.
    #[must_use]
    pub fn new(ground: &Ground, radius: f32) -> ClearanceMap {
        ClearanceMap::for_gait(ground, GaitId::default(), radius)
    }

    /// The same for any gait.
    #[must_use]
    pub fn for_gait(ground: &Ground, gait: GaitId, radius: f32) -> ClearanceMap {
        let view = ground.view(gait);
        let most = ClearanceMap::max_radius_m(ground);
        let radius = if radius.is_nan() {
            0.0
        } else {
            radius.clamp(0.0, most)
        };
        let lattice = ground.lattice;
        let shear = lattice.shear(ground.height).max(0) as usize;
        let stride = ground.width as usize + 2 + shear;
        let count = stride * (ground.height as usize + 2);
        let lines = (lattice == Lattice::Squares).then(|| Crossing::closed(count, stride));
        let mut clearance = ClearanceMap {
            lattice,
            width: ground.width,
            height: ground.height,
            cell_m: ground.cell_m,
            gait: view.gait(),
            radius,
            stride,
            weights: vec![0; count],
            tally: vec![0; 256],
            regions: Regions::default(),
            neighbours: vec![0; count],
            lightest: 1,
            heaviest: 1,
            lines,
            hops: Vec::new(),
            chart: None,
        };
        clearance.hops = clearance.find_hops(ground);
        clearance.lay_out(ground, ground.whole());
        let tracts = Tracts::of(stride, ground.height);
        clearance.regions = Regions::label(&clearance.graph(), tracts);
        clearance.chart = Chart::of(&clearance);
        clearance
    }

    /// Bodies of the same gait and class share a clearance map: they fit into the same cells everywhere.
    #[must_use]
    pub fn class_of(ground: &Ground, radius: f32) -> u32 {
        fit::class_of(ground, radius)
    }

    /// Whose clearance map it is.
    #[must_use]
    pub fn gait(&self) -> GaitId {
        self.gait
    }

    /// The radius that it was made for, in metres.
    #[must_use]
    pub fn radius(&self) -> f32 {
        self.radius
    }

    /// Whether a body fits into the middle of the cell.
    #[must_use]
    pub fn is_open(&self, cell: Cell) -> bool {
        self.node(cell).is_some_and(|at| self.weights[at] > 0)
    }

    /// The region that the cell belongs to; `None` where no body fits, or off the map.
    #[must_use]
    pub fn region(&self, cell: Cell) -> Option<Region> {
        let place = self.place_of(cell)?;
        self.regions.of_place(self.entry_at(place), place)
    }

    /// Whether a body can get from one cell to the other. Answered at once; where the ground has links,
    /// they are followed from region to region.
    #[must_use]
    pub fn connected(&self, a: Cell, b: Cell) -> bool {
        let ends = self.region(a).zip(self.region(b));
        ends.is_some_and(|(a, b)| self.leads_to(a, b))
    }

    /// Whether a body can get from one region to another: they are the same, or links lead over.
    #[must_use]
    pub fn leads_to(&self, from: Region, to: Region) -> bool {
        from == to || (!self.hops.is_empty() && self.led_to(from).contains(&to))
    }

    /// The regions that can be reached from one, itself first.
    #[must_use]
    pub fn led_to(&self, from: Region) -> Vec<Region> {
        let mut reached = vec![from];
        let mut next = 0;
        while let Some(&region) = reached.get(next) {
            next += 1;
            for hop in &self.hops {
                let ends = [hop.from, hop.to].map(|node| self.regions.of(node as usize));
                if let [Some(a), Some(b)] = ends
                    && a == region
                    && !reached.contains(&b)
                {
                    reached.push(b);
                }
            }
        }
        reached
    }

    /// The width of a cell, in metres.
    pub(crate) fn cell_m(&self) -> f32 {
        self.cell_m
    }

    /// How the cells lie.
    pub(crate) fn lattice(&self) -> Lattice {
        self.lattice
    }

    /// Entries in a row of the arrays.
    pub(crate) fn stride(&self) -> usize {
        self.stride
    }

    /// Slowness by entry; `0` is closed.
    pub(crate) fn weights(&self) -> &[u8] {
        &self.weights
    }

    /// By entry, on squares left by their corners which neighbours are open, on others which steps
    /// can be taken: a bit each, first to the right, above, to the left and below, then the corners
    /// between, in the same order.
    pub(crate) fn neighbours(&self) -> &[u8] {
        &self.neighbours
    }

    /// The smallest slowness of any open cell.
    pub(crate) fn lightest(&self) -> u8 {
        self.lightest
    }

    /// The largest slowness of any open cell.
    pub(crate) fn heaviest(&self) -> u8 {
        self.heaviest
    }

    /// Whether all open cells are crossed at the same speed.
    pub(crate) fn is_even(&self) -> bool {
        self.lightest == self.heaviest
    }

    /// Closed cells as bits, where a search may go from corner to corner: on squares left by their
    /// corners, all of them crossed at the same speed, without links.
    pub(crate) fn lines(&self) -> Option<&Crossing> {
        let even = self.is_even() && self.hops.is_empty();
        self.lines.as_ref().filter(|_| even)
    }

    /// The links that can be used, in the order of the entries where they begin.
    pub(crate) fn hops(&self) -> &[Hop] {
        &self.hops
    }

    /// The links that begin at an entry and whose end is open.
    pub(crate) fn hops_from(&self, node: usize) -> impl Iterator<Item = (usize, &Hop)> {
        let first = self.hops.partition_point(|hop| (hop.from as usize) < node);
        let here = self.hops[first..].iter().enumerate();
        here.take_while(move |(_, hop)| hop.from as usize == node)
            .filter(|(_, hop)| self.weights[hop.to as usize] > 0)
            .map(move |(k, hop)| (first + k, hop))
    }

    /// How far it is across the parts of a large map.
    pub(crate) fn chart(&self) -> Option<&Chart> {
        self.chart.as_ref()
    }

    /// The entry of a cell on the map.
    pub(crate) fn node(&self, cell: Cell) -> Option<usize> {
        self.place_of(cell).map(|place| self.entry_at(place))
    }

    /// The column and row of a cell on the map.
    fn place_of(&self, cell: Cell) -> Option<(i32, i32)> {
        let inside =
            (0..self.width as i32).contains(&cell.x) && (0..self.height as i32).contains(&cell.y);
        inside.then(|| {
            let column = cell.x + self.shear() - self.lattice.shift(cell.y);
            (column, cell.y)
        })
    }

    /// The entry at a column and row.
    fn node_at(&self, (column, row): (i32, i32)) -> Option<usize> {
        let inside =
            (0..self.stride as i32 - 2).contains(&column) && (0..self.height as i32).contains(&row);
        inside.then(|| self.entry_at((column, row)))
    }

    fn entry_at(&self, (column, row): (i32, i32)) -> usize {
        (row as usize + 1) * self.stride + column as usize + 1
    }

    /// The cell at an entry.
    pub(crate) fn cell(&self, node: usize) -> Cell {
        self.cell_in(self.place(node))
    }

    /// The cell in a column and a row, on the map or not.
    pub(crate) fn cell_in(&self, (column, y): (i32, i32)) -> Cell {
        Cell::new(column - self.shear() + self.lattice.shift(y), y)
    }

    /// The steps that can be taken from an entry, as bits.
    pub(crate) fn steps_from(&self, node: usize) -> u8 {
        let open = self.neighbours[node];
        match self.lattice {
            Lattice::Squares => Eight { even: false }.ways_on(steps::ANY, open),
            Lattice::Squares4 | Lattice::Hexes => open,
        }
    }

    /// What a step from an entry costs.
    pub(crate) fn step_cost(&self, node: usize, step: usize) -> u64 {
        let slowness = if self.is_even() {
            2 * u64::from(self.lightest)
        } else {
            let next = node.wrapping_add_signed(steps::offsets(self.stride)[step]);
            u64::from(self.weights[node]) + u64::from(self.weights[next])
        };
        match self.lattice {
            Lattice::Squares => Eight { even: false }.price(step) * slowness,
            Lattice::Squares4 | Lattice::Hexes => STRAIGHT * slowness,
        }
    }

    /// What a way between two entries costs at the least, without links.
    pub(crate) fn least_between(&self, from: usize, to: usize) -> u64 {
        let (from, to) = (self.place(from), self.place(to));
        let (dx, dy) = (to.0 - from.0, to.1 - from.1);
        let steps = match self.lattice {
            Lattice::Squares => Eight { even: false }.estimate(dx, dy),
            Lattice::Squares4 => Four.estimate(dx, dy),
            Lattice::Hexes => Six.estimate(dx, dy),
        };
        steps * 2 * u64::from(self.lightest)
    }

    /// The column and row of an entry, as searches see them: rows of hexes are sheared.
    pub(crate) fn place(&self, node: usize) -> (i32, i32) {
        // Narrow numbers divide faster, and no map has more entries.
        let (column, row) = (
            node as u32 % self.stride as u32,
            node as u32 / self.stride as u32,
        );
        (column as i32 - 1, row as i32 - 1)
    }

    fn shear(&self) -> i32 {
        (self.stride - 2) as i32 - self.width as i32
    }

    fn find_hops(&self, ground: &Ground) -> Vec<Hop> {
        let mut hops = Vec::new();
        let links = ground.links.iter().enumerate();
        for (number, link) in links.filter(|(_, link)| link.is_for(self.gait)) {
            let ends = [link.from, link.to].map(|end| ground.cell_at(end));
            let [Some(from), Some(to)] = ends.map(|cell| cell.and_then(|cell| self.node(cell)))
            else {
                continue;
            };
            let per_cell = f64::from(link.cost_m) / f64::from(self.cell_m);
            let hop = Hop {
                from: from as u32,
                to: to as u32,
                link: number as u16,
                cost: ((per_cell * COST_OF_A_CELL) as u64).max(1),
            };
            hops.push(hop);
            if link.both_ways {
                let (from, to) = (hop.to, hop.from);
                hops.push(Hop { from, to, ..hop });
            }
        }
        hops.sort_unstable();
        hops
    }
}
