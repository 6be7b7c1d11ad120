//! Sites: what speaks against a building somewhere, and reserving a place for one.

use super::ids::{SideId, UnitId};
use super::kind::{Kind, KindId};
use super::message::SiteObjection;
use super::state::{Construction, NoEntry, Pose, State};
use crate::economy::{Ledger, Price};
use crate::geom::{Block, Vec2};
use crate::ground::{Cell, Ground, Patch};
use crate::near::Near;
use crate::site::{Objection, Way, cells_under, closed_ways, objections};
use std::collections::BTreeSet;

/// Everything that speaks against a building of a kind for a side. Without a `near` everybody is looked at.
pub(crate) fn verdict(
    state: &State,
    near: Option<&Near>,
    (kind, side): (KindId, SideId),
    pose: Pose,
) -> Vec<SiteObjection> {
    let Some(known) = state.rules.kinds.get(usize::from(kind.0)) else {
        return Vec::new();
    };
    let Some(block) = known.footprint_at(pose.position, pose.facing) else {
        return Vec::new();
    };
    let mut against = on_the_spot(state, near, known, block);
    if let Some(ledger) = state.ledgers.get(usize::from(side.0)) {
        let missing = ledger.owned().missing_for(&known.cost.price);
        against.extend(missing.map(SiteObjection::NotAffordable));
    }
    // Where it cannot stand, no way is looked for.
    if known.closes_ground() && !against.iter().any(is_about_place) {
        let cells: Vec<Cell> = cells_under(&state.ground, &block).collect();
        against.extend(ways_it_closes(state, &cells));
    }
    against
}

/// What speaks against a footprint where it lies. That the ground under another building is closed is not said again
/// where it overlaps that.
fn on_the_spot(
    state: &State,
    near: Option<&Near>,
    kind: &Kind,
    block: Block,
) -> Vec<SiteObjection> {
    let reach_m = kind.reach_m() + state.derived.farthest;
    let all = near.is_none().then_some(0..state.units.len());
    let filed = near.map(|near| near.within(block.centre, reach_m));
    let rows = all.into_iter().flatten();
    let rows = rows.chain(filed.into_iter().flatten().map(|row| row as usize));
    let bodies = rows.filter(|row| !state.kind_of(*row).closes_ground());
    let units = &state.units;
    let body = |row: usize| (units.id[row], units.position[row], units.radius[row]);
    let view = state.ground.view(kind.body.gait);
    let found = objections(view, block, state.buildings(None), bodies.map(body));
    let mut overlapped: BTreeSet<Cell> = BTreeSet::new();
    let mut against = Vec::new();
    // Overlaps come before closed cells.
    for objection in found {
        against.push(match objection {
            Objection::OffTheMap => SiteObjection::OffTheMap,
            Objection::Overlaps { building } => {
                let other = units.row(building).and_then(|row| state.block(row));
                let cells = other.map(|other| cells_under(&state.ground, &other));
                overlapped.extend(cells.into_iter().flatten());
                SiteObjection::Overlaps { building }
            }
            Objection::ClosedGround { at } => {
                let cell = state.ground.cell_at(at);
                if cell.is_some_and(|cell| overlapped.contains(&cell)) {
                    continue;
                }
                SiteObjection::ClosedGround { at }
            }
            Objection::InTheWay { body } => SiteObjection::InTheWay { unit: body },
        });
    }
    against
}

fn is_about_place(objection: &SiteObjection) -> bool {
    matches!(
        objection,
        SiteObjection::OffTheMap
            | SiteObjection::Overlaps { .. }
            | SiteObjection::ClosedGround { .. }
    )
}

/// The last ways of the assault that would be closed: each entry and goal once.
fn ways_it_closes(state: &State, cells: &[Cell]) -> Vec<SiteObjection> {
    let Some(running) = &state.assault else {
        return Vec::new();
    };
    let waves = running.assault.plan().waves.iter();
    let batches = waves.flat_map(|wave| &wave.batches);
    let mut asked: Vec<(u16, u16, u16)> = batches
        .filter_map(|batch| {
            let clearance = state.derived.clearance_of.get(usize::from(batch.kind))?;
            Some((*clearance, batch.entry, batch.goal))
        })
        .collect();
    asked.sort_unstable();
    asked.dedup();
    let mut closed: Vec<(u16, u16)> = Vec::new();
    for of_class in asked.chunk_by(|a, b| a.0 == b.0) {
        let clearance = &state.derived.clearances[usize::from(of_class[0].0)];
        // To touch the goal is enough, and a body need not stand in the middle of a cell.
        let beside_m = clearance.radius() + state.ground.cell_m() * 0.5;
        let ends = |&(_, entry, goal): &(u16, u16, u16)| {
            let entry = running.entries.get(usize::from(entry))?;
            let goal = running.goals.get(usize::from(goal))?;
            Some(Way {
                from: disc(&state.ground, entry.at, entry.spread_m),
                to: disc(&state.ground, goal.at, goal.radius_m + beside_m),
            })
        };
        let ways: Vec<Way> = of_class.iter().filter_map(ends).collect();
        let numbers = closed_ways(&state.ground, clearance, cells, &ways);
        closed.extend(numbers.into_iter().map(|number| {
            let (_, entry, goal) = of_class[number];
            (entry, goal)
        }));
    }
    closed.sort_unstable();
    closed.dedup();
    let objection = |(entry, goal)| SiteObjection::ClosesWay { entry, goal };
    closed.into_iter().map(objection).collect()
}

/// The cells whose middle lies in a disc, and the one that its middle lies in.
fn disc(ground: &Ground, at: Vec2, radius_m: f32) -> Vec<Cell> {
    let (middle, reach) = (ground.nearest_cell(at), Vec2::splat(radius_m));
    let box_of = Patch::between(
        ground.nearest_cell(at - reach),
        ground.nearest_cell(at + reach),
    );
    let is_in = |cell: &Cell| *cell == middle || ground.centre(*cell).distance(at) <= radius_m;
    box_of.cells().filter(is_in).collect()
}

/// Reserves a site and pays for it.
///
/// # Errors
/// The first thing that speaks against it.
pub(crate) fn reserve(
    state: &mut State,
    near: Option<&Near>,
    (kind, side): (KindId, SideId),
    pose: Pose,
) -> Result<UnitId, NotReserved> {
    if let Some(first) = verdict(state, near, (kind, side), pose).into_iter().next() {
        return Err(NotReserved::Objection(first));
    }
    let mut row = state
        .check_entry(kind, side, pose.position, pose.facing)
        .map_err(NotReserved::NoEntry)?;
    let cost = state.kind(kind).cost.clone();
    let ledger = state.ledgers.get_mut(usize::from(side.0));
    if ledger.is_none_or(|ledger: &mut Ledger| ledger.pay(&cost.price).is_err()) {
        return Err(NotReserved::NoEntry(NoEntry::Side));
    }
    // It grows as it is built.
    row.health = row.health.min(1.0);
    let takes = (cost.time_s * state.rules.ticks_per_second as f32).round() as u32;
    Ok(state.enter_as_site(row, construction(cost.price, takes)))
}

fn construction(price: Price, takes: u32) -> Construction {
    Construction {
        price,
        done: 0,
        takes,
        has_begun: false,
    }
}

/// Why a site was not reserved.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum NotReserved {
    Objection(SiteObjection),
    NoEntry(NoEntry),
}
