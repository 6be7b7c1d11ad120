//! The table of units: one row each, without gaps. Rows move when others leave: keep ids, not rows.

use super::digest::Digest;
use super::handle::Handles;
use super::locomotion::Locomotion;
use super::table::{Value, Visitor, plain, table};
use crate::geom::Vec2;
use crate::world::ids::{OrderNo, SideId, Ticket, UnitId};
use crate::world::kind::{KindId, Posture};
use serde::{Deserialize, Serialize};

/// A position and a facing.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Pose {
    /// The position, in metres.
    pub position: Vec2,
    /// The facing, in radians.
    pub facing: f32,
}

/// Who controls a faculty of a unit.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Owner {
    /// Nothing does: the unit does what comes naturally.
    #[default]
    Nobody,
    /// The order that it carries out.
    Order(OrderNo),
    /// An activity that was started by a change.
    Change(Ticket),
    /// A drill, by its number among those of the kind.
    Drill(u8),
    /// Its posture: it fights of its own accord.
    Posture,
}

/// What the arms of a unit aim at.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Aim {
    pub(crate) foe: UnitId,
    /// Whether the unit strikes while it walks, without turning to the foe.
    pub(crate) on_the_move: bool,
}

plain!(KindId, SideId, UnitId, Aim, Return, Berth, Posture);

impl Value for Owner {
    #[inline]
    fn feed(&self, digest: &mut Digest) {
        match self {
            Owner::Nobody => digest.put([0]),
            Owner::Order(order) => {
                digest.put([1]);
                digest.put(order.0.to_le_bytes());
            }
            Owner::Change(ticket) => {
                digest.put([2]);
                digest.add(ticket);
            }
            Owner::Drill(nth) => digest.put([3, *nth]),
            Owner::Posture => digest.put([4]),
        }
    }
}

/// Where a unit stood before it stepped aside.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Return {
    /// The place, in metres.
    pub(crate) at: Vec2,
    /// The first tick in which it goes back, and the first in which it no longer means to.
    pub(crate) from: u64,
    pub(crate) until: u64,
}

/// The place that a unit has taken on the rim of another, to which it comes up.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Berth {
    pub(crate) target: UnitId,
    /// The place, in metres from the middle of the target.
    pub(crate) offset: Vec2,
    /// Whether it is near enough there; else it waits there until a nearer place is free.
    pub(crate) is_near: bool,
    /// The first tick in which it looks for a nearer place.
    pub(crate) looks_from: u64,
    /// Whether the place was moved along the rim to make room for another unit, and the unit has not reached it yet.
    pub(crate) moved: bool,
}

impl Value for Pose {
    #[inline]
    fn feed(&self, digest: &mut Digest) {
        self.position.feed(digest);
        self.facing.feed(digest);
    }

    fn feed_all(values: &[Pose], digest: &mut Digest) {
        let bytes = |pose: &Pose| {
            let mut bytes = [0; 12];
            bytes[..4].copy_from_slice(&pose.position.x.to_le_bytes());
            bytes[4..8].copy_from_slice(&pose.position.y.to_le_bytes());
            bytes[8..].copy_from_slice(&pose.facing.to_le_bytes());
            bytes
        };
        digest.put_each(values.iter().map(bytes));
    }
}

table! {
    /// Every unit of the world.
    table Units of UnitRow by UnitId {
        kind: KindId,
        side: SideId,
        /// The radius of the disc that others give way to, in metres; `0` for a building that closes ground instead.
        radius: f32,
        position: Vec2,
        facing: f32,
        velocity: Vec2,
        /// Where it was a tick ago, for smooth drawing.
        before: Pose,
        /// What is left of its health, in points.
        health: f32,
        /// What its legs are at, and who controls them.
        locomotion: Locomotion,
        legs_owner: Owner,
        /// Whether it never takes a step, not even aside.
        stands_firm: bool,
        /// Whether it goes on elsewhere when it has come to its place: then it need not slow down.
        passes_through: bool,
        /// For how many more ticks a standing unit looks whether it has to step aside.
        settling_ticks: u8,
        /// Where it stood before it stepped aside, if it means to come back.
        return_to: Option<Return>,
        /// The place that it has taken on the rim of the unit to which it comes up.
        berth: Option<Berth>,
        /// What it aims at, who controls that, and the first tick in which it can strike again.
        aim: Option<Aim>,
        arms_owner: Owner,
        ready_at: u64,
        /// What it does about foes while it has nothing else to do, if that is not what its kind says.
        posture: Option<Posture>,
    }
}

/// The most units that a world holds.
pub const MAX_UNITS: usize = 1 << 18;

/// For how many ticks a standing unit looks round after something touched it.
pub(crate) const SETTLING_TICKS: u8 = 4;

impl UnitRow {
    /// A unit that has just come into the world.
    pub(crate) fn new(kind: KindId, side: SideId, body: (f32, f32), pose: Pose) -> UnitRow {
        let (radius, health) = body;
        UnitRow {
            kind,
            side,
            radius,
            position: pose.position,
            facing: pose.facing,
            velocity: Vec2::ZERO,
            before: pose,
            health,
            locomotion: Locomotion::Standing,
            legs_owner: Owner::Nobody,
            stands_firm: false,
            passes_through: false,
            settling_ticks: SETTLING_TICKS,
            return_to: None,
            berth: None,
            aim: None,
            arms_owner: Owner::Nobody,
            ready_at: 0,
            posture: None,
        }
    }
}
