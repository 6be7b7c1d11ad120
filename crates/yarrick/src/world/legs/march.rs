//! Groups in formation: slots, places at the end, and the members.

use super::places::Member;
use crate::combat::Weapon;
use crate::geom::{Vec2, angle, canonical};
use crate::ground::{Cell, Region};
use crate::motion::formation::{Formation, FormationMember, arranged, placed};
use crate::motion::places::Gathering;
use crate::route::{Reach, Shortfall, cell_in_reach, footing_or_free, reach};
use crate::world::ids::UnitId;
use crate::world::message::Failure;
use crate::world::state::{Destination, GroupNo, March, Marcher, Place, Scratch, State};

/// Weapons that reach no farther than this are for close fighting, in metres.
const CLOSE_M: f32 = 2.5;

/// The rank of a kind in formations: close fighters in front, behind them those that strike from afar, then those that
/// do not strike.
fn rank(weapon: Option<Weapon>) -> u8 {
    match weapon {
        Some(weapon) if weapon.range_m <= CLOSE_M => 0,
        Some(_) => 1,
        None => 2,
    }
}

impl State {
    fn formation_member(&self, row: usize) -> FormationMember {
        FormationMember {
            radius_m: self.units.radius[row],
            rank: rank(self.kind_of(row).weapon),
        }
    }

    /// The offsets of some units in a formation, given where each comes from.
    fn slots(&self, formation: &Formation, members: &[Member], facing: f32) -> Vec<Vec2> {
        let bodies: Vec<FormationMember> = members
            .iter()
            .map(|member| self.formation_member(member.row))
            .collect();
        let from: Vec<Vec2> = members.iter().map(|member| member.from).collect();
        arranged(formation, &bodies, &from, facing)
    }
}

/// What each member of a group that is to go to a point in formation is to do, and the march that they make. Places
/// must have been claimed.
pub(crate) fn form_up(
    state: &State,
    scratch: &mut Scratch,
    members: &[Member],
    (goal, formation): (Vec2, &Formation),
) -> (Vec<Destination>, March) {
    let from = members.iter().map(|member| member.from).sum::<Vec2>();
    let from = from / members.len().max(1) as f32;
    let way = angle::of(goal - from).unwrap_or(0.0);
    let facing = formation.facing.map_or(way, angle::wrap);
    let middle = middle(state, members, goal);
    let offsets = state.slots(formation, members, way);
    let stands: Vec<(Member, Vec2)> = members.iter().copied().zip(offsets).collect();
    let places = places(state, scratch, &stands, (goal, middle, facing));
    let goal = canonical(goal);
    let destinations = places.into_iter().map(|place| Destination { goal, place });
    let marcher =
        |(member, offset): &(Member, Vec2)| Marcher::new(state.units.id[member.row], *offset);
    let march = March {
        group: GroupNo::default(),
        order: None,
        formation: formation.clone(),
        middle,
        facing,
        members: stands.iter().map(marcher).collect(),
        guide: None,
        has_gaps: false,
    };
    (destinations.collect(), march)
}

/// The point round which a group can form that is sent to a goal: where the first of them can get.
fn middle(state: &State, members: &[Member], goal: Vec2) -> Vec2 {
    let mut known = Reaches::default();
    let found = members
        .iter()
        .find_map(|member| known.of(state, member, goal));
    found.map_or(goal, |reach| reach.point)
}

/// How near the members of a group can get to a point: those that go over the ground alike and live in the same part of
/// it get equally near, and are asked once.
#[derive(Default)]
struct Reaches {
    known: Vec<(u16, Region, Option<Reach>)>,
}

impl Reaches {
    fn of(&mut self, state: &State, member: &Member, to: Vec2) -> Option<Reach> {
        let region = region(state, member)?;
        let index = state.clearance_index(member.row);
        let found = self.known.iter().find(|k| k.0 == index && k.1 == region);
        if let Some((_, _, reach)) = found {
            return *reach;
        }
        let (clearance, radius) = (state.clearance(member.row), state.units.radius[member.row]);
        let reach = reach(&state.ground, clearance, radius, region, (member.from, to));
        self.known.push((index, region, reach));
        reach
    }
}

/// The part of the ground that a member lives in.
fn region(state: &State, member: &Member) -> Option<Region> {
    let (clearance, radius) = (state.clearance(member.row), state.units.radius[member.row]);
    let footing = footing_or_free(&state.ground, clearance, radius, member.from)?;
    clearance.region(footing.cell)
}

/// The place of each of some members at the end, given their slots: the slot itself, or where that lies on closed
/// ground, or on somebody else's, a free place near it.
fn places(
    state: &State,
    scratch: &mut Scratch,
    stands: &[(Member, Vec2)],
    (goal, middle, facing): (Vec2, Vec2, f32),
) -> Vec<Result<Place, Failure>> {
    for (member, _) in stands {
        scratch.claims.take(member.row as u32);
    }
    // Those whose slots are free keep them: a member that is displaced does not drive others out.
    let mut found: Vec<Option<Vec2>> = vec![None; stands.len()];
    for own_slots in [true, false] {
        for (k, (member, offset)) in stands.iter().enumerate() {
            let slot = placed(*offset, middle, facing);
            if found[k].is_none() {
                found[k] = if own_slots {
                    own_place(state, scratch, member, slot)
                } else {
                    near_place(state, scratch, member, (slot, middle))
                };
                if let Some(place) = found[k] {
                    let radius = state.units.radius[member.row];
                    scratch.claims.put(member.row as u32, place, radius);
                }
            }
        }
    }
    let outmost = found.iter().flatten().map(|place| place.distance(middle));
    let spread_m = outmost.fold(0.0, f32::max);
    let mut known = Reaches::default();
    let answer = |(place, (member, _)): (&Option<Vec2>, &(Member, Vec2))| {
        let Some(reach) = known.of(state, member, goal) else {
            return Err(Failure::Stuck);
        };
        if let Some(why) = reach.short
            && !reach.leads_nearer(member.from, goal, state.ground.cell_m())
        {
            return Err(Failure::NoWay(why));
        }
        Ok(Place {
            at: place.unwrap_or(middle),
            middle,
            spread_m,
            facing: Some(facing),
            within_m: 0.0,
            short: match place {
                Some(_) => reach.short,
                None => Some(Shortfall::Crowded),
            },
        })
    };
    found.iter().zip(stands).map(answer).collect()
}

