//! Heights between the cell centres.

use super::Ground;
use crate::geom::Vec2;

impl Ground {
    /// Whether the map has heights.
    #[must_use]
    pub fn has_heights(&self) -> bool {
        !self.heights.is_empty()
    }

    /// The lowest and the highest height, in metres.
    #[must_use]
    pub fn height_range(&self) -> (f32, f32) {
        self.height_range
    }

    /// The height at a point in metres, blended between the four nearest cell centres. Off the
    /// map it is that of the rim; on a flat map it is `0`.
    #[must_use]
    pub fn height_at(&self, point: Vec2) -> f32 {
        if self.heights.is_empty() || point.is_nan() {
            return 0.0;
        }
        let last = Vec2::new(self.width as f32 - 1.0, self.height as f32 - 1.0);
        let at = (point / self.cell_m - Vec2::splat(0.5)).clamp(Vec2::ZERO, last);
        let (left, below) = (at.x as usize, at.y as usize);
        let (right, above) = (
            (left + 1).min(self.width as usize - 1),
            (below + 1).min(self.height as usize - 1),
        );
        let height = |x: usize, y: usize| self.heights[y * self.width as usize + x];
        let (u, v) = (at.x - left as f32, at.y - below as f32);
        let lower = height(left, below) * (1.0 - u) + height(right, below) * u;
        let upper = height(left, above) * (1.0 - u) + height(right, above) * u;
        lower * (1.0 - v) + upper * v
    }
}

#[cfg(test)]
mod tests {
    use crate::geom::Vec2;
    use crate::ground::{Ground, Terrain};

    #[test]
    fn heights_blend_between_centres_and_stay_level_beyond_the_rim() {
        let ground = Ground::from_rows(2.0, &["..", ".."], &[('.', Terrain::open("sand"))])
            .unwrap()
            .with_heights(vec![0.0, 1.0, 2.0, 3.0])
            .unwrap();
        assert_eq!(ground.height_at(Vec2::new(1.0, 1.0)), 0.0);
        assert_eq!(ground.height_at(Vec2::new(2.0, 1.0)), 0.5);
        assert_eq!(ground.height_at(Vec2::new(2.0, 2.0)), 1.5);
        assert_eq!(ground.height_at(Vec2::new(90.0, 90.0)), 3.0);
        assert_eq!(ground.height_at(Vec2::NAN), 0.0);
    }
}
