//! Arms: what units aim at, where they point, and how they look for foes.
//!
//! Activities aim and lower arms; a unit that aims strikes by itself whenever it can (see
//! [`step::fight`](super::step)).

mod alarm;
mod pointing;

use alarm::assailant;
pub(crate) use alarm::raise_alarm;

pub(crate) use pointing::{
    can_point_at, has_line, has_line_from, point_at, strikes_while_it_walks,
};

use super::ids::UnitId;
use super::kind::Ability;
use super::state::{Aim, State};
use crate::combat::{Preference, Weapon, foremost_target};
use crate::geom::Vec2;
use crate::near::Near;
use core::cmp::Ordering;

/// How a unit looks for foes.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Alertness {
    /// It does not.
    Off,
    /// It strikes foes that come within its range, without a step; only while it stands, or always.
    InReach { only_standing: bool },
    /// Likewise while it stands, and it goes for those that attack it or its own near it.
    Answering,
    /// It goes for foes that it notices near itself.
    AroundItself,
    /// It goes for foes that it notices near what it guards: a disc, in metres.
    AroundWard { at: Vec2, radius: f32 },
}

/// Aims at a foe: the unit strikes it while it stands within range of it.
pub(crate) fn aim_at(state: &mut State, row: usize, foe: UnitId) {
    state.units.aim[row] = Some(Aim {
        foe,
        on_the_move: false,
    });
}

/// Aims at a foe: the unit strikes it while it is within range of it, even while it walks.
pub(crate) fn aim_on_the_move(state: &mut State, row: usize, foe: UnitId) {
    state.units.aim[row] = Some(Aim {
        foe,
        on_the_move: true,
    });
}

/// Aims at nothing any more.
pub(crate) fn lower(state: &mut State, row: usize) {
    state.units.aim[row] = None;
}

/// Goes on aiming at a foe that is in reach, else lowers the arms.
pub(crate) fn keep_in_reach(state: &mut State, row: usize) {
    if let Some(aim) = state.units.aim[row] {
        let foe = state.units.row(aim.foe);
        let is_lost = |foe| {
            // A line of sight costs by its length: it is looked at as rarely as foes are looked for.
            let is_hidden = || state.looks_now(row) && !has_line(state, row, foe);
            !state.is_in_range(row, foe) || !can_point_at(state, row, foe) || is_hidden()
        };
        if foe.is_none_or(is_lost) {
            lower(state, row);
        }
    }
}

/// Whether a unit stands and strikes.
pub(crate) fn is_at_work(state: &State, row: usize) -> bool {
    let Some(aim) = state.units.aim[row] else {
        return false;
    };
    let foe = state.units.row(aim.foe);
    state.units.locomotion[row].stands() && foe.is_some_and(|foe| state.is_in_range(row, foe))
}

/// Whether a unit has a foe within range that can strike back, or prefers otherwise: it looks for no other.
fn has_good_target(state: &State, row: usize, weapon: Weapon) -> bool {
    let foe = state.units.aim[row].and_then(|aim| state.units.row(aim.foe));
    foe.is_some_and(|foe| {
        let matters = weapon.prefers != Preference::Nearest;
        (matters || state.kind_of(foe).can(Ability::Strikes)) && state.is_in_range(row, foe)
    })
}

/// Where a unit looks for foes, and whether it goes for them.
struct Watch {
    /// What it keeps watch over: the body of another or a place; `None` for itself.
    ward: Option<(Vec2, f32)>,
    notice_m: f32,
    chases: bool,
}

