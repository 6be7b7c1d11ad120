//! How near a body can get to a point, answered from the connected regions without a search.

use crate::geom::Vec2;
use crate::ground::{Cell, Ground, Passage, Region};
use serde::{Deserialize, Serialize};

/// Why a body cannot stand at the point that was asked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum Shortfall {
    /// The point lies off the map.
    #[error("the point lies off the map")]
    OffMap,
    /// The ground at the point cannot be walked on.
    #[error("the ground there is closed")]
    Closed,
    /// The ground at the point is open, but too narrow for a body of this radius.
    #[error("it is too narrow there for a body of this size")]
    TooNarrow,
    /// The point could be stood on, but no way leads to it.
    #[error("it is cut off")]
    CutOff,
    /// Others stand there already.
    #[error("others stand there")]
    Crowded,
}

/// The point nearest to a goal that a body can walk to.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Reach {
    /// Where it can go.
    pub point: Vec2,
    /// The cell of that point.
    pub cell: Cell,
    /// Why that is not the goal itself; `None` where it is, or where it only keeps the body
    /// from touching a wall beside it.
    pub short: Option<Shortfall>,
}

impl Reach {
    /// Whether going there brings a body from `from` nearer to `goal`, by half a cell or more.
    #[must_use]
    pub fn leads_nearer(&self, from: Vec2, goal: Vec2, cell_m: f32) -> bool {
        self.point.distance(goal) + cell_m * 0.5 <= from.distance(goal)
    }
}

/// How near a body of `radius` that lives in `region` can get to `goal`, by straight distance.
/// `None` only where `goal` is not finite or the region is not one of this passage.
///
/// At once where the goal can be reached; otherwise in proportion to the cells that lie nearer
/// to the goal than the answer.
#[must_use]
pub fn reach(
    ground: &Ground,
    passage: &Passage,
    radius: f32,
    region: Region,
    goal: Vec2,
) -> Option<Reach> {
    if !goal.is_finite() {
        return None;
    }
    let short = match ground.cell_at(goal) {
        None => Shortfall::OffMap,
        Some(cell) if !ground.is_open(cell) => Shortfall::Closed,
        Some(cell) if !passage.is_open(cell) => Shortfall::TooNarrow,
        Some(cell) if passage.region(cell) != Some(region) => Shortfall::CutOff,
        Some(cell) => {
            return Some(Reach {
                point: nearest_clear(ground, radius, cell, goal),
                cell,
                short: None,
            });
        }
    };
    let cell = passage.nearest(goal, |cell| passage.region(cell) == Some(region))?;
    // A little inside, so that the point belongs to the cell.
    let rect = ground.cell_rect(cell).grown(-0.01 * ground.cell_m());
    Some(Reach {
        point: nearest_clear(ground, radius, cell, rect.nearest(goal)),
        cell,
        short: Some(short),
    })
}

/// The cell from which a body that stands at `from` begins its way: its own, or, where it
/// stands off the middle beside a wall, the nearest to whose middle it can walk straight.
pub(crate) fn footing(ground: &Ground, passage: &Passage, radius: f32, from: Vec2) -> Option<Cell> {
    let own = ground.cell_at(from)?;
    if passage.is_open(own) {
        return Some(own);
    }
    if !ground.is_open(own) {
        return None;
    }
    let span = (radius / ground.cell_m()) as i32 + 2;
    passage.nearest(from, |cell| {
        (cell.x - own.x).abs().max((cell.y - own.y).abs()) <= span
            && ground.line_is_clear(from, ground.centre(cell), radius)
    })
}

/// The clear point nearest to `wanted` on the line from it to the middle of its open cell.
fn nearest_clear(ground: &Ground, radius: f32, cell: Cell, wanted: Vec2) -> Vec2 {
    if ground.disc_is_clear(wanted, radius) {
        return wanted;
    }
    // The gap to any wall only grows on the way to the middle, so halving finds the edge.
    let centre = ground.centre(cell);
    let (mut blocked, mut clear) = (0.0_f32, 1.0_f32);
    for _ in 0..10 {
        let middle = (blocked + clear) * 0.5;
        if ground.disc_is_clear(wanted.lerp(centre, middle), radius) {
            clear = middle;
        } else {
            blocked = middle;
        }
    }
    wanted.lerp(centre, clear)
}
