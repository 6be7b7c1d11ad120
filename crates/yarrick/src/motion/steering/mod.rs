//! Steering: small pure functions that each give the velocity one would like to have, to be blended and driven.
//!
//! | to | call |
//! |---|---|
//! | go to a point, and through it | [`seek`] |
//! | go to a point, and stop there or short of it | [`arrive`] |
//! | get away from a point | [`flee`] |
//! | cut off one that moves | [`pursue`], with [`lead`] for the point where they meet |
//! | get away from one that moves | [`evade`] |
//! | stroll about | [`wander`] |
//! | go along a line from side to side | [`weave`] |
//! | go round a point | [`orbit`] |
//! | go along a path beside others | [`follow_path`] |
//! | stay within a range of a point | [`keep_range`] |
//!
//! [`blend_by_weight`] and [`blend_by_priority`] make one velocity of several, and [`drive`] is what a body with
//! acceleration, brakes and a turn rate makes of it within a tick.
//!
//! ```
//! use yarrick::geom::Vec2;
//! use yarrick::motion::steering::{Drive, Driven, Moving, blend_by_weight, drive, flee, pursue};
//!
//! let sidler = Moving { at: Vec2::ZERO, velocity: Vec2::ZERO };
//! let raker = Moving { at: Vec2::new(8.0, 0.0), velocity: Vec2::new(0.0, 1.2) };
//! let beacon = Vec2::new(4.0, 3.0);
//! // It runs ahead of the raker, not after it, and keeps away from the beacon a little:
//! let wish = blend_by_weight(&[(1.0, pursue(sidler, raker, 2.0)), (0.4, flee(sidler.at, beacon, 2.0))], 2.0);
//! assert!(wish.x > 0.0 && wish.length() <= 2.0);
//! // In a twentieth of a second it gets up to a fifth of a metre a second:
//! let legs = Drive { speed: 2.0, acceleration: 4.0, ..Drive::default() };
//! let driven = drive(Driven::default(), wish, None, &legs, 0.05);
//! assert!((driven.velocity.length() - 0.2).abs() < 1e-3);
//! ```
//!
//! Units are metres, seconds and radians. A speed that is not above zero, or a place or velocity that is not a number,
//! gives [`Vec2::ZERO`]: nobody moves because of an error. All of them cost the same whatever they are given, but for
//! [`follow_path`].
//!
//! Most of them are the steering behaviours of Reynolds, "Steering behaviors for autonomous characters" (GDC 1999).
//! They do not know walls or others: for those see [`foresee`](crate::motion::foresee) and
//! [`step_between`](crate::motion::step_between).

mod blend;
mod chase;
mod drive;
mod lines;
mod toward;
mod wander;

pub use blend::{blend_by_priority, blend_by_weight};
pub use chase::{Moving, evade, lead, pursue};
pub(crate) use drive::CREEP;
pub use drive::{Drive, Driven, Turning, drive};
pub use lines::{Round, Weave, follow_path, orbit, weave};
pub use toward::{arrive, flee, keep_range, seek};
pub use wander::{Wander, wander};

use crate::geom::{Vec2, canonical};

/// The wish itself, if it is one: no wish is infinite or no number.
fn sound(wish: Vec2) -> Vec2 {
    if wish.is_finite() {
        canonical(wish)
    } else {
        Vec2::ZERO
    }
}

/// A velocity of `speed` metres a second along a way of any length.
fn along(way: Vec2, speed: f32) -> Vec2 {
    sound(way.normalize_or_zero() * speed.max(0.0))
}
