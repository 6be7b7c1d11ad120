//! Production: queues of buildings, and how units come out of them.

use crate::marsh::{KEEPERS, Marsh, PAN, RACK, RAKER, SALT, SALTHOUSE, WARDEN, YARD};
use proptest::prelude::*;
use yarrick::world::{Change, KindId, Refusal};
use yarrick::{Action, Event, Spot, UnitId, Vec2, When};

fn produced(events: &[Event]) -> Vec<UnitId> {
    let produced = events.iter().filter_map(|event| match event {
        Event::Produced { unit, .. } => Some(*unit),
        _ => None,
    });
    produced.collect()
}

fn refused(events: &[Event]) -> Vec<Refusal> {
    let refused = events.iter().filter_map(|event| match event {
        Event::Refused { why, .. } => Some(*why),
        _ => None,
    });
    refused.collect()
}

fn produce(kind: KindId) -> Action {
    Action::Produce { kind }
}

#[test]
fn a_unit_is_paid_for_when_queued_and_comes_out_towards_the_rally_point() {
    let mut marsh = Marsh::open(30);
    let yard = marsh.put(YARD, 15.0, 15.0);
    let (to, then) = (Vec2::new(15.0, 27.0), Vec2::new(25.0, 27.0));
    let rally = |to| Action::Rally {
        to: Spot::Ground(to),
    };
    marsh.order(&[yard], rally(to));
    let side = KEEPERS;
    let (units, action, when) = (vec![yard], rally(then), When::Afterwards);
    let command = yarrick::Command {
        side,
        units,
        action,
        when,
    };
    marsh.world.submit(command).unwrap();
    marsh.order(&[yard], produce(WARDEN));
    marsh.order(&[yard], produce(RAKER));
    marsh.run(0.05);
    assert_eq!(marsh.salt(), 30 - 8 - 6);
    let events = marsh.run(2.0);
    let line = marsh.world.unit(yard).unwrap().production().unwrap();
    assert_eq!(line.items().len(), 2);
    assert!((line.progress().unwrap() - 2.05 / 3.0).abs() < 0.02);
    assert!(produced(&events).is_empty());
    let warden = produced(&marsh.run(1.0))[0];
    let at = marsh.world.unit(warden).unwrap();
    assert_eq!(at.kind_id(), WARDEN);
    assert!(
        at.position().y > 16.5,
        "it comes out at the top: {}",
        at.position()
    );
    assert_eq!(at.orders().len(), 2, "to one point after the other");
    let raker = produced(&marsh.run(2.1))[0];
    marsh.run(15.0);
    for unit in [warden, raker] {
        assert!(marsh.world.unit(unit).unwrap().position().distance(then) < 1.5);
    }
}

#[test]
fn what_is_cancelled_is_refunded_and_so_is_the_queue_of_a_lost_yard() {
    let mut marsh = Marsh::open(30);
    let yard = marsh.put(YARD, 15.0, 15.0);
    for kind in [WARDEN, RAKER, WARDEN] {
        marsh.order(&[yard], produce(kind));
    }
    marsh.run(1.0);
    assert_eq!(marsh.salt(), 30 - 8 - 6 - 8);
    marsh.order(&[yard], Action::CancelProduction { place: 1 });
    marsh.order(&[yard], Action::CancelProduction { place: 7 });
    let events = marsh.run(0.05);
    assert_eq!(
        (marsh.salt(), refused(&events)),
        (30 - 16, vec![Refusal::NoSuchPlace])
    );
    let unit = yard;
    marsh.world.change(Change::Remove { unit }).unwrap();
    marsh.run(0.05);
    assert_eq!((marsh.salt(), marsh.all_of(SALT)), (30, 30));
}

