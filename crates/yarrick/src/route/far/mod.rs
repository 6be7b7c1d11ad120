//! Long ways over large maps: from gate to gate over the chart of a clearance map, then from cell to cell
//! within each tract on the way.
//!
//! ```text
//!   +------+------+------+
//!   | from·|·-----|·     |       first which gates to go by, at what the chart tells of the
//!   +------+------+-|----+       ways between them (A*); then the cells of each leg, tract by
//!   |      |      | · to |       tract
//!   +------+------+------+
//! ```
//!
//! The way goes through the gates, of which there are not as many as steps between tracts: so it
//! may cost more than a cheapest one. Where walls are not long, it is then led past each gate if that is
//! cheaper (`way`).

mod between;
mod way;

use super::detour::Detours;
use super::queue::Queue;
use super::search::Found;
use super::turns;
use crate::ground::steps::{Eight, Four, STRAIGHT, Six, Tiling};
use crate::ground::{Cell, Chart, ClearanceMap, Lattice, LinkId, Tile};
use way::Way;

/// Columns or rows within which goals are searched for from cell to cell.
const NEAR: u64 = 96;

/// And those before which a search would come upon fewer cells or corners than this, were it to look at all
/// in a square as wide as the goal is far. Measured on maps of 256, 512 and 1024 cells a side, from open
/// ones to clutter, both take as long where there are 2500 to 3000.
const FEW: u64 = 3000;

/// Minimum number of corners for a number of gates, over the whole map, for the chart to be used. On open ground there are fewer, and a
/// search from corner to corner looks at less. Measured on maps of 512 and 1024 cells a side with blocks of 1 to 12 cells at several
/// densities, the search takes about half the time of the chart at 0.4 corners per gate, the same at 0.7 to 1.3, and 2 to 6 times as
/// much at 4.
const CORNERS_FOR_GATES: (u64, u64) = (2, 3);

/// The most tracts in which goals may lie.
const MOST_TRACTS: usize = 4;

/// Long ways over large maps, by the chart of a clearance map; and the workspace that it reuses.
///
/// What they cost exceeds that of a cheapest way by less than 1 % on the average in clutter and on ground of
/// several speeds, by up to 1.6 % in mazes, and by less than 10 % on each of 36,000 random ways; no bound is proved.
/// Costs in proportion to the gates that are settled, each times the ways out of its tract, and to the
/// length of the way.
///
/// ```
/// use yarrick::ground::{Cell, ClearanceMap};
/// use yarrick::route::{FarSearch, Search};
/// use yarrick::scenario::Pattern;
///
/// let ground = Pattern::Random.ground(160, 3);
/// let clearance = ClearanceMap::new(&ground, 0.4);
/// let open = |x, y| clearance.nearest(ground.centre(Cell::new(x, y)), |_| true).unwrap();
/// let (from, to) = (open(5, 5), open(150, 140));
/// let far = FarSearch::default().find(&clearance, from, to).unwrap();
/// let least = Search::default().find(&clearance, from, to).unwrap();
/// assert!(least.cost <= far.cost && far.cost < least.cost / 100 * 105);
/// ```
#[derive(Clone, Debug, Default)]
pub struct FarSearch {
    start: u32,
    goals: Vec<u32>,
    /// What it costs to get from the start out of its tract.
    first: First,
    /// What is left from the cells of the tracts in which goals lie.
    left: Vec<(u32, Vec<u32>)>,
    detours: Detours,
    known: Vec<Known>,
    run: u32,
    queue: Queue,
    /// By how many bits keys of the queue are coarser than costs.
    coarse: u32,
    /// The cheapest way to a goal so far: what it costs, and the cell by which it comes in.
    best: (u64, u32, u32),
    stage: Stage,
    /// The tract of the start, and those of the goals.
    tiles: Vec<Tile>,
    legs: Vec<Leg>,
    settled: u32,
    way: Way,
}

/// What is known of a cell at which a gate ends.
#[derive(Clone, Copy, Debug, Default)]
struct Known {
    cost: u64,
    /// With what is left from there, at the least.
    total: u64,
    run: u32,
    settled: bool,
    /// The tract in which it lies.
    within: u32,
    /// From which cell it was reached, and by which exit of the tract of that.
    from: u32,
    exit: u16,
}

/// What it costs to get from the start to each of the cells that hang together with one of its tract.
#[derive(Clone, Debug, Default)]
struct First {
    cell: Option<u16>,
    costs: Vec<u32>,
}

/// A part of the way within one tract, and how it goes on.
#[derive(Clone, Copy, Debug)]
struct Leg {
    tract: u32,
    /// The cells of the tract at which it begins and ends: none at the start, and none at the goal.
    from: Option<u16>,
    to: Option<u16>,
    /// The hop by which it goes on, if it does by one.
    hop: Option<u16>,
}

