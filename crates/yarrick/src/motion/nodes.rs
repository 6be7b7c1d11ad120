//! What the nodes of a mesh are like for a walker, and where those lie that move to the edge of a body.
//!
//! ```text
//!     ·   ·   ·   ·   ·
//!           ______          A node that a body closes, but that lies near its edge, can move to the edge: so some lie in
//!     ·   .╯  ·   ╰.  ·     every gap between two bodies, however narrow that is.
//!        ·│   o    │·
//! ```

use super::mesh::{Layout, Mesh};
use super::surroundings::{Obstacle, Surroundings, TOUCHING};
use crate::geom::{Rect, Vec2, segment_point_distance_squared};

/// Width of the strip round each body that is avoided where there is room, in radii of the walker.
const TIGHT_RADII: f32 = 0.3;

/// Only nodes this deep inside a body move to its edge, in distances between nodes. Less than 1 would leave holes in the ring that they form.
const MOST_DEEP: f32 = 1.05;

/// Maximum distance between neighbours in that ring for which the straight step between them stays out of the body, in distances between
/// nodes.
const ON_EDGE: f32 = 1.4;

/// No node moves farther than this, in distances between nodes.
const MOST_MOVED: f32 = 1.5;

/// Maximum number of bodies to whose edges nodes move: those nearest to the start.
const MOST_HUGGED: usize = 200;

/// Comparing this many distances counts as settling a node.
const COMPARED: u32 = 256;

/// Laying out this many nodes counts as settling one.
const LAID_OUT: u32 = 8;

/// What a node is like.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Node {
    Free,
    Tight,
    Yielding,
    Closed,
}

/// The nodes of a mesh, with their reusable workspace.
#[derive(Clone, Debug, Default)]
pub(super) struct Nodes {
    /// What the nodes are like, row by row.
    kinds: Vec<Node>,
    /// The distance to keep from each obstacle, in metres.
    keep_m: Vec<f32>,
    /// Whether each is so near to a body that makes no room that this may stand between it and the next; empty if none is.
    beside: Vec<bool>,
    /// How far each has moved, in metres; empty if none has.
    moved_m: Vec<Vec2>,
    /// The numbers of the obstacles to whose edges nodes move, and of those near one of them.
    hugged: Vec<u32>,
    near: Vec<u32>,
    /// Whether the whole mesh lies on open ground.
    has_no_walls: bool,
}

impl Nodes {
    /// Lays out the nodes of a mesh for a way between two points. Gives the work that it took.
    pub(super) fn lay_out(
        &mut self,
        around: &Surroundings<'_>,
        (layout, mesh): (&Layout, &Mesh),
        (from, to): (Vec2, Vec2),
    ) -> u32 {
        self.keep_m.clear();
        let keep = |obstacle: &Obstacle| {
            let ends = obstacle.at.distance(from).min(obstacle.at.distance(to));
            around.keep_m(obstacle).min(ends * TOUCHING)
        };
        self.keep_m.extend(around.obstacles.iter().map(keep));
        let count = layout.count();
        let moved = if mesh.hugs { MOST_MOVED } else { 0.0 };
        let half_m = (layout.reach as f32 + moved) * layout.spacing_m + around.radius_m;
        let all = Rect::around(layout.middle, half_m);
        self.has_no_walls = around.view.box_is_open(all, count);
        self.kinds.clear();
        self.kinds.resize(count, Node::Free);
        self.beside.clear();
        self.moved_m.clear();
        let is_coarse = layout.spacing_m > around.radius_m;
        if is_coarse || mesh.hugs {
            self.beside.resize(count, false);
        }
        self.note_kinds(around, layout, is_coarse);
        let hugging = if mesh.hugs {
            self.moved_m.resize(count, Vec2::ZERO);
            self.hug(around, layout, from)
        } else {
            0
        };
        count as u32 / LAID_OUT + hugging
    }

    /// Notes what the obstacles make of the nodes.
    fn note_kinds(&mut self, around: &Surroundings<'_>, layout: &Layout, is_coarse: bool) {
        let half_step_m = layout.spacing_m * core::f32::consts::FRAC_1_SQRT_2;
        for (obstacle, keep_m) in around.obstacles.iter().zip(&self.keep_m) {
            let inside = if obstacle.yields {
                Node::Yielding
            } else {
                Node::Closed
            };
            let wide_m = keep_m + TIGHT_RADII * around.radius_m;
            let near_m = keep_m + half_step_m;
            let looks_m = if is_coarse {
                wide_m.max(near_m)
            } else {
                wide_m
            };
            for (node, point) in layout.within(obstacle.at, looks_m) {
                let square = point.distance_squared(obstacle.at);
                if is_coarse && !obstacle.yields && square < near_m * near_m {
                    self.beside[node] = true;
                }
                let kind = &mut self.kinds[node];
                if square < keep_m * keep_m {
                    *kind = (*kind).max(inside);
                } else if square < wide_m * wide_m {
                    *kind = (*kind).max(Node::Tight);
                }
            }
        }
    }

