//! Formations: who stands where, how the shape is kept on the way, and what breaks it.

use crate::doors::Doors as _;
use crate::flats::{Flats, KEEPERS};
use proptest::prelude::*;
use yarrick::geom::angle;
use yarrick::motion::formation::{
    Form, Formation, FormationMember, MAX_OWN_SLOTS, arranged, placed,
};
use yarrick::route::Shortfall;
use yarrick::world::{MarchView, Refusal};
use yarrick::{Action, Outcome, UnitId, Vec2};

fn forms() -> impl Strategy<Value = Form> {
    (0..Form::WORDS.len()).prop_map(|k| Form::WORDS[k].1)
}

fn bodies() -> impl Strategy<Value = Vec<(FormationMember, Vec2)>> {
    let body = (0.2_f32..1.5, 0_u8..3, -20.0_f32..20.0, -20.0_f32..20.0);
    let body = body.prop_map(|(radius, rank, x, y)| {
        // A few widths only, as in a roster.
        let radius_m = (radius * 3.0).ceil() / 3.0;
        (FormationMember { radius_m, rank }, Vec2::new(x, y))
    });
    proptest::collection::vec(body, 0..90)
}

proptest! {
    #[test]
    fn no_two_stand_in_one_another_and_the_foremost_rank_is_in_front(
        form in forms(), members in bodies(), abreast in proptest::option::of(0_u16..12), facing in -3.0_f32..3.0,
    ) {
        let (bodies, from): (Vec<FormationMember>, Vec<Vec2>) = members.into_iter().unzip();
        let formation = Formation { abreast, ..Formation::new(form) };
        let offsets = arranged(&formation, &bodies, &from, facing);
        prop_assert_eq!(offsets.len(), bodies.len());
        for (k, a) in offsets.iter().enumerate() {
            prop_assert!(a.is_finite());
            for (j, b) in offsets[..k].iter().enumerate() {
                let apart = bodies[k].radius_m + bodies[j].radius_m;
                prop_assert!(a.distance(*b) >= apart, "{k} at {a} and {j} at {b}");
                if bodies[k].rank < bodies[j].rank {
                    let (front, behind) = (a.x - bodies[k].radius_m, b.x - bodies[j].radius_m);
                    prop_assert!(front >= behind - 3.0, "{a} is behind {b}");
                }
                if form == Form::Line && bodies[k].rank < bodies[j].rank {
                    prop_assert!(a.x > b.x, "rank {} at {a}, rank {} at {b}", bodies[k].rank, bodies[j].rank);
                }
            }
        }
    }

    #[test]
    fn swapping_two_alike_never_shortens_the_ways(members in bodies(), form in forms(), facing in -3.0_f32..3.0) {
        let (bodies, from): (Vec<FormationMember>, Vec<Vec2>) = members.into_iter().unzip();
        let offsets = arranged(&Formation::new(form), &bodies, &from, facing);
        let middle = from.iter().copied().sum::<Vec2>() / from.len().max(1) as f32;
        let slot = |k: usize| placed(offsets[k], middle, facing);
        for k in 0..bodies.len() {
            for j in 0..k {
                if bodies[k] == bodies[j] {
                    let now = from[k].distance_squared(slot(k)) + from[j].distance_squared(slot(j));
                    let swapped = from[k].distance_squared(slot(j)) + from[j].distance_squared(slot(k));
                    prop_assert!(swapped > now * 0.998 - 0.05, "{swapped} against {now}");
                }
            }
        }
    }
}

fn march(to: Vec2, formation: Formation) -> Action {
    let fight = false;
    Action::March {
        to,
        formation,
        fight,
    }
}

/// So many wardens and slingers in a heap on open sand.
fn host(wardens: u32, slingers: u32) -> (Flats, Vec<UnitId>) {
    let mut flats = Flats::open(60);
    let mut units = Vec::new();
    for k in 0..wardens + slingers {
        let kind = if k < wardens { "warden" } else { "slinger" };
        let (x, y) = (5.0 + 1.1 * (k % 5) as f32, 20.0 + 1.1 * (k / 5) as f32);
        units.push(flats.put(kind, KEEPERS, x, y));
    }
    (flats, units)
}

fn the_march(flats: &Flats) -> Option<MarchView> {
    flats.world.marches().next()
}

/// How far each member is off its slot, in metres.
fn off_slots(flats: &Flats) -> Vec<f32> {
    let march = the_march(flats).expect("a march under way");
    march
        .slots
        .iter()
        .map(|(unit, slot)| flats.at(*unit).distance(*slot))
        .collect()
}

