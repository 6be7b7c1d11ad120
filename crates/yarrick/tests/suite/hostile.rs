//! Extreme kinds, maps and commands: nothing panics, nobody leaves the ground or the limits.

use proptest::prelude::*;
use yarrick::combat::Weapon;
use yarrick::motion::formation::{Form, Formation};
use yarrick::world::{Body, Footprint, Legs, MAX_CHANGES, Senses, WorldError};
use yarrick::{
    Action, Command, Ground, Kind, Side, SideId, Spot, Terrain, UnitId, Vec2, When, World,
    WorldSetup,
};

const KEEPERS: SideId = SideId(0);

/// Numbers that break things.
fn extreme() -> impl Strategy<Value = f32> {
    prop_oneof![
        4 => -5.0_f32..20.0,
        1 => Just(f32::NAN),
        1 => Just(f32::INFINITY),
        1 => Just(f32::MAX),
        1 => Just(f32::MIN_POSITIVE),
        1 => Just(-0.0),
        1 => Just(1e9),
    ]
}

fn kind() -> impl Strategy<Value = Kind> {
    let radius = prop_oneof![Just(0.05_f32), Just(3.0), 0.1_f32..1.5];
    let speed = prop_oneof![Just(0.0_f32), Just(100.0), 0.1_f32..5.0];
    let turn = prop_oneof![Just(0.0_f32), Just(Body::MAX_TURN_RATE)];
    let braking = prop_oneof![Just(0.01_f32), Just(1000.0), 0.5_f32..5.0];
    let footprint = prop_oneof![Just(None), Just(Some(Vec2::new(50.0, 0.05)))];
    (radius, speed, turn, braking, weapon(), footprint).prop_map(
        |(radius_m, speed, turn_rate, braking, weapon, footprint)| {
            let legs = Legs {
                braking,
                ..Legs::of_speed(speed)
            };
            Kind {
                body: Body {
                    turn_rate,
                    ..Body::of_radius(radius_m)
                },
                weapon: weapon.map(|(weapon, _)| weapon),
                senses: weapon.map(|(_, notice_m)| Senses::noticing(notice_m)),
                footprint: footprint.map(Footprint::of_size),
                rallies: speed == 0.0,
                ..Kind::walker("raker", radius_m, speed).with_legs(legs)
            }
        },
    )
}

/// A weapon and how far its bearer notices foes.
fn weapon() -> impl Strategy<Value = Option<(Weapon, f32)>> {
    let range = prop_oneof![Just(0.0_f32), Just(Weapon::MAX_RANGE_M), 0.1_f32..5.0];
    let damage = prop_oneof![Just(0.0_f32), Just(Weapon::MAX_DAMAGE), 1.0_f32..40.0];
    let cooldown = prop_oneof![Just(Weapon::MIN_COOLDOWN_S), Just(3600.0_f32), 0.2_f32..2.0];
    let notice = prop_oneof![Just(0.0_f32), Just(Senses::MAX_NOTICE_M), 1.0_f32..9.0];
    let weapon = (range, damage, cooldown).prop_map(|(range_m, damage, cooldown_s)| Weapon {
        range_m,
        damage,
        cooldown_s,
        ..Weapon::PLAIN
    });
    proptest::option::weighted(0.8, (weapon, notice))
}

/// Any action, about a point or a unit.
fn action(which: u8, at: Vec2, unit: UnitId) -> Action {
    let spot = [Spot::Ground(at), Spot::Unit(unit)][usize::from(which % 2)];
    match which % 12 {
        0 => Action::move_to(at),
        1 => Action::AttackMove { to: at },
        2 => Action::Patrol {
            points: vec![at, Vec2::splat(3.0)],
            round: which > 100,
        },
        3 => Action::Attack { target: unit },
        4 => Action::Approach {
            target: unit,
            stand_off_m: at.x,
            side: (which > 100).then_some(at.y),
        },
        5 => Action::follow(unit),
        6 => Action::Guard { ward: spot },
        7 => Action::Hold,
        8 => Action::Rally { to: spot },
        9 => Action::AttackMove {
            to: Vec2::new(at.y, at.x),
        },
        10 => Action::March {
            to: at,
            formation: Formation {
                facing: (which > 128).then_some(at.y),
                abreast: Some(u16::from(which) / 40),
                ..Formation::new(Form::WORDS[usize::from(which) % 5].1)
            },
            fight: which > 60,
        },
        _ => Action::Context { at: spot },
    }
}

