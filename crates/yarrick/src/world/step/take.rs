//! Makes the changes of this tick: each is answered by an event, or by several.

use crate::geom::{Vec2, angle, canonical, is_within};
use crate::ground::{Cell, DoorId};
use crate::world::ids::{SideId, Ticket, UnitId};
use crate::world::inbox::Inbox;
use crate::world::kind::KindId;
use crate::world::legs;
use crate::world::message::{Change, Effect, Event, MAX_COORDINATE_M, Outcome, Refusal};
use crate::world::orders::{Dispatch, Minds};
use crate::world::state::{Departure, Events, NoEntry, Pose, Scratch, State};

pub(super) fn run(
    state: &mut State,
    minds: &mut Minds,
    inbox: &mut Inbox,
    scratch: &mut Scratch,
    events: &mut Events,
) {
    for (ticket, change) in inbox.take() {
        let mut dispatch = Dispatch {
            state,
            minds,
            scratch,
            events,
        };
        if let Change::Command(command) = &change {
            dispatch.take(ticket, command);
            continue;
        }
        // What a change leads to at once, such as the end of an order, comes after the answer.
        let at = dispatch.events.len();
        let answer = match make(&mut dispatch, ticket, &change) {
            Ok(effect) => Event::Changed { ticket, effect },
            Err(why) => Event::ChangeRefused { ticket, why },
        };
        events.insert(at, answer);
    }
    if scratch.near_is_stale {
        super::index::run(state, scratch);
    }
}

type Made = Result<Effect, Refusal>;

/// Makes a change other than a command.
fn make(dispatch: &mut Dispatch<'_>, ticket: Ticket, change: &Change) -> Made {
    match change {
        // Taken before.
        Change::Command(_) => Ok(Effect::Made),
        Change::Spawn {
            kind,
            side,
            at,
            facing,
        } => spawn(dispatch, (*kind, *side), (*at, *facing)),
        Change::Remove { unit } => remove(dispatch, *unit),
        Change::Harm { unit, damage, by } => {
            let row = find(dispatch, *unit)?;
            let left = dispatch.state.units.health[row] - points(*damage)?;
            set_health(dispatch, row, left, *by)
        }
        Change::Heal { unit, health } => {
            let row = find(dispatch, *unit)?;
            let more = dispatch.state.units.health[row] + points(*health)?;
            set_health(dispatch, row, more, None)
        }
        Change::SetHealth { unit, health } => {
            let row = find(dispatch, *unit)?;
            set_health(dispatch, row, points(*health)?, None)
        }
        Change::Teleport { unit, to, facing } => teleport(dispatch, *unit, *to, *facing),
        Change::ChangeSide { unit, side } => change_side(dispatch, *unit, *side),
        Change::ChangeKind { unit, kind } => change_kind(dispatch, *unit, *kind),
        Change::Block { cells } => obstacle(dispatch, cells, true),
        Change::Unblock { cells } => obstacle(dispatch, cells, false),
        Change::SetDoor { door, shut } => set_door(dispatch, *door, *shut),
        Change::SetTerrain { cells, terrain } => set_terrain(dispatch, cells, *terrain),
        Change::SetDial {
            unit,
            drill,
            dial,
            value,
        } => set_dial(dispatch, *unit, (*drill, *dial), *value),
        Change::SetSense { sense, unit, value } => set_sense(dispatch, (*sense, *unit), *value),
        Change::StepDone { unit, drill } => end_drill_step(dispatch, *unit, *drill),
        Change::Flock { flock, change } => dispatch.state.change_flock(*flock, change),
        Change::Start { unit, action } => {
            dispatch.start(ticket, *unit, action)?;
            Ok(Effect::Started { unit: *unit })
        }
        Change::Stop { unit, started } => {
            dispatch.stop_started(*unit, *started)?;
            Ok(Effect::Made)
        }
    }
}

fn remove(dispatch: &mut Dispatch<'_>, unit: UnitId) -> Made {
    find(dispatch, unit)?;
    dispatch.scratch.departures.push((unit, Departure::Removed));
    Ok(Effect::Made)
}

