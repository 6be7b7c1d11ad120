//! Moves the units: each along its path, past the others, and never into walls.

use super::give_way::give_way;
use crate::geom::{Vec2, angle, canonical};
use crate::ground::Going;
use crate::motion::{Turns, Walkers, braked_speed, follow, foresee};
use crate::near::Near;
use crate::world::activity::{Activity, Bearing, Bound, Go, Patience, Strayed};
use crate::world::order::{Failure, Outcome, Place, Task};
use crate::world::queue;
use crate::world::state::{Events, Moves, Scratch, Slot, State};
use crate::world::units::{Pose, RESTLESS_TICKS};

/// After so many seconds without progress a unit asks whether this is near enough, or whether
/// it needs another way.
const FRAY_S: u32 = 1;

/// For so many seconds a unit pushes past those that stand where its group gathers, before it goes round them for as
/// long.
const PUSH_S: u32 = 2;

/// The part of its top speed below which a unit that comes up to another does not slow down.
const LEAST_PART: f32 = 0.25;

/// Held up for so many seconds a unit gives up.
const GIVE_UP_S: u32 = 20;

/// A unit does not wait for its turn for longer than so many seconds.
const WAIT_S: u32 = 60;

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    remember_poses(state);
    want(state, &mut scratch.moves);
    look_ahead(state, &scratch.near, &mut scratch.moves);
    give_way(state, &scratch.near, &mut scratch.moves);
    let moves = &scratch.moves;
    for row in 0..state.units.len() {
        match &state.units.activity[row] {
            Activity::Go(go) if go.is_on_link() => {
                cross(state, row);
                arrive_or_wait(state, events, moves, row);
            }
            Activity::Go(_) => {
                walk(state, moves, row);
                arrive_or_wait(state, events, moves, row);
            }
            _ => stand(state, moves, row),
        }
    }
}

fn remember_poses(state: &mut State) {
    let units = &mut state.units;
    let poses = units.position.iter().zip(&units.facing);
    for (before, (&position, &facing)) in units.before.iter_mut().zip(poses) {
        *before = Pose { position, facing };
    }
}

/// Where each unit would be at the end of the tick if it were alone.
fn want(state: &State, moves: &mut Moves) {
    moves.begin(&state.units.id, &state.units.position);
    for row in 0..state.units.len() {
        match &state.units.activity[row] {
            Activity::Go(go) => stride(state, moves, row, go),
            Activity::AwaitRoute { lead: Some(to), .. } => stroll(state, moves, row, *to),
            // Who stands firm does not let itself be pushed.
            _ if state.stands_firm(row) => {}
            _ => {
                let speed = state.kind(state.units.kind[row]).speed;
                moves.limits[row] = speed * state.tick_s();
            }
        }
    }
}

/// How much of the way to its slot a unit makes good in a second that goes in formation, over what the formation goes.
const CLOSE_UP: f32 = 2.0;

/// How many metres nearer to its goal a unit counts as for each that it is off its slot in a formation.
const OUT_OF_SLOT: f32 = 10.0;

/// Who goes its own way is as fast as its formation when it is ahead of it by so many metres, and slower farther ahead.
const AHEAD_M: f32 = 1.5;

/// The step of a unit that keeps to its slot in a formation, in metres.
fn step_to_slot(state: &State, row: usize, slot: Slot) -> Vec2 {
    let (top, tick_s) = (state.top_speed(row), state.tick_s());
    let way = slot.at - state.units.position[row];
    // In its slot it goes as the formation goes; the farther off, the faster, as far as it can brake again.
    let braking = state.kind(state.units.kind[row]).braking;
    let most = slot.pace.max(braked_speed(way.length(), top, braking));
    let speed = (way.length() * CLOSE_UP + slot.pace).min(most).min(top);
    (way.normalize_or_zero() * speed * tick_s).clamp_length_max(way.length())
}

