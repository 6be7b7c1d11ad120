//! Whether a track leads where a request wants to go.
//!
//! This only looks at what is known, so that many requests can be served at the same time. Where parts of fields are missing,
//! it says which.

use super::lead::Ends;
use super::part::{NewParts, PART_CELLS, PartKey};
use super::{MOST_ADDED, TRACKS_A_CELL, Tracks, draft};
use crate::geom::Vec2;
use crate::ground::{ClearanceMap, Ground, Tile};
use crate::route::planner::request::{Ask, COST_OF_A_ROUTE};
use crate::route::{FarSearch, Goal, Route, reach, smooth, turns};
use serde::{Deserialize, Serialize};

/// Maximum number of tracks that are tried for a request: those whose ends are nearest to its ends.
const MOST_TRIED: usize = 2;

/// Maximum sum of the distances between the ends of a request and those of a track, in cells, for the two to be alike: other requests
/// will probably have nearly the same ends.
const ALIKE_CELLS: f32 = 64.0;

/// Number of alike requests that are expected to share the parts computed for one of them.
const SHARED_BY: u32 = 4;

/// Maximum number of times that a request has parts computed for it.
const MOST_ASKED: u8 = 4;

/// Maximum work of an attempt, in settled cells.
pub(in crate::route::planner) const MOST_WORK: u32 = 3000;

/// What a request has asked of the tracks so far.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(in crate::route::planner) struct Asked {
    /// How many times parts were wanted for it.
    times: u8,
    /// The track for which they were computed last, by its number, if its ends are far from those of the request.
    far: Option<u64>,
}

/// Parts of fields along a track that have to be computed for a request.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(in crate::route::planner) struct Wants {
    /// The number of the track.
    pub(in crate::route::planner) track: u64,
    /// In this order: a part beside the track is computed from those next to it.
    pub(in crate::route::planner) parts: Vec<PartKey>,
    is_alike: bool,
}

/// What came of an attempt.
pub(in crate::route::planner) enum Outcome {
    /// The route.
    Route(Route),
    /// Parts have to be computed first.
    Wants(Wants),
    /// No track fits.
    NotHere,
}

/// An attempt, and what follows from it for the tracks.
pub(in crate::route::planner) struct Attempt {
    pub(in crate::route::planner) outcome: Outcome,
    /// The work, in settled cells.
    pub(in crate::route::planner) work: u32,
    /// What it has shown, for [`Tracks::note_attempt`].
    pub(in crate::route::planner) note: Note,
}

/// What an attempt has shown about tracks.
#[derive(Default)]
pub(in crate::route::planner) struct Note {
    /// The tracks that were tried, by index.
    pub(super) tried: Vec<usize>,
    /// Whether the track fitted for which parts were computed.
    pub(super) odds: Option<bool>,
}

impl Note {
    /// Adds what a later attempt has shown.
    pub(in crate::route::planner) fn add(&mut self, later: Note) {
        self.tried.extend(later.tried);
        self.odds = later.odds.or(self.odds);
    }
}

impl Asked {
    /// Notes that parts are computed for it.
    pub(in crate::route::planner) fn note(&mut self, wants: &Wants) {
        self.times = self.times.saturating_add(1);
        self.far = (!wants.is_alike).then_some(wants.track);
    }
}

impl Wants {
    /// The work that it may take to compute the parts, in settled cells.
    pub(in crate::route::planner) fn most_work(&self) -> u32 {
        self.parts.len() as u32 * PART_CELLS
    }

    /// Shortens the list to what an amount of work suffices for, at least one part.
    pub(in crate::route::planner) fn cut_to(&mut self, most: u32) {
        self.parts.truncate((most / PART_CELLS).max(1) as usize);
    }

    /// Whether the values are possible: for what was read from a file.
    pub(in crate::route::planner) fn is_consistent(&self) -> bool {
        (1..=MOST_ADDED).contains(&self.parts.len())
    }
}

