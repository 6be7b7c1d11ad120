//! What stands round a walker that looks for a way.

use crate::geom::{Vec2, segment_point_distance_squared};
use crate::ground::GroundView;

/// Distance kept from standing bodies, relative to the distance at which the two touch.
const BERTH: f32 = 1.02;

/// Part of the distance to a body that the walker touches already which it keeps from it.
pub(super) const TOUCHING: f32 = 0.9999;

/// How far from the end of its way a walker may be kept by a body that stands there, in radii of the walker.
const END_RADII: f32 = 0.1;

/// A body that stands.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Obstacle {
    /// Its position, in metres.
    pub at: Vec2,
    /// Its radius, in metres.
    pub radius_m: f32,
    /// Whether it makes room for the walker: the walker may push its way through.
    pub yields: bool,
}

/// What a walker has round it.
#[derive(Clone, Copy, Debug)]
pub struct Surroundings<'a> {
    /// The ground as the walker finds it.
    pub view: GroundView<'a>,
    /// The radius of the walker, in metres.
    pub radius_m: f32,
    /// Bodies that stand within reach.
    pub obstacles: &'a [Obstacle],
}

impl Surroundings<'_> {
    /// The distance that the walker keeps from a body, in metres from middle to middle.
    #[must_use]
    pub fn keep_m(&self, obstacle: &Obstacle) -> f32 {
        (self.radius_m + obstacle.radius_m) * BERTH
    }

    /// Whether a body stands on the straight way between two points. Bodies that the walker touches at the first point do
    /// not count.
    #[must_use]
    pub fn meets_body(&self, from: Vec2, to: Vec2) -> bool {
        self.obstacles.iter().any(|obstacle| {
            let keep_m = self
                .keep_m(obstacle)
                .min(obstacle.at.distance(from) * TOUCHING);
            segment_point_distance_squared(from, to, obstacle.at) < keep_m * keep_m
        })
    }

    /// Whether no body stands at a point.
    #[must_use]
    pub fn is_free(&self, at: Vec2) -> bool {
        self.obstacles.iter().all(|obstacle| {
            let keep_m = self.keep_m(obstacle);
            obstacle.at.distance_squared(at) >= keep_m * keep_m
        })
    }

    /// Whether the walker could get to a point, or so near that it does not matter, past the bodies that stand there.
    #[must_use]
    pub fn can_end_at(&self, at: Vec2) -> bool {
        self.obstacles.iter().all(|obstacle| {
            let apart_m = obstacle.radius_m + self.radius_m * (1.0 - END_RADII);
            obstacle.yields || obstacle.at.distance_squared(at) >= apart_m * apart_m
        })
    }
}
