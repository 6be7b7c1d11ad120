//! Turning aside in time, and queueing: a body that would meet another that comes towards it changes course now, and
//! a body that comes up behind another that goes the same way queues, or overtakes it if it is slower.
//!
//! ```text
//!        ← b           a and b meet within a second or so; they would touch, being less than their widths apart
//!   a →                to the side. Each steps aside by half of what is wanting until then: to its own right, unless
//!                      it has the other well to its right already
//! ```
//!
//! Only the body that is met first counts, so that several do not undo each other's effect.

use super::overtaking::{is_slowed, is_slower, touches_slower_only};
use super::walkers::Walkers;
use crate::geom::Vec2;
use crate::motion::ROUNDED_UP;
use crate::near::Near;
use smallvec::SmallVec;

/// How far ahead meetings are foreseen, in seconds.
pub const FORESIGHT_S: f32 = 1.25;

/// How much of its speed one puts into stepping aside at the most.
const MOST_ASIDE: f32 = 0.8;

/// How much farther than their radii two pass each other by.
const BERTH: f32 = 1.05;

/// The same for a body that stands: a detour leads past it at a distance a little larger than this.
const STANDING_BERTH: f32 = 1.01;

/// The same for a slower body ahead: a body that is not straight behind it slides past it.
const OVERTAKING_BERTH: f32 = 0.4;

/// A body that is held up slides past a standing one beside it, if that is in its way by no more than this part of the distance at which
/// they touch.
const SKIMS: f32 = 0.02;

/// Two count as having met when they are this many times as far apart as when they touch, at the most: ahead by the sum
/// of their radii, and to the side by their berth.
const CORNERED: f32 = 1.5;

/// Up to which part of the berth to its right one has the other ahead, and passes it on the right all the same.
const AHEAD: f32 = 0.3;

/// A meeting is never nearer than this, in seconds: the step aside stays finite.
const NEAREST_S: f32 = 0.15;

/// Two are oncoming whose directions differ by more than the angle with minus this cosine.
const ONCOMING: f32 = 0.5;

/// A body that is waiting counts as ahead if the cosine of the angle between it and the wanted direction is larger than this.
const WAITS_AHEAD: f32 = 0.3;

/// A body counts as slowed if its speed in the direction that it wants is less than this part of the speed that it wants.
const SLOWED: f32 = 0.4;

/// How near one ahead must be for those behind to queue, as a part of the radius.
const QUEUE_GAP: f32 = 0.2;

/// How much of the gap those in a queue catch up with in a second.
const CATCH_UP: f32 = 6.0;

/// How much of its speed a body in a queue gains in a second, over what those ahead of it do.
const GAIN: f32 = 1.0;

/// How one had better walk.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Course {
    /// The velocity, in metres a second.
    pub velocity: Vec2,
    /// Whether it queues behind others.
    pub queues: bool,
    /// Whether it had better wait: it is held up, and a body ahead of it is waiting.
    pub waits: bool,
    /// In how many seconds it comes upon the first body; infinite where it comes upon none.
    pub meets_s: f32,
    /// Whether it comes upon a body that stands, before any that moves.
    pub obstructed: bool,
    /// Whether it is slowed by a body close ahead that goes its way, and is slower.
    pub slowed: bool,
    /// The first body that it would meet, if that is walking or waiting and does not go its way.
    pub oncoming: Option<u32>,
    /// Whether another that goes its way is where it steps aside to: where there is no room to spread, it had better fall in
    /// behind that.
    pub falls_in: bool,
    /// Whether it had better back where there is no room, since it and an oncoming body with right of way stand in each other's way.
    pub backs_off: bool,
}

impl Course {
    /// The course of a body that comes upon nobody and has nobody beside it.
    pub(crate) const fn free(velocity: Vec2) -> Course {
        Course {
            velocity,
            queues: false,
            waits: false,
            meets_s: f32::INFINITY,
            obstructed: false,
            slowed: false,
            oncoming: None,
            falls_in: false,
            backs_off: false,
        }
    }
}

