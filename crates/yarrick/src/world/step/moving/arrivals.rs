//! Notes which walks have come to their end, or to the end of a unit's patience, and reports it.

use crate::geom::Vec2;
use crate::world::legs;
use crate::world::state::{
    Arrival, Claim, GroupPlace, Locomotion, Moves, Owner, PatienceLimits, Report, SETTLING_TICKS,
    State, Verdict, Walk,
};

/// Seconds without progress after which a unit asks whether this is near enough, or whether
/// it needs another way.
const FRAY_S: u32 = 1;

/// A unit that gathers speed and brakes, or has to turn where it goes, has arrived within this many of its radii.
const DRIVEN_RADII: f32 = 0.3;

/// Within this many metres of its end, a path that leads to another unit is walked.
const END_M: f32 = 0.005;

/// Seconds of being held up after which a unit gives up.
const GIVE_UP_S: u32 = 20;

/// Seconds of being held up after which a unit that makes room for another stands.
const MAKES_ROOM_S: f32 = 0.5;

/// A unit that goes on elsewhere turns away within this many of its radii of its place, if others keep it off.
const BESIDE_RADII: f32 = 2.0;

/// After so many seconds without progress it does so anywhere among its group.
const PASSES_S: f32 = 0.25;

/// A unit has also arrived if at most this much of its way is left, in its radii, and it has made no progress for that many seconds: others
/// keep it off, or it would have to manoeuvre once more.
const ALL_BUT_RADII: f32 = 0.5;
const ALL_BUT_S: f32 = 2.0;

/// The most seconds for which a unit waits for its turn.
const WAIT_S: u32 = 60;

/// A unit on a detour gets a new path once others have pushed it this many radii away from the end of its path.
const PUSHED_OFF_RADII: f32 = 3.0;

/// Seconds after which a unit gives up that never came nearer to its place, whatever way it took.
const IN_ALL_S: u32 = 180;

/// Whether a walk has come to its end, or to the end of the unit's patience: what its legs report then.
pub(super) fn arrive_or_wait(state: &mut State, moves: &Moves, row: usize) -> Option<Report> {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let pushed = moves.pushed[row] || at != moves.wanted[row];
    let second = state.rules.ticks_per_second;
    let walk = state.units.locomotion[row].walk()?;
    let Some(target) = walk.target().place().copied() else {
        come_up(state, moves, row);
        return None;
    };
    let makes_room = state.units.legs_owner[row] == Owner::Nobody;
    if makes_room && walk.patience().all() as f32 > MAKES_ROOM_S * second as f32 {
        // It waits where it is until it is asked again.
        legs::halt(state, row);
        return None;
    }
    if has_come(state, (row, walk), (moves.limits[row], pushed), &target) {
        return arrived(state, row);
    }
    let limits = limits_of(state, row);
    let Locomotion::Walking(walk) = &mut state.units.locomotion[row] else {
        return None;
    };
    let verdict = walk.watch((at, moves.limits[row]), moves.waits[row], limits);
    let stays_on = stays_on(walk, state.clock.tick);
    let (waited, ahead) = (walk.patience().waited, walk.to());
    let is_at_assembly = walk.assembles() == Some(0);
    let is_off = was_pushed_off(walk, at, radius);
    match verdict {
        Verdict::Holds if pushed && is_at_assembly => arrived(state, row),
        Verdict::Holds => None,
        Verdict::Frays if moves.blocked[row] && may_stop_here(state, row, &target) => {
            arrived(state, row)
        }
        Verdict::Frays => {
            // It was pushed off its detour, or round a corner.
            let sees = || state.ground_view(row).line_is_clear(at, ahead, radius);
            if !stays_on && (is_off || !sees()) {
                legs::replan(state, row);
            } else {
                cut_detour(state, row);
            }
            None
        }
        // As near as the others let it.
        Verdict::Ends | Verdict::EndsForGood
            if moves.blocked[row] && is_among_its_group(state, row, &target) =>
        {
            arrived(state, row)
        }
        Verdict::Ends if pushed && waited < WAIT_S * second => {
            try_another_way(state, row);
            None
        }
        Verdict::Ends | Verdict::EndsForGood => Some(Report::HeldUp),
    }
}

/// Lets a unit that does not get on, and is led away from the end of its detour, go straight there if no wall stands between. The bodies
/// that it was to go round may have gone on, and to go back against its group would hold up both.
fn cut_detour(state: &mut State, row: usize) {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let walk = state.units.locomotion[row].walk();
    let end = walk.and_then(|walk| walk.led_away_from(at));
    if !end.is_some_and(|end| state.ground_view(row).line_is_clear(at, end, radius)) {
        return;
    }
    if let Locomotion::Walking(walk) = &mut state.units.locomotion[row] {
        walk.cut_detour(at);
    }
}

/// Whether others pushed a unit along with them, away from its detour.
fn was_pushed_off(walk: &Walk, at: Vec2, radius: f32) -> bool {
    walk.is_on_detour() && walk.left(at) > walk.patience().best_m + PUSHED_OFF_RADII * radius
}

