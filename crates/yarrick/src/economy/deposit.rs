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

/// Places where only one at a time can be: those who work at a deposit, say. Each holds one at the most. Who finds none can
/// stand in line; slots that become free go to those in line, the first first.
///
/// ```
/// use yarrick::economy::Slots;
///
/// let mut slots = Slots::new(1);
/// assert_eq!(slots.take("Wren", |_| Some(0.0)), Some(0));
/// slots.stand_in_line("Pip");
/// slots.free("Wren");
/// assert_eq!(slots.take("Wren", |_| Some(0.0)), None, "Pip comes first");
/// assert_eq!(slots.take("Pip", |_| Some(0.0)), Some(0));
/// ```
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Slots<Id> {
    owners: Vec<Option<Id>>,
    /// Those who wait for one, the first first.
    line: Vec<Id>,
}

impl<Id: Copy + Eq> Slots<Id> {
    /// `count` free slots.
    #[must_use]
    pub fn new(count: u16) -> Slots<Id> {
        Slots {
            owners: vec![None; count.into()],
            line: Vec::new(),
        }
    }

    /// The owner of each slot; `None` for a free one.
    #[must_use]
    pub fn owners(&self) -> &[Option<Id>] {
        &self.owners
    }

    /// Those who wait for a slot, the first first.
    #[must_use]
    pub fn line(&self) -> &[Id] {
        &self.line
    }

    /// The slot that `owner` holds.
    #[must_use]
    pub fn of(&self, owner: Id) -> Option<usize> {
        self.owners.iter().position(|known| *known == Some(owner))
    }

    /// Assigns the free slot with the lowest cost to `owner`, and returns it; ties by slot number. If `owner` holds a slot
    /// already, returns that one. `cost` is `None` for a slot that cannot be taken. `None` if there is no slot to take, or no
    /// more than there are in line before `owner`. Who gets one leaves the line; who could have had one that it cannot take goes
    /// to its end.
    pub fn take(&mut self, owner: Id, mut cost: impl FnMut(usize) -> Option<f32>) -> Option<usize> {
        if let Some(held) = self.of(owner) {
            return Some(held);
        }
        let free = (0..self.owners.len()).filter(|slot| self.owners[*slot].is_none());
        let in_line = self.line.iter().position(|known| *known == owner);
        if free.clone().count() <= in_line.unwrap_or(self.line.len()) {
            return None;
        }
        let costs = free.filter_map(|slot| Some((slot, cost(slot)?)));
        let best = costs.min_by(|a, b| a.1.total_cmp(&b.1));
        self.leave_line(owner);
        match best {
            Some((best, _)) => self.owners[best] = Some(owner),
            None if in_line.is_some() => self.line.push(owner),
            None => {}
        }
        best.map(|(best, _)| best)
    }

    /// Puts `owner` at the end of the line, unless it stands in it.
    pub fn stand_in_line(&mut self, owner: Id) {
        if !self.line.contains(&owner) {
            self.line.push(owner);
        }
    }

    /// Takes `owner` out of the line.
    pub fn leave_line(&mut self, owner: Id) {
        self.line.retain(|known| *known != owner);
    }

    /// Frees the slot that `owner` holds, and returns it. `None` if it holds none.
    pub fn free(&mut self, owner: Id) -> Option<usize> {
        let held = self.of(owner)?;
        self.owners[held] = None;
        Some(held)
    }
}
