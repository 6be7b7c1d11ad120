//! The least that is left from a cell to the goal, where links may lead there quicker than the ground.

use crate::ground::ClearanceMap;
use crate::ground::steps::Tiling;

/// What is left from any cell, at the least.
#[derive(Clone, Debug, Default)]
pub(super) struct Detours {
    /// The rectangle of columns and rows in which the goals lie.
    low: (i32, i32),
    high: (i32, i32),
    /// Twice the smallest slowness.
    least: u64,
    /// Where links begin that are quicker than the ground between their ends can be, and what is
    /// left from there.
    via: Vec<((i32, i32), u64)>,
}

impl Detours {
    /// Works out what is left from each link, for goals given as entries.
    pub(super) fn find(&mut self, clearance: &ClearanceMap, tiling: impl Tiling, goals: &[u32]) {
        let places = || goals.iter().map(|goal| clearance.place(*goal as usize));
        let (xs, ys) = (
            || places().map(|place| place.0),
            || places().map(|place| place.1),
        );
        self.low = (xs().min().unwrap_or(0), ys().min().unwrap_or(0));
        self.high = (xs().max().unwrap_or(0), ys().max().unwrap_or(0));
        self.least = 2 * u64::from(clearance.lightest());
        self.via.clear();
        let between = |a: (i32, i32), b: (i32, i32)| tiling.estimate(a.0 - b.0, a.1 - b.1);
        let mut ends = Vec::new();
        for hop in clearance.hops() {
            let (from, to) = (
                clearance.place(hop.from as usize),
                clearance.place(hop.to as usize),
            );
            if hop.cost < between(from, to) * self.least {
                ends.push((to, hop.cost));
                let left = hop.cost + between(to, self.nearest_goal(to)) * self.least;
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
    #[inline]
    pub(super) fn estimate(&self, tiling: impl Tiling, (x, y): (i32, i32)) -> u64 {
        let to = |(gx, gy): (i32, i32)| tiling.estimate(gx - x, gy - y) * self.least;
        let straight = to(self.nearest_goal((x, y)));
        if self.via.is_empty() {
            return straight;
        }
        let via = self.via.iter().map(|(from, left)| to(*from) + left);
        via.fold(straight, u64::min)
    }

    /// The place of the rectangle of goals that is nearest to one.
    fn nearest_goal(&self, (x, y): (i32, i32)) -> (i32, i32) {
        (
            x.clamp(self.low.0, self.high.0),
            y.clamp(self.low.1, self.high.1),
        )
    }
}
