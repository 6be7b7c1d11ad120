//! The scenarios kept for measuring come to what they were made for, by the figures that the command tells.

use serde_json::Value;
use std::path::Path;
use std::process::Command;

/// The figures of a scenario, as `yarrick run --measure --json` writes them.
fn measured(scenario: &str, more: &[&str]) -> Value {
    let output = Command::new(env!("CARGO_BIN_EXE_yarrick"))
        .args(["run", scenario, "--measure", "--json"])
        .args(more)
        .current_dir(Path::new(env!("CARGO_MANIFEST_DIR")).join("../../scenarios"))
        .output()
        .unwrap();
    assert!(output.status.success(), "{output:?}");
    serde_json::from_slice(&output.stdout).unwrap()
}

fn number(value: &Value) -> f64 {
    value
        .as_f64()
        .unwrap_or_else(|| panic!("{value} is no number"))
}

/// Everybody has arrived, nobody was ever in a wall, and nobody deep in another.
fn check_all(figures: &Value) {
    for order in figures["orders"].as_array().unwrap() {
        assert_eq!(order["arrived"], order["units"], "{order}");
    }
    assert_eq!(figures["inside_closed_ground"], 0);
    let overlap = &figures["deepest_overlap"]["part_of_smaller_radius"];
    assert!(number(overlap) <= 0.05, "{overlap}");
}

/// How many times what the farthest alone would need an order took to end, and to settle.
fn times(order: &Value) -> (f64, f64) {
    let alone = number(&order["alone_s"]);
    (
        number(&order["ended_s"]) / alone,
        number(&order["settled_s"]) / alone,
    )
}

#[test]
fn a_hundred_pass_a_gap_two_bodies_wide_without_a_standstill() {
    for seed in ["0", "3"] {
        let figures = measured("crowds/gap.toml", &["--seed", seed]);
        check_all(&figures);
        let gap = &figures["tallies"][0];
        assert_eq!(gap["crossed"], 100);
        assert_eq!(gap["files"], 2);
        let part = number(&gap["per_s"]) / number(&gap["ideal_per_s"]);
        assert!(part >= 0.75, "{part} of what the gap would let through");
        assert!(number(&gap["pause_s"]) <= 3.0, "{gap}");
        assert!(number(&gap["out_of_turn_s"]) <= 5.0, "{gap}");
    }
}

#[test]
fn bodies_that_wedge_side_by_side_before_a_causeway_free_themselves() {
    for seed in ["20", "46"] {
        let figures = measured("crowds/causeway.toml", &["--seed", seed]);
        check_all(&figures);
        let held_up_s = number(&figures["orders"][0]["held_up_s"]);
        assert!(held_up_s <= 30.0, "{held_up_s}");
        assert_eq!(figures["tallies"][0]["crossed"], 150);
    }
}

#[test]
fn two_groups_walk_through_each_other_in_little_more_than_alone() {
    for seed in ["0", "4"] {
        let figures = measured("crowds/meeting.toml", &["--seed", seed]);
        check_all(&figures);
        for order in figures["orders"].as_array().unwrap() {
            assert!(times(order).0 <= 1.6, "{order}");
        }
    }
}

#[test]
fn two_hundred_settle_round_a_point_and_stay_still() {
    let figures = measured("crowds/gathering.toml", &[]);
    check_all(&figures);
    let order = &figures["orders"][0];
    let (ended, settled) = times(order);
    assert!(ended <= 1.5 && settled <= 1.5, "{order}");
}

#[test]
fn a_flock_keeps_to_its_pen_and_its_turns_and_goes_between_a_lure_and_a_scare() {
    // A quarter of the flock shows it as well.
    let whole = include_str!("../../../../scenarios/flocks/mudhole.toml");
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("mudhole.toml");
    std::fs::write(&path, whole.replace("count = 2000", "count = 500")).unwrap();
    let figures = measured(path.to_str().unwrap(), &["--until", "112"]);
    let flock = &figures["flocks"][0];
    assert_eq!(flock["members"], 500);
    assert_eq!(flock["left_pen"], 0);
    let (turn, limit) = (&flock["sharpest_turn_deg_s"], &flock["turn_limit_deg_s"]);
    assert!(number(turn) <= number(limit) * 1.01, "{turn} of {limit}");
    let looks = |zone: usize| -> Vec<(f64, f64)> {
        let looks = flock["zones"][zone]["in_reach"].as_array().unwrap();
        looks
            .iter()
            .map(|look| (number(&look[0]), number(&look[1])))
            .collect()
    };
    let at = |zone: usize, time_s: f64| {
        let found = looks(zone).into_iter().find(|look| look.0 >= time_s);
        found.unwrap().1
    };
    assert!(at(0, 59.0) > 475.0, "the mudhole has drawn them");
    let scared = looks(1).iter().map(|look| look.1).fold(0.0, f64::max);
    assert!(scared > 125.0, "the torch came upon {scared}");
    assert!(at(1, 90.0) < 50.0, "those in its reach have left");
    assert!(at(0, 111.0) > 475.0, "and come back");
}