/// The move of a unit that walks its way.
fn stride(state: &State, moves: &mut Moves, row: usize, go: &Go) {
    let (from, tick_s) = (state.units.position[row], state.tick_s());
    let (top, orders) = (state.top_speed(row), &state.units.orders[row]);
    let most = pace(state, row, go, top) * tick_s;
    let mut next = go.next();
    let over = match go.strayed() {
        Strayed::OnPath => None,
        Strayed::Beside => round_the_corner(state, row, go),
        Strayed::Lost => Some(way_back(state, row, go)),
    };
    moves.limits[row] = top * tick_s;
    let slot = moves.slots[row].filter(|slot| slot.is_open);
    let most = match moves.slots[row] {
        Some(slot) => {
            let ahead = (slot.left - go.left(from)) / AHEAD_M;
            most.min(slot.pace * (2.0 - ahead).clamp(0.2, 2.0) * tick_s)
        }
        _ => most,
    };
    let at = match (slot, over) {
        (Some(slot), _) => {
            (moves.turned[row], moves.waits[row]) = (true, true);
            from + step_to_slot(state, row, slot)
        }
        (None, Some(over)) => from + (over - from).clamp_length_max(most),
        (None, None) => follow(from, go.up_to_link(), &mut next, most),
    };
    moves.steps[row] = at - from;
    moves.wanted[row] = at;
    moves.next[row] = next;
    // Whoever gets no farther by pushing goes round.
    let push = PUSH_S * state.ticks_per_second;
    moves.gather[row] = go.gathers().is_some() && go.held_up() % (2 * push) < push;
    if go.bound() == Bound::Place {
        moves.bands[row] = orders.first().map_or(0, |order| order.number.0);
    }
    moves.left[row] = match slot {
        // Whoever stands in its slot lets those through that are not in theirs yet.
        Some(slot) => slot.left - OUT_OF_SLOT * from.distance(slot.at),
        None => {
            let over = over.unwrap_or(from);
            from.distance(over) + left_of_all(state, row, go, over) - go.short_m()
        }
    };
}

/// How fast a unit walks that could walk at `top` metres a second, and has to stop at the end of its way.
fn pace(state: &State, row: usize, go: &Go, top: f32) -> f32 {
    let left = go.left(state.units.position[row]) - go.short_m();
    let braked = braked_speed(left, top, state.kind(state.units.kind[row]).braking);
    match go.bound() {
        // Whoever goes on elsewhere afterwards need not slow down.
        Bound::Place if state.units.orders[row].len() > 1 => top,
        Bound::Place => braked,
        // The path is always a little behind the one that it leads to.
        Bound::Unit { .. } => braked.max(top * LEAST_PART),
    }
}

/// Where one rounds the next corner that was pushed aside: as far out as it is, if that can be seen.
fn round_the_corner(state: &State, row: usize, go: &Go) -> Option<Vec2> {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let corner = go.corner()?;
    let out = corner.outward_of(at);
    let places = [1.0, 0.75, 0.5, 0.25].map(|part| corner.at + corner.outward * (out * part));
    let going = state.going(row);
    let beyond = *go.ahead().get(1)?;
    let is_open = |place: &Vec2| {
        let sees = |point| going.line_is_clear(*place, point, radius);
        sees(at) && sees(corner.at) && sees(beyond)
    };
    places
        .into_iter()
        .filter(|_| out > 0.1 * radius)
        .find(is_open)
}

/// How far a unit would have to go from a point to the middle of where its group is bound for: what tells which of
/// them is ahead.
fn left_of_all(state: &State, row: usize, go: &Go, from: Vec2) -> f32 {
    let left = match go.strayed() {
        Strayed::Beside => go.left_by(from),
        _ => go.left(from),
    };
    let order = state.units.orders[row].first();
    let Some(place) = order.and_then(|order| order.place()) else {
        return left;
    };
    let (ahead, end) = (go.ahead(), go.path().last().copied().unwrap_or(from));
    let last = match ahead.len() {
        0 | 1 => from,
        count => ahead[count - 2],
    };
    left - last.distance(end) + last.distance(place.middle)
}

/// Where one heads that was pushed off its path: for the farthest point of the leg that it sees, of some ahead
/// and some behind.
fn way_back(state: &State, row: usize, go: &Go) -> Vec2 {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let (from, to) = go.leg();
    let near_by = seen_of_leg(state.going(row), (from, to), at, radius);
    let sees_from = || state.going(row).line_is_clear(at, from, radius);
    near_by.unwrap_or(if sees_from() { from } else { to })
}

