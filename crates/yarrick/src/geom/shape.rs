//! Boxes and segments, and the distances between them.

use super::Vec2;
use serde::{Deserialize, Serialize};

/// An axis-aligned box. Both corners belong to it.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Rect {
    /// The corner with the smallest coordinates.
    pub min: Vec2,
    /// The corner with the largest coordinates.
    pub max: Vec2,
}

impl Rect {
    /// The box between two opposite corners, given in any order.
    #[must_use]
    pub fn from_corners(a: Vec2, b: Vec2) -> Rect {
        Rect {
            min: a.min(b),
            max: a.max(b),
        }
    }

    /// The box that reaches `reach` to every side of `centre`.
    #[must_use]
    pub fn around(centre: Vec2, reach: f32) -> Rect {
        Rect {
            min: centre - Vec2::splat(reach),
            max: centre + Vec2::splat(reach),
        }
    }

    /// The smallest box round a point and some others.
    #[must_use]
    pub fn round(first: Vec2, others: &[Vec2]) -> Rect {
        let start = Rect::around(first, 0.0);
        others.iter().fold(start, |rect, point| Rect {
            min: rect.min.min(*point),
            max: rect.max.max(*point),
        })
    }

    /// Whether the point lies in the box or on its edge.
    #[must_use]
    pub fn contains(&self, point: Vec2) -> bool {
        point.cmpge(self.min).all() && point.cmple(self.max).all()
    }

    /// The point of the box that is nearest to `point`.
    #[must_use]
    pub fn nearest(&self, point: Vec2) -> Vec2 {
        point.max(self.min).min(self.max)
    }

    /// Whether a disc touches the box.
    #[must_use]
    pub fn touches_disc(&self, centre: Vec2, radius: f32) -> bool {
        self.nearest(centre).distance_squared(centre) <= radius * radius
    }

    /// Width and height.
    #[must_use]
    pub fn size(&self) -> Vec2 {
        self.max - self.min
    }

    /// The box, grown by `margin` on every side.
    #[must_use]
    pub fn grown(&self, margin: f32) -> Rect {
        Rect {
            min: self.min - Vec2::splat(margin),
            max: self.max + Vec2::splat(margin),
        }
    }
}

/// The point of the segment from `a` to `b` that is nearest to `point`.
#[must_use]
pub fn segment_nearest(a: Vec2, b: Vec2, point: Vec2) -> Vec2 {
    let along = b - a;
    let length_squared = along.length_squared();
    if length_squared <= 0.0 {
        return a;
    }
    a + along * ((point - a).dot(along) / length_squared).clamp(0.0, 1.0)
}

/// The squared distance from `point` to the segment from `a` to `b`.
#[must_use]
pub fn segment_point_distance_squared(a: Vec2, b: Vec2, point: Vec2) -> f32 {
    point.distance_squared(segment_nearest(a, b, point))
}

/// The squared distance between the segment from `a` to `b` and a box; `0` where they touch.
#[must_use]
pub fn segment_rect_distance_squared(a: Vec2, b: Vec2, rect: &Rect) -> f32 {
    if segment_meets_rect(a, b, rect) {
        return 0.0;
    }
    // Two convex shapes that do not meet are nearest at a corner of one of them.
    let corners = [
        rect.min,
        Vec2::new(rect.max.x, rect.min.y),
        rect.max,
        Vec2::new(rect.min.x, rect.max.y),
    ];
    let from_corners = corners
        .into_iter()
        .map(|corner| segment_point_distance_squared(a, b, corner));
    let from_ends = [a, b]
        .into_iter()
        .map(|end| rect.nearest(end).distance_squared(end));
    from_corners.chain(from_ends).fold(f32::INFINITY, f32::min)
}

/// Clips the segment against the four sides in turn (Liang and Barsky, 1984).
fn segment_meets_rect(a: Vec2, b: Vec2, rect: &Rect) -> bool {
    let along = b - a;
    let (mut enter, mut leave) = (0.0_f32, 1.0_f32);
    for (start, step, low, high) in [
        (a.x, along.x, rect.min.x, rect.max.x),
        (a.y, along.y, rect.min.y, rect.max.y),
    ] {
        if step == 0.0 {
            if start < low || start > high {
                return false;
            }
            continue;
        }
        let (t0, t1) = ((low - start) / step, (high - start) / step);
        enter = enter.max(t0.min(t1));
        leave = leave.min(t0.max(t1));
    }
    enter <= leave
}
