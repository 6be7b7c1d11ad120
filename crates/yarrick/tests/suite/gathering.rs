//! Gathering: the round of a worker, and what can go wrong on it.

use crate::marsh::{BED, KEEPERS, Marsh, PAN, RACK, RAKER, REED, SALT, SALTHOUSE, TIDE, setup};
use proptest::prelude::*;
use yarrick::economy::Load;
use yarrick::world::{Change, Failure, Refusal, Verb};
use yarrick::{Action, Event, Outcome, Spot, UnitId, Vec2};

fn deliveries(events: &[Event]) -> Vec<(UnitId, UnitId, u32)> {
    let delivered = events.iter().filter_map(|event| match event {
        Event::Delivered { unit, depot, load } => Some((*unit, *depot, load.amount)),
        _ => None,
    });
    delivered.collect()
}

fn ended(events: &[Event], of: UnitId) -> Vec<Outcome> {
    let ended = events.iter().filter_map(|event| match event {
        Event::Ended { unit, outcome, .. } if *unit == of => Some(*outcome),
        _ => None,
    });
    ended.collect()
}

fn remove(marsh: &mut Marsh, unit: UnitId) {
    marsh.world.change(Change::Remove { unit }).unwrap();
}

#[test]
fn a_raker_goes_its_round_until_nothing_is_left_and_says_so() {
    let mut marsh = Marsh::open(0);
    let house = marsh.put(SALTHOUSE, 6.0, 15.0);
    let pan = marsh.put(PAN, 20.0, 15.0);
    let raker = marsh.put(RAKER, 12.0, 12.0);
    marsh.order(&[raker], Action::Gather { target: pan });
    let events = marsh.run(20.0);
    // Three strokes to the first item of four, then every fourth.
    let items: Vec<usize> = (0..)
        .zip(
            events
                .iter()
                .filter(|event| matches!(event, Event::Stroke { .. })),
        )
        .filter(|(_, event)| matches!(event, Event::Stroke { item: true, .. }))
        .map(|(stroke, _)| stroke)
        .collect();
    assert_eq!(items[..5], [2, 6, 10, 14, 18]);
    assert_eq!(deliveries(&events)[0], (raker, house, 5));
    // By the entrance, which is on the side it faces.
    let at = marsh.world.unit(raker).unwrap();
    assert_eq!(at.slots().len(), 0);
    let events = marsh.run(300.0);
    assert_eq!(ended(&events, raker), [failed(Failure::NothingLeft)]);
    assert_eq!(
        (marsh.salt(), marsh.world.unit(raker).unwrap().load()),
        (40, None)
    );
    let pan = marsh.world.unit(pan).unwrap();
    assert_eq!(pan.deposit().unwrap().left, 0);
    assert!(pan.slots().iter().all(Option::is_none));
}

fn failed(why: Failure) -> Outcome {
    Outcome::Failed { why }
}

#[test]
fn a_load_is_handed_in_on_the_side_of_the_entrance() {
    let mut marsh = Marsh::open(0);
    // It faces east; the pan lies west of it.
    let house = marsh.put(SALTHOUSE, 18.0, 15.0);
    let pan = marsh.put(PAN, 8.0, 15.0);
    let raker = marsh.put(RAKER, 10.0, 12.0);
    marsh.order(&[raker], Action::Gather { target: pan });
    while deliveries(&marsh.events).is_empty() {
        marsh.run(0.05);
        assert!(marsh.world.tick() < 1000);
    }
    let at = marsh.world.unit(raker).unwrap().position();
    let edge = marsh.world.unit(house).unwrap().position() + Vec2::new(2.0, 0.0);
    assert!(at.x > edge.x && at.distance(edge) < 1.6, "{at}");
}

