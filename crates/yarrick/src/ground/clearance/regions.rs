//! Which parts of the ground hang together: numbered once by flooding, and kept up to date where
//! the map changes.
//!
//! A change that neither cuts nor joins anything is seen to be so from the cells round it alone.
//! Otherwise all parts that meet there are flooded at once, a cell each in turn, until all but one
//! have come to their ends: that costs as much as the smaller ones, not the largest.

use super::squares::Squares;

/// A part of the ground within which a body can walk from everywhere to everywhere.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Region(u32);

/// The region of each entry of a clearance map.
#[derive(Clone, Debug, Default)]
pub(super) struct Regions {
    /// Numbered from 1; `0` is closed.
    labels: Vec<u32>,
    /// How many entries have each number, in all and in each square of the map.
    sizes: Vec<u32>,
    squares: Squares,
}

/// Where one can step from each entry of a clearance map.
pub(super) struct Graph<'a> {
    pub(super) weights: &'a [u8],
    pub(super) steps: &'a [u8],
    pub(super) offsets: [isize; 8],
    /// Entries in a row.
    pub(super) stride: usize,
    /// The steps that matter. On squares straight ones are enough: a diagonal one is allowed only
    /// where the two straight ones are.
    pub(super) counted: u8,
}

impl Graph<'_> {
    fn is_open(&self, node: usize) -> bool {
        self.weights[node] > 0
    }

    pub(super) fn beside(&self, node: usize) -> impl Iterator<Item = usize> + '_ {
        let mut steps = self.steps[node] & self.counted;
        core::iter::from_fn(move || {
            (steps != 0).then(|| {
                let step = steps.trailing_zeros() as usize;
                steps &= steps - 1;
                node.wrapping_add_signed(self.offsets[step])
            })
        })
    }
}

/// A part that is being flooded.
struct Flood {
    /// What it has reached, each with the number it had before.
    reached: Vec<(u32, u32)>,
    /// How many of these have been gone on from.
    done: usize,
    /// The number of the flood that it has run into, itself if none.
    joined: usize,
}

impl Regions {
    /// The region of an entry.
    pub(super) fn of(&self, node: usize) -> Option<Region> {
        let label = self.labels[node];
        (label > 0).then_some(Region(label))
    }

    /// How many entries a region has; none, where it is that of another map.
    pub(super) fn size(&self, region: Region) -> usize {
        let size = self.sizes.get(region.0 as usize);
        size.map_or(0, |size| *size as usize)
    }

    /// The squares in which some regions lie, and how many squares there are.
    pub(super) fn squares_of(&self, regions: &[Region]) -> (Vec<(usize, usize)>, usize) {
        let squares = self.squares.with(|label| regions.contains(&Region(label)));
        (squares, self.squares.len())
    }

    /// Numbers the connected parts by flooding each from its first entry.
    pub(super) fn label(graph: &Graph<'_>) -> Regions {
        let mut regions = Regions {
            labels: vec![0; graph.weights.len()],
            sizes: vec![0],
            squares: Squares::new(graph.weights.len(), graph.stride),
        };
        let mut frontier = Vec::new();
        for start in 0..graph.weights.len() {
            if graph.is_open(start) && regions.labels[start] == 0 {
                let label = regions.new_label();
                regions.flood(graph, start, 0, label, &mut frontier);
            }
        }
        regions
    }

    fn new_label(&mut self) -> u32 {
        self.sizes.push(0);
        self.sizes.len() as u32 - 1
    }

    fn relabel(&mut self, node: usize, label: u32) {
        let before = core::mem::replace(&mut self.labels[node], label);
        if before != label {
            self.squares.relabel(node, before, label);
        }
        if before > 0 {
            self.sizes[before as usize] -= 1;
        }
        if label > 0 {
            self.sizes[label as usize] += 1;
        }
    }

    /// Gives all that hangs together with `start` and has one label another.
    fn flood(
        &mut self,
        graph: &Graph<'_>,
        start: usize,
        from: u32,
        to: u32,
        frontier: &mut Vec<usize>,
    ) {
        self.relabel(start, to);
        frontier.push(start);
        while let Some(at) = frontier.pop() {
            for next in graph.beside(at) {
                if self.labels[next] == from {
                    self.relabel(next, to);
                    frontier.push(next);
                }
            }
        }
    }

    /// Takes in that some entries have opened or closed, or lost or gained steps. Both ends of every
    /// step that changed must be among them.
    pub(super) fn repair(&mut self, graph: &Graph<'_>, touched: impl Iterator<Item = usize>) {
        // Numbers are not used again; before they grow without bound, all is numbered anew.
        if self.sizes.len() > graph.weights.len().max(64) {
            *self = Regions::label(graph);
            return;
        }
        let mut nodes: Vec<usize> = touched.collect();
        nodes.sort_unstable();
        for &node in &nodes {
            if !graph.is_open(node) {
                self.relabel(node, 0);
            }
        }
        let parts = self.local_parts(graph, &nodes);
        self.settle(graph, &nodes, parts);
    }

