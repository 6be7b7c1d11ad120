//! Looking at units without touching them.

use super::activity::Activity;
use super::order::Order;
use super::state::State;
use super::{Kind, KindId, Side, SideId, Spot, UnitId};
use crate::geom::{Block, Vec2};
use crate::route::Standing;

/// A unit, to be looked at. Cheap to copy.
#[derive(Clone, Copy)]
pub struct UnitView<'a> {
    state: &'a State,
    row: usize,
}

/// What a unit is doing.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Doing {
    /// It stands.
    Standing,
    /// It has an order and waits for its route to be found.
    AwaitingRoute,
    /// It walks.
    Going,
    /// It stands, and strikes at a foe.
    Striking,
}

impl<'a> UnitView<'a> {
    pub(super) fn new(state: &'a State, row: usize) -> UnitView<'a> {
        UnitView { state, row }
    }

    /// Its id.
    #[must_use]
    pub fn id(&self) -> UnitId {
        self.state.units.id[self.row]
    }

    /// The number of its kind.
    #[must_use]
    pub fn kind_id(&self) -> KindId {
        self.state.units.kind[self.row]
    }

    /// Its kind.
    #[must_use]
    pub fn kind(&self) -> &'a Kind {
        self.state.kind(self.kind_id())
    }

    /// The number of its side.
    #[must_use]
    pub fn side_id(&self) -> SideId {
        self.state.units.side[self.row]
    }

    /// Its side.
    #[must_use]
    pub fn side(&self) -> &'a Side {
        &self.state.sides[usize::from(self.side_id().0)]
    }

    /// Its radius, in metres.
    #[must_use]
    pub fn radius(&self) -> f32 {
        self.state.units.radius[self.row]
    }

    /// The ground that it covers, for a building with a footprint.
    #[must_use]
    pub fn block(&self) -> Option<Block> {
        self.state.block(self.row)
    }

    /// Its position at the end of the last tick, in metres.
    #[must_use]
    pub fn position(&self) -> Vec2 {
        self.state.units.position[self.row]
    }

    /// Where it looks, in radians.
    #[must_use]
    pub fn facing(&self) -> f32 {
        self.state.units.facing[self.row]
    }

    /// How it moved in the last tick, in metres a second.
    #[must_use]
    pub fn velocity(&self) -> Vec2 {
        self.state.units.velocity[self.row]
    }

    /// What it is doing.
    #[must_use]
    pub fn doing(&self) -> Doing {
        match self.state.units.activity[self.row] {
            Activity::Stand if self.foe().is_some() => Doing::Striking,
            Activity::Stand => Doing::Standing,
            Activity::AwaitRoute { .. } => Doing::AwaitingRoute,
            Activity::Go(_) => Doing::Going,
        }
    }

    /// What it can still suffer, in points; `0` for what cannot be harmed.
    #[must_use]
    pub fn health(&self) -> f32 {
        self.state.units.health[self.row]
    }

    /// The foe that it strikes or goes for.
    #[must_use]
    pub fn foe(&self) -> Option<UnitId> {
        self.state.units.bout[self.row].map(|bout| bout.foe)
    }

    /// Where it sends whoever comes out of it: to each in turn.
    #[must_use]
    pub fn rally_points(&self) -> &'a [Spot] {
        &self.state.units.rally[self.row]
    }

    /// Its orders, the one being carried out first.
    #[must_use]
    pub fn orders(&self) -> &'a [Order] {
        &self.state.units.orders[self.row]
    }

    /// How its request for a route stands; `None` where it has made none. A unit that walks may have
    /// one, too: for a better way, since the ground has changed.
    #[must_use]
    pub fn route_standing(&self) -> Option<Standing> {
        self.state.planner.standing(self.id().number())
    }

    /// The points that it has still to walk to, the place where it will stand last.
    #[must_use]
    pub fn way_ahead(&self) -> &'a [Vec2] {
        match &self.state.units.activity[self.row] {
            Activity::Go(go) => go.ahead(),
            _ => &[],
        }
    }
}
