//! The mesh on which a detour is searched: where its nodes lie.

use crate::geom::Vec2;

/// Smallest radius by which a mesh is laid out, in metres.
const LEAST_RADIUS_M: f32 = 0.05;

/// The mesh on which a detour is searched.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Mesh {
    /// Distance between neighbouring nodes, in metres, above 0. About half the radius of the walker finds every gap that
    /// it can use; wider meshes look farther for the same work.
    pub spacing_m: f32,
    /// Nodes from the middle to each side, at most [`Mesh::MOST_REACH`].
    pub reach: u32,
    /// Where the middle lies, in metres: near the start, or `None` for the start itself. With the middle of a cell, and a
    /// spacing of one cell, the nodes are the middles of cells: passages that are one cell wide are found then however
    /// narrow they are for the walker.
    pub middle: Option<Vec2>,
    /// Whether nodes just inside a body move to its edge. Every gap between bodies that leaves the walker a tenth of its radius is found
    /// then, for the 200 bodies nearest to the start. A search takes up to one and a half times as long, among hundreds of bodies five times.
    pub hugs: bool,
}

impl Mesh {
    /// The largest [`Mesh::reach`].
    pub const MOST_REACH: u32 = 64;

    /// A mesh round a walker of some radius in metres, with a distance between nodes in such radii, and nodes to each side. A walker without
    /// a body counts as 5 cm in radius.
    #[must_use]
    pub fn in_radii(radius_m: f32, (spacing, reach): (f32, u32)) -> Mesh {
        Mesh {
            spacing_m: spacing * radius_m.max(LEAST_RADIUS_M),
            reach,
            middle: None,
            hugs: false,
        }
    }

    /// The distance from the middle to each side, in metres.
    #[must_use]
    pub fn half_m(&self) -> f32 {
        self.reach.min(Mesh::MOST_REACH) as f32 * self.spacing_m
    }

    /// Whether a search from a point is possible on it.
    pub(super) fn is_usable(&self, from: Vec2) -> bool {
        let middle = self.middle.unwrap_or(from);
        self.spacing_m > 0.0
            && self.spacing_m.is_finite()
            && from.is_finite()
            && middle.is_finite()
            && (middle - from).abs().max_element() <= self.spacing_m
    }
}

/// Positions of nodes, in metres.
#[derive(Clone, Copy, Debug)]
pub(super) struct Layout {
    pub(super) middle: Vec2,
    pub(super) spacing_m: f32,
    pub(super) reach: i32,
}

impl Layout {
    pub(super) fn round(from: Vec2, mesh: &Mesh) -> Layout {
        Layout {
            middle: mesh.middle.unwrap_or(from),
            spacing_m: mesh.spacing_m,
            reach: mesh.reach.min(Mesh::MOST_REACH) as i32,
        }
    }

    pub(super) fn side(&self) -> i32 {
        2 * self.reach + 1
    }

    /// The column and the row of a node, from the middle.
    pub(super) fn steps_to(&self, node: usize) -> (i32, i32) {
        let (column, row) = (node as i32 % self.side(), node as i32 / self.side());
        (column - self.reach, row - self.reach)
    }

    /// Where the node lies in a column and a row, in metres.
    pub(super) fn point(&self, (column, row): (i32, i32)) -> Vec2 {
        self.middle + Vec2::new(column as f32, row as f32) * self.spacing_m
    }

    pub(super) fn at(&self, node: usize) -> Vec2 {
        self.point(self.steps_to(node))
    }

    /// The number of nodes.
    pub(super) fn count(&self) -> usize {
        (self.side() * self.side()) as usize
    }

    /// The nodes in a square round a point, from whose sides it is `reach_m` away: their numbers and positions in metres, row by row.
    pub(super) fn within(&self, at: Vec2, reach_m: f32) -> impl Iterator<Item = (usize, Vec2)> {
        let (layout, off) = (*self, at - self.middle);
        let columns = self.span(off.x - reach_m, off.x + reach_m);
        self.span(off.y - reach_m, off.y + reach_m)
            .flat_map(move |row| columns.clone().map(move |column| (column, row)))
            .map(move |place| (layout.node(place), layout.point(place)))
    }

    /// The columns, or rows, between two coordinates relative to the middle.
    fn span(&self, low_m: f32, high_m: f32) -> core::ops::RangeInclusive<i32> {
        let first = (low_m / self.spacing_m).ceil() as i32;
        let last = (high_m / self.spacing_m).floor() as i32;
        first.max(-self.reach)..=last.min(self.reach)
    }

    pub(super) fn node(&self, (column, row): (i32, i32)) -> usize {
        ((row + self.reach) * self.side() + column + self.reach) as usize
    }

    pub(super) fn has(&self, (column, row): (i32, i32)) -> bool {
        column.abs() <= self.reach && row.abs() <= self.reach
    }
}
