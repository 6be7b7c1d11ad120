//! Tracks: long routes found for single bodies, reused for other bodies with nearly the same start and goal.
//!
//! ```text
//!   +-------+-------+-- - - --+-------+       A track leads from o to x. A body that goes from s to t joins it and leaves
//!   | s     |       |         |     t |       it along parts of fields in the tracts at both ends. A part is computed when
//!   |  '-.  |  _..--|-- - - --|-.__/  |       it is first needed, and shared by all bodies that start or end there.
//!   | o---'-|-'     |         |    `-x|
//!   +-------+-------+-- - - --+-------+
//! ```
//!
//! A group thus searches the map once, and each member only its first and last steps. Where the track would be a detour,
//! the body gets a search of its own, and its route becomes another track.

mod course;
mod draft;
mod index;
mod lead;
mod odds;
mod part;
mod track;

use super::budget::{Budget, KEPT_ROUNDS};
use super::request::{Ask, COST_OF_A_ROUTE};
use super::shared::Served;
use crate::geom::Vec2;
use crate::ground::{ClearanceMap, Ground, Tile};
use crate::route::{FarSearch, Goal, Route, Router, reach, smooth, turns};
use index::{Index, MOST};
use lead::Ends;
use odds::Odds;
use part::PART_CELLS;
use serde::{Deserialize, Serialize};
pub(super) use track::Track;

/// Maximum number of cells on all tracks together.
const MOST_CELLS: usize = 1 << 20;

/// Maximum number of parts of fields, of all tracks together, before a request is served.
const MOST_PARTS: usize = 2048;

/// Maximum number of tracks that are tried for a request: those whose ends are nearest to its ends.
const MOST_TRIED: usize = 2;

/// Maximum number of parts that one request adds: at each end of each track its tract and the eight round it.
const MOST_ADDED: usize = MOST_TRIED * 2 * 9;

/// Number of tracks examined, and of cells of a new track, that count as one settled cell.
const TRACKS_A_CELL: u32 = 16;
const KEPT_A_CELL: u32 = 4;

/// Longer routes, in cells, are not kept.
const LONGEST: u32 = 8192;

/// Maximum work to keep a route, in settled cells.
pub(super) const MOST_TO_KEEP: u32 = LONGEST / KEPT_A_CELL;

/// Maximum sum of the distances between the ends of a request and those of a track, in cells, for the two to be alike: other requests
/// will probably have nearly the same ends.
const ALIKE_CELLS: f32 = 64.0;

/// Number of alike requests that are expected to share the parts computed for one of them.
const SHARED_BY: u32 = 4;

/// Minimum budget left to serve a request from a track, in cells: more than that takes.
const LEAST_LEFT: u32 = 3000;

/// The track of the route that a router found last, if it is a long one, on a map with a chart, and ends at the requested point.
/// Returns also the work.
pub(super) fn track_of(
    ground: &Ground,
    ask: &Ask<'_>,
    (from, route): (Vec2, &Route),
    router: &Router,
) -> (Option<Track>, u32) {
    let (&Goal::Point(to), Some(way)) = (&ask.goal, router.long_way(ask.clearance)) else {
        return (None, 0);
    };
    let is_long = way.nodes.len() > LONGEST as usize;
    if is_long || route.short.is_some() || route.pushed_m > 0.0 {
        return (None, 0);
    }
    let mut track = Track::new(ask.body, ask.radius, (from, to), router.work());
    let is_one = track.lay_out(ground, ask.clearance, (way, route));
    let work = way.nodes.len() as u32 / KEPT_A_CELL;
    (is_one.then_some(track), work)
}

/// The tracks that are kept.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(super) struct Tracks {
    all: Vec<Track>,
    /// Number of tracks that have been kept so far.
    kept: u64,
    odds: Odds,
    /// Where each track leads, and the number of cells and of parts of all of them.
    #[serde(skip)]
    index: Index,
    #[serde(skip)]
    cells: usize,
    #[serde(skip)]
    parts: usize,
    #[serde(skip)]
    tile: Option<Box<Tile>>,
    #[serde(skip)]
    pull: smooth::Pull,
}

