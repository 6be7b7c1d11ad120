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

/// What is looked for: the least closed ground between a goal, which lies on the map, and a cell of some regions.
pub(super) struct Quest<'a> {
    pub(super) view: GroundView<'a>,
    pub(super) clearance: &'a ClearanceMap,
    pub(super) regions: &'a [Region],
    pub(super) from: Vec2,
    pub(super) goal: Cell,
}

/// Floods from the goal, by steps of which those over closed ground are dear, until it comes to the
/// regions. Costs in proportion to what lies nearer to the goal than they do.
///
/// Gives what stands in between, and the number of cells that it looked at.
pub(super) fn least_barrier(quest: &Quest<'_>) -> Option<(Barrier, u32)> {
    let (view, clearance) = (quest.view, quest.clearance);
    let ground = view.ground();
    let width = ground.width() as i32;
    let number = |cell: Cell| (cell.y * width + cell.x) as u32;
    let cell_of = |number: u32| Cell::new(number as i32 % width, number as i32 / width);
    // What each costs and from where it was reached, itself for the goal: only of those that were, since
    // most floods are small and most maps are not.
    let mut known: BTreeMap<u32, (u32, u32)> = BTreeMap::new();
    let mut open = BinaryHeap::new();
    known.insert(number(quest.goal), (0, number(quest.goal)));
    // Ties by number: the lower row first, then the left.
    open.push(Reverse((0_u32, number(quest.goal))));
    let mut most = u32::MAX;
    let mut best: Option<(f32, u32)> = None;
    while let Some(Reverse((cost, at))) = open.pop() {
        if cost > most {
            break;
        }
        if known.get(&at).is_none_or(|(least, _)| *least != cost) {
            continue;
        }
        let cell = cell_of(at);
        let region = clearance.region(cell);
        if region.is_some_and(|region| quest.regions.contains(&region)) {
            most = most.min(cost + (cost / NEARLY_PART).min(NEARLY_MOST));
            let far = ground.centre(cell).distance(quest.from);
            if best.is_none_or(|(known, _)| far < known) {
                best = Some((far, at));
            }
            continue;
        }
        for next in neighbours(view, cell) {
            if !ground.contains(next) {
                continue;
            }
            let diagonal = next.x != cell.x && next.y != cell.y && ground.lattice().is_square();
            let step = if diagonal { 7 } else { 5 };
            let dear = if clearance.is_open(next) { 1 } else { DEAR };
            let total = cost + step * dear;
            let number = number(next);
            if known.get(&number).is_none_or(|(least, _)| total < *least) {
                known.insert(number, (total, at));
                open.push(Reverse((total, number)));
            }
        }
    }
    let (_, at) = best?;
    // From there on towards the goal, to the first that is closed.
    let mut on = at;
    let towards = |at: u32| known.get(&at).map_or(at, |(_, from)| *from);
    while clearance.is_open(cell_of(on)) && towards(on) != on {
        on = towards(on);
    }
    let barrier = what_stands(view, cell_of(on));
    Some((barrier, known.len() as u32))
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
