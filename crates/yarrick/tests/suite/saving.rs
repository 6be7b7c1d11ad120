//! Worlds saved and loaded, compared, and what damaged bytes come to.

use crate::whims;
use proptest::prelude::*;
use std::collections::BTreeSet;
use xxhash_rust::xxh3::xxh3_64;
use yarrick::world::{Change, Condition, Ending, GameResult, KindId, LoadError};
use yarrick::{Action, Event, SideId, UnitId, Vec2, World};

/// Hands in changes and steps.
fn tick(world: &mut World, changes: &[Change]) {
    for change in changes {
        world.change(change.clone()).unwrap();
    }
    world.step();
}

/// A world in which much is going on.
fn lively() -> World {
    let mut world = whims::world(300);
    world
        .add_ending(Ending {
            side: SideId(0),
            result: GameResult::Won,
            when: Condition::Time { tick: 1 << 40 },
        })
        .unwrap();
    let everybody: Vec<UnitId> = (0..whims::UNITS)
        .map(|k| UnitId::from_parts(k, 1))
        .collect();
    let order = |side: u8, units: &[UnitId], action: Action, when| {
        Change::Command(yarrick::Command {
            side: SideId(side),
            units: units.to_vec(),
            action,
            when,
        })
    };
    use yarrick::When::{Afterwards, First, Now};
    use yarrick::motion::formation::{Form, Formation};
    let point = |x, y| Vec2::new(x, y);
    let ward = yarrick::Spot::Ground(point(6.0, 20.0));
    let march = Action::March {
        to: point(34.0, 20.0),
        formation: Formation::new(Form::Wedge),
        fight: true,
    };
    let foe = everybody[27];
    let target = everybody[44];
    let start = |unit: usize, action| Change::Start {
        unit: everybody[unit],
        action,
    };
    let changes = [
        order(0, &everybody[..20], march, Now),
        order(0, &everybody[..4], Action::Hold, Afterwards),
        order(
            1,
            &everybody[26..36],
            Action::AttackMove {
                to: point(5.0, 6.0),
            },
            Now,
        ),
        order(0, &everybody[20..22], Action::Guard { ward }, Now),
        order(0, &everybody[22..24], Action::follow(everybody[0]), Now),
        order(0, &everybody[22..23], Action::Attack { target: foe }, First),
        order(
            0,
            &everybody[24..25],
            Action::Patrol {
                points: vec![point(2.0, 30.0)],
                round: false,
            },
            Now,
        ),
        order(0, &everybody[43..44], Action::Rally { to: ward }, Now),
        start(25, Action::move_to(point(38.0, 2.0))),
        start(25, Action::Fire { target: foe }),
        order(
            0,
            &everybody[18..20],
            Action::Gather {
                target: everybody[45],
            },
            Now,
        ),
        order(
            0,
            &everybody[15..16],
            Action::Build {
                kind: KindId(6),
                at: point(6.0, 12.0),
                facing: 0.0,
            },
            Now,
        ),
        order(
            0,
            &everybody[43..44],
            Action::Produce { kind: KindId(1) },
            Now,
        ),
        order(
            0,
            &everybody[43..44],
            Action::Produce { kind: KindId(0) },
            Now,
        ),
        Change::SetDial {
            unit: everybody[46],
            drill: 0,
            dial: 0,
            value: 1.0,
        },
        Change::SetSense {
            sense: 0,
            unit: Some(everybody[47]),
            value: 0.9,
        },
        start(36, Action::approach(target)),
        Change::SetDoor {
            door: yarrick::ground::DoorId(0),
            shut: true,
        },
        Change::Harm {
            unit: everybody[5],
            damage: 3.0,
            by: None,
        },
        // Beside the pan, so that it carries something in time.
        Change::Teleport {
            unit: everybody[18],
            to: point(10.0, 18.9),
            facing: None,
        },
    ];
    tick(&mut world, &changes);
    // A builder beside its site, and a slinger near a foe, both busy when it is saved.
    let teleport = |unit: usize, to: Vec2| Change::Teleport {
        unit: everybody[unit],
        to,
        facing: None,
    };
    tick(&mut world, &[teleport(15, point(6.0, 10.4))]);
    for _ in 0..40 {
        world.step();
    }
    let near = world.unit(foe).unwrap().position() + point(0.0, 3.0);
    let attack = Action::Attack { target: foe };
    let attack = order(0, &everybody[23..24], attack, Now);
    let far = teleport(46, point(37.0, 30.0));
    tick(&mut world, &[teleport(23, near), far, attack]);
    // One projectile has hit, and the next is in flight.
    let is_flying = |world: &World| world.projectiles().len() > 0;
    let (mut has_hit, mut steps) = (false, 0..60);
    while !(has_hit && is_flying(&world)) && steps.next().is_some() {
        let events = world.step().iter();
        has_hit |= events
            .into_iter()
            .any(|event| matches!(event, Event::Struck { .. }));
    }
    assert!(has_hit && is_flying(&world));
    // Somebody is built in.
    let at = world.unit(everybody[12]).unwrap().position();
    let cells = vec![world.ground().cell_at(at).unwrap()];
    tick(&mut world, &[Change::Block { cells }]);
    world
}

