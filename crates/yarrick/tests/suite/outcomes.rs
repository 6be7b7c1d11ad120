//! Whatever players do and whoever dies: every order ends exactly once, and what was ordered can
//! be written down and read again.

use crate::doors::Doors as _;
use proptest::prelude::*;
use std::collections::BTreeMap;
use yarrick::motion::formation::{Form, Formation};
use yarrick::scenario::ScriptWriter;
use yarrick::world::{Finish, MAX_QUEUED, OrderNo, Posture};
use yarrick::{Action, Command, Event, Outcome, Scenario, SideId, Spot, UnitId, Vec2, When, World};

/// Two sides that fall upon each other, a third that shares control with the first, a yard, a
/// pan, and an islet that nobody can reach.
const START: &str = r##"
[scenario]
title = "A scuffle"
[ground]
rows = '''
........................
............~~~~~.......
............~...~.......
............~~~~~.......
......#.................
......#.................
......#.................
........................
'''
legend = { "." = { name = "sand" }, "~" = { name = "creek", passable = false }, "#" = { name = "dyke", passable = false } }

[[side]]
name = "keepers"
[[side]]
name = "tide"
[[side]]
name = "reedfolk"
shares_control_with = ["keepers"]
[[side]]
name = "nobody"
neutral = true

[[kind]]
name = "raker"
rank = "worker"
radius = 0.4
speed = 2.0
health = 12
[[kind]]
name = "warden"
based_on = "raker"
rank = "fighter"
weapon = { range = 0.5, damage = 5, cooldown = 0.5 }
[[kind]]
name = "slinger"
based_on = "warden"
weapon = { range = 5, damage = 3, cooldown = 0.7 }
[[kind]]
name = "yard"
rank = "building"
radius = 1.0
speed = 0
[[kind]]
name = "pan"
rank = "deposit"
radius = 0.8
speed = 0

[[unit]]
kind = "raker"
side = "keepers"
at = [2, 2]
[[unit]]
kind = "warden"
side = "keepers"
at = [4, 2]
[[unit]]
kind = "slinger"
side = "keepers"
at = [3, 5]
[[unit]]
kind = "warden"
side = "reedfolk"
at = [1, 6]
[[unit]]
kind = "yard"
side = "keepers"
at = [1.5, 4]
[[unit]]
kind = "warden"
side = "tide"
at = [21, 2]
[[unit]]
kind = "slinger"
side = "tide"
at = [22, 5]
[[unit]]
kind = "slinger"
side = "tide"
at = [14, 5.5]
[[unit]]
kind = "pan"
side = "nobody"
at = [9, 2]
"##;

/// Who can be named in a whim: all nine, and one that never was.
const NAMED: u32 = 10;

fn id(number: u32) -> UnitId {
    UnitId::from_parts(number, 1)
}

fn point() -> impl Strategy<Value = Vec2> {
    let odd = prop_oneof![
        40 => -3.0_f32..27.0,
        1 => Just(f32::NAN),
        1 => Just(f32::INFINITY),
        1 => Just(1e30_f32),
    ];
    (odd, -3.0_f32..11.0).prop_map(|(x, y)| Vec2::new(x, y))
}

fn unit() -> impl Strategy<Value = UnitId> {
    (0..NAMED).prop_map(id)
}

fn spot() -> impl Strategy<Value = Spot> {
    prop_oneof![point().prop_map(Spot::Ground), unit().prop_map(Spot::Unit)]
}

