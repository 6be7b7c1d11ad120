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

mod attempt;
mod course;
mod draft;
mod index;
mod lead;
mod odds;
mod part;
mod track;

use super::budget::KEPT_ROUNDS;
use super::request::Ask;
use crate::geom::Vec2;
use crate::ground::{ClearanceMap, Ground, Tile};
use crate::route::{Goal, Route, Router};
pub(super) use attempt::{Asked, Attempt, MOST_WORK, Note, Outcome, Wants};
use index::{Index, MOST};
use odds::Odds;
pub(super) use part::NewParts;
use serde::{Deserialize, Serialize};
pub(super) use track::Track;

/// Maximum number of cells on all tracks together.
const MOST_CELLS: usize = 1 << 20;

/// Maximum number of parts of fields, of all tracks together.
const MOST_PARTS: usize = 2048;

/// Maximum number of parts that one request adds at a time: at each end of a track its tract and the eight round it.
const MOST_ADDED: usize = 2 * 9;

/// Number of tracks examined, and of cells of a new track, that count as one settled cell.
const TRACKS_A_CELL: u32 = 16;
const KEPT_A_CELL: u32 = 4;

/// Maximum work of examining the tracks near a request, in settled cells.
pub(super) const MOST_TO_EXAMINE: u32 = MOST as u32 / TRACKS_A_CELL;

/// Longer routes, in cells, are not kept.
const LONGEST: u32 = 8192;

/// Maximum work to keep a route, in settled cells.
pub(super) const MOST_TO_KEEP: u32 = LONGEST / KEPT_A_CELL;

/// The track of the route that a router found last, if it is a long one, on a map with a chart, and ends at the requested point,
/// and if `most` work suffices to keep it. Returns also the work.
pub(super) fn track_of(
    ground: &Ground,
    ask: &Ask<'_>,
    (from, route): (Vec2, &Route),
    (router, most): (&Router, u32),
) -> (Option<Track>, u32) {
    let (&Goal::Point(to), Some(way)) = (&ask.goal, router.long_way(ask.clearance)) else {
        return (None, 0);
    };
    let work = way.nodes.len() as u32 / KEPT_A_CELL;
    let is_long = way.nodes.len() > LONGEST as usize;
    if is_long || work > most || route.short.is_some() || route.pushed_m > 0.0 {
        return (None, 0);
    }
    let mut track = Track::new(ask.body, ask.radius, (from, to), router.work());
    let is_one = track.lay_out(ground, ask.clearance, (way, route));
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
    pub(super) fn make_room(&mut self) {
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

    /// Takes in what an attempt has shown.
    pub(super) fn note_attempt(&mut self, note: &attempt::Note, round: u64) {
        for at in &note.tried {
            self.all[*at].used = round;
        }
        if let Some(fits) = note.odds {
            self.odds.note(fits);
        }
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
        let fits = self.all.len() <= MOST && parts <= MOST_PARTS && self.odds.is_consistent();
        fits && self.all.iter().all(known)
    }
}
