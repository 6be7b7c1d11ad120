//! Moves the units: each along its path, past the others, and never into walls.

mod arches;
mod arrivals;
mod courses;
mod drive;
mod give_way;
mod necks;
mod want;

use crate::geom::{Vec2, angle, canonical};
use crate::ground::GroundView;
use crate::motion::follow;
use crate::threads::Threads;
use crate::world::arms;
use crate::world::state::{Locomotion, Moves, Owner, Pose, Return, Scratch, State, Strayed, Walk};
use arrivals::arrive_or_wait;
use courses::look_ahead;
use drive::drive_on;
use give_way::give_way;
use want::{SIGHT_M, seen_of_leg, want};

/// Seconds after it was first pushed in which a unit means to come back to where it stood.
const COME_BACK_S: u64 = 8;

pub(super) fn run(state: &mut State, scratch: &mut Scratch, threads: &Threads) {
    remember_poses(state);
    want(state, &scratch.near, &mut scratch.moves);
    look_ahead(state, &scratch.near, &mut scratch.moves, threads);
    drive_on(state, &mut scratch.moves);
    give_way(state, &scratch.near, &mut scratch.moves);
    scratch.wedged.clear();
    let moves = &mut scratch.moves;
    for row in 0..state.units.len() {
        match &state.units.locomotion[row] {
            Locomotion::Walking(walk) if walk.is_on_link() => cross(state, row),
            Locomotion::Walking(_) => step_on(state, moves, row),
            Locomotion::Steered(steer) => {
                let looks = steer.looks;
                steer_on(state, moves, (row, looks));
                continue;
            }
            _ => {
                stand(state, moves, row);
                continue;
            }
        }
        let report = arrive_or_wait(state, moves, row);
        if let Locomotion::Walking(walk) = &state.units.locomotion[row] {
            let (at, radius) = (state.units.position[row], state.units.radius[row]);
            moves.may_trade[row] = walk.is_stuck() || walk.comes_to_assembly(at, radius);
            if arches::is_due(walk, state.rules.ticks_per_second) {
                scratch.wedged.push(row as u32);
            }
        }
        scratch
            .reports
            .extend(report.map(|report| (row as u32, report)));
    }
    arches::break_up(state, scratch);
}

fn remember_poses(state: &mut State) {
    let units = &mut state.units;
    let poses = units.position.iter().zip(&units.facing);
    for (before, (&position, &facing)) in units.before.iter_mut().zip(poses) {
        *before = Pose { position, facing };
    }
}

/// Carries a unit over a link, past walls and others: at its own speed on plain ground.
fn cross(state: &mut State, row: usize) {
    let (from, kind) = (state.units.position[row], state.units.kind[row]);
    let most = state.kind(kind).speed() * state.tick_s();
    let Locomotion::Walking(walk) = &mut state.units.locomotion[row] else {
        return;
    };
    let sets_out = walk.set_on_link(true);
    let mut next = walk.next();
    let end = walk.to();
    let at = follow(from, core::slice::from_ref(&end), &mut 0, most);
    if at == end {
        next += 1;
        walk.pass(next);
        walk.set_on_link(false);
    }
    let id = state.units.id[row];
    if sets_out && !state.unrest.trapped.contains(&id) {
        // Should it leave the link half way, it has to get out of closed ground.
        state.unrest.trapped.push(id);
    }
    settle_at(state, row, at);
    face(state, row, at - from);
}

/// Seconds for which a unit backs off from an oncoming one.
const BACK_OFF_S: u64 = 2;

/// Within this many radii of its slot a unit looks where its formation looks, and not where it goes.
const STEP_ASIDE_RADII: f32 = 2.0;

/// Turns a unit towards where it goes, as fast as it can.
fn face(state: &mut State, row: usize, step: Vec2) {
    if let Some(heading) = angle::of(step) {
        look(state, row, heading);
    }
}

/// Turns a unit towards a direction, in radians, as fast as it can.
fn look(state: &mut State, row: usize, heading: f32) {
    let limit = state.kind_of(row).body.turn_rate * state.tick_s();
    let facing = &mut state.units.facing[row];
    *facing = angle::turn_towards(*facing, heading, limit);
}

