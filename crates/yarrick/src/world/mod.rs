//! Units, orders, and the tick: where all the other rooms meet.
//!
//! The types to know: [`World`] (made from a [`WorldSetup`], stepped, looked at), [`Command`] and
//! [`Change`] (what goes in), [`Event`] (what comes out), and [`Hand`] (a player's pointer on it).
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
//! let go = Command { side: keepers, units: vec![unit], action: Action::move_to(to), when: When::Now };
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
mod arms;
mod contest;
mod difference;
mod drills;
mod explain;
mod flocks;
mod game;
mod hand;
mod ids;
mod inbox;
mod kind;
mod legs;
mod message;
mod motion_breakdown;
mod orders;
mod pacer;
mod picking;
mod preview;
mod queries;
mod senses;
mod setup;
mod sides;
mod sites;
mod snapshot;
mod state;
mod step;
mod view;

pub(crate) use activity::AT_DEPOT_M;
pub use activity::PatrolRoute;
pub use difference::Difference;
pub use drills::vocabulary;
pub use explain::{ChangeView, DrillView};
pub use game::{
    AssaultError, AssaultSetup, Condition, Decision, Ending, Entry, GameResult, GoalArea, LeakCost,
    MAX_AREA_M, MAX_AREAS, MAX_ENDINGS,
};
pub use hand::{Hand, HandOutput, NotPlaced, PlanRules, Recalled, SitePlan};
pub use ids::{FlockId, NotATicket, NotAnId, OrderNo, ProjectileId, SideId, Ticket, UnitId};
pub use inbox::{MAX_CHANGES, TooManyChanges};
pub use kind::{
    Ability, Body, Cost, Depot, DrillUse, Footprint, Holding, Kind, KindError, KindId, Legs,
    MAX_KINDS, Posture, Producer, Property, Rank, Senses, Work,
};
pub(crate) use kind::{Number, Sort};
pub use message::{
    Action, Appearance, Aspect, Change, Command, Effect, Event, Failure, Finish, FlockChange,
    MAX_COORDINATE_M, MAX_FACING, MAX_PATROL_POINTS, MAX_STAND_OFF_M, NoRoom, Outcome, Refusal,
    SiteObjection, Spot, USUAL_FOLLOW_GAP_M, USUAL_STAND_OFF_M, Verb, When,
};
pub use motion_breakdown::MotionBreakdown;
pub use orders::{ContextRule, ContextRules, MAX_QUEUED, OrderReader, OrderWriter};
pub(crate) use orders::{ORDERS, OrderKind};
pub use pacer::{Paced, Pacer};
pub use preview::Preview;
pub use setup::{
    DEFAULT_PLAN_BUDGET, DEFAULT_TICKS_PER_SECOND, MAX_TICKS_PER_SECOND, WorldError, WorldSetup,
};
pub use sides::{MAX_SIDES, Side, Stance};
pub use snapshot::LoadError;
pub use state::{Destination, MAX_FLOCKS, MAX_PROJECTILES, MAX_UNITS, Owner, Place, Pose};
pub use view::{Doing, MarchView, OrderView, ProjectileView, UnitView};

use crate::geom::{Vec2, angle};
use crate::ground::Ground;
use crate::threads::Threads;
use inbox::Inbox;
use orders::Minds;
use state::{Events, NoEntry, Scratch, State};

/// The world of a game: its ground, its units, and all that they are about.
///
/// Made with all that is there at the start; from the first tick on, everything that is done to it from outside is a
/// [`Change`]: handed in with [`World::change`] or [`World::submit`], made at the beginning of the next
/// [`World::step`], and answered by [`Event`]s. Between ticks a world can be looked at from all sides, saved
/// ([`World::save`]) and compared with another ([`World::first_difference`]).
///
/// ```
/// # use yarrick::{Action, Command, Event, Ground, Kind, Side, Terrain, Vec2, When, World, WorldSetup};
/// # let ground = Ground::from_rows(1.0, &["............"; 8], &[('.', Terrain::open("sand"))])?;
/// let mut world = World::new(WorldSetup {
///     sides: vec![Side::new("keepers")],
///     kinds: vec![Kind::walker("raker", 0.4, 1.5)],
///     ..WorldSetup::on(ground)
/// })?;
/// let (keepers, raker) = (world.side("keepers").unwrap(), world.kind("raker").unwrap());
/// let unit = world.spawn(raker, keepers, Vec2::new(1.5, 1.5), 0.0)?;
///
/// let to = Vec2::new(9.5, 5.5);
/// let ticket = world.submit(Command {
///     side: keepers, units: vec![unit], action: Action::move_to(to), when: When::Now,
/// })?;
/// world.step();
/// let saved = world.save();
/// while world.unit(unit).unwrap().position() != to {
///     for event in world.step() {
///         if let Event::Ended { ticket: answered, outcome, .. } = event {
///             assert_eq!(*answered, ticket);
///             println!("{outcome}");
///         }
///     }
/// }
/// // The saved world goes the same way, to the last bit.
/// let mut again = World::load(&saved)?;
/// while again.tick() < world.tick() {
///     again.step();
/// }
/// assert_eq!(again.checksum(), world.checksum());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct World {
    state: State,
    minds: Minds,
    inbox: Inbox,
    /// Of the last tick.
    checksum: u64,
    scratch: Scratch,
    events: Events,
    threads: Threads,
}

