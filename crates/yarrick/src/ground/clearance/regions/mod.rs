//! Which parts of the ground hang together: numbered once, and kept up to date where the map changes.
//!
//! ```text
//!   +------+------+------+      Entries hang together in parts of tracts of 32 by 32, parts in groups within squares of
//!   | 1  # | 1      1  # |      8 by 8 tracts, and groups in regions, by the steps between tracts. After a change the
//!   |    # |------+    # |      parts of the tracts that it touches are found anew, and the groups of their squares where
//!   | 1  #     2  | 2  # |      these differ. Whether it has cut or joined regions is seen from the cells round it
//!   +------+------+------+      alone; if so, groups are flooded, of which there are few.
//! ```

mod flood;
mod graph;
mod pieces;
mod squares;

use super::tracts::{SIDE, Tracts};
use crate::ground::steps::STEPS;
pub(super) use graph::Graph;
use pieces::{At, Found, Group, Part, Pieces, Spot};

/// A part of the ground within which a body can walk from everywhere to everywhere.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Region(u32);

/// The region of each entry of a clearance map.
#[derive(Clone, Debug, Default)]
pub(super) struct Regions {
    tracts: Tracts,
    /// The part of its tract to which each entry belongs, numbered from 1; `0` is closed.
    parts: Vec<u16>,
    /// By tract.
    pieces: Vec<Pieces>,
    /// The groups of each square.
    squares: Vec<Vec<Group>>,
    /// How many entries each region has, by number.
    sizes: Vec<u32>,
}

/// What mending has found.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Mended {
    /// Whether regions were cut, joined or added.
    pub(super) regrouped: bool,
    /// How many tracts and how many parts were looked at.
    pub(super) tracts: u32,
    pub(super) parts: u32,
}

impl Regions {
    /// The region of an entry.
    pub(super) fn of(&self, node: usize) -> Option<Region> {
        let part = self.parts[node];
        (part > 0).then(|| {
            let tract = self.tracts.of_node(node);
            Region(self.region_of(At { tract, part }))
        })
    }

    /// The same by the column and row of the entry, too.
    pub(super) fn of_place(&self, node: usize, place: (i32, i32)) -> Option<Region> {
        let part = self.parts[node];
        (part > 0).then(|| {
            let tract = self.tracts.at(place);
            Region(self.region_of(At { tract, part }))
        })
    }

    /// The part to which an entry belongs among those of its tract, from 1; `0` where it is closed. They are numbered in the order
    /// of their first entries.
    pub(super) fn part_of(&self, node: usize) -> u16 {
        self.parts[node]
    }

    /// How many entries a region has; none, where it is that of another map.
    pub(super) fn size(&self, region: Region) -> usize {
        let size = self.sizes.get(region.0 as usize);
        size.map_or(0, |size| *size as usize)
    }

    /// The corners of the tracts in which some regions lie, and how many tracts there are.
    pub(super) fn tracts_of(&self, regions: &[Region]) -> (Vec<(i32, i32)>, usize) {
        let is_wanted = |at| regions.contains(&Region(self.region_of(at)));
        let tracts = self.pieces.iter().zip(0..);
        let found = tracts.filter(|(pieces, tract)| {
            let tract = *tract;
            let mut parts = 1..=pieces.parts.len() as u16;
            parts.any(|part| is_wanted(At { tract, part }))
        });
        let corners = found.map(|(_, tract)| self.tracts.corner(tract));
        (corners.collect(), self.pieces.len())
    }

    /// Numbers the regions of a clearance map.
    pub(super) fn label(graph: &Graph<'_>, tracts: Tracts) -> Regions {
        let count = tracts.count();
        let mut regions = Regions {
            tracts,
            parts: vec![0; graph.weights.len()],
            pieces: vec![Pieces::default(); count as usize],
            squares: vec![Vec::new(); tracts.squares() as usize],
            sizes: vec![0],
        };
        for tract in 0..count {
            regions.pieces[tract as usize].square = tracts.square_of(tract);
            regions.find_parts(graph, tract);
        }
        for tract in 0..count {
            regions.find_doors(graph, tract);
        }
        for square in 0..tracts.squares() {
            regions.regroup(square, &[]);
        }
        regions.number_all();
        regions
    }

    /// Numbers all regions anew.
    fn number_all(&mut self) {
        self.sizes.clear();
        self.sizes.push(0);
        for group in self.squares.iter_mut().flatten() {
            group.region = 0;
            self.sizes[0] += group.size;
        }
        for spot in self.spots() {
            if self.group(spot).region == 0 {
                let number = self.new_number();
                self.flood(spot, 0, number);
            }
        }
    }

    fn new_number(&mut self) -> u32 {
        self.sizes.push(0);
        self.sizes.len() as u32 - 1
    }

