//! The way round bodies that stand: a search on a small mesh round the walker.
//!
//! ```text
//!            ╭────╮
//!       ╭────╯ o  ╰──╮           o   bodies that stand, grown by the radius of the walker
//!   a → │ o      o   │  → b      a   the walker, which no longer gets on by stepping aside
//!       ╰──╮  o   ╭──╯           b   where the detour comes back to its path
//!     ·    ╰──────╯    ·
//!       ·  ·  ·  ·  ·
//! ```
//!
//! A* (Hart, Nilsson and Raphael 1968) over the eight neighbours of each node of the mesh; then the chain of nodes is pulled
//! straight. Walls count like bodies. Bodies that make room can be walked through, at a price.

use super::mesh::{Layout, Mesh};
use super::nodes::{Node, Nodes};
use super::surroundings::Surroundings;
use crate::geom::Vec2;
use core::cell::Cell;
use core::cmp::Reverse;
use std::collections::BinaryHeap;

/// How much dearer a metre is near bodies, and through bodies that make room.
const TIGHT_COST: u32 = 2;
const YIELDING_COST: u32 = 5;

/// Costs of steps between nodes.
const STRAIGHT: u32 = 10;
const DIAGONAL: u32 = 14;

/// The search, with its reusable workspace.
///
/// ```
/// use yarrick::geom::Vec2;
/// use yarrick::ground::{Ground, Terrain};
/// use yarrick::motion::{DetourSearch, Mesh, Obstacle, Surroundings};
///
/// let ground = Ground::from_rows(1.0, &["............"; 8], &[('.', Terrain::open("sand"))])?;
/// // Two hulks stand side by side in the way:
/// let hulks = [3.4, 4.6].map(|y| Obstacle { at: Vec2::new(6.0, y), radius_m: 0.5, yields: false });
/// let around = Surroundings { view: ground.on_foot(), radius_m: 0.4, obstacles: &hulks };
/// let mesh = Mesh { spacing_m: 0.2, reach: 30, middle: None, hugs: false };
/// let (from, to) = (Vec2::new(3.0, 4.0), Vec2::new(8.5, 4.0));
/// let way = DetourSearch::default().find(&around, &mesh, (from, to)).unwrap();
/// assert_eq!(way.last(), Some(&to));
/// assert!(way.iter().any(|point| (point.y - 4.0).abs() > 1.4));
/// # Ok::<(), yarrick::ground::GroundError>(())
/// ```
#[derive(Clone, Debug, Default)]
pub struct DetourSearch {
    nodes: Nodes,
    /// The cost of the best way to each node, and the step that leads to it.
    reached: Vec<(u32, u8)>,
    open: BinaryHeap<Reverse<(u32, u32)>>,
    work: u32,
}

/// Maximum number of cells in the box round all edges of a node that is checked as a whole.
const EDGE_CELLS: usize = 64;

/// Maximum number of nodes that a search settles.
const MOST_SETTLED: u32 = 5_400;

const UNREACHED: (u32, u8) = (u32::MAX, 0);

/// The steps to the neighbours of a node: column, row and cost.
const STEPS: [(i32, i32, u32); 8] = [
    (1, 0, STRAIGHT),
    (0, 1, STRAIGHT),
    (-1, 0, STRAIGHT),
    (0, -1, STRAIGHT),
    (1, 1, DIAGONAL),
    (-1, 1, DIAGONAL),
    (-1, -1, DIAGONAL),
    (1, -1, DIAGONAL),
];

