//! Whose turn it is where several want to pass.

use crate::geom::Vec2;

/// Whose turn it is among bodies that walk, as parallel lists.
#[derive(Clone, Copy, Debug)]
pub struct Turns<'a> {
    /// The way that remains for each, in metres: of two that go together the one with less goes first, and the other
    /// gives way.
    pub remaining_m: &'a [f32],
    /// The group of each: those of one number walk to one place; `0` is no group.
    pub groups: &'a [u64],
}

impl Turns<'_> {
    /// Whether two go the same way, or to the same place, by the steps that they want to take.
    #[must_use]
    pub fn go_together(&self, steps: &[Vec2], a: usize, b: usize) -> bool {
        steps[a].dot(steps[b]) > 0.0 || (self.groups[a] != 0 && self.groups[a] == self.groups[b])
    }

    /// Whether one goes before another, if they go together. Ties go by number.
    #[must_use]
    pub fn goes_before(&self, a: usize, b: usize) -> bool {
        (self.remaining_m[a], a) < (self.remaining_m[b], b)
    }

    /// Whether one has right of way over another that comes towards it: the one whose group has the smaller number, since that set out
    /// first. Ties go by number.
    #[must_use]
    pub fn set_out_before(&self, a: usize, b: usize) -> bool {
        (self.groups[a], a) < (self.groups[b], b)
    }
}
