//! Which parts still hang together where a change may have cut or joined regions.
//!
//! From each of some groups a flood goes on, a group each in turn, until all but one have come to their ends: that costs as much
//! as the smaller regions, not as the largest.

use super::Regions;
use super::pieces::Spot;

/// A region that is being flooded.
struct Flood {
    /// The groups that it has reached, each with the number of the region that it had before.
    reached: Vec<(Spot, u32)>,
    /// How many of these have been gone on from.
    done: usize,
    /// The number of the flood that it has run into, itself if none.
    joined: usize,
}

/// What came of flooding.
#[derive(Clone, Copy, Debug)]
pub(super) struct Flooded {
    /// Whether regions were cut or joined.
    pub(super) regrouped: bool,
    /// How many groups, and parts at the rims of their squares, were looked at.
    pub(super) parts: u32,
}

impl Flood {
    fn is_open(&self) -> bool {
        self.done < self.reached.len()
    }
}

impl Regions {
    /// Floods from some groups until at most one of the regions that they belong to is not done with, and numbers these.
    pub(super) fn flood_in_turn(&mut self, seeds: &[Spot]) -> Flooded {
        let first = self.sizes.len() as u32;
        let mut floods: Vec<Flood> = Vec::with_capacity(seeds.len());
        for (k, &seed) in seeds.iter().enumerate() {
            let number = self.new_number();
            floods.push(Flood {
                reached: vec![(seed, self.group(seed).region)],
                done: 0,
                joined: k,
            });
            self.renumber(seed, number);
        }
        let mut open: Vec<usize> = (0..floods.len()).collect();
        let mut looked_at = 0;
        while several_go_on(&mut floods, &mut open) {
            for &k in &open {
                looked_at += self.advance(&mut floods, k, first);
            }
        }
        let reached: usize = floods.iter().map(|flood| flood.reached.len()).sum();
        let numbered = self.number(&floods, first);
        Flooded {
            parts: numbered.parts + looked_at + reached as u32,
            ..numbered
        }
    }

    /// Lets a flood go on from one more group. Gives how many parts it looked at.
    fn advance(&mut self, floods: &mut [Flood], k: usize, first: u32) -> u32 {
        let Some(&(at, _)) = floods[k].reached.get(floods[k].done) else {
            return 0;
        };
        floods[k].done += 1;
        let known = floods[k].reached.len();
        let (beside, looked_at) = self.beside(at);
        for next in beside {
            let region = self.group(next).region;
            if region >= first {
                join(floods, k, (region - first) as usize);
            } else {
                floods[k].reached.push((next, region));
            }
        }
        for &(next, _) in &floods[k].reached[known..] {
            self.renumber(next, first + k as u32);
        }
        looked_at
    }

    /// Numbers the flooded regions. At most one of them was not flooded to its end. That one keeps the number
    /// that most of its entries had; the others get new numbers. `parts` of the result counts what was looked at besides.
    fn number(&mut self, floods: &[Flood], first: u32) -> Flooded {
        let open = (0..floods.len()).find(|k| floods[*k].is_open());
        let open = open.map(|k| root(floods, k));
        // What is done with is known in full.
        for k in (0..floods.len()).filter(|k| Some(root(floods, *k)) != open) {
            for &(at, _) in &floods[k].reached {
                self.renumber(at, first + root(floods, k) as u32);
            }
        }
        let Some(open) = open else {
            return Flooded {
                regrouped: true,
                parts: 0,
            };
        };
        let (members, others): (Vec<usize>, Vec<usize>) =
            (0..floods.len()).partition(|k| root(floods, *k) == open);
        let reached = members.iter().flat_map(|k| &floods[*k].reached);
        let reached: Vec<(Spot, u32)> = reached.copied().collect();
        // Of the numbers that it had, that of which most is left.
        let before = reached.iter().map(|(_, region)| *region);
        let known = before.filter(|region| *region > 0);
        let keep = known
            .clone()
            .max_by_key(|region| (self.sizes[*region as usize], u32::MAX - *region));
        let keep = keep.unwrap_or(first + open as u32);
        let regrouped = !others.is_empty() || known.clone().any(|region| region != keep);
        for &(at, _) in &reached {
            self.renumber(at, keep);
        }
        // Another number may go on beyond what was reached: beside what was not gone on from.
        let mut parts = 0;
        let mut beyond = Vec::new();
        let rim = |k: &usize| &floods[*k].reached[floods[*k].done..];
        for (at, _) in members.iter().flat_map(rim) {
            let (beside, looked_at) = self.beside(*at);
            beyond.extend(beside);
            parts += looked_at;
        }
        for at in beyond {
            let region = self.group(at).region;
            if region != keep && region < first {
                parts += self.flood(at, region, keep);
            }
        }
        Flooded { regrouped, parts }
    }

    /// Gives all that hangs together with a group and has one number another. Gives how many groups and parts it looked at.
    pub(super) fn flood(&mut self, start: Spot, from: u32, to: u32) -> u32 {
        let mut count = 1;
        self.renumber(start, to);
        let mut frontier = vec![start];
        while let Some(at) = frontier.pop() {
            let (beside, looked_at) = self.beside(at);
            count += looked_at;
            for next in beside {
                if self.group(next).region == from {
                    frontier.push(next);
                    count += 1;
                    self.renumber(next, to);
                }
            }
        }
        count
    }
}

/// The number of the flood that one has become part of.
fn root(floods: &[Flood], mut k: usize) -> usize {
    while floods[k].joined != k {
        k = floods[k].joined;
    }
    k
}

fn join(floods: &mut [Flood], a: usize, b: usize) {
    let (a, b) = (root(floods, a), root(floods, b));
    floods[a.max(b)].joined = a.min(b);
}

/// Removes the floods that have nothing left to visit. Returns whether the others belong to more than one region.
fn several_go_on(floods: &mut [Flood], open: &mut Vec<usize>) -> bool {
    open.retain(|k| floods[*k].is_open());
    for &k in &*open {
        // Straight to the root, or the way there gets longer and longer.
        floods[k].joined = root(floods, k);
    }
    let first = open.first().map(|k| floods[*k].joined);
    open.iter().any(|k| Some(floods[*k].joined) != first)
}
