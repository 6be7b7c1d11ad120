//! What several sorts of order check.

use super::Asked;
use crate::geom::{Vec2, is_within};
use crate::world::ids::{SideId, UnitId};
use crate::world::kind::Ability;
use crate::world::message::{Action, MAX_COORDINATE_M, Refusal, Spot};
use crate::world::state::State;

/// Nothing is wrong.
pub(super) fn sound(_: &State, _: SideId, _: &Action) -> Option<Refusal> {
    None
}

/// What is wrong with the point or the unit that an action is about.
pub(super) fn flaw_of_spot(state: &State, _: SideId, action: &Action) -> Option<Refusal> {
    match action.spot()? {
        Spot::Ground(point) => flaw_of_points(&[point]),
        Spot::Unit(unit) => flaw_of_target(state, unit),
    }
}

/// What is wrong with points.
pub(super) fn flaw_of_points(points: &[Vec2]) -> Option<Refusal> {
    let sound = |point: &Vec2| is_within(point.extend(0.0), MAX_COORDINATE_M);
    (!points.iter().all(sound)).then_some(Refusal::BadPoint)
}

/// What is wrong with a unit that an action is about.
pub(super) fn flaw_of_target(state: &State, target: UnitId) -> Option<Refusal> {
    let is_there = state.units.row(target).is_some();
    (!is_there).then_some(Refusal::NoSuchTarget)
}

/// What is wrong with a unit that is to be struck.
pub(super) fn flaw_of_victim(state: &State, side: SideId, action: &Action) -> Option<Refusal> {
    let Some(Spot::Unit(target)) = action.spot() else {
        return None;
    };
    let Some(row) = state.units.row(target) else {
        return Some(Refusal::NoSuchTarget);
    };
    if !is_foe(state, side, target) {
        return Some(Refusal::NotAFoe);
    }
    (state.kind_of(row).body.health <= 0.0).then_some(Refusal::CannotBeHarmed)
}

/// Whether a unit is a foe to a side.
pub(super) fn is_foe(state: &State, side: SideId, unit: UnitId) -> bool {
    let row = state.units.row(unit);
    row.is_some_and(|row| state.derived.stances.are_foes(side, state.units.side[row]))
}

/// Every unit can do it.
pub(super) fn anybody(_: &Asked<'_>, _: &Action) -> Result<(), Refusal> {
    Ok(())
}

/// Units that move can do it.
pub(super) fn walkers(asked: &Asked<'_>, _: &Action) -> Result<(), Refusal> {
    if asked.state.kind_of(asked.row).can(Ability::Moves) {
        Ok(())
    } else {
        Err(Refusal::CannotMove)
    }
}

/// Units that move can do it, but not to themselves.
pub(super) fn walkers_to_others(asked: &Asked<'_>, action: &Action) -> Result<(), Refusal> {
    not_itself(asked, action)?;
    walkers(asked, action)
}

/// Units with a weapon can do it, but not to themselves.
pub(super) fn fighters(asked: &Asked<'_>, action: &Action) -> Result<(), Refusal> {
    if !asked.state.kind_of(asked.row).can(Ability::Strikes) {
        return Err(Refusal::CannotStrike);
    }
    not_itself(asked, action)
}

/// Units that gather can do it.
pub(super) fn gatherers(asked: &Asked<'_>, _: &Action) -> Result<(), Refusal> {
    if asked.state.kind_of(asked.row).can(Ability::Gathers) {
        Ok(())
    } else {
        Err(Refusal::CannotGather)
    }
}

/// Units that build that can do it.
pub(super) fn builders(asked: &Asked<'_>, action: &Action) -> Result<(), Refusal> {
    let what = match action {
        Action::Build { kind, .. } => Some(*kind),
        Action::Construct { target } => {
            let row = asked.state.units.row(*target);
            row.map(|row| asked.state.units.kind[row])
        }
        _ => None,
    };
    let kind = asked.state.kind_of(asked.row);
    if kind.can(Ability::Builds) && what.is_some_and(|what| kind.builds().contains(&what)) {
        Ok(())
    } else {
        Err(Refusal::CannotBuild)
    }
}

fn not_itself(asked: &Asked<'_>, action: &Action) -> Result<(), Refusal> {
    let itself = asked.state.units.id[asked.row];
    match action.spot() {
        Some(Spot::Unit(unit)) if unit == itself => Err(Refusal::Itself),
        _ => Ok(()),
    }
}