impl Tracks {
    /// Removes tracks that have not been used for long.
    pub(super) fn forget_unused(&mut self, round: u64) {
        self.remove_all(|track| round - track.used > KEPT_ROUNDS);
        self.odds.recover();
    }

    /// Removes the tracks of a clearance map that has changed.
    pub(super) fn forget_of(&mut self, body: u16) {
        self.remove_all(|track| track.body == body);
    }

    fn remove_all(&mut self, is_one: impl Fn(&Track) -> bool) {
        for at in (0..self.all.len()).rev() {
            if is_one(&self.all[at]) {
                self.remove(at);
            }
        }
    }

    /// Removes a track. The last one takes its place.
    fn remove(&mut self, at: usize) {
        let last = self.all.len() - 1;
        for number in [at, last] {
            self.index.remove(number, self.all[number].course().near());
        }
        let removed = self.all.swap_remove(at);
        self.cells -= removed.cell_count();
        self.parts -= removed.part_count();
        if let Some(moved) = self.all.get(at) {
            self.index.add(at, moved.course().near());
        }
    }

    /// Keeps a track for other requests.
    pub(super) fn keep(&mut self, mut track: Track, round: u64) {
        if self.all.len() >= MOST {
            self.remove_oldest();
        }
        track.used = round;
        track.number = self.kept;
        self.kept += 1;
        self.note(self.all.len(), &track);
        self.all.push(track);
        self.make_room();
    }

    /// Adds a track to the index and to the totals, under its number in the list.
    fn note(&mut self, at: usize, track: &Track) {
        self.index.add(at, track.course().near());
        self.cells += track.cell_count();
        self.parts += track.part_count();
    }

    /// Removes the least recently used tracks while a limit is exceeded.
    fn make_room(&mut self) {
        while self.cells > MOST_CELLS || self.parts > MOST_PARTS {
            self.remove_oldest();
        }
    }

    /// Removes the least recently used track. If several were last used in the same round, the one that was added first goes.
    fn remove_oldest(&mut self) {
        let all = self.all.iter().enumerate();
        let oldest = all.min_by_key(|(_, track)| (track.used, track.number));
        if let Some((at, _)) = oldest {
            self.remove(at);
        }
    }

    /// The route of a request along a track, if one fits.
    pub(super) fn serve(
        &mut self,
        ground: &Ground,
        budget: &mut Budget,
        ask: &Ask<'_>,
        round: u64,
    ) -> Served {
        self.make_room();
        let Some(ends) = self.ends_of(ground, ask) else {
            return Served::NotHere;
        };
        let near = self.index.near_both([ends.start.tract, ends.goal.tract]);
        let mut tried: Vec<usize> = near.filter(|at| self.all[*at].is_for(ask)).collect();
        budget.charge(tried.len() as u32 / TRACKS_A_CELL);
        tried.sort_by(|a, b| {
            let apart = |at: &usize| self.all[*at].apart_m((ask.from, ends.to));
            apart(a).total_cmp(&apart(b))
        });
        tried.truncate(MOST_TRIED);
        if tried.is_empty() || is_straight(ground, ask, ends.to) {
            return Served::NotHere;
        }
        for at in tried {
            self.all[at].used = round;
            if let Some(served) = self.serve_from(at, ground, budget, (ask, &ends)) {
                return served;
            }
        }
        Served::NotHere
    }

