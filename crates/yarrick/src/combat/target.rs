//! Whom to strike.

use crate::geom::Vec2;
use crate::near::Near;

/// Of all that stand within `reach` metres of `at`, the one that `worth` puts first: the smallest
/// preference, then the smallest gap, then the smallest id. `worth` is asked for the preference,
/// the gap in metres and the id of each number; `None` leaves it out.
///
/// Costs in proportion to the bodies within reach.
#[must_use]
pub fn foremost_target<Id: Ord>(
    near: &Near,
    at: Vec2,
    reach: f32,
    mut worth: impl FnMut(u32) -> Option<(u8, f32, Id)>,
) -> Option<u32> {
    let mut best: Option<(u32, (u8, f32, Id))> = None;
    near.within(at, reach).for_each(|number| {
        let Some(mine) = worth(number) else {
            return;
        };
        let better = best.as_ref().is_none_or(|(_, known)| {
            let order = mine.0.cmp(&known.0).then(mine.1.total_cmp(&known.1));
            // Ties by id.
            order.then_with(|| mine.2.cmp(&known.2)).is_lt()
        });
        if better {
            best = Some((number, mine));
        }
    });
    best.map(|(number, _)| number)
}
