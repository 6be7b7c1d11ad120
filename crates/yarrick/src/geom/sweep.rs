//! Points that move: when they first touch a shape.

use super::{Block, Vec2, angle};

/// The part of a step, from 0 to 1, after which a point first touches a disc; `0` if it begins within it, `None` if it
/// never does.
///
/// ```
/// use yarrick::geom::{Vec2, first_touch_of_disc};
///
/// let (from, step) = (Vec2::ZERO, Vec2::new(10.0, 0.0));
/// assert_eq!(first_touch_of_disc(from, step, Vec2::new(6.0, 0.0), 1.0), Some(0.5));
/// assert_eq!(first_touch_of_disc(from, step, Vec2::new(6.0, 1.5), 1.0), None);
/// ```
#[must_use]
pub fn first_touch_of_disc(from: Vec2, step: Vec2, centre: Vec2, radius: f32) -> Option<f32> {
    let gap = from - centre;
    let outside = gap.length_squared() - radius * radius;
    if outside <= 0.0 {
        return Some(0.0);
    }
    let length = step.length();
    // A step that leads away, or nowhere, never touches it.
    let nearing = -gap.dot(step) / length;
    if nearing.is_nan() || nearing <= 0.0 {
        return None;
    }
    // The distance at which it passes the middle: by a cross product, since a difference of large squares loses precision.
    let aside = gap.perp_dot(step) / length;
    let half = radius * radius - aside * aside;
    if half < 0.0 {
        return None;
    }
    let part = (nearing - half.sqrt()).max(0.0) / length;
    (part <= 1.0).then_some(part)
}

/// The part of a step, from 0 to 1, after which a point first touches a turned box; `0` if it begins within it, `None`
/// if it never does (the slab test).
#[must_use]
pub fn first_touch_of_block(from: Vec2, step: Vec2, block: &Block) -> Option<f32> {
    let along = angle::direction(block.facing);
    let turned = |v: Vec2| Vec2::new(v.dot(along), v.dot(along.perp()));
    let (at, step) = (turned(from - block.centre), turned(step));
    let (mut enters, mut leaves) = (0.0_f32, 1.0_f32);
    for (at, step, half) in [(at.x, step.x, block.half.x), (at.y, step.y, block.half.y)] {
        if step == 0.0 {
            if at.abs() > half {
                return None;
            }
            continue;
        }
        let (a, b) = ((-half - at) / step, (half - at) / step);
        enters = enters.max(a.min(b));
        leaves = leaves.min(a.max(b));
    }
    (enters <= leaves).then_some(enters)
}
