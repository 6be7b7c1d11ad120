//! How a member moves on: no faster and no sharper than it can, and over no edge of a pen.

use super::{Air, Manners, Zone};
use crate::geom::{Vec2, Vec3, angle};

/// How much farther inside than it needs to be a turning circle must lie, in metres.
const SPARE_M: f32 = 1e-3;

/// Where a member is after a tick, and how it moves then, that is pulled by so much (see [`Pulls`](super::Pulls)).
///
/// Who is in a pen keeps a way of turning free: a step is taken only if after it one of the two tightest circles, to
/// the left or to the right, lies within the pen; else the member turns along the one that does. So nobody needs to
/// bounce off the edge, or to stop at it.
pub(super) fn go(
    (at, velocity): (Vec3, Vec3),
    pull: Vec3,
    (manners, pens): (&Manners, &[&Zone]),
    tick_s: f32,
) -> (Vec3, Vec3) {
    let (here, before) = (at.truncate(), velocity.truncate());
    let wish = before + pull.truncate() * (manners.eagerness * tick_s);
    let mut after = turned(before, wish, manners, tick_s);
    for pen in pens {
        after = kept_in(pen, here, (before, after), manners, tick_s);
    }
    let mut there = here + after * tick_s;
    for pen in pens {
        // A last resort, where the pen was moved or is narrower than the circle: it stops at the edge.
        if pen.edge(here).depth_m >= 0.0 && pen.edge(there).depth_m < 0.0 {
            there = here;
        }
    }
    match manners.air {
        None => (there.extend(0.0), after.extend(0.0)),
        Some(air) => {
            let climb = climb(&air, (at.z, velocity.z), pull.z * manners.eagerness, tick_s);
            (there.extend(at.z + climb * tick_s), after.extend(climb))
        }
    }
}

/// A velocity on its way to another, as fast as it may turn and as fast as it may go.
fn turned(before: Vec2, wish: Vec2, manners: &Manners, tick_s: f32) -> Vec2 {
    let (slowest, fastest) = manners.speed;
    let speed = wish.length().clamp(slowest, fastest);
    let Some(old) = before.try_normalize() else {
        return wish.normalize_or(Vec2::X) * speed;
    };
    let Some(new) = wish.try_normalize() else {
        return old * speed;
    };
    let (sin, cos) = (old.perp_dot(new), old.dot(new));
    let (most_sin, most_cos) =
        libm::sincosf((manners.turn_rate * tick_s).min(core::f32::consts::PI));
    if cos >= most_cos {
        new * speed
    } else {
        // A wish straight back turns left.
        old.rotate(Vec2::new(
            most_cos,
            if sin < 0.0 { -most_sin } else { most_sin },
        )) * speed
    }
}

/// A velocity that leaves a way of turning free within a pen.
fn kept_in(
    pen: &Zone,
    here: Vec2,
    (before, after): (Vec2, Vec2),
    manners: &Manners,
    tick_s: f32,
) -> Vec2 {
    let turn = (manners.turn_rate * tick_s).min(core::f32::consts::PI);
    let is_free = |at: Vec2, velocity: Vec2, side: f32| {
        circle_is_free(pen, at, velocity, (turn * side, tick_s))
    };
    let there = here + after * tick_s;
    if is_free(there, after, 1.0) || is_free(there, after, -1.0) {
        return after;
    }
    let around = |side: f32| {
        let (sin, cos) = libm::sincosf(turn * side);
        before.rotate(Vec2::new(cos, sin))
    };
    let (left, right) = (is_free(here, before, 1.0), is_free(here, before, -1.0));
    let inward = pen.edge(here).inward;
    let prefers_left = match left == right {
        true => before.perp_dot(inward) >= 0.0,
        false => left,
    };
    let on = around(if prefers_left { 1.0 } else { -1.0 });
    match left || right {
        true => on,
        // Neither is free: it has been put here. It turns in as slowly as it can.
        false => on.normalize_or_zero() * manners.speed.0,
    }
}

/// Whether one who turns as sharply as it can from now on, to the left if the turn of a tick is above zero, stays
/// within a pen. Its places at the ends of ticks lie on a circle.
fn circle_is_free(pen: &Zone, at: Vec2, velocity: Vec2, (turn, tick_s): (f32, f32)) -> bool {
    let step = velocity.length() * tick_s;
    let half = libm::sinf(turn.abs() * 0.5);
    let radius = step / (2.0 * half.max(1e-6));
    let (sin, cos) =
        libm::sincosf((turn.abs() * 0.5 + core::f32::consts::FRAC_PI_2).copysign(turn));
    let middle = at + velocity.normalize_or_zero().rotate(Vec2::new(cos, sin)) * radius;
    pen.edge(middle).depth_m >= radius + SPARE_M
}

/// How fast a member climbs, in metres a second; it stays between floor and ceiling.
fn climb(air: &Air, (altitude, before): (f32, f32), pull: f32, tick_s: f32) -> f32 {
    let near = |gap: f32| match air.margin_m > 0.0 {
        true => (1.0 - gap / air.margin_m).clamp(0.0, 1.0),
        false => 0.0,
    };
    let back = near(altitude - air.floor_m) - near(air.ceiling_m - altitude);
    // Near either it is to be on its way back within half a second.
    let wish = before + (pull + back * air.climb * 2.0) * tick_s;
    let (least, most) = (
        (air.floor_m - altitude) / tick_s,
        (air.ceiling_m - altitude) / tick_s,
    );
    wish.clamp(-air.climb, air.climb).max(least).min(most)
}

/// The heading of a velocity, in radians.
pub(super) fn heading(velocity: Vec3) -> f32 {
    angle::of(velocity.truncate()).unwrap_or(0.0)
}
