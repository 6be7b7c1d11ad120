//! The course of each unit: how it avoids the bodies that it would meet.

use super::necks::{Meeting, NARROW_AHEAD_RADII, is_narrow, waits_before_a_neck};
use crate::geom::Vec2;
use crate::motion::{Course, Walkers, foresee};
use crate::near::Near;
use crate::threads::Threads;
use crate::world::state::{Moves, State, Walk};

/// Turns those aside that would come upon others. Each looks for itself at what nobody changes meanwhile: it is all the
/// same on how many threads.
pub(super) fn look_ahead(state: &State, near: &Near, moves: &mut Moves, threads: &Threads) {
    let units = &state.units;
    let tick_s = state.tick_s();
    let mut wishes = core::mem::take(&mut moves.wishes);
    wishes.clear();
    wishes.extend(moves.steps.iter().map(|step| *step / tick_s));
    let mut bound = core::mem::take(&mut moves.bound);
    bound.clear();
    bound.extend_from_slice(&wishes);
    let held_up = moves.held_up.iter().enumerate();
    for (row, _) in held_up.filter(|(_, is_held_up)| **is_held_up) {
        bound[row] = bound_for(state, row, wishes[row]);
    }
    note_sizes(moves, &units.radius);
    let mut courses = core::mem::take(&mut moves.courses);
    courses.clear();
    courses.resize(wishes.len(), None);
    let speeds = wishes.iter().map(|wish| wish.length());
    let walkers = Walkers {
        at: &units.position,
        velocity: &units.velocity,
        wanted: &wishes,
        limits: &moves.limits,
        radii: &units.radius,
        widest: state.derived.widest,
        fastest: speeds.fold(0.0, f32::max),
        turns: moves.turns(),
        gather: &moves.assembles,
        leg_m: &moves.leg_m,
        held_up: &moves.held_up,
        sides: &moves.side,
        tick_s,
        of_many_sizes: &moves.of_many_sizes,
        bound: &bound,
        backs: if_any(&moves.backs),
        waiting: if_any(&moves.waited),
    };
    let limits = &moves.limits;
    threads.in_parts(&mut courses, (1, LEAST_PART_ROWS), |first, part| {
        for (row, course) in (first..).zip(part) {
            let top = limits[row] / tick_s;
            let looks = wishes[row] != Vec2::ZERO && !moves.goes_straight[row];
            *course = looks.then(|| foresee(&walkers, near, row as u32, top));
        }
    });
    take_courses(state, moves, (&courses, &wishes, &bound));
    moves.courses = courses;
    moves.bound = bound;
    moves.wishes = wishes;
}

/// Notes the groups whose members do not all have the same radius, in ascending order; `0` is no group.
fn note_sizes(moves: &mut Moves, radii: &[f32]) {
    let Moves {
        sizes,
        of_many_sizes,
        group,
        ..
    } = moves;
    let members = group.iter().zip(radii);
    sizes.clear();
    sizes.extend(
        members
            .filter(|(group, _)| **group != 0)
            .map(|(group, radius)| (*group, radius.to_bits())),
    );
    // Members of a group mostly stand one after another: hardly anything is left to sort.
    sizes.dedup();
    sizes.sort_unstable();
    sizes.dedup();
    of_many_sizes.clear();
    of_many_sizes.extend(
        sizes
            .windows(2)
            .filter(|pair| pair[0].0 == pair[1].0)
            .map(|pair| pair[0].0),
    );
}

/// Within this many of its radii of a corner, a unit that is held up goes by the direction of its path behind the corner.
const ALL_BUT_THERE_RADII: f32 = 2.0;

/// The direction in which a unit goes on that is held up: that of its wish, or close to a corner that of its path behind the corner. Its
/// length is that of the wish.
pub(super) fn bound_for(state: &State, row: usize, wish: Vec2) -> Vec2 {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    match state.units.locomotion[row].walk().map(Walk::ahead) {
        Some([to, beyond, ..]) if at.distance(*to) < ALL_BUT_THERE_RADII * radius => {
            (*beyond - *to).normalize_or_zero() * wish.length()
        }
        _ => wish,
    }
}

/// A list, if any is set in it.
fn if_any(flags: &[bool]) -> &[bool] {
    if flags.contains(&true) { flags } else { &[] }
}

/// Turns the steps to the courses that were chosen.
fn take_courses(
    state: &State,
    moves: &mut Moves,
    (courses, wishes, bound): (&[Option<Course>], &[Vec2], &[Vec2]),
) {
    for (row, course) in courses.iter().enumerate() {
        // Most are, and there is nothing to note.
        let is_free = *course == Some(Course::free(wishes[row]));
        if let Some(course) = course.filter(|_| !is_free) {
            take_course(state, moves, (row, course), (wishes, bound));
        }
    }
}

/// Turns the step of a unit to the course that was chosen.
fn take_course(
    state: &State,
    moves: &mut Moves,
    (row, course): (usize, Course),
    (wishes, bound): (&[Vec2], &[Vec2]),
) {
    let Course {
        velocity,
        queues,
        waits,
        meets_s,
        obstructed,
        slowed,
        oncoming,
        falls_in,
        backs_off,
    } = course;
    moves.waits[row] |= queues;
    moves.obstructed[row] = obstructed;
    moves.slowed[row] = slowed;
    moves.oncoming[row] = oncoming.is_some();
    // Close to a corner of its path a unit may wish to go across the neck.
    let narrow_at = |ahead_radii| is_narrow(state, row, (bound[row], ahead_radii));
    let is_narrow = (falls_in || backs_off) && narrow_at(0.0);
    // Two that meet in a short neck may each have room beside it.
    moves.backs_off[row] =
        backs_off && (is_narrow || NARROW_AHEAD_RADII.into_iter().any(narrow_at));
    let is_shut = obstructed && is_shut(state, row);
    let waits_for = |other| {
        let meeting = Meeting {
            other,
            after_s: meets_s,
        };
        waits_before_a_neck(state, moves, (row, wishes), meeting)
    };
    moves.stands_by[row] =
        waits || is_shut && meets_s < WAITS_FROM_S || oncoming.is_some_and(waits_for);
    moves.waits[row] |= moves.stands_by[row];
    let velocity = if moves.stands_by[row] {
        Vec2::ZERO
    } else if is_shut {
        // It goes up to them, and steps aside in vain no more.
        wishes[row]
    } else if falls_in && is_narrow {
        let ahead = wishes[row].normalize_or_zero();
        velocity - ahead * velocity.dot(ahead) * (1.0 - FALLS_BACK)
    } else {
        velocity
    };
    if velocity != wishes[row] {
        moves.steps[row] = velocity * state.tick_s();
        moves.wanted[row] = state.units.position[row] + moves.steps[row];
        moves.turned[row] = true;
    }
}

/// Whether bodies that make no room shut the path of a unit, and there is no way round them.
fn is_shut(state: &State, row: usize) -> bool {
    let walk = state.units.locomotion[row].walk();
    walk.is_some_and(|walk| walk.looks().is_shut)
}

/// Seconds before a unit would touch the bodies that block its path, from which on it stands and waits.
const WAITS_FROM_S: f32 = 0.15;

/// The part of its speed that one keeps which has to fall in behind another.
const FALLS_BACK: f32 = 0.05;

/// Fewer rows than this are not worth a thread.
const LEAST_PART_ROWS: usize = 256;
