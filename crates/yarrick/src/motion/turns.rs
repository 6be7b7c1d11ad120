//! Whose turn it is where several want to pass.

use crate::geom::Vec2;

/// Whose turn it is among bodies that walk, as parallel lists.
#[derive(Clone, Copy, Debug)]
pub struct Turns<'a> {
    /// The way that each has left, in metres: of two that go together who has less goes first, and the other
    /// gives way.
    pub left: &'a [f32],
    /// Which walk to one place: those of one number, which may be any but `0`.
    pub bands: &'a [u32],
}

impl Turns<'_> {
    /// Whether two go the same way, or to the same place, by the steps that they want to take.
    #[must_use]
    pub fn go_together(&self, steps: &[Vec2], a: usize, b: usize) -> bool {
        let same_band = self.bands[a] != 0 && self.bands[a] == self.bands[b];
        same_band || steps[a].dot(steps[b]) > 0.0
    }

    /// Whether one goes before another, if they go together. Ties go by number.
    #[must_use]
    pub fn goes_before(&self, a: usize, b: usize) -> bool {
        (self.left[a], a) < (self.left[b], b)
    }
}