    /// Which of the given entries hang together by way of each other: for each the number of its part,
    /// from 1; `0` for closed ones.
    fn local_parts(&self, graph: &Graph<'_>, nodes: &[usize]) -> Vec<u32> {
        let mut parts = vec![0; nodes.len()];
        let mut count = 0;
        let mut frontier = Vec::new();
        for start in 0..nodes.len() {
            if parts[start] > 0 || !graph.is_open(nodes[start]) {
                continue;
            }
            count += 1;
            parts[start] = count;
            frontier.push(start);
            while let Some(at) = frontier.pop() {
                for next in graph.beside(nodes[at]) {
                    if let Ok(next) = nodes.binary_search(&next)
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

    /// Numbers the parts: those whose numbers agree with how they hang together now keep them.
    fn settle(&mut self, graph: &Graph<'_>, nodes: &[usize], parts: Vec<u32>) {
        let count = parts.iter().copied().max().unwrap_or(0) as usize;
        // Pairs of part and number, each once.
        let mut pairs: Vec<(u32, u32)> = nodes
            .iter()
            .zip(&parts)
            .map(|(&node, &part)| (part, self.labels[node]))
            .filter(|(part, label)| *part > 0 && *label > 0)
            .collect();
        pairs.sort_unstable();
        pairs.dedup();
        let labels_of = |part: u32| pairs.iter().filter(move |(p, _)| *p == part);
        let is_shared = |label: u32| pairs.iter().filter(|(_, l)| *l == label).count() > 1;
        let mut unclear: Vec<bool> = vec![false; count + 1];
        for part in 1..=count as u32 {
            let several = labels_of(part).count() > 1;
            unclear[part as usize] = several || labels_of(part).any(|(_, label)| is_shared(*label));
        }
        let known: Vec<u32> = (0..=count as u32)
            .map(|part| labels_of(part).next().map_or(0, |(_, label)| *label))
            .collect();
        let mut seeds: Vec<usize> = Vec::new();
        let mut seeded = vec![false; count + 1];
        let mut fresh = vec![0; count + 1];
        for (&node, &part) in nodes.iter().zip(&parts) {
            let at = part as usize;
            if part == 0 {
                continue;
            }
            if unclear[at] {
                if !core::mem::replace(&mut seeded[at], true) {
                    seeds.push(node);
                }
            } else if self.labels[node] == 0 {
                if known[at] == 0 && fresh[at] == 0 {
                    fresh[at] = self.new_label();
                }
                self.relabel(node, known[at].max(fresh[at]));
            }
        }
        if !seeds.is_empty() {
            let local = nodes
                .iter()
                .zip(&parts)
                .filter(|(_, part)| unclear[**part as usize]);
            let local: Vec<usize> = local.map(|(&node, _)| node).collect();
            self.flood_in_turn(graph, &seeds, &local);
        }
    }

    /// Floods from all seeds, an entry each in turn, until at most one of the parts that they belong
    /// to is not done with. `local` are all entries near the change that belong to any of them.
    fn flood_in_turn(&mut self, graph: &Graph<'_>, seeds: &[usize], local: &[usize]) {
        let first = self.sizes.len() as u32;
        let mut floods: Vec<Flood> = Vec::with_capacity(seeds.len());
        for (k, &seed) in seeds.iter().enumerate() {
            let label = self.new_label();
            floods.push(Flood {
                reached: vec![(seed as u32, self.labels[seed])],
                done: 0,
                joined: k,
            });
            self.relabel(seed, label);
        }
        while unfinished(&floods) > 1 {
            for k in 0..floods.len() {
                let Some(&(at, _)) = floods[k].reached.get(floods[k].done) else {
                    continue;
                };
                floods[k].done += 1;
                for next in graph.beside(at as usize) {
                    let label = self.labels[next];
                    if label >= first {
                        join(&mut floods, k, (label - first) as usize);
                    } else {
                        floods[k].reached.push((next as u32, label));
                        self.relabel(next, first + k as u32);
                    }
                }
            }
        }
        self.number(graph, &floods, first, local);
    }

    /// Numbers the parts that were flooded: one that is not done with keeps the number that most of
    /// it has.
    fn number(&mut self, graph: &Graph<'_>, floods: &[Flood], first: u32, local: &[usize]) {
        let open = (0..floods.len()).find(|k| is_open(&floods[*k]));
        let open = open.map(|k| root(floods, k));
        // What is done with is known in full.
        for k in (0..floods.len()).filter(|k| Some(root(floods, *k)) != open) {
            for &(node, _) in &floods[k].reached {
                self.relabel(node as usize, first + root(floods, k) as u32);
            }
        }
        let Some(open) = open else {
            return;
        };
        let members = (0..floods.len()).filter(|k| root(floods, *k) == open);
        let reached: Vec<(u32, u32)> = members
            .flat_map(|k| floods[k].reached.iter().copied())
            .collect();
        // The numbers that it had, and of these the one of which most is left.
        let before = reached
            .iter()
            .map(|(_, label)| *label)
            .filter(|label| *label > 0);
        let keep = before.max_by_key(|label| (self.sizes[*label as usize], u32::MAX - *label));
        let keep = keep.unwrap_or(first + open as u32);
        for &(node, _) in &reached {
            self.relabel(node as usize, keep);
        }
        // Another number goes on beyond what was reached, or meets it near the change.
        let beyond = reached
            .iter()
            .flat_map(|(node, _)| graph.beside(*node as usize));
        let done = first..self.sizes.len() as u32;
        let mut frontier = Vec::new();
        for node in beyond.chain(local.iter().copied()) {
            let label = self.labels[node];
            if label != keep && !done.contains(&label) {
                self.flood(graph, node, label, keep, &mut frontier);
            }
        }
    }
}

fn is_open(flood: &Flood) -> bool {
    flood.done < flood.reached.len()
}

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

/// How many parts have floods that go on.
fn unfinished(floods: &[Flood]) -> usize {
    let open = (0..floods.len()).filter(|k| is_open(&floods[*k]));
    let mut roots: Vec<usize> = open.map(|k| root(floods, k)).collect();
    roots.sort_unstable();
    roots.dedup();
    roots.len()
}
