//! Drives the built command: help, accounts, errors, exit codes.

use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, Output, Stdio};
use tempfile::TempDir;

/// Compares with the snapshot of the test that calls.
macro_rules! assert_output {
    ($($reported:tt)*) => {
        insta::with_settings!({omit_expression => true}, {
            insta::assert_snapshot!($($reported)*);
        });
    };
}
pub(crate) use assert_output;

/// Runs the command in a folder.
fn yarrick(folder: &Path, arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_yarrick"))
        .args(arguments)
        .current_dir(folder)
        .env_remove("CLICOLOR_FORCE")
        .env("COLUMNS", "100")
        .output()
        .unwrap()
}

/// What the command says, on a run that must end with the code.
pub(crate) fn outputs(folder: &Path, arguments: &[&str], code: i32) -> (String, String) {
    let output = yarrick(folder, arguments);
    let text = |bytes: &[u8]| String::from_utf8(bytes.to_vec()).unwrap();
    let (out, err) = (text(&output.stdout), text(&output.stderr));
    assert_eq!(output.status.code(), Some(code), "{out}\n{err}");
    assert!(
        !out.contains('\x1b') && !err.contains('\x1b'),
        "colours in a pipe"
    );
    (out, err)
}

pub(crate) fn scenarios() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../scenarios")
}

/// A folder with a copy of the saltmarsh, in which one piece of a file is changed.
fn changed(file: &str, from: &str, to: &str) -> TempDir {
    let folder = TempDir::new().unwrap();
    for name in ["scenario.toml", "ground.toml", "roster.toml"] {
        let text = fs::read_to_string(scenarios().join("saltmarsh").join(name)).unwrap();
        let text = if name == file {
            assert!(text.contains(from), "{from:?} is not in {name}");
            text.replacen(from, to, 1)
        } else {
            text
        };
        fs::write(folder.path().join(name), text).unwrap();
    }
    folder
}

#[test]
fn help_teaches() {
    let here = TempDir::new().unwrap();
    let mut all = outputs(here.path(), &["--help"], 0).0;
    for verb in ["demo", "run", "check", "draw"] {
        all += &format!("\n──── yarrick {verb} --help\n");
        all += &outputs(here.path(), &[verb, "--help"], 0).0;
    }
    assert_output!(all);
}

#[test]
fn the_account_of_the_demo() {
    let (account, errors) = outputs(&scenarios(), &["run", "saltmarsh"], 0);
    assert_eq!(errors, "", "no progress in a pipe");
    assert_output!(account);
}

#[test]
fn the_account_of_the_day_and_why_units_did_what_they_did() {
    let asked = ["run", "day", "--explain", "lurker", "--explain", "21v1"];
    let (account, errors) = outputs(&scenarios(), &asked, 0);
    assert_eq!(errors, "");
    assert_output!(account);

    let asked = [
        "run",
        "day",
        "--until",
        "100",
        "--explain",
        "lurker",
        "--json",
    ];
    let (json, _) = outputs(&scenarios(), &asked, 0);
    let value: serde_json::Value = serde_json::from_str(&json).unwrap();
    let mind = &value["minds"][0];
    assert_eq!(mind["name"], "lurker");
    assert_eq!(mind["changes"][0]["to"], "creep");
    assert_eq!(mind["changes"][0]["took"], "Wenna");

    let (_, errors) = outputs(&scenarios(), &["run", "day", "--explain", "nobody"], 2);
    assert!(errors.contains("no unit of the scenario had that name or id"));
}

#[test]
fn days_of_other_seeds_end_too() {
    for seed in ["1", "2", "4", "5"] {
        let (account, _) = outputs(&scenarios(), &["run", "day", "--seed", seed], 0);
        assert!(account.contains("keepers have "), "seed {seed}: {account}");
    }
}

