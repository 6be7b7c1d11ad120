//! Units, orders, and the tick: where all the other rooms meet.
//!
//! The types to know: [`World`] (made from a [`WorldSetup`], stepped, looked at), [`Command`]
//! (what goes in), [`Event`] (what comes out), and [`Hand`] (a player's pointer on it).
//!
//! ```
//! use yarrick::geom::Vec2;
//! use yarrick::ground::{Ground, Terrain};
//! use yarrick::world::{Action, Command, Event, Kind, Outcome, Side, When, World, WorldSetup};
//!
//! let ground = Ground::from_rows(1.0, &["........"; 8], &[('.', Terrain::open("sand"))])?;
//! let mut world = World::new(WorldSetup {
//!     sides: vec![Side::new("keepers")],
//!     kinds: vec![Kind::walker("raker", 0.4, 1.5)],
//!     ..WorldSetup::on(ground)
//! })?;
//! let (keepers, raker) = (world.side("keepers").unwrap(), world.kind("raker").unwrap());
//! let unit = world.spawn(raker, keepers, Vec2::new(1.0, 1.0), 0.0)?;
//!
//! let to = Vec2::new(6.0, 5.0);
//! let go = Command { side: keepers, units: vec![unit], action: Action::Move { to }, when: When::Now };
//! world.submit(go)?;
//! let ended = loop {
//!     let ended = world.step().iter().find_map(|event| match event {
//!         Event::Ended { outcome, .. } => Some(*outcome),
//!         _ => None,
//!     });
//!     if let Some(outcome) = ended {
//!         break outcome;
//!     }
//! };
//! assert_eq!(ended, Outcome::Done);
//! assert_eq!(world.unit(unit).unwrap().position(), to);
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod activity;
mod command;
mod context;
mod event;
mod flocks;
mod groundwork;
mod hand;
mod handle;
mod march;
mod muster;
mod order;
mod pacer;
mod picking;
mod queue;
mod rally;
mod roster;
mod setup;
mod sides;
mod state;
mod step;
mod tasks;
mod units;
mod urges;
mod view;

pub use command::{
    Action, Command, MAX_COORDINATE_M, MAX_FACING, MAX_PATROL_POINTS, MAX_STAND_OFF_M, OrderNo,
    Refusal, Spot, USUAL_STAND_OFF_M, When,
};
pub use context::{Aspect, ContextRule, ContextRules, Preview, Verb};
pub use event::Event;
pub use flocks::{FlockId, Guise, MAX_FLOCKS};
pub use hand::{Deed, Hand, Recalled};
pub use handle::{NotAnId, UnitId};
pub use march::MarchView;
pub use order::{Beat, Errand, Failure, MAX_QUEUED, Order, Outcome, Place, Task};
pub use pacer::{Paced, Pacer};
pub use roster::{Ability, Kind, KindId, MAX_KINDS, Rank};
pub use setup::{
    DEFAULT_PLAN_BUDGET, DEFAULT_TICKS_PER_SECOND, MAX_TICKS_PER_SECOND, WorldError, WorldSetup,
};
pub use sides::{MAX_SIDES, Side, SideId, Stance};
pub use units::Pose;
pub use urges::Urges;
pub use view::{Doing, UnitView};

use crate::geom::{Vec2, angle};
use crate::ground::Ground;
use state::{Events, Scratch, State};
use units::NewUnit;

/// The most units that a world holds.
pub const MAX_UNITS: usize = 1 << 18;

/// The most commands that wait for a tick.
pub const MAX_COMMANDS: usize = 1 << 16;

/// The world of a game: its ground, its units, and all that they are about.
#[derive(Clone, Debug)]
pub struct World {
    state: State,
    scratch: Scratch,
    events: Events,
    threads: usize,
}

/// Why a command could not even be handed in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{MAX_COMMANDS} commands wait for this tick already")]
pub struct TooManyCommands;

