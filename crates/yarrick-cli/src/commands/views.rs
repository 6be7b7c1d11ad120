//! `yarrick route --show`: a goal field, the regions, or the room that bodies have, drawn over the map
//! and printed in numbers.

use crate::account::plural;
use crate::arguments::{Route as Asked, View};
use crate::commands::body::Walker;
use crate::commands::draw::write_sheet;
use crate::failure::Failure;
use std::collections::BTreeMap;
use std::fmt::Write as _;
use yarrick::ground::{Cell, ClearanceMap};
use yarrick::route::GoalField;
use yarrick::{Scenario, World};
use yarrick_draw::{Overlay, Scene};

/// The widths of bodies whose room is drawn, in cells from side to side.
const WIDTHS: [f32; 6] = [0.8, 1.6, 2.6, 4.6, 8.6, 16.6];

/// Draws what was asked for. Gives the text to print.
pub(crate) fn run(
    scenario: &Scenario,
    world: &World,
    asked: &Asked,
    (view, body): (View, Walker),
) -> Result<String, Failure> {
    let ground = world.ground();
    let clearance = ClearanceMap::for_gait(ground, body.gait, body.radius_m);
    let drawn = |overlay: Overlay<'_>| {
        let scene = Scene {
            overlay: Some(overlay),
            ..Scene::of(&scenario.title, world)
        };
        match &asked.output {
            Some(output) => write_sheet(&scene.draw(asked.size), output),
            None => Ok(()),
        }
    };
    match view {
        View::Field => {
            let goals = goals(world, asked)?;
            let field = GoalField::new(&clearance, &goals);
            let field = field.map_err(|error| Failure::Usage(error.to_string()))?;
            let clearance = &clearance;
            let field = &field;
            drawn(Overlay::Field { field, clearance })?;
            Ok(field_text(world, clearance, field))
        }
        View::Regions => {
            drawn(Overlay::Regions {
                clearance: &clearance,
            })?;
            Ok(regions_text(world, &clearance))
        }
        View::Clearance => {
            let radii = WIDTHS.map(|width| width * 0.5 * ground.cell_m());
            let clearances = radii.map(|radius| ClearanceMap::for_gait(ground, body.gait, radius));
            drawn(Overlay::Room {
                clearances: &clearances,
            })?;
            Ok(room_text(world, &clearances))
        }
    }
}

/// The cells of the points that the field is to lead to.
fn goals(world: &World, asked: &Asked) -> Result<Vec<Cell>, Failure> {
    if asked.to.is_empty() {
        let why = "--show field needs --to, once or more: where the field leads";
        return Err(Failure::Usage(why.to_owned()));
    }
    let cell = |at: &yarrick::Vec2| {
        let off = || Failure::Usage(format!("({}, {}) lies off the map", at.x, at.y));
        world.ground().cell_at(*at).ok_or_else(off)
    };
    asked.to.iter().map(cell).collect()
}

fn field_text(world: &World, clearance: &ClearanceMap, field: &GoalField) -> String {
    let cells = world.ground().whole().cells();
    let left: Vec<f32> = cells
        .filter_map(|cell| field.left_m(clearance, cell))
        .collect();
    let farthest = left.iter().copied().fold(0.0, f32::max);
    format!(
        "The goal can be reached from {}; from the farthest it is {farthest:.1} m of plain ground.\n\
         The field settled {}, and takes {} KiB.\n",
        plural(left.len(), "cell"),
        plural(field.settled_count() as usize, "cell"),
        field.bytes().div_ceil(1024),
    )
}

fn regions_text(world: &World, clearance: &ClearanceMap) -> String {
    let mut sizes: BTreeMap<_, usize> = BTreeMap::new();
    let cells = world.ground().whole().cells();
    for region in cells.filter_map(|cell| clearance.region(cell)) {
        *sizes.entry(region).or_default() += 1;
    }
    let mut sizes: Vec<usize> = sizes.into_values().collect();
    sizes.sort_by_key(|size| core::cmp::Reverse(*size));
    let mut text = format!(
        "{} for a body {:.2} m in radius\n",
        plural(sizes.len(), "region"),
        clearance.radius()
    );
    let all: usize = sizes.iter().sum();
    for (number, size) in sizes.iter().enumerate().take(9) {
        let part = *size as f64 / all as f64 * 100.0;
        // Writing to a string cannot fail.
        let _ = writeln!(text, "{:>4}  {size:>9} cells {part:>6.1} %", number + 1);
    }
    text
}

fn room_text(world: &World, clearances: &[ClearanceMap]) -> String {
    let mut text = String::from("cells with room for a body of at least\n");
    for clearance in clearances {
        let cells = world.ground().whole().cells();
        let open = cells.filter(|cell| clearance.is_open(*cell)).count();
        // Writing to a string cannot fail.
        let _ = writeln!(text, "{:>8.2} m in radius {open:>9}", clearance.radius());
    }
    text
}
