//! Where arms point: with the body, or turned on it.

use crate::combat::Turret;
use crate::geom::{Vec2, angle};
use crate::motion::steering::Turning;
use crate::world::state::State;
use core::f32::consts::TAU;

/// Turns the arms of a unit towards a direction in radians, for a tick, and with them its body if that is free to turn.
/// Gives how far off they still point, in radians.
pub(crate) fn point_at(state: &mut State, row: usize, heading: f32) -> f32 {
    let kind = state.kind_of(row);
    let (tick_s, turret) = (state.tick_s(), kind.turret());
    let body_limit = kind.body.turn_rate * tick_s;
    let body_turns = may_turn_body(state, row);
    let off = |state: &State| angle::between(state.units.facing[row], heading);
    let Some(turret) = turret else {
        if body_turns {
            turn_body(state, row, heading, body_limit);
        }
        return off(state).abs();
    };
    if body_turns && !turret.can_point(off(state)) {
        turn_body(state, row, heading, body_limit);
    }
    let unit = state.units.id[row];
    let now = state.arms_turned.get(unit).copied().unwrap_or(0.0);
    let turned = turn_on_body(turret, now, off(state), turret.turn_rate * tick_s);
    if turned != now {
        state.arms_turned.set(unit, turned);
    }
    angle::between(turned, off(state)).abs()
}

fn turn_body(state: &mut State, row: usize, heading: f32, limit: f32) {
    let facing = &mut state.units.facing[row];
    *facing = angle::turn_towards(*facing, heading, limit);
}

/// Arms after a tick of turning towards a direction, all from the facing of the body: within their sector.
fn turn_on_body(turret: Turret, now: f32, to: f32, limit: f32) -> f32 {
    if turret.arc >= TAU {
        return angle::turn_towards(now, to, limit);
    }
    // Not through the part of the turn that is shut to them.
    let most = turret.arc * 0.5;
    let to = to.clamp(-most, most);
    now + (to - now).clamp(-limit, limit)
}

/// Whether a unit may turn its body to its foe: buildings never do, nor what drives while it is under way.
fn may_turn_body(state: &State, row: usize) -> bool {
    let kind = state.kind_of(row);
    let is_free = || {
        let turning = kind.legs.map(|legs| legs.turning);
        turning.is_none_or(|turning| turning == Turning::Free)
    };
    !kind.closes_ground() && (state.units.locomotion[row].stands() || is_free())
}

/// Whether a unit could point its arms at another from where it is, given time to turn.
pub(crate) fn can_point_at(state: &State, row: usize, other: usize) -> bool {
    let kind = state.kind_of(row);
    let Some(turret) = kind.turret().filter(|_| kind.closes_ground()) else {
        return true;
    };
    let heading = angle::of(state.middle(other) - state.units.position[row]);
    heading.is_none_or(|heading| turret.can_point(angle::between(state.units.facing[row], heading)))
}

/// Whether a unit has the clear line to another that its weapon asks for.
pub(crate) fn has_line(state: &State, row: usize, other: usize) -> bool {
    has_line_from(state, (row, other), state.units.position[row])
}

/// Whether nothing would be between a unit at a point and the other that stops what it strikes with.
pub(crate) fn has_line_from(state: &State, (row, other): (usize, usize), from: Vec2) -> bool {
    let weapon = state.kind_of(row).weapon;
    let asks = weapon.is_some_and(|weapon| weapon.clear_line);
    !asks || state.ground.sees(from, state.middle(other))
}

/// Whether a unit that walks looks at the foe at which it strikes, and not where it goes.
pub(crate) fn strikes_while_it_walks(state: &State, row: usize) -> bool {
    let aim = state.units.aim[row].filter(|aim| aim.on_the_move);
    let foe = aim.and_then(|aim| state.units.row(aim.foe));
    foe.is_some_and(|foe| {
        let turns_arms = state.kind_of(row).turret().is_some();
        !turns_arms && may_turn_body(state, row) && state.is_in_range(row, foe)
    })
}