#[test]
fn a_world_that_has_just_been_made_can_be_saved_too() {
    let world = whims::world(100_000);
    let mut again = World::load(&world.save()).unwrap();
    let mut world = world;
    assert_eq!(again.first_difference(&world), None);
    world.step();
    again.step();
    assert_eq!(again.checksum(), world.checksum());
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn a_loaded_world_goes_on_like_the_one_that_was_saved(
        before in whims::whims(80),
        waiting in proptest::collection::vec(whims::change(), 0..3),
        after in whims::whims(40),
        plan_budget in prop_oneof![Just(60_u32), Just(700), Just(100_000)],
    ) {
        let mut world = whims::world(plan_budget);
        for changes in &before {
            tick(&mut world, changes);
        }
        // Saved with changes that wait.
        for change in waiting {
            world.change(change).unwrap();
        }
        let saved = world.save();
        let mut again = World::load(&saved).unwrap();
        prop_assert_eq!(again.first_difference(&world), None);
        prop_assert_eq!(again.checksum(), world.checksum());
        prop_assert!(again.save() == saved, "saved again, it is the same");
        let quiet = vec![Vec::new(); 300 - after.len()];
        for (tick_no, changes) in after.iter().chain(&quiet).enumerate() {
            tick(&mut world, changes);
            tick(&mut again, changes);
            if again.checksum() != world.checksum() {
                let difference = again.first_difference(&world);
                prop_assert!(false, "after {} ticks: {:?}", tick_no + 1, difference);
            }
        }
    }
}

const HEADER: usize = 20;

/// Bytes with the right checksum, whatever they hold.
fn sealed(mut bytes: Vec<u8>) -> Vec<u8> {
    let sum = xxh3_64(&bytes[HEADER..]);
    bytes[12..HEADER].copy_from_slice(&sum.to_le_bytes());
    bytes
}

#[test]
fn what_is_no_saved_world_is_refused_with_the_reason() {
    let saved = whims::world(1000).save();
    let refused = |bytes: &[u8]| World::load(bytes).err();
    assert_eq!(refused(b""), Some(LoadError::NotAWorld));
    assert_eq!(refused(b"yarrick\n"), Some(LoadError::CutShort));
    assert_eq!(refused(&[0; 64]), Some(LoadError::NotAWorld));
    assert_eq!(refused(&saved[..saved.len() - 1]), Some(LoadError::Damaged));
    let other = |at: usize, byte: u8| {
        let mut other = saved.clone();
        other[at] ^= byte;
        other
    };
    let (found, known) = (3, 1);
    assert_eq!(
        refused(&other(8, 2)),
        Some(LoadError::OtherVersion { found, known })
    );
    assert_eq!(
        refused(&other(saved.len() / 2, 1)),
        Some(LoadError::Damaged)
    );
    let cut = sealed(saved[..saved.len() - 40].to_vec());
    assert_eq!(refused(&cut), Some(LoadError::CutShort));
    let longer = sealed([&saved[..], b"!"].concat());
    assert!(matches!(
        refused(&longer),
        Some(LoadError::Senseless { .. })
    ));
}