/// How body `who` had better walk: as it wants to, but for those that it would come upon, and never faster than `top`
/// metres a second. A body that wants to stand stands.
///
/// `near` is the index of where they are. Costs in proportion to the bodies that it could come upon within
/// [`FORESIGHT_S`].
#[must_use]
pub fn foresee(walkers: &Walkers<'_>, near: &Near, who: u32, top: f32) -> Course {
    let me = who as usize;
    let wanted = walkers.wanted[me];
    let speed = wanted.length();
    if speed == 0.0 {
        return Course::free(Vec2::ZERO);
    }
    let round = look_round(walkers, near, who, speed);
    let first = first_met(walkers, me, &round);
    if first.is_none() && round.beside.is_empty() {
        return Course::free(wanted);
    }
    let (mut velocity, mut falls_in) = (wanted, false);
    if let Some(Meeting {
        time, aside, how, ..
    }) = first
    {
        let ahead = wanted / speed;
        let sideways = (aside / time.max(NEAREST_S)).clamp(-MOST_ASIDE * speed, MOST_ASIDE * speed);
        let onward = (speed * speed - sideways * sideways).max(0.0).sqrt();
        falls_in = how == How::Oncoming && merges(walkers, me, (ahead, sideways), &round.beside);
        velocity = (ahead * onward + ahead.perp() * sideways).clamp_length_max(top);
    }
    let most = eased(walkers, me, (wanted, speed), &round.beside);
    let alone = velocity.clamp_length_max(most);
    let velocity = round.beside.iter().fold(alone, |course, &other| {
        queue_behind(walkers, (me, other as usize), course)
    });
    let met = |how| first.filter(|met| met.how == how);
    Course {
        velocity,
        queues: velocity != alone,
        waits: walkers.held_up[me]
            && !walkers.waiting.is_empty()
            && waits_behind(walkers, me, &round.beside),
        meets_s: first.map_or(f32::INFINITY, |met| met.time),
        obstructed: met(How::Standing).is_some(),
        slowed: is_slowed(walkers, me, &round.beside),
        oncoming: met(How::Oncoming).map(|met| met.other),
        falls_in,
        backs_off: (walkers.held_up[me] && gives_in(walkers, me, &round.beside))
            || (!walkers.backs.is_empty() && makes_way(walkers, me, &round.beside)),
    }
}

/// The highest speed of a body that wants to go at `speed`, in metres a second. A body is in a queue if a neighbour ahead of it has
/// right of way. It then goes little faster than in the last tick, or than the slowest such neighbour did if that was faster. Without
/// this limit bodies in a jam slip to and fro, and bodies that come along a wall take every place in a gap.
///
/// The limit is infinite outside of a queue and among bodies of several sizes: large bodies block gaps, and only pushes free them.
fn eased(walkers: &Walkers<'_>, me: usize, (wanted, speed): (Vec2, f32), beside: &[u32]) -> f32 {
    let turns = &walkers.turns;
    let gets_on = |who: usize| walkers.velocity[who].dot(wanted).max(0.0) / speed;
    let mut slowest = f32::INFINITY;
    for &other in beside {
        let them = other as usize;
        if walkers.radii[them] != walkers.radii[me] {
            return f32::INFINITY;
        }
        let is_ahead = (walkers.at[them] - walkers.at[me]).dot(wanted) > 0.0;
        if is_ahead && turns.go_together(walkers.wanted, me, them) && turns.goes_before(them, me) {
            slowest = slowest.min(gets_on(them));
        }
    }
    let is_in_queue = slowest < f32::INFINITY;
    let is_mixed = || {
        walkers
            .of_many_sizes
            .binary_search(&turns.groups[me])
            .is_ok()
    };
    if !is_in_queue || is_mixed() {
        return f32::INFINITY;
    }
    gets_on(me).max(slowest) + GAIN * speed * walkers.tick_s
}

