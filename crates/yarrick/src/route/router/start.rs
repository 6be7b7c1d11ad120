//! Where a way begins.

use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap, GroundView, Region};
use crate::route::{NoRoute, reach};

/// Where a way begins: where the body stands, or in the nearest free place.
#[derive(Clone, Copy, Debug)]
pub(super) struct Start {
    pub(super) from: Vec2,
    /// Where it sets foot on the grid, and the part of the ground in which that lies.
    pub(super) footing: reach::Footing,
    pub(super) region: Region,
    /// How far it lies from where the body stands, in metres.
    pub(super) pushed_m: f32,
}

impl Start {
    /// The start of a body that stands at a point.
    pub(super) fn new(
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        from: Vec2,
    ) -> Result<Start, NoRoute> {
        let ground = view.ground();
        let mut at = from;
        let footing = reach::footing(ground, clearance, radius, from).or_else(|| {
            at = reach::nearest_free(view, clearance, radius, from)?;
            reach::footing(ground, clearance, radius, at)
        });
        let footing = footing.ok_or(NoRoute::StartClosed)?;
        let region = clearance.region(footing.cell).ok_or(NoRoute::StartClosed)?;
        Ok(Start {
            from: at,
            footing,
            region,
            pushed_m: at.distance(from),
        })
    }

    /// Begins in a region that leads to one of the regions `ends`, if the body sees a cell of such a region.
    pub(super) fn turn_to(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        ends: &[Region],
    ) {
        if self.leads_to_any(clearance, ends) {
            return;
        }
        let leads_there = |cell: Cell| {
            let region = clearance.region(cell);
            region.is_some_and(|region| Start { region, ..*self }.leads_to_any(clearance, ends))
        };
        let cell = reach::cell_in_sight(view, clearance, radius, self.from, leads_there);
        if let Some((cell, region)) = cell.and_then(|cell| Some((cell, clearance.region(cell)?))) {
            self.footing = reach::Footing { cell, via: None };
            self.region = region;
        }
    }

    /// Whether a way leads to one of the regions `ends`.
    pub(super) fn leads_to_any(&self, clearance: &ClearanceMap, ends: &[Region]) -> bool {
        ends.iter()
            .any(|region| clearance.leads_to(self.region, *region))
    }
}
