//! Turning aside in time, and queueing: who would come upon another that comes towards it changes course now, and
//! who comes up behind one that goes the same way does not press.
//!
//! ```text
//!        ← b           a and b meet within a second or so; they would touch, being less than their widths apart
//!   a →                to the side. Each steps aside by half of what is wanting until then: to its own right, unless
//!                      it has the other well to its right already
//! ```
//!
//! Only the one that is met first counts, so that those that come after do not undo each other.

use crate::geom::Vec2;
use crate::motion::{ROUNDED_UP, Turns};
use crate::near::Near;
use smallvec::SmallVec;

/// How far ahead meetings are foreseen, in seconds.
pub const FORESIGHT_S: f32 = 1.25;

/// How much of its speed one puts into stepping aside at the most.
const MOST_ASIDE: f32 = 0.8;

/// How much farther than their radii two pass each other by.
const BERTH: f32 = 1.05;

/// Two count as having met when they are this many times as far apart as when they touch, at the most: ahead by the sum
/// of their radii, and to the side by their berth.
const CORNERED: f32 = 1.5;

/// Up to which part of the berth to its right one has the other ahead, and passes it on the right all the same.
const AHEAD: f32 = 0.3;

/// A meeting is never nearer than this, in seconds: the step aside stays finite.
const NEAREST_S: f32 = 0.15;

/// How near one ahead must be for those behind to queue, as a part of the radius.
const QUEUE_GAP: f32 = 0.2;

/// How much of the gap those in a queue catch up with in a second.
const CATCH_UP: f32 = 3.0;

/// What is known of bodies that walk, as parallel lists.
#[derive(Clone, Copy, Debug)]
pub struct Walkers<'a> {
    /// Their middles, in metres.
    pub at: &'a [Vec2],
    /// How they moved in the tick before, in metres a second.
    pub velocity: &'a [Vec2],
    /// How they would walk were they alone, in metres a second; zero for those that stand.
    pub wanted: &'a [Vec2],
    /// Their radii in metres.
    pub radii: &'a [f32],
    /// The largest of the radii.
    pub widest: f32,
    /// The highest of the speeds in `wanted`.
    pub fastest: f32,
    /// Whose turn it is.
    pub turns: Turns<'a>,
    /// Whether each has come to where its group gathers.
    pub gather: &'a [bool],
}

/// How one had better walk.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Course {
    /// The velocity, in metres a second.
    pub velocity: Vec2,
    /// Whether it queues behind others.
    pub queues: bool,
}

/// How body `who` had better walk: as it wants to, but for those that it would come upon, and never faster than `top`
/// metres a second. Who wants to stand stands.
///
/// `near` is the index of where they are. Costs in proportion to the bodies that it could come upon within
/// [`FORESIGHT_S`].
#[must_use]
pub fn foresee(walkers: &Walkers<'_>, near: &Near, who: u32, top: f32) -> Course {
    let me = who as usize;
    let wanted = walkers.wanted[me];
    let speed = wanted.length();
    if speed == 0.0 {
        return Course {
            velocity: Vec2::ZERO,
            queues: false,
        };
    }
    let round = look_round(walkers, near, who, speed);
    let mut velocity = wanted;
    if let Some((time, aside)) = round.soonest {
        let ahead = wanted / speed;
        let sideways = (aside / time.max(NEAREST_S)).clamp(-MOST_ASIDE * speed, MOST_ASIDE * speed);
        let onward = (speed * speed - sideways * sideways).max(0.0).sqrt();
        velocity = (ahead * onward + ahead.perp() * sideways).clamp_length_max(top);
    }
    let mut queues = false;
    for other in round.beside {
        let slower = queue_behind(walkers, (me, other as usize), velocity);
        queues |= slower != velocity;
        velocity = slower;
    }
    Course { velocity, queues }
}

/// Whom one has round it that counts.
#[derive(Clone, Debug, Default, PartialEq)]
struct Round {
    /// What it meets first: in how many seconds, and how far it has to step aside until then (see [`meets`]).
    soonest: Option<(f32, f32)>,
    /// Those it all but touches.
    beside: SmallVec<[u32; 16]>,
}