fn all_done(flats: &Flats, units: &[UnitId]) -> bool {
    units
        .iter()
        .all(|unit| flats.outcomes(*unit) == [(1, Outcome::Done)])
}

#[test]
fn every_shape_is_kept_on_the_way_and_stands_at_the_end() {
    for (word, form) in Form::WORDS {
        let (mut flats, units) = host(10, 6);
        let to = Vec2::new(45.0, 30.0);
        flats.order(
            &units,
            march(
                to,
                Formation {
                    facing: Some(0.0),
                    ..Formation::new(form)
                },
            ),
        );
        flats.run(16.0);
        let off = off_slots(&flats);
        assert!(
            off.iter().all(|off| *off < 0.9),
            "{word}, under way: {off:?}"
        );
        let goals: Vec<Vec2> = units
            .iter()
            .map(|unit| {
                flats
                    .world
                    .unit(*unit)
                    .unwrap()
                    .current_order()
                    .unwrap()
                    .place()
                    .unwrap()
                    .at
            })
            .collect();
        flats.run_until(60.0, |world| {
            world.marches().next().is_none() && world.units().all(|unit| !unit.has_orders())
        });
        assert!(all_done(&flats, &units), "{word}");
        for (unit, goal) in units.iter().zip(goals) {
            assert!(
                flats.at(*unit).distance(goal) < 0.1,
                "{word}: {} is off its place",
                flats.at(*unit)
            );
        }
        // Close fighters stand in front, looking along x.
        if form != Form::Wedge {
            let rearmost = units[..10]
                .iter()
                .map(|unit| flats.at(*unit).x)
                .fold(f32::INFINITY, f32::min);
            let foremost = units[10..]
                .iter()
                .map(|unit| flats.at(*unit).x)
                .fold(0.0, f32::max);
            assert!(
                rearmost >= foremost - 0.2,
                "{word}: {rearmost} and {foremost}"
            );
        }
    }
}

#[test]
fn the_slowest_sets_the_pace_if_wanted() {
    let x_after = |slowest_leads: bool| {
        let (mut flats, mut units) = host(4, 0);
        units.push(flats.put("hulk", KEEPERS, 8.0, 23.0));
        let formation = Formation {
            slowest_leads,
            ..Formation::new(Form::Line)
        };
        flats.order(&units, march(Vec2::new(50.0, 22.0), formation));
        flats.run(14.0);
        let x: Vec<f32> = units.iter().map(|unit| flats.at(*unit).x).collect();
        (x[..4].iter().sum::<f32>() / 4.0, x[4])
    };
    let (wardens, hulk) = x_after(true);
    assert!((wardens - hulk).abs() < 1.5, "{wardens} beside {hulk}");
    let (wardens, hulk) = x_after(false);
    assert!(wardens > hulk + 5.0, "{wardens} ahead of {hulk}");
}

#[test]
fn a_gate_breaks_the_shape_and_it_forms_again() {
    let row = |gate: bool| {
        format!(
            "{}{}{}",
            ".".repeat(24),
            if gate { '.' } else { '#' },
            ".".repeat(24)
        )
    };
    let rows: Vec<String> = (0..30).map(|y| row((13..17).contains(&y))).collect();
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let mut flats = Flats::of(&rows);
    let units: Vec<UnitId> = (0..14)
        .map(|k| flats.put("warden", KEEPERS, 5.0, 6.0 + 1.3 * k as f32))
        .collect();
    flats.order(
        &units,
        march(Vec2::new(44.0, 15.0), Formation::new(Form::Line)),
    );
    let widest = |flats: &Flats| {
        let y = units.iter().map(|unit| flats.at(*unit).y);
        y.clone().fold(0.0, f32::max) - y.fold(f32::INFINITY, f32::min)
    };
    flats.run_until(60.0, |world| {
        world
            .units()
            .all(|unit| (21.0..28.0).contains(&unit.position().x))
    });
    assert!(
        widest(&flats) < 9.0,
        "it is narrow in the gate: {}",
        widest(&flats)
    );
    flats.run_until(60.0, |world| {
        world.units().all(|unit| unit.position().x > 35.0)
    });
    assert!(
        widest(&flats) > 13.0,
        "it is wide again beyond it: {}",
        widest(&flats)
    );
    let off = off_slots(&flats);
    assert!(
        off.iter().filter(|off| **off < 1.0).count() >= 12,
        "{off:?}"
    );
    flats.run(40.0);
    assert!(all_done(&flats, &units));
}

