//! Routes: from where a body stands to where it is sent, over the cells that a search finds, pulled
//! straight.

mod down;
mod start;

pub(super) use down::Begun;

use super::barrier::{self, Barrier};
use super::descent::Descent;
use super::far::FarSearch;
use super::goal::{Ends, Goal};
use super::search::{Progress, Search};
use super::turns::{self, Walk, Way};
use super::{NoRoute, Route, Shortfall, reach, smooth};
use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap, Ground, GroundView};
use start::Start;

/// Finds routes. Holds only workspace, which grows to the size of the map and is reused, and the route
/// that it is looking for.
///
/// ```
/// use yarrick::ground::ClearanceMap;
/// use yarrick::route::{NoRoute, Router};
/// use yarrick::{Ground, Terrain, Vec2};
///
/// let rows = [
///     "....~....",
///     "....~....",
///     ".........",
/// ];
/// let legend = [('.', Terrain::open("sand")), ('~', Terrain::closed("creek"))];
/// let ground = Ground::from_rows(1.0, &rows, &legend)?;
/// // Where a body of 0.3 m fits: made once for a map and a radius.
/// let clearance = ClearanceMap::new(&ground, 0.3);
/// let mut router = Router::default();
///
/// let (from, to) = (Vec2::new(0.5, 2.5), Vec2::new(8.5, 2.5));
/// let route = router.find(&ground, &clearance, 0.3, from, to)?;
/// assert_eq!((route.points[0], *route.points.last().unwrap()), (from, to));
/// assert!(route.points.len() > 2, "it bends round the creek");
///
/// // A point that cannot be reached: the route leads to the nearest that can, and says why.
/// let creek = router.find(&ground, &clearance, 0.3, from, Vec2::new(4.5, 2.5))?;
/// assert!(creek.short.is_some());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, Default)]
pub struct Router {
    search: Search,
    far: FarSearch,
    descent: Descent,
    /// How the last route was looked for; not at all where the way was straight.
    by: Option<Method>,
    /// How many cells were looked at before that, to find the place nearest to a goal that is out of reach.
    looked_at: u32,
    /// The work before that beyond one for each of these cells.
    aside: u32,
    pull: smooth::Pull,
    /// Whether the cells have been found, and the way is being pulled straight.
    pulls: bool,
    quest: Option<Quest>,
    flood: barrier::Flood,
}

/// How a way is looked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Method {
    /// A cheapest one.
    Search,
    /// A long one, by the chart of the clearance map.
    Far,
    /// Down a goal field.
    Down,
}

impl Method {
    /// The cells of the way found last, if it was found cell by cell.
    fn way<'a>(self, search: &'a Search, far: &'a FarSearch) -> Option<Way<'a>> {
        match self {
            Method::Search => Some(search.way()),
            Method::Far => Some(far.way()),
            Method::Down => None,
        }
    }
}

/// A route that is being looked for.
#[derive(Clone, Debug)]
struct Quest {
    start: Start,
    goal: Goal,
    ends: Ends,
    radius: f32,
    /// Why it ends elsewhere, and what stands in between.
    short: Option<(Shortfall, Option<Barrier>)>,
}

impl Router {
    /// The way of a body of `radius` metres from one point to another, or to the point nearest
    /// to that, by straight distance, that it can reach. `clearance` must be that of the same ground,
    /// as it is now, and of bodies that wide.
    ///
    /// The cells on the way are optimal (see [`Search`]), but for long ways on large maps: from
    /// hundreds of cells on, where they would take long to find, they cost a few hundredths more (on
    /// the average at most 3 %, at the worst 10 % on the maps that it was measured on). Pulling the path
    /// straight makes it shorter still, and never slower where ground is slow. A start in closed ground is left for the
    /// nearest free place first: see [`Route::pushed_m`].
    ///
    /// # Errors
    /// [`NoRoute`] for numbers that are none, and where no way leads nearer to the goal.
    pub fn find(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        radius: f32,
        from: Vec2,
        to: Vec2,
    ) -> Result<Route, NoRoute> {
        self.find_to(ground, clearance, radius, from, &Goal::Point(to))
    }

