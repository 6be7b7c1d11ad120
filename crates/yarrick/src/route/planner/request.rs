//! Requests for routes.

use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap};
use crate::route::Goal;
use serde::{Deserialize, Serialize};

/// What a route costs besides the cells that its search settles: nothing is free.
pub const COST_OF_A_ROUTE: u32 = 64;

/// Those that go to places round one point, with bodies that find the ground alike.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub struct Group {
    /// The caller's number for the clearance map that they use.
    pub body: u16,
    /// The point, as a cell: rows before columns, so that groups have an order.
    pub at: (i32, i32),
}

impl Group {
    /// Those of a body that go to places round the middle of a cell.
    #[must_use]
    pub fn new(body: u16, cell: Cell) -> Group {
        Group {
            body,
            at: (cell.y, cell.x),
        }
    }

    /// The point, as a cell.
    #[must_use]
    pub fn cell(&self) -> Cell {
        Cell::new(self.at.1, self.at.0)
    }
}

/// A place in the line.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct RouteRequest {
    /// The caller's name for the body that needs the route.
    pub who: u64,
    /// The side that it belongs to, up to 255.
    pub side: u8,
    /// Whether it goes before all that are not urgent.
    pub urgent: bool,
    /// With whom it goes.
    pub group: Option<Group>,
}

impl RouteRequest {
    /// A ticket of side 0 that is not urgent, for one that goes alone.
    #[must_use]
    pub fn new(who: u64) -> RouteRequest {
        RouteRequest {
            who,
            side: 0,
            urgent: false,
            group: None,
        }
    }
}

/// What the holder of a ticket wants when its turn has come.
#[derive(Clone, Debug)]
pub struct Ask<'a> {
    /// The caller's number for the clearance map, as in [`Group::body`].
    pub body: u16,
    /// The ground as its body finds it.
    pub clearance: &'a ClearanceMap,
    /// The radius of its body, in metres.
    pub radius: f32,
    /// Where it stands, in metres.
    pub from: Vec2,
    /// Where it wants to go.
    pub goal: Goal,
}