#[test]
fn slots_are_shared_by_no_two_and_those_without_one_wait_or_go_elsewhere() {
    let mut marsh = Marsh::open(0);
    marsh.put(RACK, 15.0, 5.0);
    let near = marsh.put(PAN, 15.0, 15.0);
    let other = marsh.put(PAN, 20.0, 15.0);
    let far = marsh.put(PAN, 15.0, 28.0);
    let rakers: Vec<UnitId> = (0..8)
        .map(|k| marsh.put(RAKER, 10.0 + k as f32, 10.0))
        .collect();
    marsh.order(&rakers, Action::Gather { target: near });
    for _ in 0..400 {
        marsh.run(0.05);
        let mut holders: Vec<UnitId> = Vec::new();
        for pan in [near, other, far] {
            holders.extend(marsh.world.unit(pan).unwrap().slots().iter().flatten());
        }
        let count = holders.len();
        holders.sort_unstable();
        holders.dedup();
        assert_eq!(holders.len(), count);
    }
    let left = |pan| marsh.world.unit(pan).unwrap().deposit().unwrap().left;
    assert!(left(near) < 40 && left(other) < 40);
    assert_eq!(left(far), 40, "it lies farther than they look on");
}

#[test]
fn the_depot_with_the_shortest_way_is_taken_and_not_the_nearest_as_the_crow_flies() {
    let mut rows = vec![".".repeat(30); 30];
    // A dyke right of the pan, round which the way to the rack behind it is long.
    for row in rows.iter_mut().take(28) {
        row.replace_range(18..19, "#");
    }
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let mut marsh = Marsh::of(&rows, 0);
    let behind = marsh.put(RACK, 20.0, 20.0);
    let open = marsh.put(RACK, 8.0, 20.0);
    let pan = marsh.put(PAN, 16.0, 20.0);
    let raker = marsh.put(RAKER, 15.0, 17.0);
    marsh.order(&[raker], Action::Gather { target: pan });
    let events = marsh.run(30.0);
    assert!(deliveries(&events).len() > 1);
    assert!(
        deliveries(&events)
            .iter()
            .all(|(_, depot, _)| *depot == open)
    );
    // That one is lost while it carries: it takes the other, if it takes long.
    while marsh
        .world
        .unit(raker)
        .unwrap()
        .load()
        .is_none_or(|load| load.amount < 5)
    {
        marsh.run(0.05);
    }
    remove(&mut marsh, open);
    let events = marsh.run(60.0);
    assert_eq!(deliveries(&events)[0], (raker, behind, 5));
    // Then there is none: it stands, says so, and keeps what it carries.
    remove(&mut marsh, behind);
    let events = marsh.run(60.0);
    assert_eq!(ended(&events, raker), [failed(Failure::NoDepot)]);
    let load = marsh.world.unit(raker).unwrap().load();
    assert_eq!(load.map(|load| load.resource), Some(SALT));
    assert_eq!(marsh.all_of(SALT), 40);
}

#[test]
fn who_carries_another_resource_hands_that_in_first() {
    let mut marsh = Marsh::open(0);
    let rack = marsh.put(RACK, 15.0, 5.0);
    let (pan, bed) = (marsh.put(PAN, 12.0, 15.0), marsh.put(BED, 18.0, 15.0));
    let raker = marsh.put(RAKER, 12.0, 12.0);
    marsh.order(&[raker], Action::Gather { target: pan });
    while marsh.world.unit(raker).unwrap().load().is_none() {
        marsh.run(0.05);
    }
    marsh.order(&[raker], Action::Gather { target: bed });
    let events = marsh.run(20.0);
    assert_eq!(deliveries(&events)[0], (raker, rack, 1));
    let reed = marsh.world.stores(KEEPERS).of(REED);
    assert!(reed > 0 && marsh.salt() == 1);
    // It is interrupted in between, and takes the round up again without a stroke lost.
    let at = Vec2::new(25.0, 25.0);
    marsh.order(&[raker], Action::move_to(at));
    marsh.run(12.0);
    assert_eq!(marsh.world.unit(raker).unwrap().position(), at);
    let bed = marsh.world.unit(bed).unwrap();
    assert!(bed.slots().iter().all(Option::is_none), "its slot is free");
}

