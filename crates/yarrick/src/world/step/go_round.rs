//! Lets units that come upon bodies that stand look for a way round them, within a budget of work.
//!
//! A unit looks on a fine mesh first, that finds every gap; then on wider ones, which see farther. Where there is no way on
//! any, it goes on as it did, pushes or waits, and looks again after a while.

use super::come_short;
use super::rejoin::{End, Path};
use crate::geom::{Rect, Vec2, segment_point_distance_squared};
use crate::motion::{Mesh, Obstacle, Surroundings, is_slow, way_left};
use crate::world::arms::is_at_work;
use crate::world::legs;
use crate::world::state::{Locomotion, Looks, MoveTarget, Moves, Scratch, State, Walk};
use smallvec::SmallVec;

/// Nodes of meshes that are looked at in a tick, by all units together. The last search may exceed it.
const BUDGET: u32 = 4_000;

/// Nodes that a look counts for at least, for the bodies round the unit.
const LEAST_WORK: u32 = 64;

/// The meshes: the distance of their nodes in radii of the unit, and the nodes to either side.
const MESHES: [(f32, u32); 3] = [(0.5, 36), (1.0, 48), (OF_CELLS, 64)];

/// The widest mesh: its nodes are middles of cells, as those of routes are, so that it finds every passage that routes find. This is the
/// maximum distance between them in radii of the unit, but it is never less than one cell.
const OF_CELLS: f32 = 1.25;

/// The part of a mesh within which a detour ends.
const INNER: f32 = 0.85;

/// Ticks from one detour to the next of a unit at least, in seconds.
const AFTER_S: f32 = 0.2;

/// How far ahead units in the way are asked to step aside, in metres, and how many at a time.
const ROOM_AHEAD_M: f32 = 30.0;
const MOST_ASKED: usize = 2;

/// Seconds for which a unit pushes before it looks for a way round.
const PUSH_S: f32 = 0.5;

/// For so many seconds a unit that is held up counts on those that could make room. Then it looks for a way past them too,
/// and counts on them again only where there is none.
const COUNTS_ON_ROOM_S: f32 = 2.0;

/// Among its group a unit goes round others to its place by a way no longer than so many times the straight one. It rather
/// settles where it is.
const MOST_ROUND: f32 = 2.0;

/// A way round is long if its length is this multiple of the straight distance between its ends.
const LONG: f32 = 2.0;

/// Seconds until a unit looks again that found no way round, and at most so many times as many.
const IN_VAIN_S: f32 = 0.5;
const MOST_TIMES: u32 = 8;

pub(super) fn run(state: &mut State, scratch: &mut Scratch) {
    let count = state.units.len();
    let moves = &scratch.moves;
    let any = |flags: &[bool]| flags.contains(&true);
    let reasons = [
        &moves.obstructed,
        &moves.blocked,
        &moves.slowed,
        &moves.waited,
    ];
    if !reasons.into_iter().any(|flags| any(flags)) {
        return;
    }
    // It begins with another unit in each tick, so that none is always last.
    let first = (state.clock.tick.wrapping_mul(7919) % count.max(1) as u64) as usize;
    let mut spent = 0;
    for row in (first..count).chain(0..first) {
        if spent >= BUDGET {
            break;
        }
        let moves = &scratch.moves;
        let (is_blocked, is_slowed) = (moves.blocked[row], moves.slowed[row]);
        let by_standing = is_blocked || moves.obstructed[row];
        let looks =
            by_standing || meets_waiting(moves, row) || is_slowed && is_slowed_for_long(state, row);
        if !looks {
            continue;
        }
        // One in formation keeps to its slot.
        let keeps_slot = scratch.moves.slots[row].is_some_and(|slot| slot.is_open);
        if !keeps_slot && may_look(state, row, is_blocked) {
            spent += look(state, scratch, row);
        }
    }
}

/// Whether a unit is held up by another that waits in its way, and does not go the same way.
fn meets_waiting(moves: &Moves, row: usize) -> bool {
    let met = moves.courses[row].and_then(|course| course.oncoming);
    moves.held_up[row] && met.is_some_and(|other| moves.waited[other as usize])
}

/// Whether a unit that is slowed has been for a while. It may slide past the slower one, and looks for a way round only if it does not.
fn is_slowed_for_long(state: &mut State, row: usize) -> bool {
    let (tick, second) = (state.clock.tick, u64::from(state.rules.ticks_per_second));
    let Locomotion::Walking(walk) = &mut state.units.locomotion[row] else {
        return false;
    };
    let looks = walk.looks();
    let is_first = looks.again_at + second < tick;
    if is_first {
        walk.set_looks(Looks {
            again_at: tick + second / 2,
            ..looks
        });
    }
    !is_first
}

