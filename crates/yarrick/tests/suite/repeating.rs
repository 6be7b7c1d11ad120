//! The same world goes the same way: run twice, cloned, and against checksums kept here.

use std::fs;
use std::path::Path;
use yarrick::scenario::{Play, PlayEvent, ScriptWriter};
use yarrick::world::Doing;
use yarrick::{Scenario, Threads};

fn saltmarsh() -> Scenario {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../scenarios/saltmarsh");
    let read = |name: &str| fs::read_to_string(folder.join(name)).map_err(|e| e.to_string());
    Scenario::load("scenario.toml", &read).unwrap_or_else(|errors| panic!("{errors}"))
}

fn run(play: &mut Play, until_s: f64) -> Vec<u64> {
    let mut checksums = Vec::new();
    play.run_until(until_s, |world, _| checksums.push(world.checksum()));
    checksums
}

#[test]
fn two_runs_have_the_same_checksum_at_every_tick() {
    let scenario = saltmarsh();
    let once = run(&mut scenario.play(None).unwrap(), 40.0);
    let again = run(&mut scenario.play(None).unwrap(), 40.0);
    assert_eq!(once, again);
    assert_eq!(once.len(), 800);
}

#[test]
fn a_copy_goes_on_as_the_original_does() {
    let scenario = saltmarsh();
    let mut play = scenario.play(None).unwrap();
    run(&mut play, 15.0);
    let mut copy = play.clone();
    assert_eq!(run(&mut play, 40.0), run(&mut copy, 40.0));
}

#[test]
fn another_seed_is_another_run() {
    let scenario = saltmarsh();
    let checksum = |seed| run(&mut scenario.play(Some(seed)).unwrap(), 1.0);
    assert_ne!(checksum(7), checksum(8));
    assert_eq!(checksum(7), run(&mut scenario.play(None).unwrap(), 1.0));
}

/// These change only when behaviour is meant to change. They hold for every machine, and for
/// debug and release builds alike.
#[test]
fn the_demo_goes_the_way_it_always_went() {
    let mut play = saltmarsh().play(None).unwrap();
    let golden: Vec<String> = [5.0, 20.0, 60.0]
        .into_iter()
        .map(|until_s| {
            run(&mut play, until_s);
            format!("{until_s} s: {:016x}", play.trail())
        })
        .collect();
    insta::assert_debug_snapshot!(golden);
}

#[test]
fn after_the_demo_everybody_stands_beside_the_others() {
    let mut play = saltmarsh().play(None).unwrap();
    run(&mut play, 60.0);
    let units: Vec<_> = play.world().units().collect();
    for (k, a) in units.iter().enumerate() {
        assert_eq!(a.doing(), Doing::Standing);
        assert!(!a.has_orders());
        for b in &units[..k] {
            let depth = a.radius() + b.radius() - a.position().distance(b.position());
            let part = depth / a.radius().min(b.radius());
            assert!(part <= 0.05, "{} and {} overlap by {part}", a.id(), b.id());
        }
    }
}

#[test]
fn a_script_taken_down_from_a_run_gives_the_same_run() {
    let scenario = saltmarsh();
    let mut play = scenario.play(None).unwrap();
    let mut writer = ScriptWriter::default();
    let mut checksums = Vec::new();
    play.run_until(40.0, |world, happened| {
        checksums.push(world.checksum());
        let events = happened.iter().filter_map(|happening| match happening {
            PlayEvent::Event(event) => Some(event),
            _ => None,
        });
        writer.note(world, events);
    });
    insta::assert_snapshot!(writer.text());

    // The same scenario without its script, and with what was taken down instead.
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../scenarios/saltmarsh");
    let read = |name: &str| {
        let text = fs::read_to_string(folder.join(name)).map_err(|e| e.to_string())?;
        let start = text.split("[[script]]").next().unwrap_or_default();
        Ok(match name {
            "scenario.toml" => format!("{start}\n{}", writer.text()),
            _ => text,
        })
    };
    let again = Scenario::load("scenario.toml", &read).unwrap_or_else(|m| panic!("{m}"));
    assert_eq!(again.script.len(), 8);
    assert_eq!(run(&mut again.play(None).unwrap(), 40.0), checksums);
}

#[test]
fn the_number_of_threads_is_kept_within_its_limits() {
    assert_eq!(Threads::new(0).count(), 1);
    assert_eq!(Threads::new(usize::MAX).count(), 64);
}
