//! What a world is: all that decides how it goes on, and the workspace that does not.

use super::activity::Activity;
use super::event::Event;
use super::flocks::Tended;
use super::march::March;
use super::order::Task;
use super::sides::Stances;
use super::units::Units;
use super::{Command, ContextRules, Kind, KindId, OrderNo, Side, UnitId};
use crate::combat::Blow;
use crate::geom::{Block, Vec2};
use crate::ground::{Going, Ground, Passage};
use crate::motion::places::Flood;
use crate::motion::{Contacts, Course};
use crate::near::{Claims, Near};
use crate::route::{NoRoute, Planner, Route};

/// All that decides how the world goes on.
#[derive(Clone, Debug)]
pub(crate) struct State {
    pub(crate) tick: u64,
    pub(crate) seed: u64,
    pub(crate) ticks_per_second: u32,
    pub(crate) plan_budget: u32,
    pub(crate) ground: Ground,
    pub(crate) sides: Vec<Side>,
    pub(crate) stances: Stances,
    pub(crate) context_rules: ContextRules,
    pub(crate) kinds: Vec<Kind>,
    /// The ground as bodies find it, one for each class of body that the kinds need.
    pub(crate) passages: Vec<Passage>,
    /// Which passage each kind uses.
    pub(crate) passage_of: Vec<u16>,
    pub(crate) widest: f32,
    /// How tall the tallest kind is, and how far the body of the largest reaches.
    pub(crate) tallest: f32,
    pub(crate) farthest: f32,
    pub(crate) units: Units,
    /// Commands for the next tick, in the order of arrival.
    pub(crate) commands: Vec<Command>,
    /// Units that leave at the end of the next tick.
    pub(crate) leaving: Vec<UnitId>,
    /// Units that were struck down in this tick.
    pub(crate) slain: Vec<UnitId>,
    /// Finds routes for those that wait.
    pub(crate) planner: Planner,
    /// Groups that go in formation, or will.
    pub(crate) marches: Vec<March>,
    pub(crate) flocks: Vec<Tended>,
    /// Units that stand in closed ground, since something was built where they were.
    pub(crate) trapped: Vec<UnitId>,
    pub(crate) last_order: OrderNo,
    pub(crate) checksum: u64,
}

impl State {
    pub(crate) fn tick_s(&self) -> f32 {
        1.0 / self.ticks_per_second as f32
    }

    pub(crate) fn kind(&self, id: KindId) -> &Kind {
        &self.kinds[usize::from(id.0)]
    }

    /// The ground as the unit in a row finds it.
    pub(crate) fn going(&self, row: usize) -> Going<'_> {
        let gait = self.kind(self.units.kind[row]).gait;
        self.ground.going(gait)
    }

    /// The passage of the unit in a row.
    pub(crate) fn passage(&self, row: usize) -> &Passage {
        &self.passages[usize::from(self.passage_index(row))]
    }

    pub(crate) fn passage_index(&self, row: usize) -> u16 {
        self.passage_of[usize::from(self.units.kind[row].0)]
    }

    /// Whether the unit in a row thinks in this tick: all do several times a second, spread over
    /// the ticks.
    pub(crate) fn thinks_now(&self, row: usize) -> bool {
        let (slot, _) = self.units.id[row].parts();
        let every = u64::from((self.ticks_per_second / THOUGHTS_PER_SECOND).max(1));
        (self.tick + u64::from(slot)).is_multiple_of(every)
    }

    /// The ground that the unit in a row covers, for a building with a footprint.
    pub(crate) fn block(&self, row: usize) -> Option<Block> {
        let size = self.kind(self.units.kind[row]).footprint_m?;
        Some(Block {
            centre: self.units.position[row],
            half: size * 0.5,
            facing: self.units.facing[row],
        })
    }

    /// The metres between the edges of two units, `0` where they touch. A footprint counts as the
    /// box that it is, unless both have one: the first then counts as round.
    pub(crate) fn gap_m(&self, a: usize, b: usize) -> f32 {
        match (self.block(a), self.block(b)) {
            (Some(block), None) => {
                let gap = block.distance(self.units.position[b]) - self.units.radius[b];
                gap.max(0.0)
            }
            _ => self.gap_from(self.units.position[a], self.units.radius[a], b),
        }
    }

    /// The metres between the edges of a disc and a unit, `0` where they touch.
    pub(crate) fn gap_from(&self, at: Vec2, radius: f32, unit: usize) -> f32 {
        let edge = match self.block(unit) {
            Some(block) => block.distance(at),
            None => at.distance(self.units.position[unit]) - self.units.radius[unit],
        };
        (edge - radius).max(0.0)
    }

    /// Whether the unit in a row has the order never to take a step.
    pub(crate) fn stands_firm(&self, row: usize) -> bool {
        let first = self.units.orders[row].first();
        first.is_some_and(|order| matches!(order.task, Task::Hold))
    }

    /// Whether the unit in a row stands and strikes.
    pub(crate) fn is_at_work(&self, row: usize) -> bool {
        let Some(bout) = self.units.bout[row] else {
            return false;
        };
        let range = self.kind(self.units.kind[row]).weapon;
        let foe = self.units.row(bout.foe);
        let stands = matches!(self.units.activity[row], Activity::Stand);
        stands
            && foe
                .zip(range)
                .is_some_and(|(foe, weapon)| self.gap_m(row, foe) <= weapon.range_m)
    }

    /// What the unit in a row guards.
    pub(crate) fn ward(&self, row: usize) -> Option<Ward> {
        match &self.units.orders[row].first()?.task {
            Task::Guard { target } => {
                let target = self.units.row(*target)?;
                Some(Ward {
                    at: self.units.position[target],
                    radius: self.units.radius[target],
                })
            }
            Task::GuardPlace(errand) => Some(Ward {
                at: errand.place.map_or(errand.goal, |place| place.middle),
                radius: 0.0,
            }),
            _ => None,
        }
    }

    /// The top speed of the unit in a row on the ground where it stands, in metres a second.
    pub(crate) fn top_speed(&self, row: usize) -> f32 {
        let here = self.going(row).speed_at(self.units.position[row]);
        self.kind(self.units.kind[row]).speed * here
    }
}

