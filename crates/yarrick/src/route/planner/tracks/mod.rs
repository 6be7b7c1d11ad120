//! Tracks: long ways that were found for single bodies, kept for those that go nearly the same way.
//!
//! ```text
//!   +-------+-------+-- - - --+-------+       A track leads from o to x. Who stands at s and wants to get to t is led
//!   | s     |       |         |     t |       onto it, and off it, by fields of the tracts at both ends: they are worked
//!   |  '-.  |  _..--|-- - - --|-.__/  |       out when they are first needed, and shared by all that set out or arrive
//!   | o---'-|-'     |         |    `-x|       there.
//!   +-------+-------+-- - - --+-------+
//! ```
//!
//! So a group looks for its way over the map once, and each member for the first steps and the last ones. One for which the
//! track would be a detour looks for a way of its own, which becomes another track.

mod course;
mod draft;
mod lead;
mod part;
mod track;

use super::budget::Budget;
use super::request::{Ask, COST_OF_A_ROUTE};
use super::shared::Served;
use crate::geom::Vec2;
use crate::ground::{ClearanceMap, Ground, Tile};
use crate::route::{FarSearch, Goal, Route, Router, reach, smooth};
use lead::Ends;
use part::PART_CELLS;
use serde::{Deserialize, Serialize};
use track::Track;

/// The most tracks that are kept, and the most cells on them all.
const MOST: usize = 512;
const MOST_CELLS: usize = 1 << 20;

/// The most parts of fields that are kept beside them.
const MOST_PARTS: usize = 2048;

/// How many tracks are tried for a body before it looks for a way of its own: those whose ends are nearest to its.
const MOST_TRIED: usize = 2;

/// So much of the budget must be left for a body to be led by a track: more than it takes.
const LEAST_LEFT: u32 = 2600;

/// Rounds without use after which a track is forgotten.
const UNUSED_ROUNDS: u64 = 200;

/// The tracks that are kept, the newest last.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(super) struct Tracks {
    all: Vec<Track>,
    #[serde(skip)]
    tile: Tile,
    #[serde(skip)]
    pull: smooth::Pull,
}

impl Tracks {
    /// Forgets what has not been used for long.
    pub(super) fn forget_unused(&mut self, round: u64) {
        self.all.retain(|track| round - track.used <= UNUSED_ROUNDS);
    }

    /// Forgets the tracks of bodies for which the ground has changed.
    pub(super) fn forget_of(&mut self, body: u16) {
        self.all.retain(|track| track.body != body);
    }

    /// Keeps the way that a router found last, if it is a long one to a point that could be reached.
    pub(super) fn keep(
        &mut self,
        ground: &Ground,
        ask: &Ask<'_>,
        (from, route): (Vec2, &Route),
        router: &Router,
        round: u64,
    ) {
        let (&Goal::Point(to), Some(way)) = (&ask.goal, router.long_way()) else {
            return;
        };
        if route.short.is_some() || route.pushed_m > 0.0 {
            return;
        }
        let mut track = Track::new(ask.body, ask.radius, (from, to), round);
        if track.lay_out(ground, ask.clearance, (way, route)) && track.cell_count() <= MOST_CELLS {
            self.all.push(track);
            self.make_room();
        }
    }

    /// Drops those that were not used for the longest while there are too many.
    fn make_room(&mut self) {
        let sum = |of: fn(&Track) -> usize, all: &[Track]| all.iter().map(of).sum::<usize>();
        while self.all.len() > MOST
            || sum(Track::cell_count, &self.all) > MOST_CELLS
            || sum(Track::part_count, &self.all) > MOST_PARTS
        {
            let oldest = self.all.iter().enumerate();
            let Some((oldest, _)) = oldest.min_by_key(|(at, track)| (track.used, *at)) else {
                break;
            };
            self.all.remove(oldest);
        }
    }

    /// The route of a body by a track, if one leads nearly its way.
    pub(super) fn serve(
        &mut self,
        ground: &Ground,
        budget: &mut Budget,
        ask: &Ask<'_>,
        round: u64,
    ) -> Served {
        let Some(ends) = self.ends_of(ground, ask) else {
            return Served::NotHere;
        };
        let near = self.all.iter().enumerate();
        let near = near.filter(|(_, track)| track.is_near(ask, &ends));
        let mut tried: Vec<usize> = near.map(|(at, _)| at).collect();
        tried.sort_by(|a, b| {
            let apart = |at: &usize| self.all[*at].apart_m((ask.from, ends.to));
            apart(a).total_cmp(&apart(b))
        });
        tried.truncate(MOST_TRIED);
        for at in tried {
            let track = &mut self.all[at];
            track.used = round;
            while let Some(part) = track.next_part(ask.clearance, &ends) {
                if !budget.allows(PART_CELLS) {
                    return Served::UnderWay;
                }
                budget.charge(track.work_out(ask.clearance, &mut self.tile, part));
            }
            if !budget.allows(LEAST_LEFT) {
                return Served::UnderWay;
            }
            if let Some(lead) = track.lead(ask.clearance, &ends) {
                let view = ground.view(ask.clearance.gait());
                let led = (ask, &ends, &lead);
                let (route, work) = draft::route(view, led, track.course(), &mut self.pull);
                let cost = COST_OF_A_ROUTE.min(budget.whole());
                budget.charge(cost + lead.written() + work);
                self.make_room();
                match route {
                    Some(route) => return Served::Route(route),
                    None => break,
                }
            }
        }
        Served::NotHere
    }

    /// Where a way begins and ends that may go by a track: a long one that is not straight.
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
        if !FarSearch::is_far(clearance, from.cell, end.cell) {
            return None;
        }
        let pulled = smooth::Ends {
            from: ask.from,
            via: None,
            to,
            radius,
        };
        if smooth::straight_is_best(ground.view(clearance.gait()), clearance, &pulled) {
            return None;
        }
        Ends::new(clearance, chart, (from, end), to)
    }

    /// Works out again what is not saved.
    pub(super) fn redo<'a>(
        &mut self,
        ground: &Ground,
        clearance: impl Fn(u16) -> Option<&'a ClearanceMap>,
    ) -> Result<(), &'static str> {
        const NONE: &str = "a way that nobody can go";
        let mut router = Router::default();
        for track in &mut self.all {
            let known = clearance(track.body).ok_or(NONE)?;
            let (from, to) = track.ends();
            let route = router.find(ground, known, track.radius, from, to);
            let (route, way) = (route.map_err(|_| NONE)?, router.long_way().ok_or(NONE)?);
            if !track.lay_out(ground, known, (way, &route)) {
                return Err(NONE);
            }
            track.redo_parts(known, &mut self.tile)?;
        }
        Ok(())
    }

    /// Whether they could have come about: for what was read from a file.
    pub(super) fn is_consistent(&self, round: u64, bodies: u16) -> bool {
        let known = |track: &Track| {
            let finite = track.radius.is_finite() && track.ends().0.is_finite();
            track.used <= round && track.body < bodies && finite && track.ends().1.is_finite()
        };
        let parts: usize = self.all.iter().map(Track::part_count).sum();
        self.all.len() <= MOST && parts <= MOST_PARTS + MOST && self.all.iter().all(known)
    }
}