    /// Moves nodes that bodies close to the edges of these. Gives the work that it took.
    fn hug(&mut self, around: &Surroundings<'_>, layout: &Layout, from: Vec2) -> u32 {
        let bodies = around.obstacles;
        let mut hugged = core::mem::take(&mut self.hugged);
        hugged.clear();
        hugged.extend((0..bodies.len() as u32).filter(|k| !bodies[*k as usize].yields));
        if hugged.len() > MOST_HUGGED {
            let off = |k: u32| bodies[k as usize].at.distance_squared(from);
            let nearer = |a: &u32, b: &u32| off(*a).total_cmp(&off(*b)).then(a.cmp(b));
            hugged.select_nth_unstable_by(MOST_HUGGED, nearer);
            hugged.truncate(MOST_HUGGED);
            hugged.sort_unstable();
        }
        let mut compared = 0;
        for &k in &hugged {
            compared += self.hug_one(around, layout, k);
        }
        self.hugged = hugged;
        compared / COMPARED
    }

    /// Moves nodes that a body closes to its edge. Gives the number of distances that it compared.
    fn hug_one(&mut self, around: &Surroundings<'_>, layout: &Layout, k: u32) -> u32 {
        let bodies = around.obstacles;
        let (at, keep_m) = (bodies[k as usize].at, self.keep_m[k as usize]);
        let half_m = ON_EDGE * layout.spacing_m / 2.0;
        if keep_m < half_m {
            // Too few nodes lie in it for a ring.
            return 0;
        }
        // A little outside the edge, so that the straight step between two neighbours stays out of the body.
        let edge_m = keep_m + half_m * half_m / (2.0 * keep_m);
        let is_near = |other: &u32| {
            let reach_m = edge_m + self.keep_m[*other as usize];
            let body = &bodies[*other as usize];
            *other != k && !body.yields && body.at.distance_squared(at) < reach_m * reach_m
        };
        self.near.clear();
        self.near
            .extend((0..bodies.len() as u32).filter(|other| is_near(other)));
        let mut compared = bodies.len() as u32;
        let least_m = keep_m - MOST_DEEP * layout.spacing_m;
        for (node, point) in layout.within(at, keep_m) {
            let off_m = point.distance(at);
            compared += 1;
            // One that has moved to the edge of another body is no longer closed.
            if self.kinds[node] != Node::Closed
                || off_m >= keep_m
                || off_m < least_m
                || off_m == 0.0
            {
                continue;
            }
            compared += self.near.len() as u32;
            let to = at + (point - at) * (edge_m / off_m);
            let is_clear = self.near.iter().all(|&other| {
                let keep_m = self.keep_m[other as usize];
                bodies[other as usize].at.distance_squared(to) >= keep_m * keep_m
            });
            if is_clear {
                self.moved_m[node] = to - point;
                self.beside[node] = true;
                self.kinds[node] = Node::Tight;
            }
        }
        compared
    }

    /// What a node is like.
    pub(super) fn kind(&self, node: usize) -> Node {
        self.kinds[node]
    }

    /// Where a node lies, in metres.
    pub(super) fn at(&self, layout: &Layout, node: usize) -> Vec2 {
        let moved_m = self.moved_m.get(node).copied().unwrap_or(Vec2::ZERO);
        layout.at(node) + moved_m
    }

    /// Whether no wall can stand between a node and its neighbours. One look round a node in the open saves one along each of its edges.
    pub(super) fn is_roomy(
        &self,
        around: &Surroundings<'_>,
        layout: &Layout,
        (at, most_cells): (Vec2, usize),
    ) -> bool {
        let moved = if self.moved_m.is_empty() {
            0.0
        } else {
            MOST_MOVED
        };
        let steps = 1.0 + 2.0 * moved;
        let half_m = steps * layout.spacing_m + around.radius_m;
        let all_edges = Rect::around(at, half_m);
        self.has_no_walls || around.view.box_is_open(all_edges, most_cells)
    }

    /// Whether no wall stands between two points.
    pub(super) fn is_open(&self, around: &Surroundings<'_>, (a, b): (Vec2, Vec2)) -> bool {
        self.has_no_walls || around.view.line_is_clear(a, b, around.radius_m)
    }

    /// Whether no body stands between two neighbouring nodes at which none stands.
    pub(super) fn passes_bodies(
        &self,
        around: &Surroundings<'_>,
        (one, other): (usize, usize),
        leg: (Vec2, Vec2),
    ) -> bool {
        let is_beside = |node| self.beside.get(node).copied().unwrap_or(false);
        !(is_beside(one) || is_beside(other)) || self.passes(around, leg, true)
    }

    /// Whether the straight way between two points is free. With `may_push`, bodies that make room do not count.
    pub(super) fn passes(
        &self,
        around: &Surroundings<'_>,
        (a, b): (Vec2, Vec2),
        may_push: bool,
    ) -> bool {
        let is_past = |(obstacle, keep_m): (&Obstacle, &f32)| {
            obstacle.yields && may_push
                || segment_point_distance_squared(a, b, obstacle.at) >= keep_m * keep_m
        };
        around.obstacles.iter().zip(&self.keep_m).all(is_past) && self.is_open(around, (a, b))
    }
}
