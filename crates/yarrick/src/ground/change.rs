//! A map that changes: buildings on it, doors, other terrain. Each change says which cells it
//! touched, so that what was worked out from the map can be mended there and nowhere else.

use super::layer::Layer;
use super::{Cell, Ground, GroundError, Patch};
use serde::{Deserialize, Serialize};

/// The most doors that a map may have.
pub const MAX_DOORS: usize = 4096;

/// Names a door, by its place in the list of a map.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct DoorId(pub u16);

/// Some cells that can be shut.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Door {
    /// What it is called.
    pub name: String,
    /// Where it is.
    pub patch: Patch,
    /// Whether it is shut: then only those pass for whom doors open.
    pub shut: bool,
}

impl Ground {
    /// The same map with doors.
    ///
    /// # Errors
    /// [`GroundError::BadDoor`] for one off the map, [`GroundError::TooMany`] for more than
    /// [`MAX_DOORS`].
    pub fn with_doors(mut self, doors: Vec<Door>) -> Result<Ground, GroundError> {
        if doors.len() > MAX_DOORS {
            return Err(GroundError::TooMany {
                what: "doors",
                count: doors.len(),
                most: MAX_DOORS,
            });
        }
        let off = |door: &&Door| {
            let patch = &door.patch;
            patch.is_empty() || patch.clipped(self.width, self.height) != *patch
        };
        if let Some(door) = doors.iter().find(off) {
            let name = door.name.clone();
            return Err(GroundError::BadDoor { name });
        }
        self.doors = doors;
        self.shut = vec![0; self.classes.len()];
        for door in self.doors.iter().filter(|door| door.shut) {
            for cell in door.patch.cells() {
                self.shut[cell.y as usize * self.width as usize + cell.x as usize] += 1;
            }
        }
        self.lay_out(self.whole());
        Ok(self)
    }

    /// The doors of the map.
    #[must_use]
    pub fn doors(&self) -> &[Door] {
        &self.doors
    }

    /// Opens or shuts a door. Gives the cells that changed; none where there is no such door, or
    /// it was as wanted.
    pub fn set_door(&mut self, door: DoorId, shut: bool) -> Patch {
        let Some(known) = self.doors.get_mut(usize::from(door.0)) else {
            return Patch::EMPTY;
        };
        if known.shut == shut {
            return Patch::EMPTY;
        }
        known.shut = shut;
        let patch = known.patch;
        for cell in patch.cells() {
            let at = cell.y as usize * self.width as usize + cell.x as usize;
            let count = &mut self.shut[at];
            *count = if shut { *count + 1 } else { *count - 1 };
        }
        self.lay_out(patch);
        patch
    }

    /// Puts a building on cells: all that does not fly is kept out. Several may stand on the same cell.
    /// Gives the cells that changed. Those off the map count for nothing.
    pub fn block(&mut self, cells: impl IntoIterator<Item = Cell>) -> Patch {
        self.recount(cells, u16::saturating_add)
    }

    /// Takes a building off cells again.
    pub fn unblock(&mut self, cells: impl IntoIterator<Item = Cell>) -> Patch {
        self.recount(cells, u16::saturating_sub)
    }

    /// Whether a building stands on the cell.
    #[must_use]
    pub fn is_blocked(&self, cell: Cell) -> bool {
        self.index(cell)
            .is_some_and(|at| self.blocks.get(at).is_some_and(|count| *count > 0))
    }

    fn recount(
        &mut self,
        cells: impl IntoIterator<Item = Cell>,
        count: impl Fn(u16, u16) -> u16,
    ) -> Patch {
        self.blocks.resize(self.classes.len(), 0);
        let mut changed = Patch::EMPTY;
        for cell in cells {
            let Some(at) = self.index(cell) else {
                continue;
            };
            let before = self.blocks[at];
            self.blocks[at] = count(before, 1);
            if (before > 0) != (self.blocks[at] > 0) {
                changed = changed.with(cell);
            }
        }
        self.lay_out(changed);
        changed
    }

    /// Makes cells another terrain, by its number in the list of the map. Gives the cells that
    /// changed; none where there is no such terrain.
    pub fn set_terrain(&mut self, cells: impl IntoIterator<Item = Cell>, terrain: usize) -> Patch {
        if terrain >= self.terrains.len() {
            return Patch::EMPTY;
        }
        let mut changed = Patch::EMPTY;
        for cell in cells {
            if let Some(at) = self.index(cell)
                && usize::from(self.classes[at]) != terrain
            {
                self.classes[at] = terrain as u8;
                changed = changed.with(cell);
            }
        }
        self.lay_out(changed);
        changed
    }

    /// All cells of the map.
    #[must_use]
    pub fn whole(&self) -> Patch {
        Patch {
            min: Cell::new(0, 0),
            max: Cell::new(self.width as i32 - 1, self.height as i32 - 1),
        }
    }

    /// Works out anew how each gait finds some cells.
    pub(super) fn lay_out(&mut self, patch: Patch) {
        let mut layers = core::mem::take(&mut self.layers);
        layers.resize(self.gaits.len(), Layer::default());
        let (width, height) = (self.width as usize, self.height as usize);
        for (gait, layer) in self.gaits.iter().zip(&mut layers) {
            layer.resize(width, height);
            let by_class: Vec<Option<f32>> = self
                .terrains
                .iter()
                .map(|terrain| gait.speed_on(terrain))
                .collect();
            for cell in patch.cells() {
                let at = cell.y as usize * width + cell.x as usize;
                let speed = by_class[usize::from(self.classes[at])];
                layer.slowness[at] = self.slowness_for(gait, cell, at, speed);
            }
            let (columns, rows) = (patch.min.x..=patch.max.x, patch.min.y..=patch.max.y);
            layer.changed(width, columns, rows);
        }
        self.layers = layers;
    }
}