impl World {
    /// Advances the world by one tick, and gives what happened in it. Once the game has ended
    /// ([`World::decision`]), the world stands still: nothing happens, and the tick stays as it is.
    ///
    /// The cost grows with the units that move or are touched, and with the routes planned in
    /// this tick, which a budget limits.
    pub fn step(&mut self) -> &[Event] {
        self.checksum = step::run(
            (&mut self.state, &mut self.minds),
            &mut self.inbox,
            (&mut self.scratch, &mut self.events),
            &self.threads,
        );
        &self.events
    }

    /// Hands in a command of a side. It is carried out, or refused with an event, in the next tick.
    ///
    /// # Errors
    /// [`TooManyChanges`] where [`MAX_CHANGES`] wait already; the command is not taken.
    pub fn submit(&mut self, command: Command) -> Result<Ticket, TooManyChanges> {
        self.change(Change::Command(command))
    }

    /// Hands in a change. It is made, or refused with an event, in the next tick; all events that answer it carry
    /// the ticket.
    ///
    /// # Errors
    /// [`TooManyChanges`] where [`MAX_CHANGES`] wait already; the change is not taken.
    pub fn change(&mut self, change: Change) -> Result<Ticket, TooManyChanges> {
        self.inbox.add(change)
    }

    /// The changes that wait for the next tick, in the order in which they were handed in.
    pub fn waiting_changes(&self) -> impl ExactSizeIterator<Item = &Change> {
        self.inbox.waiting()
    }

    /// Drops the changes that wait for the next tick: they are not made, and no event answers them.
    pub fn forget_waiting_changes(&mut self) {
        self.inbox.forget();
    }

    /// What happened in the last tick, as [`World::step`] gave it.
    #[must_use]
    pub fn last_events(&self) -> &[Event] {
        &self.events
    }

    /// Puts a unit into a world that has not begun, at a point in metres and facing `facing` radians. A building with a
    /// footprint closes the cells whose middles it covers, as long as it stands; one narrower than a cell closes those along it; all of it must lie on the map, on open
    /// ground, and on no other building.
    ///
    /// # Errors
    /// [`WorldError`] for a kind or side that does not exist, a pose that is not finite,
    /// ground on which it does not fit, and where the world is full; and after the first tick, from which on units come
    /// in by [`Change::Spawn`].
    pub fn spawn(
        &mut self,
        kind: KindId,
        side: SideId,
        position: Vec2,
        facing: f32,
    ) -> Result<UnitId, WorldError> {
        self.check_not_begun()?;
        let row = self.state.check_entry(kind, side, position, facing);
        let row = row.map_err(|why| match why {
            NoEntry::Kind => WorldError::NoSuchKind { kind },
            NoEntry::Side => WorldError::NoSuchSide { side },
            NoEntry::NotFinite => WorldError::NotFinite,
            NoEntry::NoRoom(why) => WorldError::NoRoom {
                kind: self.state.kind(kind).name.clone(),
                x: position.x,
                y: position.y,
                why,
            },
            NoEntry::Full => WorldError::Full,
        })?;
        self.scratch.near_is_stale = true;
        let unit = self.state.enter(row);
        self.minds.add(&self.state);
        Ok(unit)
    }

    /// Set-up is over with the first tick: from then on, everything is a change.
    fn check_not_begun(&self) -> Result<(), WorldError> {
        match self.state.clock.tick {
            0 => Ok(()),
            _ => Err(WorldError::HasBegun),
        }
    }

