//! Lets units notice foes, at their own interval.
//!
//! | what a unit is at | whom it turns on |
//! |---|---|
//! | attack-move, patrol | whom it notices, and goes for it |
//! | guard | whom it notices near its ward, and goes for it |
//! | hold, follow, or no order | who comes within range, without a step |
//! | anything else | nobody |

use crate::combat::foremost_target;
use crate::geom::Vec2;
use crate::world::activity::{Activity, bout};
use crate::world::event::Event;
use crate::world::order::Task;
use crate::world::state::{Events, Scratch, State};

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    if !someone_is_armed_against(state) {
        return;
    }
    for row in 0..state.units.len() {
        if state.kind(state.units.kind[row]).weapon.is_some() && state.thinks_now(row) {
            look_round(state, scratch, events, row);
        }
    }
}

/// Whether there are two sides that are foes, one of them armed: else nobody need look.
fn someone_is_armed_against(state: &State) -> bool {
    let armed = |row: usize| state.kind(state.units.kind[row]).weapon.is_some();
    let (mut all, mut arms) = (0_u16, 0_u16);
    for row in 0..state.units.len() {
        let side = 1 << state.units.side[row].0;
        all |= side;
        arms |= if armed(row) { side } else { 0 };
    }
    state.stances.some_are_foes(arms, all)
}

/// Where a unit looks for foes, and whether it goes for them.
struct Watch {
    at: Vec2,
    radius: f32,
    notice_m: f32,
    chases: bool,
}

fn watch(state: &State, row: usize) -> Option<Watch> {
    let kind = state.kind(state.units.kind[row]);
    let range = kind.weapon?.range_m;
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    let chases = kind.speed > 0.0 && state.tick >= state.units.calm_until[row];
    let stands = matches!(state.units.activity[row], Activity::Stand);
    let within = |notice_m, chases| {
        Some(Watch {
            at,
            radius,
            notice_m,
            chases,
        })
    };
    match state.units.orders[row].first().map(|order| &order.task) {
        Some(Task::AttackMove(_) | Task::Patrol(_)) if chases => within(kind.notice_m, true),
        Some(Task::Guard { .. } | Task::GuardPlace(_)) if chases => {
            let ward = state.ward(row)?;
            Some(Watch {
                at: ward.at,
                radius: ward.radius,
                notice_m: kind.notice_m,
                chases: true,
            })
        }
        Some(Task::AttackMove(_) | Task::Patrol(_) | Task::Hold) => within(range, false),
        Some(Task::Guard { .. } | Task::GuardPlace(_) | Task::Follow { .. }) | None if stands => {
            within(range, false)
        }
        _ => None,
    }
}

fn look_round(state: &mut State, scratch: &Scratch, events: &mut Events, row: usize) {
    let Some(watch) = watch(state, row) else {
        return;
    };
    if is_content(state, row) {
        return;
    }
    let Some(foe) = choose(state, scratch, row, &watch) else {
        return;
    };
    let foe_id = state.units.id[foe];
    let known = state.units.bout[row].map(|bout| bout.foe);
    if known != Some(foe_id) {
        bout::begin(state, row, foe_id, watch.chases);
        events.push(Event::Engaged {
            unit: state.units.id[row],
            foe: foe_id,
        });
    }
}

/// Whether the unit has a foe within range that can strike back: it looks for no other.
fn is_content(state: &State, row: usize) -> bool {
    let foe = state.units.bout[row].and_then(|bout| state.units.row(bout.foe));
    let weapon = state.kind(state.units.kind[row]).weapon;
    foe.zip(weapon).is_some_and(|(foe, weapon)| {
        let armed = state.kind(state.units.kind[foe]).weapon.is_some();
        armed && state.gap_m(row, foe) <= weapon.range_m
    })
}

/// The foe to turn on: those that can strike back first, then the nearest. Of these, one within
/// range goes before one that must be gone for.
fn choose(state: &State, scratch: &Scratch, row: usize, watch: &Watch) -> Option<usize> {
    let range = state.kind(state.units.kind[row]).weapon?.range_m;
    let side = state.units.side[row];
    let worth = |number: u32| {
        let other = number as usize;
        let kind = state.kind(state.units.kind[other]);
        if kind.health <= 0.0 || !state.stances.are_foes(side, state.units.side[other]) {
            return None;
        }
        if state.gap_from(watch.at, watch.radius, other) > watch.notice_m {
            return None;
        }
        let gap = state.gap_m(row, other);
        if !watch.chases && gap > range {
            return None;
        }
        let preference = u8::from(kind.weapon.is_none()) * 2 + u8::from(gap > range);
        Some((preference, gap, state.units.id[other]))
    };
    let reach = watch.radius + watch.notice_m + state.farthest;
    foremost_target(&scratch.near, watch.at, reach, worth).map(|number| number as usize)
}
