//! What stands between a goal and the ground that can be reached, where that is least.

use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap, GroundView, Region};
use core::cmp::Reverse;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BinaryHeap};

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

/// Minimum number of cells that the flood from the goal looks at before a flood from the body takes over. Where there are
/// several ways out, only the flood from the goal finds the one with the least closed ground.
const ROUND_THE_GOAL: usize = 4096;

/// What is looked for: the least closed ground between a goal, which lies on the map, and a cell of some regions.
pub(super) struct Quest<'a> {
    pub(super) view: GroundView<'a>,
    pub(super) clearance: &'a ClearanceMap,
    pub(super) regions: &'a [Region],
    pub(super) from: Vec2,
    /// A cell of the first region.
    pub(super) start: Cell,
    pub(super) goal: Cell,
}

/// Floods from the goal, by steps of which those over closed ground are dear, until it comes to the regions. Where these
/// are small and the flood is not, it floods from them to where the goal can be walked to. Costs in proportion to what lies
/// nearer to the goal than the regions do, or to these and what lies round them, whichever is less.
///
/// Gives what stands in between, and the number of cells that it looked at.
pub(super) fn least_barrier(quest: &Quest<'_>) -> Option<(Barrier, u32)> {
    let clearance = quest.clearance;
    let patience = clearance.cells_in(quest.regions).max(ROUND_THE_GOAL);
    let mut flood = Flood::from(quest, &[quest.goal]);
    let mut most = u32::MAX;
    let mut best: Option<(f32, u32)> = None;
    let mut of_goal = None;
    while let Some((cost, at)) = flood.next() {
        if cost > most {
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
        if best.is_none() && flood.known.len() > patience {
            let looked_at = flood.known.len() as u32;
            let (barrier, more) = barrier_from_within(quest, of_goal)?;
            return Some((barrier, looked_at + more));
        }
        flood.spread(cost, at);
    }
    let (_, at) = best?;
    // From there on towards the goal, to the first that is closed.
    let mut on = at;
    while clearance.is_open(flood.cell(on)) && flood.before(on) != on {
        on = flood.before(on);
    }
    let barrier = what_stands(quest.view, flood.cell(on));
    Some((barrier, flood.known.len() as u32))
}

/// The same by a flood from the regions to the region of the goal, or to the first other region if the goal has none.
fn barrier_from_within(quest: &Quest<'_>, of_goal: Option<Region>) -> Option<(Barrier, u32)> {
    let clearance = quest.clearance;
    let mut flood = Flood::from(quest, &clearance.cells_led_to(quest.start));
    while let Some((cost, at)) = flood.next() {
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
            return Some((barrier, flood.known.len() as u32));
        }
        flood.spread(cost, at);
    }
    None
}

impl Quest<'_> {
    fn is_reached(&self, region: Option<Region>) -> bool {
        region.is_some_and(|region| self.regions.contains(&region))
    }
}

/// A flood of cells by what it costs to get to them, closed ones at a price.
struct Flood<'a> {
    view: GroundView<'a>,
    clearance: &'a ClearanceMap,
    /// Cost of each reached cell, and the cell that it was reached from; a start cell has itself. Not an array over the map,
    /// since most floods are much smaller than the map.
    known: BTreeMap<u32, (u32, u32)>,
    open: BinaryHeap<Reverse<(u32, u32)>>,
}

impl<'a> Flood<'a> {
    fn from(quest: &Quest<'a>, cells: &[Cell]) -> Flood<'a> {
        let mut flood = Flood {
            view: quest.view,
            clearance: quest.clearance,
            known: BTreeMap::new(),
            open: BinaryHeap::new(),
        };
        for &cell in cells {
            let number = flood.number(cell);
            flood.known.insert(number, (0, number));
            flood.open.push(Reverse((0, number)));
        }
        flood
    }

    fn number(&self, cell: Cell) -> u32 {
        (cell.y * self.view.ground().width() as i32 + cell.x) as u32
    }

    fn cell(&self, number: u32) -> Cell {
        let width = self.view.ground().width() as i32;
        Cell::new(number as i32 % width, number as i32 / width)
    }

    /// The next cell, and what it costs. Ties by number: the lower row first, then the left.
    fn next(&mut self) -> Option<(u32, u32)> {
        while let Some(Reverse((cost, at))) = self.open.pop() {
            if self.known.get(&at).is_some_and(|(least, _)| *least == cost) {
                return Some((cost, at));
            }
        }
        None
    }

    /// Goes on from a cell to those beside it.
    fn spread(&mut self, cost: u32, at: u32) {
        let ground = self.view.ground();
        let cell = self.cell(at);
        for next in neighbours(self.view, cell).filter(|next| ground.contains(*next)) {
            let diagonal = next.x != cell.x && next.y != cell.y && ground.lattice().is_square();
            let step = if diagonal { 7 } else { 5 };
            let dear = if self.clearance.is_open(next) {
                1
            } else {
                DEAR
            };
            let total = cost + step * dear;
            let number = self.number(next);
            let known = self.known.get(&number);
            if known.is_none_or(|(least, _)| total < *least) {
                self.known.insert(number, (total, at));
                self.open.push(Reverse((total, number)));
            }
        }
    }

    /// From where a cell was reached; itself, where the flood began.
    fn before(&self, at: u32) -> u32 {
        self.known.get(&at).map_or(at, |(_, before)| *before)
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
