//! The demo and its pictures, by the built command: the same bytes every time.

use std::fs;
use std::path::Path;
use std::process::Command;
use tempfile::TempDir;

fn yarrick(folder: &Path, arguments: &[&str]) -> String {
    let output = Command::new(env!("CARGO_BIN_EXE_yarrick"))
        .args(arguments)
        .current_dir(folder)
        .output()
        .unwrap();
    assert!(
        output.status.success(),
        "{}",
        String::from_utf8_lossy(&output.stderr)
    );
    String::from_utf8(output.stdout).unwrap()
}

/// All files below a folder, by their path in it.
fn files(folder: &Path) -> Vec<(String, Vec<u8>)> {
    let mut found = Vec::new();
    let mut open = vec![folder.to_owned()];
    while let Some(path) = open.pop() {
        for entry in fs::read_dir(path).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                open.push(path);
            } else {
                let name = path.strip_prefix(folder).unwrap().display().to_string();
                found.push((name, fs::read(&path).unwrap()));
            }
        }
    }
    found.sort();
    found
}

/// The folder of the scenario of the saltmarsh.
fn marsh() -> String {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../scenarios/saltmarsh");
    root.display().to_string()
}

#[test]
fn the_demo_writes_the_same_files_byte_for_byte_with_no_repository_beside_it() {
    let here = TempDir::new().unwrap();
    let said = yarrick(here.path(), &["demo", "-o", "once"]);
    yarrick(here.path(), &["demo", "-o", "again"]);
    let once = files(&here.path().join("once"));
    let names: Vec<&str> = once.iter().map(|(name, _)| name.as_str()).collect();
    for name in &names {
        let shown = name.split('/').next().unwrap();
        assert!(said.contains(shown), "it does not say that it wrote {name}");
    }
    insta::assert_debug_snapshot!(names);
    assert_eq!(once, files(&here.path().join("again")));

    // What it wrote can be run again, and goes the same way; a picture of the same moment is the same.
    let account = fs::read_to_string(here.path().join("once/account.txt")).unwrap();
    assert_eq!(yarrick(here.path(), &["run", "once/scenario"]), account);
    yarrick(
        here.path(),
        &["draw", "once/scenario", "--at", "156", "-o", "a.png"],
    );
    let read = |path: &str| fs::read(here.path().join(path)).unwrap();
    assert_eq!(read("a.png"), read("once/3-building.png"));
    assert!(read("once/film.gif").starts_with(b"GIF89a"));

    // With one tower less the day is lost.
    let less = yarrick(here.path(), &["run", "once/scenario/without-tower.toml"]);
    assert!(account.contains("keepers have won"), "{account}");
    assert!(less.contains("keepers have lost"), "{less}");
}

#[test]
fn a_picture_is_drawn_in_the_format_and_size_asked_for() {
    let here = TempDir::new().unwrap();
    let marsh = marsh();
    let draw = |extra: &[&str]| yarrick(here.path(), &[&["draw", &marsh][..], extra].concat());
    draw(&["--at", "8.5", "-o", "a.png"]);
    let png = fs::read(here.path().join("a.png")).unwrap();
    assert!(png.starts_with(b"\x89PNG"));
    draw(&["--at", "12", "-o", "sub/b.svg", "--size", "1600x900"]);
    let svg = fs::read_to_string(here.path().join("sub/b.svg")).unwrap();
    assert!(svg.starts_with("<svg") && svg.contains("width=\"1600\" height=\"900\""));
    assert!(svg.contains("order 7, out of reach"));
    let way = ["route", &marsh, "--from", "4,31", "--to", "33,26"];
    yarrick(here.path(), &[&way[..], &["-o", "way.svg"]].concat());
    let svg = fs::read_to_string(here.path().join("way.svg")).unwrap();
    assert!(svg.contains("the way looked for") && svg.contains("searched, "));
}

#[test]
fn fields_regions_and_clearance_are_drawn_and_reported() {
    let here = TempDir::new().unwrap();
    let marsh = marsh();
    let show = |what: &str, more: &[&str]| {
        let picture = format!("{what}.svg");
        let all = ["route", &marsh, "--show", what, "-o", &picture];
        let reported = yarrick(here.path(), &[&all[..], more].concat());
        (
            reported,
            fs::read_to_string(here.path().join(&picture)).unwrap(),
        )
    };
    let (field, field_svg) = show("field", &["--to", "41,16"]);
    let (regions, regions_svg) = show("regions", &["--kind", "hulk"]);
    let (clearance, clearance_svg) = show("clearance", &[]);
    assert!(field_svg.contains("equal cost, every 2 m") && field_svg.contains(">goal<"));
    assert!(regions_svg.contains("1: 621 cells") && regions_svg.contains("2: 371 cells"));
    // Only as wide as there is room for anywhere.
    assert!(clearance_svg.contains("4.30 m in radius") && !clearance_svg.contains("8.30 m"));
    insta::assert_snapshot!([field, regions, clearance].join("\n"));
}

#[test]
fn films_are_the_same_every_time_and_end_at_their_limit() {
    let here = TempDir::new().unwrap();
    let scenario =
        Path::new(env!("CARGO_MANIFEST_DIR")).join("../../scenarios/formations/gate.toml");
    let scenario = scenario.to_str().unwrap();
    let film = |name: &str, more: &[&str]| {
        let size = ["--size", "640x480", "--velocities", "-o", name];
        let run = [
            "film", scenario, "--from", "2", "--until", "3", "--fps", "5",
        ];
        let reported = yarrick(here.path(), &[&run[..], &size, more].concat());
        (reported, fs::read(here.path().join(name)).unwrap())
    };
    let (reported, first) = film("a.gif", &[]);
    assert!(reported.contains("6 frames"), "{reported}");
    assert_eq!(&first[..6], b"GIF89a");
    assert_eq!(first, film("b.gif", &["--threads", "2"]).1);
}

#[test]
fn what_moves_one_is_drawn_with_its_strength() {
    let here = TempDir::new().unwrap();
    let scenario =
        Path::new(env!("CARGO_MANIFEST_DIR")).join("../../scenarios/flocks/mudhole.toml");
    let scenario = scenario.to_str().unwrap();
    let all = [
        "draw",
        scenario,
        "--at",
        "2",
        "--forces",
        "dunlins/7,0v1",
        "--velocities",
        "-o",
        "a.svg",
    ];
    yarrick(here.path(), &all);
    let svg = fs::read_to_string(here.path().join("a.svg")).unwrap();
    for text in [
        "what moves dunlins/7, pulls",
        "cohesion ",
        "2000 of dunlins",
        "scare, weight 6",
        "where it will be in a second",
    ] {
        assert!(svg.contains(text), "{text}");
    }
}
