//! Creatures in a world: what each of the demo's behaviours does there.

use crate::doors::Doors as _;
use yarrick::combat::Weapon;
use yarrick::drill::{Gives, Unit, Value, Word, compile};
use yarrick::ground::Ground;
use yarrick::waves::{AssaultPlan, Batch, Wave};
use yarrick::world::{
    AssaultSetup, Change, Doing, DrillUse, Entry, GoalArea, KindId, Owner, WorldError, vocabulary,
};
use yarrick::{Action, Event, Kind, Side, SideId, Terrain, UnitId, Vec2};
use yarrick::{World, WorldSetup};

const KEEPERS: SideId = SideId(0);
const TIDE: SideId = SideId(1);

const TEXT: &str = include_str!("../../../../../scenarios/day/creatures.drill");

fn weapon(range_m: f32) -> Weapon {
    Weapon {
        range_m,
        damage: 2.0,
        cooldown_s: 0.7,
        ..Weapon::PLAIN
    }
}

/// Kinds of the tide, one for each drill of the demo, and a warden that only stands about.
fn setup(rows: &[&str], text: &str, drills: &[&str], own: &[Word]) -> WorldSetup {
    let legend = [
        ('.', Terrain::open("sand")),
        (',', Terrain::open("reed").blocking_sight()),
        ('#', Terrain::closed("dyke")),
    ];
    let program = compile(text, &vocabulary(own).unwrap());
    let program = program.unwrap_or_else(|errors| panic!("{errors}"));
    let used = drills
        .iter()
        .map(|name| DrillUse::of(program.drill(name).unwrap()));
    let creature = Kind {
        drills: used.collect(),
        ..Kind::walker("creature", 0.35, 1.6)
            .with_health(20.0)
            .armed(weapon(0.5))
    };
    WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![creature, Kind::walker("raker", 0.4, 2.0).with_health(50.0)],
        program,
        own_words: own.to_vec(),
        ..WorldSetup::on(Ground::from_rows(1.0, rows, &legend).unwrap())
    }
}

fn world(drills: &[&str]) -> World {
    let row = ".".repeat(40);
    World::new(setup(&vec![row.as_str(); 30], TEXT, drills, &[])).unwrap()
}

const CREATURE: KindId = KindId(0);
const RAKER: KindId = KindId(1);

fn put(world: &mut World, kind: KindId, side: SideId, x: f32, y: f32) -> UnitId {
    world.put_in(kind, side, Vec2::new(x, y))
}

fn at(world: &World, unit: UnitId) -> Vec2 {
    world.unit(unit).unwrap().position()
}

fn gap(world: &World, a: UnitId, b: UnitId) -> f32 {
    let (a, b) = (world.unit(a).unwrap(), world.unit(b).unwrap());
    a.position().distance(b.position()) - a.radius() - b.radius()
}

fn state(world: &World, unit: UnitId) -> String {
    world.explain(unit)[0].state.clone()
}

fn run(world: &mut World, seconds: f32) -> Vec<Event> {
    let ticks = (seconds / world.tick_s()).round() as u32;
    (0..ticks).flat_map(|_| world.step().to_vec()).collect()
}

/// A world with an assault of one creature from (3, 15) to (36, 15).
fn assault(drills: &[&str]) -> World {
    let row = ".".repeat(40);
    let mut setup = setup(&vec![row.as_str(); 30], TEXT, drills, &[]);
    setup.assault = Some(AssaultSetup {
        side: TIDE,
        plan: AssaultPlan {
            first_after: 1,
            lull: 0,
            waves: vec![Wave {
                batches: vec![Batch {
                    kind: 0,
                    count: 3,
                    delay: 0,
                    spacing: 40,
                    entry: 0,
                    goal: 0,
                }],
            }],
        },
        entries: vec![Entry {
            name: "creek".to_owned(),
            at: Vec2::new(3.0, 15.0),
            spread_m: 1.0,
            facing: 0.0,
        }],
        goals: vec![GoalArea {
            name: "pans".to_owned(),
            at: Vec2::new(36.0, 15.0),
            radius_m: 1.0,
        }],
        leak_cost: None,
    });
    World::new(setup).unwrap()
}

