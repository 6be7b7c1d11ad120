//! Assaults in a world: waves that come in, leaks, and how games end.

use crate::doors::Doors as _;
use proptest::prelude::*;
use yarrick::combat::{Preference, Weapon};
use yarrick::economy::{Price, ResourceId, Stores};
use yarrick::scenario::Scenario;
use yarrick::waves::{AssaultPlan, Batch, Wave};
use yarrick::world::{
    AssaultError, AssaultSetup, Change, Condition, Ending, Entry, GameResult, GoalArea, LeakCost,
};
use yarrick::{Action, Command, Event, Ground, Kind, Side, SideId, Terrain, UnitId, Vec2, When};
use yarrick::{World, WorldSetup};

const KEEPERS: SideId = SideId(0);
const TIDE: SideId = SideId(1);
const SALT: ResourceId = ResourceId(0);

fn batch(kind: u16, count: u32, delay: u32, spacing: u32) -> Batch {
    Batch {
        kind,
        count,
        delay,
        spacing,
        entry: 0,
        goal: 0,
    }
}

/// 30 by 12 m of sand; the tide comes in from the west, 2 m round (3, 6), and makes for (26, 6).
fn setup(waves: Vec<Vec<Batch>>) -> WorldSetup {
    let rows = vec!["..............................".to_owned(); 12];
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    let ground = Ground::from_rows(1.0, &rows, &legend).unwrap();
    let waves = waves.into_iter().map(|batches| Wave { batches }).collect();
    let sling = Weapon {
        range_m: 8.0,
        damage: 5.0,
        prefers: Preference::FarthestAlong,
        ..Weapon::PLAIN
    };
    let mut stores = Stores::default();
    stores.put_in(SALT, 10);
    WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![
            Kind::walker("nipper", 0.3, 3.0).with_health(20.0),
            Kind::walker("hulk", 0.8, 1.0).with_health(60.0),
            Kind::building("sling tower", Vec2::splat(2.0)).armed(sling),
        ],
        resources: vec!["salt".to_owned()],
        stores: vec![stores],
        assault: Some(AssaultSetup {
            side: TIDE,
            plan: AssaultPlan {
                first_after: 20,
                lull: 40,
                waves,
            },
            entries: vec![Entry {
                name: "creek".to_owned(),
                at: Vec2::new(3.0, 6.0),
                spread_m: 2.0,
                facing: 0.0,
            }],
            goals: vec![GoalArea {
                name: "pans".to_owned(),
                at: Vec2::new(26.0, 6.0),
                radius_m: 1.0,
            }],
            leak_cost: Some(LeakCost {
                side: KEEPERS,
                price: Price::of(&[(SALT, 3)]),
            }),
        }),
        ..WorldSetup::on(ground)
    }
}

/// Steps, and sends every unit of the tide to the goal that has no order.
fn step(world: &mut World) -> Vec<Event> {
    let events = world.step().to_vec();
    let idle = world
        .units()
        .filter(|unit| unit.side_id() == TIDE && !unit.has_orders());
    let idle: Vec<UnitId> = idle.map(|unit| unit.id()).collect();
    for unit in idle {
        let command = Command {
            side: TIDE,
            units: vec![unit],
            action: Action::move_to(Vec2::new(26.0, 6.0)),
            when: When::Now,
        };
        world.submit(command).unwrap();
    }
    events
}

fn run(world: &mut World, ticks: u32) -> Vec<(u64, Event)> {
    let mut events = Vec::new();
    for _ in 0..ticks {
        let happened = step(world);
        let tick = world.tick();
        events.extend(happened.into_iter().map(|event| (tick, event)));
    }
    events
}

fn ticks_of(events: &[(u64, Event)], is: impl Fn(&Event) -> bool) -> Vec<u64> {
    let such = events.iter().filter(|(_, event)| is(event));
    such.map(|(tick, _)| *tick).collect()
}