/// How often in a second a unit looks round and thinks again.
const THOUGHTS_PER_SECOND: u32 = 5;

/// What a unit guards: a disc, in metres.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Ward {
    pub(crate) at: Vec2,
    pub(crate) radius: f32,
}

/// Workspace: made anew at will, reused between ticks, never part of what a world is.
#[derive(Clone, Debug, Default)]
pub(crate) struct Scratch {
    pub(crate) near: Near,
    /// Whether units have come or gone since `near` was built.
    pub(crate) near_is_stale: bool,
    /// What the planner found in a tick.
    pub(crate) found: Vec<(UnitId, Result<Route, NoRoute>)>,
    pub(crate) claims: Claims,
    /// The tick for which `claims` holds.
    pub(crate) claims_of: u64,
    pub(crate) flood: Flood,
    pub(crate) moves: Moves,
    pub(crate) digest: Vec<u8>,
    /// Who is followed, at what gap (its bits), by whom, and in which row; sorted.
    pub(crate) followers: Vec<(UnitId, u32, UnitId, u32)>,
    /// The gap that the follower in each row keeps, in metres; sorted by row.
    pub(crate) ring_m: Vec<(u32, f32)>,
    /// The blows of a tick.
    pub(crate) blows: Vec<Blow>,
}

/// Where one should be that goes in formation.
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
    pub(crate) left: f32,
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
    /// How each would walk were it alone, in metres a second, and what it has left to walk in metres.
    pub(crate) wishes: Vec<Vec2>,
    pub(crate) left: Vec<f32>,
    /// By which order it walks to a place, if it does.
    pub(crate) bands: Vec<u32>,
    /// Whose it is.
    pub(crate) camps: Vec<u8>,
    /// Whether it has come to where its group gathers.
    pub(crate) gather: Vec<bool>,
    /// The course of each that walks.
    pub(crate) courses: Vec<Option<Course>>,
    /// Those that move, who goes first first, or the other way round.
    pub(crate) order: Vec<u32>,
    /// Whether it turned aside for another that it would come upon.
    pub(crate) turned: Vec<bool>,
    /// The steps that the others let them take.
    pub(crate) given: Vec<Vec2>,
    pub(crate) contacts: Contacts,
    /// Whether another pushed it on the way.
    pub(crate) stirred: Vec<bool>,
    /// Whether it is under way, and has not come to where its group gathers.
    pub(crate) passing: Vec<bool>,
    /// Whether one that only passes by pushed it.
    pub(crate) nudged: Vec<bool>,
    /// Whether it was pushed by one that goes the same way and first, and by one that stands in its way.
    pub(crate) waits: Vec<bool>,
    pub(crate) against: Vec<bool>,
    /// Whether each looks round.
    pub(crate) listed: Vec<bool>,
    /// Those that had perhaps better trade their places; and all that are on the way to a gathering, by order.
    pub(crate) traders: Vec<u32>,
    pub(crate) groups: Vec<(OrderNo, u32)>,
}

impl Moves {
    /// Makes the lists ready for units that stand where they are.
    pub(crate) fn begin(&mut self, units: &Units) {
        let (count, positions) = (units.len(), &units.position);
        self.of.clear();
        self.of.extend_from_slice(&units.id);
        self.camps.clear();
        self.camps.extend(units.side.iter().map(|side| side.0));
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
        refill(&mut self.left, count, f32::INFINITY);
        refill(&mut self.bands, count, 0);
        for flags in [
            &mut self.gather,
            &mut self.turned,
            &mut self.stirred,
            &mut self.passing,
            &mut self.nudged,
            &mut self.waits,
            &mut self.against,
            &mut self.listed,
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

/// The events of a tick, in the order in which they happened.
pub(crate) type Events = Vec<Event>;