#[test]
fn the_account_as_json() {
    let (json, _) = outputs(
        &scenarios(),
        &["run", "saltmarsh", "--until", "20", "--json"],
        0,
    );
    let value: serde_json::Value = serde_json::from_str(&json).unwrap();
    assert_eq!(value["ticks"], 400);
    assert_eq!(value["orders"].as_array().unwrap().len(), 8);
    assert_output!(json);
}

#[test]
fn reasons_are_names_in_the_json() {
    let (json, _) = outputs(&scenarios(), &["run", "saltmarsh", "--json"], 0);
    let value: serde_json::Value = serde_json::from_str(&json).unwrap();
    let events = value["events"].as_array().unwrap();
    let short: Vec<_> = events
        .iter()
        .map(|event| &event["outcome"]["came-short"])
        .filter(|short| short.is_object())
        .collect();
    let whys: Vec<&str> = short.iter().filter_map(|h| h["why"].as_str()).collect();
    assert_eq!(whys, ["cut-off"]);
    assert!(short[0]["by_m"].as_f64() > Some(4.0));
    let died = events.iter().filter(|h| h["what"] == "died");
    assert!((7..=8).contains(&died.count()));
}

#[test]
fn a_route_is_reported_with_its_legs_and_its_work() {
    let route = |from: &str, to: &str, more: &[&str]| {
        let ends = ["route", "saltmarsh", "--from", from, "--to", to];
        outputs(&scenarios(), &[&ends, more].concat(), 0).0
    };
    let all = [
        route("4,31", "33,26", &["--radius", "0.45"]),
        route("4,31", "7,30", &[]),
        route("4,31", "40,26", &["--kind", "hulk"]),
        route("13.5,30", "7,26", &[]),
        route("4,31", "40,26", &["--json"]),
        route("-5,3", "7,26", &["--json"]),
    ];
    assert_output!(all.join("\n"));
}

#[test]
fn a_way_by_places_is_reported_and_drawn() {
    let folder = tempfile::tempdir().unwrap();
    let picture = folder.path().join("places.svg");
    let ends = [
        "route",
        "saltmarsh",
        "--from",
        "4,31",
        "--to",
        "34,8",
        "--by-places",
    ];
    let with = |more: &[&str]| outputs(&scenarios(), &[&ends, more].concat(), 0).0;
    let there_and_back = with(&["--to", "38,18", "-o", picture.to_str().unwrap()]);
    let json = with(&["--json"]);
    let svg = fs::read_to_string(picture).unwrap();
    assert!(svg.contains("south bridge") && svg.contains("leg that leads one way"));
    let none = [
        "route",
        "--pattern",
        "maze",
        "--from",
        "4,31",
        "--to",
        "7,26",
        "--by-places",
    ];
    let refused = outputs(&scenarios(), &none, 2).1;
    assert_output!([there_and_back, json, refused].join("\n"));
}

#[test]
fn the_ground_changes_by_a_script_and_the_account_tells() {
    let text = outputs(&scenarios(), &["run", "sluice"], 0).0;
    let json = outputs(
        &scenarios(),
        &["run", "sluice", "--until", "13", "--json"],
        0,
    )
    .0;
    let json: serde_json::Value = serde_json::from_str(&json).unwrap();
    let happened = json["events"].as_array().unwrap().iter();
    let changes: Vec<_> = happened
        .filter(|entry| entry["change"].is_string())
        .collect();
    assert_output!(format!(
        "{text}\n{}",
        serde_json::to_string_pretty(&changes).unwrap()
    ));
}

#[test]
fn routes_that_make_no_sense_are_refused() {
    let refused = |from: &str, to: &str, more: &[&str]| {
        let ends = ["route", "saltmarsh", "--from", from, "--to", to];
        outputs(&scenarios(), &[&ends, more].concat(), 2).1
    };
    for (from, to) in [("4;31", "7,26"), ("4,31", "nan,1"), ("1e9,1", "7,26")] {
        assert!(
            refused(from, to, &[]).contains("two numbers"),
            "{from} to {to}"
        );
    }
    for (more, why) in [
        (
            &["--kind", "hlk"][..],
            "raker, warden, slinger, yard, nipper",
        ),
        (&["--radius", "0"], "0.05 to 50"),
        (&["--radius", "1", "--kind", "hulk"], "cannot be used with"),
        (&["-o", "way.gif"], ".png or .svg"),
    ] {
        assert!(refused("4,31", "7,26", more).contains(why), "{more:?}");
    }
}