#[test]
fn waves_come_one_after_another_and_leaks_cost_what_was_said() {
    let waves = vec![vec![batch(0, 2, 0, 10)], vec![], vec![batch(1, 1, 5, 0)]];
    let mut world = World::new(setup(waves)).unwrap();
    assert_eq!(world.assault().unwrap().next_in, Some(20));
    let events = run(&mut world, 1200);
    let began = ticks_of(&events, |event| matches!(event, Event::WaveBegan { .. }));
    let over = ticks_of(&events, |event| matches!(event, Event::WaveOver { .. }));
    let came = ticks_of(&events, |event| matches!(event, Event::CameIn { .. }));
    let leaks = ticks_of(&events, |event| matches!(event, Event::Leaked { .. }));
    assert_eq!((began[0], came[0], came[1]), (20, 20, 30));
    assert_eq!(
        (over[0], began[1], over[1]),
        (leaks[1], leaks[1] + 40, leaks[1] + 40)
    );
    assert_eq!((began[2], came[2]), (over[1] + 40, over[1] + 45));
    assert_eq!((over[2], leaks.len()), (leaks[2], 3));
    let progress = world.assault().unwrap();
    assert_eq!(
        (progress.wave, progress.leaked, progress.next_in),
        (Some(2), 3, None)
    );
    assert_eq!(world.stores(KEEPERS).of(SALT), 1);
    // Whoever leaked is gone, and its order is lost.
    assert_eq!(world.units().len(), 0);
    let lost = ticks_of(&events, |event| {
        matches!(
            event,
            Event::Ended {
                outcome: yarrick::Outcome::UnitLost,
                ..
            }
        )
    });
    assert_eq!(lost, leaks);
}

#[test]
fn a_game_ends_once_and_the_world_stands_still_then() {
    let ending = |result, when| Ending {
        side: KEEPERS,
        result,
        when,
    };
    let lost = |when| ending(GameResult::Lost, when);
    let waves = || vec![vec![batch(0, 4, 0, 4)], vec![batch(0, 1, 0, 0)]];
    let cases = [
        (lost(Condition::Leaks { more_than: 2 }), 3),
        (ending(GameResult::Won, Condition::WavesOver), 5),
        (ending(GameResult::Won, Condition::Time { tick: 50 }), 0),
    ];
    for (ending, leaks) in cases {
        let mut world = World::new(setup(waves())).unwrap();
        world.add_ending(ending).unwrap();
        let events = run(&mut world, 1000);
        let decided = ticks_of(&events, |event| matches!(event, Event::Decided { .. }));
        assert_eq!(decided, [world.tick()]);
        let decision = world.decision().unwrap();
        assert_eq!((decision.ending, decision.tick), (ending, world.tick()));
        assert_eq!(world.assault().unwrap().leaked, leaks);
        let (checksum, saved) = (world.checksum(), world.save());
        assert!(world.step().is_empty() && world.checksum() == checksum);
        let mut again = World::load(&saved).unwrap();
        assert!(again.step().is_empty() && again.checksum() == checksum);
    }
    // A building falls.
    let mut world = World::new(setup(waves())).unwrap();
    let tower = world.put_in(
        world.kind("sling tower").unwrap(),
        KEEPERS,
        Vec2::new(20.0, 9.0),
    );
    world
        .add_ending(lost(Condition::Falls { unit: tower }))
        .unwrap();
    run(&mut world, 10);
    world.change(Change::Remove { unit: tower }).unwrap();
    assert!(matches!(
        step(&mut world).last(),
        Some(Event::Decided { .. })
    ));
    assert!(
        world.add_ending(lost(Condition::WavesOver)).is_err(),
        "it has begun"
    );
}

#[test]
fn a_unit_that_changes_hands_is_no_longer_waited_for() {
    let mut world = World::new(setup(vec![vec![batch(0, 1, 0, 0)]])).unwrap();
    run(&mut world, 30);
    let unit = world.units().next().unwrap().id();
    assert_eq!(world.wave_of(unit), Some(0));
    let side = KEEPERS;
    world.change(Change::ChangeSide { unit, side }).unwrap();
    let events = step(&mut world);
    let is_over =
        |event: &Event| matches!(event, Event::WaveOver { tally, .. } if tally.removed == 1);
    assert!(events.iter().any(is_over));
    assert_eq!((world.wave_of(unit), world.units().len()), (None, 1));
}

