//! Queries: units near a point, reachability, routes without an order, free places.

use super::{KindId, UnitView, World};
use crate::geom::{Rect, Vec2, is_within};
use crate::ground::ClearanceMap;
use crate::route::{NoRoute, Route, Router, Shortfall, cell_in_reach, footing_towards};
use crate::world::message::MAX_COORDINATE_M;

impl World {
    /// The units whose body, or footprint, lies at least partly within `radius_m` metres of a point. The order is
    /// unspecified, but the same in every run. Empty if a number is negative, NaN or infinite.
    ///
    /// Complexity: the number of units in and around the circle.
    ///
    /// ```
    /// # use yarrick::{Ground, Kind, Side, Terrain, Vec2, World, WorldSetup};
    /// # let ground = Ground::from_rows(1.0, &["............"; 8], &[('.', Terrain::open("sand"))])?;
    /// # let mut world = World::new(WorldSetup {
    /// #     sides: vec![Side::new("keepers"), Side::new("tide")],
    /// #     kinds: vec![Kind::walker("raker", 0.4, 1.5), Kind::walker("nipper", 0.35, 2.0)],
    /// #     ..WorldSetup::on(ground)
    /// # })?;
    /// # let (keepers, tide) = (world.side("keepers").unwrap(), world.side("tide").unwrap());
    /// let (raker, nipper) = (world.kind("raker").unwrap(), world.kind("nipper").unwrap());
    /// world.spawn(raker, keepers, Vec2::new(2.0, 2.0), 0.0)?;
    /// let near = world.spawn(nipper, tide, Vec2::new(5.0, 2.0), 0.0)?;
    /// world.spawn(nipper, tide, Vec2::new(9.0, 2.0), 0.0)?;
    ///
    /// let foes = world.units_within(Vec2::new(2.0, 2.0), 4.0).filter(|unit| unit.side_id() == tide);
    /// assert_eq!(foes.map(|unit| unit.id()).collect::<Vec<_>>(), [near]);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn units_within(&self, at: Vec2, radius_m: f32) -> impl Iterator<Item = UnitView<'_>> {
        let sound = is_within(at.extend(radius_m), MAX_COORDINATE_M * 2.0) && radius_m >= 0.0;
        let around = Rect::around(at, radius_m + self.state.derived.farthest);
        let near = sound.then(|| self.filed_in(around)).into_iter().flatten();
        near.filter(move |unit| self.state.gap_from(at, radius_m, unit.row()) <= 0.0)
    }

    /// The units whose middle lies in a box. The order is unspecified, but the same in every run.
    ///
    /// Complexity: the number of units in and around the box.
    pub fn units_in_box(&self, rect: Rect) -> impl Iterator<Item = UnitView<'_>> {
        let sound = rect.min.is_finite() && rect.max.is_finite();
        sound.then(|| self.filed_in(rect)).into_iter().flatten()
    }

    /// Whether a body of this kind could walk from one point to another on the ground as it is now. Other units, and
    /// the speed of the kind, are ignored. A start in closed ground is moved to the nearest free place.
    ///
    /// # Errors
    /// The reason why not. [`Shortfall::CutOff`] for a kind that does not exist.
    pub fn can_reach(&self, kind: KindId, from: Vec2, to: Vec2) -> Result<(), Shortfall> {
        let (clearance, radius) = self.body(kind).ok_or(Shortfall::CutOff)?;
        if !(from.is_finite() && to.is_finite()) {
            return Err(Shortfall::OffMap);
        }
        let ground = self.ground();
        let footing = footing_towards(ground, clearance, radius, (from, to));
        let footing = footing.ok_or(Shortfall::CutOff)?;
        let region = clearance.region(footing.cell).ok_or(Shortfall::CutOff)?;
        cell_in_reach(ground, clearance, radius, region, to).map(|_| ())
    }

    /// The route that a unit of this kind would get from one point to another. No unit is ordered. Each call allocates
    /// the workspace of a search; for many routes keep a [`Router`].
    ///
    /// # Errors
    /// See [`Router::find`]; [`NoRoute::NoSuchBody`] for a kind that does not exist.
    pub fn find_route(&self, kind: KindId, from: Vec2, to: Vec2) -> Result<Route, NoRoute> {
        let (clearance, radius) = self.body(kind).ok_or(NoRoute::NoSuchBody)?;
        Router::default().find(self.ground(), clearance, radius, from, to)
    }

    /// The place nearest to a point, at most `within_m` metres from it, where a unit of a kind could stand now: its
    /// body, or the footprint of a building that faces 0 radians, lies on clear ground and touches no other unit. The
    /// place is the point itself or the middle of a cell. `None` if there is no such place.
    ///
    /// Complexity: the number of cells nearer than the place, and the units there.
    #[must_use]
    pub fn nearest_free_spot(&self, kind: KindId, at: Vec2, within_m: f32) -> Option<Vec2> {
        self.body(kind)?;
        let near = (!self.scratch.near_is_stale).then_some(&self.scratch.near);
        self.state
            .nearest_free_spot(near, kind, (at, 0.0), within_m, |_| true)
    }

    /// The clearance map and the radius, in metres, of the bodies of a kind.
    fn body(&self, kind: KindId) -> Option<(&ClearanceMap, f32)> {
        let derived = &self.state.derived;
        let clearance = derived.clearance_of.get(usize::from(kind.0))?;
        let clearance = derived.clearances.get(usize::from(*clearance))?;
        Some((clearance, self.state.kind(kind).body.radius_m))
    }
}
