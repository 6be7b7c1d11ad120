//! Keeping bodies out of one another: each gives way by its share of the overlap.
//!
//! Position-based (Müller, Heidelberger, Hennix and Ratcliff 2007): overlaps are taken back as
//! displacements, all computed from the same positions, so the order of bodies has no say. Two
//! that walk into each other also step aside, each to its own right, and so do not push head
//! to head for ever.

use crate::geom::{Vec2, angle};
use crate::near::Near;

/// The bodies of a tick, as parallel lists.
#[derive(Clone, Copy, Debug)]
pub struct Bodies<'a> {
    /// Where each wants to be at the end of the tick, in metres.
    pub wanted: &'a [Vec2],
    /// The step that each takes to get there; zero for those that stand.
    pub steps: &'a [Vec2],
    /// Radii in metres.
    pub radii: &'a [f32],
    /// The largest of the radii.
    pub widest: f32,
    /// How far each can get in a tick, in metres; `0` for one that nothing can move.
    pub limits: &'a [f32],
    /// For how many more ticks each stays awake, having been disturbed. With the last of them it
    /// looks only for overlaps that would wake it again.
    pub awake: &'a [u8],
    /// How far any body may have moved since the index was built, in metres.
    pub drift: f32,
}

/// By how much of the smaller radius two that stand may overlap without waking each other.
/// Whoever is awake parts from all others as far as it can; the margin lets a crowd come to
/// rest instead of trembling.
const REST_OVERLAP: f32 = 0.04;

/// How strongly a body that stands yields to one that walks, of a whole between them.
const STANDING_SHARE: f32 = 0.35;

/// How much of an overlap two that meet head on also step aside by.
const ASIDE: f32 = 0.6;

/// How far body `who` is to be moved to get out of the others, in metres, or `None` if it
/// touches none. `touched` is told the number of each body that is disturbed, itself included:
/// two that stand and overlap by a hair do not disturb each other.
///
/// Costs in proportion to the bodies near it.
pub fn push_apart(
    bodies: &Bodies<'_>,
    near: &Near,
    who: u32,
    mut touched: impl FnMut(u32),
) -> Option<Vec2> {
    let me = who as usize;
    let at = bodies.wanted[me];
    let mut push = Vec2::ZERO;
    let mut contacts = 0.0_f32;
    let reach = bodies.radii[me] + bodies.widest + bodies.drift;
    // Inner iteration: the index's nested loops stay loops.
    near.within(at, reach).for_each(|other| {
        let them = other as usize;
        let apart = bodies.radii[me] + bodies.radii[them];
        let stand = bodies.steps[me] == Vec2::ZERO && bodies.steps[them] == Vec2::ZERO;
        let rests = bodies.radii[me].min(bodies.radii[them]) * REST_OVERLAP;
        let asleep = stand && bodies.awake[me] <= 1;
        let contact = if asleep { apart - rests } else { apart };
        let gap = at - bodies.wanted[them];
        if them == me || gap.length_squared() >= contact * contact {
            return;
        }
        let distance = gap.length();
        let outward = if distance > 1e-4 {
            gap / distance
        } else {
            way_out_of_a_heap(who, other)
        };
        push += share_of(bodies, me, them, outward) * (apart - distance);
        contacts += 1.0;
        if !stand || apart - distance > rests {
            touched(other);
            touched(who);
        }
    });
    // With many contacts at once the sum overshoots; the mean, somewhat relaxed, settles.
    let push = push / (contacts * 0.67).max(1.0);
    (contacts > 0.0).then(|| push.clamp_length_max(bodies.limits[me]))
}

/// The direction and share, of one metre of overlap, by which `me` gives way to `them`.
fn share_of(bodies: &Bodies<'_>, me: usize, them: usize, outward: Vec2) -> Vec2 {
    let (mine, theirs) = (bodies.steps[me], bodies.steps[them]);
    let i_stand = mine == Vec2::ZERO;
    let they_stand = theirs == Vec2::ZERO;
    let share = match (i_stand, they_stand) {
        _ if bodies.limits[them] == 0.0 => 1.0,
        (true, false) => STANDING_SHARE,
        (false, true) => 1.0 - STANDING_SHARE,
        _ => 0.5,
    };
    let heading_in = mine.dot(outward) < -0.5 * mine.length();
    let against_me = theirs.dot(mine) <= 0.0;
    if !i_stand && heading_in && against_me {
        outward * share - mine.normalize_or_zero().perp() * ASIDE
    } else {
        outward * share
    }
}

/// Bodies in the very same place leave it in opposite directions, by their numbers.
fn way_out_of_a_heap(who: u32, other: u32) -> Vec2 {
    const GOLDEN_ANGLE: f32 = 2.399_963;
    let pair = who.min(other).wrapping_mul(31).wrapping_add(who.max(other));
    let outward = angle::direction(angle::wrap((pair % 4096) as f32 * GOLDEN_ANGLE));
    if who < other { outward } else { -outward }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::geom::Rect;

    fn pushes(wanted: &[Vec2], steps: &[Vec2]) -> Vec<Option<Vec2>> {
        let radii = vec![0.5; wanted.len()];
        let mut near = Near::default();
        near.rebuild(Rect::around(Vec2::ZERO, 10.0), 1.0, wanted);
        let bodies = Bodies {
            wanted,
            steps,
            radii: &radii,
            widest: 0.5,
            limits: &radii,
            awake: &vec![4; wanted.len()],
            drift: 0.0,
        };
        (0..wanted.len() as u32)
            .map(|who| push_apart(&bodies, &near, who, |_| {}))
            .collect()
    }

    #[test]
    fn two_bodies_share_their_overlap_and_end_beside_each_other() {
        let wanted = [Vec2::ZERO, Vec2::new(0.6, 0.0)];
        let pushed = pushes(&wanted, &[Vec2::ZERO; 2]);
        let gap = (wanted[1] + pushed[1].unwrap()) - (wanted[0] + pushed[0].unwrap());
        assert!((gap.length() - 1.0).abs() < 0.01, "{gap}");
    }

    #[test]
    fn a_heap_in_one_point_falls_apart() {
        let mut at = vec![Vec2::ONE; 12];
        for _ in 0..80 {
            let pushed = pushes(&at, &vec![Vec2::ZERO; at.len()]);
            for (place, push) in at.iter_mut().zip(pushed) {
                *place += push.unwrap_or(Vec2::ZERO);
            }
        }
        for (k, a) in at.iter().enumerate() {
            for b in &at[..k] {
                assert!(a.distance(*b) > 0.95, "{a} and {b}");
            }
        }
    }

    #[test]
    fn two_that_meet_head_on_step_to_opposite_sides() {
        let steps = [Vec2::new(0.1, 0.0), Vec2::new(-0.1, 0.0)];
        let pushed = pushes(&[Vec2::ZERO, Vec2::new(0.9, 0.0)], &steps);
        let (a, b) = (pushed[0].unwrap(), pushed[1].unwrap());
        assert!(a.y < 0.0 && b.y > 0.0, "{a} and {b}");
    }

    #[test]
    fn bodies_that_do_not_touch_are_left_alone() {
        assert_eq!(
            pushes(&[Vec2::ZERO, Vec2::X], &[Vec2::ZERO; 2]),
            [None, None]
        );
    }
}
