//! The least that is left from a cell to the goal, where links may lead there quicker than the ground.

use super::steps::Tiling;
use crate::ground::Passage;

/// What is left from any cell, at the least.
#[derive(Clone, Debug, Default)]
pub(super) struct Detours {
    goal: (i32, i32),
    /// Twice the smallest slowness.
    least: u64,
    /// Where links begin that are quicker than the ground between their ends can be, and what is
    /// left from there.
    via: Vec<((i32, i32), u64)>,
}

impl Detours {
    /// Works out what is left from each link, for a goal given as an entry.
    pub(super) fn find(&mut self, passage: &Passage, tiling: impl Tiling, goal: usize) {
        self.goal = passage.place(goal);
        self.least = 2 * u64::from(passage.lightest());
        self.via.clear();
        let between = |a: (i32, i32), b: (i32, i32)| tiling.estimate(a.0 - b.0, a.1 - b.1);
        let mut ends = Vec::new();
        for hop in passage.hops() {
            let (from, to) = (
                passage.place(hop.from as usize),
                passage.place(hop.to as usize),
            );
            if hop.cost < between(from, to) * self.least {
                ends.push((to, hop.cost));
                let left = hop.cost + between(to, self.goal) * self.least;
                self.via.push((from, left));
            }
        }
        // Links may lead to one another: as many rounds as ways through them are long.
        loop {
            let mut changed = false;
            for (k, (to, cost)) in ends.iter().enumerate() {
                let by_way_of = |(from, left): &((i32, i32), u64)| {
                    cost + between(*to, *from) * self.least + left
                };
                let left = self.via.iter().map(by_way_of).min().unwrap_or(u64::MAX);
                if left < self.via[k].1 {
                    self.via[k].1 = left;
                    changed = true;
                }
            }
            if !changed {
                break;
            }
        }
    }

    /// What is left from a place, at the least.
    pub(super) fn estimate(&self, tiling: impl Tiling, (x, y): (i32, i32)) -> u64 {
        let to = |(gx, gy): (i32, i32)| tiling.estimate(gx - x, gy - y) * self.least;
        let straight = to(self.goal);
        let via = self.via.iter().map(|(from, left)| to(*from) + left);
        via.fold(straight, u64::min)
    }
}