#[test]
fn units_that_nothing_leads_go_to_their_goal_and_on_again_after_an_order() {
    let mut world = World::new(setup(vec![vec![batch(0, 3, 0, 10)]])).unwrap();
    let mut events = Vec::new();
    let mut held = None;
    for _ in 0..2000 {
        let happened = world.step().to_vec();
        // One is ordered aside as it comes in, and goes on afterwards.
        let newcomer = happened.iter().find_map(|event| match event {
            Event::CameIn { unit, .. } => Some(*unit),
            _ => None,
        });
        if let Some(unit) = newcomer.filter(|_| held.is_none()) {
            held = Some(unit);
            let to = world.unit(unit).unwrap().position() + Vec2::new(0.0, 2.0);
            let (side, units, when) = (TIDE, vec![unit], When::Now);
            let action = Action::move_to(to);
            world
                .submit(Command {
                    side,
                    units,
                    action,
                    when,
                })
                .unwrap();
        }
        let tick = world.tick();
        events.extend(happened.into_iter().map(|event| (tick, event)));
    }
    let leaks = ticks_of(&events, |event| matches!(event, Event::Leaked { .. }));
    assert_eq!(leaks.len(), 3);
    let is = |event: &Event| matches!(event, Event::WaveOver { tally, .. } if tally.leaked == 3);
    assert_eq!(ticks_of(&events, is).len(), 1);
    // What nobody began is answered to nobody.
    let is = |event: &Event| matches!(event, Event::ActivityEnded { .. } | Event::Refused { .. });
    assert!(ticks_of(&events, is).is_empty());
}

#[test]
fn nobody_comes_in_within_another_and_the_rest_wait() {
    // 40 hulks at once: at most seven or so find room within 2 m.
    let mut world = World::new(setup(vec![vec![batch(1, 40, 0, 0)]])).unwrap();
    for _ in 0..25 {
        for event in step(&mut world) {
            if let Event::CameIn { unit, .. } = event {
                assert_clear(&world, unit);
            }
        }
    }
    let progress = world.assault().unwrap();
    assert!(
        (4..12).contains(&world.units().len()),
        "{}",
        world.units().len()
    );
    assert_eq!(progress.to_come + progress.tally.sent, 40);
    assert_eq!(progress.held_up, 1);
    // They come as those before them make room.
    let events = run(&mut world, 4000);
    assert!(ticks_of(&events, |event| matches!(event, Event::WaveOver { .. })).len() < 2);
    assert!(world.assault().unwrap().tally.sent > 8);
}

/// That a unit that has just come in touches nobody.
fn assert_clear(world: &World, unit: UnitId) {
    let unit = world.unit(unit).unwrap();
    for other in world.units().filter(|other| other.id() != unit.id()) {
        let gap = unit.position().distance(other.position()) - other.radius();
        assert!(gap > unit.radius() - 1e-3, "{gap}");
    }
}

#[test]
fn a_tower_that_prefers_the_farthest_along_lets_the_nearest_pass() {
    let mut setup = setup(vec![vec![batch(0, 3, 0, 30)]]);
    let mut rows = vec!["..............................".to_owned(); 12];
    // A dyke across, open at the upper end only: the way along it is long.
    for row in rows.iter_mut().skip(3) {
        row.replace_range(15..16, "#");
    }
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    setup.ground = Ground::from_rows(1.0, &rows, &legend).unwrap();
    let mut world = World::new(setup).unwrap();
    let tower = world.put_in(
        world.kind("sling tower").unwrap(),
        KEEPERS,
        Vec2::new(13.0, 6.0),
    );
    let mut aimed = Vec::new();
    for _ in 0..600 {
        step(&mut world);
        if let Some(foe) = world.unit(tower).unwrap().foe()
            && aimed.last() != Some(&foe)
        {
            // It is the first that came of all within range.
            let ids = world.units().filter(|unit| {
                let gap = world
                    .unit(tower)
                    .unwrap()
                    .block()
                    .unwrap()
                    .distance(unit.position());
                unit.side_id() == TIDE && gap - unit.radius() <= 8.0
            });
            assert_eq!(ids.map(|unit| unit.id()).min(), Some(foe));
            aimed.push(foe);
        }
    }
    assert_eq!(aimed.len(), 3);
}

