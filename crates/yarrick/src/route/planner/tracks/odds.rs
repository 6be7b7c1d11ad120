//! The success rate of tracks whose ends are far from those of the request.

use super::track::Track;
use serde::{Deserialize, Serialize};

/// The success rate, in 256ths: of recent requests for which parts of fields were computed, those for which a track then fitted. High
/// on open ground, low in clutter.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(super) struct Odds(u32);

/// The initial rate. Lower rates return to it by one a round.
const AT_FIRST: u32 = 128;

/// The latest request weighs 1 in this number.
const WEIGHT: u32 = 8;

impl Default for Odds {
    fn default() -> Odds {
        Odds(AT_FIRST)
    }
}

impl Odds {
    /// Whether computing this number of parts is expected to save work: a search costs at least twice as much, divided by the rate.
    pub(super) fn pays(self, track: &Track, parts: u32) -> bool {
        track.saves(parts, 2 * 256 / self.0.max(1))
    }

    pub(super) fn note(&mut self, fits: bool) {
        if fits {
            self.0 += (256 - self.0) / WEIGHT;
        } else {
            self.0 -= self.0.div_ceil(WEIGHT);
        }
    }

    /// Raises a low rate, once a round, so that tracks are tried again.
    pub(super) fn recover(&mut self) {
        self.0 = (self.0 + 1).min(AT_FIRST.max(self.0));
    }

    /// Whether the value is possible: for what was read from a file.
    pub(super) fn is_consistent(self) -> bool {
        self.0 <= 256
    }
}
