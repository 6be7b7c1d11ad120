//! Into which parts an obstacle would cut the ground of a body, without a copy of the map.
//!
//! ```text
//!     a a │ c c c      Floods start on all sides of the shut cells (x) and advance one cell each in turn. Two floods that
//!     a a x c c c      meet are merged. In each region the last flood is never finished: all cells that no other flood
//!     b b │ c c c      has reached belong to it. So the cost is that of the smaller parts.
//! ```

use super::{ClearanceMap, Region};
use crate::ground::Cell;
use std::collections::BTreeMap;

/// Shut by the obstacle.
const SHUT: u16 = u16::MAX;

/// The parts of the ground with an obstacle on it, for bodies on squares and without links.
#[derive(Debug)]
pub(crate) struct Parts<'a> {
    clearance: &'a ClearanceMap,
    /// Which flood has come to each entry, from 1; `0` for none.
    come: Vec<u16>,
    floods: Vec<Flood>,
}

#[derive(Debug)]
struct Flood {
    region: Region,
    /// Entries to go on from; those before `head` are done with.
    queue: Vec<u32>,
    head: usize,
    state: State,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum State {
    Flows,
    /// It has come to all of its part.
    Done,
    /// It is one with another.
    Joined(u16),
}

impl ClearanceMap {
    /// The parts of the ground if some cells were shut to the body. On squares only; links are left aside.
    ///
    /// Costs the cells of all parts but the largest of each region that the cells touch.
    pub(crate) fn parts_without(&self, shut: &[Cell]) -> Parts<'_> {
        let mut parts = Parts {
            clearance: self,
            come: vec![0; self.weights.len()],
            floods: Vec::new(),
        };
        let shut: Vec<usize> = shut.iter().filter_map(|cell| self.node(*cell)).collect();
        for &at in &shut {
            parts.come[at] = SHUT;
        }
        for &at in &shut {
            for next in parts.beside(at) {
                parts.begin(next);
            }
        }
        parts.flow();
        parts
    }
}

impl Parts<'_> {
    /// In which part a cell lies: two open cells of a region are connected if it is the same. `None` where it is closed.
    pub(crate) fn part(&self, cell: Cell) -> Option<(Region, u16)> {
        let at = self.clearance.node(cell)?;
        let region = self.clearance.regions.of(at)?;
        match self.come[at] {
            SHUT => None,
            0 => Some((region, 0)),
            number => {
                let flood = self.root(number - 1);
                let is_whole = self.floods[usize::from(flood)].state == State::Done;
                Some((region, if is_whole { flood + 1 } else { 0 }))
            }
        }
    }

    /// The entries that share a side with one.
    fn beside(&self, at: usize) -> [usize; 4] {
        let stride = self.clearance.stride;
        [at - 1, at + 1, at - stride, at + stride]
    }

    /// Begins a flood in an entry, if it is open and none has come there.
    fn begin(&mut self, at: usize) {
        let Some(region) = self.clearance.regions.of(at).filter(|_| self.come[at] == 0) else {
            return;
        };
        // An obstacle has fewer cells round it than there are numbers.
        let number = u16::try_from(self.floods.len() + 1).unwrap_or(SHUT);
        if number == SHUT {
            return;
        }
        self.come[at] = number;
        self.floods.push(Flood {
            region,
            queue: vec![at as u32],
            head: 0,
            state: State::Flows,
        });
    }

    /// The flood that another has become one with.
    fn root(&self, mut flood: u16) -> u16 {
        while let State::Joined(other) = self.floods[usize::from(flood)].state {
            flood = other;
        }
        flood
    }

    /// Lets all floods go on in turn, until one at most is left in each region.
    fn flow(&mut self) {
        let mut left: BTreeMap<Region, u32> = BTreeMap::new();
        for flood in &self.floods {
            *left.entry(flood.region).or_default() += 1;
        }
        while left.values().any(|count| *count > 1) {
            for number in 0..self.floods.len() {
                let flood = &self.floods[number];
                let region = flood.region;
                if flood.state == State::Flows && left[&region] > 1 {
                    let fewer = self.advance(number as u16);
                    left.entry(region).and_modify(|count| *count -= fewer);
                }
            }
        }
    }

    /// Lets a flood go on by an entry. Gives how many floods fewer there are for it.
    fn advance(&mut self, number: u16) -> u32 {
        let flood = &mut self.floods[usize::from(number)];
        let Some(&at) = flood.queue.get(flood.head) else {
            flood.state = State::Done;
            return 1;
        };
        flood.head += 1;
        let mut fewer = 0;
        for next in self.beside(at as usize) {
            match self.come[next] {
                SHUT => {}
                0 if self.clearance.weights[next] > 0 => {
                    self.come[next] = number + 1;
                    self.floods[usize::from(number)].queue.push(next as u32);
                }
                0 => {}
                known => {
                    let other = self.root(known - 1);
                    if other != number {
                        self.join(other, number);
                        fewer += 1;
                    }
                }
            }
        }
        fewer
    }

    /// Lets a flood become one with another, which goes on for both.
    fn join(&mut self, other: u16, number: u16) {
        let flood = &mut self.floods[usize::from(other)];
        flood.state = State::Joined(number);
        let (head, queue) = (flood.head, core::mem::take(&mut flood.queue));
        self.floods[usize::from(number)]
            .queue
            .extend_from_slice(&queue[head..]);
    }
}