#[test]
fn gathering_is_refused_to_those_who_cannot_and_where_nothing_is() {
    let mut marsh = Marsh::open(0);
    let house = marsh.put(SALTHOUSE, 6.0, 15.0);
    let pan = marsh.put(PAN, 20.0, 15.0);
    let raker = marsh.put(RAKER, 12.0, 12.0);
    let foe = marsh
        .world
        .spawn(RACK, TIDE, Vec2::new(25.0, 25.0), 0.0)
        .unwrap();
    for (unit, action) in [
        (raker, Action::Gather { target: house }),
        (house, Action::Gather { target: pan }),
        (raker, Action::Deliver { target: pan }),
        (raker, Action::Deliver { target: foe }),
    ] {
        marsh.order(&[unit], action);
    }
    let events = marsh.run(0.05);
    let refused: Vec<Refusal> = events
        .iter()
        .filter_map(|event| match event {
            Event::Refused { why, .. } => Some(*why),
            _ => None,
        })
        .collect();
    use Refusal::{CannotGather, NoDeposit, NoDepot};
    assert_eq!(refused, [NoDeposit, CannotGather, NoDepot, NoDepot]);
    // What fits a click.
    for (at, verb) in [(pan, Verb::Gather), (house, Verb::Deliver)] {
        let at = Spot::Unit(at);
        marsh.order(&[raker], Action::Context { at });
        let events = marsh.run(0.05);
        let became = events.iter().find_map(|event| match event {
            Event::Ordered { became, .. } => Some(became.clone()),
            _ => None,
        });
        assert_eq!(became, Some(vec![(verb, 1)]));
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 60, failure_persistence: None, ..ProptestConfig::default() })]

    /// Salt and reed are neither made nor lost, whoever dies or leaves; no slot is held by one who is gone.
    #[test]
    fn what_there_is_stays_the_same_in_every_tick(
        pans in proptest::collection::vec((3.0_f32..27.0, 3.0_f32..27.0, any::<bool>()), 1..4),
        depots in proptest::collection::vec((3.0_f32..27.0, 3.0_f32..27.0, any::<bool>()), 0..3),
        rakers in proptest::collection::vec((1.0_f32..29.0, 1.0_f32..29.0), 1..8),
        deeds in proptest::collection::vec((0_u32..1200, 0_usize..30, 0_u8..4), 0..12),
    ) {
        let mut marsh = Marsh::open(20);
        let mut deposits = Vec::new();
        for (x, y, is_pan) in pans {
            let kind = if is_pan { PAN } else { BED };
            deposits.extend(marsh.world.spawn(kind, KEEPERS, Vec2::new(x, y), 0.0));
        }
        for (x, y, is_rack) in depots {
            let kind = if is_rack { RACK } else { SALTHOUSE };
            // Some do not fit.
            let _ = marsh.world.spawn(kind, KEEPERS, Vec2::new(x, y), 0.0);
        }
        let mut workers = Vec::new();
        for (x, y) in rakers {
            workers.extend(marsh.world.spawn(RAKER, KEEPERS, Vec2::new(x, y), 0.0));
        }
        prop_assume!(!deposits.is_empty());
        for (nth, worker) in workers.iter().enumerate() {
            marsh.order(&[*worker], Action::Gather { target: deposits[nth % deposits.len()] });
        }
        let (salt, reed) = (marsh.all_of(SALT), marsh.all_of(REED));
        for tick in 0..1200 {
            for (_, nth, deed) in deeds.iter().filter(|(at, ..)| *at == tick) {
                let unit = marsh.world.units().nth(*nth).map(|unit| unit.id());
                let Some(unit) = unit else { continue };
                let change = match deed {
                    0 => Change::Remove { unit },
                    1 => Change::Harm { unit, damage: 1e6, by: None },
                    2 => Change::ChangeKind { unit, kind: RACK },
                    _ => Change::ChangeSide { unit, side: TIDE },
                };
                marsh.world.change(change).unwrap();
            }
            marsh.run(0.05);
            prop_assert_eq!((marsh.all_of(SALT), marsh.all_of(REED)), (salt, reed), "tick {}", tick);
            for unit in marsh.world.units() {
                for holder in unit.slots().iter().flatten() {
                    let holder = marsh.world.unit(*holder);
                    prop_assert!(holder.is_some_and(|holder| holder.has_orders()));
                }
                let carries = unit.kind().carries();
                prop_assert!(unit.load().is_none_or(|load: Load| (1..=carries).contains(&load.amount)));
            }
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, failure_persistence: None, ..ProptestConfig::default() })]

    /// However few slots there are, wherever the depots lie on the cells: nobody gives up, and nobody is left out.
    #[test]
    fn in_small_crowds_everybody_comes_to_work_and_nobody_gives_up(
        rakers in 1_u32..7, slots in 1_u16..7, radius in 0.4_f32..1.2,
        (x, y) in (7.0_f32..23.0, 7.0_f32..23.0), facing in -3.0_f32..3.0, has_rack: bool,
    ) {
        let mut setup = setup(&[&".".repeat(30) as &str; 30], 0);
        let pan = &mut setup.kinds[usize::from(PAN.0)];
        pan.body.radius_m = radius;
        pan.holding = pan.holding.map(|holding| yarrick::world::Holding { amount: 10_000, slots, ..holding });
        let mut marsh = Marsh::new(setup);
        let pan = marsh.put(PAN, x, y);
        // Beside the pan, on the side with more room, and turned anyhow: it lies across the borders of cells.
        let house = Vec2::new(if x < 15.0 { x + 6.5 } else { x - 6.5 }, y + 0.4);
        prop_assume!(marsh.world.spawn(SALTHOUSE, KEEPERS, house, facing).is_ok());
        if has_rack {
            marsh.put(RACK, 2.3, 27.6);
        }
        let units: Vec<UnitId> = (0..rakers).map(|k| marsh.put(RAKER, 1.0 + k as f32, 1.0)).collect();
        marsh.order(&units, Action::Gather { target: pan });
        let events = marsh.run(150.0);
        for unit in &units {
            prop_assert_eq!(ended(&events, *unit), []);
            let rounds = deliveries(&events).iter().filter(|(by, ..)| by == unit).count();
            prop_assert!(rounds > 0, "{unit} handed nothing in");
        }
    }
}

