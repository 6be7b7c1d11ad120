//! `yarrick check`: is anything wrong with the files?

use crate::account::plural;
use crate::arguments::Check;
use crate::failure::Failure;
use crate::files;
use std::io::Write as _;

pub(crate) fn run(check: &Check) -> Result<(), Failure> {
    let scenario = files::load(&check.scenario.path)?;
    let setup = &scenario.setup;
    writeln!(
        anstream::stdout(),
        "{:?} is sound: {} by {} cells, {}, {}, {}, {}.",
        scenario.title,
        setup.ground.width(),
        setup.ground.height(),
        plural(setup.sides.len(), "side"),
        plural(setup.kinds.len(), "kind"),
        plural(scenario.units.len(), "unit"),
        plural(scenario.script.len(), "script entry"),
    )
    .map_err(|error| Failure::output(&error))
}