/// Carries out the move of a unit that walks.
fn step_on(state: &mut State, moves: &Moves, row: usize) {
    // To look costs less than to write for every unit in every tick.
    if state.units.return_to[row].is_some() && state.units.legs_owner[row] != Owner::Nobody {
        state.units.return_to[row] = None;
    }
    let radius = state.units.radius[row];
    let (step, at) = (moves.steps[row], moves.at[row]);
    settle_at(state, row, at);
    match (moves.faces[row], moves.slots[row]) {
        (Some(facing), _) => state.units.facing[row] = angle::wrap(facing),
        // Little steps in a formation are taken forwards, backwards and sideways.
        (None, Some(slot)) if slot.is_open && at.distance(slot.at) < STEP_ASIDE_RADII * radius => {
            look(state, row, slot.facing);
        }
        // One that makes room looks where it looked.
        _ if makes_room(state, row) => {}
        // It looks at the foe at which it strikes meanwhile; the arms turn it there.
        _ if arms::strikes_while_it_walks(state, row) => {}
        _ => face(state, row, step),
    }
    let on_course = at == moves.wanted[row] && !moves.turned[row];
    let next = moves.next[row];
    let thinks = state.thinks_now(row);
    let tick = state.clock.tick;
    let backs = BACK_OFF_S * u64::from(state.rules.ticks_per_second);
    let gait = state.kind_of(row).body.gait;
    let view = state.ground.view(gait);
    let Locomotion::Walking(walk) = &mut state.units.locomotion[row] else {
        return;
    };
    walk.set_waits(moves.stands_by[row]);
    if !moves.obstructed[row] {
        walk.open_up();
    }
    if moves.backs_off[row] {
        walk.back_off(tick + backs);
    }
    let is_aside = !on_course || walk.strayed() != Strayed::OnPath;
    if on_course && next != walk.next() {
        walk.pass(next);
        walk.set_strayed(Strayed::OnPath);
    } else if !thinks && !near_a_corner(walk, at, radius) {
        // To look along a leg costs by its length: far from corners one does so only now and then.
        if is_aside && walk.strayed() == Strayed::OnPath {
            walk.set_strayed(Strayed::Beside);
        }
    } else if is_aside && has_rounded(view, walk, (at, radius), on_course) {
        walk.pass(walk.next() + 1);
        walk.set_strayed(beside_or_lost(view, walk, (at, radius)));
    } else if is_aside && !keeps_sight(walk, on_course) {
        walk.set_strayed(beside_or_lost(view, walk, (at, radius)));
    }
}

/// Metres up to which a unit that makes room for another walks sideways or backwards.
const SIDEWAYS_M: f32 = 3.0;

/// Whether a unit takes a few steps to make room for another.
fn makes_room(state: &State, row: usize) -> bool {
    let walk = state.units.locomotion[row].walk();
    let is_short = |walk: &Walk| walk.leg().0.distance(walk.target().point()) <= SIDEWAYS_M;
    state.units.legs_owner[row] == Owner::Nobody && walk.is_some_and(is_short)
}

/// Carries out the move of a unit that an activity steers.
fn steer_on(state: &mut State, moves: &Moves, (row, looks): (usize, Option<f32>)) {
    state.units.return_to[row] = None;
    settle_at(state, row, moves.at[row]);
    match (looks, moves.faces[row]) {
        (_, Some(facing)) => state.units.facing[row] = angle::wrap(facing),
        (Some(heading), None) => look(state, row, heading),
        (None, None) => face(state, row, moves.steps[row]),
    }
}

/// How a body is off its path.
fn beside_or_lost(view: GroundView<'_>, walk: &Walk, (at, radius): (Vec2, f32)) -> Strayed {
    let ahead = at + (walk.to() - at).clamp_length_max(SIGHT_M);
    if view.line_is_clear(at, ahead, radius) {
        Strayed::Beside
    } else {
        Strayed::Lost
    }
}

/// Whether a body sees the next point because it did before, and has walked straight towards it since.
fn keeps_sight(walk: &Walk, on_course: bool) -> bool {
    on_course && walk.strayed() == Strayed::Beside && walk.corner().is_none()
}