/// How far a search has come.
#[derive(Clone, Copy, Debug)]
enum Stage {
    /// So many of the tracts of the goals have been looked at.
    Surveys { done: u32 },
    /// It goes from gate to gate.
    Charts,
    /// So many legs have been written down.
    Follows { done: u32 },
}

impl Default for Stage {
    fn default() -> Stage {
        Stage::Surveys { done: 0 }
    }
}

impl Stage {
    /// The work that the next step may take at the most.
    fn most(self) -> u32 {
        match self {
            Stage::Surveys { .. } => FarSearch::LEAST_STEP,
            Stage::Charts => 64,
            Stage::Follows { .. } => 800,
        }
    }
}

impl FarSearch {
    /// The work that [`FarSearch::advance`] may do, however small its budget: what cannot be divided.
    pub const LEAST_STEP: u32 = 800;

    /// Whether two cells lie so far apart that a way between them is a long one.
    pub(super) fn are_far_apart(from: Cell, to: Cell) -> bool {
        u64::from(from.x.abs_diff(to.x).max(from.y.abs_diff(to.y))) >= NEAR
    }

    /// Whether a way between two cells is looked for by the chart: they lie far apart, and a search would take longer.
    fn is_for(clearance: &ClearanceMap, chart: &Chart, from: Cell, to: Cell) -> bool {
        let apart = u64::from(from.x.abs_diff(to.x).max(from.y.abs_diff(to.y)));
        let square = apart * apart;
        let lines = clearance.lines().filter(|lines| lines.has_few_corners());
        Self::are_far_apart(from, to)
            && lines.map_or(square >= FEW, |lines| {
                let (corners, gates) = CORNERS_FOR_GATES;
                let has_many = lines.corners() * gates >= chart.count() as u64 * corners;
                has_many && lines.corners_among(square) >= FEW
            })
    }

    /// Finds a way between two cells that lie far apart. `None` where they are so near that a
    /// [`Search`](super::Search) is as fast, where the map is too small to have a chart, and where there is
    /// no way.
    pub fn find(&mut self, clearance: &ClearanceMap, from: Cell, to: Cell) -> Option<Found> {
        let far = self.begin(clearance, from, &[to]);
        let found = far && self.advance(clearance, u32::MAX) == Some(true);
        found.then_some(Found {
            cost: self.best.0,
            settled: self.settled,
        })
    }

    /// Begins to look for a way, unless it is so short that it had better be looked for from cell to cell.
    /// Goals out of reach count for nothing. [`FarSearch::advance`] goes on.
    pub fn begin(&mut self, clearance: &ClearanceMap, from: Cell, to: &[Cell]) -> bool {
        let chart = clearance.chart().filter(|_| clearance.is_finished());
        let Some(chart) = chart else {
            return false;
        };
        let reachable = || to.iter().filter(|to| clearance.connected(from, **to));
        if !reachable().all(|to| Self::is_for(clearance, chart, from, *to)) {
            return false;
        }
        let Some(start) = clearance.node(from) else {
            return false;
        };
        self.start = start as u32;
        self.goals.clear();
        let goals = reachable().filter_map(|to| clearance.node(*to));
        self.goals.extend(goals.map(|goal| goal as u32));
        let mut tracts: Vec<u32> = self
            .goals
            .iter()
            .map(|goal| chart.tract_of(*goal as usize))
            .collect();
        tracts.sort_unstable();
        tracts.dedup();
        if tracts.is_empty() || tracts.len() > MOST_TRACTS {
            return false;
        }
        let least = match clearance.lattice() {
            Lattice::Squares => self.find_detours(Eight { even: false }, clearance),
            Lattice::Squares4 => self.find_detours(Four, clearance),
            Lattice::Hexes => self.find_detours(Six, clearance),
        };
        // By links it may be near.
        if least < NEAR * STRAIGHT * 2 * u64::from(clearance.lightest()) {
            return false;
        }
        self.left.clear();
        self.left
            .extend(tracts.into_iter().map(|tract| (tract, Vec::new())));
        self.stage = Stage::default();
        self.settled = 0;
        self.way.clear();
        self.legs.clear();
        true
    }

    /// Goes on until it is known whether there is a way, or about `most` more cells are looked at. Gives
    /// whether there is, once that is known. The clearance map must be the same, and unchanged.
    pub fn advance(&mut self, clearance: &ClearanceMap, most: u32) -> Option<bool> {
        let chart = clearance.chart()?;
        match clearance.lattice() {
            Lattice::Squares => self.advance_on(Eight { even: false }, clearance, chart, most),
            Lattice::Squares4 => self.advance_on(Four, clearance, chart, most),
            Lattice::Hexes => self.advance_on(Six, clearance, chart, most),
        }
    }

