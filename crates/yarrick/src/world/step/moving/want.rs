//! Where each unit would be at the end of the tick if it were alone.

use super::courses::bound_for;
use crate::geom::Vec2;
use crate::ground::GroundView;
use crate::motion::{braked_speed, follow};
use crate::near::Near;
use crate::world::arms::is_at_work;
use crate::world::state::{Locomotion, MoveTarget, Moves, Slot, State, Steer, Strayed, Walk};

/// For so many seconds a unit pushes past those that stand where its group gathers, before it goes round them for as
/// long.
const PUSH_S: u32 = 2;

/// So far ahead a body looks whether it sees the next point, in metres: what stands beyond that it sees in time, and a
/// look costs by its length.
pub(super) const SIGHT_M: f32 = 32.0;

/// The part of its top speed below which a unit that comes up to another does not slow down.
const LEAST_PART: f32 = 0.25;

/// The part of its speed at which it comes back.
const STROLL: f32 = 0.5;

/// Where each unit would be at the end of the tick if it were alone.
pub(super) fn want(state: &State, near: &Near, moves: &mut Moves) {
    moves.begin(&state.units);
    for row in 0..state.units.len() {
        match &state.units.locomotion[row] {
            Locomotion::Walking(walk) => {
                moves.listed[row] = true;
                stride(state, moves, row, walk);
            }
            Locomotion::Steered(steer) => {
                moves.listed[row] = true;
                steered(state, moves, row, *steer);
            }
            Locomotion::AwaitingRoute {
                stroll_to: Some(to),
                ..
            } => stroll(state, moves, row, *to),
            // One that stands firm does not let itself be pushed.
            _ if state.units.stands_firm[row] || is_at_work(state, row) => {}
            _ => {
                let speed = state.kind_of(row).speed();
                moves.limits[row] = speed * state.tick_s();
                come_back(state, near, moves, row);
            }
        }
    }
}

/// How much of the way to its slot a unit makes good in a second that goes in formation, over what the formation goes.
const CLOSE_UP: f32 = 2.0;

/// How many metres nearer to its goal a unit counts as for each that it is off its slot in a formation.
const OUT_OF_SLOT: f32 = 10.0;

/// Metres ahead of its formation at which a unit that goes its own way is as fast as that; farther ahead it is slower.
const AHEAD_M: f32 = 1.5;

/// The step of a unit that keeps to its slot in a formation, in metres.
fn step_to_slot(state: &State, row: usize, slot: Slot) -> Vec2 {
    let (top, tick_s) = (state.top_speed(row), state.tick_s());
    let way = slot.at - state.units.position[row];
    // In its slot it goes as the formation goes; the farther off, the faster, as far as it can brake again.
    let braking = state.kind_of(row).braking();
    let most = slot.pace.max(braked_speed(way.length(), top, braking));
    let speed = (way.length() * CLOSE_UP + slot.pace).min(most).min(top);
    (way.normalize_or_zero() * speed * tick_s).clamp_length_max(way.length())
}

/// The speed of a unit that is not in its slot of a formation yet, and has some metres left to its place.
fn pace_of_its_own(slot: &Slot, left_m: f32) -> f32 {
    let ahead = (slot.remaining_m - left_m) / AHEAD_M;
    slot.pace * (2.0 - ahead).clamp(0.2, 2.0)
}

/// The part of its speed at which a unit backs off.
const BACKS_AT: f32 = 0.5;