/// Every field of the state is part of what is saved; so each bit of that, altered alone, stands for one field after
/// the other. Columns lie one after another: where one ends and another begins, every byte is looked at.
#[test]
fn every_value_that_is_altered_alone_changes_the_checksum_and_is_found() {
    let world = lively();
    let saved = world.save();
    let altered = Altered {
        world: &world,
        saved: &saved,
        checksum: world.checksum_now(),
    };
    // Terrain and heights of the cells take many bytes, all alike: they are looked at here and there only.
    let cells = (world.ground().width() * world.ground().height()) as usize;
    let is_terrain = |bytes: &[u8]| bytes.iter().all(|byte| *byte < 4);
    let first = saved.windows(cells / 2).position(is_terrain).unwrap();
    let map = first..first + 5 * cells;
    // The checksum of the last tick comes first: it is no value of the state. Its last byte has no high bit.
    let sum = saved[HEADER..].iter().position(|byte| *byte < 0x80);
    let mut at = HEADER + sum.unwrap() + 1;
    let mut last = (at, None);
    let mut found = BTreeSet::new();
    let mut loaded = 0;
    while at < saved.len() {
        let column = altered.column_at(at);
        if column.is_some() {
            loaded += 1;
            let (before, known) = core::mem::replace(&mut last, (at, column));
            if known != column {
                found.extend((before..=at).filter_map(|at| altered.column_at(at)));
            }
        }
        at += if map.contains(&at) { 211 } else { 11 };
    }
    found.extend((last.0..saved.len()).filter_map(|at| altered.column_at(at)));
    assert!(loaded > 600, "{loaded}");
    insta::assert_debug_snapshot!(found);
}

/// A saved world of which single bits are altered.
struct Altered<'a> {
    world: &'a World,
    saved: &'a [u8],
    checksum: u64,
}

impl Altered<'_> {
    /// The table and the column in which the world differs whose byte at `at` was altered, unless that is refused.
    fn column_at(&self, at: usize) -> Option<(&'static str, &'static str)> {
        // Most bits lead to a value that makes sense; of a flag, only the lowest does.
        let other = [at % 7, 0].into_iter().find_map(|bit| {
            let mut bytes = self.saved.to_vec();
            bytes[at] ^= 1 << bit;
            World::load(&sealed(bytes)).ok()
        })?;
        let difference = other.first_difference(self.world);
        let difference = difference.unwrap_or_else(|| panic!("byte {at} is no part of the state"));
        let is_label = difference.table == "Inbox" || difference.column == "tickets";
        assert!(
            is_label || other.checksum_now() != self.checksum,
            "{difference} is no part of the checksum"
        );
        Some((difference.table, difference.column))
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 400, failure_persistence: None, ..ProptestConfig::default() })]

    /// Bytes whose checksum was put right by somebody who wants to do harm: errors, or a world that can be stepped.
    #[test]
    fn damaged_bytes_never_panic(
        at in proptest::collection::vec((any::<proptest::sample::Index>(), any::<u8>()), 1..6),
        cut in proptest::option::weighted(0.2, any::<proptest::sample::Index>()),
    ) {
        thread_local! {
            static SAVED: Vec<u8> = lively().save();
        }
        let mut bytes = SAVED.with(Vec::clone);
        for (at, byte) in at {
            let at = HEADER + at.index(bytes.len() - HEADER);
            bytes[at] = byte;
        }
        if let Some(cut) = cut {
            bytes.truncate(HEADER + cut.index(bytes.len() - HEADER));
        }
        let is_altered = SAVED.with(|saved| *saved != bytes);
        prop_assert!(!is_altered || World::load(&bytes).is_err(), "the checksum tells");
        if let Ok(mut world) = World::load(&sealed(bytes)) {
            for _ in 0..20 {
                world.step();
            }
        }
    }
}
