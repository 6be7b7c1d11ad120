//! Working out tracts step by step, after a change that touches many of them.
//!
//! What is left is a set of tasks in the order of their kinds, for a gate decides between which cells ways are needed, and ways decide
//! what an exit costs. Each task follows from the clearance map, and from the tasks before it in that order: what it takes does not
//! depend on what was known before the change, so that a saved list of tasks is all that it takes to go on in the same way.

use super::tile::Tile;
use super::{Chart, EXITS_OF_A_TRACT, gates};
use crate::ground::ClearanceMap;
use serde::{Deserialize, Serialize};

/// A step of the work: what is to be found, and for which tract.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub(crate) struct Task {
    find: Find,
    tract: u32,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
enum Find {
    /// The gates to the tract ahead on one of four sides.
    Gates(u8),
    /// The ways from gate to gate.
    Ways,
    Exits,
}

impl Chart {
    /// What is left to do.
    pub(in crate::ground::clearance) fn tasks(&self) -> impl ExactSizeIterator<Item = Task> + '_ {
        self.later.iter().copied()
    }

    /// Sets what is left to do.
    ///
    /// # Errors
    /// Tasks for tracts that do not exist.
    pub(in crate::ground::clearance) fn set_tasks(
        &mut self,
        tasks: &[Task],
    ) -> Result<(), &'static str> {
        let exists = |task: &Task| {
            let side = match task.find {
                Find::Gates(ahead) => gates::AHEAD.get(usize::from(ahead)),
                Find::Ways | Find::Exits => Some(&(0, 0)),
            };
            let known = task.tract < self.tract_count();
            known && side.is_some_and(|side| self.neighbour(task.tract, *side).is_some())
        };
        if !tasks.iter().all(exists) {
            return Err("tracts that do not exist");
        }
        self.later = tasks.iter().copied().collect();
        Ok(())
    }

    /// Notes what is to be done for tracts in which cells have changed.
    pub(super) fn put_off(&mut self, clearance: &ClearanceMap, changed: &[u32]) {
        for (tract, ahead) in self.borders_of(changed) {
            if self.neighbour(tract, gates::AHEAD[ahead]).is_some() {
                let find = Find::Gates(ahead as u8);
                self.later.insert(Task { find, tract });
            }
        }
        let with_gates = self.with_those_around(clearance, changed);
        let with_exits = self.with_those_around(clearance, &with_gates);
        for (find, tracts) in [(Find::Ways, with_gates), (Find::Exits, with_exits)] {
            let tasks = tracts.into_iter().map(|tract| Task { find, tract });
            self.later.extend(tasks);
        }
    }

    /// Does what is left, for about `most` work: a task is not divided. Gives the work, counted in cells that a search settles.
    pub(in crate::ground::clearance) fn finish(
        &mut self,
        clearance: &ClearanceMap,
        most: u32,
    ) -> u32 {
        if self.later.is_empty() {
            return 0;
        }
        let mut tiles = [Tile::default(), Tile::default()];
        let mut exits = 0;
        let done = |tiles: &[Tile; 2], exits: u32| {
            tiles.iter().map(Tile::work).sum::<u32>() + exits * EXITS_OF_A_TRACT
        };
        while done(&tiles, exits) < most
            && let Some(Task { find, tract }) = self.later.pop_first()
        {
            match find {
                Find::Gates(ahead) => {
                    let (corner, ahead) = (self.corner(tract), usize::from(ahead));
                    let found = gates::find(clearance, corner, ahead, &mut tiles);
                    self.tracts[tract as usize].ahead[ahead] = found;
                }
                Find::Ways => self.find_costs(clearance, (tract, None), &mut tiles[0]),
                Find::Exits => {
                    self.find_exits(clearance, tract);
                    exits += 1;
                }
            }
            if self.later.is_empty() {
                let all: Vec<u32> = (0..self.tract_count()).collect();
                self.count_cells(&all);
                self.dearest = self.dearest_of.iter().copied().max().unwrap_or(0);
            }
        }
        done(&tiles, exits)
    }
}
