//! Groups that go in formation.
//!
//! Each member has a place of its own at the end, and its own way there, like anybody who was sent to a point. On the
//! way a *lead*, a point that nobody stands on, walks ahead with the shape round it, and whoever sees its *slot* in the
//! shape keeps to that instead of its way. Where the ground leaves no room for the shape, each goes its own way for as
//! long as that lasts; the lead waits for those that fall behind.

use super::muster::Member;
use super::order::{Errand, Failure, Place};
use super::state::{Scratch, State};
use super::tasks::claim_places;
use super::{OrderNo, UnitId, World};
use crate::combat::Weapon;
use crate::geom::{Vec2, angle, canonical};
use crate::ground::Region;
use crate::motion::formation::{Body, Form, Formation, arranged, placed};
use crate::motion::places::Gathering;
use crate::route::{Reach, Shortfall, footing_or_free, reach};

/// A group under way in formation, or waiting for its turn to be.
#[derive(Clone, Debug)]
pub(crate) struct March {
    pub(crate) order: OrderNo,
    pub(crate) formation: Formation,
    /// The middle of its places, in metres, and where it looks there, in radians.
    pub(crate) middle: Vec2,
    pub(crate) facing: f32,
    pub(crate) marchers: Vec<Marcher>,
    pub(crate) lead: Option<Lead>,
}

/// A member of a march.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Marcher {
    pub(crate) unit: UnitId,
    /// Its slot: ahead of the middle and to the left of it, in metres.
    pub(crate) offset: Vec2,
    /// The least that it has been off its slot since it was in it, in metres, and for how many ticks it has not got
    /// nearer than that.
    pub(crate) best_m: f32,
    pub(crate) stale: u32,
}

impl Marcher {
    pub(crate) fn new(unit: UnitId, offset: Vec2) -> Marcher {
        Marcher {
            unit,
            offset,
            best_m: f32::INFINITY,
            stale: 0,
        }
    }
}

/// What a march follows.
#[derive(Clone, Debug)]
pub(crate) struct Lead {
    pub(crate) path: Vec<Vec2>,
    pub(crate) next: u32,
    pub(crate) at: Vec2,
    pub(crate) facing: f32,
    /// How many ticks it has stood at the end of its path.
    pub(crate) at_end: u32,
}

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
    fn body(&self, row: usize) -> Body {
        Body {
            radius_m: self.units.radius[row],
            rank: rank(self.kind(self.units.kind[row]).weapon),
        }
    }

    /// The offsets of some units in a formation, given where each comes from.
    pub(crate) fn arranged(
        &self,
        formation: &Formation,
        members: &[Member],
        facing: f32,
    ) -> Vec<Vec2> {
        let bodies: Vec<Body> = members.iter().map(|member| self.body(member.row)).collect();
        let from: Vec<Vec2> = members.iter().map(|member| member.from).collect();
        arranged(formation, &bodies, &from, facing)
    }
}

/// What each member of a group that is to go to a point in formation is to do, and the march that they make.
pub(crate) fn form_up(
    state: &State,
    scratch: &mut Scratch,
    members: &[Member],
    (goal, formation): (Vec2, &Formation),
) -> (Vec<Errand>, March) {
    let from = members.iter().map(|member| member.from).sum::<Vec2>();
    let from = from / members.len().max(1) as f32;
    let way = angle::of(goal - from).unwrap_or(0.0);
    let facing = formation.facing.map_or(way, angle::wrap);
    let middle = middle(state, members, goal);
    let offsets = state.arranged(formation, members, way);
    claim_places(state, scratch);
    let stands: Vec<(Member, Vec2)> = members.iter().copied().zip(offsets).collect();
    let places = places(state, scratch, &stands, (goal, middle, facing));
    let goal = canonical(goal);
    let errands = places.into_iter().map(|place| Errand { goal, place });
    let marcher =
        |(member, offset): &(Member, Vec2)| Marcher::new(state.units.id[member.row], *offset);
    let march = March {
        order: OrderNo(0),
        formation: *formation,
        middle,
        facing,
        marchers: stands.iter().map(marcher).collect(),
        lead: None,
    };
    (errands.collect(), march)
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
        let index = state.passage_index(member.row);
        let found = self.known.iter().find(|k| k.0 == index && k.1 == region);
        if let Some((_, _, reach)) = found {
            return *reach;
        }
        let (passage, radius) = (state.passage(member.row), state.units.radius[member.row]);
        let reach = reach(&state.ground, passage, radius, region, (member.from, to));
        self.known.push((index, region, reach));
        reach
    }
}