fn set_terrain(dispatch: &mut Dispatch<'_>, cells: &[Cell], terrain: u8) -> Made {
    if dispatch.state.set_terrain(cells, usize::from(terrain)) {
        Ok(Effect::Made)
    } else {
        Err(Refusal::NoSuchTerrain)
    }
}

/// Ends the step of a drill that waits for the host to say so.
fn end_drill_step(dispatch: &mut Dispatch<'_>, unit: UnitId, drill: u8) -> Made {
    let row = find(dispatch, unit)?;
    let machine = dispatch.minds.drills[row].get_mut(usize::from(drill));
    machine.ok_or(Refusal::NoSuchDrill)?.step_ended();
    Ok(Effect::Made)
}

fn find(dispatch: &Dispatch<'_>, unit: UnitId) -> Result<usize, Refusal> {
    dispatch.state.units.row(unit).ok_or(Refusal::NoSuchUnit)
}

/// A number of points, 0 or more.
fn points(value: f32) -> Result<f32, Refusal> {
    if value >= 0.0 && value.is_finite() {
        Ok(value)
    } else {
        Err(Refusal::BadNumber)
    }
}

fn spawn(
    dispatch: &mut Dispatch<'_>,
    (kind, side): (KindId, SideId),
    (at, facing): (Vec2, f32),
) -> Made {
    let row = dispatch.state.check_entry(kind, side, at, facing);
    let row = row.map_err(|why| match why {
        NoEntry::Kind => Refusal::NoSuchKind,
        NoEntry::Side => Refusal::NoSuchSide,
        NoEntry::NotFinite => Refusal::BadPoint,
        NoEntry::NoRoom(why) => Refusal::NoRoom(why),
        NoEntry::Full => Refusal::WorldFull,
    })?;
    let unit = dispatch.state.enter(row);
    dispatch.minds.add(dispatch.state);
    dispatch.scratch.near_is_stale = true;
    Ok(Effect::Spawned { unit })
}

/// Sets the health of a unit, in points, within what its kind has. It dies where none are left.
fn set_health(dispatch: &mut Dispatch<'_>, row: usize, health: f32, by: Option<UnitId>) -> Made {
    let most = dispatch.state.kind_of(row).body.health;
    let unit = dispatch.state.units.id[row];
    if most <= 0.0 {
        return Err(Refusal::CannotBeHarmed);
    }
    // It has died in this very tick.
    if dispatch.state.units.health[row] <= 0.0 {
        return Err(Refusal::NoSuchUnit);
    }
    dispatch.state.units.health[row] = health.clamp(0.0, most);
    if health <= 0.0 {
        dispatch.scratch.departures.push((unit, Departure::Died));
        dispatch.events.push(Event::Died { unit, by });
    }
    Ok(Effect::Made)
}

/// Sets a dial for one unit.
fn set_dial(dispatch: &mut Dispatch<'_>, unit: UnitId, (nth, dial): (u8, u16), value: f32) -> Made {
    let row = find(dispatch, unit)?;
    let state = &mut *dispatch.state;
    let used = state.kind_of(row).drills.get(usize::from(nth));
    let drill = used.and_then(|used| state.derived.program.drills.get(usize::from(used.drill)));
    let known = drill.and_then(|drill| drill.dials.get(usize::from(dial)));
    if !known.is_some_and(|known| (known.least..=known.most).contains(&value)) {
        return Err(Refusal::NoSuchDrill);
    }
    let mut dials = state.dials.remove(unit).unwrap_or_default();
    dials.retain(|(a, b, _)| (*a, *b) != (nth, dial));
    dials.push((nth, dial, value));
    state.dials.set(unit, dials);
    Ok(Effect::Made)
}

/// Sets the value of a sense of the game.
fn set_sense(
    dispatch: &mut Dispatch<'_>,
    (sense, unit): (u16, Option<UnitId>),
    value: f32,
) -> Made {
    if let Some(unit) = unit {
        find(dispatch, unit)?;
    }
    let state = &mut *dispatch.state;
    if sense >= state.rules.own_words.0 || !value.is_finite() {
        return Err(Refusal::NoSuchDrill);
    }
    state.own_senses.set((sense, unit), value);
    Ok(Effect::Made)
}