impl Tracks {
    /// Looks for a track along which a request can go, by the parts that are known and new ones.
    pub(in crate::route::planner) fn attempt(
        &self,
        ground: &Ground,
        (ask, asked): (&Ask<'_>, &Asked),
        (pull, new): (&mut smooth::Pull, &NewParts),
    ) -> Attempt {
        let mut attempt = Attempt {
            outcome: Outcome::NotHere,
            work: 0,
            note: Note::default(),
        };
        let Some(ends) = self.ends_of(ground, ask) else {
            return attempt;
        };
        let near = self.index.near_both([ends.start.tract, ends.goal.tract]);
        let mut tried: Vec<usize> = near.filter(|at| self.all[*at].is_for(ask)).collect();
        attempt.work = tried.len() as u32 / TRACKS_A_CELL;
        tried.sort_by(|a, b| {
            let apart = |at: &usize| self.all[*at].apart_m((ask.from, ends.to));
            apart(a).total_cmp(&apart(b))
        });
        tried.truncate(MOST_TRIED);
        if tried.is_empty() || is_straight(ground, ask, ends.to) {
            return attempt;
        }
        for at in tried {
            attempt.note.tried.push(at);
            let before = attempt.work;
            let by = (ask, asked, new);
            self.attempt_one((at, &ends), ground, by, (pull, &mut attempt));
            // A route that takes too much work to pull straight is looked for by a search.
            if !matches!(attempt.outcome, Outcome::NotHere) || attempt.work > before {
                break;
            }
        }
        attempt
    }

    /// Looks whether a track fits.
    fn attempt_one(
        &self,
        (at, ends): (usize, &Ends),
        ground: &Ground,
        (ask, asked, new): (&Ask<'_>, &Asked, &NewParts),
        (pull, attempt): (&mut smooth::Pull, &mut Attempt),
    ) {
        let (track, Some(chart)) = (&self.all[at], ask.clearance.chart()) else {
            return;
        };
        let is_alike = track.apart_m((ask.from, ends.to)) <= ALIKE_CELLS * ground.cell_m();
        let parts = track.missing_parts(chart, ends, new);
        if !parts.is_empty() {
            let missing = parts.len() as u32;
            let pays = if is_alike {
                track.saves(missing.div_ceil(SHARED_BY), 1)
            } else {
                self.odds.pays(track, missing)
            };
            if pays && asked.times < MOST_ASKED {
                attempt.outcome = Outcome::Wants(Wants {
                    track: track.number,
                    parts,
                    is_alike,
                });
            }
            return;
        }
        let route = track.lead(ask.clearance, ends, new).and_then(|lead| {
            let view = ground.view(ask.clearance.gait());
            let led = (ask, ends, &lead);
            let (route, work) = draft::route(view, led, track.course(), pull);
            attempt.work += COST_OF_A_ROUTE + lead.written() + work;
            route
        });
        if asked.far == Some(track.number) {
            attempt.note.odds = Some(route.is_some());
        }
        if let Some(route) = route {
            attempt.outcome = Outcome::Route(route);
        }
    }

    /// Computes the wanted parts that are not known yet, and adds them to the new ones. Returns the work.
    pub(in crate::route::planner) fn compute(
        &self,
        clearance: &ClearanceMap,
        (tile, new): (&mut Tile, &mut NewParts),
        wants: &Wants,
    ) -> u32 {
        let mut work = 0;
        let track = self.all.iter().find(|track| track.number == wants.track);
        for key in &wants.parts {
            let part = track.and_then(|track| track.compute(clearance, tile, (*key, new)));
            if let Some((part, settled)) = part {
                new.0.push((wants.track, part));
                work += settled;
            }
        }
        work
    }

    /// Removes the wanted parts that have been computed since; all of them if the track is no longer kept.
    pub(in crate::route::planner) fn leave_out_known(&self, wants: &mut Option<Wants>) {
        let Some(some) = wants else {
            return;
        };
        let track = self.all.iter().find(|track| track.number == some.track);
        some.parts
            .retain(|key| track.is_some_and(|track| !track.knows(*key)));
        wants.take_if(|wants| wants.parts.is_empty());
    }

    /// Keeps parts that were computed.
    pub(in crate::route::planner) fn add_parts(&mut self, new: NewParts) {
        for (number, part) in new.0 {
            let track = self.all.iter_mut().find(|track| track.number == number);
            let is_new = track.is_some_and(|track| track.add_part(part));
            self.parts += usize::from(is_new);
        }
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
