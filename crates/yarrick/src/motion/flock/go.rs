//! How members move on: no faster and no sharper than they can, and over no edge of a pen.

use super::lanes::{Moving, Vectors};
use super::{Air, FARTHEST_M, FlockParams, Zone};
use crate::geom::{Vec2, Vec3, angle};
use wide::f32x4;

/// How much farther inside than it needs to be a turning circle must lie, in metres.
const SPARE_M: f32 = 1e-3;

/// The sharpest turn of a tick: what all members have in common.
#[derive(Clone, Copy, Debug)]
pub(super) struct Turn {
    tick_s: f32,
    /// The sine and the cosine of its angle, to the left.
    whole: Vec2,
    /// The sine of half its angle.
    half_sin: f32,
    /// The direction from a member that goes along +x to the middle of its tightest circle, to the left.
    to_middle: Vec2,
}

impl Turn {
    pub(super) fn of(params: &FlockParams, tick_s: f32) -> Turn {
        let angle = (params.turn_rate * tick_s).min(core::f32::consts::PI);
        let (sin, cos) = libm::sincosf(angle);
        let (out, ahead) = libm::sincosf(angle * 0.5 + core::f32::consts::FRAC_PI_2);
        Turn {
            tick_s,
            whole: Vec2::new(cos, sin),
            half_sin: libm::sinf(angle * 0.5),
            to_middle: Vec2::new(ahead, out),
        }
    }
}

/// The same turn to one side: `1` is the left, `-1` the right.
fn sided(turn: Vec2, side: f32) -> Vec2 {
    Vec2::new(turn.x, turn.y * side)
}

/// Where members are after a tick, and how they move then, that are pulled by so much (see
/// [`Pulls`](super::Pulls)).
///
/// Who is in a pen keeps a way of turning free: a step is taken only if after it one of the two tightest circles, to
/// the left or to the right, lies within the pen; else the member turns along the one that does. So nobody needs to
/// bounce off the edge, or to stop at it.
pub(super) fn go(
    moving: &Moving,
    pull: Vectors,
    (params, pens): (&FlockParams, &[&Zone]),
    turn: &Turn,
) -> Moving {
    let tick_s = f32x4::splat(turn.tick_s);
    let (here, before) = (moving.at.flat(), moving.velocity.flat());
    let wish = before + pull.flat() * f32x4::splat(params.eagerness * turn.tick_s);
    let mut velocity = turned(before, wish, params, turn);
    let mut at = here + velocity * tick_s;
    if !pens.is_empty() {
        Moving { at, velocity } = within(pens, (here, before), velocity, (params, turn));
    }
    if let Some(air) = params.air {
        let (z, before) = (moving.at.z.to_array(), moving.velocity.z.to_array());
        let pull = (pull.z * f32x4::splat(params.eagerness)).to_array();
        velocity.z = f32x4::new(core::array::from_fn(|lane| {
            climb(&air, (z[lane], before[lane]), pull[lane], turn.tick_s)
        }));
        at.z = moving.at.z + velocity.z * tick_s;
    }
    // Nobody gets too far out; and no zero has a sign.
    let zero = f32x4::ZERO;
    let out = |axis: f32x4| {
        axis.fast_max(f32x4::splat(-FARTHEST_M))
            .fast_min(f32x4::splat(FARTHEST_M))
            + zero
    };
    Moving {
        at: Vectors {
            x: out(at.x),
            y: out(at.y),
            z: out(at.z),
        },
        velocity: velocity + Vectors::default(),
    }
}

/// Velocities on their way to others, as fast as they may turn and as fast as they may be.
fn turned(before: Vectors, wish: Vectors, params: &FlockParams, turn: &Turn) -> Vectors {
    let (slowest, fastest) = params.speed;
    let speed = wish.length().fast_max(f32x4::splat(slowest));
    let speed = speed.fast_min(f32x4::splat(fastest));
    // Who does not move turns at once; who wishes nothing goes on.
    let any = wish.directions_or(Vectors::splat(Vec3::X));
    let old = before.directions_or(any);
    let new = wish.directions_or(old);
    let sin = old.x * new.y - old.y * new.x;
    let is_near = old.dot(new).simd_ge(f32x4::splat(turn.whole.x));
    // A wish straight back turns left.
    let whole = f32x4::splat(turn.whole.y);
    let side = sin.simd_lt(f32x4::ZERO).bitselect(-whole, whole);
    new.or(is_near, old.turned(f32x4::splat(turn.whole.x), side)) * speed
}

/// Where those are that would go on with such velocities, and how they move, if some pens are to keep them.
fn within(
    pens: &[&Zone],
    (here, before): (Vectors, Vectors),
    wanted: Vectors,
    (params, turn): (&FlockParams, &Turn),
) -> Moving {
    let (mut at, mut velocity) = (here.each(), wanted.each());
    let before = before.each();
    for (lane, (at, velocity)) in at.iter_mut().zip(&mut velocity).enumerate() {
        let here = at.truncate();
        let mut after = velocity.truncate();
        for pen in pens {
            let before = before[lane].truncate();
            after = kept_in(pen, here, (before, after), (params, turn));
        }
        let mut there = here + after * turn.tick_s;
        for pen in pens {
            // A last resort, where the pen was moved or is narrower than the circle: it stops at the edge.
            if pen.edge(here).depth_m >= 0.0 && pen.edge(there).depth_m < 0.0 {
                there = here;
            }
        }
        (*at, *velocity) = (there.extend(0.0), after.extend(0.0));
    }
    Moving {
        at: Vectors::of(at),
        velocity: Vectors::of(velocity),
    }
}

/// A velocity that leaves a way of turning free within a pen.
fn kept_in(
    pen: &Zone,
    here: Vec2,
    (before, after): (Vec2, Vec2),
    (params, turn): (&FlockParams, &Turn),
) -> Vec2 {
    let is_free =
        |at: Vec2, velocity: Vec2, side: f32| circle_is_free(pen, at, velocity, (turn, side));
    let there = here + after * turn.tick_s;
    if is_free(there, after, 1.0) || is_free(there, after, -1.0) {
        return after;
    }
    let around = |side: f32| before.rotate(sided(turn.whole, side));
    let (left, right) = (is_free(here, before, 1.0), is_free(here, before, -1.0));
    let inward = pen.edge(here).inward;
    let prefers_left = if left == right {
        before.perp_dot(inward) >= 0.0
    } else {
        left
    };
    let on = around(if prefers_left { 1.0 } else { -1.0 });
    if left || right {
        on
    } else {
        // Neither is free: the member was put here. It turns as slowly as it can.
        on.normalize_or_zero() * params.speed.0
    }
}

/// Whether one who turns as sharply as it can from now on, to one side, stays within a pen. Its places at the ends of ticks lie on a circle.
fn circle_is_free(pen: &Zone, at: Vec2, velocity: Vec2, (turn, side): (&Turn, f32)) -> bool {
    let step = velocity.length() * turn.tick_s;
    let radius = step / (2.0 * turn.half_sin.max(1e-6));
    let way = velocity.normalize_or_zero();
    let middle = at + way.rotate(sided(turn.to_middle, side)) * radius;
    pen.edge(middle).depth_m >= radius + SPARE_M
}

/// How fast a member climbs, in metres a second; it stays between floor and ceiling.
fn climb(air: &Air, (altitude, before): (f32, f32), pull: f32, tick_s: f32) -> f32 {
    let near = |gap: f32| {
        if air.margin_m > 0.0 {
            (1.0 - gap / air.margin_m).clamp(0.0, 1.0)
        } else {
            0.0
        }
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
