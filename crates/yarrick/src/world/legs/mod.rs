//! Legs: where units are going, and how they get there.
//!
//! Activities lead legs by two calls, [`go_to`] and [`halt`]. Legs that were sent to a place report to the activity
//! when they have come there, or cannot: see [`Report`](super::state::Report). The rest of this module is for the
//! stages that move units: looking for another way when the ground changes, places for groups, formations.

mod assemblies;
mod berths;
mod close_up;
mod displaced;
mod groundwork;
mod march;
mod nearest;
mod places;
mod rims;
mod step_aside;

pub(crate) use assemblies::{group_bound_for, join_assembly};
pub(crate) use berths::{
    berth_at, is_unclaimed, leave_berth, note_at_berth, shift_berth, take_berth, take_place_here,
    trade_berth, wait_here,
};
pub(crate) use displaced::{can_reach, check_place, give_places_anew};
pub(crate) use march::{form_up, join_march, leave_march, places_in_formation};
pub(crate) use nearest::nearest_place;
pub(crate) use places::{Member, assign_places, claim_places, is_at_assembly};
pub(crate) use rims::Gaps;
pub(crate) use step_aside::{step_aside, would_step_aside};

use super::state::{
    GroupPlace, Locomotion, MoveTarget, Patience, SETTLING_TICKS, State, Steer, Walk,
};
use crate::route::{Group, RouteRequest};

/// Sends a unit somewhere: straight to another unit where nothing is between, else by a route.
pub(crate) fn go_to(state: &mut State, row: usize, target: MoveTarget) {
    if let MoveTarget::Unit { to, .. } = target {
        let (from, radius) = (state.units.position[row], state.units.radius[row]);
        if state.ground_view(row).line_is_clear(from, to, radius) {
            return match &mut state.units.locomotion[row] {
                Locomotion::Walking(walk) => walk.redirect(target),
                _ => {
                    stop_waiting(state, row);
                    let walk = Walk::new(target, from, vec![to], Patience::default());
                    state.units.locomotion[row] = Locomotion::Walking(walk);
                }
            };
        }
    }
    go_by_route(state, row, target);
}

/// Sends a unit somewhere by a route, even where it sees the point.
pub(crate) fn go_by_route(state: &mut State, row: usize, target: MoveTarget) {
    await_route(state, row, target, Patience::default());
}

/// Steers a unit for a tick: it goes as it is told, past others and never into walls, until it is steered otherwise.
pub(crate) fn steer(state: &mut State, row: usize, steer: Steer) {
    stop_waiting(state, row);
    state.units.locomotion[row] = Locomotion::Steered(steer);
}

/// Lets a unit stand where it is.
pub(crate) fn halt(state: &mut State, row: usize) {
    stop_waiting(state, row);
    if !state.units.locomotion[row].stands() {
        state.units.locomotion[row] = Locomotion::Standing;
        state.units.settling_ticks[row] = SETTLING_TICKS;
    }
}

fn stop_waiting(state: &mut State, row: usize) {
    if matches!(
        state.units.locomotion[row],
        Locomotion::AwaitingRoute { .. }
    ) {
        state.planner.cancel(state.units.id[row].number());
    }
}

/// Lets a unit that is under way look for another way to the same target.
pub(crate) fn replan(state: &mut State, row: usize) {
    if let Locomotion::Walking(walk) = &state.units.locomotion[row] {
        let (target, patience) = (*walk.target(), walk.patience());
        await_route(state, row, target, patience);
    }
}

/// Leads a unit that is under way to another place, with the patience that it has left.
fn lead_to(state: &mut State, row: usize, target: GroupPlace) {
    let patience = state.units.locomotion[row].patience();
    await_route(state, row, MoveTarget::Place(target), patience);
}

/// Lets a unit look for a way, while it stands or strolls.
fn await_route(state: &mut State, row: usize, target: MoveTarget, patience: Patience) {
    state.units.locomotion[row] = Locomotion::AwaitingRoute {
        target,
        patience: patience.on_another_way(f32::INFINITY),
        stroll_to: None,
    };
    // A unit that is after another cannot wait: the other may be gone by then.
    let urgent = matches!(target, MoveTarget::Unit { .. });
    request_route(state, row, urgent);
}

/// Puts a unit in line for a route, and lets it go on meanwhile with what it is at.
pub(crate) fn request_route(state: &mut State, row: usize, urgent: bool) {
    let place = state.units.locomotion[row].place();
    let middle = place.and_then(|target| state.ground.cell_at(target.place.middle));
    let group = middle.map(|cell| Group::new(state.clearance_index(row), cell));
    state.planner.request(RouteRequest {
        who: state.units.id[row].number(),
        side: state.units.side[row].0,
        urgent,
        group,
    });
}

/// Whether a unit is on its way somewhere.
pub(crate) fn walks(state: &State, row: usize) -> bool {
    state.units.locomotion[row].walk().is_some()
}
