//! Everything that decides how a world goes on.
//!
//! | part | what it is |
//! |---|---|
//! | `rules` | fixed when the world is made: seed, tick length, sides, kinds |
//! | `clock` | the tick, and the last numbers that were given out |
//! | `ground` | the map, with its doors and obstacles |
//! | `units` | the table of units; few have a value in the sparse columns beside it |
//! | `projectiles` | the table of projectiles in flight |
//! | `planner` | the requests for routes |
//! | `marches`, `flocks` | groups in formation, and flocks |
//! | `contest` | what the game is played for: the assault, stores, how the game ends |
//! | `derived` | worked out from the rest, and never saved |
//!
//! What a unit is *about*, its orders and activities, lies above: see [`orders`](super::orders).

mod check;
mod contest;
mod derived;
mod digest;
mod entry;
mod flocks;
mod ground_digest;
mod handle;
mod hashed;
mod locomotion;
mod march;
mod mending;
mod patience;
mod place;
mod progress;
mod projectiles;
mod room;
mod rules;
mod scratch;
mod sealed;
mod sparse;
mod sway;
pub(crate) mod table;
mod units;
mod unrest;
mod walk;
mod ways;
mod work;

pub(crate) use contest::{RunningAssault, Sent};
pub(crate) use derived::Derived;
pub(crate) use digest::Digest;
pub(crate) use entry::NoEntry;
pub use flocks::MAX_FLOCKS;
pub(crate) use flocks::WorldFlock;
pub(crate) use handle::Handle;
pub(crate) use hashed::Hashed;
pub(crate) use locomotion::{Locomotion, Steer};
pub(crate) use march::{Guide, March, Marcher};
pub(crate) use mending::Mending;
pub(crate) use patience::{Pace, Patience, PatienceLimits, Verdict};
pub(crate) use place::{Claim, GroupNo, GroupPlace, MoveTarget};
pub use place::{Destination, Place};
pub(crate) use progress::{Looks, Strayed};
pub use projectiles::MAX_PROJECTILES;
pub(crate) use projectiles::{ProjectileRow, Projectiles};
pub(crate) use rules::Rules;
pub(crate) use scratch::{
    Arrival, Assembly, Departure, Events, Follower, Moves, Report, Scratch, Sighting, Slot,
};
pub(crate) use sparse::Sparse;
pub(crate) use sway::Sway;
pub(crate) use units::{Aim, Berth, Return, SETTLING_TICKS, UnitRow, Units};
pub use units::{MAX_UNITS, Owner, Pose};
pub(crate) use unrest::{Alarm, Unrest};
pub(crate) use walk::Walk;
pub(crate) use work::{Construction, Production, Worked};

use super::game::{Decision, Ending};
use super::ids::UnitId;
use super::kind::{Kind, KindId, Posture};
use crate::economy::{Ledger, Load, Stores};
use crate::geom::{Block, Vec2};
use crate::ground::{ClearanceMap, Ground, GroundView};
use crate::route::{Ask, Goal, Planner};
use serde::{Deserialize, Serialize};
use table::{Single, Visitor};

