//! `yarrick check`: is anything wrong with the files?

use crate::account::plural;
use crate::arguments::Check;
use crate::failure::Failure;
use crate::files::{self, FileFormat};
use std::io::Write as _;
use yarrick::ground::{Cell, Patch};
use yarrick::{Ground, Terrain};

pub(crate) fn run(check: &Check) -> Result<(), Failure> {
    let scenario = files::load_any(&check.path, check.legend.as_deref())?;
    let setup = &scenario.setup;
    let (width, height) = (setup.ground.width(), setup.ground.height());
    let line = if FileFormat::of(&check.path) == FileFormat::Scenario {
        let warned = match scenario.warnings.count() {
            0 => String::new(),
            count => format!(", but for {}", plural(count, "warning")),
        };
        format!(
            "{:?} is sound{warned}: {width} by {height} cells, {}, {}, {}, {}.",
            scenario.title,
            plural(setup.sides.len(), "side"),
            plural(setup.kinds.len(), "kind"),
            plural(scenario.units.len(), "unit"),
            plural(scenario.script.len(), "script entry"),
        )
    } else {
        format!(
            "{:?} is a sound map, and no scenario: {width} by {height} cells, {}.",
            scenario.title,
            share_of_terrains(&setup.ground),
        )
    };
    writeln!(anstream::stdout(), "{line}").map_err(|error| Failure::output(&error))
}

/// How many cells of a map are of which terrain.
fn share_of_terrains(ground: &Ground) -> String {
    let last = Cell::new(ground.width() as i32 - 1, ground.height() as i32 - 1);
    let mut counts = vec![0_usize; ground.terrains().len()];
    for cell in Patch::between(Cell::new(0, 0), last).cells() {
        // Names of terrains may be long, and maps large: the same terrain is the same place in the list.
        let terrain = ground.terrain(cell);
        let is_it = |known: &Terrain| terrain.is_some_and(|terrain| std::ptr::eq(terrain, known));
        if let Some(at) = ground.terrains().iter().position(is_it) {
            counts[at] += 1;
        }
    }
    let shares = ground.terrains().iter().zip(counts);
    let shares = shares.filter(|(_, count)| *count > 0);
    let shares: Vec<String> = shares
        .map(|(terrain, count)| format!("{count} of {}", terrain.name))
        .collect();
    shares.join(", ")
}
