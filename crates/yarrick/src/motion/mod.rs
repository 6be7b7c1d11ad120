//! Moving bodies: along a path, to a stop, past one another, and never into walls.
//!
//! Small pure functions, and three index-driven passes for giving way, to be made one after another in each tick:
//! [`foresee`] turns those aside that would meet and lets the others queue, [`Contacts`] share out among [`Bodies`]
//! what they push each other, and [`step_between`] lets nobody into another. Then [`follow`], [`braked_speed`],
//! [`Corner`] and [`step_clear`] for walking alone, [`places`] for where a group can stand, and [`Rim`] for where those
//! stand that come up to a body.
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

mod closing_up;
mod contact;
mod corner;
mod detour;
mod firm;
pub mod flock;
mod follow;
mod foresee;
pub mod formation;
mod mesh;
mod nodes;
mod overtaking;
pub mod places;
mod rim;
pub mod steering;
mod surroundings;
mod turns;
mod walkers;
mod walls;

pub use closing_up::{OnRim, Opening};
pub(crate) use contact::ROUNDED_UP;
pub use contact::{Bodies, Contacts};
pub use corner::Corner;
pub use detour::DetourSearch;
pub use firm::{Crowd, Limit, nearest_step, step_between};
pub use follow::{braked_speed, follow, way_left};
pub use foresee::{Course, FORESIGHT_S, foresee};
pub use mesh::Mesh;
pub use overtaking::is_slow;
pub use rim::{Rim, RimPlace};
pub use surroundings::{Obstacle, Surroundings};
pub use turns::Turns;
pub use walkers::Walkers;
pub use walls::step_clear;