/// Whether a unit looks for a way round in this tick. Where its group assembles, and where bodies touch it that were not in
/// its way before, it pushes first.
fn may_look(state: &State, row: usize, is_blocked: bool) -> bool {
    let tick = state.clock.tick;
    let pushed_long = PUSH_S * state.rules.ticks_per_second as f32;
    let Locomotion::Walking(walk) = &state.units.locomotion[row] else {
        return false;
    };
    let pushes = is_blocked || walk.assembles().is_some();
    let has_pushed = walk.held_up() as f32 >= pushed_long;
    !walk.is_on_link() && (!pushes || has_pushed) && walk.looks().again_at <= tick
}

/// Looks for a way round for a unit, and lets it take that. Gives the work that it took.
fn look(state: &mut State, scratch: &mut Scratch, row: usize) -> u32 {
    let Locomotion::Walking(walk) = &state.units.locomotion[row] else {
        return 0;
    };
    let (looks, counted) = (walk.looks(), counts_on_room(state, walk));
    let (found, work) = find_short(state, scratch, row, looks);
    let is_slowed = scratch.moves.slowed[row];
    let go_on_later = is_slowed || meets_waiting(&scratch.moves, row);
    let found = match found {
        Found::Way(points, _)
            if is_too_long(state, (row, is_slowed), &points)
                || !counted && come_short::is_in_vain(state, row, &points) =>
        {
            Found::NoWay
        }
        found => found,
    };
    let then = answer(state, row, (found, counted));
    let more = match then {
        Then::AsksForRoom => clear_the_way(state, scratch, row),
        Then::ComesShort if !go_on_later => come_short::run(state, scratch, row),
        // Slower or waiting units that are in its way go on.
        Then::GoesOn | Then::ComesShort => 0,
    };
    work.max(LEAST_WORK) + more
}

/// What a unit does after a look.
enum Then {
    GoesOn,
    AsksForRoom,
    ComesShort,
}

/// Lets a unit take the way that it found, or notes that there is none. `counted` says whether it counted on others to make room.
fn answer(state: &mut State, row: usize, (found, counted): (Found, bool)) -> Then {
    let (tick, second) = (state.clock.tick, state.rules.ticks_per_second as f32);
    let from = state.units.position[row];
    let enough_in_vain = come_short::after_looks(state, row);
    let Locomotion::Walking(walk) = &mut state.units.locomotion[row] else {
        return Then::GoesOn;
    };
    let mut looks = walk.looks();
    let mut then = Then::GoesOn;
    match found {
        Found::Clear => {
            looks.again_at = tick + (AFTER_S * second) as u64;
            looks.is_shut = false;
        }
        Found::Way(points, rejoins) => {
            // Units that could make room for it have not done so.
            let again = counted && walk.held_up() as f32 >= COUNTS_ON_ROOM_S * second;
            let in_vain = if again {
                looks.in_vain.saturating_add(1)
            } else {
                0
            };
            walk.take_detour(from, points, rejoins);
            let again_at = tick + (AFTER_S * second) as u64;
            looks = Looks {
                again_at,
                in_vain,
                ..Looks::default()
            };
            then = Then::AsksForRoom;
        }
        Found::NoWay | Found::Shut if usize::from(looks.mesh) + 1 < MESHES.len() => {
            looks.mesh += 1;
        }
        Found::NoWay | Found::Shut => {
            if looks.in_vain >= enough_in_vain {
                then = Then::ComesShort;
            }
            let times = (1_u32 << looks.in_vain.min(8)).min(MOST_TIMES);
            looks = Looks {
                again_at: tick + (IN_VAIN_S * second) as u64 * u64::from(times),
                mesh: 0,
                in_vain: looks.in_vain.saturating_add(1),
                is_shut: matches!(found, Found::Shut) || looks.is_shut && !counted,
            };
        }
    }
    walk.set_looks(looks);
    then
}

/// The mesh on which a unit looks.
fn mesh(state: &State, row: usize, number: u8) -> Mesh {
    let number = usize::from(number).min(MESHES.len() - 1);
    let mesh = Mesh::in_radii(state.units.radius[row], MESHES[number]);
    let (ground, at) = (&state.ground, state.units.position[row]);
    // The middles of hexes lie in no rectangle.
    let is_of_cells = number + 1 == MESHES.len() && ground.lattice().is_square();
    if !is_of_cells {
        return Mesh { hugs: true, ..mesh };
    }
    let cells = (mesh.spacing_m / ground.cell_m()).floor().max(1.0);
    Mesh {
        spacing_m: cells * ground.cell_m(),
        middle: Some(ground.centre(ground.nearest_cell(at))),
        ..mesh
    }
}

