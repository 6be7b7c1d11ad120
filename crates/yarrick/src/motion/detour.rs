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
use crate::geom::{Rect, Vec2, segment_point_distance_squared};
use crate::ground::GroundView;
use core::cell::Cell;
use core::cmp::Reverse;
use std::collections::BinaryHeap;

/// Distance kept from standing bodies, relative to the distance at which the two touch.
const BERTH: f32 = 1.02;

/// Part of the distance to a body that the walker touches already which it keeps from it.
const TOUCHING: f32 = 0.9999;

/// How far from the end of its way a walker may be kept by a body that stands there, in radii of the walker.
const END_RADII: f32 = 0.1;

/// Width of the strip round each body that is avoided where there is room, in radii of the walker.
const TIGHT_RADII: f32 = 0.3;

/// How much dearer a metre is in that strip, and through bodies that make room.
const TIGHT_COST: u32 = 2;
const YIELDING_COST: u32 = 5;

/// Costs of steps between nodes.
const STRAIGHT: u32 = 10;
const DIAGONAL: u32 = 14;

/// A body that stands.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Obstacle {
    /// Its position, in metres.
    pub at: Vec2,
    /// Its radius, in metres.
    pub radius_m: f32,
    /// Whether it makes room for the walker: the walker may push its way through.
    pub yields: bool,
}

/// What a walker has round it.
#[derive(Clone, Copy, Debug)]
pub struct Surroundings<'a> {
    /// The ground as the walker finds it.
    pub view: GroundView<'a>,
    /// The radius of the walker, in metres.
    pub radius_m: f32,
    /// Bodies that stand within reach.
    pub obstacles: &'a [Obstacle],
}

impl Surroundings<'_> {
    /// The distance that the walker keeps from a body, in metres from middle to middle.
    #[must_use]
    pub fn keep_m(&self, obstacle: &Obstacle) -> f32 {
        (self.radius_m + obstacle.radius_m) * BERTH
    }

    /// Whether a body stands on the straight way between two points. Bodies that the walker touches at the first point do
    /// not count.
    #[must_use]
    pub fn meets_body(&self, from: Vec2, to: Vec2) -> bool {
        self.obstacles.iter().any(|obstacle| {
            let keep_m = self
                .keep_m(obstacle)
                .min(obstacle.at.distance(from) * TOUCHING);
            segment_point_distance_squared(from, to, obstacle.at) < keep_m * keep_m
        })
    }

    /// Whether no body stands at a point.
    #[must_use]
    pub fn is_free(&self, at: Vec2) -> bool {
        self.obstacles.iter().all(|obstacle| {
            let keep_m = self.keep_m(obstacle);
            obstacle.at.distance_squared(at) >= keep_m * keep_m
        })
    }

    /// Whether the walker could get to a point, or so near that it does not matter, past the bodies that stand there.
    #[must_use]
    pub fn can_end_at(&self, at: Vec2) -> bool {
        self.obstacles.iter().all(|obstacle| {
            let apart_m = obstacle.radius_m + self.radius_m * (1.0 - END_RADII);
            obstacle.yields || obstacle.at.distance_squared(at) >= apart_m * apart_m
        })
    }
}

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
/// let mesh = Mesh { spacing_m: 0.2, reach: 30, middle: None };
/// let (from, to) = (Vec2::new(3.0, 4.0), Vec2::new(8.5, 4.0));
/// let way = DetourSearch::default().find(&around, &mesh, (from, to)).unwrap();
/// assert_eq!(way.last(), Some(&to));
/// assert!(way.iter().any(|point| (point.y - 4.0).abs() > 1.4));
/// # Ok::<(), yarrick::ground::GroundError>(())
/// ```
#[derive(Clone, Debug, Default)]
pub struct DetourSearch {
    /// What the nodes are like, row by row.
    nodes: Vec<Node>,
    /// The cost of the best way to each node, and the step that leads to it.
    reached: Vec<(u32, u8)>,
    open: BinaryHeap<Reverse<(u32, u32)>>,
    /// The distance to keep from each obstacle, in metres.
    keep_m: Vec<f32>,
    /// Where nodes are far apart, whether each is so near to a body that makes no room that this may stand between it and the
    /// next; else empty.
    beside: Vec<bool>,
    /// Whether the whole mesh lies on open ground.
    has_no_walls: bool,
    work: u32,
}

