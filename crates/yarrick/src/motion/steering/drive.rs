//! What a body makes of a wish: it gathers speed, brakes and turns no faster than it can.

use super::sound;
use crate::geom::{Vec2, angle};
use serde::{Deserialize, Serialize};

/// How a body drives.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Drive {
    /// The highest speed, in metres a second.
    pub speed: f32,
    /// How fast it gathers speed, in metres a second squared.
    pub acceleration: f32,
    /// How fast it slows down, in metres a second squared.
    pub braking: f32,
    /// How fast it turns, in radians a second.
    pub turn_rate: f32,
    /// Whether it has to face where it goes.
    pub turning: Turning,
    /// Distance to the goal in metres; infinite for a heading without an end. With [`Turning::Driving`], a body manoeuvres
    /// to a goal that lies within its turning circle.
    pub goal_m: f32,
    /// Whether manoeuvres swap forwards and backwards: for a body that is blocked in the usual direction.
    pub other_way: bool,
}

impl Default for Drive {
    /// One metre a second, at once, in any direction.
    fn default() -> Drive {
        Drive {
            speed: 1.0,
            acceleration: f32::INFINITY,
            braking: f32::INFINITY,
            turn_rate: f32::INFINITY,
            turning: Turning::Free,
            goal_m: f32::INFINITY,
            other_way: false,
        }
    }
}

/// How facing and the direction of travel hang together.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Turning {
    /// Not at all: it goes in any direction, sideways and backwards too, and turns meanwhile.
    #[default]
    Free,
    /// It goes only where it faces, or straight back, and turns on the spot.
    OnTheSpot,
    /// It goes only where it faces, or straight back, and turns only while it drives, on no tighter circle than one of
    /// so many metres radius.
    Driving {
        /// The radius of the tightest circle, in metres.
        circle_m: f32,
    },
}

/// How a body moves and where it looks.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Driven {
    /// In metres a second.
    pub velocity: Vec2,
    /// In radians, anticlockwise from +x.
    pub facing: f32,
}

/// One that must face where it goes sets out when it is turned by less than this from there; in radians.
const SETS_OUT: f32 = core::f32::consts::FRAC_PI_3;

/// One that turns only while driving backs to turn when it is turned by more than this from where it wants to go, until
/// it is turned by less than [`SETS_OUT`]; in radians.
const BACKS: f32 = core::f32::consts::FRAC_PI_3 * 2.0;

/// The part of its speed at which one that turns only while driving drives to turn.
pub(crate) const CREEP: f32 = 0.4;

/// Largest distance to a goal behind to which a body backs, as a multiple of its turning circle's radius.
const BACKS_UP_TO: f32 = 4.0;

/// How far outside of its tightest circles a point must lie for a manoeuvre to end, relative to the least.
const CLEARLY_OUTSIDE: f32 = 1.15;

/// How a body moves after a tick of `tick_s` seconds, if it would like to move at `wish` metres a second.
///
/// `look` is where it faces, in radians, if that is not where it goes: it backs away, or steps aside, with its eyes on
/// something. Without it a body that stands keeps its facing.
#[must_use]
pub fn drive(now: Driven, wish: Vec2, look: Option<f32>, how: &Drive, tick_s: f32) -> Driven {
    let wish = sound(wish).clamp_length_max(how.speed.max(0.0));
    match how.turning {
        Turning::Free => {
            let to = look.or_else(|| angle::of(wish));
            Driven {
                velocity: sound(toward(now.velocity, wish, how, tick_s)),
                facing: turned(now.facing, to, how.turn_rate * tick_s),
            }
        }
        Turning::OnTheSpot => roll(now, wish, look, how, (None, tick_s)),
        Turning::Driving { circle_m } => match manoeuvre(now, wish, look, how, circle_m) {
            Some(course) => wheel(now, course, how, (circle_m, tick_s)),
            None => roll(now, wish, look, how, (Some(circle_m), tick_s)),
        },
    }
}

/// A speed along the facing, less than zero for backing, and the facing to turn to.
struct Wheeled {
    speed: f32,
    facing: f32,
}

