//! Ids that never come to mean another unit.
//!
//! A slot map of our own rather than a crate's, because the list of free slots is part of the
//! state: after a snapshot is loaded, the next unit must get the id it would have got.

use core::fmt;
use core::str::FromStr;
use serde::{Deserialize, Serialize};

/// Names one unit, for good: once the unit is gone, its id means nobody.
///
/// Written as slot and generation, such as `7v2`. Ordered by slot.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct UnitId {
    slot: u32,
    generation: u32,
}

impl fmt::Display for UnitId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        // `pad`, so that tables can align ids.
        f.pad(&format!("{}v{}", self.slot, self.generation))
    }
}

impl fmt::Debug for UnitId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        fmt::Display::fmt(self, f)
    }
}

/// The text is not an id such as `7v2`.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("an id is written as slot and generation, such as 7v2")]
pub struct NotAnId;

impl FromStr for UnitId {
    type Err = NotAnId;

    fn from_str(text: &str) -> Result<UnitId, NotAnId> {
        let (slot, generation) = text.split_once('v').ok_or(NotAnId)?;
        let number = |digits: &str| digits.parse().map_err(|_| NotAnId);
        Ok(UnitId {
            slot: number(slot)?,
            generation: number(generation)?,
        })
    }
}

impl UnitId {
    /// An id from its two numbers: for commands that come over a wire. Whether it names anybody
    /// is for the world to say.
    #[must_use]
    pub fn from_parts(slot: u32, generation: u32) -> UnitId {
        UnitId { slot, generation }
    }

    /// The id as one number, by which a planner knows the unit.
    pub(crate) fn number(self) -> u64 {
        u64::from(self.generation) << 32 | u64::from(self.slot)
    }

    /// The id of such a number.
    pub(crate) fn of_number(number: u64) -> UnitId {
        UnitId::from_parts(number as u32, (number >> 32) as u32)
    }

    /// The id that the n-th unit of a new world gets, counted from 0.
    pub(crate) fn of_nth(n: u32) -> UnitId {
        UnitId {
            slot: n,
            generation: 1,
        }
    }

    /// The slot and the generation.
    #[must_use]
    pub fn parts(self) -> (u32, u32) {
        (self.slot, self.generation)
    }
}

/// From ids to rows of the unit table.
#[derive(Clone, Debug, Default)]
pub(crate) struct Handles {
    slots: Vec<Slot>,
    /// Slots to use again, last freed first.
    free: Vec<u32>,
}

#[derive(Clone, Copy, Debug)]
struct Slot {
    generation: u32,
    row: u32,
}

const NO_ROW: u32 = u32::MAX;

impl Handles {
    /// A new id for what stands in `row`.
    pub(crate) fn issue(&mut self, row: u32) -> UnitId {
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
        UnitId {
            slot,
            generation: entry.generation,
        }
    }

    /// The row of an id, or `None` where it names nobody any more.
    pub(crate) fn row(&self, id: UnitId) -> Option<usize> {
        let slot = self.slots.get(id.slot as usize)?;
        (slot.generation == id.generation && slot.row != NO_ROW).then_some(slot.row as usize)
    }

    /// Tells that a unit has moved to another row.
    pub(crate) fn relocate(&mut self, id: UnitId, row: u32) {
        self.slots[id.slot as usize].row = row;
    }

    /// The last ids of the free slots, in the order in which these were freed.
    pub(crate) fn free_ids(&self) -> impl Iterator<Item = UnitId> + '_ {
        self.free.iter().map(|&slot| UnitId {
            slot,
            generation: self.slots[slot as usize].generation,
        })
    }

    /// Retires an id for good.
    pub(crate) fn retire(&mut self, id: UnitId) {
        let slot = &mut self.slots[id.slot as usize];
        slot.row = NO_ROW;
        // A slot whose generations are used up is never issued again.
        if slot.generation < u32::MAX {
            self.free.push(id.slot);
        }
    }
}