impl DetourSearch {
    /// A short way between two points past the obstacles: its corners from the first on, without the start. `None` where
    /// there is none on the mesh, which lies round the start, or none that is found by settling 5,400 nodes.
    ///
    /// Where an obstacle touches the start or the end, the way may go as near to it as these are. Costs in proportion to the
    /// nodes of the mesh, and to the obstacles.
    pub fn find(
        &mut self,
        around: &Surroundings<'_>,
        mesh: &Mesh,
        (from, to): (Vec2, Vec2),
    ) -> Option<Vec<Vec2>> {
        self.work = 0;
        if !mesh.is_usable(from)
            || !to.is_finite()
            || (to - mesh.middle.unwrap_or(from)).abs().max_element() > mesh.half_m()
        {
            return None;
        }
        let layout = Layout::round(from, mesh);
        self.lay_out(around, (&layout, mesh), (from, to));
        let goal = (to - layout.middle) / layout.spacing_m;
        let estimate = |(column, row): (i32, i32)| {
            let gap = (Vec2::new(column as f32, row as f32) - goal).abs();
            let (long, short) = (gap.max_element(), gap.min_element());
            ((long - short) * STRAIGHT as f32 + short * DIAGONAL as f32) as u32
        };
        let end = self.search((around, &layout), from, &estimate, &|search, _, at| {
            (at - to).abs().max_element() <= 2.0 * layout.spacing_m
                && search.nodes.passes(around, (at, to), true)
        })?;
        Some(self.pull_straight(around, &layout, (from, end, to)))
    }

    /// A short way from a point to the nearest place on the mesh that `suits`, past the obstacles; the corners from the first
    /// on, without the start. `None` where there is none on the mesh, or among the nearest 5,400 nodes.
    ///
    /// Costs in proportion to the nodes that are nearer than the place.
    pub fn find_place(
        &mut self,
        around: &Surroundings<'_>,
        mesh: &Mesh,
        from: Vec2,
        suits: impl Fn(Vec2) -> bool,
    ) -> Option<Vec<Vec2>> {
        self.work = 0;
        if !mesh.is_usable(from) {
            return None;
        }
        let layout = Layout::round(from, mesh);
        self.lay_out(around, (&layout, mesh), (from, from));
        let start = layout.node((0, 0));
        let end = self.search((around, &layout), from, &|_| 0, &|search, node, at| {
            node != start && search.nodes.kind(node) <= Node::Tight && suits(at)
        })?;
        let to = self.nodes.at(&layout, end);
        Some(self.pull_straight(around, &layout, (from, end, to)))
    }

    /// A short way from `from` to the place on the mesh that is nearest to `to`, of all that can be reached past the obstacles and have some
    /// room round them: its corners from the first on, without the start. Empty if no place is nearer than the start.
    ///
    /// Costs in proportion to the nodes of the mesh that can be reached. Looks at 5,400 of them at the most, those first that are near
    /// the start.
    pub fn find_nearest(
        &mut self,
        around: &Surroundings<'_>,
        mesh: &Mesh,
        (from, to): (Vec2, Vec2),
    ) -> Vec<Vec2> {
        self.work = 0;
        if !mesh.is_usable(from) || !to.is_finite() {
            return Vec::new();
        }
        let layout = Layout::round(from, mesh);
        self.lay_out(around, (&layout, mesh), (from, from));
        let best = Cell::new((from.distance_squared(to), None));
        self.search((around, &layout), from, &|_| 0, &|search, node, at| {
            let square = at.distance_squared(to);
            // Deep between two bodies it would be dodging them.
            if square < best.get().0 && search.nodes.kind(node) == Node::Free && around.is_free(at)
            {
                best.set((square, Some(node)));
            }
            false
        });
        match best.get().1 {
            Some(end) => {
                self.pull_straight(around, &layout, (from, end, self.nodes.at(&layout, end)))
            }
            None => Vec::new(),
        }
    }

    /// Work of the last search: the number of settled nodes, plus an eighth of the number of nodes on the mesh, and a 256th of the distances that
    /// were compared to move nodes to the edges of bodies.
    #[must_use]
    pub fn work(&self) -> u32 {
        self.work
    }

    fn lay_out(
        &mut self,
        around: &Surroundings<'_>,
        (layout, mesh): (&Layout, &Mesh),
        ends: (Vec2, Vec2),
    ) {
        self.work += self.nodes.lay_out(around, (layout, mesh), ends);
        self.reached.clear();
        self.reached.resize(layout.count(), UNREACHED);
    }

