//! `yarrick draw`: a picture of a scenario at some time.

use crate::arguments::Draw;
use crate::failure::Failure;
use crate::files;
use crate::progress::Progress;
use std::io::Write as _;
use std::path::Path;
use yarrick::scenario::{Play, Scenario};
use yarrick_draw::{Scene, Sheet, Size};

pub(crate) fn run(draw: &Draw) -> Result<(), Failure> {
    let scenario = files::load(&draw.scenario.path)?;
    let mut play = scenario
        .play(draw.seed.seed)
        .map_err(|error| Failure::file(&draw.scenario.path, error))?;
    if draw.at > scenario.duration_s {
        let message = format!(
            "the scenario ends at {} s, before {} s: draw it at 0 to {0} s, or give it a longer duration",
            scenario.duration_s, draw.at
        );
        return Err(Failure::Usage(message));
    }
    let rate = f64::from(play.world().ticks_per_second());
    let mut progress = Progress::new((draw.at * rate) as u64);
    play.run_until(draw.at, |world, _| progress.tick(world.tick()));
    progress.finish();
    let sheet = draw.reveal.sheet(&scenario, &play, draw.size)?;
    write_sheet(&sheet, &draw.output)?;
    let (path, time_s) = (draw.output.display(), play.world().time_s());
    writeln!(
        anstream::stdout(),
        "{path}: {:?} at {time_s:.2} s",
        scenario.title
    )
    .map_err(|error| Failure::output(&error))
}

/// Draws a play as it is now.
pub(crate) fn write_picture(
    scenario: &Scenario,
    play: &Play,
    size: Size,
    path: &Path,
) -> Result<(), Failure> {
    write_sheet(&sheet_of(scenario, play, size), path)
}

/// Lays out a picture of a play as it is now.
pub(crate) fn sheet_of(scenario: &Scenario, play: &Play, size: Size) -> Sheet {
    let scene = Scene {
        hands: play.hands(),
        ..Scene::of(&scenario.title, play.world())
    };
    scene.draw(size)
}

/// Writes a picture. The ending of the path decides the format.
pub(crate) fn write_sheet(sheet: &Sheet, path: &Path) -> Result<(), Failure> {
    if path.extension().is_some_and(|ending| ending == "svg") {
        files::write(path, sheet.to_svg())
    } else {
        let png = sheet.to_png().map_err(|error| Failure::file(path, error))?;
        files::write(path, png)
    }
}
