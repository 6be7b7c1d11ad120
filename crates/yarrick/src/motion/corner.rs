//! Rounding a corner beside others: not all over the one point, but side by side.
//!
//! ```text
//!    a ────→ c · · · ·→ outward       the way from a round c to b; the wall lies inside of the bend
//!      ####  │
//!      ####  ↓                         a body that was pushed outward crosses the line from c outward where it
//!      ####  b                         is, and has rounded the corner then
//! ```

use crate::geom::Vec2;

/// A body on the line itself has come past it, too. The margin is for rounding, in metres.
const ON_THE_LINE_M: f32 = 0.02;

/// Minimum cosine of the angle between `outward` and `across` that [`Corner::outward_of`] counts with. It is that of a right-angled corner. At
/// sharper corners, the point straight outward of a body lies far beyond the corner, and a body would run there.
const SHARPEST: f32 = core::f32::consts::FRAC_1_SQRT_2;

/// A corner of a path.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Corner {
    /// Where it is, in metres.
    pub at: Vec2,
    /// The direction away from what it leads round, of length 1.
    pub outward: Vec2,
    /// The direction in which one comes past it, of length 1.
    pub onward: Vec2,
    /// The direction across the leg that leads to it, towards the outside, of length 1.
    pub across: Vec2,
}

impl Corner {
    /// The corner of a way from `a` over `at` to `b`. `None` where it does not bend.
    #[must_use]
    pub fn between(a: Vec2, at: Vec2, b: Vec2) -> Option<Corner> {
        let (back, on) = ((a - at).try_normalize()?, (b - at).try_normalize()?);
        let inward = (back + on)
            .try_normalize()
            .filter(|_| back.dot(on) > -0.9999)?;
        let left = (-back).perp();
        Some(Corner {
            at,
            across: if left.dot(inward) > 0.0 { -left } else { left },
            outward: -inward,
            onward: (on - back).normalize_or(on),
        })
    }

    /// How far outward a body rounds it that comes from `point` alongside the way, in metres: `0` for a body on the way
    /// itself, or inside of the bend.
    #[must_use]
    pub fn outward_of(&self, point: Vec2) -> f32 {
        let beside = (point - self.at).dot(self.across).max(0.0);
        beside / self.outward.dot(self.across).max(SHARPEST)
    }

    /// Whether a body at `point` has come past it.
    #[must_use]
    pub fn is_behind(&self, point: Vec2) -> bool {
        (point - self.at).dot(self.onward) >= -ON_THE_LINE_M
    }
}