fn teleport(dispatch: &mut Dispatch<'_>, unit: UnitId, to: Vec2, facing: Option<f32>) -> Made {
    let row = find(dispatch, unit)?;
    let state = &mut *dispatch.state;
    let looks = facing.unwrap_or(state.units.facing[row]);
    if !is_within(to.extend(0.0), MAX_COORDINATE_M) || !looks.is_finite() {
        return Err(Refusal::BadPoint);
    }
    state.cover_ground(unit, false);
    let kind = state.units.kind[row];
    let pose = Pose {
        position: canonical(to),
        facing: angle::wrap(looks),
    };
    if let Err(why) = state.check_room(kind, pose, Some(row)) {
        state.cover_ground(unit, true);
        return Err(Refusal::NoRoom(why));
    }
    (state.units.position[row], state.units.facing[row]) = (pose.position, pose.facing);
    state.units.before[row] = pose;
    state.units.velocity[row] = Vec2::ZERO;
    state.units.return_to[row] = None;
    state.unrest.trapped.retain(|known| *known != unit);
    state.cover_ground(unit, true);
    // The way that it was on began elsewhere.
    legs::replan(state, row);
    dispatch.scratch.near_is_stale = true;
    Ok(Effect::Made)
}

fn change_side(dispatch: &mut Dispatch<'_>, unit: UnitId, side: SideId) -> Made {
    let row = find(dispatch, unit)?;
    if usize::from(side.0) >= dispatch.state.rules.sides.len() {
        return Err(Refusal::NoSuchSide);
    }
    if dispatch.state.units.side[row] != side {
        dispatch.abandon(row, Outcome::Stopped);
        dispatch.state.units.aim[row] = None;
        legs::halt(dispatch.state, row);
        dispatch.state.units.side[row] = side;
        // It fights for another cause from now on: the wave no longer waits for its end.
        dispatch.state.leave_wave(unit, Departure::Removed);
        dispatch.forget_about(unit);
    }
    Ok(Effect::Made)
}

fn change_kind(dispatch: &mut Dispatch<'_>, unit: UnitId, kind: KindId) -> Made {
    let row = find(dispatch, unit)?;
    let state = &mut *dispatch.state;
    let Some(becomes) = state.rules.kinds.get(usize::from(kind.0)) else {
        return Err(Refusal::NoSuchKind);
    };
    let (radius, health) = (becomes.disc_m(), becomes.body.health);
    let pose = Pose {
        position: state.units.position[row],
        facing: state.units.facing[row],
    };
    state.cover_ground(unit, false);
    if let Err(why) = state.check_room(kind, pose, Some(row)) {
        state.cover_ground(unit, true);
        return Err(Refusal::NoRoom(why));
    }
    let had = state.kind_of(row).body.health;
    let part = if had > 0.0 {
        state.units.health[row] / had
    } else {
        1.0
    };
    state.units.kind[row] = kind;
    state.units.radius[row] = radius;
    state.units.health[row] = health * part;
    state.rework(unit);
    state.cover_ground(unit, true);
    for nth in 0..dispatch.minds.drills.as_slice()[row].len() {
        dispatch.stop_drill(row, nth as u8);
    }
    dispatch.minds.change_drills(dispatch.state, row);
    let state = &mut *dispatch.state;
    // It may go another way now, or not at all; and its orders may be beyond it.
    legs::replan(state, row);
    dispatch.drop_what_it_cannot_do(row);
    dispatch.scratch.near_is_stale = true;
    Ok(Effect::Made)
}

fn obstacle(dispatch: &mut Dispatch<'_>, cells: &[Cell], is_there: bool) -> Made {
    dispatch.state.set_obstacle(cells, is_there);
    Ok(Effect::Made)
}

fn set_door(dispatch: &mut Dispatch<'_>, door: DoorId, shut: bool) -> Made {
    if dispatch.state.set_door(door, shut) {
        Ok(Effect::Made)
    } else {
        Err(Refusal::NoSuchDoor)
    }
}
