//! The examples, run as a reader would run them: `cargo test` has built them beside this test.

use std::path::PathBuf;
use std::process::Command;

/// Where Cargo puts the built examples: `target/<profile>/examples`, next to `deps` with this test.
fn built(example: &str) -> PathBuf {
    let test = std::env::current_exe().unwrap();
    let profile = test.parent().and_then(|deps| deps.parent()).unwrap();
    let name = format!("{example}{}", std::env::consts::EXE_SUFFIX);
    profile.join("examples").join(name)
}

fn run(example: &str) -> String {
    let program = built(example);
    assert!(
        program.exists(),
        "{} is not built: run `cargo test` or `cargo build --examples` first",
        program.display()
    );
    let output = Command::new(program).output().unwrap();
    assert!(
        output.status.success(),
        "{}",
        String::from_utf8_lossy(&output.stderr)
    );
    String::from_utf8(output.stdout).unwrap()
}

#[test]
fn first_steps_says_the_same_every_time() {
    insta::assert_snapshot!(run("first_steps"));
}

#[test]
fn a_leaning_camera_selects_and_orders() {
    insta::assert_snapshot!(run("leaning_camera"));
}

#[test]
fn standing_orders_come_to_what_they_should() {
    insta::assert_snapshot!(run("standing_orders"));
}

#[test]
fn ways_are_found_with_no_world_round_them() {
    insta::assert_snapshot!(run("ways_alone"));
}

#[test]
fn a_line_breaks_at_a_gate_and_forms_again() {
    insta::assert_snapshot!(run("marching"));
}

#[test]
fn dunlins_go_between_a_mudhole_and_a_beacon() {
    insta::assert_snapshot!(run("dunlins"));
}

#[test]
fn an_escort_is_scripted_saved_and_played_again() {
    insta::assert_snapshot!(run("escort"));
}

#[test]
fn a_day_is_won_by_a_tower_placed_with_the_pointer() {
    insta::assert_snapshot!(run("a_day"));
}

#[test]
fn behaviours_of_a_game_s_own_run_beside_drills() {
    insta::assert_snapshot!(run("own_behaviours"));
}