    /// Begins a search: at the node in the middle, or where the start lies beside it, at those round it that it can walk to.
    fn set_out(
        &mut self,
        (around, layout): (&Surroundings<'_>, &Layout),
        from: Vec2,
        estimate: &dyn Fn((i32, i32)) -> u32,
    ) {
        self.open.clear();
        let round = (-1..=1).flat_map(|row| (-1..=1).map(move |column| (column, row)));
        for place in round.filter(|place| layout.has(*place)) {
            let node = layout.node(place);
            let at = self.nodes.at(layout, node);
            let is_start = at == from;
            let is_beside = layout.middle != from
                && self.nodes.kind(node) != Node::Closed
                && self.nodes.passes(around, (from, at), true);
            if is_start || is_beside {
                let cost = (from.distance(at) / layout.spacing_m * STRAIGHT as f32) as u32;
                self.reached[node] = (cost, u8::MAX);
                let all = cost + estimate(place);
                self.open.push(Reverse((all, node as u32)));
            }
        }
    }

    /// Searches for the node with the least cost that `is_end`. `estimate` never exceeds what is left.
    fn search(
        &mut self,
        (around, layout): (&Surroundings<'_>, &Layout),
        from: Vec2,
        estimate: &dyn Fn((i32, i32)) -> u32,
        is_end: &dyn Fn(&DetourSearch, usize, Vec2) -> bool,
    ) -> Option<usize> {
        self.set_out((around, layout), from, estimate);
        let most = self.work + MOST_SETTLED;
        while let Some(Reverse((total, node))) = self.open.pop() {
            let node = node as usize;
            let (column, row) = layout.steps_to(node);
            let so_far = self.reached[node].0;
            if so_far + estimate((column, row)) < total {
                continue;
            }
            self.work += 1;
            let at = self.nodes.at(layout, node);
            if is_end(self, node, at) {
                return Some(node);
            }
            if self.work >= most {
                return None;
            }
            let is_roomy = self.nodes.is_roomy(around, layout, (at, EDGE_CELLS));
            for (step, &(columns, rows, cost)) in (0_u8..).zip(&STEPS) {
                let there = (column + columns, row + rows);
                if !layout.has(there) {
                    continue;
                }
                let beside = layout.node(there);
                let cost = match self.nodes.kind(beside) {
                    Node::Closed => continue,
                    Node::Free => cost,
                    Node::Tight => cost * TIGHT_COST,
                    Node::Yielding => cost * YIELDING_COST,
                };
                let leg = (at, self.nodes.at(layout, beside));
                if so_far + cost < self.reached[beside].0
                    && (is_roomy || self.nodes.is_open(around, leg))
                    && self.nodes.passes_bodies(around, (node, beside), leg)
                {
                    self.reached[beside] = (so_far + cost, step);
                    let all = so_far + cost + estimate(there);
                    self.open.push(Reverse((all, beside as u32)));
                }
            }
        }
        None
    }

    /// The corners of the chain of nodes that leads to the end, pulled straight.
    fn pull_straight(
        &self,
        around: &Surroundings<'_>,
        layout: &Layout,
        (start, end, to): (Vec2, usize, Vec2),
    ) -> Vec<Vec2> {
        let mut chain = vec![(to, Node::Free)];
        let mut node = end;
        loop {
            chain.push((self.nodes.at(layout, node), self.nodes.kind(node)));
            let Some(&(columns, rows, _)) = STEPS.get(usize::from(self.reached[node].1)) else {
                break;
            };
            let (column, row) = layout.steps_to(node);
            node = layout.node((column - columns, row - rows));
        }
        if chain.last().is_some_and(|(first, _)| *first != start) {
            chain.push((start, Node::Free));
        }
        chain.reverse();
        let mut corners = Vec::new();
        let mut from = 0;
        for next in 2..chain.len() {
            let pushes = chain[from..=next]
                .iter()
                .any(|(_, node)| *node == Node::Yielding);
            if !self
                .nodes
                .passes(around, (chain[from].0, chain[next].0), pushes)
            {
                from = next - 1;
                corners.push(chain[from].0);
            }
        }
        corners.push(to);
        corners
    }
}