fn action() -> impl Strategy<Value = Action> {
    let points = proptest::collection::vec(point(), 0..4);
    prop_oneof![
        3 => point().prop_map(Action::move_to),
        3 => point().prop_map(|to| Action::AttackMove { to }),
        2 => (points, any::<bool>()).prop_map(|(points, round)| Action::Patrol { points, round }),
        3 => march(),
        3 => unit().prop_map(|target| Action::Attack { target }),
        1 => (unit(), 0.0_f32..4.0, proptest::option::of(-7.0_f32..7.0)).prop_map(|(target, stand_off_m, side)| {
            Action::Approach { target, stand_off_m, side }
        }),
        1 => unit().prop_map(Action::follow),
        2 => spot().prop_map(|ward| Action::Guard { ward }),
        1 => finish(),
        1 => (unit(), -1.0_f32..9.0).prop_map(|(target, gap_m)| Action::Follow { target, gap_m }),
        1 => point().prop_map(|at| Action::AttackGround { at }),
        1 => (0_usize..4).prop_map(|k| Action::SetPosture { posture: Posture::WORDS[k].1 }),
        1 => Just(Action::Hold),
        1 => Just(Action::Stop),
        1 => (0_u32..60).prop_map(|order| Action::Cancel { order: OrderNo(order) }),
        1 => spot().prop_map(|to| Action::Rally { to }),
        3 => spot().prop_map(|at| Action::Context { at }),
    ]
}

/// A move that says how it ends; some make no sense.
fn finish() -> impl Strategy<Value = Action> {
    let facing = proptest::option::of(prop_oneof![9 => -7.0_f32..7.0, 1 => Just(f32::NAN)]);
    (point(), facing, -1.0_f32..9.0).prop_map(|(to, facing, within_m)| Action::Move {
        to,
        finish: Finish { facing, within_m },
    })
}

fn march() -> impl Strategy<Value = Action> {
    let form = (0..Form::WORDS.len()).prop_map(|k| Form::WORDS[k].1);
    let facing = proptest::option::of(prop_oneof![9 => -7.0_f32..7.0, 1 => Just(f32::NAN)]);
    let rest = (proptest::option::of(0_u16..9), any::<bool>(), any::<bool>());
    let slot = (-6.0_f32..6.0, -6.0_f32..6.0).prop_map(|(x, y)| Vec2::new(x, y));
    let shape = (form, proptest::collection::vec(slot, 0..4));
    (point(), shape, facing, rest).prop_map(|(to, (form, slots), facing, rest)| Action::March {
        to,
        formation: Formation {
            slots,
            form,
            facing,
            abreast: rest.0,
            slowest_leads: rest.1,
        },
        fight: rest.2,
    })
}

fn command() -> impl Strategy<Value = Command> {
    let when = prop_oneof![Just(When::Now), Just(When::Afterwards), Just(When::First)];
    let units = proptest::collection::vec(unit(), 0..6);
    // Side 4 there is none of.
    (0_u8..5, units, action(), when).prop_map(|(side, units, action, when)| Command {
        side: SideId(side),
        units,
        action,
        when,
    })
}

/// What happens before a tick: a command, a removal by the game, or nothing.
type Whim = (Option<Command>, Option<UnitId>);

fn whim() -> impl Strategy<Value = Whim> {
    let command = proptest::option::weighted(0.4, command());
    (command, proptest::option::weighted(0.01, unit()))
}

fn world() -> World {
    let play = Scenario::parse(START).unwrap().play(None).unwrap();
    play.world().clone()
}

/// How often each order has ended for each unit that took it up.
#[derive(Default)]
struct Books {
    ends: BTreeMap<(OrderNo, UnitId), u32>,
    lost: Vec<UnitId>,
}

impl Books {
    fn note(&mut self, world: &World, events: &[Event]) {
        for event in events {
            match event {
                Event::Ordered { order, units, .. } => {
                    self.ends
                        .extend(units.iter().map(|unit| ((*order, *unit), 0)));
                }
                Event::Ended {
                    order,
                    unit,
                    outcome,
                    ..
                } => {
                    let ends = self.ends.get_mut(&(*order, *unit));
                    *ends.expect("what ends was ordered") += 1;
                    assert!(*outcome != Outcome::UnitLost || world.unit(*unit).is_none());
                }
                Event::Gone { unit } => self.lost.push(*unit),
                _ => {}
            }
        }
        for unit in world.units() {
            assert!(unit.orders().len() <= MAX_QUEUED);
            let targets = unit.orders().filter_map(|order| order.target());
            for target in targets.chain(unit.foe()) {
                assert!(world.unit(target).is_some(), "nobody is about the dead");
            }
            for order in unit.orders() {
                assert_eq!(
                    self.ends[&(order.number(), unit.id())],
                    0,
                    "it is under way"
                );
            }
        }
    }
}

