//! What stands between a goal and the ground that can be reached, where that is least.

use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap, GroundView, Region};
use core::cmp::Reverse;
use serde::{Deserialize, Serialize};
use std::collections::BinaryHeap;

/// What stands in the way.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Barrier {
    /// A terrain that is closed to the body, by its number in the list of the map.
    Terrain(u8),
    /// A slope too steep for it.
    Slope,
    /// A building.
    Building,
    /// A shut door.
    Door,
    /// A gap too narrow for it.
    Narrow,
    /// The rim of the map.
    Rim,
}

/// How many times dearer than an open cell a closed one is, to one who looks for the least that stands
/// in between.
const DEAR: u32 = 6;

/// Of places from which nearly as little stands in between, by a part of it and at most four cells'
/// width, the one is taken that is nearest to the body.
const NEARLY_PART: u32 = 7;
const NEARLY_MOST: u32 = 20;

/// Maximum number of cells that a flood reaches, and maximum distance from its start in columns or rows.
const MOST_FLOODED: usize = 2000;
const MOST_WIDE: i32 = 64;

/// Maximum size of the regions of the body, in cells, for a flood that starts from all of their cells.
const MOST_BEGUN: usize = 1024;

/// Work of a cell reached by a flood, in cells settled by a search.
pub(super) const WORK_A_CELL: u32 = 2;

/// Maximum work of [`least_barrier`]: two floods, each with the cells beside its last, and the cells that the second begins from.
pub(super) const MOST_WORK: u32 =
    (2 * MOST_FLOODED as u32 + MOST_BEGUN as u32) * WORK_A_CELL + 1000;

/// What is looked for: the least closed ground between a goal, which lies on the map, and a cell of some regions.
pub(super) struct Quest<'a> {
    pub(super) view: GroundView<'a>,
    pub(super) clearance: &'a ClearanceMap,
    pub(super) regions: &'a [Region],
    pub(super) from: Vec2,
    /// A cell of the first region.
    pub(super) start: Cell,
    pub(super) goal: Cell,
    /// The cell of the regions that is nearest to the goal.
    pub(super) nearest: Cell,
}

/// Floods from the goal, by steps of which those over closed ground are dear, until it comes to the regions. Where these
/// are farther off, it floods from them to where the goal can be walked to: from all of them, if they are small, or else from
/// the cell nearest to the goal. Where that is too far, too, it looks along the straight line from there to the goal.
///
/// Gives what stands in between, and how many cells it looked at. The work is [`WORK_A_CELL`] for each, at most [`MOST_WORK`].
pub(super) fn least_barrier(quest: &Quest<'_>, flood: &mut Flood) -> (Option<Barrier>, u32) {
    let clearance = quest.clearance;
    flood.begin(quest, quest.goal, &[quest.goal]);
    let mut most = u32::MAX;
    let mut best: Option<(f32, u32)> = None;
    let mut of_goal = None;
    while let Some((cost, at)) = flood.next() {
        if cost > most || best.is_none() && flood.count > MOST_FLOODED {
            break;
        }
        let cell = flood.cell(at);
        let region = clearance.region(cell);
        if quest.is_reached(region) {
            most = most.min(cost + (cost / NEARLY_PART).min(NEARLY_MOST));
            let far = quest.view.ground().centre(cell).distance(quest.from);
            if best.is_none_or(|(known, _)| far < known) {
                best = Some((far, at));
            }
            continue;
        }
        of_goal = of_goal.or(region);
        flood.spread(quest, cost, at);
    }
    let mut looked_at = flood.count as u32;
    let Some((_, at)) = best else {
        let (barrier, more) = barrier_from_within(quest, of_goal, flood);
        looked_at += more;
        return (barrier.or_else(|| barrier_ahead(quest)), looked_at);
    };
    // From there on towards the goal, to the first that is closed.
    let mut on = at;
    while clearance.is_open(flood.cell(on)) && flood.before(on) != on {
        on = flood.before(on);
    }
    (Some(what_stands(quest.view, flood.cell(on))), looked_at)
}

/// The same by a flood from the regions to the region of the goal, or to the first other region if the goal has none.
fn barrier_from_within(
    quest: &Quest<'_>,
    of_goal: Option<Region>,
    flood: &mut Flood,
) -> (Option<Barrier>, u32) {
    let clearance = quest.clearance;
    if clearance.cells_in(quest.regions) <= MOST_BEGUN {
        flood.begin(quest, quest.start, &clearance.cells_led_to(quest.start));
    } else {
        flood.begin(quest, quest.nearest, &[quest.nearest]);
    }
    let most = flood.count + MOST_FLOODED;
    while flood.count <= most
        && let Some((cost, at)) = flood.next()
    {
        let region = clearance.region(flood.cell(at));
        let is_other = region.is_some() && !quest.is_reached(region);
        if is_other && (of_goal.is_none() || region == of_goal) {
            // Back to the regions: the last that is closed is the first that stands in the way.
            let (mut on, mut closed) = (at, at);
            while flood.before(on) != on {
                on = flood.before(on);
                if !clearance.is_open(flood.cell(on)) {
                    closed = on;
                }
            }
            let barrier = what_stands(quest.view, flood.cell(closed));
            return (Some(barrier), flood.count as u32);
        }
        flood.spread(quest, cost, at);
    }
    (None, flood.count as u32)
}