/// Asks those to step aside that stand in the way of a unit and would do so. Gives the work that it took.
fn clear_the_way(state: &mut State, scratch: &mut Scratch, row: usize) -> u32 {
    let Some(walk) = state.units.locomotion[row].walk() else {
        return 0;
    };
    let way = first_metres(state.units.position[row], walk.ahead(), ROOM_AHEAD_M);
    let mut in_the_way = core::mem::take(&mut scratch.in_the_way);
    in_the_way.clear();
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let widest = radius + state.derived.widest;
    let near = scratch.near.in_rect(Rect::round(at, &way).grown(widest));
    in_the_way.extend(near.filter(|other| {
        let other = *other as usize;
        let apart = radius + state.units.radius[other];
        let mut from = at;
        other != row
            && makes_room(state, row, other)
            && legs::would_step_aside(state, other)
            && !is_at_the_end(walk.target(), state.units.position[other], apart)
            && way.iter().any(|&to| {
                let leg = core::mem::replace(&mut from, to);
                let off = segment_point_distance_squared(leg, to, state.units.position[other]);
                off < apart * apart
            })
    }));
    // The nearest first; ties by row.
    let off = |other: u32| state.units.position[other as usize].distance_squared(at);
    in_the_way.sort_by(|a, b| off(*a).total_cmp(&off(*b)).then(a.cmp(b)));
    let mut spent = 0;
    for other in in_the_way.iter().take(MOST_ASKED) {
        spent += legs::step_aside(state, scratch, (*other as usize, row), &way);
    }
    scratch.in_the_way = in_the_way;
    spent
}

/// Whether one stands where the way of a unit ends: where its group assembles, or at the unit to which it comes up.
fn is_at_the_end(target: &MoveTarget, at: Vec2, apart: f32) -> bool {
    match target {
        MoveTarget::Place(target) => {
            let place = &target.place;
            place.spread_m > 0.0 && at.distance(place.middle) <= place.spread_m + apart
        }
        MoveTarget::Unit { to, .. } => at.distance(*to) < apart,
    }
}

/// Whether a unit had better not take a way round that it found.
fn is_too_long(state: &State, (row, is_slowed): (usize, bool), way: &[Vec2]) -> bool {
    had_better_settle(state, row, way) || is_slowed && leads_back(state, row, way)
}

/// Whether a unit is where its group assembles, and a way round others is too long there.
fn had_better_settle(state: &State, row: usize, way: &[Vec2]) -> bool {
    let units = &state.units;
    let (from, radius) = (units.position[row], units.radius[row]);
    let target = units.locomotion[row].target();
    let is_there = target.is_some_and(|target| {
        let apart = radius + state.derived.widest;
        target.place().is_some() && is_at_the_end(target, from, apart)
    });
    let last = way.last().copied().unwrap_or(from);
    is_there && way_left(from, way, 0) > MOST_ROUND * from.distance(last)
}

/// How far back the way past slower units may lead, in radii.
const BACK_RADII: f32 = 2.5;

/// Whether a way leads a unit far back. Slower units go on meanwhile: it would not find them there.
fn leads_back(state: &State, row: usize, way: &[Vec2]) -> bool {
    let (from, radius) = (state.units.position[row], state.units.radius[row]);
    let to = way.last().copied().unwrap_or(from);
    let onward = (to - from).normalize_or_zero();
    way.iter()
        .any(|point| (*point - from).dot(onward) < -BACK_RADII * radius)
}

/// The first metres of a way from a point on.
fn first_metres(from: Vec2, way: &[Vec2], mut metres: f32) -> SmallVec<[Vec2; 8]> {
    let (mut at, mut points) = (from, SmallVec::new());
    for &to in way {
        let leg_m = at.distance(to);
        if leg_m >= metres {
            points.push(at + (to - at).normalize_or_zero() * metres);
            break;
        }
        points.push(to);
        (at, metres) = (to, metres - leg_m);
    }
    points
}

/// What a unit found.
enum Found {
    /// Its path is clear.
    Clear,
    /// A way to a point of its path, and the number of the first point of that behind it.
    Way(Vec<Vec2>, u32),
    NoWay,
    /// No way, even if every body that can make room does so. Nobody stands where the path ends.
    Shut,
}