/// Whether a body that is beside its path has come past the next corner.
fn has_rounded(
    view: GroundView<'_>,
    walk: &Walk,
    (at, radius): (Vec2, f32),
    on_course: bool,
) -> bool {
    let sees = |point| sees(view, walk, (at, radius), point);
    // A corner of a detour leads round bodies, which do not hide what lies behind them.
    if walk.is_on_detour() {
        return has_come_by(walk, at, radius);
    }
    if walk.corner().is_some_and(|corner| corner.is_behind(at)) {
        let next = walk.next() as usize;
        let leg = (walk.path()[next], walk.path()[next + 1]);
        if sees(walk.next() + 1) || seen_of_leg(view, leg, at, radius).is_some() {
            return true;
        }
    }
    // In a crowd nobody gets to the corner itself: to see past it is enough, or where a link begins
    // there, to see it.
    let seen = if walk.is_over_link(walk.next() + 1) {
        0
    } else {
        1
    };
    !on_course && near_a_corner(walk, at, radius) && sees(walk.next() + seen)
}

/// How far inside of a corner of a detour a body may come by it, in its radii.
const INSIDE_RADII: f32 = 0.15;

/// Whether a body has come by the next corner of a detour, but for one that is inside of the bend, where bodies stand.
fn has_come_by(walk: &Walk, at: Vec2, radius: f32) -> bool {
    match walk.corner() {
        Some(corner) => {
            let past = at - corner.at;
            let is_inside = past.dot(corner.outward) < -INSIDE_RADII * radius;
            // A body that has come by far enough has found another way.
            corner.is_behind(at) && (!is_inside || past.dot(corner.onward) > 2.0 * radius)
        }
        // The path does not bend there.
        None => {
            let (from, to) = walk.leg();
            walk.points_left() > 1 && (at - to).dot(to - from) >= 0.0
        }
    }
}

/// Whether a body sees a point of its path, so that it could walk straight to it.
fn sees(view: GroundView<'_>, walk: &Walk, (at, radius): (Vec2, f32), point: u32) -> bool {
    let target = walk.path().get(point as usize);
    target.is_some_and(|target| view.line_is_clear(at, *target, radius))
}

/// Whether the next point is not the last, and within two bodies of `at`.
fn near_a_corner(walk: &Walk, at: Vec2, radius: f32) -> bool {
    walk.is_near_corner(at, 4.0 * radius)
}

/// Lets a standing unit step aside, if it was pushed.
fn stand(state: &mut State, moves: &Moves, row: usize) {
    // A unit that has moved looks round once more, for those it may have come upon.
    let settling = &mut state.units.settling_ticks[row];
    *settling = settling.saturating_sub(1).max(u8::from(moves.pushed[row]));
    let (from, to) = (state.units.position[row], moves.at[row]);
    let stands = state.units.locomotion[row].stands();
    remember_place(
        state,
        row,
        stands && moves.pushed_by_passer[row] && from != to,
    );
    if from == to {
        state.units.velocity[row] = Vec2::ZERO;
    } else {
        settle_at(state, row, to);
        // A unit that steps aside looks where it looked.
        match moves.faces[row] {
            Some(facing) => state.units.facing[row] = angle::wrap(facing),
            None if stands => {}
            None => face(state, row, moves.steps[row]),
        }
    }
    let unit = state.units.id[row];
    if stands && let Some(&heading) = state.ordered_facing.get(unit) {
        look(state, row, heading);
    }
}

/// Notes where a unit stood that is pushed, and forgets it when it is back, or does not mean to come back any more.
fn remember_place(state: &mut State, row: usize, is_pushed: bool) {
    let (at, tick) = (state.units.position[row], state.clock.tick);
    let until = tick + COME_BACK_S * u64::from(state.rules.ticks_per_second);
    let post = &mut state.units.return_to[row];
    *post = match *post {
        None if is_pushed => Some(Return {
            at,
            from: tick,
            until,
        }),
        Some(known) if known.until <= tick || !is_pushed && known.at == at => None,
        known => known,
    };
}

fn settle_at(state: &mut State, row: usize, at: Vec2) {
    let at = canonical(at);
    let moved = at - state.units.position[row];
    state.units.velocity[row] = canonical(moved * state.rules.ticks_per_second as f32);
    state.units.position[row] = at;
}