#[test]
fn a_comer_comes_straight_and_leaks_at_its_goal() {
    let mut world = assault(&["comer"]);
    run(&mut world, 0.1);
    let comer = world.units().next().unwrap().id();
    let from = at(&world, comer);
    let mut off = 0.0_f32;
    let mut leaked = false;
    while !leaked {
        leaked = world
            .step()
            .iter()
            .any(|event| matches!(event, Event::Leaked { unit, .. } if *unit == comer));
        if let Some(unit) = world.unit(comer) {
            let line = (Vec2::new(36.0, 15.0) - from).normalize();
            off = off.max(line.perp_dot(unit.position() - from).abs());
        }
        assert!(world.tick() < 600);
    }
    assert!(off < 0.2, "{off} off its line");
    run(&mut world, 30.0);
    assert_eq!(world.assault().unwrap().leaked, 3);
}

#[test]
fn sidlers_weave_about_their_line_each_in_its_own_phase_and_arrive() {
    let mut world = assault(&["sidler"]);
    run(&mut world, 6.0);
    let sidlers: Vec<UnitId> = world.units().map(|unit| unit.id()).collect();
    let from: Vec<Vec2> = sidlers.iter().map(|unit| at(&world, *unit)).collect();
    let mut reach = vec![(0.0_f32, 0.0_f32); sidlers.len()];
    for _ in 0..160 {
        world.step();
        for ((unit, from), reach) in sidlers.iter().zip(&from).zip(&mut reach) {
            let line = (Vec2::new(36.0, 15.0) - *from).normalize();
            let off = line.perp_dot(at(&world, *unit) - *from);
            *reach = (reach.0.min(off), reach.1.max(off));
        }
    }
    for (low, high) in &reach {
        assert!(high - low > 1.2, "it swings by {} m", high - low);
    }
    // They do not swing as one: their sideways speeds differ.
    let sideways: Vec<f32> = sidlers
        .iter()
        .map(|unit| world.unit(*unit).unwrap().velocity().y)
        .collect();
    assert!(
        sideways.iter().any(|y| (y - sideways[0]).abs() > 0.2),
        "{sideways:?}"
    );
    run(&mut world, 40.0);
    assert_eq!(world.assault().unwrap().leaked, 3);
}

#[test]
fn a_nipper_accelerates_overshoots_and_comes_back() {
    let mut world = world(&["nipper"]);
    let nipper = put(&mut world, CREATURE, TIDE, 10.0, 15.0);
    let raker = put(&mut world, RAKER, KEEPERS, 17.0, 15.0);
    let mut fastest = 0.0_f32;
    let mut speeds = Vec::new();
    let mut past = false;
    for _ in 0..120 {
        // It is out of the way sideways, so that nobody runs into anybody.
        world.step();
        let speed = world.unit(nipper).unwrap().velocity().length();
        speeds.push(speed);
        fastest = fastest.max(speed);
    }
    assert_eq!(state(&world, nipper), "hunt");
    let rises = speeds
        .windows(2)
        .filter(|pair| pair[1] > pair[0] + 1e-4)
        .count();
    assert!(rises > 5, "it gathers speed over several ticks");
    assert!(fastest <= 4.05 && fastest > 3.0, "{fastest}");
    // Its prey walks off sideways: it shoots past.
    world.order(KEEPERS, raker, Action::move_to(Vec2::new(17.0, 25.0)));
    for _ in 0..200 {
        world.step();
        let off = at(&world, nipper) - at(&world, raker);
        past |= off.y > 0.5;
    }
    assert!(past, "it overshoots");
    assert!(gap(&world, nipper, raker) < 4.0, "and comes back");
}

#[test]
fn a_spitter_keeps_its_range_looks_at_its_mark_and_backs_away() {
    let mut world = world(&["spitter"]);
    let spitter = put(&mut world, CREATURE, TIDE, 10.0, 15.0);
    let raker = put(&mut world, RAKER, KEEPERS, 18.0, 15.0);
    run(&mut world, 8.0);
    assert_eq!(state(&world, spitter), "spit");
    let kept = gap(&world, spitter, raker);
    assert!((4.0..=6.1).contains(&kept), "{kept}");
    world.order(KEEPERS, raker, Action::move_to(Vec2::new(13.0, 15.0)));
    let mut looked_off = 0.0_f32;
    let mut least = f32::INFINITY;
    for tick in 0..100 {
        world.step();
        least = least.min(gap(&world, spitter, raker));
        let unit = world.unit(spitter).unwrap();
        if tick > 20 && unit.doing() == Doing::Going {
            let to = at(&world, raker) - unit.position();
            looked_off = looked_off.max(to.angle_to(Vec2::from_angle(unit.facing())).abs());
        }
    }
    assert!(least > 2.5, "it came as near as {least} m");
    assert!(looked_off < 0.3, "it looks {looked_off} rad off");
}