/// The move of a unit that walks its way.
fn stride(state: &State, moves: &mut Moves, row: usize, walk: &Walk) {
    let (from, tick_s) = (state.units.position[row], state.tick_s());
    let top = state.top_speed(row);
    let most = pace(state, row, walk, top) * tick_s;
    let mut next = walk.next();
    let over = match walk.strayed() {
        Strayed::OnPath => None,
        Strayed::Beside => round_the_corner(state, row, walk),
        Strayed::Lost => Some(way_back(state, row, walk)),
    };
    moves.limits[row] = top * tick_s;
    let slot = moves.slots[row].filter(|slot| slot.is_open);
    let most = match moves.slots[row] {
        Some(slot) => most.min(pace_of_its_own(&slot, walk.left(from)) * tick_s),
        None => most,
    };
    let at = match (slot, over) {
        (Some(slot), _) => {
            (moves.turned[row], moves.waits[row]) = (true, true);
            from + step_to_slot(state, row, slot)
        }
        // A body that is back on its path before the end of its step goes on: it does not lose a tick there.
        (None, Some(over)) => {
            moves.leg_m[row] = from.distance(over);
            follow(from, &[over, beyond(walk)], &mut 0, most)
        }
        (None, None) => {
            moves.leg_m[row] = walk.leg_left(from);
            let (at, then) = walk.walk_on(from, most);
            next = then;
            at
        }
    };
    let at = swayed(state, moves, row, (walk, at));
    let at = if walk.backs_off(state.clock.tick) {
        (moves.turned[row], moves.backs[row]) = (true, true);
        from - bound_for(state, row, at - from) * BACKS_AT
    } else {
        at
    };
    moves.waited[row] = walk.waits();
    moves.held_up[row] = walk.is_held_up(state.rules.ticks_per_second);
    moves.steps[row] = at - from;
    moves.wanted[row] = at;
    moves.next[row] = next;
    // A unit that gets no farther by pushing goes round.
    let push = PUSH_S * state.rules.ticks_per_second;
    moves.passing[row] = walk.assembles().is_none();
    moves.assembles[row] = walk.assembles().is_some() && walk.held_up() % (2 * push) < push;
    let target = walk.target();
    moves.group[row] = target.place().map_or(0, |target| target.group.0);
    moves.remaining_m[row] = match slot {
        // One that stands in its slot lets those through that are not in theirs yet.
        Some(slot) => slot.remaining_m - OUT_OF_SLOT * from.distance(slot.at),
        None => {
            let over = over.unwrap_or(from);
            from.distance(over) + left_of_all(walk, over) - target.short_m()
        }
    };
}

/// Where a unit gets to that swings about its way, if it does and there is room for that.
fn swayed(state: &State, moves: &mut Moves, row: usize, (walk, at): (&Walk, Vec2)) -> Vec2 {
    let Some(sway) = state.sway.get(state.units.id[row]) else {
        return at;
    };
    let from = state.units.position[row];
    // At the end of its way it comes straight.
    if walk.left(from) < 2.0 * sway.half_m || walk.is_on_link() {
        return at;
    }
    let step = sway.aside(at - from, state.clock.tick);
    // It looks a little ahead, so that it does not scrape along walls.
    let ahead = from + step * SWAY_AHEAD;
    if !state
        .ground_view(row)
        .line_is_clear(from, ahead, state.units.radius[row])
    {
        return at;
    }
    moves.turned[row] = true;
    from + step
}

/// How many steps ahead a unit that swings looks for walls.
const SWAY_AHEAD: f32 = 6.0;

/// The move of a unit that an activity steers.
fn steered(state: &State, moves: &mut Moves, row: usize, steer: Steer) {
    let (from, tick_s) = (state.units.position[row], state.tick_s());
    let now = state.units.velocity[row];
    let velocity = match steer.acceleration {
        Some(most) => now + (steer.wish - now).clamp_length_max(most * tick_s),
        None => steer.wish,
    };
    moves.limits[row] = velocity.length().max(state.top_speed(row)) * tick_s;
    moves.steps[row] = velocity * tick_s;
    moves.wanted[row] = from + moves.steps[row];
    moves.turned[row] = true;
    moves.passing[row] = true;
}

/// How fast a unit walks that could walk at `top` metres a second, and has to stop at the end of its way.
fn pace(state: &State, row: usize, walk: &Walk, top: f32) -> f32 {
    let left = walk.left(state.units.position[row]) - walk.target().short_m();
    let braked = braked_speed(left, top, state.kind_of(row).braking());
    match walk.target() {
        // A unit that goes on elsewhere afterwards need not slow down.
        MoveTarget::Place(_) if state.units.passes_through[row] => top,
        MoveTarget::Place(_) => braked,
        // The path is always a little behind the unit that it leads to.
        MoveTarget::Unit { .. } => braked.max(top * LEAST_PART),
    }
}

/// Where one rounds the next corner that was pushed aside: as far out as it is, if that can be seen.
fn round_the_corner(state: &State, row: usize, walk: &Walk) -> Option<Vec2> {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let corner = walk.corner()?;
    let out = corner.outward_of(at);
    let places = [1.0, 0.75, 0.5, 0.25].map(|part| corner.at + corner.outward * (out * part));
    let view = state.ground_view(row);
    let beyond = *walk.ahead().get(1)?;
    let is_open = |place: &Vec2| {
        let sees = |from: Vec2, to: Vec2| {
            let ahead = from + (to - from).clamp_length_max(SIGHT_M);
            view.line_is_clear(from, ahead, radius)
        };
        // Whether one can go on from there is looked at when it comes near.
        let is_far = at.distance(*place) > SIGHT_M;
        sees(at, *place) && (is_far || sees(*place, corner.at) && sees(*place, beyond))
    };
    places
        .into_iter()
        .filter(|_| out > 0.1 * radius)
        .find(is_open)
}

