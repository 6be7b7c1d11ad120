//! What players and scripts ask of units.

use crate::geom::Vec2;
use crate::motion::formation::Formation;
use crate::world::ids::{OrderNo, SideId, UnitId};
use crate::world::kind::{KindId, Posture};
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
///     action: Action::move_to(Vec2::new(12.0, 4.5)),
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
    /// Go to a point, in metres. A group takes up places beside one another round it; see [`Action::move_to`].
    Move {
        /// The point.
        to: Vec2,
        /// How near it has to come, and where it looks then.
        finish: Finish,
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
    /// Keep near a unit, at some distance, wherever it goes; see [`Action::follow`].
    Follow {
        /// The unit.
        target: UnitId,
        /// How far from its edge the nearest of those that follow it stay, in metres from edge to edge, at most
        /// [`MAX_STAND_OFF_M`].
        gap_m: f32,
    },
    /// Strike a point of the ground, in metres, from within range of it, until ordered otherwise: projectiles fly there, and
    /// hit the first foe in their path; a weapon without them strikes the foe that stands there.
    AttackGround {
        /// The point.
        at: Vec2,
    },
    /// Change what the unit does about foes while it has nothing else to do. Done at once; its orders go on.
    SetPosture {
        /// What it does from now on.
        posture: Posture,
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
    /// Gathers at a deposit, round after round: strokes at a slot until the load is full, then the way to the nearest
    /// depot. When the deposit is empty, the unit goes on at the nearest other of the same kind.
    Gather {
        /// The deposit.
        target: UnitId,
    },
    /// Takes what the unit carries to a depot.
    Deliver {
        /// The depot.
        target: UnitId,
    },
    /// Reserves a site for a building, pays for it, and builds there.
    Build {
        /// What is built.
        kind: KindId,
        /// The position of the building, in metres.
        at: Vec2,
        /// Where it faces, in radians.
        facing: f32,
    },
    /// Builds on a site that there is.
    Construct {
        /// The site.
        target: UnitId,
    },
    /// Gives up a site, or a building under construction: it leaves the world, and what it cost is given back.
    CallOff,
    /// Queues a unit for production, and pays for it.
    Produce {
        /// Its kind.
        kind: KindId,
    },
    /// Takes a unit out of the production queue; what it cost is given back.
    CancelProduction {
        /// Its place in the queue, from 0.
        place: u16,
    },
    /// Do what fits a spot: each unit by its abilities, as the world's
    /// [`ContextRules`](crate::world::ContextRules) say.
    Context {
        /// The spot.
        at: Spot,
    },
}

/// How a move ends.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Finish {
    /// Where the unit looks when it has come there, in radians; `None` for where it went.
    pub facing: Option<f32>,
    /// How near to its place the unit has to come, in metres, at most [`MAX_STAND_OFF_M`]. With 0 it comes as near as others
    /// and its body let it.
    pub within_m: f32,
}

impl Action {
    /// Go to a point, in metres, and stand there.
    #[must_use]
    pub fn move_to(to: Vec2) -> Action {
        let finish = Finish::default();
        Action::Move { to, finish }
    }

    /// Keep near a unit, at the usual distance.
    #[must_use]
    pub fn follow(target: UnitId) -> Action {
        let gap_m = USUAL_FOLLOW_GAP_M;
        Action::Follow { target, gap_m }
    }

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

/// The distance to keep from a unit that is followed, unless the order says otherwise; in metres from edge to edge.
pub const USUAL_FOLLOW_GAP_M: f32 = 1.0;

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

impl Action {
    /// The unit or point that the action is about, if it is about one.
    #[must_use]
    pub fn spot(&self) -> Option<Spot> {
        match *self {
            Action::Move { to, .. } | Action::AttackMove { to } | Action::March { to, .. } => {
                Some(Spot::Ground(to))
            }
            Action::AttackGround { at } => Some(Spot::Ground(at)),
            Action::Attack { target }
            | Action::Fire { target }
            | Action::Approach { target, .. }
            | Action::Follow { target, .. }
            | Action::Gather { target }
            | Action::Deliver { target }
            | Action::Construct { target } => Some(Spot::Unit(target)),
            Action::Build { at, .. } => Some(Spot::Ground(at)),
            Action::Guard { ward: spot }
            | Action::Rally { to: spot }
            | Action::Context { at: spot } => Some(spot),
            Action::Patrol { .. }
            | Action::Hold
            | Action::Stop
            | Action::Cancel { .. }
            | Action::CallOff
            | Action::Produce { .. }
            | Action::CancelProduction { .. }
            | Action::SetPosture { .. } => None,
        }
    }
}
