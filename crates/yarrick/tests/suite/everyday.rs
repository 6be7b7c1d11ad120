//! The everyday situations of `scenarios/feel`, each with its measure.

use std::collections::BTreeSet;
use std::fs;
use std::path::PathBuf;
use yarrick::scenario::{Measure, Measured, Play};
use yarrick::world::{Doing, UnitView};
use yarrick::{Scenario, UnitId, Vec2};

fn folder() -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../../scenarios/feel")
}

fn load(name: &str) -> Result<Scenario, String> {
    let text = fs::read_to_string(folder().join(format!("{name}.toml"))).unwrap();
    Scenario::parse(&text).map_err(|wrong| wrong.to_string())
}

/// Plays a situation to its end.
fn played(name: &str) -> (Play, Measured) {
    let scenario = load(name).unwrap();
    let mut play = scenario.play(None).unwrap();
    let mut measure = Measure::begin(play.world(), &scenario.tallies);
    let end_s = scenario.duration_s;
    play.run_until(end_s, |world, happened| measure.note(world, happened));
    (play, measure.close())
}

/// For each situation, how much longer than the farthest alone its orders may take, and how many seconds besides.
const LIMITS: [(&str, f64, f64); 13] = [
    ("past-standing", 1.5, 2.0),
    ("hops-of-a-cart", 1.0, 60.0),
    ("cart-in-a-corridor", 1.5, 0.0),
    ("shut-gate", 1.5, 0.0),
    ("single-orders", 1.5, 4.0),
    ("two-flows", 2.0, 0.0),
    ("doorway", 2.0, 0.0),
    ("slow-convoy", 1.2, 0.0),
    ("built-over", 1.5, 0.0),
    ("two-walkers", 1.5, 8.0),
    ("rim-of-hexes", 1.5, 50.0),
    ("out-of-reach", 1.5, 0.0),
    ("column-and-patrol", 3.0, 0.0),
];

#[test]
fn everyday_situations_end_well_and_soon_and_nobody_trembles() {
    for (name, times, spare_s) in LIMITS {
        let (_, measured) = played(name);
        assert!(!measured.orders.is_empty(), "{name}");
        for order in &measured.orders {
            assert_eq!(
                (order.arrived, order.failed),
                (order.units, 0),
                "{name}: {order:?}"
            );
            let limit_s = order.alone_s * times + spare_s;
            assert!(
                order.ended_s.is_some_and(|ended_s| ended_s <= limit_s),
                "{name}: {order:?}"
            );
        }
        assert_eq!(measured.inside_closed, 0, "{name}");
        assert_eq!(measured.calm.dithering, 0, "{name}: {:?}", measured.calm);
        // A body at rest gives way by a hair to those that settle beside it.
        let calm = measured
            .calm
            .trembled
            .is_none_or(|(most_m, ..)| most_m < 0.025);
        assert!(calm, "{name}: {:?}", measured.calm);
    }
}

#[test]
fn all_that_have_room_strike_and_wait_calmly() {
    let (play, measured) = played("round-a-foe");
    let striking = play
        .world()
        .units()
        .filter(|unit| unit.doing() == Doing::Striking);
    assert_eq!(striking.count(), 36);
    assert_eq!(measured.calm.dithering, 0);
}

#[test]
fn eight_round_a_foe_close_up_for_two_more() {
    let (play, measured) = played("closing-up");
    let units = play.world().units();
    let striking = units.filter(|unit| unit.doing() == Doing::Striking);
    assert_eq!(striking.count(), 10);
    let calm = &measured.calm;
    assert_eq!((calm.dithering, calm.trembling), (0, 0), "{calm:?}");
}

#[test]
fn one_takes_another_gate_than_the_held_one_and_three_wait_calmly_before_theirs() {
    let mut play = load("held-gate").unwrap().play(None).unwrap();
    play.run_until(24.0, |_, _| ());
    let waiting = play.world().units().filter(|unit| unit.has_orders());
    let waiting: Vec<_> = waiting
        .map(|unit| (unit.doing(), unit.velocity()))
        .collect();
    assert_eq!(waiting, [(Doing::Waiting, Vec2::ZERO); 3]);
    let (_, measured) = played("held-gate");
    let [orla, three, _] = &measured.orders[..] else {
        panic!("{:?}", measured.orders);
    };
    assert!(
        orla.ended_s
            .is_some_and(|took_s| took_s < 1.5 * orla.alone_s)
    );
    // They go on as soon as the gate is free, behind one that is half as fast.
    assert_eq!((three.arrived, three.failed), (3, 0));
    assert!(three.ended_s.is_some_and(|took_s| took_s < 30.0));
    let calm = &measured.calm;
    assert_eq!((calm.dithering, calm.trembling), (0, 0), "{calm:?}");
}

#[test]
fn a_view_says_who_goes_round_others() {
    let mut play = load("past-standing").unwrap().play(None).unwrap();
    let mut round = BTreeSet::new();
    play.run_until(20.0, |world, _| {
        let goes_round = |unit: &UnitView<'_>| unit.doing() == Doing::GoingRound;
        round.extend(world.units().filter(goes_round).map(|unit| unit.id()));
    });
    let names: Vec<&str> = round
        .iter()
        .filter_map(|unit| play.name_of(*unit))
        .collect();
    assert_eq!(names.len(), 9, "{names:?}");
    assert!(
        ["Orla", "Bran", "Cole"]
            .iter()
            .all(|name| names.contains(name))
    );
}

#[test]
fn a_patrol_in_place_stands() {
    let (play, _) = played("column-and-patrol");
    let named = |unit: &UnitId| play.name_of(*unit) == Some("Pip");
    let pip = play
        .world()
        .units()
        .map(|unit| unit.id())
        .find(named)
        .unwrap();
    assert_eq!(play.world().unit(pip).unwrap().doing(), Doing::Standing);
}

#[test]
fn nobody_stands_where_thirty_patrol_to_and_fro() {
    let (_, measured) = played("to-and-fro");
    let [patrol] = &measured.orders[..] else {
        panic!("{:?}", measured.orders);
    };
    assert!(patrol.failed == 0 && patrol.held_up_s <= 1.0, "{patrol:?}");
    assert_eq!(measured.calm.dithering, 0, "{:?}", measured.calm);
}

#[test]
fn a_unit_inside_a_building_is_refused() {
    let wrong = load("inside-a-building").unwrap_err();
    assert!(
        wrong.contains("there is no room for \"raker\" at (5.5, 4)"),
        "{wrong}"
    );
}

#[test]
fn every_situation_has_its_measure() {
    let files = fs::read_dir(folder())
        .unwrap()
        .map(|file| file.unwrap().file_name());
    let mut names: Vec<String> = files
        .map(|name| name.to_string_lossy().replace(".toml", ""))
        .collect();
    names.sort_unstable();
    let mut known: Vec<&str> = LIMITS.iter().map(|(name, ..)| *name).collect();
    known.extend([
        "round-a-foe",
        "closing-up",
        "held-gate",
        "inside-a-building",
        "to-and-fro",
    ]);
    known.sort_unstable();
    assert_eq!(names, known);
}
