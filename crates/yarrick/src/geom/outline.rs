//! Outlines: circles, boxes and polygons, and how deep inside of them one is.

use super::{Vec2, segment_nearest};
use serde::{Deserialize, Serialize};

/// The most points that a polygon may have.
pub const MAX_OUTLINE_POINTS: usize = 256;

/// How finely the deepest point of a polygon is looked for: the number of places a side, and then the number of times round the
/// best of them, at half the distance each time.
const PLACES: u32 = 24;
const ROUNDS: u32 = 12;

/// The outline of an area about its own origin, facing +x. Metres.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub enum Outline {
    /// A circle about the origin.
    Circle {
        /// Its radius.
        radius_m: f32,
    },
    /// A box about the origin.
    Box {
        /// Half its length along x, and half its width along y.
        half_m: Vec2,
    },
    /// A polygon, closed from the last point to the first. Where it crosses itself, a point is inside if a ray from it
    /// crosses the outline an odd number of times.
    Polygon {
        /// Its corners, in either sense.
        points: Vec<Vec2>,
    },
}

/// The edge of an outline as seen from a point.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Edge {
    /// How far inside the point is, in metres; less than zero outside.
    pub depth_m: f32,
    /// The direction farther in, of length 1. In the very middle, where there is none, +x.
    pub inward: Vec2,
}

/// What is wrong with an outline.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum OutlineError {
    /// A size or a point is infinite or no number.
    #[error("a size or a point of the outline is not a finite number")]
    NotFinite,
    /// It has no inside.
    #[error("the outline has no inside: its size must be above zero")]
    NoInside,
    /// A polygon of fewer than three points.
    #[error("a polygon needs three points or more")]
    TooFewPoints,
    /// More points than [`MAX_OUTLINE_POINTS`].
    #[error("a polygon has at most {MAX_OUTLINE_POINTS} points")]
    TooManyPoints,
}

impl Outline {
    /// Checks that it has an inside.
    ///
    /// # Errors
    ///
    /// [`OutlineError`], if it does not.
    pub fn check(&self) -> Result<(), OutlineError> {
        if let Outline::Polygon { points } = self {
            match points.len() {
                0..=2 => return Err(OutlineError::TooFewPoints),
                count if count > MAX_OUTLINE_POINTS => return Err(OutlineError::TooManyPoints),
                _ => {}
            }
        }
        let is_finite = match self {
            Outline::Circle { radius_m } => radius_m.is_finite(),
            Outline::Box { half_m } => half_m.is_finite(),
            Outline::Polygon { points } => points.iter().all(|point| point.is_finite()),
        };
        match is_finite {
            false => Err(OutlineError::NotFinite),
            true if self.inradius_m() > 1e-4 => Ok(()),
            true => Err(OutlineError::NoInside),
        }
    }

    /// How deep inside a point is, and which way leads in. Exact; for a polygon it costs in proportion to its points.
    #[must_use]
    pub fn edge(&self, point: Vec2) -> Edge {
        match self {
            Outline::Circle { radius_m } => Edge {
                depth_m: radius_m - point.length(),
                inward: (-point).try_normalize().unwrap_or(Vec2::X),
            },
            Outline::Box { half_m } => edge_of_box(*half_m, point),
            Outline::Polygon { points } => edge_of_polygon(points, point),
        }
    }

    /// The radius of the largest circle within it, in metres: for a polygon a little less than that.
    #[must_use]
    pub fn inradius_m(&self) -> f32 {
        match self {
            Outline::Circle { radius_m } => *radius_m,
            Outline::Box { half_m } => half_m.min_element(),
            Outline::Polygon { points } => deepest(points),
        }
    }

    /// The distance of its farthest point from the origin, in metres.
    #[must_use]
    pub fn reach_m(&self) -> f32 {
        match self {
            Outline::Circle { radius_m } => *radius_m,
            Outline::Box { half_m } => half_m.length(),
            Outline::Polygon { points } => points
                .iter()
                .fold(0.0, |reach, point| point.length().max(reach)),
        }
    }
}

fn edge_of_box(half: Vec2, point: Vec2) -> Edge {
    let sign = Vec2::new(1.0_f32.copysign(point.x), 1.0_f32.copysign(point.y));
    let over = point.abs() - half;
    if over.max_element() > 0.0 {
        let out = over.max(Vec2::ZERO);
        return Edge {
            depth_m: -out.length(),
            inward: (-out * sign).normalize_or(Vec2::X),
        };
    }
    let side = if over.x > over.y { Vec2::X } else { Vec2::Y };
    Edge {
        depth_m: -over.max_element(),
        inward: -side * sign,
    }
}

fn edge_of_polygon(points: &[Vec2], point: Vec2) -> Edge {
    let mut nearest = (f32::INFINITY, Vec2::ZERO, Vec2::X);
    let mut is_inside = false;
    let mut from = points.last().copied().unwrap_or(Vec2::ZERO);
    for &to in points {
        let at = segment_nearest(from, to, point);
        let square = at.distance_squared(point);
        if square < nearest.0 {
            nearest = (square, at, (to - from).perp());
        }
        let crosses = (from.y > point.y) != (to.y > point.y)
            && point.x < from.x + (to.x - from.x) * (point.y - from.y) / (to.y - from.y);
        is_inside ^= crosses;
        from = to;
    }
    let (square, at, across) = nearest;
    let away = if is_inside { point - at } else { at - point };
    let depth = square.sqrt();
    Edge {
        depth_m: if is_inside { depth } else { -depth },
        inward: away
            .try_normalize()
            .or(across.try_normalize())
            .unwrap_or(Vec2::X),
    }
}

/// How deep the deepest place of a polygon is, nearly.
fn deepest(points: &[Vec2]) -> f32 {
    let low = points.iter().copied().fold(Vec2::INFINITY, Vec2::min);
    let high = points.iter().copied().fold(Vec2::NEG_INFINITY, Vec2::max);
    let mut step = (high - low) / PLACES as f32;
    let mut best = (f32::NEG_INFINITY, (low + high) * 0.5);
    let look = |at: Vec2, best: &mut (f32, Vec2)| {
        let depth = edge_of_polygon(points, at).depth_m;
        if depth > best.0 {
            *best = (depth, at);
        }
    };
    for row in 0..=PLACES {
        for column in 0..=PLACES {
            let at = low + step * Vec2::new(column as f32, row as f32);
            look(at, &mut best);
        }
    }
    for _ in 0..ROUNDS {
        step *= 0.5;
        let middle = best.1;
        for (x, y) in [
            (-1, -1),
            (-1, 0),
            (-1, 1),
            (0, -1),
            (0, 1),
            (1, -1),
            (1, 0),
            (1, 1),
        ] {
            look(middle + step * Vec2::new(x as f32, y as f32), &mut best);
        }
    }
    best.0
}
