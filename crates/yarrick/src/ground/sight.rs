//! Lines of sight.

use super::{Cell, Ground, Lattice};
use crate::geom::{Rect, Vec2};

impl Ground {
    /// Whether one sees from one point to another: no cell between them has terrain that blocks sight.
    /// The cells of the two points themselves hide nothing: one sees out of reed, and what stands at
    /// its edge. Points that are not finite are never seen.
    ///
    /// Costs in proportion to the cells between.
    #[must_use]
    pub fn sees(&self, from: Vec2, to: Vec2) -> bool {
        if !(from.is_finite() && to.is_finite()) {
            return false;
        }
        let (first, last) = (self.nearest_cell(from), self.nearest_cell(to));
        // Off the map nothing blocks sight, and a point may be any number of cells away.
        let Some((from, to)) = part_within(&self.bounds().grown(self.cell_m), from, to) else {
            return true;
        };
        // So many looks that none of the cells crossed is left out by more than a corner.
        let per_cell = if self.lattice == Lattice::Hexes {
            6.0
        } else {
            4.0
        };
        let looks = (from.distance(to) / self.cell_m * per_cell).ceil().max(1.0) as u32;
        let mut before: Option<Cell> = None;
        (0..=looks).all(|k| {
            let at = from.lerp(to, k as f32 / looks as f32);
            let cell = self.cell_at(at);
            if cell == before || cell == Some(first) || cell == Some(last) {
                return true;
            }
            before = cell;
            let terrain = cell.and_then(|cell| self.terrain(cell));
            terrain.is_none_or(|terrain| !terrain.blocks_sight)
        })
    }
}

/// The part of a line that lies in a box; `None` where none does.
fn part_within(room: &Rect, from: Vec2, to: Vec2) -> Option<(Vec2, Vec2)> {
    let turned = |at: Vec2| Vec2::new(at.y, at.x);
    let (from, to) = part_between((room.min.x, room.max.x), from, to)?;
    let sides = (room.min.y, room.max.y);
    let (from, to) = part_between(sides, turned(from), turned(to))?;
    Some((turned(from), turned(to)))
}

/// The part of a line whose `x` lies between two limits.
fn part_between((low, high): (f32, f32), from: Vec2, to: Vec2) -> Option<(Vec2, Vec2)> {
    if from.x.max(to.x) < low || from.x.min(to.x) > high {
        return None;
    }
    let end_at = |end: Vec2, other: Vec2| {
        let limit = end.x.clamp(low, high);
        if limit == end.x {
            return end;
        }
        // In double precision, since the end may lie far off.
        let [x, y, far_x, far_y] = [other.x, other.y, end.x, end.y].map(f64::from);
        let part = (f64::from(limit) - x) / (far_x - x);
        Vec2::new(limit, (y + (far_y - y) * part) as f32)
    };
    Some((end_at(from, to), end_at(to, from)))
}