    /// The route of a request along a track; `None` if that does not fit.
    fn serve_from(
        &mut self,
        at: usize,
        ground: &Ground,
        budget: &mut Budget,
        (ask, ends): (&Ask<'_>, &Ends),
    ) -> Option<Served> {
        let track = &mut self.all[at];
        let is_alike = track.apart_m((ask.from, ends.to)) <= ALIKE_CELLS * ground.cell_m();
        let missing = track.missing_parts(ask.clearance, ends).count() as u32;
        let pays = if is_alike {
            track.saves(missing.div_ceil(SHARED_BY), 1)
        } else {
            self.odds.pays(track, missing)
        };
        if !pays {
            return None;
        }
        while let Some(part) = track.next_part(ask.clearance, ends) {
            if !budget.allows(PART_CELLS) {
                return Some(Served::UnderWay);
            }
            let tile = self.tile.get_or_insert_default();
            budget.charge(track.work_out(ask.clearance, tile, part));
            self.parts += 1;
        }
        if !budget.allows(LEAST_LEFT) {
            return Some(Served::UnderWay);
        }
        let route = track.lead(ask.clearance, ends).and_then(|lead| {
            let view = ground.view(ask.clearance.gait());
            let led = (ask, ends, &lead);
            let (route, work) = draft::route(view, led, track.course(), &mut self.pull);
            budget.charge(COST_OF_A_ROUTE.min(budget.whole()) + lead.written() + work);
            route
        });
        if missing > 0 && !is_alike {
            self.odds.note(route.is_some());
        }
        route.map(Served::Route)
    }

    /// Start and goal of a request, if there are tracks for its body and the goal is a point far off.
    fn ends_of(&self, ground: &Ground, ask: &Ask<'_>) -> Option<Ends> {
        let (clearance, radius) = (ask.clearance, ask.radius);
        let (&Goal::Point(to), Some(chart)) = (&ask.goal, clearance.chart()) else {
            return None;
        };
        if !self.all.iter().any(|track| track.is_for(ask)) {
            return None;
        }
        let from = reach::footing(ground, clearance, radius, ask.from)?;
        let end = reach::footing(ground, clearance, radius, to)?;
        if !FarSearch::are_far_apart(from.cell, end.cell) {
            return None;
        }
        Ends::new(clearance, chart, (from, end), to)
    }

    /// Computes again what is not saved.
    pub(super) fn redo<'a>(
        &mut self,
        ground: &Ground,
        clearance: impl Fn(u16) -> Option<&'a ClearanceMap>,
    ) -> Result<(), &'static str> {
        const NONE: &str = "a way that nobody can go";
        if self.all.len() > MOST {
            return Err("more tracks than are kept");
        }
        let mut router = Router::default();
        (self.index, self.cells, self.parts) = (Index::default(), 0, 0);
        for mut track in core::mem::take(&mut self.all) {
            let known = clearance(track.body).ok_or(NONE)?;
            let (from, to) = track.ends();
            let route = router.find(ground, known, track.radius, from, to);
            let (route, way) = (
                route.map_err(|_| NONE)?,
                router.long_way(known).ok_or(NONE)?,
            );
            if !track.lay_out(ground, known, (way, &route)) {
                return Err(NONE);
            }
            track.redo_parts(known, self.tile.get_or_insert_default())?;
            self.note(self.all.len(), &track);
            self.all.push(track);
        }
        Ok(())
    }

    /// Whether the values are possible: for what was read from a file.
    pub(super) fn is_consistent(&self, round: u64, bodies: u16) -> bool {
        let known = |track: &Track| {
            let finite = track.radius.is_finite() && track.ends().0.is_finite();
            let is_past = track.used <= round && track.number < self.kept;
            is_past && track.body < bodies && finite && track.ends().1.is_finite()
        };
        let parts: usize = self.all.iter().map(Track::known_count).sum();
        // Limits hold when a request begins to be served: it may add a track and some parts.
        let fits =
            self.all.len() <= MOST && parts <= MOST_PARTS + MOST_ADDED && self.odds.is_consistent();
        fits && self.all.iter().all(known)
    }
}

/// Whether the straight line to the goal is the best way.
fn is_straight(ground: &Ground, ask: &Ask<'_>, to: Vec2) -> bool {
    let ends = turns::Ends {
        from: ask.from,
        via: None,
        to,
        radius: ask.radius,
    };
    smooth::straight_is_best(ground.view(ask.clearance.gait()), ask.clearance, &ends)
}
