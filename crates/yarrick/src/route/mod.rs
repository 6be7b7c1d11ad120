//! Finding the way: the search on the grid, and the path pulled straight.
//!
//! The types to know: [`Router`] (the search and its reusable workspace), [`Route`] (what it
//! found) and [`Reach`] (how near a body can get to a point, answered without a search).
//!
//! ```
//! use yarrick::geom::Vec2;
//! use yarrick::ground::{Ground, Passage, Terrain};
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
//! let passage = Passage::new(&ground, 0.4);
//! let route = Router::default()
//!     .find(&ground, &passage, 0.4, Vec2::new(2.5, 0.5), Vec2::new(4.5, 0.5))
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

mod buckets;
mod cells;
mod detour;
mod field;
mod jump;
mod line;
mod reach;
mod search;
mod smooth;
mod steps;

pub use field::{FieldError, GoalField};
pub(crate) use reach::footing;
pub use reach::{Reach, Shortfall, reach};
pub use search::{Found, Progress, Search};
pub use steps::{DIAGONAL, STRAIGHT};

use crate::geom::Vec2;
use crate::ground::{Cell, Ground, LinkId, Passage};

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
    /// How many cells the search settled: the work that it took.
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
    /// The start lies in closed ground, too near to it for a body of this radius, or off the map.
    #[error("the start lies in closed ground, too near to it, or off the map")]
    StartClosed,
    /// The goal cannot be reached, and nothing nearer to it than the start can.
    #[error("no way leads nearer: {0}")]
    NoWay(Shortfall),
}

/// Finds routes. Holds only workspace, which grows to the size of the map and is reused.
#[derive(Clone, Debug, Default)]
pub struct Router {
    search: Search,
    /// Whether the last route needed a search.
    has_searched: bool,
    pull: smooth::Pull,
}

impl Router {
    /// The way of a body of `radius` metres from one point to another, or to the nearest point
    /// that it can reach. `passage` must be that of the same ground and radius.
    ///
    /// The cells on the way are optimal (see [`Search`]); pulling the path straight makes it
    /// shorter still, and never slower where ground is slow.
    ///
    /// # Errors
    /// [`NoRoute`] for points that are not finite, a start in closed ground, or where no way
    /// leads nearer to the goal.
    pub fn find(
        &mut self,
        ground: &Ground,
        passage: &Passage,
        radius: f32,
        from: Vec2,
        to: Vec2,
    ) -> Result<Route, NoRoute> {
        self.has_searched = false;
        if !(from.is_finite() && to.is_finite()) {
            return Err(NoRoute::NotFinite);
        }
        let start = reach::footing(ground, passage, radius, from).ok_or(NoRoute::StartClosed)?;
        let region = passage.region(start.cell).ok_or(NoRoute::StartClosed)?;
        let reach = reach(ground, passage, radius, region, to).ok_or(NoRoute::StartClosed)?;
        if let Some(short) = reach.short
            && !reach.leads_nearer(from, to, ground.cell_m())
        {
            return Err(NoRoute::NoWay(short));
        }
        let ends = smooth::Ends {
            from,
            via: start.via,
            to: reach.point,
            radius,
        };
        let going = ground.going(passage.gait());
        let settled = if smooth::straight_is_best(going, passage, &ends) {
            self.pull.take_straight(&ends);
            0
        } else {
            self.has_searched = true;
            let found = self
                .search
                .find(passage, start.cell, reach.cell)
                .ok_or(NoRoute::StartClosed)?;
            let way = smooth::Way {
                cells: self.search.cells(),
                links: self.search.links(),
            };
            self.pull.pull(going, passage, &ends, way, true);
            found.settled
        };
        let points = self.pull.points().to_vec();
        let links = self.pull.links().to_vec();
        Ok(Route {
            cost_m: smooth::plain_metres(going, &points, &links),
            length_m: points.windows(2).map(|p| p[0].distance(p[1])).sum(),
            points,
            short: reach.short,
            settled,
            links,
        })
    }

    /// The cells that the last search settled, in no particular order: to see what it cost. None
    /// where the way was straight. `passage` must be the one that was searched.
    pub fn searched<'a>(&'a self, passage: &'a Passage) -> impl Iterator<Item = Cell> + 'a {
        let settled = self.search.settled(passage);
        settled.take_while(|_| self.has_searched)
    }
}
