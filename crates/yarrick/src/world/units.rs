//! The table of units: parallel lists, one row a unit, without gaps.

use super::activity::{Activity, Bout, Progress};
use super::handle::{Handles, UnitId};
use super::order::Queue;
use super::{KindId, SideId, Spot};
use crate::geom::Vec2;

/// A position and a facing.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Pose {
    /// The position, in metres.
    pub position: Vec2,
    /// The facing, in radians.
    pub facing: f32,
}

/// Every unit of the world. Rows move when others leave: keep ids, not rows.
#[derive(Clone, Debug, Default)]
pub(crate) struct Units {
    handles: Handles,
    pub(crate) id: Vec<UnitId>,
    pub(crate) kind: Vec<KindId>,
    pub(crate) side: Vec<SideId>,
    pub(crate) radius: Vec<f32>,
    pub(crate) position: Vec<Vec2>,
    pub(crate) facing: Vec<f32>,
    pub(crate) velocity: Vec<Vec2>,
    /// Where each was a tick ago, for smooth drawing.
    pub(crate) before: Vec<Pose>,
    pub(crate) orders: Vec<Queue>,
    pub(crate) activity: Vec<Activity>,
    /// For how many more ticks a standing unit looks whether it has to step aside.
    pub(crate) restless: Vec<u8>,
    /// Where each looks while it stands, in radians, if it was told to.
    pub(crate) looks: Vec<Option<f32>>,
    /// Where each stood before it stepped aside, and until which tick it means to come back.
    pub(crate) post: Vec<Option<(Vec2, u64)>>,
    /// What each can still suffer, in points.
    pub(crate) health: Vec<f32>,
    /// The first tick in which each can strike again.
    pub(crate) ready_at: Vec<u64>,
    /// The fight that each is in.
    pub(crate) bout: Vec<Option<Bout>>,
    /// How each gets on in coming up to another.
    pub(crate) progress: Vec<Progress>,
    /// Until this tick each goes for no foe, having given one up; it strikes what is in reach.
    pub(crate) calm_until: Vec<u64>,
    /// Where each sends whoever comes out of it.
    pub(crate) rally: Vec<Vec<Spot>>,
}

/// For how many ticks a standing unit looks round after something touched it.
pub(crate) const RESTLESS_TICKS: u8 = 4;

/// What a new unit starts with.
#[derive(Clone, Copy)]
pub(crate) struct NewUnit {
    pub(crate) kind: KindId,
    pub(crate) side: SideId,
    pub(crate) radius: f32,
    pub(crate) health: f32,
    pub(crate) pose: Pose,
}

impl Units {
    pub(crate) fn len(&self) -> usize {
        self.id.len()
    }

    pub(crate) fn row(&self, id: UnitId) -> Option<usize> {
        self.handles.row(id)
    }

    /// The ids that were retired last in the slots that will be used again, in their order.
    pub(crate) fn free_ids(&self) -> impl Iterator<Item = UnitId> + '_ {
        self.handles.free_ids()
    }

    pub(crate) fn add(&mut self, unit: NewUnit) -> UnitId {
        let id = self.handles.issue(self.len() as u32);
        self.id.push(id);
        self.kind.push(unit.kind);
        self.side.push(unit.side);
        self.radius.push(unit.radius);
        self.position.push(unit.pose.position);
        self.facing.push(unit.pose.facing);
        self.velocity.push(Vec2::ZERO);
        self.before.push(unit.pose);
        self.orders.push(Queue::new());
        self.activity.push(Activity::Stand);
        self.restless.push(RESTLESS_TICKS);
        self.post.push(None);
        self.looks.push(None);
        self.health.push(unit.health);
        self.ready_at.push(0);
        self.bout.push(None);
        self.progress.push(Progress::from(0));
        self.calm_until.push(0);
        self.rally.push(Vec::new());
        id
    }

    /// Takes a unit out; the last row moves into its place.
    pub(crate) fn remove(&mut self, row: usize) {
        let id = self.id.swap_remove(row);
        self.handles.retire(id);
        self.health.swap_remove(row);
        self.kind.swap_remove(row);
        self.side.swap_remove(row);
        self.radius.swap_remove(row);
        self.position.swap_remove(row);
        self.facing.swap_remove(row);
        self.velocity.swap_remove(row);
        self.before.swap_remove(row);
        self.orders.swap_remove(row);
        self.activity.swap_remove(row);
        self.restless.swap_remove(row);
        self.post.swap_remove(row);
        self.looks.swap_remove(row);
        self.ready_at.swap_remove(row);
        self.bout.swap_remove(row);
        self.progress.swap_remove(row);
        self.calm_until.swap_remove(row);
        self.rally.swap_remove(row);
        if let Some(&moved) = self.id.get(row) {
            self.handles.relocate(moved, row as u32);
        }
    }
}
