//! Where there is room for a body: clear ground that nobody stands on.

use super::State;
use super::units::Pose;
use crate::geom::{Vec2, is_within};
use crate::ground::Cell;
use crate::near::Near;
use crate::world::kind::KindId;
use crate::world::message::MAX_COORDINATE_M;

impl State {
    /// Whether a unit of a kind could stand somewhere now: on clear ground, and touching nobody. `near` has everybody
    /// but those that came in since it was built, which stand in the last rows; without it, everybody is looked at.
    pub(crate) fn is_free_spot(&self, near: Option<&Near>, id: KindId, pose: Pose) -> bool {
        if self.check_room(id, pose, None).is_err() {
            return false;
        }
        let (kind, at) = (self.kind(id), pose.position);
        let footprint = kind.footprint_at(at, pose.facing);
        let radius = kind.body.radius_m;
        let touches = |row: usize| match (&footprint, self.block(row)) {
            (None, _) => self.gap_from(at, radius, row) <= 0.0,
            // Buildings have been seen to: they may stand wall to wall.
            (Some(_), _) if self.kind_of(row).closes_ground() => false,
            (Some(mine), Some(other)) => mine.touches(&other),
            (Some(mine), None) => mine.distance(self.units.position[row]) <= self.units.radius[row],
        };
        let reach = kind.reach_m() + self.derived.farthest;
        let new = near.map_or(0, Near::len)..self.units.len();
        let filed = near.into_iter().flat_map(|near| near.within(at, reach));
        let mut others = filed.map(|number| number as usize).chain(new);
        !others.any(touches)
    }

    /// The place nearest to a point, at most `within_m` metres from it, where a unit of a kind could stand now: the point
    /// itself or the middle of a cell. Of those that `allows`.
    pub(crate) fn nearest_free_spot(
        &self,
        near: Option<&Near>,
        kind: KindId,
        (at, facing): (Vec2, f32),
        within_m: f32,
        allows: impl Fn(Vec2) -> bool,
    ) -> Option<Vec2> {
        if !is_within(at.extend(0.0), MAX_COORDINATE_M) || within_m.is_nan() {
            return None;
        }
        let is_free = |position: Vec2| {
            allows(position) && self.is_free_spot(near, kind, Pose { position, facing })
        };
        if is_free(at) {
            return Some(at);
        }
        let ground = &self.ground;
        let middle = ground.nearest_cell(at);
        let most = (ground.width().max(ground.height())) as i32;
        let mut best: Option<(f32, Vec2)> = None;
        for ring in 0..=most {
            // Cells of a ring are at least so far off; rows of hexes lie nearer to each other than those of squares.
            let least_m = (ring as f32 * 0.8 - 1.0) * ground.cell_m();
            let least_m = least_m - ground.centre(middle).distance(at);
            if least_m > within_m || best.is_some_and(|(known, _)| known < least_m) {
                break;
            }
            for cell in ring_of(middle, ring).filter(|cell| ground.contains(*cell)) {
                let centre = ground.centre(cell);
                let far_m = centre.distance(at);
                let is_nearer = far_m <= within_m && best.is_none_or(|(known, _)| far_m < known);
                if is_nearer && is_free(centre) {
                    best = Some((far_m, centre));
                }
            }
        }
        best.map(|(_, place)| place)
    }
}

/// The cells that lie `ring` columns or rows off, whichever is more.
fn ring_of(middle: Cell, ring: i32) -> impl Iterator<Item = Cell> {
    let rows = -ring..=ring;
    rows.flat_map(move |y| {
        let step = if y.abs() == ring {
            1
        } else {
            (2 * ring).max(1)
        };
        (-ring..=ring)
            .step_by(step as usize)
            .map(move |x| Cell::new(middle.x + x, middle.y + y))
    })
}