#[test]
fn a_skittish_one_flees_within_one_distance_and_calms_down_beyond_another() {
    let mut world = world(&["skittish"]);
    let dunlin = put(&mut world, CREATURE, TIDE, 20.0, 15.0);
    run(&mut world, 3.0);
    assert_eq!(state(&world, dunlin), "graze");
    let here = at(&world, dunlin);
    let raker = put(&mut world, RAKER, KEEPERS, here.x - 3.0, here.y);
    let events = run(&mut world, 1.0);
    assert_eq!(state(&world, dunlin), "bolt");
    let cues = events.iter().filter_map(|event| match event {
        Event::Cue { cue, .. } => Some(world.drill_text(*cue)),
        _ => None,
    });
    assert_eq!(cues.collect::<Vec<_>>(), ["rattle"]);
    let view = &world.explain(dunlin)[0];
    let change = view.last_change.as_ref().unwrap();
    assert_eq!(
        (change.from.as_str(), change.to.as_str()),
        ("graze", "bolt")
    );
    assert_eq!(
        (change.took, view.remembers.as_slice()),
        (Some(raker), &[raker][..])
    );
    assert!(
        change.why.starts_with("when sees foe within alarm"),
        "{}",
        change.why
    );
    while state(&world, dunlin) == "bolt" {
        world.step();
        assert!(world.tick() < 800);
    }
    assert!(gap(&world, dunlin, raker) > 8.9);
    // One that dies while it is fled from is forgotten in the same tick.
    let here = at(&world, dunlin);
    let other = put(&mut world, RAKER, KEEPERS, here.x, here.y - 3.0);
    run(&mut world, 1.0);
    assert_eq!(state(&world, dunlin), "bolt");
    world
        .change(Change::Harm {
            unit: other,
            damage: 1e6,
            by: None,
        })
        .unwrap();
    run(&mut world, 0.1);
    assert_eq!(state(&world, dunlin), "graze");
}

#[test]
fn a_lurker_creeps_along_one_axis_pounces_when_the_way_is_clear_and_goes_back() {
    let mut world = world(&["lurker"]);
    let lurker = put(&mut world, CREATURE, TIDE, 12.0, 20.0);
    let raker = put(&mut world, RAKER, KEEPERS, 19.0, 16.5);
    let mut seen: Vec<String> = Vec::new();
    let mut crept_off = 0.0_f32;
    for _ in 0..1200 {
        world.step();
        let now = state(&world, lurker);
        if now == "creep" {
            crept_off = crept_off.max((at(&world, lurker).y - 20.0).abs());
        }
        if seen.last() != Some(&now) {
            seen.push(now);
        }
    }
    assert!(crept_off < 0.01, "along x only: {crept_off}");
    assert_eq!(seen[..4], ["lie", "creep", "pounce", "return"], "{seen:?}");
    assert!(world.unit(raker).unwrap().health() < 50.0, "it struck");
}

#[test]
fn an_order_goes_before_a_drill_which_begins_its_state_anew_afterwards() {
    let mut world = world(&["skittish"]);
    let dunlin = put(&mut world, CREATURE, TIDE, 20.0, 15.0);
    run(&mut world, 2.0);
    assert_eq!(world.unit(dunlin).unwrap().legs_owner(), Owner::Drill(0));
    let to = Vec2::new(30.0, 20.0);
    world.order(TIDE, dunlin, Action::move_to(to));
    run(&mut world, 1.0);
    assert!(world.explain(dunlin)[0].sleeps);
    while world.unit(dunlin).unwrap().has_orders() {
        world.step();
    }
    assert_eq!(at(&world, dunlin), to);
    run(&mut world, 2.0);
    assert!(!world.explain(dunlin)[0].sleeps && at(&world, dunlin) != to);
}