/// The part of the ground that a member lives in.
fn region(state: &State, member: &Member) -> Option<Region> {
    let (passage, radius) = (state.passage(member.row), state.units.radius[member.row]);
    let footing = footing_or_free(&state.ground, passage, radius, member.from)?;
    passage.region(footing.cell)
}

/// The place of each of some members at the end, given their slots: the slot itself, or where that lies on closed
/// ground, or on somebody else's, a free place near it.
pub(crate) fn places(
    state: &State,
    scratch: &mut Scratch,
    stands: &[(Member, Vec2)],
    (goal, middle, facing): (Vec2, Vec2, f32),
) -> Vec<Result<Place, Failure>> {
    for (member, _) in stands {
        scratch.claims.take(member.row as u32);
    }
    // Those whose slots are free keep them: whoever is displaced does not drive others out.
    let mut found: Vec<Option<Vec2>> = vec![None; stands.len()];
    for own_slots in [true, false] {
        for (k, (member, offset)) in stands.iter().enumerate() {
            let slot = placed(*offset, middle, facing);
            if found[k].is_none() {
                found[k] = match own_slots {
                    true => own_place(state, scratch, member, slot),
                    false => near_place(state, scratch, member, (slot, middle)),
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
            short: match place {
                Some(_) => reach.short,
                None => Some(Shortfall::Crowded),
            },
        })
    };
    found.iter().zip(stands).map(answer).collect()
}

/// Whether a member can stand at a point, as far as the ground goes, and get there.
fn can_stand(state: &State, member: &Member, at: Vec2) -> bool {
    let passage = state.passage(member.row);
    let leads_there = || {
        let to = passage.region(state.ground.cell_at(at)?)?;
        Some(passage.leads_to(region(state, member)?, to))
    };
    let radius = state.units.radius[member.row];
    leads_there() == Some(true) && state.going(member.row).disc_is_clear(at, radius)
}

/// A slot as the place of a member, if it is free and can be reached.
fn own_place(state: &State, scratch: &Scratch, member: &Member, slot: Vec2) -> Option<Vec2> {
    let is_free = scratch.claims.is_free(slot, state.units.radius[member.row]);
    (is_free && can_stand(state, member, slot)).then_some(slot)
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
    let point = points
        .into_iter()
        .find(|at| can_stand(state, member, *at))?;
    let gathering = Gathering {
        ground: &state.ground,
        passage: state.passage(member.row),
        claims: &scratch.claims,
        point,
        radius: state.units.radius[member.row],
    };
    gathering.find(1, &mut scratch.flood).first().copied()
}

/// A group that goes in formation, to be looked at.
#[derive(Clone, Debug, PartialEq)]
pub struct MarchView {
    /// The order that it carries out.
    pub order: OrderNo,
    /// The shape.
    pub form: Form,
    /// Where its middle is now, in metres, and where it looks, in radians: ahead of the members, if they fall behind.
    /// `None` before it has set out, and after it has come to its end.
    pub lead: Option<(Vec2, f32)>,
    /// Its members, and where each is to be now, in metres.
    pub slots: Vec<(UnitId, Vec2)>,
}

impl World {
    /// The groups that go in formation, in the order in which they were sent.
    pub fn marches(&self) -> impl Iterator<Item = MarchView> + '_ {
        self.state.marches.iter().map(|march| {
            let lead = march.lead.as_ref().map(|lead| (lead.at, lead.facing));
            let (middle, facing) = lead.unwrap_or((march.middle, march.facing));
            let slot = |marcher: &Marcher| (marcher.unit, placed(marcher.offset, middle, facing));
            MarchView {
                order: march.order,
                form: march.formation.form,
                lead,
                slots: march.marchers.iter().map(slot).collect(),
            }
        })
    }
}