/// All that decides how the world goes on, but for what its units are about.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(crate) struct State {
    pub(crate) rules: Rules,
    pub(crate) clock: Clock,
    pub(crate) ground: Ground,
    pub(crate) units: Units,
    /// Where a unit looks while it stands, in radians, if an order said so.
    pub(crate) ordered_facing: Sparse<UnitId, f32>,
    /// Until this tick a unit goes for no foe, having given one up; it strikes what is in reach.
    pub(crate) no_chase_until: Sparse<UnitId, u64>,
    /// What a unit's speed is multiplied with, while an activity says so.
    pub(crate) pace: Sparse<UnitId, f32>,
    /// How a unit swings about its way, while an activity says so.
    pub(crate) sway: Sparse<UnitId, Sway>,
    /// The last hit that a unit took: the tick, and who struck.
    pub(crate) last_hit: Sparse<UnitId, (u64, UnitId)>,
    /// Where units came into the world that go by drills, in metres.
    pub(crate) homes: Sparse<UnitId, Vec2>,
    /// Dials that are set for a unit: the number of the drill of its kind, that of the dial, and the value.
    pub(crate) dials: Sparse<UnitId, Vec<(u8, u16, f32)>>,
    /// The values of the senses that the game adds: for a unit, or for all.
    pub(crate) own_senses: Sparse<(u16, Option<UnitId>), f32>,
    /// How far the arms of a unit with a turret are turned from where it faces, in radians; none where they are not.
    pub(crate) arms_turned: Sparse<UnitId, f32>,
    /// Where units aim that strike the ground, in metres.
    pub(crate) ground_aims: Sparse<UnitId, Vec2>,
    /// What has upset units: changes of the ground, and attacks.
    pub(crate) unrest: Unrest,
    /// What is left to work out after changes of the ground.
    pub(crate) mending: Mending,
    pub(crate) projectiles: Projectiles,
    /// Finds routes for those that wait.
    pub(crate) planner: Planner,
    /// Groups in formation, in the order of their numbers.
    pub(crate) marches: Vec<March>,
    pub(crate) flocks: Vec<WorldFlock>,
    pub(crate) assault: Option<RunningAssault>,
    /// The units of the assault.
    pub(crate) of_wave: Sparse<UnitId, Sent>,
    /// What each side owns, and where it went.
    pub(crate) ledgers: Vec<Ledger>,
    /// What units carried that died, and what lay in deposits that have left.
    pub(crate) spilled: Stores,
    pub(crate) deposits: Sparse<UnitId, Worked>,
    pub(crate) loads: Sparse<UnitId, Load>,
    pub(crate) productions: Sparse<UnitId, Production>,
    /// Buildings that do not stand yet.
    pub(crate) constructions: Sparse<UnitId, Construction>,
    pub(crate) endings: Vec<Ending>,
    /// How the game has ended, if it has: then the world stands still.
    pub(crate) decision: Option<Decision>,
    #[serde(skip)]
    pub(crate) derived: Derived,
}

/// The tick, and the last numbers that were given out.
#[derive(Clone, Copy, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Clock {
    pub(crate) tick: u64,
    pub(crate) last_group: GroupNo,
}

/// Shows what belongs to sides, and how the game ends.
fn visit_game(
    (ledgers, spilled): (&Vec<Ledger>, &Stores),
    (endings, decision): (&Vec<Ending>, &Option<Decision>),
    visit: &mut Visitor<'_>,
) {
    visit("Sides", "ledger", ledgers);
    visit("Sides", "spilled", &Single(spilled));
    visit("Game", "endings", endings);
    visit("Game", "decision", &Single(decision));
}

/// Shows the assault, and which units are of it.
fn visit_assault(
    (assault, of_wave): (&Option<RunningAssault>, &Sparse<UnitId, Sent>),
    digest: u64,
    visit: &mut Visitor<'_>,
) {
    if let Some(assault) = assault {
        assault.visit(digest, visit);
    }
    visit("Units", "of_wave", of_wave);
}

/// Shows what lies in deposits, what is carried, and what is produced and built.
fn visit_work(
    (deposits, loads): (&Sparse<UnitId, Worked>, &Sparse<UnitId, Load>),
    (productions, constructions): (&Sparse<UnitId, Production>, &Sparse<UnitId, Construction>),
    visit: &mut Visitor<'_>,
) {
    visit("Units", "deposits", deposits);
    visit("Units", "loads", loads);
    visit("Units", "productions", productions);
    visit("Units", "constructions", constructions);
}

impl Clock {
    fn visit(&self, visit: &mut Visitor<'_>) {
        let Clock { tick, last_group } = self;
        visit("Clock", "tick", &Single(tick));
        visit("Clock", "last_group", &Single(last_group));
    }
}

