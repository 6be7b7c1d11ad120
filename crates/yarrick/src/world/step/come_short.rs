//! Where standing bodies leave a unit no way to its place, it stops as near to that as it can get.
//!
//! ```text
//!          o o                o   bodies that stand
//!         o g o               g   the goal of the unit a
//!   a → q  o o                q   the nearest free place to g that a can reach
//! ```

use crate::geom::Vec2;
use crate::route::Shortfall;
use crate::world::legs;
use crate::world::state::{
    Arrival, Claim, Locomotion, Owner, Place, Report, SETTLING_TICKS, Scratch, State, Walk,
};

/// Maximum distance to where its group assembles at which a unit stops short of its place, in its radii, besides the radius of the widest
/// body. Farther off it waits for the others to go away, and gives up in the end.
const NEAR_RADII: f32 = 12.0;

/// A place is worth the way if it is this many radii nearer to the goal.
const NEARER_RADII: f32 = 1.0;

/// Two ways are one if the angle between their first legs has at least this cosine.
const SAME_COS: f32 = 0.9;

/// Seconds without progress after which a way is in vain.
const IN_VAIN_AFTER_S: u32 = 2;

/// Number of looks for a way round in vain before a unit comes short. They take some four seconds.
const AFTER_LOOKS: u8 = 3;

/// The same for a unit that goes on elsewhere from its place: less than two seconds.
const LOOKS_IN_PASSING: u8 = 1;

/// After how many looks in vain a unit comes short.
pub(super) fn after_looks(state: &State, row: usize) -> u8 {
    let target = state.units.locomotion[row].place();
    let passes = target.is_some_and(|target| target.claim == Claim::Passes);
    if passes {
        LOOKS_IN_PASSING
    } else {
        AFTER_LOOKS
    }
}

/// Sends a unit to the free place nearest to its goal, or lets it arrive where it is, if it is near. Gives the work that it took.
pub(super) fn run(state: &mut State, scratch: &mut Scratch, row: usize) -> u32 {
    let (from, radius) = (state.units.position[row], state.units.radius[row]);
    let Some(target) = state.units.locomotion[row].place().copied() else {
        return 0;
    };
    let place = target.place;
    let off_m = from.distance(place.middle);
    let makes_room = state.units.legs_owner[row] == Owner::Nobody;
    let near_m = place.spread_m + NEAR_RADII * radius + state.derived.widest;
    // Where no place was found for it there is nothing to wait for.
    let has_place = place.short != Some(Shortfall::Crowded);
    if makes_room || has_place && off_m > near_m {
        return 0;
    }
    if target.claim == Claim::Passes {
        stop(state, scratch, row, (target.goal, &place));
        return 0;
    }
    // Pushing past units that could make room has failed before.
    let yields = |other: usize| state.units.locomotion[other].stands().then_some(false);
    let (way, work) = legs::nearest_place(state, scratch, (row, place.middle), yields);
    let nearest = way.last().copied().unwrap_or(from);
    let is_nearer = nearest.distance(place.middle) <= off_m - NEARER_RADII * radius;
    let stops = !is_nearer || is_in_vain(state, row, &way);
    let at = if stops { from } else { nearest };
    let is_there = legs::is_at_assembly(state, row, (at, &place));
    let crowded = (!is_there).then_some(Shortfall::Crowded);
    let short = place.short.or(crowded);
    let place = Place { at, short, ..place };
    if stops {
        stop(state, scratch, row, (target.goal, &place));
    } else if let Locomotion::Walking(walk) = &mut state.units.locomotion[row] {
        let all = walk.path().len() as u32;
        walk.set_place(place);
        walk.take_detour(from, way, all);
    }
    work
}

/// Whether a unit is on the same way already, and makes no progress along it: the gap there is a hair too narrow.
pub(super) fn is_in_vain(state: &State, row: usize, way: &[Vec2]) -> bool {
    let (at, second) = (state.units.position[row], state.rules.ticks_per_second);
    let towards = |point: &Vec2| (*point - at).normalize_or_zero();
    let same = |walk: &Walk| {
        let first = way.first().zip(walk.ahead().first());
        first.is_some_and(|(new, old)| towards(new).dot(towards(old)) > SAME_COS)
    };
    let walk = state.units.locomotion[row].walk();
    walk.is_some_and(|walk| {
        let gets_on = walk.patience().all() < IN_VAIN_AFTER_S * second;
        walk.is_on_detour() && !gets_on && same(walk)
    })
}

/// Lets a unit arrive where it is.
fn stop(state: &mut State, scratch: &mut Scratch, row: usize, (goal, place): (Vec2, &Place)) {
    let is_known = |(known, _): &(u32, Report)| *known as usize == row;
    if scratch.reports.iter().any(is_known) {
        return;
    }
    state.units.settling_ticks[row] = SETTLING_TICKS;
    let arrival = Arrival {
        goal,
        short: place.short,
        facing: place.facing,
    };
    scratch.reports.push((row as u32, Report::Arrived(arrival)));
}
