//! What players and scripts ask of units.

use crate::geom::Vec2;
use crate::motion::formation::Formation;
use crate::world::ids::{OrderNo, SideId, UnitId};
use serde::{Deserialize, Serialize};

/// What a side asks of some of its units. Plain data.
///
/// ```
/// use yarrick::{Action, Command, SideId, UnitId, Vec2, When};
///
/// let warden = UnitId::from_parts(0, 1);
/// let command = Command {
///     side: SideId(0),
///     units: vec![warden],
///     action: Action::Move { to: Vec2::new(12.0, 4.5) },
///     when: When::Now,
/// };
/// // With the shift key held, the same would come behind what the warden does already.
/// let queued = Command { when: When::Afterwards, ..command };
/// # let _ = queued;
/// ```
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Command {
    /// The side that gives it.
    pub side: SideId,
    /// The units that it is for. Their order does not matter, and naming one twice is naming it once.
    pub units: Vec<UnitId>,
    /// What they are to do.
    pub action: Action,
    /// When they do it, with regard to the orders that they have already.
    pub when: When,
}

/// When a command is carried out, with regard to the orders that its units have already.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum When {
    /// At once: it replaces all earlier orders.
    #[default]
    Now,
    /// After all earlier orders.
    Afterwards,
    /// At once: the order that it interrupts goes on afterwards.
    First,
}

impl When {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, When); 3] = [
        ("now", When::Now),
        ("afterwards", When::Afterwards),
        ("first", When::First),
    ];

    /// The word for it in scenario files.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            When::Now => "now",
            When::Afterwards => "afterwards",
            When::First => "first",
        }
    }
}

/// What units can be ordered to do.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Action {
    /// Go to a point, in metres. A group takes up places beside one another round it.
    Move {
        /// The point.
        to: Vec2,
    },
    /// Go to a point, in metres, and fight every foe that is noticed on the way before going on.
    /// A unit without a weapon just goes.
    AttackMove {
        /// The point.
        to: Vec2,
    },
    /// Go to a point, in metres, in formation, and stand there in it.
    March {
        /// The point: the middle of the formation.
        to: Vec2,
        /// The formation.
        formation: Formation,
        /// Whether to fight every foe that is noticed on the way before going on.
        fight: bool,
    },
    /// Go from where one stands along some points and back the same way, over and over, until
    /// ordered otherwise, and fight every foe that is noticed on the way. Orders that wait behind a
    /// patrol wait until it is cancelled; but a patrol that comes behind a patrol adds its points
    /// to that, and is done.
    Patrol {
        /// The points, in metres: 1 to [`MAX_PATROL_POINTS`].
        points: Vec<Vec2>,
        /// Whether to go round, from the last point straight to where one began.
        round: bool,
    },
    /// Go for a unit and strike it until it is dead.
    Attack {
        /// The unit.
        target: UnitId,
    },
    /// Strike a unit while it is within range, without a step towards it, until it is dead. The legs
    /// are free meanwhile: another activity may lead them.
    Fire {
        /// The unit.
        target: UnitId,
    },
    /// Walk up to a unit or building until one stands beside it; see [`Action::approach`].
    Approach {
        /// The unit.
        target: UnitId,
        /// How far from its edge to stand, in metres from edge to edge, at most [`MAX_STAND_OFF_M`].
        stand_off_m: f32,
        /// From which side to come, as the angle from where it looks in radians: `0` is its front, a quarter turn its
        /// left. `None` for the side from which one comes.
        side: Option<f32>,
    },
    /// Keep near a unit, at some distance, wherever it goes.
    Follow {
        /// The unit.
        target: UnitId,
    },
    /// Keep near a unit or a point, go for foes that are noticed near it, and come back.
    Guard {
        /// What to guard.
        ward: Spot,
    },
    /// Stand firm: strike what comes within range, but never take a step.
    Hold,
    /// Drop everything and stand still.
    Stop,
    /// Drop one order, and go on with the others.
    Cancel {
        /// Which.
        order: OrderNo,
    },
    /// Send units that come out of this building from now on to a spot, and give them the order
    /// that fits it. The building itself as the spot takes its rally points away. With
    /// [`When::Afterwards`], the spot comes behind those that it has.
    Rally {
        /// The spot.
        to: Spot,
    },
    /// Do what fits a spot: each unit by its abilities, as the world's
    /// [`ContextRules`](crate::world::ContextRules) say.
    Context {
        /// The spot.
        at: Spot,
    },
}

impl Action {
    /// Walk up to a unit or building from the nearest side, and stand right beside it.
    #[must_use]
    pub fn approach(target: UnitId) -> Action {
        Action::Approach {
            target,
            stand_off_m: USUAL_STAND_OFF_M,
            side: None,
        }
    }
}

/// The distance to stand off after an approach, unless the order says otherwise; in metres from edge to edge.
pub const USUAL_STAND_OFF_M: f32 = 0.3;

/// The largest distance to stand off, in metres.
pub const MAX_STAND_OFF_M: f32 = 1000.0;

/// The most points of a patrol, where it begins not counted.
pub const MAX_PATROL_POINTS: usize = 32;

/// The largest coordinate that an order may have, in metres and either way: beyond any map, and
/// well within what positions can tell apart.
pub const MAX_COORDINATE_M: f32 = 1_000_000.0;

