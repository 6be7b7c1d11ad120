//! From ids to rows of a table: generational handles for rows of any sort.
//!
//! A slot map of our own rather than a crate's, because the list of free slots is part of the
//! state: after a snapshot is loaded, the next row must get the id that it would have got.

use crate::world::ids::{ProjectileId, UnitId};
use core::marker::PhantomData;
use serde::{Deserialize, Serialize};

/// An id made of a slot and a generation.
pub(crate) trait Handle: Copy + Eq + Ord {
    fn of(slot: u32, generation: u32) -> Self;
    fn slot(self) -> u32;
    fn generation(self) -> u32;
}

/// Makes ids of a world handles of its tables.
macro_rules! handles {
    ($($Id:ty),*) => {
        $(
            impl Handle for $Id {
                fn of(slot: u32, generation: u32) -> $Id {
                    <$Id>::from_parts(slot, generation)
                }

                fn slot(self) -> u32 {
                    self.parts().0
                }

                fn generation(self) -> u32 {
                    self.parts().1
                }
            }
        )*
    };
}

handles!(UnitId, ProjectileId);

/// From ids to rows.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(crate) struct Handles<Id> {
    slots: Vec<Slot>,
    /// Slots to use again, last freed first.
    free: Vec<u32>,
    id: PhantomData<Id>,
}

impl<Id> Default for Handles<Id> {
    fn default() -> Handles<Id> {
        Handles {
            slots: Vec::new(),
            free: Vec::new(),
            id: PhantomData,
        }
    }
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(super) struct Slot {
    generation: u32,
    row: u32,
}

super::table::plain!(Slot);

const NO_ROW: u32 = u32::MAX;

impl<Id: Handle> Handles<Id> {
    /// A new id for what stands in `row`.
    pub(crate) fn issue(&mut self, row: u32) -> Id {
        let slot = self.free.pop().unwrap_or_else(|| {
            self.slots.push(Slot {
                generation: 0,
                row: NO_ROW,
            });
            self.slots.len() as u32 - 1
        });
        let entry = &mut self.slots[slot as usize];
        entry.generation += 1;
        entry.row = row;
        Id::of(slot, entry.generation)
    }

    /// The row of an id, or `None` where it names nothing any more.
    pub(crate) fn row(&self, id: Id) -> Option<usize> {
        let slot = self.slots.get(id.slot() as usize)?;
        (slot.generation == id.generation() && slot.row != NO_ROW).then_some(slot.row as usize)
    }

    /// Notes that an id has moved to another row.
    pub(crate) fn relocate(&mut self, id: Id, row: u32) {
        self.slots[id.slot() as usize].row = row;
    }

    /// Retires an id for good.
    pub(crate) fn retire(&mut self, id: Id) {
        let slot = &mut self.slots[id.slot() as usize];
        slot.row = NO_ROW;
        // A slot whose generations are used up is never issued again.
        if slot.generation < u32::MAX {
            self.free.push(id.slot());
        }
    }

    /// The two lists of which it consists.
    pub(super) fn lists(&self) -> (&Vec<Slot>, &Vec<u32>) {
        (&self.slots, &self.free)
    }

    /// Whether it fits the ids that stand in the rows of a table: for what was read from a file.
    pub(crate) fn fits(&self, ids: &[Id]) -> bool {
        let in_use = self.slots.iter().filter(|slot| slot.row != NO_ROW).count();
        let rows = ids.iter().enumerate();
        let free = |slot: &u32| {
            let entry = self.slots.get(*slot as usize);
            entry.is_some_and(|entry| entry.row == NO_ROW && entry.generation < u32::MAX)
        };
        let mut once: Vec<u32> = self.free.clone();
        once.sort_unstable();
        once.dedup();
        in_use == ids.len()
            && rows.into_iter().all(|(row, id)| self.row(*id) == Some(row))
            && once.len() == self.free.len()
            && self.free.iter().all(free)
    }
}
