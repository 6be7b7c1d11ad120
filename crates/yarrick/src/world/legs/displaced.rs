//! Places anew: where the ground has changed, units under way to a place that is no longer the right one get another.
//!
//! A place is no longer the right one if its unit cannot stand there any more or get there, or if it lies short of the
//! goal, and may do so no longer. The stage that gives places anew comes later in the tick, once for all changes.

use super::march::{form_anew, march_of};
use super::{Member, assign_places, claim_places, lead_to};
use crate::geom::{Rect, Vec2};
use crate::ground::Patch;
use crate::route::{Shortfall, cell_in_reach};
use crate::world::message::Failure;
use crate::world::state::{GroupNo, GroupPlace, Place, Scratch, State};

/// Notes a unit under way whose place may no longer be the right one after a change of the ground in an area, which touched some
/// cells, and may have regrouped what hangs together.
pub(super) fn note_displaced(
    state: &mut State,
    row: usize,
    (area, touched, regrouped): (&Rect, Patch, bool),
) {
    let Some(target) = state.units.locomotion[row].place().copied() else {
        return;
    };
    let is_near = |at: Vec2| touched.contains(state.ground.nearest_cell(at));
    let concerns = regrouped
        || area.touches_disc(target.place.at, state.units.radius[row])
        || is_near(target.place.middle)
        || is_near(state.units.position[row]);
    let walk = state.units.locomotion[row].walk();
    let is_short =
        falls_short(target.place.short) || falls_short(walk.and_then(|walk| walk.short()));
    if is_short || concerns && !can_take(state, row, &target.place, area) {
        note(state, row);
    }
}

/// Notes a unit that sets out for a place which may no longer be the right one: it was given earlier, when the order was.
pub(crate) fn check_place(state: &mut State, row: usize, (goal, place): (Vec2, &Place)) {
    let everywhere = state.ground.bounds();
    let goal_has_opened = falls_short(place.short) && can_reach(state, row, goal);
    if goal_has_opened || !can_take(state, row, place, &everywhere) {
        note(state, row);
    }
}

/// Whether a unit can walk to a point now.
pub(crate) fn can_reach(state: &State, row: usize, point: Vec2) -> bool {
    let clearance = state.clearance(row);
    let here = state.ground.cell_at(state.units.position[row]);
    let region = here.and_then(|cell| clearance.region(cell));
    let radius = state.units.radius[row];
    region.is_some_and(|region| {
        cell_in_reach(&state.ground, clearance, radius, region, point).is_ok()
    })
}

fn note(state: &mut State, row: usize) {
    let id = state.units.id[row];
    if !state.unrest.displaced.contains(&id) {
        state.unrest.displaced.push(id);
    }
}

/// Whether a place lies off its goal for a reason that can pass.
fn falls_short(short: Option<Shortfall>) -> bool {
    matches!(
        short,
        Some(Shortfall::Closed | Shortfall::TooNarrow | Shortfall::CutOff)
    )
}

/// Whether a unit can stand in a place, as far as the ground in an area goes, and its group can assemble there.
fn can_take(state: &State, row: usize, place: &Place, area: &Rect) -> bool {
    let radius = state.units.radius[row];
    let view = state.ground_view(row);
    let is_clear = !area.touches_disc(place.at, radius) || view.disc_is_clear(place.at, radius);
    let here = state.ground.cell_at(state.units.position[row]);
    // A unit in closed ground has to get out of that first.
    let is_free = here.is_some_and(|cell| state.clearance(row).is_open(cell));
    is_clear && (!is_free || can_reach(state, row, place.middle))
}

/// Units that were sent to one point together.
type Party = (GroupNo, [u32; 2]);

/// Gives places anew to the units that were noted. A unit on a link keeps its place until it comes off.
pub(crate) fn give_places_anew(state: &mut State, scratch: &mut Scratch) {
    if state.unrest.displaced.is_empty() {
        return;
    }
    let displaced = core::mem::take(&mut state.unrest.displaced);
    let mut parties: Vec<(Party, usize)> = Vec::new();
    for unit in displaced {
        let Some(row) = state.units.row(unit) else {
            continue;
        };
        let locomotion = &state.units.locomotion[row];
        if locomotion.walk().is_some_and(|walk| walk.is_on_link()) {
            state.unrest.displaced.push(unit);
        } else if let Some(target) = locomotion.place() {
            let goal = target.goal.to_array().map(f32::to_bits);
            parties.push(((target.group, goal), row));
        }
    }
    parties.sort_unstable();
    claim_places(state, scratch, |row| {
        let target = state.units.locomotion[row].place();
        target.map_or(state.units.position[row], |target| target.place.at)
    });
    for party in parties.chunk_by(|a, b| a.0 == b.0) {
        let rows: Vec<usize> = party.iter().map(|(_, row)| *row).collect();
        place_party(state, scratch, &rows);
    }
}

/// Gives places anew to units that were sent to one point.
fn place_party(state: &mut State, scratch: &mut Scratch, rows: &[usize]) {
    let Some(target) = rows
        .first()
        .and_then(|row| state.units.locomotion[*row].place().copied())
    else {
        return;
    };
    if let Some(at) = march_of(state, target.group) {
        let mut march = state.marches.remove(at);
        let given = form_anew(state, scratch, &mut march, target.goal);
        state.marches.insert(at, march);
        for (row, place) in given {
            lead(state, row, target.group, place);
        }
        return;
    }
    let member = |&row: &usize| Member {
        row,
        from: state.units.position[row],
    };
    let members: Vec<Member> = rows.iter().map(member).collect();
    let places = assign_places(state, scratch, &members, target.goal);
    for (&row, place) in rows.iter().zip(places) {
        let place = match place {
            Ok(place) => place,
            // It is as near already as it can get.
            Err(Failure::NoWay(why)) => Place {
                short: Some(why),
                ..Place::alone(state.units.position[row])
            },
            Err(_) => continue,
        };
        lead(state, row, target.group, place);
    }
}

/// Leads a unit of a group to another place, unless it is the one that it is led to already.
fn lead(state: &mut State, row: usize, group: GroupNo, place: Place) {
    let known = state.units.locomotion[row].place().copied();
    let Some(target) = known.filter(|known| known.group == group) else {
        return;
    };
    let place = Place {
        facing: place.facing.or(target.place.facing),
        within_m: target.place.within_m,
        ..place
    };
    if place != target.place {
        lead_to(state, row, GroupPlace { place, ..target });
    }
}
