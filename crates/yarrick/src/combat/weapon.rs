//! What a unit strikes with.

use serde::{Deserialize, Serialize};

/// What a unit strikes with.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Weapon {
    /// How far it reaches, in metres from the edge of the one body to the edge of the other; at
    /// most [`Weapon::MAX_RANGE_M`].
    pub range_m: f32,
    /// What a blow takes from the health of whom it hits, in points; at most
    /// [`Weapon::MAX_DAMAGE`].
    pub damage: f32,
    /// From one blow to the next, in seconds; from [`Weapon::MIN_COOLDOWN_S`] to
    /// [`Weapon::MAX_COOLDOWN_S`].
    pub cooldown_s: f32,
}

impl Weapon {
    /// The longest range allowed, in metres.
    pub const MAX_RANGE_M: f32 = 200.0;
    /// The most damage allowed, in points.
    pub const MAX_DAMAGE: f32 = 1_000_000.0;
    /// The shortest cooldown allowed, in seconds.
    pub const MIN_COOLDOWN_S: f32 = 0.01;
    /// The longest cooldown allowed, in seconds.
    pub const MAX_COOLDOWN_S: f32 = 3600.0;

    pub(crate) const WEAKEST: Weapon = Weapon {
        range_m: 0.0,
        damage: 0.0,
        cooldown_s: Weapon::MIN_COOLDOWN_S,
    };

    /// How near one who comes to strike goes, in metres from edge to edge: well within the range,
    /// so that the target's next step does not take it out of it at once.
    #[must_use]
    pub fn close_in_m(&self) -> f32 {
        self.range_m * 0.9
    }

    /// The whole ticks from one blow to the next, one at least.
    #[must_use]
    pub fn cooldown_ticks(&self, ticks_per_second: u32) -> u64 {
        // Casts saturate, and NaN becomes nothing.
        ((self.cooldown_s * ticks_per_second as f32 + 0.5) as u64).max(1)
    }
}
