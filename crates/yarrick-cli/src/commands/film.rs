//! `yarrick film`: a scenario as an animated picture.

use crate::arguments::Film;
use crate::failure::Failure;
use crate::files;
use crate::progress::Progress;
use std::io::Write as _;
use yarrick_draw::FilmError;

const MEGABYTE: usize = 1_000_000;

pub(crate) fn run(asked: &Film) -> Result<(), Failure> {
    let scenario = files::load(&asked.scenario.path)?;
    let until_s = asked.until.unwrap_or(scenario.duration_s);
    if until_s < asked.from {
        let message = format!(
            "the film would end at {until_s} s, before it begins at {} s",
            asked.from
        );
        return Err(Failure::Usage(message));
    }
    let mut play = scenario
        .play(asked.seed.seed)
        .map_err(|error| Failure::file(&asked.scenario.path, error))?;
    play.set_threads(asked.threads.count());
    let rate = f64::from(play.world().ticks_per_second());
    let every = (rate / f64::from(asked.fps)).round().max(1.0);
    let mut progress = Progress::new((until_s * rate) as u64);
    play.run_until(asked.from, |world, _| progress.tick(world.tick()));
    let mut film = yarrick_draw::Film::new(every / rate, asked.limit as usize * MEGABYTE);
    let mut cut = false;
    while !cut {
        let sheet = asked.reveal.sheet(&scenario, &play, asked.size)?;
        match film.add(&sheet) {
            Ok(()) => {}
            Err(FilmError::TooLarge(_)) => cut = true,
            Err(error) => return Err(Failure::file(&asked.output, error)),
        }
        if play.is_past(until_s) {
            break;
        }
        for _ in 0..every as u32 {
            if !cut && !play.is_past(until_s) {
                play.step();
            }
        }
        progress.tick(play.world().tick());
    }
    progress.finish();
    let (frames, time_s) = (film.frames(), play.world().time_s());
    let bytes = film
        .finish()
        .map_err(|error| Failure::file(&asked.output, error))?;
    let megabytes = bytes.len() as f64 / MEGABYTE as f64;
    files::write(&asked.output, bytes)?;
    if cut {
        let why = format!(
            "the film ends at {time_s:.2} s, where it came to {megabytes:.1} MB: film less of it (--until), smaller \
             (--size), fewer frames a second (--fps), or raise --limit"
        );
        return Err(Failure::file(&asked.output, why));
    }
    writeln!(
        anstream::stdout(),
        "{}: {:?} from {:.2} to {time_s:.2} s, {frames} frames, {megabytes:.1} MB",
        asked.output.display(),
        scenario.title,
        asked.from,
    )
    .map_err(|error| Failure::output(&error))
}
