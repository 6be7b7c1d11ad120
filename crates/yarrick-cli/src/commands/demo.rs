//! `yarrick demo`: the bundled scenario, its account and its pictures, in a folder.

use crate::account::Account;
use crate::arguments::Demo;
use crate::commands::draw::{sheet_of, write_picture};
use crate::failure::Failure;
use crate::files;
use std::io::Write as _;
use std::path::Path;
use yarrick::Scenario;
use yarrick::scenario::Play;
use yarrick_draw::{Film, Size};

/// A file of the demo scenario: its name, and what it holds.
macro_rules! part {
    ($name:literal) => {
        (
            $name,
            include_str!(concat!("../../../../scenarios/day/", $name)),
        )
    };
}

/// The files of the demo scenario; the main one first.
const FILES: [(&str, &str); 7] = [
    part!("scenario.toml"),
    part!("ground.toml"),
    part!("roster.toml"),
    part!("keepers.toml"),
    part!("waves.toml"),
    part!("creatures.drill"),
    part!("without-tower.toml"),
];

/// The time of a picture that is taken when the game is decided.
const AT_THE_END: f64 = f64::INFINITY;

/// The pictures: when, the name, and what each shows.
const PICTURES: [(f64, &str, &str); 5] = [
    (
        9.0,
        "1-gathering.png",
        "rakers gather salt, and one builds a drying rack",
    ),
    (
        80.0,
        "2-first-wave.png",
        "two towers shoot at the first wave",
    ),
    (
        156.0,
        "3-building.png",
        "a dyke and a third tower stand, slingers meet the nippers",
    ),
    (
        238.0,
        "4-spitters.svg",
        "spitters keep their distance, as SVG",
    ),
    (AT_THE_END, "5-decided.png", "how the day ended"),
];

/// What is filmed, in seconds.
const FILMED: core::ops::Range<f64> = 148.0..160.0;

/// The time from one frame to the next, in seconds.
const FRAME_S: f64 = 0.25;

/// The most bytes of the film: far more than it comes to.
const FILM_LIMIT: usize = 10_000_000;

pub(crate) fn run(demo: &Demo) -> Result<(), Failure> {
    let folder = &demo.output;
    let scenario = bundled(folder)?;
    for (name, text) in FILES {
        files::write(&folder.join("scenario").join(name), text)?;
    }
    let mut play = scenario
        .play(None)
        .map_err(|error| Failure::file(folder, error))?;
    let mut account = Account::begin(&scenario, &play);
    let mut film = Film::new(FRAME_S, FILM_LIMIT);
    let mut pictures = PICTURES.into_iter().peekable();
    loop {
        while let Some((_, name, _)) = pictures.next_if(|(time_s, ..)| play.is_past(*time_s)) {
            write_picture(&scenario, &play, Size::default(), &folder.join(name))?;
        }
        if play.is_past(scenario.duration_s) {
            break;
        }
        if is_filmed(&play) {
            let size = Size::new(640, 480).unwrap_or_default();
            let sheet = sheet_of(&scenario, &play, size);
            film.add(&sheet)
                .map_err(|error| Failure::file(folder, error))?;
        }
        let happened = play.step().to_vec();
        account.note(&play, &happened);
    }
    for (_, name, _) in pictures {
        write_picture(&scenario, &play, Size::default(), &folder.join(name))?;
    }
    account.close(&play);
    let text = account.to_text();
    let film = film
        .finish()
        .map_err(|error| Failure::file(folder, error))?;
    files::write(&folder.join("film.gif"), film)?;
    files::write(&folder.join("account.txt"), &text)?;
    files::write(&folder.join("account.json"), account.to_json())?;
    tell(&text, folder).map_err(|error| Failure::output(&error))
}

/// Whether the film has a frame of this moment.
fn is_filmed(play: &Play) -> bool {
    let world = play.world();
    let every = (FRAME_S * f64::from(world.ticks_per_second())).round() as u64;
    FILMED.contains(&world.time_s()) && world.tick().is_multiple_of(every)
}

fn bundled(folder: &Path) -> Result<Scenario, Failure> {
    let read = |name: &str| {
        let file = FILES.iter().find(|(known, _)| *known == name);
        file.map(|(_, text)| (*text).to_owned())
            .ok_or_else(|| "it is not part of the demo".to_owned())
    };
    Scenario::load(FILES[0].0, &read).map_err(|errors| Failure::Scenario {
        folder: folder.to_owned(),
        errors: Box::new(errors),
    })
}

/// Says what was done, and where it lies.
fn tell(account: &str, folder: &Path) -> std::io::Result<()> {
    let mut out = anstream::stdout();
    writeln!(out, "{account}")?;
    writeln!(out, "Written to {}:", folder.display())?;
    writeln!(
        out,
        "  scenario/           the scenario: change it and run it again"
    )?;
    writeln!(out, "  account.txt         what you have just read")?;
    writeln!(
        out,
        "  account.json        everything that happened, for programs"
    )?;
    for (time_s, name, shows) in PICTURES {
        let when = if time_s < AT_THE_END {
            format!("at {time_s} s")
        } else {
            "at the end".to_owned()
        };
        writeln!(out, "  {name:<18}  {when}: {shows}")?;
    }
    writeln!(
        out,
        "  {:<18}  from {} to {} s: the second wave",
        "film.gif", FILMED.start, FILMED.end
    )?;
    let less = folder.join("scenario/without-tower.toml");
    writeln!(
        out,
        "\nNext, the same day with one tower less: yarrick run {}",
        less.display()
    )
}
