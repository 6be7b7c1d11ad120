//! One velocity from several.

use super::sound;
use crate::geom::Vec2;

/// The mean of some wishes by their weights, no faster than `top` metres a second. What has no weight above zero does
/// not count.
///
/// Wishes that oppose each other cancel out: where one must not lose (keep off the edge, above all), use
/// [`blend_by_priority`].
#[must_use]
pub fn blend_by_weight(wishes: &[(f32, Vec2)], top: f32) -> Vec2 {
    let counted = wishes.iter().filter(|(weight, _)| *weight > 0.0);
    let (weights, sum) = counted.fold((0.0, Vec2::ZERO), |(weights, sum), (weight, wish)| {
        (weights + weight, sum + *wish * *weight)
    });
    if weights > 0.0 {
        sound((sum / weights).clamp_length_max(top.max(0.0)))
    } else {
        Vec2::ZERO
    }
}

/// The sum of some wishes, the first before the second and so on, until `top` metres a second are used up: the last to
/// fit in is cut short, and those after it do not count.
///
/// Reynolds calls it prioritised allocation ("Flocks, herds, and schools", SIGGRAPH 1987).
///
/// ```
/// use yarrick::geom::Vec2;
/// use yarrick::motion::steering::blend_by_priority;
///
/// let (off_the_edge, to_the_flag) = (Vec2::new(-1.5, 0.0), Vec2::new(2.0, 0.0));
/// assert_eq!(blend_by_priority(&[off_the_edge, to_the_flag], 2.0), Vec2::new(-1.0, 0.0));
/// ```
#[must_use]
pub fn blend_by_priority(wishes: &[Vec2], top: f32) -> Vec2 {
    let mut left = top.max(0.0);
    let mut sum = Vec2::ZERO;
    for wish in wishes.iter().map(|wish| sound(*wish)) {
        let taken = wish.clamp_length_max(left);
        sum += taken;
        left -= taken.length();
        if left <= 0.0 {
            break;
        }
    }
    sound(sum)
}
