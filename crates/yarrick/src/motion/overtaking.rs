//! Which bodies are overtaken: slower ones that go the same way, and are not held up.

use super::walkers::Walkers;
use crate::geom::Vec2;

/// A body overtakes another that goes its way if that can go, wants to go and goes at less than this part of its speed.
const SLOWER: f32 = 0.85;

/// A body that goes at less than this part of its wanted speed is in a jam, and is not overtaken.
const GETS_ON: f32 = 0.5;

/// Whether another body that goes the same way is slower, though nothing holds it up.
// Asked of everybody in sight, and mostly answered by the first comparison.
#[inline]
pub(super) fn is_slower(walkers: &Walkers<'_>, me: usize, them: usize) -> bool {
    let theirs = (walkers.wanted[them], walkers.velocity[them]);
    walkers.limits[them] < SLOWER * walkers.limits[me] && is_slow(walkers.wanted[me], theirs)
}

/// Whether a body is slower than another, and nothing holds it up: it wants the velocity `theirs` and moves at `now`, the other wants
/// `mine`, in metres a second.
#[must_use]
pub fn is_slow(mine: Vec2, (theirs, now): (Vec2, Vec2)) -> bool {
    let wanted = theirs.length_squared();
    let most = SLOWER * SLOWER * mine.length_squared();
    wanted > 0.0
        && wanted < most
        && now.length_squared() < most
        && now.dot(theirs) > GETS_ON * wanted
}

/// Whether all neighbours of a body are slower.
pub(super) fn touches_slower_only(walkers: &Walkers<'_>, me: usize, beside: &[u32]) -> bool {
    let mut others = beside.iter().map(|other| *other as usize);
    others.all(|other| is_slower(walkers, me, other))
}

/// Whether a body goes at less than [`SLOWER`] of the speed that it wants, behind a slower one, and touches none but slower ones. In a mixed
/// crowd it queues.
pub(super) fn is_slowed(walkers: &Walkers<'_>, me: usize, beside: &[u32]) -> bool {
    let wanted = walkers.wanted[me];
    let is_ahead = |other: &u32| {
        let them = *other as usize;
        (walkers.at[them] - walkers.at[me]).dot(wanted) > 0.0
            && walkers.turns.go_together(walkers.wanted, me, them)
    };
    walkers.velocity[me].dot(wanted) < SLOWER * wanted.length_squared()
        && touches_slower_only(walkers, me, beside)
        && beside.iter().any(is_ahead)
}