const WALLED: &str = r##"
[scenario]
title = "A rack behind the dyke"
[ground]
rows = """
..........
.######...
.#....#...
.#....#...
.######...
..........
"""
legend = { "." = { name = "sand" }, "#" = { name = "dyke", passable = false } }
[[side]]
name = "keepers"
[[resource]]
name = "salt"
[[kind]]
name = "raker"
radius = 0.3
speed = 2
carries = 4
[[kind]]
name = "rack"
rank = "building"
footprint = [2, 1]
depot = true
[[unit]]
kind = "raker"
side = "keepers"
at = [9, 5]
[[unit]]
kind = "rack"
side = "keepers"
at = [4, 3.5]
"##;

#[test]
fn a_depot_to_which_nobody_can_get_is_an_error_at_its_place() {
    let wrong = yarrick::Scenario::parse(WALLED).unwrap_err().to_string();
    assert!(
        wrong.contains("35:6: none of those who gather for \"keepers\" can get to this depot"),
        "{wrong}"
    );
    // A raker behind the dyke, too, a way in, or nobody who gathers: nothing is wrong.
    let inside = format!("{WALLED}[[unit]]\nkind = \"raker\"\nside = \"keepers\"\nat = [3, 2.6]\n");
    let open = WALLED.replacen(".#....#...", "......#...", 1);
    let idle = WALLED.replace("carries = 4", "carries = 0");
    for text in [inside, open, idle] {
        yarrick::Scenario::parse(&text).unwrap_or_else(|errors| panic!("{errors}"));
    }
    // A wall of buildings is a wall.
    let walled = WALLED
        .replace(".######...", "..........")
        .replace(".#....#...", "..........");
    let mut built = walled.replace("[4, 3.5]", "[3, 1.5]");
    for (x, y) in [
        (1.5, 0.5),
        (1.5, 1.5),
        (2.5, 2.5),
        (4.5, 2.5),
        (5.5, 1.5),
        (5.5, 0.5),
    ] {
        built += &format!("[[unit]]\nkind = \"hut\"\nside = \"keepers\"\nat = [{x}, {y}]\n");
    }
    built += "[[unit]]\nkind = \"hut\"\nside = \"keepers\"\nat = [3.5, 2.5]\n[[unit]]\nkind = \"hut\"\nside = \"keepers\"\nat = [1.5, 2.5]\n";
    built += "[[unit]]\nkind = \"hut\"\nside = \"keepers\"\nat = [5.5, 2.5]\n";
    built += "[[kind]]\nname = \"hut\"\nrank = \"building\"\nfootprint = [1, 1]\n";
    let wrong = yarrick::Scenario::parse(&built).unwrap_err().to_string();
    assert!(wrong.contains("can get to this depot"), "{wrong}");
}
