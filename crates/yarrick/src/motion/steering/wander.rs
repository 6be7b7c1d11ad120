//! Strolling about.

use super::along;
use crate::geom::{Vec2, angle};

/// How one strolls about.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Wander {
    /// The sharpest turn, in radians a second.
    pub turn_rate: f32,
    /// How long a bend lasts, in seconds: after so long little is left of it.
    pub bend_s: f32,
}

/// The velocity at `speed` metres a second of one that strolls about, and how it turns.
///
/// `heading` is the direction it goes, in radians, and `turn` how it turns, in radians a second: both are to be kept
/// between calls and are changed. `random` is a random number between -1 and 1, drawn anew for each call, and `tick_s`
/// the seconds since the last.
///
/// The turn itself drifts (a bounded Ornstein–Uhlenbeck process), so that the way has long bends and no corners, and
/// looks the same whatever the length of a tick.
///
/// ```
/// use yarrick::geom::Vec2;
/// use yarrick::motion::steering::{Wander, wander};
/// use yarrick::rng::Stream;
///
/// let (mut heading, mut turn, mut at) = (0.0, 0.0, Vec2::ZERO);
/// let mut random = Stream::new(7, "dunlin");
/// let how = Wander { turn_rate: 1.0, bend_s: 2.0 };
/// for _ in 0..200 {
///     at += wander(&mut heading, &mut turn, &how, random.between(-1.0, 1.0), 1.5, 0.05) * 0.05;
/// }
/// assert!(at.length() < 15.0, "it has gone fifteen metres, though not straight");
/// ```
#[must_use]
pub fn wander(
    heading: &mut f32,
    turn: &mut f32,
    how: &Wander,
    random: f32,
    speed: f32,
    tick_s: f32,
) -> Vec2 {
    let (rate, tick_s) = (how.turn_rate.max(0.0), tick_s.max(0.0));
    let part = if how.bend_s > 0.0 {
        (tick_s / how.bend_s).min(1.0)
    } else {
        1.0
    };
    // Fades at this rate, and is stirred so that it spreads over the range.
    let stirred = *turn * (1.0 - part) + random * rate * (2.0 * part).sqrt();
    *turn = if stirred.is_finite() {
        stirred.clamp(-rate, rate)
    } else {
        0.0
    };
    *heading = angle::wrap(*heading + *turn * tick_s);
    along(angle::direction(*heading), speed)
}
