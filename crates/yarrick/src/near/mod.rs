//! Who is near here: the index of moving things, and the places that are spoken for.
//!
//! The types to know: [`Near`], built anew each tick from all positions at once, and
//! [`Claims`], a small index of discs that come and go one by one.
//!
//! ```
//! use yarrick::geom::{Rect, Vec2};
//! use yarrick::near::Near;
//!
//! let positions = [Vec2::new(1.0, 1.0), Vec2::new(1.5, 1.0), Vec2::new(8.0, 8.0)];
//! let mut near = Near::default();
//! near.rebuild(Rect::from_corners(Vec2::ZERO, Vec2::splat(10.0)), 1.0, &positions);
//!
//! let found: Vec<u32> = near.within(Vec2::new(1.2, 1.0), 0.5).collect();
//! assert_eq!(found, [0, 1]);
//! ```
//!
//! It knows positions by their number in the list it was given, and nothing else of them.

mod claims;
mod grid;

pub use claims::Claims;
pub use grid::Near;