/// The farthest that a facing may be turned, in radians and either way: some turns.
pub const MAX_FACING: f32 = 100.0;

/// What a click or an order points at.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Spot {
    /// A point of the ground, in metres.
    Ground(Vec2),
    /// A unit.
    Unit(UnitId),
}

/// Why a command, or its part for one unit, was not taken up. What was refused changes nothing.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, thiserror::Error)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum Refusal {
    /// There is no such side.
    #[error("there is no such side")]
    NoSuchSide,
    /// The command names no unit.
    #[error("it names no unit")]
    NoUnits,
    /// The id names no unit that lives.
    #[error("there is no such unit any more")]
    NoSuchUnit,
    /// The unit belongs to another side.
    #[error("the unit belongs to another side")]
    NotYours,
    /// A coordinate is NaN or infinite, or beyond [`MAX_COORDINATE_M`]; or a facing is beyond [`MAX_FACING`].
    #[error("a coordinate is not a number, or lies beyond any map; or a facing is no angle")]
    BadPoint,
    /// The unit has no such order, or not any more.
    #[error("the unit has no such order")]
    NoSuchOrder,
    /// The unit cannot move at all.
    #[error("the unit cannot move")]
    CannotMove,
    /// The unit has no weapon.
    #[error("the unit has no weapon")]
    CannotStrike,
    /// The unit has no rally point.
    #[error("the unit has no rally point")]
    CannotRally,
    /// The order points at a unit that does not live.
    #[error("the unit that it points at is not there any more")]
    NoSuchTarget,
    /// The distance to stand off is not a number from 0 to [`MAX_STAND_OFF_M`].
    #[error("the distance to stand off is not a number from 0 to {MAX_STAND_OFF_M} m")]
    BadDistance,
    /// The order points at the unit that is to carry it out.
    #[error("a unit cannot do that to itself")]
    Itself,
    /// The unit to be attacked is no foe.
    #[error("the target is no foe")]
    NotAFoe,
    /// The unit to be guarded is a foe.
    #[error("a foe cannot be guarded")]
    IsAFoe,
    /// The unit to be attacked cannot be harmed.
    #[error("the target cannot be harmed")]
    CannotBeHarmed,
    /// The patrol has no point, or more than [`MAX_PATROL_POINTS`].
    #[error("a patrol has 1 to {MAX_PATROL_POINTS} points")]
    PatrolPoints,
    /// There is nothing here that the unit could do.
    #[error("there is nothing that the unit could do there")]
    NothingToDo,
    /// The unit has [`MAX_QUEUED`](crate::world::MAX_QUEUED) orders already.
    #[error("the unit's queue is full")]
    QueueFull,
    /// An order controls what the activity needs: orders go before activities that are started without one.
    #[error("an order controls what the activity needs")]
    UnderOrders,
    /// It is no activity of a unit: cancelling, rallying and clicks are for orders only.
    #[error("it is not an activity")]
    NotAnActivity,
    /// No activity of the unit was started under this ticket, or it is over.
    #[error("the unit has no such activity")]
    NoSuchActivity,
    /// There is no kind of this number.
    #[error("there is no such kind")]
    NoSuchKind,
    /// There is no door of this number on the map.
    #[error("the map has no such door")]
    NoSuchDoor,
    /// There is no terrain of this number on the map.
    #[error("the map has no such terrain")]
    NoSuchTerrain,
    /// There is no such flock, zone or member.
    #[error("there is no such flock, zone or member")]
    NotInAFlock,
    /// The flock refused the change: see the checks of [`Flock`](crate::motion::flock::Flock).
    #[error("the flock cannot take that: a number is out of range, or it is full")]
    BadFlock,
    /// The body does not fit there.
    #[error("there is no room for the body there: {0}")]
    NoRoom(NoRoom),
    /// A number is not finite, or negative where that makes no sense.
    #[error("a number is out of range")]
    BadNumber,
    /// The world holds [`MAX_UNITS`](crate::world::MAX_UNITS) units already.
    #[error("the world is full")]
    WorldFull,
}

/// Why a body does not fit somewhere.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, thiserror::Error)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum NoRoom {
    /// It, or a part of the footprint of a building, is off the map.
    #[error("that is off the map")]
    OffTheMap,
    /// It would reach into closed ground.
    #[error("the ground there is closed, at or near ({}, {})", at.x, at.y)]
    ClosedGround {
        /// In metres: the middle of the body, or the middle of the first closed cell under a footprint.
        at: Vec2,
    },
    /// The footprint would overlap that of another building.
    #[error("unit {by} stands there")]
    Occupied {
        /// The other building.
        by: UnitId,
    },
}

impl Action {
    /// The unit or point that the action is about, if it is about one.
    #[must_use]
    pub fn spot(&self) -> Option<Spot> {
        match *self {
            Action::Move { to } | Action::AttackMove { to } | Action::March { to, .. } => {
                Some(Spot::Ground(to))
            }
            Action::Attack { target }
            | Action::Fire { target }
            | Action::Approach { target, .. }
            | Action::Follow { target } => Some(Spot::Unit(target)),
            Action::Guard { ward: spot }
            | Action::Rally { to: spot }
            | Action::Context { at: spot } => Some(spot),
            Action::Patrol { .. } | Action::Hold | Action::Stop | Action::Cancel { .. } => None,
        }
    }
}