    fn advance_on(
        &mut self,
        tiling: impl Tiling,
        clearance: &ClearanceMap,
        chart: &Chart,
        most: u32,
    ) -> Option<bool> {
        let end = self.settled.saturating_add(most);
        let mut is_first = true;
        while core::mem::take(&mut is_first)
            || self.settled.saturating_add(self.stage.most()) <= end
        {
            match self.stage {
                Stage::Follows { done } => {
                    let Some(&leg) = self.legs.get(done as usize) else {
                        return Some(true);
                    };
                    self.follow(tiling, clearance, chart, leg);
                    self.stage = Stage::Follows { done: done + 1 };
                }
                Stage::Surveys { done } if (done as usize) < self.left.len() => {
                    self.survey(clearance, chart, done as usize);
                    self.stage = Stage::Surveys { done: done + 1 };
                }
                Stage::Surveys { .. } => self.set_out(tiling, clearance, chart),
                Stage::Charts => {
                    if !self.settle_next(tiling, chart) {
                        if self.best.0 == u64::MAX {
                            return Some(false);
                        }
                        self.find_legs(chart);
                        self.stage = Stage::Follows { done: 0 };
                    }
                }
            }
        }
        None
    }

    /// Gets ready to estimate what is left. Gives what the whole way costs at the least.
    fn find_detours(&mut self, tiling: impl Tiling, clearance: &ClearanceMap) -> u64 {
        self.detours.find(clearance, tiling, &self.goals);
        self.detours
            .estimate(tiling, clearance.place(self.start as usize))
    }

    /// Writes down the cells of a leg, and where clutter or slow ground may make it worth it, leads the way past
    /// the gate before.
    fn follow(&mut self, tiling: impl Tiling, clearance: &ClearanceMap, chart: &Chart, leg: Leg) {
        let tract = chart.tract(leg.tract);
        let entry = |cell: u16| tract.cells()[usize::from(cell)];
        let gate = self.way.nodes().len();
        let goal = self.left.iter().position(|(tract, _)| *tract == leg.tract);
        let tiles = &self.tiles;
        self.settled += self.way.add(|nodes| match (leg.from, leg.to) {
            (Some(from), Some(to)) => tract.add_way(clearance.stride(), (from, to), nodes),
            (None, Some(to)) => {
                nodes.extend(tiles[0].back_from(entry(to)));
                nodes.reverse();
            }
            (Some(from), None) => {
                let tile = goal.and_then(|goal| tiles.get(goal + 1));
                let way = tile.map(|tile| tile.back_from(entry(from)));
                nodes.extend(way.into_iter().flatten());
            }
            (None, None) => {}
        });
        if clearance
            .lines()
            .is_none_or(|lines| !lines.has_long_walls())
        {
            let (settled, saved) = self.way.mend(tiling, clearance, gate);
            self.settled += settled;
            self.best.0 -= saved;
        }
        if let Some(hop) = leg.hop {
            self.way
                .add_link(LinkId(clearance.hops()[usize::from(hop)].link));
        }
    }

    /// The work done so far, counted in cells: as many as a search from cell to cell would have settled in the time.
    #[must_use]
    pub fn settled_count(&self) -> u32 {
        self.settled
    }

    /// The cells of the way found last, from first to last. `clearance` must be the map of that search.
    pub fn cells<'a>(&'a self, clearance: &'a ClearanceMap) -> impl Iterator<Item = Cell> + 'a {
        let nodes = self.way.nodes().iter();
        nodes.map(|node| clearance.cell(*node as usize))
    }

    /// The way found last.
    pub(super) fn way(&self) -> turns::Way<'_> {
        turns::Way {
            nodes: self.way.nodes(),
            links: self.way.links(),
        }
    }

    /// The links of the way found last, each with the number of the cell to which it leads.
    #[must_use]
    pub fn links(&self) -> &[(u32, LinkId)] {
        self.way.links()
    }

    /// The gates that the last search looked at. `clearance` must be the map of that search.
    pub fn settled<'a>(&'a self, clearance: &'a ClearanceMap) -> impl Iterator<Item = Cell> + 'a {
        let known = self.known.iter().zip(0_u32..);
        let settled = known.filter(|(known, _)| known.run == self.run && known.settled);
        settled.filter_map(|(known, number)| {
            let chart = clearance.chart()?;
            let cell = number.checked_sub(chart.first(known.within))?;
            let entry = chart.tract(known.within).cells().get(cell as usize)?;
            Some(clearance.cell(*entry as usize))
        })
    }
}
