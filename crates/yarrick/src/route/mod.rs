//! Finding the way: the search on the grid, and the path pulled straight.
//!
//! The types to know: [`Router`] (the search and its reusable workspace), [`Route`] (what it
//! found) and [`Reach`] (how near a body can get to a point, answered without a search). Beneath the
//! router lie [`Search`] (a cheapest way by cells) and [`FarSearch`] (a long one by a chart of the map);
//! it takes whichever is quicker.
//!
//! ```
//! use yarrick::geom::Vec2;
//! use yarrick::ground::{Ground, ClearanceMap, Terrain};
//! use yarrick::route::Router;
//!
//! let ground = Ground::from_rows(
//!     1.0,
//!     &[".....",
//!       ".###.",
//!       "...#.",
//!       "...#."],
//!     &[('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))],
//! )?;
//! let clearance = ClearanceMap::new(&ground, 0.4);
//! let route = Router::default()
//!     .find(&ground, &clearance, 0.4, Vec2::new(2.5, 0.5), Vec2::new(4.5, 0.5))
//!     .unwrap();
//!
//! assert_eq!(route.points.first(), Some(&Vec2::new(2.5, 0.5)));
//! assert_eq!(route.points.last(), Some(&Vec2::new(4.5, 0.5)));
//! assert!(route.short.is_none());
//! assert!(route.length_m > 9.0, "{}", route.length_m);
//! # Ok::<(), yarrick::ground::GroundError>(())
//! ```
//!
//! It finds a way over the ground as it lies. Units that stand in the way are not its business:
//! see [`motion`](crate::motion).

mod barrier;
mod buckets;
mod cells;
mod descent;
mod detour;
mod far;
mod field;

mod goal;
mod jump;
mod known;
mod leaps;
mod line;
mod nodes;
mod planner;
mod queue;
mod reach;
mod rounded;
mod router;
mod scan;
mod search;
mod smooth;
mod turns;
mod waypoints;
mod work;

pub use crate::ground::steps::{DIAGONAL, STRAIGHT};
pub use barrier::Barrier;
pub use far::FarSearch;
pub use field::{FieldError, GoalField, NextPoint};
pub use goal::Goal;
pub use planner::{Ask, COST_OF_A_ROUTE, Group, MANY, Planner, RouteRequest, Standing};
pub use reach::{Reach, Shortfall, reach};
pub(crate) use reach::{cell_in_reach, footing_or_free, footing_towards, nearest_free};
pub use rounded::round_corners;
pub use router::Router;
pub use search::{Found, Progress, Search};
pub use waypoints::{Leg, MAX_LEG_COST_M, MAX_WAYPOINTS, Trip, Waypoint, WaypointError, Waypoints};
pub(crate) use work::{BEGUN_A_CELL, SPREAD_A_CELL};

use crate::geom::Vec2;
use crate::ground::{ClearanceMap, Ground, GroundView, LinkId};

/// A way over the ground.
#[derive(Clone, Debug, PartialEq)]
pub struct Route {
    /// The corners of the way in metres, start and end included. A body that walks from one to
    /// the next in straight lines touches no closed ground.
    pub points: Vec<Vec2>,
    /// The length of the way, in metres.
    pub length_m: f32,
    /// The metres of plain ground that take as long to walk.
    pub cost_m: f32,
    /// How the end differs from the point asked for, or `None` when it is that point.
    pub short: Option<Shortfall>,
    /// What stands between the end and the point asked for, where that is out of reach.
    pub barrier: Option<Barrier>,
    /// How far the start lay from the nearest free place, in metres, if it lay in closed ground: the
    /// way begins in that place. `0` otherwise.
    pub pushed_m: f32,
    /// How many cells were looked at, to find the way and, where the goal is out of reach, the place nearest to
    /// it: the work that it took.
    pub settled: u32,
    /// The links that it takes, each with the number of the point to which it leads: the leg that ends
    /// there is over no ground.
    pub links: Vec<(u32, LinkId)>,
}

/// Why there is no route.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum NoRoute {
    /// A coordinate is NaN or infinite.
    #[error("a coordinate is not a finite number")]
    NotFinite,
    /// The radius is negative, NaN, or larger than any map has room for.
    #[error("the radius is not a length that a body can have on this map")]
    BadRadius,
    /// There is no body of that kind.
    #[error("there is no body of that kind")]
    NoSuchBody,
    /// The goal names no point and no cell.
    #[error("the goal names no point and no cell")]
    NoGoal,
    /// The start lies in closed ground or off the map, and there is no free place for a body of this
    /// radius anywhere.
    #[error("the start lies in closed ground, and no place is free for this body")]
    StartClosed,
    /// The goal cannot be reached, and nothing nearer to it than the start can.
    #[error("no way leads nearer: {0}")]
    NoWay(Shortfall),
}

/// The metres of plain ground that take as long as a way from a point past some others.
pub(crate) fn cost_of_way(
    ground: &Ground,
    clearance: &ClearanceMap,
    from: Vec2,
    past: &[Vec2],
) -> f32 {
    let view = ground.view(clearance.gait());
    let first = past.first().map(|to| [from, *to]);
    let first = first.map_or(0.0, |leg| {
        smooth::plain_metres((view, clearance), &leg, &[])
    });
    first + smooth::plain_metres((view, clearance), past, &[])
}

impl Route {
    /// A way that leads nowhere, since the body is there already.
    fn standing(at: Vec2, pushed_m: f32) -> Route {
        Route {
            points: vec![at, at],
            length_m: 0.0,
            cost_m: 0.0,
            short: None,
            barrier: None,
            pushed_m,
            settled: 0,
            links: Vec::new(),
        }
    }

    /// Goes on by points of which the first is where it ends, and by links among these.
    fn append(&mut self, points: &[Vec2], links: &[(u32, LinkId)]) {
        let before = self.points.len().saturating_sub(1) as u32;
        let links = links.iter().map(|(at, link)| (at + before, *link));
        self.links.extend(links);
        let known = usize::from(!self.points.is_empty());
        self.points.extend_from_slice(&points[known..]);
    }

    /// Works out its length and cost.
    fn measure(&mut self, view: GroundView<'_>, clearance: &ClearanceMap) {
        self.cost_m = smooth::plain_metres((view, clearance), &self.points, &self.links);
        self.length_m = self.points.windows(2).map(|p| p[0].distance(p[1])).sum();
    }

    /// Cuts it short on its last leg, where that comes to satisfy something that holds from there on.
    fn end_where(&mut self, is_met: impl Fn(Vec2) -> bool) {
        let count = self.points.len();
        let is_link = self.links.iter().any(|(at, _)| *at as usize + 1 == count);
        let &[.., before, end] = &self.points[..] else {
            return;
        };
        if is_link || !is_met(end) {
            return;
        }
        let (mut out, mut inside) = (0.0_f32, 1.0_f32);
        if is_met(before) {
            inside = 0.0;
        }
        for _ in 0..12 {
            let middle = (out + inside) * 0.5;
            if is_met(before.lerp(end, middle)) {
                inside = middle;
            } else {
                out = middle;
            }
        }
        self.points[count - 1] = before.lerp(end, inside);
    }
}
