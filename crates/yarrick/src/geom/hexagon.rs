//! Regular hexagons with a corner at the top, and the distances to them.

use super::{Rect, Vec2, segment_point_distance_squared};

/// Half the square root of three.
pub(crate) const HALF_ROOT_3: f32 = 0.866_025_4;

/// A regular hexagon with a corner at the top. Its edge belongs to it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Hexagon {
    /// Its middle.
    pub centre: Vec2,
    /// From the middle to each of its sides.
    pub half: f32,
}

impl Hexagon {
    /// The directions of three neighbouring sides; the other three lie opposite.
    pub const SIDES: [Vec2; 3] = [
        Vec2::new(1.0, 0.0),
        Vec2::new(0.5, HALF_ROOT_3),
        Vec2::new(-0.5, HALF_ROOT_3),
    ];

    /// Its corners, anticlockwise from the upper right one.
    #[must_use]
    pub fn corners(&self) -> [Vec2; 6] {
        let side = self.half / HALF_ROOT_3;
        let (x, y) = (self.half, side * 0.5);
        [
            Vec2::new(x, y),
            Vec2::new(0.0, side),
            Vec2::new(-x, y),
            Vec2::new(-x, -y),
            Vec2::new(0.0, -side),
            Vec2::new(x, -y),
        ]
        .map(|corner| self.centre + corner)
    }

    /// Whether the point lies in it.
    #[must_use]
    pub fn contains(&self, point: Vec2) -> bool {
        let from = point - self.centre;
        let within = |side: Vec2| from.dot(side).abs() <= self.half;
        Hexagon::SIDES.into_iter().all(within)
    }

    /// The point of it that is nearest to `point`.
    #[must_use]
    pub fn nearest(&self, point: Vec2) -> Vec2 {
        if self.contains(point) {
            return point;
        }
        let on_side = |(a, b): (Vec2, Vec2)| {
            let along = b - a;
            let t = (point - a).dot(along) / along.length_squared();
            a + along * t.clamp(0.0, 1.0)
        };
        let distance = |at: &Vec2| at.distance_squared(point);
        let candidates = self.sides().map(on_side);
        let nearest = candidates.min_by(|a, b| distance(a).total_cmp(&distance(b)));
        nearest.unwrap_or(self.centre)
    }

    /// The box round it.
    #[must_use]
    pub fn bounds(&self) -> Rect {
        let half = Vec2::new(self.half, self.half / HALF_ROOT_3);
        Rect {
            min: self.centre - half,
            max: self.centre + half,
        }
    }

    fn sides(&self) -> impl Iterator<Item = (Vec2, Vec2)> {
        let corners = self.corners();
        (0..6).map(move |k| (corners[k], corners[(k + 1) % 6]))
    }

    /// The squared distance to the segment from `a` to `b`; `0` where they touch.
    #[must_use]
    pub fn segment_distance_squared(&self, a: Vec2, b: Vec2) -> f32 {
        if self.meets_segment(a, b) {
            return 0.0;
        }
        // Two convex shapes that do not meet are nearest at a corner of one of them.
        let corners = self.corners().into_iter();
        let from_corners = corners.map(|corner| segment_point_distance_squared(a, b, corner));
        let from_ends = [a, b].map(|end| self.nearest(end).distance_squared(end));
        from_corners.chain(from_ends).fold(f32::INFINITY, f32::min)
    }

    /// Clips the segment against the three pairs of sides in turn (Cyrus and Beck, 1978).
    fn meets_segment(&self, a: Vec2, b: Vec2) -> bool {
        let (mut enter, mut leave) = (0.0_f32, 1.0_f32);
        for side in Hexagon::SIDES {
            let (start, step) = ((a - self.centre).dot(side), (b - a).dot(side));
            if step == 0.0 {
                if start.abs() > self.half {
                    return false;
                }
                continue;
            }
            let (u, v) = ((-self.half - start) / step, (self.half - start) / step);
            enter = enter.max(u.min(v));
            leave = leave.min(u.max(v));
        }
        enter <= leave
    }
}