#[test]
fn assaults_that_make_no_sense_are_refused() {
    let refused = |change: &dyn Fn(&mut AssaultSetup)| {
        let mut setup = setup(vec![vec![batch(0, 1, 0, 0)]]);
        change(setup.assault.as_mut().unwrap());
        World::new(setup).unwrap_err().to_string()
    };
    let no_such = |what: &str| format!("the assault names {what} number 9; there are ");
    let batch_of = |change: fn(&mut Batch)| {
        refused(&move |assault| change(&mut assault.plan.waves[0].batches[0]))
    };
    assert!(batch_of(|batch| batch.kind = 9).starts_with(&no_such("kind")));
    assert!(batch_of(|batch| batch.entry = 9).starts_with(&no_such("entry")));
    assert!(batch_of(|batch| batch.goal = 9).starts_with(&no_such("goal")));
    assert!(refused(&|assault| assault.side = SideId(9)).starts_with(&no_such("side")));
    for change in [
        |assault: &mut AssaultSetup| assault.entries[0].at = Vec2::new(-1.0, 2.0),
        |assault: &mut AssaultSetup| assault.goals[0].radius_m = f32::NAN,
        |assault: &mut AssaultSetup| assault.entries[0].facing = f32::INFINITY,
    ] {
        assert!(refused(&change).contains("is not a disc on the map"));
    }
    let none = |assault: &mut AssaultSetup| assault.goals.clear();
    let what = "goals";
    let error = AssaultError::AreaCount { what, count: 0 };
    assert_eq!(refused(&none), error.to_string());
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 60, failure_persistence: None, ..ProptestConfig::default() })]

    /// Whoever was sent lives, or was killed, leaked or taken out; waves are over neither early nor never.
    #[test]
    fn units_of_an_assault_add_up_in_every_tick(
        waves in proptest::collection::vec(
            proptest::collection::vec((0_u16..2, 0_u32..6, 0_u32..40, 0_u32..15), 0..3), 1..4),
        kills in proptest::collection::vec((0_u32..1500, 0_usize..5, any::<bool>()), 0..12),
    ) {
        let planned: u32 = waves.iter().flatten().map(|batch| batch.1).sum();
        let count = waves.len();
        let batches = waves.iter().map(|wave| {
            wave.iter().map(|(kind, count, delay, spacing)| batch(*kind, *count, *delay, *spacing)).collect()
        });
        let mut world = World::new(setup(batches.collect())).unwrap();
        let (mut begun, mut over) = (0, 0);
        for tick in 0..6000 {
            for (_, nth, dies) in kills.iter().filter(|(at, _, _)| *at == tick) {
                let unit = world.units().nth(*nth).map(|unit| unit.id());
                if let Some(unit) = unit {
                    let by = None;
                    let change = if *dies {
                        Change::Harm { unit, damage: 1e6, by }
                    } else {
                        Change::Remove { unit }
                    };
                    world.change(change).unwrap();
                }
            }
            for event in step(&mut world) {
                match event {
                    Event::WaveBegan { .. } => begun += 1,
                    Event::WaveOver { wave, tally } => {
                        prop_assert_eq!(wave, over);
                        let sent: u32 = waves[wave as usize].iter().map(|batch| batch.1).sum();
                        prop_assert_eq!((tally.sent, tally.alive()), (sent, 0));
                        over += 1;
                    }
                    _ => {}
                }
            }
            prop_assert!(begun - over <= 1, "one after another");
            let tallies = world.wave_tallies();
            let alive: u32 = tallies.iter().map(|tally| tally.alive()).sum();
            prop_assert_eq!(alive as usize, world.units().len());
            if over as usize == count {
                break;
            }
        }
        prop_assert_eq!(over as usize, count, "none is never over");
        let sent: u32 = world.wave_tallies().iter().map(|tally| tally.sent).sum();
        prop_assert_eq!(sent, planned);
    }
}