    /// The same to any [`Goal`].
    ///
    /// # Errors
    /// As [`Router::find`], and for a goal that names nothing.
    pub fn find_to(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        radius: f32,
        from: Vec2,
        goal: &Goal,
    ) -> Result<Route, NoRoute> {
        self.begin(ground, clearance, radius, from, goal)
            .or_else(|| self.advance(ground, clearance, u32::MAX))
            .unwrap_or(Err(NoRoute::StartClosed))
    }

    /// Begins to look for a route. Gives it, or why there is none, where that needs no search;
    /// otherwise [`Router::advance`] goes on.
    pub fn begin(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        radius: f32,
        from: Vec2,
        goal: &Goal,
    ) -> Option<Result<Route, NoRoute>> {
        self.forget();
        match self.prepare(ground, clearance, radius, (from, goal)) {
            Err(why) => Some(Err(why)),
            Ok(Some(route)) => Some(Ok(route)),
            Ok(None) => None,
        }
    }

    fn forget(&mut self) {
        self.quest = None;
        self.by = None;
        self.pulls = false;
        self.pull.clear();
        self.looked_at = 0;
        self.aside = 0;
    }

    /// Goes on looking for the route that was begun, until it is found or about `most` more cells are
    /// settled: fewer than [`Router::least_step`] are not enough to stop it before. Ground and clearance must be the same, and unchanged. `None` where it is not done yet, or
    /// none was begun.
    pub fn advance(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        most: u32,
    ) -> Option<Result<Route, NoRoute>> {
        self.quest.as_ref()?;
        let end = self.work().saturating_add(most);
        if !self.pulls {
            let is_found = match self.by? {
                Method::Search => match self.search.advance(clearance, most) {
                    Progress::UnderWay => None,
                    Progress::NoWay => Some(false),
                    Progress::Found(_) => Some(true),
                },
                Method::Far => self.far.advance(clearance, most),
                // It has been read before.
                Method::Down => Some(true),
            }?;
            if !is_found {
                self.quest = None;
                return Some(Err(NoRoute::StartClosed));
            }
        }
        let left = end.saturating_sub(self.work());
        if !self.pull_on(ground, clearance, left)? {
            return None;
        }
        let view = ground.view(clearance.gait());
        let quest = self.quest.take()?;
        let settled = self.settled_count();
        Some(Ok(self.route((view, clearance), quest, settled)))
    }

    /// The work that [`Router::advance`] may do on a clearance map, however small its budget: what cannot be
    /// divided.
    #[must_use]
    pub fn least_step(clearance: &ClearanceMap) -> u32 {
        let far = clearance.chart().map_or(1, |_| FarSearch::LEAST_STEP);
        let pull = smooth::Pull::most_of_a_step(clearance);
        Search::least_step(clearance).max(far).max(pull)
    }

    /// The work that [`Router::begin`] may do, counted in settled cells: little where the goal is a point that can be reached,
    /// else what it takes to find where a way may end, and what stands in between.
    #[must_use]
    pub fn most_to_begin(
        ground: &Ground,
        clearance: &ClearanceMap,
        (from, goal): (Vec2, &Goal),
    ) -> u32 {
        let region = |at: Vec2| clearance.region(ground.cell_at(at)?);
        if let Goal::Point(to) = goal
            && let (Some(from), Some(to)) = (region(from), region(*to))
            && clearance.leads_to(from, to)
        {
            return 0;
        }
        let ends = goal.work_of_ends(ground.view(clearance.gait()));
        ends + reach::MOST_WORK + barrier::MOST_WORK
    }

    /// How many cells the search for the route has settled so far, and where the goal is out of reach, how
    /// many were looked at to find the place nearest to it.
    #[must_use]
    pub fn settled_count(&self) -> u32 {
        let settled = match self.by {
            None => 0,
            Some(Method::Search) => self.search.settled_count(),
            Some(Method::Far) => self.far.settled_count(),
            Some(Method::Down) => self.descent.work(),
        };
        settled.saturating_add(self.looked_at)
    }