/// The farthest point of a leg that a body sees, of some that lie within eight of its radii of being beside it.
fn seen_of_leg(going: Going<'_>, (from, to): (Vec2, Vec2), at: Vec2, radius: f32) -> Option<Vec2> {
    let along = (to - from).normalize_or_zero();
    let beside = (at - from).dot(along).clamp(0.0, from.distance(to));
    let radii = [8.0, 4.0, 2.0, 1.0, 0.0, -1.0, -2.0, -4.0, -8.0];
    let metres = radii.map(|radii| (beside + radii * radius).clamp(0.0, from.distance(to)));
    let points = metres.into_iter().map(|metres| from + along * metres);
    let seen = |point: &Vec2| going.line_is_clear(at, *point, radius);
    points.into_iter().find(seen)
}

/// Turns those aside that would come upon others.
fn look_ahead(state: &State, near: &Near, moves: &mut Moves) {
    let units = &state.units;
    let tick_s = state.tick_s();
    let mut wishes = core::mem::take(&mut moves.wishes);
    wishes.clear();
    wishes.extend(moves.steps.iter().map(|step| *step / tick_s));
    let speeds = units.velocity.iter().map(|velocity| velocity.length());
    let walkers = Walkers {
        at: &units.position,
        velocity: &units.velocity,
        wanted: &wishes,
        radii: &units.radius,
        widest: state.widest,
        fastest: speeds.fold(0.0, f32::max),
        turns: Turns {
            left: &moves.left,
            bands: &moves.bands,
        },
        gather: &moves.gather,
    };
    for (row, wish) in wishes.iter().enumerate() {
        if *wish == Vec2::ZERO {
            continue;
        }
        let top = moves.limits[row] / tick_s;
        let course = foresee(&walkers, near, row as u32, top);
        moves.waits[row] = course.queues;
        if course.velocity != *wish {
            moves.steps[row] = course.velocity * tick_s;
            moves.wanted[row] = units.position[row] + moves.steps[row];
            moves.turned[row] = true;
        }
    }
    moves.wishes = wishes;
}

/// The move of a unit that goes a little way while it waits for its route.
fn stroll(state: &State, moves: &mut Moves, row: usize, to: Vec2) {
    let from = state.units.position[row];
    let most = state.top_speed(row) * state.tick_s();
    moves.limits[row] = most;
    moves.steps[row] = (to - from).clamp_length_max(most);
    moves.wanted[row] = from + moves.steps[row];
}

/// Carries a unit over a link, past walls and others: at its own speed on plain ground.
fn cross(state: &mut State, row: usize) {
    let (from, kind) = (state.units.position[row], state.units.kind[row]);
    let most = state.kind(kind).speed * state.tick_s();
    let Activity::Go(go) = &mut state.units.activity[row] else {
        return;
    };
    let sets_out = go.set_afloat(true);
    let mut next = go.next();
    let end = go.path()[next as usize];
    let at = follow(from, core::slice::from_ref(&end), &mut 0, most);
    if at == end {
        next += 1;
        go.pass(next);
        go.set_afloat(false);
    }
    let id = state.units.id[row];
    if sets_out && !state.trapped.contains(&id) {
        // Should it leave the link half way, it has to get out of closed ground.
        state.trapped.push(id);
    }
    settle_at(state, row, at);
    face(state, row, at - from);
}

/// Turns a unit towards where it goes, as fast as it can.
fn face(state: &mut State, row: usize, step: Vec2) {
    if let Some(heading) = angle::of(step) {
        let limit = state.kind(state.units.kind[row]).turn_rate * state.tick_s();
        let facing = &mut state.units.facing[row];
        *facing = angle::turn_towards(*facing, heading, limit);
    }
}

