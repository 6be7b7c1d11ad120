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

mod barrier;
mod buckets;
mod cells;
mod detour;
mod field;
mod goal;
mod jump;
mod line;
mod reach;
mod rounded;
mod search;
mod smooth;
mod steps;

pub use barrier::Barrier;
pub use field::{FieldError, GoalField};
pub use goal::Goal;
pub(crate) use reach::footing;
pub use reach::{Reach, Shortfall, reach};
pub use rounded::round_corners;
pub use search::{Found, Progress, Search};
pub use steps::{DIAGONAL, STRAIGHT};

use crate::geom::Vec2;
use crate::ground::{Cell, Going, Ground, LinkId, Passage, Region};

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
    /// The radius is negative, NaN, or larger than any map has room for.
    #[error("the radius is not a length that a body can have on this map")]
    BadRadius,
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

/// Finds routes. Holds only workspace, which grows to the size of the map and is reused.
#[derive(Clone, Debug, Default)]
pub struct Router {
    search: Search,
    /// Whether the last route needed a search.
    has_searched: bool,
    pull: smooth::Pull,
}

/// Where a way begins.
struct Start {
    from: Vec2,
    footing: reach::Footing,
    region: Region,
    pushed_m: f32,
}

impl Router {
    /// The way of a body of `radius` metres from one point to another, or to the place that it can
    /// reach from which the least stands between it and that. `passage` must be that of the same ground,
    /// as it is now, and of bodies that wide.
    ///
    /// The cells on the way are optimal (see [`Search`]); pulling the path straight makes it
    /// shorter still, and never slower where ground is slow. A start in closed ground is left for the
    /// nearest free place first: see [`Route::pushed_m`].
    ///
    /// # Errors
    /// [`NoRoute`] for numbers that are none, and where no way leads nearer to the goal.
    pub fn find(
        &mut self,
        ground: &Ground,
        passage: &Passage,
        radius: f32,
        from: Vec2,
        to: Vec2,
    ) -> Result<Route, NoRoute> {
        self.find_to(ground, passage, radius, from, &Goal::Point(to))
    }

    /// The same to any [`Goal`].
    ///
    /// # Errors
    /// As [`Router::find`], and for a goal that names nothing.
    pub fn find_to(
        &mut self,
        ground: &Ground,
        passage: &Passage,
        radius: f32,
        from: Vec2,
        goal: &Goal,
    ) -> Result<Route, NoRoute> {
        self.has_searched = false;
        if !(from.is_finite() && goal.is_finite()) {
            return Err(NoRoute::NotFinite);
        }
        let most = Passage::MAX_RADIUS_CELLS * ground.cell_m();
        if !(0.0..=most).contains(&radius) {
            return Err(NoRoute::BadRadius);
        }
        if goal.is_empty() {
            return Err(NoRoute::NoGoal);
        }
        let going = ground.going(passage.gait());
        let start = begin(going, passage, radius, from)?;
        if goal.is_met(going, radius, start.from) {
            return Ok(Route::standing(start.from, start.pushed_m));
        }
        let ends = goal.ends(going, passage, radius);
        let reachable = |cell: &&Cell| {
            let region = passage.region(**cell);
            region.is_some_and(|region| passage.leads_to(start.region, region))
        };
        if ends.cells.iter().any(|cell| reachable(&cell)) {
            return self.lead_to(going, passage, radius, &start, (goal, &ends));
        }
        // To the point itself, or as near as can be.
        let first = ends.cells.first().map(|cell| ground.centre(*cell));
        let to = goal
            .middle()
            .or(first)
            .ok_or(NoRoute::NoWay(Shortfall::Closed))?;
        let reach = reach(ground, passage, radius, start.region, (start.from, to))
            .ok_or(NoRoute::StartClosed)?;
        let short = reach.short.unwrap_or(Shortfall::CutOff);
        if !reach.leads_nearer(start.from, to, ground.cell_m()) {
            return Err(NoRoute::NoWay(short));
        }
        let mut route = self.lead(going, passage, radius, &start, &[reach.cell], |_| {
            reach.point
        })?;
        route.short = Some(short);
        route.barrier = reach.barrier;
        Ok(route)
    }

    /// The way to the nearest of some ends; in an area, up to where it comes into it.
    fn lead_to(
        &mut self,
        going: Going<'_>,
        passage: &Passage,
        radius: f32,
        start: &Start,
        (goal, ends): (&Goal, &goal::Ends),
    ) -> Result<Route, NoRoute> {
        let point = |cell| ends.point(going, cell);
        let mut route = self.lead(going, passage, radius, start, &ends.cells, point)?;
        if ends.is_area() {
            route.end_where(|at| goal.is_met(going, radius, at));
            route.measure(going);
        }
        Ok(route)
    }

    fn lead(
        &mut self,
        going: Going<'_>,
        passage: &Passage,
        radius: f32,
        start: &Start,
        cells: &[Cell],
        point: impl Fn(Cell) -> Vec2,
    ) -> Result<Route, NoRoute> {
        let mut ends = smooth::Ends {
            from: start.from,
            via: start.footing.via,
            to: cells.first().map_or(start.from, |cell| point(*cell)),
            radius,
        };
        let mut settled = 0;
        if cells.len() == 1 && smooth::straight_is_best(going, passage, &ends) {
            self.pull.take_straight(&ends);
        } else {
            self.has_searched = true;
            let found = self.search.find_any(passage, start.footing.cell, cells);
            settled = found.ok_or(NoRoute::StartClosed)?.settled;
            let last = self.search.cells().last().copied();
            ends.to = last.map_or(ends.to, point);
            let way = smooth::Way {
                cells: self.search.cells(),
                links: self.search.links(),
            };
            self.pull.pull(going, passage, &ends, way, true);
        }
        let mut route = Route {
            points: self.pull.points().to_vec(),
            links: self.pull.links().to_vec(),
            settled,
            ..Route::standing(start.from, start.pushed_m)
        };
        route.measure(going);
        Ok(route)
    }

    /// The cells that the last search settled, in no particular order: to see what it cost. None
    /// where the way was straight. `passage` must be the one that was searched.
    pub fn searched<'a>(&'a self, passage: &'a Passage) -> impl Iterator<Item = Cell> + 'a {
        let settled = self.search.settled(passage);
        settled.take_while(|_| self.has_searched)
    }
}

/// Where a way begins: where the body stands, or in the nearest free place.
fn begin(going: Going<'_>, passage: &Passage, radius: f32, from: Vec2) -> Result<Start, NoRoute> {
    let ground = going.ground();
    let mut at = from;
    let footing = reach::footing(ground, passage, radius, from).or_else(|| {
        at = reach::nearest_free(going, passage, radius, from)?;
        reach::footing(ground, passage, radius, at)
    });
    let footing = footing.ok_or(NoRoute::StartClosed)?;
    let region = passage.region(footing.cell).ok_or(NoRoute::StartClosed)?;
    Ok(Start {
        from: at,
        footing,
        region,
        pushed_m: at.distance(from),
    })
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

    /// Works out its length and cost.
    fn measure(&mut self, going: Going<'_>) {
        self.cost_m = smooth::plain_metres(going, &self.points, &self.links);
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
            match is_met(before.lerp(end, middle)) {
                true => inside = middle,
                false => out = middle,
            }
        }
        self.points[count - 1] = before.lerp(end, inside);
    }
}
