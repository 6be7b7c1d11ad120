//! Places for a group that is sent to one point.

use crate::geom::Vec2;
use crate::ground::Region;
use crate::motion::places::{Gathering, share_out};
use crate::route::{Reach, Shortfall, footing_towards, reach};
use crate::world::message::Failure;
use crate::world::state::{Place, Scratch, State};

/// A member of the group: its row, and where it will set out from.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Member {
    pub(crate) row: usize,
    pub(crate) from: Vec2,
}

/// Members that find the ground alike and live in the same part of it, and so share a point.
struct Party {
    clearance: u16,
    region: Region,
    reach: Reach,
    /// The widest radius among them, in metres.
    radius: f32,
    /// By number in the list of members.
    members: Vec<usize>,
}

impl Party {
    /// The radius of the disc that its members cover round their point, if nobody else stands there and no wall is near, and some more, in metres.
    fn own_reach_m(&self) -> f32 {
        let widths = (self.members.len() as f32).sqrt() + SPARE_WIDTHS;
        2.0 * self.radius * widths
    }
}

/// How much farther from their point than in the densest disc members may be sent in any case, in widths of the largest.
const SPARE_WIDTHS: f32 = 1.0;

/// Where each member goes that is sent to `goal`, or why it cannot, in the order of `members`.
///
/// The units that will be there first choose their places first, farthest in: those that come after them stand
/// round them, and have no unit to get past.
pub(crate) fn assign_places(
    state: &State,
    scratch: &mut Scratch,
    members: &[Member],
    goal: Vec2,
) -> Vec<Result<Place, Failure>> {
    let mut answers = vec![Err(Failure::Stuck); members.len()];
    let mut parties: Vec<Party> = Vec::new();
    for (number, member) in members.iter().enumerate() {
        let failed = join(
            state,
            &mut scratch.looked,
            &mut parties,
            (members, number),
            goal,
        );
        answers[number] = Err(failed.unwrap_or(Failure::Stuck));
        if failed.is_none() {
            scratch.claims.take(member.row as u32);
        }
    }
    // A stable sort: parties that take as long as each other keep the order of their first members.
    parties.sort_by_cached_key(|party| ticks_to(state, members, party, goal));
    for party in &parties {
        share_places(state, scratch, (members, party), &mut answers);
    }
    stand_together(&mut answers);
    answers
}

/// Gives the members of a party their places. A member for which there is none is sent to the point itself, and stops where others keep it
/// from going on.
fn share_places(
    state: &State,
    scratch: &mut Scratch,
    (members, party): (&[Member], &Party),
    answers: &mut [Result<Place, Failure>],
) {
    let from: Vec<Vec2> = party.members.iter().map(|&k| members[k].from).collect();
    let middle = party.reach.point;
    let assembly = Gathering {
        ground: &state.ground,
        clearance: &state.derived.clearances[usize::from(party.clearance)],
        claims: &scratch.claims,
        point: middle,
        start: party.reach.cell,
        radius: party.radius,
    };
    let found = assembly.find(from.len(), &mut scratch.flood);
    let own_m = party.own_reach_m();
    let places = share_out(&from, &found).into_iter().zip(&from);
    let places = places.map(|(given, from)| {
        // Where others leave no room, nobody walks away from the point to where there is some.
        let most_m = own_m.max(from.distance(middle));
        let place = given.map(|k| found[k as usize]);
        place.filter(|place| place.distance(middle) <= most_m)
    });
    let places: Vec<Option<Vec2>> = places.collect();
    let taken = places.iter().flatten();
    let spread_m = taken
        .map(|place| place.distance(middle))
        .fold(0.0, f32::max);
    for (&number, place) in party.members.iter().zip(places) {
        let row = members[number].row;
        if let Some(place) = place {
            let radius = state.units.radius[row];
            scratch.claims.put(row as u32, place, radius);
        }
        answers[number] = Ok(Place {
            at: place.unwrap_or(middle),
            middle,
            spread_m,
            facing: None,
            within_m: 0.0,
            short: match place {
                Some(_) => party.reach.short,
                None => Some(Shortfall::Crowded),
            },
        });
    }
}