#[test]
fn production_is_refused_with_the_reason() {
    let mut marsh = Marsh::open(30);
    let yard = marsh.put(YARD, 15.0, 15.0);
    let pan = marsh.put(PAN, 5.0, 5.0);
    for _ in 0..4 {
        marsh.order(&[yard], produce(RAKER));
    }
    marsh.order(&[yard], produce(RACK));
    marsh.order(&[pan], produce(RAKER));
    marsh.order(&[yard], produce(KindId(99)));
    let events = marsh.run(0.05);
    use Refusal::{CannotProduce, LineFull};
    assert_eq!(
        refused(&events),
        [LineFull, CannotProduce, CannotProduce, CannotProduce]
    );
    assert_eq!(marsh.salt(), 12);
    let house = marsh.put_later(SALTHOUSE, 24.0, 8.0);
    for _ in 0..3 {
        marsh.order(&[house], produce(RAKER));
    }
    let events = marsh.run(0.05);
    let [Refusal::NotAffordable(missing)] = refused(&events)[..] else {
        panic!("{events:?}");
    };
    assert_eq!((missing.resource, missing.amount), (SALT, 6));
}

#[test]
fn what_finds_no_room_waits_and_says_so_once() {
    // A court in which there is room for nobody else.
    let mut rows = vec!["#".repeat(30); 30];
    for row in rows.iter_mut().skip(13).take(3) {
        row.replace_range(13..16, "...");
    }
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let mut marsh = Marsh::of(&rows, 30);
    let yard = marsh.put(YARD, 14.5, 15.5);
    marsh.order(&[yard], produce(WARDEN));
    marsh.order(&[yard], produce(RAKER));
    let events = marsh.run(20.0);
    let waits = events
        .iter()
        .filter(|event| matches!(event, Event::NoWayOut { .. }));
    assert_eq!((waits.count(), produced(&events).len()), (1, 0));
    let line = marsh.world.unit(yard).unwrap().production().unwrap();
    assert_eq!((line.items().len(), line.progress()), (2, Some(1.0)));
    // A gap opens: both come out, one after the other.
    let cells = (16..20).flat_map(|x| (12..18).map(move |y| yarrick::ground::Cell::new(x, y)));
    let change = Change::SetTerrain {
        cells: cells.collect(),
        terrain: 0,
    };
    marsh.world.change(change).unwrap();
    let events = marsh.run(4.0);
    assert_eq!(produced(&events).len(), 2);
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 40, failure_persistence: None, ..ProptestConfig::default() })]

    /// Nobody comes out within another or in a wall.
    #[test]
    fn units_come_out_on_free_ground(
        x in 6.0_f32..24.0, y in 6.0_f32..24.0, facing in -3.0_f32..3.0,
        crowd in proptest::collection::vec((4.0_f32..26.0, 4.0_f32..26.0), 0..30),
        rally in proptest::option::of((1.0_f32..29.0, 1.0_f32..29.0)),
    ) {
        let mut marsh = Marsh::open(200);
        let yard = marsh.world.spawn(YARD, KEEPERS, Vec2::new(x, y), facing).unwrap();
        for (x, y) in crowd {
            let _ = marsh.world.spawn(WARDEN, KEEPERS, Vec2::new(x, y), 0.0);
        }
        if let Some(to) = rally {
            let to = Spot::Ground(to.into());
            marsh.order(&[yard], Action::Rally { to });
        }
        for _ in 0..3 {
            marsh.order(&[yard], produce(RAKER));
        }
        for _ in 0..140 {
            for unit in produced(&marsh.run(0.05)) {
                let unit = marsh.world.unit(unit).unwrap();
                // It has moved for a tick.
                let radius = unit.radius() - 0.11;
                prop_assert!(marsh.world.ground().disc_is_clear(unit.position(), radius));
                for other in marsh.world.units().filter(|other| other.id() != unit.id()) {
                    let gap = match other.block() {
                        Some(block) => block.distance(unit.position()),
                        None => other.position().distance(unit.position()) - other.radius(),
                    };
                    prop_assert!(gap > radius, "{}", gap);
                }
            }
        }
    }
}
