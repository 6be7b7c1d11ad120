//! Along a line, round a point, along a path.

use super::{along, sound};
use crate::geom::{Vec2, segment_nearest};
use core::f32::consts::TAU;

/// How one weaves about a line.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Weave {
    /// How far to either side, in metres.
    pub amplitude_m: f32,
    /// The metres along the line from one crest to the next on the same side.
    pub period_m: f32,
    /// Where in the period the line begins, in radians: at `0` on the line and going left, at a quarter turn farthest
    /// left.
    pub phase: f32,
}

/// How much of the way to where one should be beside the line is made good within a quarter period.
const CATCH_UP: f32 = 1.5;

/// The velocity at `speed` metres a second of one that weaves about the line from `from` towards `to`, wherever it is
/// now. Beyond `to` it weaves on.
///
/// The speed is that along the curve, so that one that weaves wide comes on more slowly. Without a period it goes along
/// the line; a line without length gives zero.
#[must_use]
pub fn weave(at: Vec2, (from, to): (Vec2, Vec2), how: &Weave, speed: f32) -> Vec2 {
    let ahead = (to - from).normalize_or_zero();
    let done = (at - from).dot(ahead);
    let beside = (at - from).dot(ahead.perp());
    let has_period = how.period_m > 0.0;
    let turns = if has_period { TAU / how.period_m } else { 0.0 };
    let amplitude = if has_period { how.amplitude_m } else { 0.0 };
    let (sin, cos) = libm::sincosf(turns * done + how.phase);
    let slope = amplitude * turns * cos;
    let off = amplitude * sin - beside;
    let catch_up = if has_period {
        off * CATCH_UP * 4.0 / how.period_m
    } else {
        off
    };
    along(ahead + ahead.perp() * (slope + catch_up), speed)
}

/// Which way round.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Round {
    /// Anticlockwise, the point to the left.
    Left,
    /// Clockwise, the point to the right.
    Right,
}

/// The velocity at `speed` metres a second of one that goes round `centre` at a distance of `radius_m`: along the ring
/// where it is on it, towards it where it is not. In the centre itself it sets out along +x.
#[must_use]
pub fn orbit(at: Vec2, centre: Vec2, radius_m: f32, round: Round, speed: f32) -> Vec2 {
    let out = (at - centre).try_normalize().unwrap_or(Vec2::X);
    let off = radius_m.max(0.0) - at.distance(centre);
    let along_ring = match round {
        Round::Left => out.perp(),
        Round::Right => -out.perp(),
    };
    // Half a radius off the ring it heads for it at an angle of 45 degrees.
    let back = off / (radius_m.max(1e-3) * 0.5);
    along(along_ring + out * back.clamp(-4.0, 4.0), speed)
}

/// The velocity at `speed` metres a second of one that keeps to a path, wherever it is beside it: it makes for the
/// point of the path that is `ahead_m` metres on from the one nearest to it. A larger `ahead_m` cuts corners more.
///
/// `leg` is the leg it is on, from `0`, to be kept between calls: nobody goes back to an earlier one, so that a path may
/// cross itself. Legs are passed as soon as the next is nearer. Zero at the end, and for a path without legs.
///
/// Costs in proportion to the legs that are passed, and those within `ahead_m`.
#[must_use]
pub fn follow_path(at: Vec2, path: &[Vec2], leg: &mut u32, ahead_m: f32, speed: f32) -> Vec2 {
    let ends = |leg: usize| path.get(leg).zip(path.get(leg + 1));
    let nearest = |leg: usize| ends(leg).map(|(a, b)| segment_nearest(*a, *b, at));
    let mut now = *leg as usize;
    let Some(mut point) = nearest(now) else {
        return Vec2::ZERO;
    };
    while let Some(next) = nearest(now + 1)
        && at.distance_squared(next) <= at.distance_squared(point)
    {
        (now, point) = (now + 1, next);
    }
    *leg = now as u32;
    let mut left = ahead_m.max(0.0);
    while let Some((_, end)) = ends(now) {
        let step = point.distance(*end);
        if step >= left {
            point += (*end - point).normalize_or_zero() * left;
            break;
        }
        (left, point, now) = (left - step, *end, now + 1);
    }
    // With a short look ahead and full speed one would run past the end and back again.
    let way = point - at;
    match ends(now) {
        None => sound(way.clamp_length_max(speed.max(0.0))),
        Some(_) => along(way, speed),
    }
}
