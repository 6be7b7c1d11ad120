//! Moving bodies: along a path, to a stop, past one another, and never into walls.
//!
//! Small pure functions, and one index-driven pass for giving way. The types to know:
//! [`follow`], [`braked_speed`], [`step_clear`], [`Bodies`] with [`push_apart`], and
//! [`places`] for where a group can stand.
//!
//! ```
//! use yarrick::geom::Vec2;
//! use yarrick::motion::follow;
//!
//! let path = [Vec2::new(1.0, 0.0), Vec2::new(1.0, 3.0)];
//! let mut next = 0;
//! // Two metres along a path whose first leg is only one metre long:
//! let at = follow(Vec2::ZERO, &path, &mut next, 2.0);
//! assert_eq!((at, next), (Vec2::new(1.0, 1.0), 1));
//! ```
//!
//! It does not look for ways ([`route`](crate::route)) and does not know what orders are.

mod apart;
mod follow;
pub mod places;
mod walls;

pub use apart::{Bodies, push_apart};
pub use follow::{braked_speed, follow, way_left};
pub use walls::step_clear;