#[test]
fn two_drills_of_one_unit_drive_legs_and_arms_and_two_of_the_same_are_refused() {
    let mut world = assault(&["sidler", "bite"]);
    let raker = put(&mut world, RAKER, KEEPERS, 20.0, 15.0);
    let events = run(&mut world, 60.0);
    let bites = events
        .iter()
        .filter(|event| matches!(event, Event::Struck { target, .. } if *target == raker));
    assert!(bites.count() > 0);
    assert!(world.assault().unwrap().leaked > 0, "and goes on weaving");
    let row = ".".repeat(10);
    let clash = setup(&[row.as_str(); 10], TEXT, &["comer", "sidler"], &[]);
    let error = World::new(clash).unwrap_err();
    assert!(matches!(error, WorldError::DrillsClash { .. }), "{error}");
}

#[test]
fn dials_are_set_for_a_kind_and_for_a_unit_within_what_is_allowed() {
    let row = ".".repeat(40);
    let mut setup = setup(&vec![row.as_str(); 30], TEXT, &["skittish"], &[]);
    let drill = &setup.program.drills[usize::from(setup.program.drill("skittish").unwrap())];
    let alarm = drill.dial("alarm").unwrap();
    setup.kinds[0].drills[0].dials.push((alarm, 2.0));
    let mut bad = setup.clone();
    bad.kinds[0].drills[0].dials[0].1 = 500.0;
    assert!(matches!(
        World::new(bad),
        Err(WorldError::NoSuchDrill { .. })
    ));
    let mut world = World::new(setup).unwrap();
    let dunlin = put(&mut world, CREATURE, TIDE, 20.0, 15.0);
    let raker = put(&mut world, RAKER, KEEPERS, 24.5, 15.0);
    world.step();
    assert_eq!(state(&world, dunlin), "graze");
    let set = |value| Change::SetDial {
        unit: dunlin,
        drill: 0,
        dial: alarm,
        value,
    };
    world.change(set(500.0)).unwrap();
    let refused = |event: &Event| matches!(event, Event::ChangeRefused { .. });
    assert!(world.step().iter().any(refused));
    world.change(set(12.0)).unwrap();
    run(&mut world, 0.8);
    assert_eq!(state(&world, dunlin), "bolt");
    let _ = raker;
}

#[test]
fn a_game_adds_a_sense_and_a_step_of_its_own() {
    let own = [
        Word::sense(
            "water",
            Gives::Number(Unit::Metres),
            "how high the water stands",
        ),
        Word::step("dig {m}", 1, true, "digs itself in"),
    ];
    let text = "drill digger controls legs\n  start state feed, every 0.2 s\n    wander\n    when water > 0.5 m -> hide\n  state hide\n    dig 0.4 m\n    stand\n";
    let row = ".".repeat(20);
    let mut world = World::new(setup(&vec![row.as_str(); 20], text, &["digger"], &own)).unwrap();
    let digger = put(&mut world, CREATURE, TIDE, 10.0, 10.0);
    run(&mut world, 1.0);
    assert_eq!(state(&world, digger), "feed");
    let set = |sense, unit, value| Change::SetSense { sense, unit, value };
    world.change(set(0, None, 0.2)).unwrap();
    world.change(set(3, None, 0.2)).unwrap();
    let events = run(&mut world, 1.0);
    assert_eq!(
        events
            .iter()
            .filter(|event| matches!(event, Event::ChangeRefused { .. }))
            .count(),
        1
    );
    assert_eq!(state(&world, digger), "feed");
    world.change(set(0, Some(digger), 0.9)).unwrap();
    let events = run(&mut world, 1.0);
    let asked = events.iter().find_map(|event| match event {
        Event::Asked {
            unit,
            drill,
            step,
            values,
        } => Some((*unit, *drill, *step, values.clone())),
        _ => None,
    });
    assert_eq!(asked, Some((digger, 0, 0, vec![Value::Number(0.4)])));
    let still = at(&world, digger);
    world
        .change(Change::StepDone {
            unit: digger,
            drill: 0,
        })
        .unwrap();
    run(&mut world, 1.0);
    assert_eq!(at(&world, digger), still, "it stands after that");
}