    /// The work done so far, in settled cells. Pulling the way straight counts as the number of cells that would have taken as
    /// long.
    #[must_use]
    pub fn work(&self) -> u32 {
        let found = self.settled_count().saturating_add(self.aside);
        found.saturating_add(self.pull.work())
    }

    /// The cells and links of the way found last, if its ends are far apart.
    pub(super) fn long_way(&self, clearance: &ClearanceMap) -> Option<Way<'_>> {
        let way = self.by?.way(&self.search, &self.far)?;
        let ends = [way.nodes.first()?, way.nodes.last()?];
        let [from, to] = ends.map(|node| clearance.cell(*node as usize));
        FarSearch::are_far_apart(from, to).then_some(way)
    }

    fn prepare(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        radius: f32,
        (from, goal): (Vec2, &Goal),
    ) -> Result<Option<Route>, NoRoute> {
        check(ground, radius, from, goal)?;
        let view = ground.view(clearance.gait());
        let mut start = Start::new(view, clearance, radius, from)?;
        if goal.is_met(view, radius, start.from) {
            return Ok(Some(Route::standing(start.from, start.pushed_m)));
        }
        self.aside = goal.work_of_ends(view);
        let mut ends = goal.ends(view, clearance, (radius, start.from));
        let regions = ends.regions(clearance);
        start.turn_to(view, clearance, radius, &regions);
        let mut short = None;
        if !start.leads_to_any(clearance, &regions) {
            let reach = self.nearest(view, clearance, radius, &start, (goal, &ends))?;
            let why = reach.short.unwrap_or(Shortfall::CutOff);
            // Of a wide area, only the middle was looked at.
            if !goal.is_met(view, radius, reach.point) {
                let between = (goal, &ends, why, reach.cell);
                short = Some((why, self.what_stands(view, clearance, &start, between)));
            }
            ends = Ends::at_point(reach.cell, reach.point);
        }
        let quest = Quest {
            start,
            goal: goal.clone(),
            ends,
            radius,
            short,
        };
        if let &[cell] = &quest.ends.cells[..] {
            let pulled = quest.pulled_to(quest.ends.point(view, cell));
            if smooth::straight_is_best(view, clearance, &pulled) {
                self.pull.take_straight(&pulled);
                return Ok(Some(self.route((view, clearance), quest, self.looked_at)));
            }
        }
        let from = start.footing.cell;
        if self.far.begin(clearance, from, &quest.ends.cells) {
            self.by = Some(Method::Far);
        } else if self.search.begin_any(clearance, from, &quest.ends.cells) {
            self.by = Some(Method::Search);
        } else {
            return Err(NoRoute::StartClosed);
        }
        self.quest = Some(quest);
        Ok(None)
    }

    /// As near as one can get to a goal that is out of reach.
    fn nearest(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        radius: f32,
        start: &Start,
        (goal, ends): (&Goal, &Ends),
    ) -> Result<reach::Reach, NoRoute> {
        let ground = view.ground();
        let to = middle(ground, goal, ends).ok_or(NoRoute::NoWay(Shortfall::Closed))?;
        let ways = (start.from, to);
        let found = reach::reach(ground, clearance, radius, start.region, ways);
        let found = found.ok_or(NoRoute::StartClosed)?;
        self.looked_at += found.settled;
        if found.leads_nearer(start.from, to, ground.cell_m()) {
            Ok(found)
        } else {
            Err(NoRoute::NoWay(found.short.unwrap_or(Shortfall::CutOff)))
        }
    }

    /// What stands between a body and a goal that is out of reach.
    fn what_stands(
        &mut self,
        view: GroundView<'_>,
        clearance: &ClearanceMap,
        start: &Start,
        (goal, ends, why, nearest): (&Goal, &Ends, Shortfall, Cell),
    ) -> Option<Barrier> {
        let ground = view.ground();
        let to = middle(ground, goal, ends)?;
        if why == Shortfall::OffMap {
            return Some(Barrier::Rim);
        }
        let reached = clearance.led_to(start.region);
        let quest = barrier::Quest {
            view,
            clearance,
            regions: &reached,
            from: start.from,
            start: start.footing.cell,
            goal: ground.nearest_cell(to),
            nearest,
        };
        let (barrier, looked_at) = barrier::least_barrier(&quest, &mut self.flood);
        self.looked_at += looked_at;
        self.aside += looked_at * (barrier::WORK_A_CELL - 1);
        barrier
    }

    /// Continues to pull the found cells straight. Returns whether it is done.
    fn pull_on(&mut self, ground: &Ground, clearance: &ClearanceMap, most: u32) -> Option<bool> {
        let quest = self.quest.as_ref()?;
        let view = ground.view(clearance.gait());
        let before = self.pull.work();
        if let Some(way) = self.by?.way(&self.search, &self.far) {
            let last = way.nodes.last().map(|node| clearance.cell(*node as usize));
            let to = last.map_or(quest.start.from, |cell| quest.ends.point(view, cell));
            if !self.pulls {
                self.pull.begin(view, &quest.pulled_to(to));
                self.pulls = true;
            }
            let walk = Walk::new(view, clearance);
            if !self.pull.collect(walk, (way, to), most) {
                return Some(false);
            }
        }
        let left = most.saturating_sub(self.pull.work() - before);
        Some(self.pull.advance(view, clearance, quest.radius, left))
    }

    /// The route that was pulled last; in an area, up to where it comes into it.
    fn route(
        &self,
        (view, clearance): (GroundView<'_>, &ClearanceMap),
        quest: Quest,
        settled: u32,
    ) -> Route {
        let mut route = Route {
            points: self.pull.points().to_vec(),
            links: self.pull.links().to_vec(),
            settled,
            short: quest.short.map(|(why, _)| why),
            barrier: quest.short.and_then(|(_, barrier)| barrier),
            ..Route::standing(quest.start.from, quest.start.pushed_m)
        };
        if quest.ends.is_area() {
            route.end_where(|at| quest.goal.is_met(view, quest.radius, at));
        }
        route.measure(view, clearance);
        route
    }

    /// The cells that the last search settled, in no particular order: to see what it cost; of a long way that
    /// was found by a chart of the map, the gates that it looked at. None where the way was straight. `clearance` must be
    /// the map of that search.
    pub fn searched<'a>(&'a self, clearance: &'a ClearanceMap) -> impl Iterator<Item = Cell> + 'a {
        let by_search = self.search.settled(clearance);
        let by_far = self.far.settled(clearance);
        let searched = by_search.take_while(|_| self.by == Some(Method::Search));
        searched.chain(by_far.take_while(|_| self.by == Some(Method::Far)))
    }
}

impl Quest {
    fn pulled_to(&self, to: Vec2) -> turns::Ends {
        turns::Ends {
            from: self.start.from,
            via: self.start.footing.via,
            to,
            radius: self.radius,
        }
    }
}

/// Refuses what cannot be asked for.
fn check(ground: &Ground, radius: f32, from: Vec2, goal: &Goal) -> Result<(), NoRoute> {
    if !(from.is_finite() && goal.is_finite()) {
        return Err(NoRoute::NotFinite);
    }
    let most = ClearanceMap::max_radius_m(ground);
    if !(0.0..=most).contains(&radius) {
        return Err(NoRoute::BadRadius);
    }
    if goal.is_empty() {
        Err(NoRoute::NoGoal)
    } else {
        Ok(())
    }
}

/// The middle of a goal, or of the first of its cells.
fn middle(ground: &Ground, goal: &Goal, ends: &Ends) -> Option<Vec2> {
    let first = ends.cells.first().map(|cell| ground.centre(*cell));
    goal.middle().or(first)
}
