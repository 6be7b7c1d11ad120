//! From gate to gate: A* over the chart of a clearance map.
//!
//! Settled are the cells by which tracts are entered; from each one goes on to all gates of its part of
//! the tract, and over them. The ends are joined on by what it costs to get from the start to the gates of
//! its tract, and from those of the goals' tracts to the nearest goal.

use super::{FarSearch, Known, Leg, MOST_TRACTS, Stage};
use crate::ground::steps::Tiling;
use crate::ground::{Chart, ClearanceMap, Exit, FAR, Tile, Tract};

/// Keys of the queue are so fine that the dearest step has so many bits.
const FINENESS: u32 = 12;

/// The estimate of the remaining cost is raised by `1 / MORE`. Ways through gates cost slightly more than the estimate, which is
/// for open ground, so without this all gates near the straight line are settled. This halves their number on open ground;
/// ways cost at most `1 / MORE` more.
const MORE: u64 = 128;

/// So many exits that are looked at count as much as a cell that is settled: measured in clutter, they take
/// as long.
const EXITS_A_CELL: u32 = 6;

impl FarSearch {
    /// Works out what is left from the gates of a tract in which goals lie.
    pub(super) fn survey(&mut self, clearance: &ClearanceMap, chart: &Chart, number: usize) {
        self.tiles.resize_with(1 + MOST_TRACTS, Tile::default);
        let ((tract, left), tile) = (&mut self.left[number], &mut self.tiles[number + 1]);
        let tract = *tract;
        tile.load(clearance, chart.corner(tract));
        let inside = |goal: &&u32| chart.tract_of(**goal as usize) == tract;
        let goals: Vec<u32> = self.goals.iter().filter(inside).copied().collect();
        self.settled += tile.spread(&goals);
        let cells = chart.tract(tract).cells().iter();
        left.extend(cells.map(|cell| tile.cost(*cell)));
    }

    /// Works out what it costs to get out of the tract of the start, and begins there.
    pub(super) fn set_out(&mut self, tiling: impl Tiling, clearance: &ClearanceMap, chart: &Chart) {
        // The last one stands for the start.
        self.known.resize(chart.count() + 1, Known::default());
        self.run = self.run.wrapping_add(1);
        if self.run == 0 {
            self.known.fill(Known::default());
            self.run = 1;
        }
        let tract = chart.tract_of(self.start as usize);
        let tile = &mut self.tiles[0];
        tile.load(clearance, chart.corner(tract));
        self.settled += tile.spread(&[self.start]);
        self.find_ways_out(chart.tract(tract));
        // A step may lead away from the goal by as much as it costs, and the estimate is raised.
        let first = self.first.costs.iter().max().copied().unwrap_or(0);
        let span = (2 * (chart.dearest() + u64::from(first))) / MORE * (MORE + 1) + MORE;
        self.coarse = (span.max(1).ilog2()).saturating_sub(FINENESS);
        let span = clearance
            .hops()
            .is_empty()
            .then_some((span >> self.coarse) + 2);
        self.queue.clear(span);
        self.best = (u64::MAX, 0, 0);
        self.stage = Stage::Charts;
        let start = chart.count() as u32;
        let place = clearance.place(self.start as usize);
        let left = self.detours.estimate(tiling, place);
        let total = left + left / MORE;
        self.known[start as usize] = Known {
            run: self.run,
            within: tract,
            total,
            ..Known::default()
        };
        self.queue.push(total >> self.coarse, start);
    }

    /// Notes what it costs to get from the start to each cell of its part.
    fn find_ways_out(&mut self, tract: &Tract) {
        let tile = &self.tiles[0];
        let reached = |cell: &u32| tile.cost(*cell) < FAR;
        let reached = tract.cells().iter().position(reached);
        self.first.cell = reached.map(|cell| cell as u16);
        self.first.costs.clear();
        if let Some(cell) = self.first.cell {
            let beside = tract.cells_with(cell).iter();
            self.first.costs.extend(beside.map(|cell| tile.cost(*cell)));
        }
    }

    /// Settles one more cell. Gives whether it may help to go on.
    pub(super) fn settle_next(&mut self, tiling: impl Tiling, chart: &Chart) -> bool {
        let Some(number) = self.queue.pop() else {
            return false;
        };
        let known = &mut self.known[number as usize];
        if core::mem::replace(&mut known.settled, true) {
            return true;
        }
        let known = *known;
        if known.total >> self.coarse > self.best.0 >> self.coarse {
            return false;
        }
        let tract = chart.tract(known.within);
        if number as usize == chart.count() {
            if let Some(cell) = self.first.cell {
                let costs = core::mem::take(&mut self.first.costs);
                let (_, exits) = tract.ways_on(cell);
                self.offer(tiling, chart, (number, known), (&costs, exits));
                self.first.costs = costs;
            }
            return true;
        }
        let cell = (number - chart.first(known.within)) as u16;
        if let Some((_, left)) = self.left.iter().find(|(at, _)| *at == known.within)
            && left[usize::from(cell)] < FAR
        {
            let total = known.cost + u64::from(left[usize::from(cell)]);
            self.best = self.best.min((total, number, known.within));
        }
        self.offer(tiling, chart, (number, known), tract.ways_on(cell));
        true
    }

    /// Offers what it costs to go on from a cell by the exits of its part.
    fn offer(
        &mut self,
        tiling: impl Tiling,
        chart: &Chart,
        (from, here): (u32, Known),
        (costs, (exits, first)): (&[u32], (&[Exit], u16)),
    ) {
        self.settled += 1 + exits.len() as u32 / EXITS_A_CELL;
        for (exit, k) in exits.iter().zip(first..) {
            if exit.is_dead_end && !self.left.iter().any(|(tract, _)| *tract == exit.tract) {
                continue;
            }
            let cost = here.cost + u64::from(costs[usize::from(exit.from_in_part)]) + exit.cost;
            let number = chart.first(exit.tract) + u32::from(exit.to);
            let known = &mut self.known[number as usize];
            if known.run == self.run && (known.settled || known.cost <= cost) {
                continue;
            }
            let left = self.detours.estimate(tiling, exit.place);
            // Buckets are emptied in order, so a key must not be smaller than that of the node it comes from.
            let total = (cost + left + left / MORE).max(here.total);
            // Nothing that costs as much can be on a better way.
            if total >= self.best.0 {
                continue;
            }
            *known = Known {
                cost,
                total,
                run: self.run,
                settled: false,
                within: exit.tract,
                from,
                exit: k,
            };
            self.queue.push(total >> self.coarse, number);
        }
    }

    /// Follows the cheapest way back from the goal to the start.
    pub(super) fn find_legs(&mut self, chart: &Chart) {
        let (_, mut number, mut within) = self.best;
        let (mut to, mut hop) = (None, None);
        self.legs.clear();
        loop {
            let is_start = number as usize == chart.count();
            let from = (!is_start).then(|| (number - chart.first(within)) as u16);
            self.legs.push(Leg {
                tract: within,
                from,
                to,
                hop,
            });
            if is_start {
                break;
            }
            let known = self.known[number as usize];
            number = known.from;
            within = self.known[number as usize].within;
            let exit = chart.tract(within).exit(known.exit);
            (to, hop) = (Some(exit.from), exit.hop);
        }
        self.legs.reverse();
    }
}
