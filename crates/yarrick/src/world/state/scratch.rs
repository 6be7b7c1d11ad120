//! Workspace: made anew at will, reused between ticks, never part of what a world is. Stages leave
//! messages for later stages of the same tick in it.

use super::Units;
use super::digest::Digest;
use super::place::GroupNo;
use crate::combat::Blow;
use crate::geom::Vec2;
use crate::motion::places::Flood;
use crate::motion::{Contacts, Course, DetourSearch, Obstacle, Turns};
use crate::near::{Claims, Near};
use crate::route::{NoRoute, Route, Router, Shortfall};
use crate::world::ids::{SideId, UnitId};
use crate::world::message::{Event, Failure};
use std::collections::BTreeMap;

/// The events of a tick, in the order in which they happened.
pub(crate) type Events = Vec<Event>;

/// The workspace of a world.
#[derive(Clone, Debug, Default)]
pub(crate) struct Scratch {
    pub(crate) near: Near,
    /// Whether units have come or gone since `near` was built.
    pub(crate) near_is_stale: bool,
    /// Number of cells examined in this tick to find reachable places for orders; counted as planning work.
    pub(crate) looked: u32,
    /// What the planner found in a tick.
    pub(crate) found: Vec<(UnitId, Result<Route, NoRoute>)>,
    /// Points for units that wait for a route to walk to, by row.
    pub(crate) strolls: Vec<(usize, Vec2)>,
    pub(crate) claims: Claims,
    /// The tick for which `claims` holds.
    pub(crate) claims_of: u64,
    pub(crate) flood: Flood,
    pub(crate) assemblies: Assemblies,
    pub(crate) moves: Moves,
    /// Searches for ways round bodies that stand, and those of them that are near.
    pub(crate) detours: DetourSearch,
    pub(crate) obstacles: Vec<Obstacle>,
    /// Those that stand in the way of a unit.
    pub(crate) in_the_way: Vec<u32>,
    /// The rows of units that may be wedged in between others.
    pub(crate) wedged: Vec<u32>,
    pub(crate) digest: Digest,
    /// The foes that units noticed in this tick, by row.
    pub(crate) sightings: Vec<Sighting>,
    /// What legs have to report in this tick, by row.
    pub(crate) reports: Vec<(u32, Report)>,
    /// Units that keep near another, sorted by that and by how near they are.
    pub(crate) followers: Vec<Follower>,
    /// The gap that the follower in each row keeps, in metres; sorted by row.
    pub(crate) ring_m: Vec<(u32, f32)>,
    /// The blows of a tick.
    pub(crate) blows: Vec<Blow<UnitId>>,
    /// Finds out how far it is to depots, for so many more of them in this tick.
    pub(crate) router: Router,
    pub(crate) searches_left: u32,
    /// Units that leave the world at the end of this tick.
    pub(crate) departures: Vec<(UnitId, Departure)>,
}

/// The groups that are under way to points, as they are in a tick.
#[derive(Clone, Debug, Default)]
pub(crate) struct Assemblies {
    /// The tick for which this holds.
    pub(crate) tick: u64,
    pub(crate) all: Vec<Assembly>,
    /// Their numbers in the list, by group, and by the square metre in which their goal lies.
    pub(crate) by_group: BTreeMap<GroupNo, u32>,
    pub(crate) by_cell: BTreeMap<(i32, i32), Vec<u32>>,
}

/// A group that is under way to a point.
#[derive(Clone, Debug)]
pub(crate) struct Assembly {
    pub(crate) side: SideId,
    pub(crate) group: GroupNo,
    /// The point that it was sent to, in metres.
    pub(crate) goal: Vec2,
    /// How far the places of its members reach, in metres.
    pub(crate) spread_m: f32,
    pub(crate) rows: Vec<u32>,
}

impl Assemblies {
    /// Forgets those of an earlier tick.
    pub(crate) fn begin(&mut self, tick: u64) {
        self.tick = tick;
        self.all.clear();
        self.by_group.clear();
        self.by_cell.clear();
    }
}