#[test]
fn another_seed_and_an_earlier_end() {
    let arguments = ["run", "saltmarsh", "--until", "12.5", "--seed", "8"];
    let (account, _) = outputs(&scenarios(), &arguments, 0);
    assert!(account.contains("seed 8"), "{account}");
    assert!(account.contains("At 12.50 s"), "{account}");
    assert!(account.contains("10 under way"), "{account}");
}

#[test]
fn a_run_of_no_time_at_all() {
    let (account, _) = outputs(&scenarios(), &["run", "saltmarsh", "--until", "0"], 0);
    assert!(account.contains("No order was given."), "{account}");
    assert!(account.contains("after 0 ticks"), "{account}");
}

#[test]
fn a_sound_scenario_is_checked_from_its_folder_or_its_file() {
    for path in ["saltmarsh", "saltmarsh/scenario.toml"] {
        let (out, _) = outputs(&scenarios(), &["check", path], 0);
        assert_output!("a_sound_scenario", out);
    }
}

#[test]
fn errors_are_shown_in_their_lines() {
    let folder = changed(
        "roster.toml",
        "based_on = \"raker\"",
        "based_on = \"rakre\"",
    );
    let script = folder.path().join("scenario.toml");
    let text = fs::read_to_string(&script).unwrap();
    let text = text
        .replace("title =", "titel =")
        .replace("at = [27.5, 31.0]", "at = [15.5, 31.0]");
    fs::write(
        &script,
        text.replace("name = \"slingers\"", "name = \"wardens\""),
    )
    .unwrap();
    for verb in ["check", "run"] {
        let (out, err) = outputs(folder.path(), &[verb, "scenario.toml"], 1);
        assert_eq!(out, "");
        assert_output!("errors_in_their_lines", err);
    }
}

#[test]
fn what_cannot_be_read_is_reported() {
    let folder = changed("scenario.toml", "roster.toml", "rooster.toml");
    fs::write(folder.path().join("bytes.toml"), [b'a', 0xff, 0xfe]).unwrap();
    fs::write(folder.path().join("empty.toml"), "").unwrap();
    let gone = outputs(folder.path(), &["check", "nowhere"], 3).1;
    let include = outputs(folder.path(), &["check", "scenario.toml"], 1).1;
    let bytes = outputs(folder.path(), &["check", "bytes.toml"], 1).1;
    let empty = outputs(folder.path(), &["check", "empty.toml"], 1).1;
    assert_output!([gone, include, bytes, empty].join("\n────\n"));
}

#[test]
fn a_file_far_too_large_is_refused_without_being_read_whole() {
    let folder = TempDir::new().unwrap();
    let file = fs::File::create(folder.path().join("huge.toml")).unwrap();
    // A hole: it takes no room on the disk.
    file.set_len(40 << 30).unwrap();
    let (_, err) = outputs(folder.path(), &["check", "huge.toml"], 1);
    assert!(err.contains("a scenario file may have 32 MiB"), "{err}");
}

#[test]
fn command_lines_that_make_no_sense() {
    let here = TempDir::new().unwrap();
    for arguments in [
        &["run"][..],
        &["run", "x", "--until", "-1"],
        &["run", "x", "--until", "nan"],
        &["run", "x", "--seed", "-3"],
        &["draw", "x", "-o", "picture.bmp"],
        &["draw", "x", "-o", "a.png", "--size", "3x3"],
        &["draw", "x"],
        &["dance"],
    ] {
        let (out, err) = outputs(here.path(), arguments, 2);
        assert!(out.is_empty() && err.starts_with("error: "), "{err}");
    }
}

