//! From screen points to ground points and back, for a camera that looks straight down.

use crate::geom::{Rect, Vec2};
use serde::{Deserialize, Serialize};

/// A camera that looks straight down on a flat map, with x to the right on both and the
/// screen's y downwards.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct FlatView {
    /// The ground point in the upper left corner of the screen, in metres.
    pub corner: Vec2,
    /// How many screen pixels a metre takes. Raise it to come nearer.
    pub px_per_m: f32,
}

impl FlatView {
    /// The ground point under a screen point.
    #[must_use]
    pub fn to_ground(&self, screen: Vec2) -> Vec2 {
        let scaled = screen / self.px_per_m;
        Vec2::new(self.corner.x + scaled.x, self.corner.y - scaled.y)
    }

    /// The screen point of a ground point.
    #[must_use]
    pub fn to_screen(&self, ground: Vec2) -> Vec2 {
        let offset = ground - self.corner;
        Vec2::new(offset.x, -offset.y) * self.px_per_m
    }

    /// The ground box under a screen box.
    #[must_use]
    pub fn box_to_ground(&self, screen: Rect) -> Rect {
        Rect::from_corners(self.to_ground(screen.min), self.to_ground(screen.max))
    }
}
