//! A map that changes while the world goes on: buildings, doors, other terrain. What was worked out from
//! the map is mended where it changed; a unit whose way is cut looks for another at once.

use super::displaced::note_displaced;
use super::{replan, request_route};
use crate::geom::Rect;
use crate::ground::{Cell, DoorId, Ground, Patch};
use crate::motion::way_left;
use crate::site;
use crate::world::ids::UnitId;
use crate::world::kind::Ability;
use crate::world::state::{Construction, Locomotion, State, UnitRow};

/// A unit looks for a better way where the ground has opened only if a straight way past there would be at most this part
/// of its own.
const HOPE: f32 = 0.95;

/// What a change of the ground can do for units.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Effect {
    Closes,
    Opens,
    /// Other terrain, on which some walk better and some worse.
    Either,
}

impl State {
    /// Puts an obstacle on cells, or takes it off.
    pub(crate) fn set_obstacle(&mut self, cells: &[Cell], is_there: bool) {
        let patch = cells
            .iter()
            .fold(Patch::EMPTY, |patch, cell| patch.with(*cell));
        let effect = if is_there {
            Effect::Closes
        } else {
            Effect::Opens
        };
        self.change_ground((patch, effect), |ground| {
            let cells = cells.iter().copied();
            if is_there {
                ground.block(cells)
            } else {
                ground.unblock(cells)
            }
        });
    }

    /// Opens or shuts a door. Gives whether there is such a door.
    pub(crate) fn set_door(&mut self, door: DoorId, shut: bool) -> bool {
        let known = self.ground.doors().get(usize::from(door.0));
        let Some(patch) = known.map(|door| door.patch) else {
            return false;
        };
        let effect = if shut { Effect::Closes } else { Effect::Opens };
        self.change_ground((patch, effect), |ground| ground.set_door(door, shut));
        true
    }

    /// Makes cells another terrain, by its number. Gives whether there is such a terrain.
    pub(crate) fn set_terrain(&mut self, cells: &[Cell], terrain: usize) -> bool {
        let patch = cells
            .iter()
            .fold(Patch::EMPTY, |patch, cell| patch.with(*cell));
        self.change_ground((patch, Effect::Either), |ground| {
            ground.set_terrain(cells.iter().copied(), terrain)
        });
        terrain < self.ground.terrains().len()
    }

    /// Changes the ground within a patch, and mends what was worked out from it.
    fn change_ground(
        &mut self,
        (within, effect): (Patch, Effect),
        change: impl FnOnce(&mut Ground) -> Patch,
    ) {
        let changed = change(&mut self.ground);
        self.derived.ground_digest.update(&self.ground, within);
        self.take_in(changed, effect);
    }

    /// Puts a unit into the world. A building closes the ground that it covers.
    pub(crate) fn enter(&mut self, row: UnitRow) -> UnitId {
        let (kind, at) = (row.kind, row.position);
        let unit = self.add_unit(row);
        if !self.kind(kind).drills.is_empty() {
            self.homes.set(unit, at);
        }
        self.begin_work(unit);
        self.cover_ground(unit, true);
        unit
    }

    /// Puts a building under construction into the world. It closes no ground before work has begun.
    pub(crate) fn enter_as_site(&mut self, row: UnitRow, construction: Construction) -> UnitId {
        let unit = self.add_unit(row);
        self.constructions.set(unit, construction);
        self.begin_work(unit);
        unit
    }

    /// Closes the ground that a building covers, or opens it again.
    pub(crate) fn cover_ground(&mut self, unit: UnitId, covered: bool) {
        let Some(row) = self.units.row(unit) else {
            return;
        };
        let closes = self.closes_ground(row);
        let Some(block) = self.block(row).filter(|_| closes) else {
            return;
        };
        let cells: Vec<Cell> = site::cells_under(&self.ground, &block).collect();
        self.set_obstacle(&cells, covered);
    }

    /// Takes in that the map has changed in some cells.
    fn take_in(&mut self, changed: Patch, effect: Effect) {
        if changed.is_empty() {
            return;
        }
        let (mut touched, mut regrouped) = (Patch::EMPTY, false);
        for (number, clearance) in self.derived.clearances.iter_mut().enumerate() {
            let repair = clearance.repair_in_parts(&self.ground, changed);
            self.planner
                .ground_changed(number as u16, clearance, &repair);
            touched = touched.joined(&repair.touched);
            regrouped |= repair.regrouped;
            let goals = self
                .assault
                .as_ref()
                .map_or(&[][..], |running| &running.goals);
            for ways in &mut self.derived.ways {
                let body = (number as u16, &*clearance);
                let work = ways.ground_changed(&self.ground, body, goals, repair.touched);
                self.planner.charge(work);
            }
        }
        self.note_mending();
        let low = self.ground.cell_rect(changed.min).min;
        let high = self.ground.cell_rect(changed.max).max;
        let area = Rect::from_corners(low, high);
        for row in 0..self.units.len() {
            self.find_trapped(row, &area);
            self.find_other_way(row, &area, effect);
            note_displaced(self, row, (&area, touched, regrouped));
        }
    }

    /// Notes a unit that stands where the ground has closed.
    fn find_trapped(&mut self, row: usize, area: &Rect) {
        let (at, radius) = (self.units.position[row], self.units.radius[row]);
        let id = self.units.id[row];
        // What cannot move stays where it is, a building on the ground that it has closed itself.
        if self.kind_of(row).can(Ability::Moves)
            && area.touches_disc(at, radius)
            && !self.ground_view(row).disc_is_clear(at, radius)
            && !self.unrest.trapped.contains(&id)
        {
            self.unrest.trapped.push(id);
        }
    }

    /// Sends a unit for another way, if its own is cut or a better one may have opened.
    fn find_other_way(&mut self, row: usize, area: &Rect, effect: Effect) {
        let Locomotion::Walking(walk) = &self.units.locomotion[row] else {
            return;
        };
        if walk.is_on_link() {
            // When it comes off it, it looks whether its way is still there.
            return;
        }
        let at = self.units.position[row];
        if effect != Effect::Opens && self.way_is_cut(row, area) {
            replan(self, row);
            return request_route(self, row, true);
        }
        let Some(&goal) = walk.ahead().last() else {
            return;
        };
        let past = area.nearest(at).distance(at) + area.nearest(goal).distance(goal);
        let left = way_left(at, walk.path(), walk.next());
        if effect != Effect::Closes && past.max(at.distance(goal)) < left * HOPE {
            request_route(self, row, false);
        }
    }

    /// Whether the unit in a row can no longer walk its way, for what there is in an area.
    pub(crate) fn way_is_cut(&self, row: usize, area: &Rect) -> bool {
        let Locomotion::Walking(walk) = &self.units.locomotion[row] else {
            return false;
        };
        let radius = self.units.radius[row];
        let mut from = self.units.position[row];
        walk.ahead().iter().zip(walk.next()..).any(|(&to, next)| {
            let start = core::mem::replace(&mut from, to);
            let leg = Rect::from_corners(start, to).grown(radius);
            let meets = leg.min.cmple(area.max).all() && area.min.cmple(leg.max).all();
            meets
                && !walk.is_over_link(next)
                && !self.ground_view(row).line_is_clear(start, to, radius)
        })
    }
}