fn ground() -> impl Strategy<Value = Ground> {
    let cells = proptest::collection::vec(
        prop_oneof![4 => Just(0_u8), 1 => Just(1), 1 => Just(2)],
        150,
    );
    (1_u32..12, 1_u32..12, cells, 0.1_f32..3.0).prop_map(|(width, height, mut cells, cell_m)| {
        let terrains = vec![
            Terrain::open("sand"),
            Terrain::closed("creek"),
            Terrain::open("mud").with_speed(0.1),
        ];
        cells.truncate((width * height) as usize);
        cells[0] = 0;
        Ground::new(width, height, cell_m, terrains, cells).unwrap()
    })
}

proptest! {
    #![proptest_config(ProptestConfig {
        cases: 200,
        failure_persistence: None,
        ..ProptestConfig::default()
    })]

    #[test]
    fn no_world_and_no_command_breaks_the_tick(
        ground in ground(),
        kind in kind(),
        rate in prop_oneof![Just(1_u32), Just(20), Just(240)],
        budget in prop_oneof![Just(1_u32), Just(1000), Just(u32::MAX)],
        places in proptest::collection::vec((extreme(), extreme()), 0..25),
        goals in proptest::collection::vec(
            (extreme(), extreme(), any::<bool>(), any::<u8>(), 0_usize..30), 0..12),
    ) {
        let setup = WorldSetup {
            sides: vec![Side::new("keepers"), Side::new("tide")],
            kinds: vec![kind],
            ticks_per_second: rate,
            plan_budget: budget,
            ..WorldSetup::on(ground)
        };
        // A radius may be too large for the cells: that is refused, not endured.
        let Ok(mut world) = World::new(setup) else {
            return Ok(());
        };
        let raker = world.kind("raker").unwrap();
        let mut units: Vec<UnitId> = Vec::new();
        for (k, (x, y)) in places.into_iter().enumerate() {
            let side = SideId((k % 2) as u8);
            units.extend(world.spawn(raker, side, Vec2::new(x, y), x));
        }
        for (x, y, queued, which, target) in goals {
            let target = units.get(target).copied().unwrap_or(UnitId::from_parts(77, 1));
            let when = if queued { When::Afterwards } else { When::First };
            for side in [SideId(0), SideId(1)] {
                let action = action(which, Vec2::new(x, y), target);
                world.submit(Command { side, units: units.clone(), action, when }).unwrap();
            }
            for _ in 0..10 {
                world.step();
            }
            for unit in world.units() {
                let at = unit.position();
                // What never moves may be a building, which closes the ground that it covers.
                let moves = unit.kind().speed() > 0.0;
                let clear = world.ground().disc_is_clear(at, unit.radius());
                prop_assert!(clear || !moves, "{} at {at}", unit.id());
                prop_assert!(unit.facing().is_finite() && unit.health() > 0.0);
                let fastest = unit.kind().speed() * 1.001 + 1e-2;
                prop_assert!(unit.velocity().length() <= fastest, "{}", unit.velocity());
            }
        }
    }
}

fn weapon_of(range_m: f32, damage: f32, cooldown_s: f32) -> Weapon {
    Weapon {
        range_m,
        damage,
        cooldown_s,
        ..Weapon::PLAIN
    }
}

fn flat(setup: impl FnOnce(&mut WorldSetup)) -> Result<World, WorldError> {
    let ground = Ground::from_rows(1.0, &["....", "...."], &[('.', Terrain::open("sand"))]);
    let mut all = WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("raker", 0.4, 1.5)],
        ..WorldSetup::on(ground.unwrap())
    };
    setup(&mut all);
    World::new(all)
}

#[test]
fn setups_out_of_range_are_refused_with_what_is_allowed() {
    let reported = |setup: fn(&mut WorldSetup)| flat(setup).unwrap_err().to_string();
    let all = [
        reported(|setup| setup.sides.clear()),
        reported(|setup| setup.kinds.clear()),
        reported(|setup| setup.sides = vec![Side::new("keepers"); 2]),
        reported(|setup| setup.sides = (0..17).map(|k| Side::new(&k.to_string())).collect()),
        reported(|setup| setup.ticks_per_second = 0),
        reported(|setup| setup.plan_budget = 0),
        reported(|setup| setup.kinds[0].body.radius_m = f32::NAN),
        reported(|setup| setup.kinds[0].body.radius_m = -1.0),
        reported(|setup| setup.kinds[0].body.radius_m = 17.0),
        reported(|setup| setup.kinds[0].legs = Some(Legs::of_speed(f32::INFINITY))),
        reported(|setup| setup.kinds[0].legs.as_mut().unwrap().braking = 0.0),
        reported(|setup| setup.kinds[0].body.health = -1.0),
        reported(|setup| setup.kinds[0].senses = Some(Senses::noticing(1e9))),
        reported(|setup| setup.kinds[0].weapon = Some(weapon_of(f32::NAN, 1.0, 1.0))),
        reported(|setup| setup.kinds[0].weapon = Some(weapon_of(1.0, -1.0, 1.0))),
        reported(|setup| setup.kinds[0].weapon = Some(weapon_of(1.0, 1.0, 0.0))),
        reported(|setup| setup.sides[0].allies = vec![SideId(3)]),
        reported(|setup| setup.sides[0].shares_control_with = vec![SideId(200)]),
    ];
    insta::assert_snapshot!(all.join("\n"));
}