/// What a unit finds, and the work that it took. If the way found is long, the next wider mesh is searched as well: to come back to the path
/// farther on may be shorter in all.
fn find_short(state: &State, scratch: &mut Scratch, row: usize, looks: Looks) -> (Found, u32) {
    let from = state.units.position[row];
    let (found, work) = find(state, scratch, row, &mesh(state, row, looks.mesh));
    let is_last = usize::from(looks.mesh) + 1 == MESHES.len();
    let Found::Way(points, rejoins) = &found else {
        return (found, work);
    };
    let end = points.last().copied().unwrap_or(from);
    let way_m = way_left(from, points, 0);
    if is_last || way_m < LONG * from.distance(end) {
        return (found, work);
    }
    let (wider, more) = find(state, scratch, row, &mesh(state, row, looks.mesh + 1));
    let left_m = |end: Vec2, rejoins: u32| {
        let walk = state.units.locomotion[row].walk();
        walk.map_or(0.0, |walk| way_left(end, walk.path(), rejoins))
    };
    let is_shorter = match &wider {
        Found::Way(other, farther) => {
            let other_end = other.last().copied().unwrap_or(from);
            let other_m = way_left(from, other, 0) + left_m(other_end, *farther);
            other_m < way_m + left_m(end, *rejoins)
        }
        _ => false,
    };
    let found = if is_shorter { wider } else { found };
    (found, work + more)
}

/// What a unit finds on a mesh, and the work that it took.
fn find(state: &State, scratch: &mut Scratch, row: usize, mesh: &Mesh) -> (Found, u32) {
    let Some(walk) = state.units.locomotion[row].walk() else {
        return (Found::Clear, 0);
    };
    let from = state.units.position[row];
    let (half_m, radius_m) = (mesh.half_m(), state.units.radius[row]);
    note_obstacles(state, scratch, row, half_m);
    let around = Surroundings {
        view: state.ground_view(row),
        radius_m,
        obstacles: &scratch.obstacles,
    };
    let path = Path {
        from,
        ahead: walk.up_to_link().get(walk.next() as usize..).unwrap_or(&[]),
        first: walk.next(),
    };
    let is_end_free = path.ahead.last().is_none_or(|to| around.is_free(*to));
    let otherwise = if is_end_free && counts_on_room(state, walk) {
        Found::Shut
    } else {
        Found::NoWay
    };
    let search = &mut scratch.detours;
    match path.end_of_detour(&around, half_m * INNER) {
        End::Clear => (Found::Clear, 0),
        End::None => (Found::NoWay, 0),
        End::At(to, rejoins) => {
            let way = search.find(&around, mesh, (from, to));
            let found = way.map_or(otherwise, |points| Found::Way(points, rejoins));
            (found, search.work())
        }
    }
}

/// Notes which bodies stand near a unit.
fn note_obstacles(state: &State, scratch: &mut Scratch, row: usize, half_m: f32) {
    let units = &state.units;
    let (at, radius) = (units.position[row], units.radius[row]);
    let reach = half_m * core::f32::consts::SQRT_2 + radius + state.derived.widest;
    let walk = units.locomotion[row].walk();
    let counts_on_room = walk.is_none_or(|walk| counts_on_room(state, walk));
    scratch.obstacles.clear();
    let near = scratch.near.within(at, reach).map(|other| other as usize);
    let bodies = near.filter(|other| *other != row && units.radius[*other] > 0.0);
    let moves = &scratch.moves;
    let wishes = &moves.wishes;
    let is_slow = |other: usize, velocity: Vec2| {
        moves.slowed[row]
            && moves.limits[other] < moves.limits[row]
            && is_slow(wishes[row], (wishes[other], velocity))
    };
    let turns = moves.turns();
    let meets_waiting = meets_waiting(moves, row);
    let waits = |other: usize| {
        meets_waiting && moves.waited[other] && !turns.go_together(wishes, row, other)
    };
    for other in bodies {
        let obstacle = |at: Vec2, yields: bool| Obstacle {
            at,
            radius_m: units.radius[other],
            yields,
        };
        let (at, velocity) = (units.position[other], units.velocity[other]);
        if matches!(units.locomotion[other], Locomotion::Standing) {
            let yields = counts_on_room && makes_room(state, row, other);
            scratch.obstacles.push(obstacle(at, yields));
        } else if waits(other) {
            scratch.obstacles.push(obstacle(at, false));
        } else if is_slow(other, velocity) {
            let soon = SOON_S.map(|seconds| obstacle(at + velocity * seconds, false));
            scratch.obstacles.extend(soon);
        }
    }
}

/// A slower unit counts as standing where it is, and where it will be in these numbers of seconds.
const SOON_S: [f32; 3] = [0.0, 1.0, 2.0];

/// Whether a unit that looks for a way round treats bodies that could make room as passable.
fn counts_on_room(state: &State, walk: &Walk) -> bool {
    let counts_on = COUNTS_ON_ROOM_S * state.rules.ticks_per_second as f32;
    (walk.held_up() as f32) < counts_on || walk.looks().in_vain % 2 == 1
}

/// Whether a unit that stands lets another of its own side push it aside.
fn makes_room(state: &State, row: usize, other: usize) -> bool {
    let units = &state.units;
    units.side[row] == units.side[other]
        && !units.stands_firm[other]
        && !is_at_work(state, other)
        && state.kind_of(other).speed() > 0.0
}
