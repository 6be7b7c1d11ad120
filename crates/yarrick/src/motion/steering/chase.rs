//! After one that moves, and away from one that does.

use super::{flee, seek};
use crate::geom::Vec2;

/// Something that moves, or stands.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Moving {
    /// Where it is, in metres.
    pub at: Vec2,
    /// How it moves, in metres a second.
    pub velocity: Vec2,
}

/// The point at which one who sets out from `from` at `speed` metres a second meets `quarry`, if that keeps its
/// velocity. `None` if it never does.
///
/// It is also where to aim: `from` is the muzzle then and `speed` that of the shot.
///
/// ```
/// use yarrick::geom::Vec2;
/// use yarrick::motion::steering::{Moving, lead};
///
/// let quarry = Moving { at: Vec2::new(4.0, 0.0), velocity: Vec2::new(0.0, 3.0) };
/// let met = lead(Vec2::ZERO, 5.0, quarry).unwrap();
/// assert!(met.distance(Vec2::new(4.0, 3.0)) < 1e-4, "after one second");
/// assert_eq!(lead(Vec2::ZERO, 2.0, quarry), None, "it is too fast");
/// ```
#[must_use]
pub fn lead(from: Vec2, speed: f32, quarry: Moving) -> Option<Vec2> {
    let gap = quarry.at - from;
    let time = time_to_meet(gap, quarry.velocity, speed)?;
    let met = quarry.at + quarry.velocity * time;
    (speed > 0.0 && time >= 0.0 && met.is_finite()).then_some(met)
}

/// The first time at which `|gap + velocity t| = speed t`, in seconds, if there is one.
fn time_to_meet(gap: Vec2, velocity: Vec2, speed: f32) -> Option<f32> {
    let faster = speed * speed - velocity.length_squared();
    let (recedes, square) = (gap.dot(velocity), gap.length_squared());
    if square == 0.0 {
        return Some(0.0);
    }
    if faster.abs() < 1e-6 {
        // As fast as each other: they meet if the quarry comes nearer.
        return (recedes < 0.0).then(|| square / (-2.0 * recedes));
    }
    let under = recedes * recedes + faster * square;
    if under < 0.0 || faster < 0.0 && recedes > 0.0 {
        return None;
    }
    // For one that is faster than its hunter, too, this is the sooner of two times.
    Some((recedes + under.sqrt()) / faster)
}

/// The velocity of one that runs at `speed` metres a second to where it meets `quarry`; straight at it, if it is too
/// fast to be met.
#[must_use]
pub fn pursue(me: Moving, quarry: Moving, speed: f32) -> Vec2 {
    let target = lead(me.at, speed, quarry).unwrap_or(quarry.at);
    seek(me.at, target, speed)
}

/// The velocity of one that runs at `speed` metres a second away from where `hunter` will be when it could be here, and
/// no later than `foresight_s` seconds from now.
#[must_use]
pub fn evade(me: Moving, hunter: Moving, speed: f32, foresight_s: f32) -> Vec2 {
    let closing = hunter.velocity.length().max(1e-6);
    let time = (me.at.distance(hunter.at) / closing).min(foresight_s.max(0.0));
    let comes_to = hunter.at + hunter.velocity * time;
    let past = (comes_to - hunter.at).dot(me.at - hunter.at) >= me.at.distance_squared(hunter.at);
    // From one that comes straight on one runs ahead of it.
    let from = if past { hunter.at } else { comes_to };
    flee(me.at, from, speed)
}