/// Whether a unit waits, or backs off: a look for another way would make it forget that.
fn stays_on(walk: &Walk, tick: u64) -> bool {
    walk.waits() || walk.backs_off(tick)
}

/// How near to its place a unit has come there, in its radii. One that cannot stop on the spot does not stop on a point.
fn near_enough_radii(drives: bool, pushed: bool) -> f32 {
    match (drives, pushed) {
        (true, _) => DRIVEN_RADII,
        (false, true) => 0.1,
        (false, false) => 0.0,
    }
}

/// Lets a unit that is held up in a crowd look for another way. It gives up when it has done so for as long as it would
/// wait for its turn.
fn try_another_way(state: &mut State, row: usize) {
    if let Locomotion::Walking(walk) = &mut state.units.locomotion[row] {
        walk.forbear();
    }
    legs::request_route(state, row, true);
}

/// The limits of the patience of a unit that walks to a place.
fn limits_of(state: &State, row: usize) -> PatienceLimits {
    let (kind, second) = (state.kind_of(row), state.rules.ticks_per_second);
    let manoeuvres_s = if kind.drives() {
        kind.manoeuvre_s() * 2.0
    } else {
        0.0
    };
    let limits = limits(second);
    PatienceLimits {
        held_up: limits.held_up + (manoeuvres_s * second as f32) as u32,
        ..limits
    }
}

/// The limits of a unit's patience, from the number of ticks in a second.
fn limits(second: u32) -> PatienceLimits {
    PatienceLimits {
        fray: FRAY_S * second,
        held_up: GIVE_UP_S * second,
        waited: WAIT_S * second,
        in_all: IN_ALL_S * second,
    }
}

/// Halts a unit that comes up to another and has walked its path to the end, or lost it: its
/// activity will think of something.
fn come_up(state: &mut State, moves: &Moves, row: usize) {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let second = state.rules.ticks_per_second;
    let Locomotion::Walking(walk) = &mut state.units.locomotion[row] else {
        return;
    };
    let ahead = walk.to();
    let lost = match walk.points_left() {
        0 => true,
        // Beside a wall, rounding keeps a body off the last point by less than anybody sees.
        1 if at.distance(ahead) < END_M => true,
        _ => {
            // Whether it gives up is for its activity to say.
            let limits = PatienceLimits {
                held_up: u32::MAX,
                waited: u32::MAX,
                in_all: u32::MAX,
                ..limits(second)
            };
            let frays = walk.watch((at, moves.limits[row]), false, limits) == Verdict::Frays;
            frays && !state.ground_view(row).line_is_clear(at, ahead, radius)
        }
    };
    if lost {
        legs::halt(state, row);
    }
}

/// Whether a unit that pushes against standing ones may stop among its group: it must have tried for as long as
/// the rest of its way would take.
fn may_stop_here(state: &State, row: usize, target: &GroupPlace) -> bool {
    let Some(walk) = state.units.locomotion[row].walk() else {
        return false;
    };
    let left = walk.left(state.units.position[row]);
    let tried = walk.held_up() as f32 * state.tick_s() * state.top_speed(row);
    left <= tried && is_among_its_group(state, row, target)
}

/// Whether a unit has come to its place, or as near as it has to. `step_m` is how far it gets in the tick.
fn has_come(
    state: &State,
    (row, walk): (usize, &Walk),
    (step_m, pushed): (f32, bool),
    target: &GroupPlace,
) -> bool {
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let passes_through = state.units.passes_through[row];
    let near_enough_m = if passes_through {
        // A unit that goes on elsewhere passes by within a step of the place, and so loses no speed.
        step_m
    } else {
        radius * near_enough_radii(state.kind_of(row).drives(), pushed)
    };
    let (left_m, ticks) = (walk.left(at), walk.patience().all() as f32);
    let seconds = ticks * state.tick_s();
    let is_all_but_there = seconds >= ALL_BUT_S && left_m <= ALL_BUT_RADII * radius;
    if left_m <= near_enough_m.max(target.place.within_m) || is_all_but_there {
        return true;
    }
    let goes_on = passes_through || target.claim == Claim::Passes;
    let is_kept_off = pushed || walk.waits();
    goes_on && is_kept_off && {
        let is_beside = at.distance(target.place.at) <= BESIDE_RADII * radius;
        let waits_long = ticks > PASSES_S * state.rules.ticks_per_second as f32;
        is_beside || waits_long && is_among_its_group(state, row, target)
    }
}

/// Whether a unit has come to where its group stands, so that it may stop where it is.
fn is_among_its_group(state: &State, row: usize, target: &GroupPlace) -> bool {
    legs::is_at_assembly(state, row, (state.units.position[row], &target.place))
}

/// A walk has come to its end where the unit stands now.
fn arrived(state: &mut State, row: usize) -> Option<Report> {
    state.units.settling_ticks[row] = SETTLING_TICKS;
    let walk = state.units.locomotion[row].walk()?;
    let target = walk.target().place()?;
    Some(Report::Arrived(Arrival {
        goal: target.goal,
        // What has closed since the unit was sent may have kept it from its place.
        short: target.place.short.or(walk.short()),
        facing: target.place.facing,
    }))
}