/// Whether one has to fall in behind another of those beside it, which go its way, to step aside for an oncoming body.
fn merges(
    walkers: &Walkers<'_>,
    me: usize,
    (ahead, sideways): (Vec2, f32),
    beside: &[u32],
) -> bool {
    let aside = ahead.perp() * sideways.signum();
    beside.iter().any(|other| {
        let them = *other as usize;
        let gap = walkers.at[them] - walkers.at[me];
        let apart = walkers.radii[me] + walkers.radii[them];
        walkers.turns.go_together(walkers.wanted, me, them)
            && gap.dot(aside) > 0.2 * apart
            && gap.dot(ahead) > -0.7 * apart
    })
}

/// Whether a neighbour of another group is oncoming, is held up as well, and has right of way. Members of one group go the same way in the
/// end. A neighbour of the same side need not be held up: it is enough that it is slowed.
fn gives_in(walkers: &Walkers<'_>, me: usize, beside: &[u32]) -> bool {
    let mine = walkers.bound[me];
    beside.iter().any(|other| {
        let them = *other as usize;
        let theirs = walkers.bound[them];
        let gap = walkers.at[them] - walkers.at[me];
        let is_oncoming = mine.dot(theirs) < -ONCOMING * mine.length() * theirs.length();
        let groups = walkers.turns.groups;
        let is_slowed = walkers.sides[me] == walkers.sides[them]
            && walkers.velocity[them].dot(theirs) < SLOWED * theirs.length_squared();
        is_oncoming
            && (groups[me] == 0 || groups[them] != groups[me])
            && (walkers.held_up[them] || is_slowed)
            && gap.dot(mine) > 0.0
            && walkers.turns.set_out_before(them, me)
    })
}

/// Whether a neighbour ahead of a body, that goes the same way in the end, backs off towards it: one of its group, or of its side.
fn makes_way(walkers: &Walkers<'_>, me: usize, beside: &[u32]) -> bool {
    let (groups, wanted) = (walkers.turns.groups, walkers.wanted);
    beside.iter().any(|other| {
        let them = *other as usize;
        let gap = walkers.at[them] - walkers.at[me];
        let is_of_group = groups[me] != 0 && groups[them] == groups[me];
        let comes_back =
            walkers.sides[them] == walkers.sides[me] && wanted[them].dot(wanted[me]) < 0.0;
        walkers.backs[them]
            && !walkers.backs[me]
            && (is_of_group || comes_back)
            && gap.dot(wanted[me]) > 0.0
    })
}

/// Whether a neighbour with right of way that is ahead of a body, and goes the same way, is waiting.
fn waits_behind(walkers: &Walkers<'_>, me: usize, beside: &[u32]) -> bool {
    let wanted = walkers.wanted[me];
    beside.iter().any(|other| {
        let them = *other as usize;
        let gap = walkers.at[them] - walkers.at[me];
        walkers.waiting[them]
            && walkers.turns.go_together(walkers.wanted, me, them)
            && walkers.turns.goes_before(them, me)
            && gap.dot(wanted) > WAITS_AHEAD * gap.length() * wanted.length()
    })
}

/// A meeting that lies ahead.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Meeting {
    /// In how many seconds.
    time: f32,
    /// How far to step aside to the left until then, in metres; less than zero to the right.
    aside: f32,
    /// What the other does.
    how: How,
    /// The other.
    other: u32,
}

/// What a body that is met does.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum How {
    /// It stands.
    Standing,
    /// It walks, or waits, and does not go the same way.
    Oncoming,
    /// It goes the same way, but is slower.
    Overtaking,
}

impl How {
    /// How much farther from it than their radii a body passes it by.
    fn berth(self) -> f32 {
        match self {
            How::Standing => STANDING_BERTH,
            How::Oncoming => BERTH,
            How::Overtaking => OVERTAKING_BERTH,
        }
    }
}

/// Whom one has round it that counts.
#[derive(Clone, Debug, Default, PartialEq)]
struct Round {
    /// The first meeting with a slower body that goes its way (see [`meets`]).
    slower: Option<Meeting>,
    /// The first meeting with any other body.
    soonest: Option<Meeting>,
    /// Those it all but touches.
    beside: SmallVec<[u32; 16]>,
}