impl World {
    /// Advances the world by one tick, and tells what happened in it.
    ///
    /// The cost grows with the units that move or are touched, and with the routes planned in
    /// this tick, of which a budget sees to it that they do not become too many.
    pub fn step(&mut self) -> &[Event] {
        let (state, scratch, events) = (&mut self.state, &mut self.scratch, &mut self.events);
        events.clear();
        if scratch.near_is_stale {
            step::index::run(state, scratch);
        }
        state.tick += 1;
        step::take::run(state, scratch, events);
        step::notice::run(state, scratch, events);
        step::act::run(state, scratch, events);
        step::plan::run(state, scratch, events);
        step::march::run(state, scratch);
        step::moving::run(state, scratch, events, self.threads);
        step::free::run(state);
        step::flocks::run(state, self.threads);
        step::strike::run(state, scratch, events);
        step::clear_away::run(state, scratch, events);
        step::index::run(state, scratch);
        step::digest::run(state, scratch);
        events
    }

    /// Hands in a command. It is carried out, or refused with an event, in the next tick.
    ///
    /// # Errors
    /// [`TooManyCommands`] where [`MAX_COMMANDS`] wait already; the command is not taken.
    pub fn submit(&mut self, command: Command) -> Result<(), TooManyCommands> {
        if self.state.commands.len() >= MAX_COMMANDS {
            return Err(TooManyCommands);
        }
        self.state.commands.push(command);
        Ok(())
    }

    /// Puts a unit into the world, at a point in metres and facing `facing` radians. A building with a
    /// footprint closes the cells whose middles it covers, as long as it stands.
    ///
    /// # Errors
    /// [`WorldError`] for a kind or side that there is none of, a pose that is not finite,
    /// ground on which it does not fit, and where the world is full.
    pub fn spawn(
        &mut self,
        kind: KindId,
        side: SideId,
        position: Vec2,
        facing: f32,
    ) -> Result<UnitId, WorldError> {
        let unit = self.state.check_new_unit(kind, side, position, facing)?;
        self.scratch.near_is_stale = true;
        let id = self.state.units.add(unit);
        self.state.cover_ground(id, true);
        Ok(id)
    }

    /// Takes a unit out of the world at the end of the next tick. Its orders end as lost.
    /// Gives whether there is such a unit.
    pub fn remove(&mut self, unit: UnitId) -> bool {
        let lives = self.state.units.row(unit).is_some();
        if lives && !self.state.leaving.contains(&unit) {
            self.state.leaving.push(unit);
        }
        lives
    }

