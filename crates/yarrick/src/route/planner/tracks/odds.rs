//! How often tracks fit that lead past where a request sets out and arrives.

use super::track::Track;
use serde::{Deserialize, Serialize};

/// Of 256 requests for which parts of fields are computed, those for which a track then fits, by the last few of them. On open ground
/// nearly all, in clutter few.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(super) struct Odds(u32);

/// Assumed at first, and again after some time.
const AT_FIRST: u32 = 128;

/// Each counts as much as an eighth of what is known from those before it.
const WEIGHT: u32 = 8;

impl Default for Odds {
    fn default() -> Odds {
        Odds(AT_FIRST)
    }
}

impl Odds {
    /// Whether a search costs so much more than some parts that they are worth a try.
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

    /// After a round: tries are made again in time.
    pub(super) fn recover(&mut self) {
        self.0 = (self.0 + 1).min(AT_FIRST.max(self.0));
    }

    /// Whether the value is possible: for what was read from a file.
    pub(super) fn is_consistent(self) -> bool {
        self.0 <= 256
    }
}