/// A foe that a unit noticed.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Sighting {
    pub(crate) row: u32,
    pub(crate) foe: UnitId,
    /// Whether the unit may go after it.
    pub(crate) chases: bool,
}

/// What legs report to the activity that sent them to a place.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Report {
    /// They have come to the place, or as near as the others there let them.
    Arrived(Arrival),
    /// Others stood in the way for too long.
    HeldUp,
    /// There is no way.
    NoWay(Failure),
}

/// How legs arrived.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Arrival {
    /// The point that was asked for, in metres.
    pub(crate) goal: Vec2,
    /// Why the way ended short of it.
    pub(crate) short: Option<Shortfall>,
    /// Where the unit is to look now, in radians, if that matters.
    pub(crate) facing: Option<f32>,
}

/// How a unit leaves the world.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Departure {
    /// It died.
    Died,
    /// The game took it out.
    Removed,
    /// It came to the goal of its assault.
    Leaked,
    /// It was under construction, and its side called that off.
    CalledOff,
}

/// A unit that keeps near another.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Follower {
    pub(crate) target: UnitId,
    /// The bits of the gap between them: those of numbers that are not negative are ordered as these are.
    pub(crate) gap_bits: u32,
    pub(crate) unit: UnitId,
    pub(crate) row: u32,
    /// The least gap that it keeps, as bits likewise.
    pub(crate) least_bits: u32,
}

/// Where a unit in formation should be.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Slot {
    /// The point, in metres.
    pub(crate) at: Vec2,
    /// Where the formation looks, in radians.
    pub(crate) facing: f32,
    /// Whether it can go there straight, and will be able to keep to it.
    pub(crate) is_open: bool,
    /// The speed of the formation, in metres a second.
    pub(crate) pace: f32,
    /// How far the formation has still to go, in metres.
    pub(crate) remaining_m: f32,
}

/// The moves of a tick in the making, by row.
#[derive(Clone, Debug, Default)]
pub(crate) struct Moves {
    /// Where each should be that goes in formation.
    pub(crate) slots: Vec<Option<Slot>>,
    /// Whose moves these are.
    pub(crate) of: Vec<UnitId>,
    pub(crate) wanted: Vec<Vec2>,
    pub(crate) steps: Vec<Vec2>,
    pub(crate) limits: Vec<f32>,
    /// The next point of each path, if the unit gets to where it wants to be.
    pub(crate) next: Vec<u32>,
    /// Where each faces afterwards that has to face where it goes, in radians.
    pub(crate) faces: Vec<Option<f32>>,
    /// Where each unit gets to, the others considered.
    pub(crate) at: Vec<Vec2>,
    /// How each would walk were it alone, in metres a second.
    pub(crate) wishes: Vec<Vec2>,
    /// What each has left to walk, in metres.
    pub(crate) remaining_m: Vec<f32>,
    /// How far each walks before its path bends, in metres.
    pub(crate) leg_m: Vec<f32>,
    /// The number of the group with which it walks to a place; `0` for none.
    pub(crate) group: Vec<u64>,
    /// The side that it belongs to.
    pub(crate) side: Vec<u8>,
    /// Whether it has come to where its group assembles, and pushes past those that stand there.
    pub(crate) assembles: Vec<bool>,
    /// The course of each that walks.
    pub(crate) courses: Vec<Option<Course>>,
    /// Those that move, the one with right of way first, or the other way round.
    pub(crate) order: Vec<u32>,
    /// Whether it turned aside for another that it would come upon.
    pub(crate) turned: Vec<bool>,
    /// The steps that the others let them take.
    pub(crate) given: Vec<Vec2>,
    pub(crate) contacts: Contacts,
    /// Whether another pushed it on the way.
    pub(crate) pushed: Vec<bool>,
    /// Whether it is under way, and has not come to where its group assembles.
    pub(crate) passing: Vec<bool>,
    /// Whether one that only passes by pushed it.
    pub(crate) pushed_by_passer: Vec<bool>,
    /// Whether one that goes the same way, with right of way, pushed it.
    pub(crate) waits: Vec<bool>,
    /// Whether one that stands in its way pushed it.
    pub(crate) blocked: Vec<bool>,
    /// Whether it comes upon a body that stands.
    pub(crate) obstructed: Vec<bool>,
    /// Whether a slower unit that goes its way slows it.
    pub(crate) slowed: Vec<bool>,
    /// Whether others come against it.
    pub(crate) oncoming: Vec<bool>,
    /// Whether it has not got on for a while, and backs off from now on.
    pub(crate) held_up: Vec<bool>,
    pub(crate) backs_off: Vec<bool>,
    /// Whether it backs off in this tick.
    pub(crate) backs: Vec<bool>,
    /// Where each is bound for (see [`Walkers::bound`](crate::motion::Walkers::bound)).
    pub(crate) bound: Vec<Vec2>,
    /// Each group with each radius of its members, as bits; and the groups that have several.
    pub(crate) sizes: Vec<(u64, u32)>,
    pub(crate) of_many_sizes: Vec<u64>,
    /// Whether it stood still in the tick before because its path was blocked, or because one ahead of it did so; and whether it does
    /// in this one.
    pub(crate) waited: Vec<bool>,
    pub(crate) stands_by: Vec<bool>,
    /// Whether it goes straight where it wants to be, or waits, and steps aside for nobody.
    pub(crate) goes_straight: Vec<bool>,
    /// Whether each looks round.
    pub(crate) listed: Vec<bool>,
    /// Whether it may be time to look for one to trade places with.
    pub(crate) may_trade: Vec<bool>,
    /// Those that had perhaps better trade their places; and all on their way to an assembly, by group.
    pub(crate) traders: Vec<u32>,
    pub(crate) groups: Vec<(GroupNo, u32)>,
}