impl State {
    /// What the unit in a row does about foes while it has nothing else to do.
    pub(crate) fn posture(&self, row: usize) -> Posture {
        let ordered = self.units.posture[row];
        ordered.unwrap_or_else(|| self.kind_of(row).usual_posture())
    }

    /// Shows every column of the state to `visit`: for the checksum, and to find what differs.
    pub(crate) fn visit(&self, visit: &mut Visitor<'_>) {
        // Taken apart, so that a new part cannot be forgotten.
        let State {
            rules,
            clock,
            ground,
            units,
            ordered_facing,
            no_chase_until,
            pace,
            sway,
            last_hit,
            homes,
            dials,
            own_senses,
            arms_turned,
            ground_aims,
            unrest,
            mending,
            projectiles,
            planner,
            marches,
            flocks,
            assault,
            of_wave,
            ledgers,
            spilled,
            deposits,
            loads,
            productions,
            constructions,
            endings,
            decision,
            derived,
        } = self;
        rules.visit(derived.rules_digest, visit);
        clock.visit(visit);
        derived.ground_digest.visit(ground, visit);
        units.visit(visit);
        visit("Units", "ordered_facing", ordered_facing);
        visit("Units", "no_chase_until", no_chase_until);
        visit("Units", "pace", pace);
        visit("Units", "sway", sway);
        visit("Units", "last_hit", last_hit);
        visit("Units", "homes", homes);
        visit("Units", "dials", dials);
        visit("Units", "own_senses", own_senses);
        visit("Units", "arms_turned", arms_turned);
        visit("Units", "ground_aims", ground_aims);
        unrest.visit(visit);
        mending.visit(visit);
        projectiles.visit(visit);
        visit("Planner", "requests", &Single(planner));
        visit("Marches", "march", marches);
        visit("Flocks", "flock", flocks);
        visit_game((ledgers, spilled), (endings, decision), visit);
        visit_assault((assault, of_wave), derived.assault_digest, visit);
        visit_work((deposits, loads), (productions, constructions), visit);
    }

