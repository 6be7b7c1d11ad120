//! Vectors, angles, shapes and distances: what every other room measures with.
//!
//! Positions are metres on a plane, x to the right and y up. Angles are radians,
//! anticlockwise from +x. Everything here gives the same bits on every machine:
//! basic arithmetic and square roots are exact by IEEE 754, and the trigonometry comes
//! from `libm`, never from the platform.
//!
//! [`Vec3`] and [`Mat4`] are for cameras only: the world itself is a plane with heights.
//!
//! The types to know: [`Vec2`], [`Rect`] and the functions of [`angle`].
//!
//! ```
//! use yarrick::geom::{Rect, Vec2, angle};
//!
//! let dragged = Rect::from_corners(Vec2::new(8.0, 1.0), Vec2::new(2.0, 5.0));
//! assert!(dragged.contains(Vec2::new(3.0, 3.0)));
//!
//! let facing = angle::of(Vec2::new(0.0, 2.0)).unwrap();
//! assert!((facing - core::f32::consts::FRAC_PI_2).abs() < 1e-6);
//! ```

pub mod angle;
mod block;
mod hexagon;
mod outline;
mod shape;
mod sweep;

pub use block::Block;
pub use glam::{Mat4, Vec2, Vec3, Vec4};
pub(crate) use hexagon::HALF_ROOT_3;
pub use hexagon::Hexagon;
pub use outline::{Edge, MAX_OUTLINE_POINTS, Outline, OutlineError};
pub use shape::{
    Rect, segment_nearest, segment_point_distance_squared, segment_rect_distance_squared,
};
pub use sweep::{first_touch_of_block, first_touch_of_disc};

/// Whether every coordinate lies between `-limit` and `limit`. NaN lies nowhere.
#[must_use]
pub fn is_within(at: Vec3, limit: f32) -> bool {
    // Not by the greatest coordinate, which may pass NaN over.
    at.abs().cmple(Vec3::splat(limit)).all()
}

/// The same vector without negative zeros, so that equal positions have equal bits.
///
/// NaN is left alone: values are checked where they enter, not here.
#[must_use]
pub fn canonical(v: Vec2) -> Vec2 {
    // IEEE 754: -0.0 + 0.0 is +0.0, and every other number is unchanged.
    v + Vec2::ZERO
}