#[test]
fn the_gaps_of_those_that_are_gone_close() {
    let (mut flats, units) = host(12, 0);
    flats.order(
        &units,
        march(Vec2::new(50.0, 30.0), Formation::new(Form::Line)),
    );
    flats.run(10.0);
    for unit in &units[4..8] {
        flats.world.remove(*unit);
    }
    flats.run(8.0);
    let march = the_march(&flats).unwrap();
    assert_eq!(march.slots.len(), 8);
    let off = off_slots(&flats);
    assert!(off.iter().all(|off| *off < 0.9), "{off:?}");
    let mut aside: Vec<f32> = march.slots.iter().map(|(_, slot)| slot.y).collect();
    aside.sort_by(f32::total_cmp);
    assert!(
        aside.windows(2).all(|pair| pair[1] - pair[0] < 1.4),
        "{aside:?}"
    );
    flats.run(40.0);
    let left: Vec<UnitId> = units
        .iter()
        .copied()
        .filter(|unit| flats.lives(*unit))
        .collect();
    assert!(all_done(&flats, &left));
}

#[test]
fn it_looks_where_it_was_ordered_or_the_way_that_it_came() {
    for (facing, expected) in [(None, 0.0_f32), (Some(2.0), 2.0)] {
        let (mut flats, units) = host(8, 0);
        let formation = Formation {
            facing,
            ..Formation::new(Form::Line)
        };
        flats.order(&units, march(Vec2::new(40.0, 21.0), formation));
        flats.run(50.0);
        assert!(all_done(&flats, &units));
        // A line lies across the way that it looks.
        let (first, last) = (flats.at(units[0]), flats.at(units[7]));
        let along = (last - first)
            .normalize()
            .dot(angle::direction(expected))
            .abs();
        assert!(along < 0.1, "{facing:?}: the line lies {along} along it");
    }
}

#[test]
fn places_on_closed_ground_move_to_free_ground_and_what_is_too_much_comes_short() {
    // An islet of sand with room for a few, which a causeway leads to.
    let rows: Vec<String> = (0..30)
        .map(|y| match y {
            13..17 => format!("{}..........{}", ".".repeat(20), "~".repeat(20)),
            _ => format!("{}{}", ".".repeat(20), "~".repeat(30)),
        })
        .collect();
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let mut flats = Flats::of(&rows);
    let units: Vec<UnitId> = (0..12)
        .map(|k| flats.put("warden", KEEPERS, 4.0, 4.0 + 1.5 * k as f32))
        .collect();
    flats.order(
        &units,
        march(
            Vec2::new(26.0, 15.0),
            Formation {
                facing: Some(0.0),
                ..Formation::new(Form::Line)
            },
        ),
    );
    flats.run(1.0);
    let places: Vec<Vec2> = units
        .iter()
        .map(|unit| {
            flats
                .world
                .unit(*unit)
                .unwrap()
                .current_order()
                .unwrap()
                .place()
                .unwrap()
                .at
        })
        .collect();
    for (k, place) in places.iter().enumerate() {
        assert!(flats.world.ground().disc_is_clear(*place, 0.45), "{place}");
        assert!(
            places[..k]
                .iter()
                .all(|other| other.distance(*place) >= 0.89),
            "{place}"
        );
    }
    flats.run(60.0);
    assert!(all_done(&flats, &units));

    // A formation larger than all the free ground.
    let mut flats = Flats::of(&["~~~~~~", "~....~", "~....~", "~~~~~~"]);
    let units: Vec<UnitId> = (0..6)
        .map(|k| {
            flats.put(
                "warden",
                KEEPERS,
                1.5 + 0.95 * (k % 3) as f32,
                1.5 + 0.95 * (k / 3) as f32,
            )
        })
        .collect();
    flats.order(
        &units,
        march(Vec2::new(2.0, 2.0), Formation::new(Form::Loose)),
    );
    flats.run(60.0);
    for unit in &units {
        let outcomes = flats.outcomes(*unit);
        assert!(
            matches!(
                outcomes[..],
                [(
                    1,
                    Outcome::Done
                        | Outcome::CameShort {
                            why: Shortfall::Crowded,
                            ..
                        }
                )]
            ),
            "{outcomes:?}"
        );
    }
}

