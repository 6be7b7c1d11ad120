//! Recordings: what was done to a world, replayed.

use crate::whims;
use proptest::prelude::*;
use yarrick::record::{Recorder, Recording, RecordingError};
use yarrick::world::{Change, Event};
use yarrick::{Scenario, World};

/// Records a run through some changes, tick by tick, on so many threads.
fn record(mut world: World, changes: &[Vec<Change>], threads: usize) -> (Recording, Vec<Event>) {
    world.set_threads(threads);
    let mut recorder = Recorder::begin("whims", &world);
    let mut events = Vec::new();
    for tick in changes {
        for change in tick {
            world.change(change.clone()).unwrap();
        }
        recorder.before(&world);
        events.extend(world.step().to_vec());
        recorder.after(&world);
    }
    (recorder.finish(), events)
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 12, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn a_run_with_every_sort_of_change_replays_to_the_same_events_on_any_number_of_threads(
        changes in whims::whims(150),
    ) {
        let (recording, events) = record(whims::world(2000), &changes, 1);
        let given: usize = changes.iter().map(Vec::len).sum();
        prop_assert_eq!(recording.change_count(), given);
        let recording = Recording::from_bytes(&recording.to_bytes()).unwrap();
        for threads in [1, 4] {
            let mut replay = recording.replay().unwrap();
            replay.set_threads(threads);
            let mut again = Vec::new();
            while let Some(events) = replay.step().unwrap() {
                again.extend(events.to_vec());
            }
            // As texts: a point that is no number does not equal itself.
            prop_assert_eq!(format!("{again:?}"), format!("{events:?}"));
        }
    }
}

#[test]
fn one_run_gives_the_same_trail_in_every_build() {
    // The same in debug and in release builds: what `cargo test --release` finds, too.
    use proptest::strategy::{Strategy as _, ValueTree as _};
    use proptest::test_runner::TestRunner;
    let mut runner = TestRunner::deterministic();
    let changes = whims::whims(200).new_tree(&mut runner).unwrap().current();
    let (recording, _) = record(whims::world(2000), &changes, 2);
    let trail = recording.checksums().iter().fold(0_u64, |trail, sum| {
        trail.rotate_left(5).wrapping_mul(0x9e37_79b9_7f4a_7c15) ^ sum
    });
    insta::assert_snapshot!(format!(
        "{} changes, trail {trail:016x}",
        recording.change_count()
    ));
}

#[test]
fn scripts_are_one_source_of_changes() {
    let folder = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../scenarios/sluice");
    let read =
        |name: &str| std::fs::read_to_string(folder.join(name)).map_err(|error| error.to_string());
    let scenario = Scenario::load("scenario.toml", &read).unwrap();
    let mut play = scenario.play(None).unwrap();
    let mut recorder = Recorder::begin(&scenario.title, play.world());
    while !play.is_past(30.0) {
        play.feed();
        recorder.before(play.world());
        play.advance();
        recorder.after(play.world());
    }
    let recording = recorder.finish();
    assert!(recording.change_count() >= 3, "orders, and a sluice");
    let mut replay = recording.replay().unwrap();
    while replay.step().unwrap().is_some() {}
    assert_eq!(replay.world().checksum(), play.world().checksum());
}

#[test]
fn what_is_no_recording_is_refused_and_what_went_otherwise_is_reported_at_its_tick() {
    let (recording, _) = record(whims::world(2000), &vec![Vec::new(); 5], 1);
    let bytes = recording.to_bytes();
    let refused = |bytes: &[u8]| Recording::from_bytes(bytes).err();
    assert_eq!(refused(b"nothing"), Some(RecordingError::NotARecording));
    assert_eq!(refused(&bytes[..100]), Some(RecordingError::Damaged));
    let mut other = bytes.clone();
    other[8] = 9;
    let (found, known) = (9, 1);
    assert_eq!(
        refused(&other),
        Some(RecordingError::OtherVersion { found, known })
    );
    other = bytes.clone();
    *other.last_mut().unwrap() ^= 1;
    assert_eq!(refused(&other), Some(RecordingError::Damaged));

    // The same start, and then a change in the third tick.
    let kick = Change::Harm {
        unit: yarrick::UnitId::from_parts(0, 1),
        damage: 1.0,
        by: None,
    };
    let mut changes = vec![Vec::new(); 5];
    changes[2].push(kick);
    let (changed, _) = record(whims::world(2000), &changes, 1);
    assert_eq!(recording.first_difference(&changed), Some(3));
    assert_eq!(recording.first_difference(&recording), None);
}