    /// A unit, or `None` where the id names nobody any more.
    #[must_use]
    pub fn unit(&self, id: UnitId) -> Option<UnitView<'_>> {
        let row = self.state.units.row(id)?;
        Some(UnitView::new(&self.state, row))
    }

    /// All units. Their order is not that of their ids.
    pub fn units(&self) -> impl ExactSizeIterator<Item = UnitView<'_>> {
        (0..self.state.units.len()).map(|row| UnitView::new(&self.state, row))
    }

    /// Where a unit is a `fraction` of a tick after the last but one: `0` is that tick, `1` the
    /// last one. For drawing frames between ticks, with the fraction from [`Pacer`].
    #[must_use]
    pub fn pose(&self, id: UnitId, fraction: f32) -> Option<Pose> {
        let units = &self.state.units;
        let row = units.row(id)?;
        let before = units.before[row];
        let part = if fraction.is_nan() {
            1.0
        } else {
            fraction.clamp(0.0, 1.0)
        };
        Some(Pose {
            position: before.position.lerp(units.position[row], part),
            facing: angle::blend(before.facing, units.facing[row], part),
        })
    }

    /// Lets ticks be worked out on so many threads, at most 64; `1` at first. What comes of it is the same to the last
    /// bit, whatever their number. It pays with some thousands of units or flock members, and on machines that have cores
    /// to spare.
    pub fn set_threads(&mut self, threads: usize) {
        self.threads = threads.clamp(1, 64);
    }

    /// The ticks since the world began.
    #[must_use]
    pub fn tick(&self) -> u64 {
        self.state.tick
    }

    /// The length of a tick, in seconds.
    #[must_use]
    pub fn tick_s(&self) -> f32 {
        self.state.tick_s()
    }

    /// How many ticks make a second.
    #[must_use]
    pub fn ticks_per_second(&self) -> u32 {
        self.state.ticks_per_second
    }

    /// The seconds since the world began.
    #[must_use]
    pub fn time_s(&self) -> f64 {
        self.state.tick as f64 / f64::from(self.state.ticks_per_second)
    }

    /// The seed from which all chance is drawn.
    #[must_use]
    pub fn seed(&self) -> u64 {
        self.state.seed
    }

    /// The checksum of the last tick: of all that decides how the world goes on. Two worlds
    /// with the same checksum after the same tick are the same; `0` before the first tick.
    #[must_use]
    pub fn checksum(&self) -> u64 {
        self.state.checksum
    }

    /// The map.
    #[must_use]
    pub fn ground(&self) -> &Ground {
        &self.state.ground
    }

    /// All sides, by number.
    #[must_use]
    pub fn sides(&self) -> &[Side] {
        &self.state.sides
    }

    /// How one side stands to another. Sides that there are none of are neutral.
    #[must_use]
    pub fn stance(&self, side: SideId, other: SideId) -> Stance {
        let count = self.state.sides.len();
        if usize::from(side.0.max(other.0)) >= count {
            return Stance::Neutral;
        }
        self.state.stances.between(side, other)
    }

    /// Whether a side may command the units of another: its own, and those of sides that share
    /// control with it.
    #[must_use]
    pub fn may_command(&self, side: SideId, owner: SideId) -> bool {
        let count = self.state.sides.len();
        usize::from(side.0.max(owner.0)) < count && self.state.stances.may_command(side, owner)
    }

    /// All kinds, by number.
    #[must_use]
    pub fn kinds(&self) -> &[Kind] {
        &self.state.kinds
    }

    /// The side called `name`.
    #[must_use]
    pub fn side(&self, name: &str) -> Option<SideId> {
        let at = self.state.sides.iter().position(|side| side.name == name)?;
        Some(SideId(at as u8))
    }

    /// The kind called `name`.
    #[must_use]
    pub fn kind(&self, name: &str) -> Option<KindId> {
        let at = self.state.kinds.iter().position(|kind| kind.name == name)?;
        Some(KindId(at as u16))
    }

    /// The work that planning took in the last tick, in cells that were looked at: at most the
    /// [`WorldSetup::plan_budget`].
    #[must_use]
    pub fn planning_work(&self) -> u32 {
        self.state.planner.spent()
    }

    /// How many units wait for a route.
    #[must_use]
    pub fn waiting_for_routes(&self) -> usize {
        self.units()
            .filter(|unit| unit.doing() == Doing::AwaitingRoute)
            .count()
    }
}

impl State {
    fn check_new_unit(
        &self,
        kind: KindId,
        side: SideId,
        position: Vec2,
        facing: f32,
    ) -> Result<NewUnit, WorldError> {
        let Some(known) = self.kinds.get(usize::from(kind.0)) else {
            return Err(WorldError::NoSuchKind { kind });
        };
        if usize::from(side.0) >= self.sides.len() {
            return Err(WorldError::NoSuchSide { side });
        }
        if !(position.is_finite() && facing.is_finite()) {
            return Err(WorldError::NotFinite);
        }
        if !self
            .ground
            .going(known.gait)
            .disc_is_clear(position, known.radius_m)
        {
            return Err(WorldError::NoRoom {
                kind: known.name.clone(),
                x: position.x,
                y: position.y,
            });
        }
        if self.units.len() >= MAX_UNITS {
            return Err(WorldError::Full);
        }
        Ok(NewUnit {
            kind,
            side,
            radius: known.radius_m,
            health: known.health,
            pose: Pose {
                position: crate::geom::canonical(position),
                facing: angle::wrap(facing),
            },
        })
    }
}