#[test]
fn facings_that_are_no_angles_are_refused() {
    let (mut flats, units) = host(3, 0);
    for facing in [f32::NAN, f32::INFINITY, 1e9] {
        let formation = Formation {
            facing: Some(facing),
            ..Formation::new(Form::Line)
        };
        flats.order(&units, march(Vec2::new(20.0, 20.0), formation));
    }
    let events = flats.run(0.1);
    assert_eq!(crate::flats::refusals(&events), [Refusal::BadPoint; 3]);
}

#[test]
fn slots_of_a_formations_own_are_kept_and_the_rest_stand_behind() {
    // A horn that opens ahead; three more wardens and two slingers are for the lines behind it.
    let slots: Vec<Vec2> = (-3..=3)
        .map(|k: i32| Vec2::new(0.7 * k.abs() as f32, 1.2 * k as f32))
        .collect();
    let (mut flats, units) = host(10, 2);
    let to = Vec2::new(45.0, 30.0);
    let formation = Formation {
        facing: Some(0.0),
        ..Formation::of_slots(slots.clone())
    };
    flats.order(&units, march(to, formation));
    flats.run(14.0);
    assert!(off_slots(&flats).iter().all(|off| *off < 0.9));
    flats.run(30.0);
    assert!(all_done(&flats, &units));
    let stands_at = |slot: &Vec2| {
        let there = |unit: &&UnitId| flats.at(**unit).distance(to + *slot) < 0.1;
        units[..10].iter().filter(there).count() == 1
    };
    assert!(slots.iter().all(stands_at));
    let behind = |unit: &&UnitId| flats.at(**unit).x < to.x - 0.8;
    assert_eq!(units[..10].iter().filter(behind).count(), 3);
    assert_eq!(units[10..].iter().filter(behind).count(), 2);
    // Where two of the horn stay behind, others take their slots.
    let in_horn = units[..10].iter().filter(|unit| !behind(unit));
    let stay: Vec<UnitId> = in_horn.take(2).copied().collect();
    let left: Vec<UnitId> = units
        .iter()
        .copied()
        .filter(|unit| !stay.contains(unit))
        .collect();
    let there = Vec2::new(15.0, 30.0);
    flats.order(&left, march(there, Formation::of_slots(slots.clone())));
    flats.run(40.0);
    let heads = slots.iter().filter(|slot| {
        let at = placed(**slot, there, core::f32::consts::PI);
        left.iter().any(|unit| flats.at(*unit).distance(at) < 0.2)
    });
    assert_eq!(heads.count(), slots.len());
}

#[test]
fn slots_that_make_no_sense_are_refused() {
    let (mut flats, units) = host(3, 0);
    let far = |x| Formation::of_slots(vec![Vec2::ZERO, Vec2::new(x, 0.0)]);
    let many = Formation::of_slots(vec![Vec2::ZERO; MAX_OWN_SLOTS + 1]);
    for formation in [far(f32::NAN), far(f32::NEG_INFINITY), far(1e4), many] {
        flats.order(&units, march(Vec2::new(20.0, 20.0), formation));
    }
    let events = flats.run(0.1);
    assert_eq!(crate::flats::refusals(&events), [Refusal::BadNumber; 4]);
    // All in one point: each takes up the nearest place that is free.
    let heap = Formation::of_slots(vec![Vec2::ZERO; 3]);
    flats.order(&units, march(Vec2::new(20.0, 20.0), heap));
    flats.run(30.0);
    assert!(all_done_last(&flats, &units));
}

/// Whether the last order of each ended as it should.
fn all_done_last(flats: &Flats, units: &[UnitId]) -> bool {
    let last = |unit: &UnitId| flats.outcomes(*unit).last().map(|(_, outcome)| *outcome);
    units.iter().all(|unit| last(unit) == Some(Outcome::Done))
}

#[test]
fn one_alone_marches_too_and_another_order_ends_it() {
    let (mut flats, units) = host(5, 0);
    flats.order(
        &units[..1],
        march(Vec2::new(30.0, 30.0), Formation::new(Form::Wedge)),
    );
    flats.run(30.0);
    assert_eq!(flats.outcomes(units[0]), [(1, Outcome::Done)]);
    flats.order(
        &units,
        march(Vec2::new(50.0, 10.0), Formation::new(Form::Block)),
    );
    flats.run(3.0);
    assert!(the_march(&flats).is_some());
    flats.order(&units, Action::Stop);
    flats.run(0.2);
    assert!(the_march(&flats).is_none());
}