#[test]
fn a_picture_after_the_end_is_refused() {
    let here = changed("scenario.toml", "duration = 60", "duration = 2");
    let draw = |at| ["draw", "scenario.toml", "-o", "late.png", "--at", at];
    let (_, err) = outputs(here.path(), &draw("2.05"), 2);
    insta::assert_snapshot!(err);
    assert!(!here.path().join("late.png").exists());
    outputs(here.path(), &draw("2"), 0);
}

#[test]
fn a_closed_pipe_is_no_failure() {
    let mut child = Command::new(env!("CARGO_BIN_EXE_yarrick"))
        .args(["run", "saltmarsh", "--json"])
        .current_dir(scenarios())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    drop(child.stdout.take());
    let output = child.wait_with_output().unwrap();
    assert!(
        output.status.success(),
        "{}",
        String::from_utf8_lossy(&output.stderr)
    );
    assert!(output.stderr.is_empty());
}

#[test]
fn the_figures_of_a_crowd_are_reported() {
    let (text, _) = outputs(
        &scenarios(),
        &["run", "crowds/meeting.toml", "--measure"],
        0,
    );
    assert_eq!(text.matches("50 of 50 arrived").count(), 2, "{text}");
    assert!(text.contains("nobody ever touched closed ground"), "{text}");
    let (json, _) = outputs(
        &scenarios(),
        &["run", "crowds/gap.toml", "--measure", "--json"],
        0,
    );
    let value: serde_json::Value = serde_json::from_str(&json).unwrap();
    assert_eq!(value["tallies"][0]["crossed"], 100);
    assert_eq!(value["tallies"][0]["files"], 2);
    assert!(value["tallies"][0]["pause_s"].as_f64() < Some(3.0));
    let overlap = &value["deepest_overlap"]["part_of_smaller_radius"];
    assert!(overlap.as_f64() < Some(0.05), "{overlap}");
}

#[test]
fn films_and_forces_that_make_no_sense_are_reported() {
    let here = TempDir::new().unwrap();
    let scenario = scenarios().join("flocks/mudhole.toml");
    let scenario = scenario.to_str().unwrap();
    let mut all = String::new();
    for (more, code) in [
        (
            vec!["draw", scenario, "-o", "a.png", "--forces", "dunlin/3"],
            2,
        ),
        (
            vec!["draw", scenario, "-o", "a.png", "--forces", "dunlins/5000"],
            2,
        ),
        (
            vec!["draw", scenario, "-o", "a.png", "--forces", "nobody"],
            2,
        ),
        (vec!["film", scenario, "-o", "a.mp4"], 2),
        (
            vec![
                "film", scenario, "-o", "a.gif", "--from", "9", "--until", "3",
            ],
            2,
        ),
        (vec!["film", scenario, "-o", "a.gif", "--fps", "0"], 2),
        (vec!["run", scenario, "--threads", "0"], 2),
    ] {
        let (_, error) = outputs(here.path(), &more, code);
        all += &format!("{}\n", error.replace(scenario, "mudhole.toml"));
    }
    assert_output!(all);
}

#[test]
fn plans_in_hand_are_placed_refused_replaced_and_given_up() {
    let (out, _) = outputs(&scenarios(), &["run", "placing", "--until", "16"], 0);
    assert_output!(out);
    let (out, _) = outputs(
        &scenarios(),
        &["run", "placing", "--until", "5", "--json"],
        0,
    );
    let account: serde_json::Value = serde_json::from_str(&out).unwrap();
    let events = account["events"].as_array().unwrap();
    let refused = events.iter().find(|event| event["what"] == "not-placed");
    let why = refused.unwrap()["why"].as_array().unwrap();
    assert_eq!(why.len(), 6, "{why:?}");
}
