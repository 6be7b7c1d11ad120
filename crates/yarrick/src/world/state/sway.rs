//! How a unit swings from side to side about its way.

use crate::geom::Vec2;
use core::f32::consts::TAU;
use serde::{Deserialize, Serialize};

/// A swing about the way.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Sway {
    /// How far it swings to either side, in metres.
    pub(crate) half_m: f32,
    /// The ticks of a whole swing, there and back; 1 at least.
    pub(crate) ticks: f32,
    /// Where in the swing it began, from 0 to 1.
    pub(crate) phase: f32,
    /// The tick in which it began.
    pub(crate) since: u64,
}

impl Sway {
    /// The step of a tick: as long as `step`, and to the side as the swing has it.
    pub(crate) fn aside(&self, step: Vec2, now: u64) -> Vec2 {
        let length = step.length();
        let turn = TAU / self.ticks.max(1.0);
        let angle = (now - self.since.min(now)) as f32 * turn + self.phase * TAU;
        // The derivative of the swing. A unit that is slower swings less far.
        let aside = self.half_m * turn * libm::cosf(angle);
        let aside = aside.clamp(-0.9 * length, 0.9 * length);
        let along = (length * length - aside * aside).max(0.0).sqrt();
        let ahead = step.normalize_or_zero();
        ahead * along + ahead.perp() * aside
    }
}