const START: &str = r##"
[scenario]
title = "A small tide"
duration = 120
[ground]
rows = ["................", "................", "..##########....", "................", "................"]
legend = { "." = { name = "sand" }, "#" = { name = "dyke", passable = false } }
[[resource]]
name = "salt"
[[side]]
name = "keepers"
stores = { salt = 20 }
[[side]]
name = "tide"
[[kind]]
name = "nipper"
radius = 0.4
speed = 2
[[kind]]
name = "hut"
rank = "building"
radius = 0.5
speed = 0
[[unit]]
name = "hut"
kind = "hut"
side = "keepers"
at = [14.5, 4.5]
[[entry]]
name = "creek"
at = [1.5, 1.5]
spread = 1
[[goal]]
name = "pans"
at = [14.5, 2.5]
radius = 1
[assault]
side = "tide"
first_after = 1.5
lull = 2
leak_cost = { salt = 3 }
leak_paid_by = "keepers"
[[wave]]
batch = [{ kind = "nipper", count = 2, spacing = 1 }]
[[ending]]
side = "keepers"
result = "lost"
when = "falls"
unit = "hut"
"##;

#[test]
fn an_assault_is_read_from_a_scenario() {
    let scenario = Scenario::parse(START).unwrap_or_else(|errors| panic!("{errors}"));
    let mut play = scenario.play(None).unwrap();
    play.run_until(2.6, |_, _| {});
    let world = play.world();
    assert_eq!(world.assault().unwrap().tally.sent, 2);
    assert_eq!(world.stores(KEEPERS).of(SALT), 20);
    assert_eq!(world.entries()[0].name, "creek");
    let hut = play.unit_named("hut").unwrap();
    assert_eq!(world.endings()[0].when, Condition::Falls { unit: hut });
    let nipper = world.units().last().unwrap();
    assert!(nipper.position().distance(Vec2::new(1.5, 1.5)) <= 1.0);
}

#[test]
fn assaults_and_endings_in_scenarios_have_their_errors_with_their_place() {
    let cases = [
        ("at = [1.5, 1.5]", "at = [40, 1.5]"),
        (
            "at = [1.5, 1.5]\nspread = 1",
            "at = [6.5, 2.5]\nspread = 0.2",
        ),
        ("spread = 1", "spread = -1"),
        (
            "side = \"tide\"\nfirst_after",
            "side = \"tied\"\nfirst_after",
        ),
        ("leak_cost = { salt = 3 }", "leak_cost = { slat = 3 }"),
        ("leak_cost = { salt = 3 }", "leak_cost = { salt = -3 }"),
        ("leak_cost = { salt = 3 }", "leak_cost = { salt = 1.5 }"),
        ("leak_cost = { salt = 3 }\n", ""),
        ("leak_paid_by = \"keepers\"", ""),
        ("stores = { salt = 20 }", "stores = 20"),
        ("count = 2", "count = 0"),
        (
            "batch = [{ kind = \"nipper\", count = 2, spacing = 1 }]",
            "batch = []",
        ),
        (
            "batch = [{ kind = \"nipper\", count = 2, spacing = 1 }]",
            "",
        ),
        ("kind = \"nipper\", count", "kind = \"niper\", count"),
        ("spacing = 1 }", "spacing = 1, entry = \"crek\" }"),
        ("spacing = 1 }", "spacing = 1, gaol = \"pans\" }"),
        (
            "[[goal]]\nname = \"pans\"\nat = [14.5, 2.5]\nradius = 1\n",
            "",
        ),
        (
            "[[entry]]\nname = \"creek\"\nat = [1.5, 1.5]\nspread = 1\n",
            "",
        ),
        (
            "[assault]\nside = \"tide\"\nfirst_after = 1.5\nlull = 2\nleak_cost = { salt = 3 }\nleak_paid_by = \"keepers\"\n",
            "",
        ),
        (
            "rows = [\"................\"",
            "rows = [\"............####\"",
        ),
        ("..##########....", "################"),
        ("unit = \"hut\"", "unit = \"hutt\""),
        ("unit = \"hut\"", ""),
        ("when = \"falls\"", "when = \"fall\""),
        ("when = \"falls\"", "when = \"leaks\""),
        ("result = \"lost\"", "result = \"loss\""),
    ];
    let mut report = String::new();
    for (from, to) in cases {
        assert!(START.contains(from), "{from}");
        let text = START.replacen(from, to, 1);
        report += &format!(
            "{}  →  {}\n",
            from.replace('\n', " ⏎ "),
            to.replace('\n', " ⏎ ")
        );
        match Scenario::parse(&text) {
            Ok(_) => report += "sound\n",
            Err(errors) => {
                report += &format!("{errors}\n");
            }
        }
        report.push('\n');
    }
    insta::assert_snapshot!(report);
}