impl Moves {
    /// Whose turn it is among the units.
    pub(crate) fn turns(&self) -> Turns<'_> {
        Turns {
            remaining_m: &self.remaining_m,
            groups: &self.group,
        }
    }

    /// Makes the lists ready for units that stand where they are.
    pub(crate) fn begin(&mut self, units: &Units) {
        let (count, positions) = (units.len(), &units.position);
        self.of.clear();
        self.of.extend_from_slice(&units.id);
        self.side.clear();
        self.side.extend(units.side.iter().map(|side| side.0));
        self.wanted.clear();
        self.wanted.extend_from_slice(positions);
        self.traders.clear();
        self.groups.clear();
        // Room is made at once, not when the first of many comes to its place.
        self.traders.reserve(count);
        self.groups.reserve(count);
        refill(&mut self.faces, count, None);
        refill(&mut self.steps, count, Vec2::ZERO);
        refill(&mut self.limits, count, 0.0);
        refill(&mut self.next, count, 0);
        refill(&mut self.remaining_m, count, f32::INFINITY);
        refill(&mut self.leg_m, count, f32::INFINITY);
        refill(&mut self.group, count, 0);
        for flags in [
            &mut self.assembles,
            &mut self.turned,
            &mut self.pushed,
            &mut self.passing,
            &mut self.pushed_by_passer,
            &mut self.waits,
            &mut self.blocked,
            &mut self.obstructed,
            &mut self.slowed,
            &mut self.oncoming,
            &mut self.held_up,
            &mut self.backs_off,
            &mut self.backs,
            &mut self.waited,
            &mut self.stands_by,
            &mut self.goes_straight,
            &mut self.listed,
            &mut self.may_trade,
        ] {
            refill(flags, count, false);
        }
    }

    /// How far any can get in the tick, in metres.
    pub(crate) fn farthest(&self) -> f32 {
        self.limits.iter().copied().fold(0.0, f32::max)
    }
}

fn refill<T: Clone>(list: &mut Vec<T>, count: usize, value: T) {
    list.clear();
    list.resize(count, value);
}