    /// Finds the parts of a tract. Where they do not differ, they stay in their groups; else the square is to be grouped anew.
    fn find_parts(&mut self, graph: &Graph<'_>, tract: u32) -> Found {
        let count = self.pieces[tract as usize].parts.len() as u16;
        let known = (1..=count).map(|part| self.region_of(At { tract, part }));
        let known: Vec<u32> = known.collect();
        let before = core::mem::take(&mut self.pieces[tract as usize].parts);
        let (numbers, count) = pieces::parts_of(graph, (&self.tracts, tract));
        let mut parts = vec![Part::default(); usize::from(count)];
        let mut found = Found {
            tract,
            regions: vec![0; usize::from(count)],
            rim_differs: false,
            differs: before.len() != usize::from(count),
        };
        let (columns, rows) = graph.size;
        let corner = self.tracts.corner(tract);
        let columns = SIDE.min(columns - corner.0 as usize);
        let rows = SIDE.min(rows - corner.1 as usize);
        for row in 0..rows {
            let first = self.tracts.first_node(tract) + row * graph.stride;
            let old = &mut self.parts[first..][..columns];
            let new = &numbers[row * SIDE..][..columns];
            let ends = if row == 0 || row + 1 == SIDE {
                0
            } else {
                columns - 1
            };
            found.rim_differs |= old[0] != new[0] || old[ends..] != new[ends..];
            for (old, &number) in old.iter_mut().zip(new) {
                let was = core::mem::replace(old, number);
                if number == 0 {
                    continue;
                }
                parts[usize::from(number) - 1].size += 1;
                if was > 0 {
                    found.differs |= was != number;
                    let region = &mut found.regions[usize::from(number) - 1];
                    if *region == 0 {
                        *region = known[usize::from(was) - 1];
                    }
                }
            }
        }
        found.differs |= found.regions.contains(&0);
        self.pieces[tract as usize].parts = parts;
        if !found.differs {
            self.keep_groups(tract, &before);
        }
        found
    }

    /// Leaves the parts of a tract in their groups, by the parts before the change.
    fn keep_groups(&mut self, tract: u32, before: &[Part]) {
        for (part, before) in (1..).zip(before) {
            let now = &mut self.pieces[tract as usize].parts[usize::from(part) - 1];
            now.group = before.group;
            let sizes = (before.size, now.size);
            self.resize(At { tract, part }, sizes);
        }
    }

    /// Gives whether one can step into other parts than before.
    fn find_doors(&mut self, graph: &Graph<'_>, tract: u32) -> bool {
        let pieces = &mut self.pieces[tract as usize];
        pieces.find_doors(graph, (&self.tracts, tract), &self.parts)
    }

    /// Takes in that some entries have opened or closed, or lost or gained steps. Both ends of every
    /// step that changed must be among them.
    pub(super) fn repair(
        &mut self,
        graph: &Graph<'_>,
        touched: impl Iterator<Item = usize>,
    ) -> Mended {
        let mut nodes: Vec<usize> = touched.collect();
        nodes.sort_unstable();
        let before: Vec<u32> = nodes
            .iter()
            .map(|node| self.of(*node).map_or(0, |region| region.0))
            .collect();
        let mut changed: Vec<u32> = nodes
            .iter()
            .map(|node| self.tracts.of_node(*node))
            .collect();
        changed.dedup();
        changed.sort_unstable();
        changed.dedup();
        let mut mended = self.find_anew(graph, &changed);
        // Numbers are not used again; before they grow without bound, all is numbered anew.
        if self.sizes.len() > graph.weights.len().max(64) {
            self.number_all();
            mended.regrouped = true;
            mended.parts += self
                .pieces
                .iter()
                .map(|of| of.parts.len() as u32)
                .sum::<u32>();
        } else {
            let parts = local_parts(graph, &nodes);
            self.settle((&nodes, &before), &parts, &mut mended);
        }
        mended
    }

    /// Finds the parts of some tracts anew, and the groups in which these lie.
    fn find_anew(&mut self, graph: &Graph<'_>, changed: &[u32]) -> Mended {
        let found = changed.iter().map(|tract| self.find_parts(graph, *tract));
        let found: Vec<Found> = found.collect();
        let mut stale = changed.to_vec();
        for found in found.iter().filter(|found| found.rim_differs) {
            let beside = STEPS.into_iter();
            stale.extend(beside.filter_map(|step| self.tracts.neighbour(found.tract, step)));
        }
        stale.sort_unstable();
        stale.dedup();
        let differ = found.iter().filter(|found| found.differs);
        let mut others: Vec<u32> = differ.map(|found| found.tract).collect();
        for &tract in &stale {
            if self.find_doors(graph, tract) {
                others.push(tract);
            }
        }
        let mut mended = Mended {
            tracts: (changed.len() + stale.len()) as u32,
            ..Mended::default()
        };
        let squares = others
            .iter()
            .map(|tract| self.pieces[*tract as usize].square);
        let mut squares: Vec<u32> = squares.collect();
        squares.sort_unstable();
        squares.dedup();
        for square in squares {
            let grouped = self.regroup(square, &found);
            mended.parts += grouped.parts;
            mended.regrouped |= grouped.joined;
        }
        mended
    }

