//! `yarrick demo`: the bundled scenario, its account and its pictures, in a folder.

use crate::account::Account;
use crate::arguments::Demo;
use crate::commands::draw::write_picture;
use crate::failure::Failure;
use crate::files;
use std::io::Write as _;
use std::path::Path;
use yarrick::Scenario;
use yarrick_draw::Size;

/// The files of the demo scenario; the main one first.
const FILES: [(&str, &str); 3] = [
    (
        "scenario.toml",
        include_str!("../../../../scenarios/saltmarsh/scenario.toml"),
    ),
    (
        "ground.toml",
        include_str!("../../../../scenarios/saltmarsh/ground.toml"),
    ),
    (
        "roster.toml",
        include_str!("../../../../scenarios/saltmarsh/roster.toml"),
    ),
];

/// The pictures: when, the name, and what each shows.
const PICTURES: [(f64, &str, &str); 4] = [
    (
        1.3,
        "1-dragging.png",
        "a box is being dragged over the rakers",
    ),
    (
        8.5,
        "2-ordered.png",
        "a group and its queue: move, attack-move, patrol",
    ),
    (26.0, "3-fighting.svg", "what they met, as SVG"),
    (60.0, "4-settled.png", "everybody stands"),
];

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
    let mut pictures = PICTURES.into_iter().peekable();
    loop {
        while let Some((_, name, _)) = pictures.next_if(|(time_s, ..)| play.is_past(*time_s)) {
            write_picture(&scenario, &play, Size::default(), &folder.join(name))?;
        }
        if play.is_past(scenario.duration_s) {
            break;
        }
        let happened = play.step().to_vec();
        account.note(&play, &happened);
    }
    account.close(&play);
    let text = account.to_text();
    files::write(&folder.join("account.txt"), &text)?;
    files::write(&folder.join("account.json"), account.to_json())?;
    tell(&text, folder).map_err(|error| Failure::output(&error))
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
        writeln!(out, "  {name:<18}  at {time_s} s: {shows}")?;
    }
    let scenario = folder.join("scenario");
    writeln!(out, "\nNext: yarrick run {} --seed 8", scenario.display())
}