#[test]
fn units_that_cannot_be_put_in_are_refused_with_the_reason() {
    let mut world = flat(|_| {}).unwrap();
    let raker = world.kind("raker").unwrap();
    let mut reported = |kind, side, x: f32, facing| {
        world
            .spawn(kind, side, Vec2::new(x, 1.0), facing)
            .unwrap_err()
            .to_string()
    };
    let all = [
        reported(yarrick::world::KindId(9), KEEPERS, 1.0, 0.0),
        reported(raker, SideId(9), 1.0, 0.0),
        reported(raker, KEEPERS, f32::NAN, 0.0),
        reported(raker, KEEPERS, 1.0, f32::INFINITY),
        reported(raker, KEEPERS, -3.0, 0.0),
        reported(raker, KEEPERS, 0.2, 0.0),
    ];
    insta::assert_snapshot!(all.join("\n"));
    assert_eq!(world.units().len(), 0);
}

#[test]
fn maps_that_make_no_sense_are_refused_with_the_reason() {
    let sand = || {
        [
            ('.', Terrain::open("sand")),
            ('~', Terrain::closed("creek")),
        ]
    };
    let rows = |rows: &[&str]| {
        Ground::from_rows(1.0, rows, &sand())
            .unwrap_err()
            .to_string()
    };
    let wide = ".".repeat(5000);
    let slow = [('.', Terrain::open("sand").with_speed(0.0))];
    let all = [
        rows(&[]),
        rows(&["", ""]),
        rows(&["...", ".."]),
        rows(&["..?"]),
        rows(&["~~~"]),
        rows(&[wide.as_str()]),
        Ground::from_rows(f32::NAN, &["."], &sand())
            .unwrap_err()
            .to_string(),
        Ground::from_rows(1.0, &["."], &slow)
            .unwrap_err()
            .to_string(),
        Ground::new(2, 2, 1.0, vec![], vec![0; 4])
            .unwrap_err()
            .to_string(),
        Ground::new(2, 2, 1.0, vec![Terrain::open("sand")], vec![0; 3])
            .unwrap_err()
            .to_string(),
        Ground::new(2, 2, 1.0, vec![Terrain::open("sand")], vec![9; 4])
            .unwrap_err()
            .to_string(),
        Ground::from_rows(1.0, &["."], &sand())
            .unwrap()
            .with_heights(vec![f32::NAN])
            .unwrap_err()
            .to_string(),
    ];
    insta::assert_snapshot!(all.join("\n"));
}

#[test]
fn commands_beyond_the_limit_are_not_taken() {
    let mut world = flat(|_| {}).unwrap();
    let stop = Command {
        side: KEEPERS,
        units: vec![],
        action: Action::Stop,
        when: When::Now,
    };
    for _ in 0..MAX_CHANGES {
        world.submit(stop.clone()).unwrap();
    }
    assert!(world.submit(stop).is_err());
    assert_eq!(world.step().len(), MAX_CHANGES);
}

#[test]
fn a_pacer_never_asks_for_more_than_it_may() {
    let mut pacer = yarrick::Pacer::new(0.05, 5);
    for frame_s in [1e9, f64::NAN, -3.0, f64::INFINITY, 0.0, 0.016, 7.0] {
        let paced = pacer.frame(frame_s);
        assert!(
            paced.ticks <= 5 && (0.0..1.0).contains(&paced.fraction),
            "{paced:?}"
        );
        assert!(paced.dropped_s >= 0.0 && paced.dropped_s.is_finite());
    }
    let mut pacer = yarrick::Pacer::new(f32::NAN, 0);
    assert_eq!(pacer.frame(10.0).ticks, 1);
}

#[test]
fn frames_of_any_length_add_up_to_the_ticks_of_their_time() {
    for frame_s in [1.0 / 60.0, 1.0 / 144.0, 0.05, 0.031] {
        let mut pacer = yarrick::Pacer::new(0.05, 5);
        let frames = (20.0 / frame_s) as u32;
        let ticks: u32 = (0..frames).map(|_| pacer.frame(frame_s).ticks).sum();
        assert!(
            (398..=401).contains(&ticks),
            "{ticks} ticks of 400 at {frame_s} s a frame"
        );
    }
}