/// Whether a unit at a point is where its group stands, or all but in its place. It does not matter which of them stands in which place.
pub(crate) fn is_at_assembly(state: &State, row: usize, (at, place): (Vec2, &Place)) -> bool {
    let body = state.units.radius[row] + state.derived.widest;
    at.distance(place.middle) <= place.spread_m + body || at.distance(place.at) <= body
}

/// How many ticks the members of a party would take to a point on average, were the way straight.
fn ticks_to(state: &State, members: &[Member], party: &Party, goal: Vec2) -> u64 {
    let ticks = party.members.iter().map(|&member| {
        let Member { row, from } = members[member];
        let step = state.kind_of(row).speed() * state.tick_s();
        // What cannot walk never comes: a cast of infinity saturates.
        (from.distance(goal) / step) as u32
    });
    ticks.map(u64::from).sum::<u64>() / party.members.len().max(1) as u64
}

/// Units that stand about one point count as one assembly, whatever ground they go over: each has arrived among the
/// others.
fn stand_together(answers: &mut [Result<Place, Failure>]) {
    let places = answers.iter().filter_map(|answer| answer.ok());
    let mut assemblies: Vec<(Vec2, f32)> = Vec::new();
    for place in places {
        match assemblies.iter_mut().find(|known| known.0 == place.middle) {
            Some(known) => known.1 = known.1.max(place.spread_m),
            None => assemblies.push((place.middle, place.spread_m)),
        }
    }
    for place in answers.iter_mut().filter_map(|answer| answer.as_mut().ok()) {
        let known = assemblies.iter().find(|known| known.0 == place.middle);
        place.spread_m = known.map_or(place.spread_m, |known| known.1);
    }
}

/// Adds a member to the party with the same clearance map and region, or returns why it cannot go. Adds the number of cells
/// examined to `looked`.
fn join(
    state: &State,
    looked: &mut u32,
    parties: &mut Vec<Party>,
    (members, number): (&[Member], usize),
    goal: Vec2,
) -> Option<Failure> {
    let Member { row, from } = members[number];
    let (clearance, radius) = (state.clearance(row), state.units.radius[row]);
    let index = state.clearance_index(row);
    let footing = footing_towards(&state.ground, clearance, radius, (from, goal));
    let Some(region) = footing.and_then(|footing| clearance.region(footing.cell)) else {
        return Some(Failure::Stuck);
    };
    let known = parties
        .iter()
        .position(|party| party.clearance == index && party.region == region);
    let at = match known {
        Some(at) => at,
        None => {
            let Some(reach) = reach(&state.ground, clearance, radius, region, (from, goal)) else {
                return Some(Failure::Stuck);
            };
            *looked = looked.saturating_add(reach.settled);
            parties.push(Party {
                clearance: index,
                region,
                reach,
                radius,
                members: Vec::new(),
            });
            parties.len() - 1
        }
    };
    let party = &mut parties[at];
    if let Some(why) = party.reach.short
        && !party.reach.leads_nearer(from, goal, state.ground.cell_m())
    {
        return Some(Failure::NoWay(why));
    }
    party.radius = party.radius.max(radius);
    party.members.push(number);
    None
}

/// Claims the places where units will stand, once in a tick in which places are given. `resting` gives the place
/// where the unit in a row will stand after all its orders.
pub(crate) fn claim_places(state: &State, scratch: &mut Scratch, resting: impl Fn(usize) -> Vec2) {
    if scratch.claims_of == state.clock.tick {
        return;
    }
    scratch.claims_of = state.clock.tick;
    let cell_m = state.derived.widest * 2.0;
    scratch.claims.clear(state.ground.bounds(), cell_m);
    for row in 0..state.units.len() {
        let radius = state.units.radius[row];
        scratch.claims.put(row as u32, resting(row), radius);
    }
}
