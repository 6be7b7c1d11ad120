//! Whether somebody who gathers can get to each depot.

use super::error::Diagnostic;
use super::units::{Cast, Placed};
use crate::geom::Vec2;
use crate::ground::{ClearanceMap, Ground, Patch, Region};
use crate::route::footing_or_free;
use crate::site::{cells_under, is_walled_off};
use crate::world::{AT_DEPOT_M, Kind};
use std::collections::BTreeMap;

/// Reports each depot that no gatherer of its side can reach at the start. Sides without gatherers are skipped, since they may
/// produce some anywhere, and so are maps with a shut door, which may open.
pub(super) fn check(cast: &Cast<'_>) {
    let Some(ground) = cast
        .ground
        .filter(|ground| ground.doors().iter().all(|door| !door.shut))
    else {
        return;
    };
    let kind_of = |placed: &Placed| {
        let known = cast.kinds.all.get(usize::from(placed.kind.0))?;
        known.has_body.then_some(&known.kind)
    };
    let all = || cast.placed.iter().zip(&cast.spans);
    let known = all().filter_map(|(placed, span)| Some((placed, span, kind_of(placed)?)));
    let known: Vec<_> = known.collect();
    if known.iter().all(|(.., kind)| kind.depot.is_none()) {
        return;
    }
    let mut built = ground.clone();
    for (placed, _, kind) in &known {
        if let Some(block) = kind.footprint_at(placed.at, placed.facing)
            && kind.closes_ground()
        {
            let cells: Vec<_> = cells_under(&built, &block).collect();
            built.block(cells);
        }
    }
    let mut maps: BTreeMap<u16, ClearanceMap> = BTreeMap::new();
    for (depot, span, kind) in known.iter().filter(|(.., kind)| kind.depot.is_some()) {
        let of_side = known
            .iter()
            .filter(|(placed, ..)| placed.side == depot.side);
        let mut gatherers = of_side.filter(|(.., kind)| kind.carries() > 0).peekable();
        if gatherers.peek().is_none() {
            continue;
        }
        let reaches = gatherers.any(|(placed, _, gatherer)| {
            let body = &gatherer.body;
            let map = || ClearanceMap::for_gait(&built, body.gait, body.radius_m);
            let clearance = maps.entry(placed.kind.0).or_insert_with(map);
            can_get(&built, clearance, (placed.at, gatherer), (depot, kind))
        });
        if !reaches {
            let side = cast.sides.all.get(usize::from(depot.side.0));
            let side = side.map_or("", |side| side.name.as_str());
            let message = format!("none of those who gather for {side:?} can get to this depot");
            let fix = "open the ground between, or put it elsewhere";
            cast.context
                .note(Diagnostic::new((*span).clone(), message).with_fix(fix));
        }
    }
}

/// Whether a body gets from a point to the edge of a depot.
fn can_get(
    ground: &Ground,
    clearance: &ClearanceMap,
    (from, gatherer): (Vec2, &Kind),
    (depot, kind): (&Placed, &Kind),
) -> bool {
    let radius = gatherer.body.radius_m;
    let footing = footing_or_free(ground, clearance, radius, from);
    let Some(start) = footing.and_then(|footing| clearance.region(footing.cell)) else {
        return false;
    };
    let reach_m = radius + AT_DEPOT_M + ground.cell_m() * core::f32::consts::SQRT_2;
    let block = kind.footprint_at(depot.at, depot.facing);
    let gap = |at: Vec2| match &block {
        Some(block) => block.distance(at),
        None => depot.at.distance(at) - kind.body.radius_m,
    };
    let wide = Vec2::splat(reach_m + kind.reach_m());
    let around = Patch::between(
        ground.nearest_cell(depot.at - wide),
        ground.nearest_cell(depot.at + wide),
    );
    let leads = |there: Region| clearance.leads_to(start, there);
    let view = ground.view(gatherer.body.gait);
    let is_parted = |at: Vec2| {
        block
            .as_ref()
            .is_some_and(|block| is_walled_off(view, block, at))
    };
    around.cells().any(|cell| {
        let at = ground.centre(cell);
        gap(at) <= reach_m && clearance.region(cell).is_some_and(leads) && !is_parted(at)
    })
}