fn watch(state: &State, row: usize, weapon: Weapon, alertness: Alertness) -> Option<Watch> {
    let kind = state.kind_of(row);
    let calm = state.no_chase_until.get(state.units.id[row]);
    let chases = kind.can(Ability::Moves) && calm.is_none_or(|until| state.clock.tick >= *until);
    let stands = state.units.locomotion[row].stands();
    let around = |ward, notice_m, chases| {
        Some(Watch {
            ward,
            notice_m,
            chases,
        })
    };
    let in_reach = |allowed: bool| {
        allowed
            .then(|| around(None, weapon.range_m, false))
            .flatten()
    };
    match alertness {
        Alertness::Off => None,
        Alertness::AroundItself if chases => around(None, kind.notice_m(), true),
        Alertness::AroundItself => in_reach(true),
        Alertness::AroundWard { at, radius } if chases => {
            around(Some((at, radius)), kind.notice_m(), true)
        }
        Alertness::AroundWard { .. } => in_reach(stands),
        Alertness::Answering => in_reach(stands),
        Alertness::InReach { only_standing } => in_reach(stands || !only_standing),
    }
}

/// The foe that a unit turns on, if it notices one that is better than the one it aims at; and whether it may go
/// after it.
pub(crate) fn notice(
    state: &State,
    near: &Near,
    row: usize,
    alertness: Alertness,
) -> Option<(UnitId, bool)> {
    let weapon = state.kind_of(row).weapon?;
    let watch = watch(state, row, weapon, alertness)?;
    if has_good_target(state, row, weapon) {
        return None;
    }
    let known = state.units.aim[row].map(|aim| aim.foe);
    if let Some(foe) = choose(state, near, row, (weapon, &watch)) {
        let foe = state.units.id[foe];
        return (known != Some(foe)).then_some((foe, watch.chases));
    }
    if alertness != Alertness::Answering || known.is_some() {
        return None;
    }
    let foe = assailant(state, near, row)?;
    Some((state.units.id[foe], true))
}

/// The foe to turn on. By the nearest: those that can strike back first, then the nearest; of these, one within range
/// goes before one that must be gone for. By the farthest along: of those within range, and then of the others, the
/// one with the shortest way left.
fn choose(
    state: &State,
    near: &Near,
    row: usize,
    (weapon, watch): (Weapon, &Watch),
) -> Option<usize> {
    let side = state.units.side[row];
    // The best so far. A line of sight is looked at last, and only where it matters.
    let mut best: Option<(u8, f32, UnitId)> = None;
    let worth = |number: u32| {
        let other = number as usize;
        // Most that are near are one's own.
        let stances = &state.derived.stances;
        if !stances.are_foes(side, state.units.side[other]) {
            return None;
        }
        let kind = state.kind_of(other);
        if kind.body.health <= 0.0 {
            return None;
        }
        let gap = state.gap_m(row, other);
        let noticed_at = watch
            .ward
            .map_or(gap, |(at, radius)| state.gap_from(at, radius, other));
        if noticed_at > watch.notice_m {
            return None;
        }
        let in_range = gap <= weapon.range_m;
        if !watch.chases && !in_range {
            return None;
        }
        let harmless = u8::from(!kind.can(Ability::Strikes));
        let (harmless, measure) = match weapon.prefers {
            Preference::Nearest => (harmless, gap),
            Preference::FarthestAlong => (0, state.way_left_m(other)),
        };
        let preference = harmless * 2 + u8::from(!in_range);
        let mine = (preference, measure, state.units.id[other]);
        let is_better = best.is_none_or(|best| by_worth(mine, best).is_lt());
        // It goes round to where it has a line if it may chase.
        let can_strike = || can_point_at(state, row, other) && has_line(state, row, other);
        if !is_better || !watch.chases && !can_strike() {
            return None;
        }
        best = Some(mine);
        Some(mine)
    };
    let own = || (state.units.position[row], state.kind_of(row).reach_m());
    let (at, radius) = watch.ward.unwrap_or_else(own);
    let reach = radius + watch.notice_m + state.derived.farthest;
    foremost_target(near, at, reach, worth).map(|number| number as usize)
}

/// Which of two foes a unit turns on: ties by id.
fn by_worth(a: (u8, f32, UnitId), b: (u8, f32, UnitId)) -> Ordering {
    let order = a.0.cmp(&b.0).then(a.1.total_cmp(&b.1));
    order.then_with(|| a.2.cmp(&b.2))
}
