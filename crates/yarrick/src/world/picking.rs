//! Which units a point or a box of the screen shows: the world's answers to the player's hand.

use super::{KindId, Rank, SideId, UnitId, UnitView, World};
use crate::geom::{Rect, Vec2, Vec3};
use crate::select::pick::{Pickable, at_point};
use crate::select::{Camera, Relief, Shows};

/// Tiles of the ground no larger than this, in metres, are not split further when a camera's
/// view is searched.
const LEAF_M: f32 = 16.0;

impl World {
    /// The units that a box of the screen shows, of all sides, in order of id: whose body the
    /// box touches for a [`Camera::Flat`], and whose projected bounds it touches for a
    /// [`Camera::Matrix`].
    ///
    /// Costs in proportion to the ground and the units that the box shows.
    #[must_use]
    pub fn in_screen_box(&self, camera: &Camera, screen: Rect) -> Vec<UnitId> {
        let mut found = Vec::new();
        if !(screen.min.is_finite() && screen.max.is_finite()) {
            return found;
        }
        let bounds = self.ground().bounds();
        match camera {
            Camera::Flat(view) => {
                let rect =
                    Rect::from_corners(view.to_ground(screen.min), view.to_ground(screen.max));
                self.filed_in(rect.grown(self.state.derived.farthest))
                    .filter(|unit| match unit.block() {
                        Some(block) => block.touches_rect(&rect),
                        None => rect.touches_disc(unit.position(), unit.radius()),
                    })
                    .for_each(|unit| found.push(unit.id()));
            }
            Camera::Matrix(_) => self.search(camera, screen, bounds, &mut found),
        }
        found.sort_unstable();
        found.dedup();
        found
    }

    /// The units whose body lies within `slack_px` pixels of a point of the screen, of all
    /// sides, the one whose middle is nearest to the point first; ties by id. What a click
    /// means, and what repeated clicks go through.
    #[must_use]
    pub fn under(&self, camera: &Camera, screen: Vec2, slack_px: f32) -> Vec<UnitId> {
        let slack_px = slack_px.max(0.0);
        let around = Rect::around(screen, slack_px);
        let mut found: Vec<(f32, UnitId)> = self
            .in_screen_box(camera, around)
            .into_iter()
            .filter_map(|id| self.unit(id))
            .filter_map(|unit| Some((self.gap_px(camera, screen, slack_px, unit)?, unit.id())))
            .collect();
        found.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
        found.into_iter().map(|(_, id)| id).collect()
    }

    /// How far the middle of a unit is from a point of the screen, if its body is within the
    /// slack of it.
    fn gap_px(
        &self,
        camera: &Camera,
        screen: Vec2,
        slack_px: f32,
        unit: UnitView<'_>,
    ) -> Option<f32> {
        let foot = self.foot(unit);
        let middle = foot + Vec3::new(0.0, 0.0, unit.kind().body.height_m * 0.5);
        let gap = camera.to_screen(middle)?.distance(screen);
        let near = match camera {
            Camera::Flat(view) => match unit.block() {
                Some(block) => block.distance(view.to_ground(screen)) * view.px_per_m <= slack_px,
                None => gap <= unit.radius() * view.px_per_m + slack_px,
            },
            // The box round its projection has been found to be near enough.
            Camera::Matrix(_) => true,
        };
        near.then_some(gap)
    }

    /// The ground point under a point of the screen; `None` where no ground is seen there.
    #[must_use]
    pub fn ground_under(&self, camera: &Camera, screen: Vec2) -> Option<Vec2> {
        let ground = self.ground();
        let height_at = |point: Vec2| ground.height_at(point);
        let relief = Relief {
            height_at: &height_at,
            range: ground.height_range(),
            bounds: ground.bounds(),
        };
        camera.to_ground(screen, &relief)
    }

