//! Where the members of a flock are and how they move.
//!
//! They lie in the order of their cells, as they were when last sorted: so those near each other lie near each other,
//! and since nobody gets far within a tick, the next sorting finds nearly everybody in place already. A member is
//! found by its row, which is its rank in the order in which members came.

use super::body::Body;
use super::cells::Cells;
use super::lanes::{LANES, Moving, Vectors};
use crate::geom::Vec3;
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use wide::f32x4;

/// The members of a flock by slot.
#[derive(Clone, Debug, Default)]
pub(super) struct Bodies {
    list: Vec<Body>,
    /// The slot of each row.
    slot_of: Vec<u32>,
    /// Workspace: the same again, for what they become.
    spare: Vec<Body>,
}

/// By row: how they lie in memory does not matter.
impl Serialize for Bodies {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let rows = (0..self.len()).map(|row| self.in_row(row));
        serializer.collect_seq(rows.map(|body| (body.at(), body.velocity())))
    }
}

impl<'de> Deserialize<'de> for Bodies {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Bodies, D::Error> {
        let mut bodies = Bodies::default();
        for (at, velocity) in Vec::<(Vec3, Vec3)>::deserialize(deserializer)? {
            bodies.add(at, velocity);
        }
        Ok(bodies)
    }
}

impl Bodies {
    pub(super) fn len(&self) -> usize {
        self.list.len()
    }

    /// All of them, by slot.
    pub(super) fn by_slot(&self) -> &[Body] {
        &self.list
    }

    pub(super) fn in_row(&self, row: usize) -> &Body {
        &self.list[self.slot_of[row] as usize]
    }

    pub(super) fn slot_of(&self, row: usize) -> usize {
        self.slot_of[row] as usize
    }

    /// Adds a member in a new row behind all others.
    pub(super) fn add(&mut self, at: Vec3, velocity: Vec3) {
        let row = self.list.len() as u32;
        self.list.push(Body::new(at, velocity, row));
        self.slot_of.push(row);
    }

    /// Takes out the member in a row; the rows behind it move up.
    pub(super) fn remove(&mut self, row: usize) {
        self.list.remove(self.slot_of[row] as usize);
        self.slot_of.pop();
        for (slot, body) in self.list.iter_mut().enumerate() {
            body.row -= u32::from(body.row as usize > row);
            self.slot_of[body.row as usize] = slot as u32;
        }
    }

    /// Sorts them into cells that are made anew for them, those of a cell in the order of their rows: a counting sort,
    /// whose outcome does not depend on how they lay before.
    pub(super) fn sort(&mut self, cells: &mut Cells, view_m: f32) {
        cells.count(&mut self.list, view_m);
        self.spare.resize(self.list.len(), Body::default());
        for body in &self.list {
            self.spare[cells.take_slot(body.cell)] = *body;
        }
        cells.close();
        core::mem::swap(&mut self.list, &mut self.spare);
        let is_late = |list: &[Body], slot: usize| {
            let (before, here) = (&list[slot - 1], &list[slot]);
            before.cell == here.cell && before.row > here.row
        };
        for end in 1..self.list.len() {
            let mut slot = end;
            while slot > 0 && is_late(&self.list, slot) {
                self.list.swap(slot - 1, slot);
                slot -= 1;
            }
        }
        for (slot, body) in self.list.iter().enumerate() {
            self.slot_of[body.row as usize] = slot as u32;
        }
    }

    /// Makes of all what they become: `work_out` is given all as they are, and fills a list of what they will be, by
    /// slot.
    pub(super) fn change(&mut self, work_out: impl FnOnce(&[Body], &mut [Body])) {
        work_out(&self.list, &mut self.spare);
        core::mem::swap(&mut self.list, &mut self.spare);
    }
}

/// Where some are and how they move, lane by lane; lanes that nobody has are like the last.
pub(super) fn moving(bodies: &[Body]) -> Moving {
    let bodies = lanes(bodies);
    let [x, y, vx, vy] = f32x4::transpose(bodies.map(|body| f32x4::new(body.flat)));
    Moving {
        at: Vectors {
            x,
            y,
            z: f32x4::new(bodies.map(|body| body.upright[0])),
        },
        velocity: Vectors {
            x: vx,
            y: vy,
            z: f32x4::new(bodies.map(|body| body.upright[1])),
        },
    }
}

/// Some, lane by lane.
pub(super) fn lanes(bodies: &[Body]) -> [&Body; LANES] {
    core::array::from_fn(|lane| &bodies[lane.min(bodies.len() - 1)])
}