/// The cell from which a member gets straight to a point, if it can stand there as far as the ground goes, and get there.
fn foothold(state: &State, member: &Member, at: Vec2) -> Option<Cell> {
    let (clearance, radius) = (state.clearance(member.row), state.units.radius[member.row]);
    if !state.ground_view(member.row).disc_is_clear(at, radius) {
        return None;
    }
    let region = region(state, member)?;
    cell_in_reach(&state.ground, clearance, radius, region, at).ok()
}

/// A slot as the place of a member, if it is free and can be reached.
fn own_place(state: &State, scratch: &Scratch, member: &Member, slot: Vec2) -> Option<Vec2> {
    let is_free = scratch.claims.is_free(slot, state.units.radius[member.row]);
    (is_free && foothold(state, member, slot).is_some()).then_some(slot)
}

/// From a slot towards the middle of the formation it is looked so often for ground to stand on.
const LOOKS: u32 = 64;

/// A free place for a member whose slot is none: the nearest to where the ground opens on the way from the slot to the
/// middle of the formation.
fn near_place(
    state: &State,
    scratch: &mut Scratch,
    member: &Member,
    (slot, middle): (Vec2, Vec2),
) -> Option<Vec2> {
    let points = (0..=LOOKS).map(|k| slot.lerp(middle, k as f32 / LOOKS as f32));
    let mut points = points.into_iter();
    let (point, start) = points.find_map(|at| Some((at, foothold(state, member, at)?)))?;
    let gathering = Gathering {
        ground: &state.ground,
        clearance: state.clearance(member.row),
        claims: &scratch.claims,
        point,
        start,
        radius: state.units.radius[member.row],
    };
    gathering.find(1, &mut scratch.flood).first().copied()
}

/// Gives the members that are left places and slots anew, so that the gaps close. Places must have been claimed.
pub(crate) fn places_in_formation(
    state: &State,
    scratch: &mut Scratch,
    march: &mut March,
) -> Vec<(usize, Place)> {
    let goal = march.middle;
    stand_anew(state, scratch, march, goal)
}

/// Gives the members places and slots anew as near to a goal as they get now. Places must have been claimed.
pub(super) fn form_anew(
    state: &State,
    scratch: &mut Scratch,
    march: &mut March,
    goal: Vec2,
) -> Vec<(usize, Place)> {
    march.middle = middle(state, &march_members(state, march), goal);
    march.guide = None;
    stand_anew(state, scratch, march, goal)
}

fn stand_anew(
    state: &State,
    scratch: &mut Scratch,
    march: &mut March,
    goal: Vec2,
) -> Vec<(usize, Place)> {
    let members = march_members(state, march);
    let facing = march
        .guide
        .as_ref()
        .map_or(march.facing, |guide| guide.facing);
    let offsets = state.slots(&march.formation, &members, facing);
    let stands: Vec<(Member, Vec2)> = members.into_iter().zip(offsets).collect();
    let places = places(state, scratch, &stands, (goal, march.middle, march.facing));
    let mut given = Vec::new();
    for ((marcher, (member, offset)), place) in march.members.iter_mut().zip(stands).zip(places) {
        *marcher = Marcher {
            place: place.ok().or(marcher.place),
            ..Marcher::new(marcher.unit, offset)
        };
        given.extend(place.ok().map(|place| (member.row, place)));
    }
    given
}

/// The members of a march that live, where they are now.
fn march_members(state: &State, march: &March) -> Vec<Member> {
    let rows = march
        .members
        .iter()
        .filter_map(|member| state.units.row(member.unit));
    rows.map(|row| Member {
        row,
        from: state.units.position[row],
    })
    .collect()
}

/// The number of the march of a group, if it goes in formation.
pub(super) fn march_of(state: &State, group: GroupNo) -> Option<usize> {
    let known = state
        .marches
        .binary_search_by_key(&group, |march| march.group);
    known.ok()
}

/// The place that a unit takes up at the end of its march, if ranks have closed since it was sent.
pub(crate) fn join_march(state: &State, unit: UnitId, group: GroupNo) -> Option<Place> {
    let march = &state.marches[march_of(state, group)?];
    let member = march.members.iter().find(|member| member.unit == unit)?;
    member.place
}

/// Takes a unit out of its march. It leaves a gap if it did not come to its place, or goes on elsewhere.
pub(crate) fn leave_march(state: &mut State, unit: UnitId, group: GroupNo, leaves_gap: bool) {
    if let Some(march) = march_of(state, group)
        && let march = &mut state.marches[march]
        && let Some(at) = march.members.iter().position(|member| member.unit == unit)
    {
        march.members.remove(at);
        march.has_gaps |= leaves_gap;
    }
}
