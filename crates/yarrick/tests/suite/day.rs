//! Whole games on the ground of the day, with players who order at random: nothing is lost or doubled in any tick.

use proptest::prelude::*;
use std::fs;
use std::path::Path;
use yarrick::economy::ResourceId;
use yarrick::world::{Change, KindId};
use yarrick::{Action, Command, Event, Scenario, SideId, UnitId, Vec2, When, World};

const SALT: ResourceId = ResourceId(0);

/// The world of the day with its first wave right at the start, and none of its script.
fn world(seed: u64) -> World {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../scenarios/day");
    let read = |name: &str| fs::read_to_string(folder.join(name)).map_err(|e| e.to_string());
    let scenario = Scenario::load("scenario.toml", &read).unwrap_or_else(|e| panic!("{e}"));
    let mut setup = scenario.setup.clone();
    setup.seed = seed;
    let plan = &mut setup.assault.as_mut().unwrap().plan;
    (plan.first_after, plan.lull) = (20, 20);
    let mut world = World::new(setup).unwrap();
    for unit in &scenario.units {
        let placed = world.spawn(unit.kind, unit.side, unit.at, unit.facing);
        placed.unwrap();
    }
    world
}

/// What somebody does: which deed, to which unit, about which other, where.
type Whim = (u8, usize, usize, f32, f32);

fn do_something(world: &mut World, (deed, who, other, x, y): Whim) {
    let all: Vec<UnitId> = world.units().map(|unit| unit.id()).collect();
    if all.is_empty() {
        return;
    }
    let (unit, target) = (all[who % all.len()], all[other % all.len()]);
    let kind = KindId((other % world.kinds().len()) as u16);
    let (at, facing) = (Vec2::new(x * 50.0, y * 32.0), 0.0);
    let action = match deed {
        0 => Action::move_to(at),
        1..=3 => Action::Gather { target },
        4 => Action::Deliver { target },
        5..=7 => Action::Build { kind, at, facing },
        8 => Action::Construct { target },
        9 | 10 => Action::Produce { kind },
        11 => Action::CancelProduction { place: 0 },
        12 => Action::CallOff,
        13 => Action::Attack { target },
        14 => Action::Stop,
        15 => {
            world.change(Change::Remove { unit }).unwrap();
            return;
        }
        _ => {
            let (damage, by) = (40.0, Some(target));
            world.change(Change::Harm { unit, damage, by }).unwrap();
            return;
        }
    };
    // Most is refused, which is part of it.
    let side = world.unit(unit).map_or(SideId(0), |unit| unit.side_id());
    let command = Command {
        side,
        units: vec![unit],
        action,
        when: When::Now,
    };
    world.submit(command).unwrap();
}

/// All salt that there is, and that went out of the world.
fn salt(world: &World) -> u64 {
    let lies = world
        .units()
        .filter_map(|unit| unit.deposit())
        .map(|deposit| u64::from(deposit.left));
    let carried = world
        .units()
        .filter_map(|unit| unit.load())
        .map(|load| u64::from(load.amount));
    let sides = (0..world.sides().len() as u8).filter_map(|side| world.ledger(SideId(side)));
    let owned = sides.map(|ledger| {
        let out = ledger.spent().of(SALT) + ledger.taken().of(SALT);
        ledger.owned().of(SALT) + out - ledger.refunded().of(SALT)
    });
    lies.sum::<u64>() + carried.sum::<u64>() + owned.sum::<u64>() + world.spilled().of(SALT)
}

/// How many units have come into the world and left it, and projectiles likewise.
#[derive(Default)]
struct Counted {
    units_in: usize,
    units_out: usize,
    fired: usize,
    ended: usize,
}

impl Counted {
    fn count(&mut self, events: &[Event]) {
        for event in events {
            match event {
                Event::CameIn { .. } | Event::Produced { .. } | Event::SiteReserved { .. } => {
                    self.units_in += 1;
                }
                Event::Gone { .. } => self.units_out += 1,
                Event::Fired { .. } => self.fired += 1,
                Event::Spent { .. } => self.ended += 1,
                Event::Struck {
                    projectile: Some(_),
                    ..
                } => self.ended += 1,
                _ => {}
            }
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(30))]

    #[test]
    fn units_projectiles_and_salt_are_neither_lost_nor_doubled(
        seed in 0..1000_u64,
        whims in prop::collection::vec((0..17_u8, any::<usize>(), any::<usize>(), 0.0..1.0_f32, 0.0..1.0_f32), 120),
    ) {
        let mut world = world(seed);
        let (began, all_salt) = (world.units().count(), salt(&world));
        let mut counted = Counted::default();
        for tick in 0..1200 {
            if tick % 10 == 0 {
                do_something(&mut world, whims[tick / 10]);
            }
            counted.count(world.step());
            prop_assert_eq!(salt(&world), all_salt, "salt in tick {}", tick);
            prop_assert_eq!(world.units().count() + counted.units_out, began + counted.units_in);
            prop_assert_eq!(world.projectiles().count() + counted.ended, counted.fired);
            for (wave, tally) in (0..).zip(world.wave_tallies()) {
                let living = world.units().filter(|unit| world.wave_of(unit.id()) == Some(wave));
                prop_assert_eq!(living.count() as u32, tally.alive(), "wave {} in tick {}", wave, tick);
            }
        }
        prop_assert!(counted.units_in > 0, "the first wave has come");
    }
    #[test]
    fn a_game_that_is_saved_in_the_middle_goes_on_to_the_last_bit(
        seed in 0..1000_u64,
        whims in prop::collection::vec((0..17_u8, any::<usize>(), any::<usize>(), 0.0..1.0_f32, 0.0..1.0_f32), 90),
        saved_at in 0..700_usize,
    ) {
        let mut world = world(seed);
        let mut again: Option<World> = None;
        for tick in 0..900 {
            if tick == saved_at {
                again = Some(World::load(&world.save()).unwrap());
            }
            if tick % 10 == 0 {
                do_something(&mut world, whims[tick / 10]);
            }
            world.step();
            if let Some(again) = &mut again {
                if tick % 10 == 0 {
                    do_something(again, whims[tick / 10]);
                }
                again.step();
                prop_assert_eq!(again.checksum(), world.checksum(), "tick {}", tick);
            }
        }
    }
}