/// Looks round, only where those can be whom it [`meets`] or touches.
fn look_round(walkers: &Walkers<'_>, near: &Near, who: u32, speed: f32) -> Round {
    let me = who as usize;
    let (at, radius, wanted) = (walkers.at[me], walkers.radii[me], walkers.wanted[me]);
    let ahead = wanted / speed;
    let widest = radius + walkers.widest;
    let touches = widest + radius * QUEUE_GAP;
    let fastest = walkers.fastest.max(speed);
    // Every body that could touch it until then is within this of where it would be then, being no faster than the fastest.
    let (middle, reach) = (
        at + wanted * FORESIGHT_S,
        widest * CORNERED + fastest * FORESIGHT_S,
    );
    let mut round = Round::default();
    // Whom it could come upon before the soonest lies within this, as a square.
    let mut worth = f32::INFINITY;
    let all = near.places_within(middle, reach * ROUNDED_UP);
    all.filter(|(other, _)| *other != who)
        .for_each(|(other, place)| {
            let gap = place - at;
            let square = gap.length_squared();
            if square <= touches * touches {
                round.beside.push(other);
            }
            // Those that go its way are not met at all, and from all others behind it, it walks away.
            if square > worth || gap.dot(ahead) < -widest * BERTH * ROUNDED_UP {
                return;
            }
            if let Some((time, aside)) = meets(walkers, me, other as usize)
                && round.soonest.is_none_or(|(known, _)| time < known)
            {
                round.soonest = Some((time, aside));
                let far = (widest * CORNERED + (speed + fastest) * time) * ROUNDED_UP;
                worth = far * far;
            }
        });
    round
}

/// In how many seconds one comes upon another that does not go the same way, and how far it has to step aside to its
/// left until then for its part, in metres; less than zero to its right. `None` if they pass each other anyway.
fn meets(walkers: &Walkers<'_>, me: usize, them: usize) -> Option<(f32, f32)> {
    let (mine, theirs) = (walkers.wanted[me], walkers.wanted[them]);
    // Where a group gathers one gets past those that stand by having them make room.
    let pushes_past = theirs == Vec2::ZERO && walkers.gather[me];
    if walkers.turns.go_together(walkers.wanted, me, them) || pushes_past {
        return None;
    }
    let gap = walkers.at[them] - walkers.at[me];
    let closing = mine - theirs;
    let apart = walkers.radii[me] + walkers.radii[them];
    let speed = closing.length();
    let ahead = closing / speed.max(1e-6);
    let distance = gap.dot(ahead);
    let aside = gap.dot(ahead.perp());
    if distance <= 0.0 || aside.abs() >= apart * BERTH {
        return None;
    }
    let time = (distance - apart).max(0.0) / speed.max(1e-6);
    let arrives = time * mine.length() > walkers.turns.left[me];
    if time >= FORESIGHT_S || arrives {
        return None;
    }
    // Whom it meets on its left it passes on the right; whom it meets head on as well.
    let room = apart * BERTH - aside.abs();
    let side = if aside > -AHEAD * apart { -1.0 } else { 1.0 };
    // Who stands takes no part in it.
    let part = if theirs == Vec2::ZERO { 1.0 } else { 0.5 };
    Some((time, side * room * part))
}