/// Whether each unit of a command took it up or was refused, once.
fn is_answered(command: &Command, events: &[Event]) -> bool {
    let whole = |event: &Event| matches!(event, Event::Refused { unit: None, .. });
    if events.iter().any(whole) {
        return true;
    }
    command.units.iter().all(|asked| {
        let answers = events.iter().map(|event| match event {
            Event::Ordered { units, .. } => units.iter().filter(|unit| *unit == asked).count(),
            Event::Refused { unit, .. } => usize::from(*unit == Some(*asked)),
            _ => 0,
        });
        answers.sum::<usize>() == 1
    })
}

proptest! {
    #![proptest_config(ProptestConfig {
        cases: 80,
        failure_persistence: None,
        ..ProptestConfig::default()
    })]

    #[test]
    fn every_order_ends_exactly_once(whims in proptest::collection::vec(whim(), 1..400)) {
        let mut world = world();
        let mut books = Books::default();
        for (command, removed) in whims {
            if let Some(command) = &command {
                world.submit(command.clone()).unwrap();
            }
            if let Some(unit) = removed {
                world.remove(unit);
            }
            let events = world.step().to_vec();
            if let Some(command) = &command {
                prop_assert!(is_answered(command, &events), "{:?}: {:?}", command, events);
            }
            books.note(&world, &events);
        }
        // Units that still have an order are ordered to stop.
        for side in 0..4 {
            let units = (0..NAMED).map(id).collect();
            let (action, when) = (Action::Stop, When::Now);
            world.submit(Command { side: SideId(side), units, action, when }).unwrap();
        }
        let events = world.step().to_vec();
        books.note(&world, &events);
        for ((order, unit), ends) in books.ends {
            prop_assert_eq!(ends, 1, "{} for {}", order, unit);
        }
    }

    #[test]
    fn what_was_ordered_can_be_written_down_and_read_again(
        whims in proptest::collection::vec(whim(), 1..200),
    ) {
        let mut world = world();
        let mut writer = ScriptWriter::default();
        let mut after = Vec::new();
        for (command, _) in whims {
            if let Some(command) = command {
                world.submit(command).unwrap();
            }
            let events = world.step().to_vec();
            writer.note(&world, &events);
            after.push(world.clone());
        }
        let again = Scenario::parse(&format!("{START}\n{}", writer.text()));
        let again = again.map_err(|errors| TestCaseError::fail(errors.to_string()))?;
        let mut play = again.play(None).unwrap();
        for (tick, world) in after.into_iter().enumerate() {
            play.step();
            if play.world().checksum() != world.checksum() {
                let difference = play.world().first_difference(&world);
                prop_assert!(false, "after tick {}: {:?}", tick + 1, difference);
            }
        }
    }
}

#[test]
fn in_such_runs_units_do_die() {
    // The properties above say little where nobody is ever struck down.
    let mut world = world();
    for (side, to) in [(0, Vec2::new(20.0, 3.0)), (1, Vec2::new(3.0, 3.0))] {
        let units = (0..NAMED).map(id).collect();
        let action = Action::AttackMove { to };
        let (side, when) = (SideId(side), When::Now);
        world
            .submit(Command {
                side,
                units,
                action,
                when,
            })
            .unwrap();
    }
    let mut books = Books::default();
    for _ in 0..600 {
        let events = world.step().to_vec();
        books.note(&world, &events);
    }
    assert!(books.lost.len() >= 3, "{:?}", books.lost);
}