    /// Does again, after loading, what had been done for requests for routes.
    pub(crate) fn redo_searches(&mut self) -> Result<(), &'static str> {
        let mut planner = core::mem::take(&mut self.planner);
        let clearance = |number: u16| self.derived.clearances.get(usize::from(number));
        let redone = planner.redo(&self.ground, |who| self.wish(who), clearance);
        self.planner = planner;
        redone
    }

    /// What the holder of a request for a route wants, if it still waits for one or wants to know a better one.
    pub(crate) fn wish(&self, who: u64) -> Option<Ask<'_>> {
        let row = self.units.row(UnitId::of_number(who))?;
        let to = match &self.units.locomotion[row] {
            Locomotion::AwaitingRoute { target, .. } => target.point(),
            Locomotion::Walking(walk) => walk.target().place()?.place.at,
            Locomotion::Standing | Locomotion::Steered(_) => return None,
        };
        Some(Ask {
            body: self.clearance_index(row),
            clearance: self.clearance(row),
            radius: self.units.radius[row],
            from: self.units.position[row],
            goal: Goal::Point(to),
        })
    }

    /// The next number for units that are sent somewhere together.
    pub(crate) fn next_group(&mut self) -> GroupNo {
        self.clock.last_group = self.clock.last_group.next();
        self.clock.last_group
    }

    pub(crate) fn tick_s(&self) -> f32 {
        1.0 / self.rules.ticks_per_second as f32
    }

    /// So many whole seconds, in ticks.
    pub(crate) fn ticks(&self, seconds: u32) -> u32 {
        seconds * self.rules.ticks_per_second
    }

    pub(crate) fn kind(&self, id: KindId) -> &Kind {
        &self.rules.kinds[usize::from(id.0)]
    }

    /// The kind of the unit in a row.
    pub(crate) fn kind_of(&self, row: usize) -> &Kind {
        self.kind(self.units.kind[row])
    }

    /// The ground as the unit in a row finds it.
    pub(crate) fn ground_view(&self, row: usize) -> GroundView<'_> {
        self.ground.view(self.kind_of(row).body.gait)
    }

    /// The clearance map of the unit in a row.
    pub(crate) fn clearance(&self, row: usize) -> &ClearanceMap {
        &self.derived.clearances[usize::from(self.clearance_index(row))]
    }

    pub(crate) fn clearance_index(&self, row: usize) -> u16 {
        self.derived.clearance_of[usize::from(self.units.kind[row].0)]
    }

    /// Whether the unit in a row thinks in this tick: all do several times a second, spread over
    /// the ticks.
    pub(crate) fn thinks_now(&self, row: usize) -> bool {
        self.is_turn_of(row, self.rules.ticks_per_second / THOUGHTS_PER_SECOND)
    }

    /// Whether the unit in a row looks for foes in this tick.
    pub(crate) fn looks_now(&self, row: usize) -> bool {
        let senses = self.kind_of(row).senses;
        senses.is_some_and(|senses| {
            let every = senses.look_every_s * self.rules.ticks_per_second as f32;
            // Casts saturate.
            self.is_turn_of(row, (every + 0.5) as u32)
        })
    }

    /// Whether it is the turn of the unit in a row, if each has one in so many ticks; spread by the slots of their ids.
    fn is_turn_of(&self, row: usize, every: u32) -> bool {
        let (slot, _) = self.units.id[row].parts();
        (self.clock.tick + u64::from(slot)).is_multiple_of(every.max(1).into())
    }

    /// The middle of the unit in a row: of its footprint, if it has one.
    pub(crate) fn middle(&self, row: usize) -> Vec2 {
        let block = self.block(row);
        block.map_or(self.units.position[row], |block| block.centre)
    }

    /// The ground that the unit in a row covers, for a building with a footprint.
    pub(crate) fn block(&self, row: usize) -> Option<Block> {
        let (at, facing) = (self.units.position[row], self.units.facing[row]);
        self.kind_of(row).footprint_at(at, facing)
    }

    /// Whether another unit is within range of a unit's weapon.
    pub(crate) fn is_in_range(&self, row: usize, other: usize) -> bool {
        let weapon = self.kind_of(row).weapon;
        weapon.is_some_and(|weapon| self.gap_m(row, other) <= weapon.range_m)
    }

    /// The metres between the edges of two units, `0` where they touch. The same from either side.
    pub(crate) fn gap_m(&self, a: usize, b: usize) -> f32 {
        let units = &self.units;
        let gap = match (self.block(a), self.block(b)) {
            (Some(a), Some(b)) => a.gap(&b),
            (Some(block), None) => block.distance(units.position[b]) - units.radius[b],
            (None, Some(block)) => block.distance(units.position[a]) - units.radius[a],
            (None, None) => {
                let apart = units.position[a].distance(units.position[b]);
                apart - units.radius[b] - units.radius[a]
            }
        };
        gap.max(0.0)
    }

    /// The metres between the edges of a disc and a unit, `0` where they touch.
    pub(crate) fn gap_from(&self, at: Vec2, radius: f32, unit: usize) -> f32 {
        let edge = match self.block(unit) {
            Some(block) => block.distance(at),
            None => at.distance(self.units.position[unit]) - self.units.radius[unit],
        };
        (edge - radius).max(0.0)
    }

    /// The top speed of the unit in a row on the ground where it stands, in metres a second.
    pub(crate) fn top_speed(&self, row: usize) -> f32 {
        let here = self.ground_view(row).speed_at(self.units.position[row]);
        let pace = self.pace.get(self.units.id[row]).copied();
        self.kind_of(row).speed() * here * pace.unwrap_or(1.0)
    }
}

/// How often in a second a unit looks round and thinks again.
const THOUGHTS_PER_SECOND: u32 = 5;