/// The course of one that comes up behind another who goes the same way: no faster toward it than that one
/// goes, and what is left of the gap.
fn queue_behind(walkers: &Walkers<'_>, (me, them): (usize, usize), course: Vec2) -> Vec2 {
    let turns = &walkers.turns;
    if !(turns.go_together(walkers.wanted, me, them) && turns.goes_before(them, me)) {
        return course;
    }
    let gap = walkers.at[them] - walkers.at[me];
    let distance = gap.length();
    let room = distance - walkers.radii[me] - walkers.radii[them];
    if distance < 1e-4 || room > walkers.radii[me] * QUEUE_GAP {
        return course;
    }
    let toward = gap / distance;
    let most = walkers.velocity[them].dot(toward).max(0.0) + room.max(0.0) * CATCH_UP;
    let over = course.dot(toward) - most;
    if over > 0.0 {
        course - toward * over
    } else {
        course
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::geom::Rect;
    use proptest::prelude::*;

    fn courses(at: &[Vec2], wanted: &[Vec2], left: &[f32]) -> Vec<Course> {
        let mut near = Near::default();
        near.rebuild(Rect::around(Vec2::ZERO, 20.0), 2.0, at);
        let walkers = Walkers {
            at,
            velocity: wanted,
            wanted,
            radii: &vec![0.5; at.len()],
            widest: 0.5,
            fastest: 2.0,
            turns: Turns {
                left,
                bands: &vec![0; at.len()],
            },
            gather: &vec![false; at.len()],
        };
        (0..at.len() as u32)
            .map(|who| foresee(&walkers, &near, who, 2.0))
            .collect()
    }

    /// The same as [`look_round`], by a look at everybody.
    fn plainly(walkers: &Walkers<'_>, near: &Near, who: u32) -> Round {
        let me = who as usize;
        let mut round = Round::default();
        for other in near.within(Vec2::ZERO, 1e3).filter(|other| *other != who) {
            let them = other as usize;
            let touches = walkers.radii[me] * (1.0 + QUEUE_GAP) + walkers.widest;
            if walkers.at[them].distance_squared(walkers.at[me]) <= touches * touches {
                round.beside.push(other);
            }
            let met = meets(walkers, me, them);
            if met.is_some_and(|(time, _)| round.soonest.is_none_or(|(known, _)| time < known)) {
                round.soonest = met;
            }
        }
        round
    }

    proptest! {
        #[test]
        fn whom_one_has_round_it_is_what_a_look_at_everybody_shows(
            walkers in proptest::collection::vec(
                (-9.0_f32..9.0, -9.0_f32..9.0, -3.2_f32..3.2, 0.0_f32..4.0, 0.1_f32..0.8, 0_u32..4), 2..60),
        ) {
            let at: Vec<Vec2> = walkers.iter().map(|(x, y, ..)| Vec2::new(*x, *y)).collect();
            let wanted = walkers.iter().map(|(_, _, heading, speed, ..)| {
                // Some stand.
                crate::geom::angle::direction(*heading) * (speed - 0.5).max(0.0)
            });
            let wanted: Vec<Vec2> = wanted.collect();
            let radii: Vec<f32> = walkers.iter().map(|walker| walker.4).collect();
            let bands: Vec<u32> = walkers.iter().map(|walker| walker.5).collect();
            let mut near = Near::default();
            near.rebuild(Rect::around(Vec2::ZERO, 10.0), 1.6, &at);
            let walkers = Walkers {
                at: &at,
                velocity: &wanted,
                wanted: &wanted,
                radii: &radii,
                widest: radii.iter().copied().fold(0.0, f32::max),
                fastest: wanted.iter().map(|wish| wish.length()).fold(0.0, f32::max),
                turns: Turns { left: &vec![30.0; at.len()], bands: &bands },
                gather: &vec![false; at.len()],
            };
            for who in 0..at.len() as u32 {
                let speed = wanted[who as usize].length();
                if speed > 0.0 {
                    let round = look_round(&walkers, &near, who, speed);
                    prop_assert_eq!(round, plainly(&walkers, &near, who));
                }
            }
        }
    }

    #[test]
    fn two_that_meet_head_on_step_to_opposite_sides_in_time() {
        let at = [Vec2::ZERO, Vec2::new(3.0, 0.0)];
        let found = courses(&at, &[Vec2::X, -Vec2::X], &[9.0, 9.0]);
        let (a, b) = (found[0].velocity, found[1].velocity);
        assert!(a.y < 0.0 && b.y > 0.0, "each to its own right: {a} and {b}");
        assert!((a.length() - 1.0).abs() < 1e-3, "at the same pace");
    }

    #[test]
    fn nobody_turns_aside_beyond_the_end_of_the_way() {
        let at = [Vec2::ZERO, Vec2::new(3.0, 0.0)];
        let found = courses(&at, &[Vec2::X, -Vec2::X], &[0.1, 9.0]);
        assert_eq!(found[0].velocity, Vec2::X);
    }

    #[test]
    fn who_comes_up_behind_does_not_press() {
        let at = [Vec2::ZERO, Vec2::new(1.02, 0.0)];
        let slow = Vec2::new(0.2, 0.0);
        let found = courses(&at, &[Vec2::X, slow], &[5.0, 4.0]);
        assert!(
            found[0].velocity.x < 0.3 && found[0].queues,
            "{:?}",
            found[0]
        );
        assert_eq!(found[1].velocity, slow);
        assert!(!found[1].queues);
    }

    #[test]
    fn who_wants_to_stand_stands_whoever_comes() {
        let at = [Vec2::ZERO, Vec2::new(1.5, 0.0)];
        let found = courses(&at, &[Vec2::ZERO, -Vec2::X], &[5.0, 4.0]);
        assert_eq!(found[0].velocity, Vec2::ZERO);
        assert!(found[1].velocity.y > 0.0, "the other goes round: {found:?}");
    }
}
