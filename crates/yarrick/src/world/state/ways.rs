//! What is left to the goals of the assault from everywhere: for weapons that prefer the foe that is farthest along.

use super::State;
use super::rules::Rules;
use crate::combat::Preference;
use crate::geom::{Rect, Vec2};
use crate::ground::{Cell, ClearanceMap, Ground, Patch};
use crate::route::GoalField;
use crate::world::game::GoalArea;

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
        let ways = pairs.map(|(number, goal, clearance)| WaysLeft {
            goal: number,
            clearance,
            field: field_to(ground, &clearances[usize::from(clearance)], goal),
        });
        ways.collect()
    }

    /// Takes in that a clearance map has changed in some cells. Gives the work, in cells.
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
        mended.unwrap_or_else(|| {
            self.field = field_to(ground, clearance, goal);
            self.field.as_ref().map_or(0, GoalField::settled_count)
        })
    }
}

/// Mends a field. Gives the number of cells that were looked at, unless a goal was closed.
fn mended(field: &mut GoalField, clearance: &ClearanceMap, touched: Patch) -> Option<u32> {
    let looked_at = field.repair_within(clearance, touched, u32::MAX).ok()?;
    Some(looked_at.saturating_add(field.advance(clearance, u32::MAX)))
}

fn cells_round(ground: &Ground, goal: &GoalArea) -> Patch {
    let reach = Vec2::splat(goal.radius_m);
    let box_of = Rect::from_corners(goal.at - reach, goal.at + reach);
    Patch::between(
        ground.nearest_cell(box_of.min),
        ground.nearest_cell(box_of.max),
    )
}

/// The field to a goal: to the cells in its disc, or to the one that it lies in.
fn field_to(ground: &Ground, clearance: &ClearanceMap, goal: &GoalArea) -> Option<GoalField> {
    let middle = ground.nearest_cell(goal.at);
    let is_open = |cell: &Cell| clearance.region(*cell).is_some();
    let is_in =
        |cell: &Cell| *cell == middle || ground.centre(*cell).distance(goal.at) <= goal.radius_m;
    let cells = cells_round(ground, goal).cells();
    let cells: Vec<Cell> = cells.filter(is_in).filter(is_open).collect();
    let mut field = GoalField::begin(clearance, &cells).ok()?;
    field.advance(clearance, u32::MAX);
    Some(field)
}

impl State {
    /// How far the unit in a row has still to go to the goal of its assault, as the metres of plain ground that take as
    /// long; infinite for one that has no goal, or no way there.
    pub(crate) fn way_left_m(&self, row: usize) -> f32 {
        let left = || {
            let sent = self.of_wave.get(self.units.id[row])?;
            let clearance = self.clearance_index(row);
            let mut ways = self.derived.ways.iter();
            let ways = ways.find(|ways| ways.goal == sent.goal && ways.clearance == clearance)?;
            let map = &self.derived.clearances[usize::from(clearance)];
            let cell = self.ground.nearest_cell(self.units.position[row]);
            ways.field.as_ref()?.left_m(map, cell)
        };
        left().unwrap_or(f32::INFINITY)
    }
}