/// What stands on the straight line from the cell nearest to the goal.
fn barrier_ahead(quest: &Quest<'_>) -> Option<Barrier> {
    let ground = quest.view.ground();
    let (from, to) = (ground.centre(quest.nearest), ground.centre(quest.goal));
    let looks = (from.distance(to) / ground.cell_m() * 2.0) as u32 + 1;
    let mut cells =
        (0..=looks).map(|k| ground.nearest_cell(from.lerp(to, k as f32 / looks as f32)));
    let closed = cells.find(|cell| !quest.clearance.is_open(*cell))?;
    Some(what_stands(quest.view, closed))
}

impl Quest<'_> {
    fn is_reached(&self, region: Option<Region>) -> bool {
        region.is_some_and(|region| self.regions.contains(&region))
    }
}

/// A flood of cells by what it costs to get to them, closed ones at a price; in a square part of the map.
#[derive(Clone, Debug, Default)]
pub(super) struct Flood {
    /// What is known of each cell of the part, row by row.
    known: Vec<Reached>,
    run: u32,
    low: (i32, i32),
    /// Number of cells reached.
    count: usize,
    open: BinaryHeap<Reverse<(u32, u32)>>,
}

#[derive(Clone, Copy, Debug, Default)]
struct Reached {
    run: u32,
    cost: u32,
    /// The cell from which it was reached; itself, where the flood began.
    before: u32,
}

const WIDE: i32 = 2 * MOST_WIDE + 1;

impl Flood {
    /// Begins a flood from some cells: those near a middle.
    fn begin(&mut self, quest: &Quest<'_>, middle: Cell, cells: &[Cell]) {
        self.known
            .resize((WIDE * WIDE) as usize, Reached::default());
        self.run = self.run.wrapping_add(1);
        if self.run == 0 {
            self.known.fill(Reached::default());
            self.run = 1;
        }
        self.low = (middle.x - MOST_WIDE, middle.y - MOST_WIDE);
        self.count = 0;
        self.open.clear();
        for &cell in cells {
            if let Some(at) = self.number(quest, cell) {
                self.reach(at, 0, at);
            }
        }
    }

    fn number(&self, quest: &Quest<'_>, cell: Cell) -> Option<u32> {
        let (x, y) = (cell.x - self.low.0, cell.y - self.low.1);
        let inside = (0..WIDE).contains(&x) && (0..WIDE).contains(&y);
        (inside && quest.view.ground().contains(cell)).then_some((y * WIDE + x) as u32)
    }

    fn cell(&self, number: u32) -> Cell {
        let (x, y) = (number as i32 % WIDE, number as i32 / WIDE);
        Cell::new(self.low.0 + x, self.low.1 + y)
    }

    /// Notes a way to a cell, if it is better than any known so far.
    fn reach(&mut self, at: u32, cost: u32, before: u32) {
        let known = &mut self.known[at as usize];
        let is_new = known.run != self.run;
        if is_new || cost < known.cost {
            let run = self.run;
            *known = Reached { run, cost, before };
            self.count += usize::from(is_new);
            self.open.push(Reverse((cost, at)));
        }
    }

    /// The next cell, and what it costs. Ties by number: the lower row first, then the left.
    fn next(&mut self) -> Option<(u32, u32)> {
        while let Some(Reverse((cost, at))) = self.open.pop() {
            if self.known[at as usize].cost == cost {
                return Some((cost, at));
            }
        }
        None
    }

    /// Goes on from a cell to those beside it.
    fn spread(&mut self, quest: &Quest<'_>, cost: u32, at: u32) {
        let is_square = quest.view.ground().lattice().is_square();
        let cell = self.cell(at);
        for next in neighbours(quest.view, cell) {
            let Some(number) = self.number(quest, next) else {
                continue;
            };
            let diagonal = next.x != cell.x && next.y != cell.y && is_square;
            let step = if diagonal { 7 } else { 5 };
            let is_open = quest.clearance.is_open(next);
            let dear = if is_open { 1 } else { DEAR };
            self.reach(number, cost + step * dear, at);
        }
    }

    /// From where a cell was reached; itself, where the flood began.
    fn before(&self, at: u32) -> u32 {
        self.known[at as usize].before
    }
}

fn neighbours(view: GroundView<'_>, cell: Cell) -> impl Iterator<Item = Cell> {
    let lattice = view.ground().lattice();
    let corners = [(1, 1), (-1, 1), (-1, -1), (1, -1)];
    let corners = corners.into_iter().filter(move |_| lattice.is_square());
    let corners = corners.map(move |(dx, dy)| Cell::new(cell.x + dx, cell.y + dy));
    lattice.beside(cell).chain(corners)
}

/// Why a body does not fit into a cell.
fn what_stands(view: GroundView<'_>, cell: Cell) -> Barrier {
    let ground = view.ground();
    if view.is_open(cell) {
        return Barrier::Narrow;
    }
    if ground.is_blocked(cell) {
        return Barrier::Building;
    }
    let doors = ground.doors().iter();
    if doors
        .into_iter()
        .any(|door| door.shut && door.patch.contains(cell))
    {
        return Barrier::Door;
    }
    let gait = &ground.gaits()[usize::from(view.gait().0)];
    match ground.terrain(cell) {
        Some(terrain) if gait.speed_on(terrain).is_some() => Barrier::Slope,
        Some(terrain) => {
            let same = |known: &&crate::ground::Terrain| core::ptr::eq(*known, terrain);
            let class = ground.terrains().iter().position(|known| same(&known));
            Barrier::Terrain(class.unwrap_or(0) as u8)
        }
        None => Barrier::Rim,
    }
}