    /// The unit of a side under a point of the ground: whose edge is within `slack` metres of
    /// it, the nearest first. Costs in proportion to the units near the point.
    #[must_use]
    pub fn pick(&self, side: SideId, point: Vec2, slack: f32) -> Option<UnitId> {
        let slack = slack.max(0.0);
        let near = self.filed_in(Rect::around(point, slack + self.state.derived.farthest));
        // A building is where its footprint is, which its radius says nothing of.
        let is_there = |unit: &UnitView<'_>| {
            let block = unit.block();
            block.is_none_or(|block| block.distance(point) <= slack)
        };
        let own = near
            .filter(|unit| unit.side_id() == side && is_there(unit))
            .map(|unit| {
                let disc = (unit.position(), unit.radius());
                let block = unit.block();
                let (position, radius) =
                    block.map_or(disc, |block| (block.centre, block.half.length()));
                Pickable {
                    id: unit.id(),
                    position,
                    radius,
                }
            });
        at_point(own, point, slack)
    }

    /// All units of a side and kind, in order of id.
    #[must_use]
    pub fn all_of_kind(&self, side: SideId, kind: KindId) -> Vec<UnitId> {
        self.ids_where(|unit| unit.side_id() == side && unit.kind_id() == kind)
    }

    /// The workers of a side that have no order, in order of id.
    #[must_use]
    pub fn idle_workers(&self, side: SideId) -> Vec<UnitId> {
        self.ids_where(|unit| {
            unit.side_id() == side && unit.kind().rank == Rank::Worker && !unit.has_orders()
        })
    }

    fn ids_where(&self, fits: impl Fn(UnitView<'_>) -> bool) -> Vec<UnitId> {
        let fitting = self.units().filter(|unit| fits(*unit));
        let mut found: Vec<UnitId> = fitting.map(|unit| unit.id()).collect();
        found.sort_unstable();
        found
    }

    /// Where a unit stands, with the height of the ground.
    fn foot(&self, unit: UnitView<'_>) -> Vec3 {
        let at = unit.position();
        at.extend(self.ground().height_at(at))
    }

    /// The corners of the upright box round a unit's body.
    pub fn corners(&self, unit: UnitView<'_>) -> [Vec3; 8] {
        let foot = self.foot(unit);
        let ground = match unit.block() {
            Some(block) => block.corners(),
            None => [(1.0, 1.0), (-1.0, 1.0), (-1.0, -1.0), (1.0, -1.0)]
                .map(|(x, y)| unit.position() + Vec2::new(x, y) * unit.radius()),
        };
        let top = foot.z + unit.kind().body.height_m;
        core::array::from_fn(|k| ground[k % 4].extend(if k < 4 { foot.z } else { top }))
    }

    /// Searches a tile of the ground for units that a box of the screen shows: quarter by
    /// quarter, leaving out those that the box cannot show.
    fn search(&self, camera: &Camera, screen: Rect, tile: Rect, found: &mut Vec<UnitId>) {
        let reach = tile.grown(self.state.derived.farthest);
        let (low, high) = self.ground().height_range();
        let top = high + self.state.derived.tallest;
        let whole = match camera.shows(screen, reach.min.extend(low), reach.max.extend(top)) {
            Shows::None => return,
            Shows::Part => false,
            Shows::All => true,
        };
        let size = tile.size();
        if whole || size.max_element() <= LEAF_M {
            let shown = |unit: &UnitView<'_>| {
                if whole {
                    return true;
                }
                let bounds = camera.bounds_of(self.corners(*unit));
                bounds.is_some_and(|bounds| {
                    bounds.min.cmple(screen.max).all() && screen.min.cmple(bounds.max).all()
                })
            };
            self.filed_in(tile)
                .filter(shown)
                .for_each(|unit| found.push(unit.id()));
            return;
        }
        let middle = tile.min + size * 0.5;
        for corner in [
            tile.min,
            Vec2::new(tile.max.x, tile.min.y),
            tile.max,
            Vec2::new(tile.min.x, tile.max.y),
        ] {
            self.search(camera, screen, Rect::from_corners(middle, corner), found);
        }
    }

    /// The units that stand in a box of the ground.
    pub(super) fn filed_in(&self, rect: Rect) -> impl Iterator<Item = UnitView<'_>> {
        let scratch = &self.scratch;
        let indexed = scratch
            .near
            .in_rect(rect)
            .take_while(|_| !scratch.near_is_stale);
        // Units that came since the last tick are not in the index yet.
        let all = 0..self.state.units.len() as u32;
        let unindexed = all.take_while(|_| scratch.near_is_stale);
        indexed
            .chain(unindexed)
            .map(|row| self.unit_at(row as usize))
            .filter(move |unit| rect.contains(unit.position()))
    }
}
