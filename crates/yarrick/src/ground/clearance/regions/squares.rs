//! Which parts of tracts hang together within squares of 8 by 8 tracts.
//!
//! Where a change cuts a region, groups are flooded in place of parts: on a large map there are some tens of times fewer.

use super::Regions;
use super::pieces::{At, Found, Group, Pieces, Spot};

/// What came of grouping the parts of a square.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Grouped {
    /// Whether parts of several regions hang together now.
    pub(super) joined: bool,
    /// How many parts were looked at.
    pub(super) parts: u32,
}

/// The group of a part that is in none yet.
const NONE: u16 = u16::MAX;

impl Regions {
    /// Where a part is grouped.
    pub(super) fn spot(&self, at: At) -> Spot {
        let pieces = &self.pieces[at.tract as usize];
        Spot {
            square: pieces.square,
            group: pieces.parts[usize::from(at.part) - 1].group,
        }
    }

    pub(super) fn group(&self, spot: Spot) -> &Group {
        &self.squares[spot.square as usize][usize::from(spot.group)]
    }

    /// The number of the region of a part.
    pub(super) fn region_of(&self, at: At) -> u32 {
        self.group(self.spot(at)).region
    }

    /// All groups, in order.
    pub(super) fn spots(&self) -> Vec<Spot> {
        let squares = (0..).zip(&self.squares);
        let spots = squares.flat_map(|(square, groups)| {
            (0..groups.len() as u16).map(move |group| Spot { square, group })
        });
        spots.collect()
    }

    /// The groups into which one can step from one, in order, and how many parts lead there.
    pub(super) fn beside(&self, spot: Spot) -> (Vec<Spot>, u32) {
        let exits = &self.group(spot).exits;
        let doors = exits
            .iter()
            .flat_map(|at| self.pieces[at.tract as usize].beside(at.part));
        let all = doors.map(|at| self.spot(at));
        let mut spots: Vec<Spot> = all.filter(|next| next.square != spot.square).collect();
        spots.sort_unstable();
        spots.dedup();
        (spots, exits.len() as u32)
    }

    /// Moves a group to another region.
    pub(super) fn renumber(&mut self, spot: Spot, region: u32) {
        let group = &mut self.squares[spot.square as usize][usize::from(spot.group)];
        let before = core::mem::replace(&mut group.region, region);
        let size = group.size;
        self.sizes[before as usize] -= size;
        self.sizes[region as usize] += size;
    }

    /// Takes in that a part which stays in its group has other entries than before.
    pub(super) fn resize(&mut self, at: At, (before, now): (u32, u32)) {
        let spot = self.spot(at);
        let group = &mut self.squares[spot.square as usize][usize::from(spot.group)];
        group.size = group.size - before + now;
        let size = &mut self.sizes[group.region as usize];
        *size = *size - before + now;
    }

    /// Groups the parts of a square anew. Each group has the region that one of its parts had; for tracts whose parts were found anew,
    /// `found` has these, in order.
    pub(super) fn regroup(&mut self, square: u32, found: &[Found]) -> Grouped {
        let old = core::mem::take(&mut self.squares[square as usize]);
        for group in &old {
            self.sizes[group.region as usize] -= group.size;
        }
        let tracts: Vec<u32> = self.tracts.in_square(square).collect();
        // The regions of all parts, and where those of each tract begin.
        let (mut regions, mut first) = (Vec::new(), Vec::with_capacity(tracts.len()));
        for &tract in &tracts {
            first.push(regions.len());
            let parts = &mut self.pieces[tract as usize].parts;
            match found.binary_search_by_key(&tract, |found| found.tract) {
                Ok(k) => regions.extend_from_slice(&found[k].regions),
                Err(_) => regions.extend(parts.iter().map(|part| {
                    let known = old.get(usize::from(part.group));
                    known.map_or(0, |group| group.region)
                })),
            }
            for part in parts {
                part.group = NONE;
            }
        }
        let mut grouped = Grouped {
            joined: false,
            parts: regions.len() as u32,
        };
        let mut frontier = Vec::new();
        for &tract in &tracts {
            for part in 1..=self.pieces[tract as usize].parts.len() as u16 {
                let at = At { tract, part };
                if self.spot(at).group == NONE {
                    let region = |at: At| {
                        let k = tracts.partition_point(|tract| *tract < at.tract);
                        regions[first[k] + usize::from(at.part) - 1]
                    };
                    grouped.joined |= self.gather(at, &region, &mut frontier);
                }
            }
        }
        grouped
    }

    /// Makes a group of all that hangs together with a part within its square. Gives whether it had several regions.
    fn gather(&mut self, start: At, region: &dyn Fn(At) -> u32, frontier: &mut Vec<At>) -> bool {
        let square = self.pieces[start.tract as usize].square;
        let number = self.squares[square as usize].len() as u16;
        let (mut group, mut joined) = (Group::default(), false);
        let part = |pieces: &mut [Pieces], at: At| -> u32 {
            let part = &mut pieces[at.tract as usize].parts[usize::from(at.part) - 1];
            part.group = number;
            part.size
        };
        group.size += part(&mut self.pieces, start);
        frontier.push(start);
        while let Some(at) = frontier.pop() {
            let known = region(at);
            joined |= known > 0 && group.region > 0 && known != group.region;
            if group.region == 0 {
                group.region = known;
            }
            let before = frontier.len();
            let mut leads_out = false;
            for next in self.pieces[at.tract as usize].beside(at.part) {
                let spot = self.spot(next);
                leads_out |= spot.square != square;
                if spot.square == square && spot.group == NONE {
                    frontier.push(next);
                }
            }
            for &next in &frontier[before..] {
                group.size += part(&mut self.pieces, next);
            }
            if leads_out {
                group.exits.push(at);
            }
        }
        self.sizes[group.region as usize] += group.size;
        self.squares[square as usize].push(group);
        joined
    }
}
