//! Where a resource lies, who works there, and how the work goes.

use super::ResourceId;
use serde::{Deserialize, Serialize};

/// A place where a resource can be gathered.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Deposit {
    /// What lies there.
    pub resource: ResourceId,
    /// How much is left.
    pub left: u32,
}

impl Deposit {
    /// Takes an amount out, or what is left if that is less. Gives what was taken.
    pub fn take(&mut self, most: u32) -> u32 {
        let taken = most.min(self.left);
        self.left -= taken;
        taken
    }
}

/// What a unit carries of a resource.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Load {
    /// The resource.
    pub resource: ResourceId,
    /// How much of it, 1 at least.
    pub amount: u32,
}

/// In which strokes of work there is an item.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Rhythm {
    /// How many strokes there are to an item; `0` counts as 1.
    pub strokes: u32,
    /// The stroke with the item, from 1; `0` counts as 1, and more than there are as the last.
    pub item_on: u32,
}

impl Rhythm {
    /// Work in this rhythm, before its first stroke.
    #[must_use]
    pub fn begin(self) -> Strokes {
        Strokes {
            rhythm: self,
            done: 0,
        }
    }
}

/// Work that is under way: how many strokes have been done since the rhythm began anew. It can be left and taken up
/// again, and no stroke is lost.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Strokes {
    rhythm: Rhythm,
    done: u32,
}

impl Strokes {
    /// Does a stroke. Gives whether there is an item in it.
    pub fn stroke(&mut self) -> bool {
        let strokes = self.rhythm.strokes.max(1);
        let stroke = self.done % strokes + 1;
        self.done = stroke % strokes;
        stroke == self.rhythm.item_on.clamp(1, strokes)
    }
}

/// Places where only one at a time can be: those who work at a deposit, say. Each holds one at the most.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Slots<Id>(Vec<Option<Id>>);

impl<Id: Copy + Eq> Slots<Id> {
    /// `count` free slots.
    #[must_use]
    pub fn new(count: u16) -> Slots<Id> {
        Slots(vec![None; count.into()])
    }

    /// The owner of each slot; `None` for a free one.
    #[must_use]
    pub fn owners(&self) -> &[Option<Id>] {
        &self.0
    }

    /// The slot that `owner` holds.
    #[must_use]
    pub fn of(&self, owner: Id) -> Option<usize> {
        self.0.iter().position(|known| *known == Some(owner))
    }

    /// Assigns the free slot with the lowest cost to `owner`, and returns it; ties by slot number. If `owner` holds a slot
    /// already, returns that one. `cost` is `None` for a slot that cannot be taken. `None` if there is no slot to take.
    pub fn take(&mut self, owner: Id, mut cost: impl FnMut(usize) -> Option<f32>) -> Option<usize> {
        if let Some(held) = self.of(owner) {
            return Some(held);
        }
        let free = (0..self.0.len()).filter(|slot| self.0[*slot].is_none());
        let costs = free.filter_map(|slot| Some((slot, cost(slot)?)));
        let (best, _) = costs.min_by(|a, b| a.1.total_cmp(&b.1))?;
        self.0[best] = Some(owner);
        Some(best)
    }

    /// Frees the slot that `owner` holds, and returns it. `None` if it holds none.
    pub fn free(&mut self, owner: Id) -> Option<usize> {
        let held = self.of(owner)?;
        self.0[held] = None;
        Some(held)
    }
}
