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

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn touching_equals_dense_sampling(
            x in -4.0_f32..4.0, y in -4.0_f32..4.0, facing in -7.0_f32..7.0,
            half in (0.1_f32..3.0, 0.1_f32..3.0),
            a in (-4.0_f32..4.0, -4.0_f32..4.0), b in (-4.0_f32..4.0, -4.0_f32..4.0),
        ) {
            let block = Block { centre: Vec2::new(x, y), half: half.into(), facing };
            let rect = Rect::from_corners(a.into(), b.into());
            let nearest = (0..61 * 61)
                .map(|k| Vec2::new((k % 61) as f32, (k / 61) as f32) / 60.0)
                .map(|part| rect.min + rect.size() * part)
                .map(|point| block.distance(point))
                .fold(f32::INFINITY, f32::min);
            // Between samples lies at most half a step.
            let step = rect.size().max_element() / 60.0;
            if block.touches_rect(&rect) {
                prop_assert!(nearest <= step, "{}", nearest);
            } else {
                prop_assert!(nearest > 0.0);
            }
        }
    }

    proptest! {
        #[test]
        fn the_gap_of_two_boxes_equals_dense_sampling_from_either_side(
            x in -6.0_f32..6.0, y in -6.0_f32..6.0, facing in (-7.0_f32..7.0, -7.0_f32..7.0),
            half in (0.1_f32..3.0, 0.1_f32..3.0), other in (0.1_f32..3.0, 0.1_f32..3.0),
        ) {
            let a = Block { centre: Vec2::new(x, y), half: half.into(), facing: facing.0 };
            let b = Block { centre: Vec2::ZERO, half: other.into(), facing: facing.1 };
            prop_assert_eq!(a.gap(&b), b.gap(&a));
            let along = angle::direction(b.facing);
            let nearest = (0..41 * 41)
                .map(|k| Vec2::new((k % 41) as f32, (k / 41) as f32) / 20.0 - Vec2::ONE)
                .map(|part| b.half * part)
                .map(|at| along * at.x + along.perp() * at.y)
                .map(|point| a.distance(point))
                .fold(f32::INFINITY, f32::min);
            let step = b.half.max_element() / 10.0;
            prop_assert!(a.gap(&b) <= nearest + 1e-4, "{} {}", a.gap(&b), nearest);
            prop_assert!(nearest <= a.gap(&b) + step, "{} {}", a.gap(&b), nearest);
            prop_assert_eq!(a.gap(&b) == 0.0, a.touches(&b));
        }
    }

    #[test]
    fn corners_turn_with_the_facing() {
        let block = Block {
            centre: Vec2::new(5.0, 5.0),
            half: Vec2::new(2.0, 1.0),
            facing: core::f32::consts::FRAC_PI_2,
        };
        assert!(block.corners()[0].distance(Vec2::new(4.0, 7.0)) < 1e-5);
        assert!((block.distance(Vec2::new(5.0, 9.0)) - 2.0).abs() < 1e-5);
        assert_eq!(block.distance(Vec2::new(5.5, 6.5)), 0.0);
    }
}
