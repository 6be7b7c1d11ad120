//! What is left to the goals of the assault from everywhere: for weapons that prefer the foe that is farthest along.

use super::State;
use super::rules::Rules;
use crate::combat::Preference;
use crate::geom::{Rect, Vec2};
use crate::ground::{Cell, ClearanceMap, Ground, Patch};
use crate::route::{BEGUN_A_CELL, GoalField, SPREAD_A_CELL};
use crate::world::game::GoalArea;

/// Cells that are looked at to mend a field at once; if that is not enough, it is worked out anew over several ticks.
const MENDED_AT_ONCE: u32 = 8192;

/// The ways that are left to one goal, for one class of bodies.
#[derive(Clone, Debug)]
pub(crate) struct WaysLeft {
    goal: u16,
    clearance: u16,
    /// `None` while the goal is closed to such bodies.
    field: Option<GoalField>,
}

impl WaysLeft {
    /// The ways to all goals for the bodies of the kinds that an assault sends; none where no weapon asks for them.
    pub(super) fn all(
        rules: &Rules,
        ground: &Ground,
        goals: &[GoalArea],
        (clearances, used): (&[ClearanceMap], &[u16]),
    ) -> Vec<WaysLeft> {
        let prefers = |preference| {
            let weapons = rules.kinds.iter().filter_map(|kind| kind.weapon);
            weapons
                .into_iter()
                .any(|weapon| weapon.prefers == preference)
        };
        if !prefers(Preference::FarthestAlong) {
            return Vec::new();
        }
        let pairs = (0_u16..).zip(goals).flat_map(|(number, goal)| {
            used.iter().map(move |clearance| (number, goal, *clearance))
        });
        let ways = pairs.map(|(number, goal, clearance)| {
            let map = &clearances[usize::from(clearance)];
            let mut ways = WaysLeft {
                goal: number,
                clearance,
                field: field_to(ground, map, goal),
            };
            ways.advance(map, u32::MAX);
            ways
        });
        ways.collect()
    }

    /// The class of bodies, by its clearance map.
    pub(super) fn clearance(&self) -> usize {
        usize::from(self.clearance)
    }

    /// How many cells are known, if it is being worked out anew.
    pub(super) fn settled(&self) -> Option<u32> {
        let field = self.field.as_ref().filter(|field| !field.is_done());
        field.map(GoalField::settled_count)
    }

    /// Works it out anew for the first cells, as many as were known when it was saved.
    pub(super) fn resume(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        goals: &[GoalArea],
        settled: u32,
    ) {
        let goal = goals.get(usize::from(self.goal));
        self.field = goal.and_then(|goal| field_to(ground, clearance, goal));
        if let Some(field) = &mut self.field {
            field.advance(clearance, settled);
        }
    }

    /// Goes on to work it out, for about `most` work. Gives the work.
    pub(super) fn advance(&mut self, clearance: &ClearanceMap, most: u32) -> u32 {
        let field = self.field.as_mut().filter(|field| !field.is_done());
        let cells = most.saturating_mul(SPREAD_A_CELL);
        field.map_or(0, |field| field.advance(clearance, cells) / SPREAD_A_CELL)
    }

    /// Takes in that a clearance map has changed in some cells. Where much is different now, [`WaysLeft::advance`] goes on. Gives the
    /// work, in cells.
    pub(crate) fn ground_changed(
        &mut self,
        ground: &Ground,
        (number, clearance): (u16, &ClearanceMap),
        goals: &[GoalArea],
        touched: Patch,
    ) -> u32 {
        if number != self.clearance || touched.is_empty() {
            return 0;
        }
        let Some(goal) = goals.get(usize::from(self.goal)) else {
            return 0;
        };
        let area = cells_round(ground, goal);
        let is_far = touched.max.x < area.min.x
            || touched.max.y < area.min.y
            || touched.min.x > area.max.x
            || touched.min.y > area.max.y;
        let mended = match &mut self.field {
            None if is_far => Some(0),
            Some(field) if is_far => mended(field, clearance, touched),
            _ => None,
        };
        let looked_at = mended.unwrap_or_else(|| {
            self.field = field_to(ground, clearance, goal);
            0
        });
        let begun = match &self.field {
            Some(field) if !field.is_done() => clearance.weights().len() as u32 / BEGUN_A_CELL,
            _ => 0,
        };
        looked_at + begun
    }
}

/// Mends a field, or begins it anew. Gives the number of cells that were looked at, unless a goal was closed.
fn mended(field: &mut GoalField, clearance: &ClearanceMap, touched: Patch) -> Option<u32> {
    field.repair_within(clearance, touched, MENDED_AT_ONCE).ok()
}

fn cells_round(ground: &Ground, goal: &GoalArea) -> Patch {
    let reach = Vec2::splat(goal.radius_m);
    let box_of = Rect::from_corners(goal.at - reach, goal.at + reach);
    Patch::between(
        ground.nearest_cell(box_of.min),
        ground.nearest_cell(box_of.max),
    )
}

/// The field to a goal: to the cells in its disc, or to the one that it lies in. It knows nothing yet but these.
fn field_to(ground: &Ground, clearance: &ClearanceMap, goal: &GoalArea) -> Option<GoalField> {
    let middle = ground.nearest_cell(goal.at);
    let is_open = |cell: &Cell| clearance.region(*cell).is_some();
    let is_in =
        |cell: &Cell| *cell == middle || ground.centre(*cell).distance(goal.at) <= goal.radius_m;
    let cells = cells_round(ground, goal).cells();
    let cells: Vec<Cell> = cells.filter(is_in).filter(is_open).collect();
    GoalField::begin(clearance, &cells).ok()
}

impl State {
    /// How far the unit in a row has still to go to the goal of its assault, as the metres of plain ground that take as
    /// long; infinite for one that has no goal, or no way there, or so far that it is not known yet after a change of the ground.
    pub(crate) fn way_left_m(&self, row: usize) -> f32 {
        let left = || {
            let sent = self.of_wave.get(self.units.id[row])?;
            let clearance = self.clearance_index(row);
            let mut ways = self.derived.ways.iter();
            let ways = ways.find(|ways| ways.goal == sent.goal && ways.clearance == clearance)?;
            let map = &self.derived.clearances[usize::from(clearance)];
            let cell = self.ground.nearest_cell(self.units.position[row]);
            let field = ways.field.as_ref()?;
            field.left_m(map, cell).filter(|_| field.knows(map, cell))
        };
        left().unwrap_or(f32::INFINITY)
    }
}