    /// A unit, or `None` where the id names no unit any more.
    #[must_use]
    pub fn unit(&self, id: UnitId) -> Option<UnitView<'_>> {
        let row = self.state.units.row(id)?;
        Some(self.unit_at(row))
    }

    fn unit_at(&self, row: usize) -> UnitView<'_> {
        UnitView::new(&self.state, &self.minds, row)
    }

    /// All units. Their order is not that of their ids.
    pub fn units(&self) -> impl ExactSizeIterator<Item = UnitView<'_>> {
        (0..self.state.units.len()).map(|row| self.unit_at(row))
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

    /// Computes ticks on `threads` threads, 1 to 64; `1` at first. The result is the same to the last bit, whatever
    /// their number. It pays with some thousands of units or flock members, and on machines that have cores to spare.
    ///
    /// The threads live as long as the world and its clones. Worlds share them by
    /// [`share_threads`](World::share_threads).
    pub fn set_threads(&mut self, threads: usize) {
        if threads != self.threads.count() {
            self.threads = Threads::new(threads);
        }
    }

    /// Computes ticks on threads that others use, too.
    pub fn share_threads(&mut self, threads: &Threads) {
        self.threads = threads.clone();
    }

    /// The ticks since the world began.
    #[must_use]
    pub fn tick(&self) -> u64 {
        self.state.clock.tick
    }

    /// The length of a tick, in seconds.
    #[must_use]
    pub fn tick_s(&self) -> f32 {
        self.state.tick_s()
    }

    /// How many ticks make a second.
    #[must_use]
    pub fn ticks_per_second(&self) -> u32 {
        self.state.rules.ticks_per_second
    }

    /// The seconds since the world began.
    #[must_use]
    pub fn time_s(&self) -> f64 {
        self.state.clock.tick as f64 / f64::from(self.state.rules.ticks_per_second)
    }

    /// The seed of all random numbers.
    #[must_use]
    pub fn seed(&self) -> u64 {
        self.state.rules.seed
    }

    /// The checksum of the last tick: of all that decides how the world goes on. Two worlds
    /// with the same checksum after the same tick are the same; `0` before the first tick.
    #[must_use]
    pub fn checksum(&self) -> u64 {
        self.checksum
    }

    /// The checksum of the world as it is now: right after a tick, that of the tick. Between ticks, changes wait and
    /// count for nothing; while a world is set up, units and flocks come in.
    ///
    /// Costs a pass over the world.
    #[must_use]
    pub fn checksum_now(&self) -> u64 {
        let mut digest: state::Digest = state::Digest::default();
        step::checksum(&self.state, &self.minds, &mut digest)
    }

    /// The map.
    #[must_use]
    pub fn ground(&self) -> &Ground {
        &self.state.ground
    }

    /// All sides, by number.
    #[must_use]
    pub fn sides(&self) -> &[Side] {
        &self.state.rules.sides
    }

    /// How one side stands to another. Sides that there are none of are neutral.
    #[must_use]
    pub fn stance(&self, side: SideId, other: SideId) -> Stance {
        let count = self.state.rules.sides.len();
        if usize::from(side.0.max(other.0)) >= count {
            return Stance::Neutral;
        }
        self.state.derived.stances.between(side, other)
    }

    /// Whether a side may command the units of another: its own, and those of sides that share
    /// control with it.
    #[must_use]
    pub fn may_command(&self, side: SideId, owner: SideId) -> bool {
        let count = self.state.rules.sides.len();
        usize::from(side.0.max(owner.0)) < count
            && self.state.derived.stances.may_command(side, owner)
    }

    /// All kinds, by number.
    #[must_use]
    pub fn kinds(&self) -> &[Kind] {
        &self.state.rules.kinds
    }

    /// The side called `name`.
    #[must_use]
    pub fn side(&self, name: &str) -> Option<SideId> {
        let at = self
            .state
            .rules
            .sides
            .iter()
            .position(|side| side.name == name)?;
        Some(SideId(at as u8))
    }

    /// The kind called `name`.
    #[must_use]
    pub fn kind(&self, name: &str) -> Option<KindId> {
        let at = self
            .state
            .rules
            .kinds
            .iter()
            .position(|kind| kind.name == name)?;
        Some(KindId(at as u16))
    }

    /// The work that planning took in the last tick, in cells that were looked at: at most the
    /// [`WorldSetup::plan_budget`], unless the places nearest to goals out of reach, which are looked for when orders are taken, take more.
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
