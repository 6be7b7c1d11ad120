//! A map that changes while the world goes on: buildings, doors, other terrain. What was worked out from
//! the map is mended where it changed; whoever walks a way that is cut looks for another at once.

use super::activity::{Activity, Bound};
use super::queue;
use super::state::State;
use super::{UnitId, World};
use crate::geom::{Rect, Vec2};
use crate::ground::{Cell, DoorId, Ground, Patch};
use crate::motion::way_left;

/// A unit looks for a better way where the ground has opened only if one past there could be shorter by
/// this part of its own, as the crow flies.
const HOPE: f32 = 0.95;

impl World {
    /// Puts an obstacle on cells, which keeps out all that do not fly, until [`World::unblock`] takes it
    /// off. Several may lie on the same cell; those off the map count for nothing. Whoever stands there
    /// walks out of it.
    pub fn block(&mut self, cells: impl IntoIterator<Item = Cell>) {
        self.change_ground(|ground| ground.block(cells));
    }

    /// Takes an obstacle off cells.
    pub fn unblock(&mut self, cells: impl IntoIterator<Item = Cell>) {
        self.change_ground(|ground| ground.unblock(cells));
    }

    /// Opens or shuts a door of the map. Gives whether there is such a door.
    pub fn set_door(&mut self, door: DoorId, shut: bool) -> bool {
        self.change_ground(|ground| ground.set_door(door, shut));
        usize::from(door.0) < self.state.ground.doors().len()
    }

    /// Makes cells another terrain, by its number in the list of the map. Gives whether there is such a
    /// terrain.
    pub fn set_terrain(&mut self, cells: impl IntoIterator<Item = Cell>, terrain: usize) -> bool {
        self.change_ground(|ground| ground.set_terrain(cells, terrain));
        terrain < self.state.ground.terrains().len()
    }

    fn change_ground(&mut self, change: impl FnOnce(&mut Ground) -> Patch) {
        let changed = change(&mut self.state.ground);
        self.state.take_in(changed);
    }
}

impl State {
    /// Closes the ground that a building covers, or opens it again.
    pub(super) fn cover_ground(&mut self, unit: UnitId, covered: bool) {
        let Some(row) = self.units.row(unit) else {
            return;
        };
        let moves = self.kind(self.units.kind[row]).speed > 0.0;
        let Some(block) = self.block(row).filter(|_| !moves) else {
            return;
        };
        let reach = Vec2::splat(block.half.length());
        let low = self.ground.nearest_cell(block.centre - reach);
        let high = self.ground.nearest_cell(block.centre + reach);
        let lies_under = |cell: &Cell| block.distance(self.ground.centre(*cell)) <= 0.0;
        let cells: Vec<Cell> = Patch::between(low, high)
            .cells()
            .filter(lies_under)
            .collect();
        let changed = match covered {
            true => self.ground.block(cells),
            false => self.ground.unblock(cells),
        };
        self.take_in(changed);
    }

    /// Takes in that the map has changed in some cells.
    pub(super) fn take_in(&mut self, changed: Patch) {
        if changed.is_empty() {
            return;
        }
        for (number, passage) in self.passages.iter_mut().enumerate() {
            let touched = passage.repair(&self.ground, changed);
            self.planner.ground_changed(number as u16, passage, touched);
        }
        let low = self.ground.cell_rect(changed.min).min;
        let high = self.ground.cell_rect(changed.max).max;
        let area = Rect::from_corners(low, high);
        for row in 0..self.units.len() {
            self.find_trapped(row, &area);
            self.find_other_way(row, &area);
        }
    }

    /// Notes a unit that stands where the ground has closed.
    fn find_trapped(&mut self, row: usize, area: &Rect) {
        let (at, radius) = (self.units.position[row], self.units.radius[row]);
        let id = self.units.id[row];
        if area.touches_disc(at, radius)
            && !self.going(row).disc_is_clear(at, radius)
            && !self.trapped.contains(&id)
        {
            self.trapped.push(id);
        }
    }

    /// Sends a unit for another way, if its own is cut or a better one may have opened.
    fn find_other_way(&mut self, row: usize, area: &Rect) {
        let Activity::Go(go) = &self.units.activity[row] else {
            return;
        };
        if go.is_on_link() {
            // When it comes off it, it looks whether its way is still there.
            return;
        }
        let at = self.units.position[row];
        let (bound, delay) = (go.bound(), go.delay());
        if self.way_is_cut(row, area) {
            queue::await_route(self, row, bound, delay);
            return queue::make_urgent(self, row);
        }
        let Some(&goal) = go.ahead().last() else {
            return;
        };
        let past = area.nearest(middle(at, goal));
        let left = way_left(at, go.path(), go.next());
        if bound == Bound::Place && at.distance(past) + past.distance(goal) < left * HOPE {
            queue::request_route(self, row, false);
        }
    }

    /// Whether the unit in a row can no longer walk its way, for what there is in an area.
    pub(super) fn way_is_cut(&self, row: usize, area: &Rect) -> bool {
        let Activity::Go(go) = &self.units.activity[row] else {
            return false;
        };
        let radius = self.units.radius[row];
        let mut from = self.units.position[row];
        go.ahead().iter().zip(go.next()..).any(|(&to, next)| {
            let start = core::mem::replace(&mut from, to);
            let leg = Rect::from_corners(start, to).grown(radius);
            let meets = leg.min.cmple(area.max).all() && area.min.cmple(leg.max).all();
            meets && !go.is_over_link(next) && !self.going(row).line_is_clear(start, to, radius)
        })
    }
}

fn middle(a: Vec2, b: Vec2) -> Vec2 {
    (a + b) * 0.5
}