/// How far a unit would have to go from a point to the middle of where its group is bound for: that decides which of
/// them is ahead.
fn left_of_all(walk: &Walk, from: Vec2) -> f32 {
    let left = match walk.strayed() {
        Strayed::Beside => walk.left_by(from),
        _ => walk.left(from),
    };
    let Some(middle) = walk.target().middle() else {
        return left;
    };
    let (last, end) = walk.last_leg(from);
    left - last.distance(end) + last.distance(middle)
}

/// The point that a body off its path heads for once it is back on the path, or has rounded the next corner.
fn beyond(walk: &Walk) -> Vec2 {
    match (walk.strayed(), walk.ahead()) {
        (Strayed::Beside, [_, beyond, ..]) => *beyond,
        _ => walk.to(),
    }
}

/// Where one heads that was pushed off its path: for the farthest point of the leg that it sees, of some ahead
/// and some behind.
fn way_back(state: &State, row: usize, walk: &Walk) -> Vec2 {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let (from, to) = walk.leg();
    let near_by = seen_of_leg(state.ground_view(row), (from, to), at, radius);
    let sees_from = || state.ground_view(row).line_is_clear(at, from, radius);
    near_by.unwrap_or(if sees_from() { from } else { to })
}

/// The farthest point of a leg that a body sees, of some that lie within eight of its radii of being beside it.
pub(super) fn seen_of_leg(
    view: GroundView<'_>,
    (from, to): (Vec2, Vec2),
    at: Vec2,
    radius: f32,
) -> Option<Vec2> {
    let along = (to - from).normalize_or_zero();
    let beside = (at - from).dot(along).clamp(0.0, from.distance(to));
    let radii = [8.0, 4.0, 2.0, 1.0, 0.0, -1.0, -2.0, -4.0, -8.0];
    let metres = radii.map(|radii| (beside + radii * radius).clamp(0.0, from.distance(to)));
    let points = metres.into_iter().map(|metres| from + along * metres);
    let seen = |point: &Vec2| view.line_is_clear(at, *point, radius);
    points.into_iter().find(seen)
}

/// A unit that comes back waits where another is nearer than this ahead of it, in metres.
const HAIR_M: f32 = 0.005;

/// The move of a unit that stands and has stepped aside: back to where it stood, once it is left alone and nobody else
/// stands there.
fn come_back(state: &State, near: &Near, moves: &mut Moves, row: usize) {
    let units = &state.units;
    let tick = state.clock.tick;
    let known = units.return_to[row].filter(|known| known.from <= tick);
    let Some(post) = known.filter(|_| units.settling_ticks[row] == 0) else {
        return;
    };
    let post = post.at;
    let (from, radius) = (units.position[row], units.radius[row]);
    // Whether another stands there, or at a point on the way within a hair.
    let is_taken = |point: Vec2, hair_m: f32| {
        let mut others = near.within(point, radius + state.derived.widest + hair_m);
        others.any(|other| {
            let other = other as usize;
            let apart = radius + units.radius[other] + hair_m;
            let is_ahead = (units.position[other] - from).dot(post - from) > 0.0;
            other != row
                && (is_ahead || hair_m == 0.0)
                && units.position[other].distance_squared(point) < apart * apart
        })
    };
    if !is_taken(post, 0.0)
        && !is_taken(from, HAIR_M)
        && state.ground_view(row).line_is_clear(from, post, radius)
    {
        let most = state.top_speed(row) * STROLL * state.tick_s();
        // To step aside for others would make it tremble.
        moves.goes_straight[row] = true;
        moves.steps[row] = (post - from).clamp_length_max(most);
        moves.wanted[row] = from + moves.steps[row];
    }
}

/// The move of a unit that goes a little way while it waits for its route.
fn stroll(state: &State, moves: &mut Moves, row: usize, to: Vec2) {
    let from = state.units.position[row];
    let most = state.top_speed(row) * state.tick_s();
    moves.limits[row] = most;
    moves.steps[row] = (to - from).clamp_length_max(most);
    moves.wanted[row] = from + moves.steps[row];
}