/// Looks round, only where there can be bodies that it [`meets`] or touches.
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
                let apart = radius * (1.0 + QUEUE_GAP) + walkers.radii[other as usize];
                if square <= apart * apart {
                    round.beside.push(other);
                }
            }
            // It cannot meet a body behind it.
            if square > worth || gap.dot(ahead) < -widest * BERTH * ROUNDED_UP {
                return;
            }
            let Some(meeting) = meets(walkers, me, other as usize) else {
                return;
            };
            let is_slower = meeting.how == How::Overtaking;
            let known = if is_slower {
                &mut round.slower
            } else {
                &mut round.soonest
            };
            if known.is_none_or(|known| meeting.time < known.time) {
                *known = Some(meeting);
                if !is_slower {
                    let far = (widest * CORNERED + (speed + fastest) * meeting.time) * ROUNDED_UP;
                    worth = far * far;
                }
            }
        });
    round
}

/// The first body that one meets. Slower bodies that go its way count while it touches none but such: in a mixed crowd it queues.
fn first_met(walkers: &Walkers<'_>, me: usize, round: &Round) -> Option<Meeting> {
    let soonest = round.soonest;
    let sooner = |slower: &Meeting| soonest.is_none_or(|known| slower.time < known.time);
    let slower = |met: &Meeting| sooner(met) && touches_slower_only(walkers, me, &round.beside);
    round.slower.filter(slower).or(soonest)
}

/// Whether and when one comes upon another that does not go the same way, or is slower. `None` if they pass each other anyway.
fn meets(walkers: &Walkers<'_>, me: usize, them: usize) -> Option<Meeting> {
    let (mine, theirs) = (walkers.wanted[me], walkers.wanted[them]);
    let together = walkers.turns.go_together(walkers.wanted, me, them);
    // Where a group assembles a body gets past the others by having them make room.
    let pushes_past = walkers.gather[me] && (together || theirs == Vec2::ZERO);
    if pushes_past || together && !is_slower(walkers, me, them) {
        return None;
    }
    let gap = walkers.at[them] - walkers.at[me];
    // A body that waits wants to go on, but does not.
    let waits = walkers.waiting.get(them).is_some_and(|waits| *waits);
    let closing = if waits { mine } else { mine - theirs };
    let apart = walkers.radii[me] + walkers.radii[them];
    let stands = theirs == Vec2::ZERO;
    let how = match (stands, together) {
        (true, _) => How::Standing,
        (false, true) => How::Overtaking,
        (false, false) => How::Oncoming,
    };
    let berth = how.berth();
    let speed = closing.length();
    let ahead = closing / speed.max(1e-6);
    let distance = gap.dot(ahead);
    let aside = gap.dot(ahead.perp());
    if distance <= 0.0 || aside.abs() >= apart * berth {
        return None;
    }
    let time = (distance - apart).max(0.0) / speed.max(1e-6);
    let walked_m = time * mine.length();
    let arrives = walked_m > walkers.turns.remaining_m[me];
    let turns_off = stands && {
        let chord_m = (apart * apart * berth * berth - aside * aside)
            .max(0.0)
            .sqrt();
        distance - chord_m > walkers.leg_m[me]
    };
    let skims = stands && walkers.held_up[me] && gap.length() - aside.abs() < SKIMS * apart;
    if time >= FORESIGHT_S || arrives || turns_off || skims {
        return None;
    }
    // It passes on the right what it meets on its left or head on.
    let room = apart * berth - aside.abs();
    let side = if aside > -AHEAD * apart { -1.0 } else { 1.0 };
    // A body that stands, waits or is overtaken takes no part in it.
    let part = if how == How::Oncoming && !waits {
        0.5
    } else {
        1.0
    };
    Some(Meeting {
        time,
        aside: side * room * part,
        how,
        other: them as u32,
    })
}

/// The course of a body that comes up behind another that goes the same way: no faster toward that than it
/// goes itself, and what is left of the gap.
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
