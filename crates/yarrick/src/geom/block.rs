//! Turned boxes: the footprints of buildings.

use super::{Rect, Vec2, angle};
use serde::{Deserialize, Serialize};

/// A box on the ground, turned about its middle.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Block {
    /// Its middle, in metres.
    pub centre: Vec2,
    /// Half its length along its facing, and half its width across it, in metres.
    pub half: Vec2,
    /// Where its front looks, in radians.
    pub facing: f32,
}

impl Block {
    /// Its corners, anticlockwise.
    #[must_use]
    pub fn corners(&self) -> [Vec2; 4] {
        let along = angle::direction(self.facing) * self.half.x;
        let across = angle::direction(self.facing).perp() * self.half.y;
        [
            self.centre + along + across,
            self.centre - along + across,
            self.centre - along - across,
            self.centre + along - across,
        ]
    }

    /// The point of the box that is nearest to one.
    #[must_use]
    pub fn nearest(&self, point: Vec2) -> Vec2 {
        let along = angle::direction(self.facing);
        let offset = point - self.centre;
        let local = Vec2::new(offset.dot(along), offset.dot(along.perp()));
        let nearest = local.max(-self.half).min(self.half);
        self.centre + along * nearest.x + along.perp() * nearest.y
    }

    /// The point of its edge that lies from its middle in a direction, of length 1.
    #[must_use]
    pub fn edge_towards(&self, direction: Vec2) -> Vec2 {
        let along = angle::direction(self.facing);
        let local = Vec2::new(direction.dot(along), direction.dot(along.perp())).abs();
        let reach = (self.half / local.max(Vec2::splat(1e-6))).min_element();
        self.centre + direction * reach
    }

    /// The distance from a point to the box, in metres; `0` within it.
    #[must_use]
    pub fn distance(&self, point: Vec2) -> f32 {
        let along = angle::direction(self.facing);
        let offset = point - self.centre;
        let local = Vec2::new(offset.dot(along), offset.dot(along.perp()));
        (local.abs() - self.half).max(Vec2::ZERO).length()
    }

    /// Whether it touches an upright box: no line along a side of either parts the two
    /// (the separating axis theorem).
    #[must_use]
    pub fn touches_rect(&self, rect: &Rect) -> bool {
        let along = angle::direction(self.facing);
        let theirs = [
            rect.min,
            Vec2::new(rect.max.x, rect.min.y),
            rect.max,
            Vec2::new(rect.min.x, rect.max.y),
        ];
        let axes = [Vec2::X, Vec2::Y, along, along.perp()];
        !are_parted(&self.corners(), &theirs, &axes)
    }

    /// Whether it touches another (the separating axis theorem).
    #[must_use]
    pub fn touches(&self, other: &Block) -> bool {
        let (mine, theirs) = (
            angle::direction(self.facing),
            angle::direction(other.facing),
        );
        let axes = [mine, mine.perp(), theirs, theirs.perp()];
        !are_parted(&self.corners(), &other.corners(), &axes)
    }

    /// The distance between two boxes, in metres; `0` where they touch. The same from either side.
    #[must_use]
    pub fn gap(&self, other: &Block) -> f32 {
        if self.touches(other) {
            return 0.0;
        }
        // Apart, the nearest points of two convex shapes are a corner of one and a point of the other.
        let from = |block: &Block, corners: [Vec2; 4]| {
            let gaps = corners.into_iter().map(|corner| block.distance(corner));
            gaps.fold(f32::INFINITY, f32::min)
        };
        from(self, other.corners()).min(from(other, self.corners()))
    }
}

/// Whether a line across one of some axes parts two boxes.
fn are_parted(a: &[Vec2; 4], b: &[Vec2; 4], axes: &[Vec2; 4]) -> bool {
    let reach = |corners: &[Vec2; 4], axis: Vec2| {
        corners
            .iter()
            .fold((f32::INFINITY, f32::NEG_INFINITY), |(low, high), corner| {
                let at = corner.dot(axis);
                (low.min(at), high.max(at))
            })
    };
    axes.iter().any(|axis| {
        let (a, b) = (reach(a, *axis), reach(b, *axis));
        a.0 > b.1 || b.0 > a.1
    })
}