/// Carries out the move of a unit that walks.
fn walk(state: &mut State, moves: &Moves, row: usize) {
    let radius = state.units.radius[row];
    let (step, at) = (moves.steps[row], moves.at[row]);
    settle_at(state, row, at);
    face(state, row, step);
    let on_course = at == moves.wanted[row] && !moves.turned[row];
    let next = moves.next[row];
    let thinks = state.thinks_now(row);
    let gait = state.kind(state.units.kind[row]).gait;
    let going = state.ground.going(gait);
    let Activity::Go(go) = &mut state.units.activity[row] else {
        return;
    };
    let is_aside = !on_course || go.strayed() != Strayed::OnPath;
    if on_course && next != go.next() {
        go.pass(next);
        go.set_strayed(Strayed::OnPath);
    } else if !thinks && !near_a_corner(go.path(), go.next(), at, radius) {
        // To look along a leg costs by its length: far from corners one does so only now and then.
        if is_aside && go.strayed() == Strayed::OnPath {
            go.set_strayed(Strayed::Beside);
        }
    } else if is_aside && has_rounded(going, go, (at, radius), on_course) {
        go.pass(go.next() + 1);
        go.set_strayed(beside_or_lost(going, go, (at, radius)));
    } else if is_aside && !keeps_sight(go, on_course) {
        go.set_strayed(beside_or_lost(going, go, (at, radius)));
    }
}

/// How a body is off its path.
fn beside_or_lost(going: Going<'_>, go: &Go, (at, radius): (Vec2, f32)) -> Strayed {
    match sees(going, go, (at, radius), go.next()) {
        true => Strayed::Beside,
        false => Strayed::Lost,
    }
}

/// Whether a body sees the next point because it did before, and has walked straight towards it since.
fn keeps_sight(go: &Go, on_course: bool) -> bool {
    on_course && go.strayed() == Strayed::Beside && go.corner().is_none()
}

/// Whether a body that is beside its path has come past the next corner.
fn has_rounded(going: Going<'_>, go: &Go, (at, radius): (Vec2, f32), on_course: bool) -> bool {
    let sees = |point| sees(going, go, (at, radius), point);
    if go.corner().is_some_and(|corner| corner.is_behind(at)) {
        let next = go.next() as usize;
        let leg = (go.path()[next], go.path()[next + 1]);
        if sees(go.next() + 1) || seen_of_leg(going, leg, at, radius).is_some() {
            return true;
        }
    }
    // In a crowd nobody gets to the corner itself: to see past it is enough, or where a link begins
    // there, to see it.
    let seen = if go.is_over_link(go.next() + 1) { 0 } else { 1 };
    !on_course && near_a_corner(go.path(), go.next(), at, radius) && sees(go.next() + seen)
}

/// Whether a body sees a point of its path, so that it could walk straight to it.
fn sees(going: Going<'_>, go: &Go, (at, radius): (Vec2, f32), point: u32) -> bool {
    let target = go.path().get(point as usize);
    target.is_some_and(|target| going.line_is_clear(at, *target, radius))
}

/// Whether the next point is not the last, and within two bodies of `at`.
fn near_a_corner(path: &[Vec2], next: u32, at: Vec2, radius: f32) -> bool {
    (next as usize) + 1 < path.len() && path[next as usize].distance(at) < 4.0 * radius
}

/// Ends a walk that has come to its end, or to the end of the unit's patience.
fn arrive_or_wait(state: &mut State, events: &mut Events, moves: &Moves, row: usize) {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let stirred = moves.stirred[row] || at != moves.wanted[row];
    let second = state.ticks_per_second;
    let Activity::Go(go) = &mut state.units.activity[row] else {
        return;
    };
    if go.bound() != Bound::Place {
        return come_up(state, row);
    }
    // Whoever goes on elsewhere passes by within a step of the place, and so loses no speed.
    let near_enough = if state.units.orders[row].len() > 1 {
        moves.limits[row]
    } else if stirred {
        0.1 * radius
    } else {
        0.0
    };
    if go.left(at) <= near_enough {
        return finish(state, events, row);
    }
    let patience = go.watch(at, moves.waits[row], bearing(second));
    let delay = go.delay();
    let target = go.ahead()[0];
    match patience {
        Patience::Holds if stirred && go.gathers() == Some(0) => finish(state, events, row),
        Patience::Holds => {}
        Patience::Frays if moves.against[row] && may_stop_here(state, row) => {
            finish(state, events, row);
        }
        Patience::Frays if !state.going(row).line_is_clear(at, target, radius) => {
            // It was pushed round a corner.
            queue::await_route(state, row, Bound::Place, delay);
        }
        Patience::Frays => {}
        Patience::Ends => give_up(state, events, row),
    }
}