/// Maximum number of cells in the box round all edges of a node that is checked as a whole.
const EDGE_CELLS: usize = 64;

/// Maximum number of nodes that a search settles.
const MOST_SETTLED: u32 = 5_400;

/// Laying out this many nodes counts as settling one.
const LAID_OUT: u32 = 8;

#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Node {
    Free,
    Tight,
    Yielding,
    Closed,
}

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
        self.keep_away(around, (from, to));
        self.lay_out(around, &layout);
        let goal = (to - layout.middle) / layout.spacing_m;
        let estimate = |(column, row): (i32, i32)| {
            let gap = (Vec2::new(column as f32, row as f32) - goal).abs();
            let (long, short) = (gap.max_element(), gap.min_element());
            ((long - short) * STRAIGHT as f32 + short * DIAGONAL as f32) as u32
        };
        let end = self.search((around, &layout), from, &estimate, &|search, _, at| {
            (at - to).abs().max_element() <= 2.0 * layout.spacing_m
                && search.passes(around, (at, to), true)
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
        self.keep_away(around, (from, from));
        self.lay_out(around, &layout);
        let start = layout.node((0, 0));
        let end = self.search((around, &layout), from, &|_| 0, &|search, node, at| {
            node != start && search.nodes[node] <= Node::Tight && suits(at)
        })?;
        let to = layout.at(end);
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
        self.keep_away(around, (from, from));
        self.lay_out(around, &layout);
        let best = Cell::new((from.distance_squared(to), None));
        self.search((around, &layout), from, &|_| 0, &|search, node, at| {
            let square = at.distance_squared(to);
            // Deep between two bodies it would be dodging them.
            if square < best.get().0 && search.nodes[node] == Node::Free && around.is_free(at) {
                best.set((square, Some(node)));
            }
            false
        });
        match best.get().1 {
            Some(end) => self.pull_straight(around, &layout, (from, end, layout.at(end))),
            None => Vec::new(),
        }
    }

    /// Work of the last search: the number of settled nodes, plus an eighth of the number of nodes on the mesh.
    #[must_use]
    pub fn work(&self) -> u32 {
        self.work
    }

    fn keep_away(&mut self, around: &Surroundings<'_>, (from, to): (Vec2, Vec2)) {
        self.keep_m.clear();
        let keep = |obstacle: &Obstacle| {
            let ends = obstacle.at.distance(from).min(obstacle.at.distance(to));
            around.keep_m(obstacle).min(ends * TOUCHING)
        };
        self.keep_m.extend(around.obstacles.iter().map(keep));
    }

    /// Notes what the obstacles make of the nodes.
    fn lay_out(&mut self, around: &Surroundings<'_>, layout: &Layout) {
        let count = (layout.side() * layout.side()) as usize;
        self.work += count as u32 / LAID_OUT;
        let half_m = layout.reach as f32 * layout.spacing_m + around.radius_m;
        let all = Rect::around(layout.middle, half_m);
        self.has_no_walls = around.view.box_is_open(all, count);
        self.nodes.clear();
        self.nodes.resize(count, Node::Free);
        self.reached.clear();
        self.reached.resize(count, UNREACHED);
        self.beside.clear();
        let half_step_m = layout.spacing_m * core::f32::consts::FRAC_1_SQRT_2;
        let is_coarse = layout.spacing_m > around.radius_m;
        if is_coarse {
            self.beside.resize(count, false);
        }
        for (obstacle, keep_m) in around.obstacles.iter().zip(&self.keep_m) {
            let inside = if obstacle.yields {
                Node::Yielding
            } else {
                Node::Closed
            };
            let (at, wide_m) = (
                obstacle.at - layout.middle,
                keep_m + TIGHT_RADII * around.radius_m,
            );
            let near_m = keep_m + half_step_m;
            let looks_m = if is_coarse {
                wide_m.max(near_m)
            } else {
                wide_m
            };
            for row in layout.span(at.y - looks_m, at.y + looks_m) {
                for column in layout.span(at.x - looks_m, at.x + looks_m) {
                    let point = Vec2::new(column as f32, row as f32) * layout.spacing_m;
                    let square = point.distance_squared(at);
                    let place = layout.node((column, row));
                    if is_coarse && !obstacle.yields && square < near_m * near_m {
                        self.beside[place] = true;
                    }
                    let node = &mut self.nodes[place];
                    if square < keep_m * keep_m {
                        *node = (*node).max(inside);
                    } else if square < wide_m * wide_m {
                        *node = (*node).max(Node::Tight);
                    }
                }
            }
        }
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
            let (node, at) = (layout.node(place), layout.point(place));
            let is_start = at == from;
            let is_beside = layout.middle != from
                && self.nodes[node] != Node::Closed
                && self.passes(around, (from, at), true);
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
            let at = layout.point((column, row));
            if is_end(self, node, at) {
                return Some(node);
            }
            if self.work >= most {
                return None;
            }
            // One look round a node in the open saves one along each of its edges.
            let all_edges = Rect::around(at, layout.spacing_m + around.radius_m);
            let is_roomy = self.has_no_walls || around.view.box_is_open(all_edges, EDGE_CELLS);
            for (step, &(columns, rows, cost)) in (0_u8..).zip(&STEPS) {
                let there = (column + columns, row + rows);
                if !layout.has(there) {
                    continue;
                }
                let beside = layout.node(there);
                let cost = match self.nodes[beside] {
                    Node::Closed => continue,
                    Node::Free => cost,
                    Node::Tight => cost * TIGHT_COST,
                    Node::Yielding => cost * YIELDING_COST,
                };
                let leg = (at, layout.point(there));
                if so_far + cost < self.reached[beside].0
                    && (is_roomy || self.is_open(around, leg))
                    && self.passes_bodies(around, (node, beside), leg)
                {
                    self.reached[beside] = (so_far + cost, step);
                    let all = so_far + cost + estimate(there);
                    self.open.push(Reverse((all, beside as u32)));
                }
            }
        }
        None
    }

    /// Whether no wall stands between two neighbouring nodes.
    fn is_open(&self, around: &Surroundings<'_>, (a, b): (Vec2, Vec2)) -> bool {
        self.has_no_walls || around.view.line_is_clear(a, b, around.radius_m)
    }

    /// Whether no body stands between two neighbouring nodes at which none stands.
    fn passes_bodies(
        &self,
        around: &Surroundings<'_>,
        (one, other): (usize, usize),
        leg: (Vec2, Vec2),
    ) -> bool {
        let is_beside = |node| self.beside.get(node).copied().unwrap_or(false);
        !(is_beside(one) || is_beside(other)) || self.passes(around, leg, true)
    }

    /// Whether the straight way between two points is free. With `may_push`, bodies that make room do not count.
    fn passes(&self, around: &Surroundings<'_>, (a, b): (Vec2, Vec2), may_push: bool) -> bool {
        let is_past = |(obstacle, keep_m): (&Obstacle, &f32)| {
            obstacle.yields && may_push
                || segment_point_distance_squared(a, b, obstacle.at) >= keep_m * keep_m
        };
        around.obstacles.iter().zip(&self.keep_m).all(is_past) && self.is_open(around, (a, b))
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
            chain.push((layout.at(node), self.nodes[node]));
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
            if !self.passes(around, (chain[from].0, chain[next].0), pushes) {
                from = next - 1;
                corners.push(chain[from].0);
            }
        }
        corners.push(to);
        corners
    }
}
