//! Goal fields: what is left to a goal from everywhere, worked out once and shared by all that go
//! there.
//!
//! A field is one search that begins at the goal and goes on until it has been everywhere. Nobody
//! who then walks there needs a search of their own: from each cell the field knows what is left, and
//! from where a body stands which way to go, as far round walls as can be seen from there.
//!
//! *When not to use it:* for one unit that goes to a place of its own a search is far cheaper. From
//! about eight units on that go to the same place a field is.
//!
//! ```
//! use yarrick::ground::{Cell, Ground, ClearanceMap, Terrain};
//! use yarrick::route::{GoalField, NextPoint};
//! use yarrick::Vec2;
//!
//! let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
//! let ground = Ground::from_rows(1.0, &["......", "..##..", "..##.."], &legend)?;
//! let clearance = ClearanceMap::new(&ground, 0.4);
//! let mut field = GoalField::new(&clearance, &[Cell::new(5, 0)])?;
//!
//! let mut at = Vec2::new(0.5, 0.5);
//! while let NextPoint::To(point) = field.next_point(&ground, &clearance, 0.4, at) {
//!     at += (point - at).clamp_length_max(0.1);
//! }
//! assert_eq!(ground.cell_at(at), Some(Cell::new(5, 0)));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod anchors;
mod frontier;
mod repair;
mod spread;

pub use anchors::NextPoint;

use crate::ground::{Cell, ClearanceMap};
use frontier::Frontier;

/// What is left from every cell to the nearest of some goals. One search serves all that go there, from anywhere.
///
/// The [module](self) shows how it is made and how a body follows it.
#[derive(Clone, Debug, Default)]
pub struct GoalField {
    goals: Vec<u32>,
    /// What is left from each entry of the clearance map, in fifths of a cell: on ground of one speed of
    /// its cells, else of cells of half a sixteenth's slowness. [`FAR`] where the goal is out of reach.
    left: Vec<u32>,
    /// The entry that a body in each one heads for, as far as that has been asked; see `anchors`.
    anchors: Vec<u32>,
    /// The entry from which anchors are being found, and a part of the way from there.
    looks_from: Option<u32>,
    way: Vec<u32>,
    /// Whether all ground is of one speed, so that slowness was left out.
    even: bool,
    lightest: u8,
    frontier: Frontier,
    settled: u32,
}

/// What is left where the goal is out of reach.
const FAR: u32 = u32::MAX;

/// Why a field cannot be made.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum FieldError {
    /// There is no goal.
    #[error("a goal field needs at least one goal")]
    NoGoal,
    /// A goal lies off the map, or where the body does not fit.
    #[error("the goal in column {}, row {} lies off the map or in closed ground", cell.x, cell.y)]
    GoalClosed {
        /// The goal.
        cell: Cell,
    },
}

impl GoalField {
    /// A field that knows nothing yet but its goals; [`GoalField::advance`] goes on.
    ///
    /// # Errors
    /// As [`GoalField::new`].
    pub fn begin(clearance: &ClearanceMap, goals: &[Cell]) -> Result<GoalField, FieldError> {
        if goals.is_empty() {
            return Err(FieldError::NoGoal);
        }
        let node = |&cell: &Cell| match clearance.node(cell) {
            Some(node) if clearance.weights()[node] > 0 => Ok(node as u32),
            _ => Err(FieldError::GoalClosed { cell }),
        };
        let mut field = GoalField {
            goals: goals.iter().map(node).collect::<Result<_, _>>()?,
            left: Vec::new(),
            anchors: Vec::new(),
            looks_from: None,
            way: Vec::new(),
            even: false,
            lightest: 1,
            frontier: Frontier::default(),
            settled: 0,
        };
        field.start(clearance);
        Ok(field)
    }

    /// Begins anew, keeping its memory.
    fn start(&mut self, clearance: &ClearanceMap) {
        self.even = clearance.is_even() && clearance.hops().is_empty();
        self.lightest = clearance.lightest();
        self.settled = 0;
        self.anchors.clear();
        self.looks_from = None;
        self.left.clear();
        self.left.resize(clearance.weights().len(), FAR);
        let steady = !clearance.hops().is_empty();
        self.frontier.clear(self.even, steady, clearance.heaviest());
        for &goal in &self.goals {
            self.left[goal as usize] = 0;
            self.frontier.push_goal(goal);
        }
    }

    /// Whether all is known that can be.
    #[must_use]
    pub fn is_done(&self) -> bool {
        self.frontier.is_empty()
    }

    /// Whether what is left from a cell is known for good: it is, even before all is known, for all
    /// that are nearer than those that are looked at next.
    #[must_use]
    pub fn knows(&self, clearance: &ClearanceMap, cell: Cell) -> bool {
        let left = clearance.node(cell).map_or(FAR, |node| self.left[node]);
        self.is_done() || u64::from(left) < self.frontier.at()
    }

    /// How many cells were settled so far: the work that it took.
    #[must_use]
    pub fn settled_count(&self) -> u32 {
        self.settled
    }

    /// The goals.
    pub fn goals<'a>(&'a self, clearance: &'a ClearanceMap) -> impl Iterator<Item = Cell> + 'a {
        self.goals.iter().map(|goal| clearance.cell(*goal as usize))
    }

    /// What is left from a cell, as the metres of plain ground that take as long; `None` where no
    /// goal can be reached.
    #[must_use]
    pub fn left_m(&self, clearance: &ClearanceMap, cell: Cell) -> Option<f32> {
        let left = clearance.node(cell).map(|node| self.left[node])?;
        (left != FAR).then(|| left as f32 * self.m_per_unit(clearance))
    }

    /// How many metres of plain ground a unit of `left` stands for.
    fn m_per_unit(&self, clearance: &ClearanceMap) -> f32 {
        let per_cell = if self.even {
            f32::from(self.lightest) / (5.0 * 16.0)
        } else {
            1.0 / (5.0 * 32.0)
        };
        per_cell * clearance.cell_m()
    }

    /// The bytes of memory that it holds.
    #[must_use]
    pub fn bytes(&self) -> usize {
        4 * (self.left.capacity() + self.anchors.capacity() + self.way.capacity())
            + self.frontier.bytes()
    }
}