/// How much delay a unit bears, there being so many ticks in a second.
fn bearing(second: u32) -> Bearing {
    Bearing {
        fray: FRAY_S * second,
        held_up: GIVE_UP_S * second,
        waited: WAIT_S * second,
    }
}

/// Halts a unit that comes up to another and has walked its path to the end, or lost it: its
/// activity will think of something.
fn come_up(state: &mut State, row: usize) {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let second = state.ticks_per_second;
    let Activity::Go(go) = &mut state.units.activity[row] else {
        return;
    };
    let lost = match go.ahead().first() {
        None => true,
        Some(&target) => {
            // Whether it gives up is for its activity to say.
            let bearing = Bearing {
                held_up: u32::MAX,
                waited: u32::MAX,
                ..bearing(second)
            };
            let frays = go.watch(at, false, bearing) == Patience::Frays;
            frays && !state.going(row).line_is_clear(at, target, radius)
        }
    };
    if lost {
        queue::halt(state, row);
    }
}

/// Gives up a walk to a place. A patrol turns to its next post, and a guard stands where it is.
fn give_up(state: &mut State, events: &mut Events, row: usize) {
    let first = state.units.orders[row].first();
    if let Some(Task::GuardPlace(_)) = first.map(|order| &order.task) {
        queue::halt(state, row);
    } else if !queue::turn_to_next_post(state, row) {
        let why = Failure::HeldUp;
        queue::finish(state, events, row, Outcome::Failed { why });
    }
}

/// The place that a unit walks to, and the point asked for.
fn destination(state: &State, row: usize) -> Option<(Vec2, Place)> {
    let errand = state.units.orders[row].first()?.errand()?;
    Some((errand.goal, errand.place.ok()?))
}

/// Whether a unit that pushes against those who stand may stop among its group: it must have tried for as long as
/// the rest of its way would take.
fn may_stop_here(state: &State, row: usize) -> bool {
    let Activity::Go(go) = &state.units.activity[row] else {
        return false;
    };
    let left = go.left(state.units.position[row]);
    let tried = go.held_up() as f32 * state.tick_s() * state.top_speed(row);
    left <= tried && is_among_its_group(state, row)
}

/// Whether a unit has come to where its group stands, so that it may stop where it is: nobody
/// looks at who stands in which place.
fn is_among_its_group(state: &State, row: usize) -> bool {
    let at = state.units.position[row];
    let body = state.units.radius[row] + state.widest;
    destination(state, row).is_some_and(|(_, place)| {
        at.distance(place.middle) <= place.spread_m + body || at.distance(place.at) <= body
    })
}

/// Ends a walk where the unit stands; on a patrol it goes on to the next post, and a guard stays.
fn finish(state: &mut State, events: &mut Events, row: usize) {
    let first = state.units.orders[row].first();
    if let Some(Task::GuardPlace(_)) = first.map(|order| &order.task) {
        return queue::halt(state, row);
    }
    if queue::turn_to_next_post(state, row) {
        return;
    }
    let Some((goal, place)) = destination(state, row) else {
        return;
    };
    // What has closed since the order was given may have kept it from its place.
    let short = match &state.units.activity[row] {
        Activity::Go(go) => go.short(),
        _ => None,
    };
    let outcome = match place.short.or(short) {
        Some(why) => Outcome::CameShort {
            why,
            by_m: goal.distance(state.units.position[row]),
        },
        None => Outcome::Done,
    };
    queue::finish(state, events, row, outcome);
    state.units.restless[row] = RESTLESS_TICKS;
}

/// Lets a standing unit step aside, if it was pushed.
fn stand(state: &mut State, moves: &Moves, row: usize) {
    // Whoever has moved looks round once more, for those it may have come upon.
    let restless = &mut state.units.restless[row];
    *restless = restless.saturating_sub(1).max(u8::from(moves.stirred[row]));
    let (from, to) = (state.units.position[row], moves.at[row]);
    if from == to {
        state.units.velocity[row] = Vec2::ZERO;
    } else {
        settle_at(state, row, to);
        face(state, row, moves.steps[row]);
    }
}

fn settle_at(state: &mut State, row: usize, at: Vec2) {
    let at = canonical(at);
    let moved = at - state.units.position[row];
    state.units.velocity[row] = canonical(moved * state.ticks_per_second as f32);
    state.units.position[row] = at;
}
