//! What a unit strikes with.

use super::Flight;
use core::f32::consts::{PI, TAU};
use serde::{Deserialize, Serialize};

/// Which of several targets within range a weapon takes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Preference {
    /// The nearest.
    #[default]
    Nearest,
    /// The one with the shortest way left to the goal for which it was sent. Those without a goal come last.
    FarthestAlong,
}

impl Preference {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, Preference); 2] = [
        ("nearest", Preference::Nearest),
        ("farthest-along", Preference::FarthestAlong),
    ];
}

/// Arms that turn on a body: they point elsewhere than it faces.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Turret {
    /// How fast they turn, in radians a second; up to [`Turret::MAX_TURN_RATE`].
    pub turn_rate: f32,
    /// The sector in which they turn, centred on the facing of the body, in radians; a whole turn for no limit.
    pub arc: f32,
}

impl Turret {
    /// The fastest turn allowed, in radians a second.
    pub const MAX_TURN_RATE: f32 = 100.0;

    /// Whether they can point in a direction, in radians from the facing of the body, from -pi to pi.
    #[must_use]
    pub fn can_point(&self, off: f32) -> bool {
        self.arc >= TAU || off.abs() <= self.arc * 0.5
    }
}

/// What a unit strikes with.
///
/// ```
/// use yarrick::combat::{Flight, Weapon};
///
/// let pole = Weapon { range_m: 0.8, damage: 4.0, cooldown_s: 0.9, ..Weapon::PLAIN };
/// let sling = Weapon {
///     flight: Some(Flight { speed: 14.0, reach_m: 9.0 }),
///     clear_line: true,
///     ..Weapon { range_m: 7.0, ..pole }
/// };
/// assert_eq!((pole.flight, sling.cooldown_ticks(20)), (None, 18));
/// ```
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
    /// How its projectiles fly. `None` for a weapon that hits in the moment in which it strikes.
    pub flight: Option<Flight>,
    /// How far from the target the arms may point for a strike, in radians; from 0 to pi, with which they strike in any
    /// direction.
    pub aim_within: f32,
    /// Whether it strikes only where nothing that blocks sight is between. Its projectiles end at what blocks sight.
    pub clear_line: bool,
    /// How the arms turn on the body. `None` for a unit that turns as a whole.
    pub turret: Option<Turret>,
    /// Which target it takes.
    pub prefers: Preference,
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

    /// How far from the target the arms of a weapon of which no more is known may point for a strike: 10 degrees.
    pub const USUAL_AIM: f32 = PI / 18.0;

    /// A weapon that hits at once, does no damage and needs no clear line: to be completed with `..Weapon::PLAIN`.
    pub const PLAIN: Weapon = Weapon {
        range_m: 0.0,
        damage: 0.0,
        cooldown_s: 1.0,
        flight: None,
        aim_within: Weapon::USUAL_AIM,
        clear_line: false,
        turret: None,
        prefers: Preference::Nearest,
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