/// What one does that turns only while it drives, and whose goal it cannot simply drive to.
///
/// ```text
///        ╭───╮         the goal g lies within the circle that the body b would drive: it backs, turning towards g, until
///     b→ │ g │         g lies outside of it. A goal behind is backed to; where it lies within the circle, the body
///        ╰───╯         drives forwards first
/// ```
fn manoeuvre(
    now: Driven,
    wish: Vec2,
    look: Option<f32>,
    how: &Drive,
    circle_m: f32,
) -> Option<Wheeled> {
    let heading = angle::of(wish).filter(|_| look.is_none() && how.goal_m.is_finite())?;
    let rolls = now.velocity.dot(angle::direction(now.facing));
    let off = angle::between(now.facing, heading).abs();
    let is_behind = off > core::f32::consts::FRAC_PI_2;
    let is_manoeuvring = if is_behind { rolls > 0.0 } else { rolls < 0.0 };
    let margin = if is_manoeuvring { CLEARLY_OUTSIDE } else { 1.0 };
    let is_within = how.goal_m < 2.0 * circle_m * libm::sinf(off) * margin;
    let is_near = how.goal_m <= BACKS_UP_TO * circle_m;
    let back = angle::wrap(heading + core::f32::consts::PI);
    let slow = how.speed * CREEP;
    let top = wish.length();
    match (is_within, is_behind != how.other_way) {
        // The nose turns to the goal while it backs, the tail while it drives on.
        (true, false) => Some(Wheeled {
            speed: -slow,
            facing: heading,
        }),
        (true, true) => Some(Wheeled {
            speed: slow,
            facing: back,
        }),
        (false, true) if is_near && is_behind => Some(Wheeled {
            speed: -(top * -libm::cosf(off)).max(top * CREEP),
            facing: back,
        }),
        _ => None,
    }
}

/// The move of one on wheels towards a speed and a facing.
fn wheel(now: Driven, course: Wheeled, how: &Drive, (circle_m, tick_s): (f32, f32)) -> Driven {
    let rolls = now.velocity.dot(angle::direction(now.facing));
    let speed = toward(Vec2::X * rolls, Vec2::X * course.speed, how, tick_s).x;
    let rate = how.turn_rate.min(speed.abs() / circle_m.max(1e-3));
    rolling(
        speed,
        angle::turn_towards(now.facing, course.facing, rate * tick_s),
    )
}

/// A velocity on its way to another.
fn toward(now: Vec2, wish: Vec2, how: &Drive, tick_s: f32) -> Vec2 {
    let change = wish - now;
    let slows = wish.length_squared() < now.length_squared();
    let most = if slows { how.braking } else { how.acceleration };
    now + change.clamp_length_max(most.max(0.0) * tick_s)
}

fn turned(facing: f32, to: Option<f32>, limit: f32) -> f32 {
    to.map_or(facing, |to| angle::turn_towards(facing, to, limit))
}

/// The move of one that goes only where it faces, on wheels if there is a circle.
fn roll(
    now: Driven,
    wish: Vec2,
    look: Option<f32>,
    how: &Drive,
    (circle_m, tick_s): (Option<f32>, f32),
) -> Driven {
    let ahead = angle::direction(now.facing);
    let rolls = now.velocity.dot(ahead);
    let Some(heading) = angle::of(wish) else {
        // It stops, and looks where it is to if it can turn on the spot.
        let speed = toward(Vec2::X * rolls, Vec2::ZERO, how, tick_s).x;
        let to = look.filter(|_| circle_m.is_none());
        let facing = turned(now.facing, to, how.turn_rate * tick_s);
        return rolling(speed, facing);
    };
    // Looking back the way it goes, it backs all the way.
    let is_to_back = look.is_some_and(|look| angle::between(look, heading).abs() > BACKS);
    let to = if is_to_back {
        angle::wrap(heading + core::f32::consts::PI)
    } else {
        heading
    };
    let off = angle::between(now.facing, to).abs();
    let top = wish.length();
    let wanted = match circle_m {
        None if off < SETS_OUT => top * libm::cosf(off),
        None => 0.0,
        Some(_) if off > BACKS || rolls < 0.0 && off > SETS_OUT => -top * CREEP,
        Some(_) => top * libm::cosf(off).max(CREEP),
    };
    let wanted = if is_to_back { -wanted } else { wanted };
    let speed = toward(Vec2::X * rolls, Vec2::X * wanted, how, tick_s).x;
    let rate = match circle_m {
        None => how.turn_rate,
        Some(circle_m) => how.turn_rate.min(speed.abs() / circle_m.max(1e-3)),
    };
    rolling(speed, angle::turn_towards(now.facing, to, rate * tick_s))
}

fn rolling(speed: f32, facing: f32) -> Driven {
    Driven {
        velocity: sound(angle::direction(facing) * speed),
        facing,
    }
}