    /// Numbers what hangs together near a change: that whose numbers agree with it keeps them. The entries are given with the numbers
    /// that their regions had before.
    fn settle(&mut self, (nodes, before): (&[usize], &[u32]), parts: &[u32], mended: &mut Mended) {
        let count = parts.iter().copied().max().unwrap_or(0) as usize;
        // Pairs of part and number, each once.
        let mut pairs: Vec<(u32, u32)> = parts
            .iter()
            .copied()
            .zip(before.iter().copied())
            .filter(|(part, number)| *part > 0 && *number > 0)
            .collect();
        pairs.sort_unstable();
        pairs.dedup();
        let numbers_of = |part: u32| {
            let first = pairs.partition_point(|(p, _)| *p < part);
            pairs[first..].iter().take_while(move |(p, _)| *p == part)
        };
        let mut numbers: Vec<u32> = pairs.iter().map(|(_, number)| *number).collect();
        numbers.sort_unstable();
        let is_shared = |number: u32| {
            let first = numbers.partition_point(|n| *n < number);
            numbers.get(first + 1) == Some(&number)
        };
        let known: Vec<u32> = (0..=count as u32)
            .map(|part| numbers_of(part).next().map_or(0, |(_, number)| *number))
            .collect();
        let unclear: Vec<bool> = (0..=count as u32)
            .map(|part| {
                let several = numbers_of(part).count() > 1;
                several || numbers_of(part).any(|(_, number)| is_shared(*number))
            })
            .collect();
        let mut fresh = vec![0; count + 1];
        let mut local: Vec<Spot> = Vec::new();
        for (&node, &part) in nodes.iter().zip(parts).filter(|(_, part)| **part > 0) {
            let number = part as usize;
            let at = self.spot(At {
                tract: self.tracts.of_node(node),
                part: self.parts[node],
            });
            if unclear[number] {
                local.push(at);
            } else if self.group(at).region == 0 {
                if known[number] == 0 && fresh[number] == 0 {
                    fresh[number] = self.new_number();
                    mended.regrouped = true;
                }
                self.renumber(at, known[number].max(fresh[number]));
            }
        }
        local.sort_unstable();
        local.dedup();
        if !local.is_empty() {
            let flooded = self.flood_in_turn(&local);
            mended.regrouped |= flooded.regrouped;
            mended.parts += flooded.parts;
        }
    }
}

/// Which of the given entries hang together by way of each other: for each the number of its part,
/// from 1; `0` for closed ones.
fn local_parts(graph: &Graph<'_>, nodes: &[usize]) -> Vec<u32> {
    let mut parts = vec![0; nodes.len()];
    let mut count = 0;
    let mut frontier = Vec::new();
    let rows = Rows::of(nodes, graph.stride);
    for start in 0..nodes.len() {
        if parts[start] > 0 || !graph.is_open(nodes[start]) {
            continue;
        }
        count += 1;
        parts[start] = count;
        frontier.push(start);
        while let Some(at) = frontier.pop() {
            for next in graph.beside(nodes[at]) {
                if let Some(next) = rows.index_of(next)
                    && parts[next] == 0
                {
                    parts[next] = count;
                    frontier.push(next);
                }
            }
        }
    }
    parts
}

/// Where entries are in a list that is in order, and in which those of a row follow one another without gaps.
struct Rows {
    stride: usize,
    /// The first row, and for each the first entry, how many there are, and the index of the first.
    first: usize,
    rows: Vec<(usize, usize, usize)>,
}

impl Rows {
    fn of(nodes: &[usize], stride: usize) -> Rows {
        let first = nodes.first().map_or(0, |node| node / stride);
        let last = nodes.last().map_or(0, |node| node / stride);
        let mut rows = vec![(0, 0, 0); last - first + 1];
        for (index, node) in nodes.iter().enumerate() {
            let row = &mut rows[node / stride - first];
            if row.1 == 0 {
                *row = (*node, 0, index);
            }
            row.1 += 1;
        }
        Rows {
            stride,
            first,
            rows,
        }
    }

    fn index_of(&self, node: usize) -> Option<usize> {
        let row = (node / self.stride).checked_sub(self.first)?;
        let (start, count, index) = *self.rows.get(row)?;
        let off = node.checked_sub(start)?;
        (off < count).then_some(index + off)
    }
}
