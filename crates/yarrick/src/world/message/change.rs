//! Everything that may be done to a world from outside.

use super::{Action, Command};
use crate::geom::{Vec2, Vec3};
use crate::ground::{Cell, DoorId};
use crate::motion::flock::{FlockParams, MemberId, Zone, ZoneId};
use crate::world::ids::{FlockId, SideId, Ticket, UnitId};
use crate::world::kind::KindId;
use serde::{Deserialize, Serialize};

/// Something done to a world from outside: by a player, or by the game. Plain data that can be recorded and sent.
///
/// All changes handed in before a tick are made at its beginning, in an order that does not depend on their arrival:
/// changes of the ground; units that leave, come, and are altered; flocks; activities; then commands, by side. Of one
/// sort, and of one side, they keep the order in which they were handed in.
///
/// ```
/// use yarrick::world::{Change, Effect, Event};
/// # use yarrick::{Ground, Kind, Side, SideId, Terrain, Vec2, World, WorldSetup};
/// # let ground = Ground::from_rows(1.0, &["........"; 8], &[('.', Terrain::open("sand"))])?;
/// # let mut world = World::new(WorldSetup {
/// #     sides: vec![Side::new("keepers")],
/// #     kinds: vec![Kind::walker("raker", 0.4, 1.5)],
/// #     ..WorldSetup::on(ground)
/// # })?;
/// let raker = world.kind("raker").unwrap();
/// let at = Vec2::new(2.5, 3.5);
/// let ticket = world.change(Change::Spawn { kind: raker, side: SideId(0), at, facing: 0.0 })?;
///
/// let answer = world.step()[0].clone();
/// let Event::Changed { ticket: answered, effect: Effect::Spawned { unit } } = answer else { panic!() };
/// assert_eq!(answered, ticket);
/// assert_eq!(world.unit(unit).unwrap().position(), at);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum Change {
    /// A command of a side.
    Command(Command),
    /// A unit comes into the world, at a point in metres, with a facing in radians.
    Spawn {
        /// Its kind.
        kind: KindId,
        /// Its side.
        side: SideId,
        /// Where.
        at: Vec2,
        /// Where it looks.
        facing: f32,
    },
    /// A unit leaves the world at the end of the tick. Its orders end as lost.
    Remove {
        /// The unit.
        unit: UnitId,
    },
    /// A unit loses health, in points. At `0` it dies. What cannot be harmed is not.
    Harm {
        /// The unit.
        unit: UnitId,
        /// How many points, 0 or more.
        damage: f32,
        /// The unit that did it, if one did.
        by: Option<UnitId>,
    },
    /// A unit gains health, in points, up to that of its kind.
    Heal {
        /// The unit.
        unit: UnitId,
        /// How many points, 0 or more.
        health: f32,
    },
    /// Sets a unit's health, in points, up to that of its kind. At `0` it dies.
    SetHealth {
        /// The unit.
        unit: UnitId,
        /// How many points, 0 or more.
        health: f32,
    },
    /// A unit is put elsewhere. It stops, and carries on with its order from there.
    Teleport {
        /// The unit.
        unit: UnitId,
        /// Where to, in metres.
        to: Vec2,
        /// Where it looks then, in radians; `None` for where it looked.
        facing: Option<f32>,
    },
    /// A unit changes hands. Its orders end as replaced by none; those about it that make no sense any more end, too.
    ChangeSide {
        /// The unit.
        unit: UnitId,
        /// Its new side.
        side: SideId,
    },
    /// A unit becomes another kind, of the same part of its health.
    ChangeKind {
        /// The unit.
        unit: UnitId,
        /// Its new kind.
        kind: KindId,
    },
    /// An obstacle comes to lie on cells. Obstacles add up.
    Block {
        /// The cells. Those off the map count for nothing.
        cells: Vec<Cell>,
    },
    /// An obstacle is taken off cells.
    Unblock {
        /// The cells.
        cells: Vec<Cell>,
    },
    /// A door of the map opens or shuts.
    SetDoor {
        /// The door.
        door: DoorId,
        /// Whether it is shut from now on.
        shut: bool,
    },
    /// Cells become another terrain.
    SetTerrain {
        /// The cells.
        cells: Vec<Cell>,
        /// The number of the terrain in the list of the map.
        terrain: u8,
    },
    /// Sets a dial of a drill for one unit, in base units (metres, seconds, radians, parts of one for per cent).
    SetDial {
        /// The unit.
        unit: UnitId,
        /// The number of the drill among those of its kind.
        drill: u8,
        /// The number of the dial.
        dial: u16,
        /// The value, within what the dial allows.
        value: f32,
    },
    /// Sets the value of a sense that the game adds: for a unit, or for all that have none of their own.
    SetSense {
        /// The number of the sense among those of the game.
        sense: u16,
        /// The unit.
        unit: Option<UnitId>,
        /// The value, in base units.
        value: f32,
    },
    /// A step that the game adds is done: see [`Event::Asked`](super::Event::Asked).
    StepDone {
        /// The unit.
        unit: UnitId,
        /// The number of the drill among those of its kind.
        drill: u8,
    },
    /// Something about a flock.
    Flock {
        /// The flock.
        flock: FlockId,
        /// What.
        change: FlockChange,
    },
    /// A unit begins an activity without an order: how a game scripts its units.
    ///
    /// The activity takes the faculties that it needs, legs or arms or both, from an activity that was started in the
    /// same way. Orders go before: what an order controls is refused, and an order that needs them takes them over.
    Start {
        /// The unit.
        unit: UnitId,
        /// What it does. Cancelling, rallying and context clicks are no activities.
        action: Action,
    },
    /// A unit stops an activity that it began without an order.
    Stop {
        /// The unit.
        unit: UnitId,
        /// The ticket of the change that started it.
        started: Ticket,
    },
}

/// Something done to a flock.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum FlockChange {
    /// A flock comes into the world under a name of its own. Whatever flock is named with it, it gets the next number.
    Add {
        /// Its name.
        name: String,
        /// How its members behave.
        params: FlockParams,
    },
    /// Its members behave otherwise from now on.
    SetParams(FlockParams),
    /// It gets a member, that goes in a direction in radians.
    AddMember {
        /// Where, in metres; `z` is the altitude.
        at: Vec3,
        /// The direction.
        heading: f32,
        /// What it looks like.
        appearance: Appearance,
    },
    /// It loses a member.
    RemoveMember(MemberId),
    /// It gets a zone.
    AddZone(Zone),
    /// A zone becomes another.
    SetZone(ZoneId, Zone),
    /// A zone moves to a point, in metres, and turns, in radians. A unit that carried it does so no longer.
    MoveZone {
        /// The zone.
        zone: ZoneId,
        /// Where to.
        at: Vec2,
        /// Where it looks; `None` for where it looked.
        facing: Option<f32>,
    },
    /// A zone is switched on or off.
    SwitchZone {
        /// The zone.
        zone: ZoneId,
        /// Whether it works from now on.
        on: bool,
    },
    /// A zone is taken away.
    RemoveZone(ZoneId),
    /// A unit carries a zone about from now on: it is where the unit is, and turned as it is. When the unit leaves the
    /// world, its zones go with it.
    CarryZone {
        /// The zone.
        zone: ZoneId,
        /// The unit.
        unit: UnitId,
    },
    /// A zone stays where it is, if a unit carried it.
    SetZoneDown(ZoneId),
}

/// What a member of a world's flock looks like: for drawing only, it does not change how it moves.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Appearance {
    /// Its length in metres.
    pub size_m: f32,
    /// Which of the shades of the flock it has, from 0 on.
    pub shade: u8,
}
