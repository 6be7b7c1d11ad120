//! Orders to fight: attack, attack-move, patrol, guard and hold, and whom idle units strike.

use crate::doors::Doors as _;
use crate::flats::{Flats, KEEPERS, NOBODY, TIDE, attack_move, failed, ground, move_to, patrol};
use yarrick::route::Shortfall;
use yarrick::world::{Doing, Failure};
use yarrick::{Action, Event, Outcome, Spot, UnitId, Vec2, When};

fn attack(target: UnitId) -> Action {
    Action::Attack { target }
}

/// The times in seconds at which a unit struck.
fn strikes(flats: &mut Flats, by: UnitId, seconds: f32) -> Vec<f32> {
    let mut times = Vec::new();
    for _ in 0..(seconds / flats.world.tick_s()) as u32 {
        let struck = |event: &Event| matches!(event, Event::Struck { unit, .. } if *unit == by);
        if flats.world.step().iter().any(struck) {
            times.push(flats.world.time_s() as f32);
        }
    }
    times
}

#[test]
fn an_attack_goes_up_to_its_target_strikes_at_its_pace_and_ends_with_its_death() {
    let mut flats = Flats::open(30);
    let warden = flats.put("warden", KEEPERS, 5.0, 5.0);
    let hulk = flats.put("pilferer", TIDE, 15.0, 5.0);
    flats.order(&[warden], attack(hulk));
    flats.run_until(10.0, |world| world.unit(hulk).unwrap().health() < 20.0);
    assert!(
        flats.gap(warden, hulk) <= 0.6,
        "it struck from within its range"
    );
    let times = strikes(&mut flats, warden, 1.7);
    assert_eq!(times.len(), 2, "every 0.8 s: {times:?}");
    assert!((times[1] - times[0] - 0.8).abs() < 0.01);
    let events = flats.run(2.0);
    let died = Event::Died {
        unit: hulk,
        by: Some(warden),
    };
    assert!(events.contains(&died) && events.contains(&Event::Gone { unit: hulk }));
    assert!(!flats.lives(hulk));
    assert_eq!(flats.outcomes(warden), [(1, Outcome::Done)]);
    assert_eq!(flats.world.unit(warden).unwrap().doing(), Doing::Standing);
}

#[test]
fn who_strikes_from_afar_keeps_its_range() {
    let mut flats = Flats::open(40);
    let slinger = flats.put("slinger", KEEPERS, 5.0, 5.0);
    let hulk = flats.put("hulk", TIDE, 20.0, 5.0);
    flats.holds_still(hulk);
    flats.order(&[slinger], attack(hulk));
    flats.run(6.0);
    let gap = flats.gap(slinger, hulk);
    assert!((5.0..=6.0).contains(&gap), "it stands {gap} m off");
    let stood = flats.at(slinger);
    flats.run(3.0);
    assert_eq!(flats.at(slinger), stood, "it comes no nearer than it need");
    // The hulk walks off: the slinger follows, and strikes on.
    flats.command(TIDE, &[hulk], move_to(35.0, 5.0), When::Now);
    flats.run(12.0);
    assert!(flats.gap(slinger, hulk) <= 6.3);
    assert!(flats.health(hulk) < 90.0, "{} left", flats.health(hulk));
}

#[test]
fn an_attack_finds_its_way_round_a_dyke() {
    let mut flats = Flats::of(&[
        "....................",
        "..........#.........",
        "..........#.........",
        "..........#.........",
        "..........#.........",
        "..........#.........",
    ]);
    let warden = flats.put("warden", KEEPERS, 8.0, 1.0);
    let prey = flats.put("pilferer", TIDE, 12.5, 1.0);
    flats.order(&[warden], attack(prey));
    flats.run_until(20.0, |world| world.unit(prey).is_none());
    flats.run(0.1);
    assert_eq!(flats.outcomes(warden), [(1, Outcome::Done)]);
}

#[test]
fn an_attack_gives_up_on_what_it_cannot_get_at_and_says_why() {
    let mut flats = Flats::of(&[
        "....................",
        "......~~~~~~~.......",
        "......~.....~.......",
        "......~.....~.......",
        "......~.....~.......",
        "......~~~~~~~.......",
        "....................",
    ]);
    let warden = flats.put("warden", KEEPERS, 2.0, 3.0);
    let slinger = flats.put("slinger", KEEPERS, 2.0, 4.5);
    let islander = flats.put("hulk", TIDE, 9.5, 3.5);
    flats.order(&[warden, slinger], attack(islander));
    flats.run(1.0);
    let why = Failure::NoWay(Shortfall::CutOff);
    assert_eq!(flats.outcomes(warden), [(1, failed(why))]);
    // The slinger reaches it across the creek.
    flats.run(20.0);
    assert!(flats.health(islander) < 100.0 && flats.outcomes(slinger).is_empty());

    // Who cannot walk waits for nobody.
    let tower = flats.put("sling tower", KEEPERS, 18.5, 0.9);
    flats.order(&[tower], attack(islander));
    flats.run(0.1);
    assert_eq!(flats.outcomes(tower), [(2, failed(Failure::OutOfRange))]);
}

#[test]
fn an_attack_on_what_is_faster_gives_up_in_the_end() {
    let mut flats = Flats::open(120);
    let warden = flats.put("warden", KEEPERS, 5.0, 60.0);
    let runner = flats.put("pilferer", TIDE, 15.0, 60.0);
    flats.command(
        TIDE,
        &[runner],
        patrol(&[(110.0, 60.0), (110.0, 5.0)], true),
        When::Now,
    );
    flats.order(&[warden], attack(runner));
    flats.run(19.0);
    assert!(
        flats.outcomes(warden).is_empty(),
        "it is not given up lightly"
    );
    flats.run(12.0);
    assert_eq!(flats.outcomes(warden), [(1, failed(Failure::GotAway))]);
}

#[test]
fn all_attacks_end_when_their_target_does_wherever_they_are_in_the_queue() {
    let mut flats = Flats::open(30);
    let wardens = [4.0, 6.0, 8.0].map(|y| flats.put("warden", KEEPERS, 5.0, y));
    let prey = flats.put("pilferer", TIDE, 9.0, 6.0);
    let other = flats.put("pilferer", TIDE, 25.0, 6.0);
    flats.order(&wardens[..2], attack(prey));
    flats.order(&wardens[2..], move_to(5.0, 25.0));
    flats.order_then(&wardens, attack(prey));
    flats.order_then(&wardens, attack(other));
    flats.run_until(10.0, |world| world.unit(prey).is_none());
    flats.run(0.1);
    assert_eq!(
        flats.outcomes(wardens[2]),
        [(3, Outcome::Done)],
        "before its turn"
    );
    assert_eq!(
        flats.outcomes(wardens[0]),
        [(1, Outcome::Done), (3, Outcome::Done)]
    );
    flats.world.remove(other);
    flats.run(0.1);
    for warden in wardens {
        let last = flats.outcomes(warden).pop();
        assert_eq!(last, Some((4, failed(Failure::TargetGone))));
    }
}

#[test]
fn two_that_strike_each_other_down_in_one_tick_both_fall() {
    let mut flats = Flats::open(10);
    // Both have to turn by as much before they strike.
    let a = flats.put("nipper", KEEPERS, 4.0, 5.0);
    let b = flats.put("nipper", TIDE, 4.0, 6.0);
    flats.command(KEEPERS, &[a], attack(b), When::Now);
    flats.command(TIDE, &[b], attack(a), When::Now);
    flats.run(10.0);
    assert!(!flats.lives(a) && !flats.lives(b));
    // Each died on an order that it carried out to the end, and counts as lost all the same.
    assert_eq!(flats.outcomes(a), [(1, Outcome::UnitLost)]);
    assert_eq!(flats.outcomes(b), [(2, Outcome::UnitLost)]);
}

#[test]
fn an_attack_move_fights_what_it_meets_and_then_goes_on() {
    let mut flats = Flats::open(40);
    let wardens = [18.5, 20.0, 21.5].map(|y| flats.put("warden", KEEPERS, 3.0, y));
    let raker = flats.put("raker", KEEPERS, 3.0, 23.0);
    let nippers = [18.0, 22.0].map(|y| flats.put("nipper", TIDE, 18.0, y));
    let all = [&wardens[..], &[raker]].concat();
    flats.order(&all, attack_move(35.0, 20.0));
    flats.run(9.0);
    let engaged = flats.events.iter().any(|event| {
        matches!(event, Event::Engaged { unit, foe } if wardens.contains(unit) && nippers.contains(foe))
    });
    assert!(engaged);
    flats.run(30.0);
    assert!(nippers.iter().all(|nipper| !flats.lives(*nipper)));
    for unit in all {
        assert_eq!(flats.outcomes(unit), [(1, Outcome::Done)]);
        assert!(flats.at(unit).distance(Vec2::new(35.0, 20.0)) < 3.0);
    }
}

#[test]
fn a_plain_move_fights_nobody() {
    let mut flats = Flats::open(40);
    let warden = flats.put("warden", KEEPERS, 3.0, 20.0);
    let prey = flats.put("pilferer", TIDE, 18.0, 21.0);
    flats.order(&[warden], move_to(35.0, 20.0));
    flats.run(20.0);
    assert_eq!(flats.health(prey), 20.0);
    assert_eq!(flats.outcomes(warden), [(1, Outcome::Done)]);
}

#[test]
fn an_attack_move_lets_go_of_what_it_cannot_catch() {
    let mut flats = Flats::of(&[
        "........................",
        "........................",
        "........~~~~~~~.........",
        "........~.....~.........",
        "........~~~~~~~.........",
    ]);
    let warden = flats.put("warden", KEEPERS, 2.0, 3.5);
    let islander = flats.put("nipper", TIDE, 11.5, 1.5);
    let runner = flats.put("pilferer", TIDE, 8.0, 4.0);
    flats.command(TIDE, &[runner], move_to(1.0, 0.9), When::Now);
    flats.order(&[warden], attack_move(22.0, 3.5));
    flats.run(30.0);
    assert_eq!(flats.outcomes(warden), [(1, Outcome::Done)]);
    assert!(flats.lives(islander));
}

#[test]
fn a_unit_turns_on_those_that_strike_back_before_those_that_do_not() {
    let mut flats = Flats::open(30);
    let warden = flats.put("warden", KEEPERS, 5.0, 10.0);
    flats.put("pilferer", TIDE, 8.0, 10.0);
    let hulk = flats.put("hulk", TIDE, 9.5, 11.0);
    flats.order(&[warden], attack_move(25.0, 10.0));
    flats.run(0.5);
    assert_eq!(flats.world.unit(warden).unwrap().foe(), Some(hulk));
}

#[test]
fn a_patrol_fights_on_its_way_and_takes_it_up_again() {
    let mut flats = Flats::open(30);
    let warden = flats.put("warden", KEEPERS, 5.0, 5.0);
    let beat = patrol(&[(25.0, 5.0), (25.0, 25.0)], false);
    flats.order(&[warden], beat);
    flats.run(3.0);
    let prey = flats.put("pilferer", TIDE, 14.0, 8.0);
    flats.run_until(15.0, |world| world.unit(prey).is_none());
    assert!(flats.outcomes(warden).is_empty());
    let corner = Vec2::new(25.0, 25.0);
    let near = |at: Vec2| {
        move |world: &yarrick::World| world.unit(warden).unwrap().position().distance(at) < 0.5
    };
    flats.run_until(30.0, near(corner));
    flats.run_until(30.0, near(Vec2::new(25.0, 5.0)));
    flats.run_until(30.0, near(Vec2::new(5.0, 5.0)));
}

#[test]
fn a_round_patrol_goes_on_from_its_last_point_to_its_first() {
    let mut flats = Flats::open(30);
    let warden = flats.put("warden", KEEPERS, 5.0, 5.0);
    flats.order(&[warden], patrol(&[(15.0, 5.0)], true));
    // Points that come afterwards are added to it, and their order is done.
    flats.order_then(&[warden], patrol(&[(15.0, 15.0)], false));
    flats.run(0.1);
    assert_eq!(flats.outcomes(warden), [(2, Outcome::Done)]);
    let mut visits = Vec::new();
    for _ in 0..800 {
        flats.run(0.05);
        for (name, x, y) in [('a', 5.0, 5.0), ('b', 15.0, 5.0), ('c', 15.0, 15.0)] {
            let near = flats.at(warden).distance(Vec2::new(x, y)) < 0.3;
            if near && visits.last() != Some(&name) {
                visits.push(name);
            }
        }
    }
    let way: String = visits.iter().collect();
    assert!(way.starts_with("abcabc"), "{way}");
}

#[test]
fn who_holds_strikes_what_comes_near_but_never_takes_a_step() {
    let mut flats = Flats::open(30);
    let warden = flats.put("warden", KEEPERS, 10.0, 10.0);
    let crowd: Vec<UnitId> = (0..6)
        .map(|k| flats.put("raker", KEEPERS, 4.0, 7.5 + k as f32))
        .collect();
    flats.order(&[warden], Action::Hold);
    flats.order(&crowd, move_to(16.0, 10.0));
    let near = flats.put("pilferer", TIDE, 10.9, 10.6);
    let far = flats.put("hulk", TIDE, 14.0, 14.0);
    flats.holds_still(far);
    for _ in 0..300 {
        flats.run(0.05);
        assert_eq!(flats.at(warden), Vec2::new(10.0, 10.0));
    }
    assert!(!flats.lives(near), "it was within range");
    assert!(flats.lives(far));
    assert!(
        flats.outcomes(warden).is_empty(),
        "it holds until ordered otherwise"
    );
    for raker in crowd {
        assert_eq!(flats.outcomes(raker), [(2, Outcome::Done)], "they got past");
    }
}

#[test]
fn a_guard_drives_off_what_comes_near_its_ward_and_comes_back() {
    for on_foot in [true, false] {
        let mut flats = Flats::open(50);
        let ward = flats.put("raker", KEEPERS, 20.0, 20.0);
        let warden = flats.put("warden", KEEPERS, 22.0, 20.0);
        let spot = if on_foot {
            Spot::Unit(ward)
        } else {
            ground(20.0, 20.0)
        };
        flats.order(&[warden], Action::Guard { ward: spot });
        flats.run(3.0);
        let prey = flats.put("pilferer", TIDE, 24.5, 20.0);
        let outside = flats.put("pilferer", TIDE, 30.0, 20.0);
        flats.run_until(10.0, |world| world.unit(prey).is_none());
        flats.run(6.0);
        assert!(flats.lives(outside), "it is none of its business");
        assert!(flats.gap(warden, ward) < 2.5, "it came back");
        // Drawn off by one that it cannot catch, it comes back as well.
        flats.command(TIDE, &[outside], move_to(20.0, 24.0), When::Now);
        flats.command(TIDE, &[outside], move_to(48.0, 48.0), When::Afterwards);
        flats.run(20.0);
        assert!(flats.gap(warden, ward) < 2.5, "{}", flats.at(warden));
        assert!(flats.outcomes(warden).is_empty());
        if on_foot {
            flats.world.remove(ward);
            flats.run(0.1);
            assert_eq!(flats.outcomes(warden), [(1, failed(Failure::TargetGone))]);
        }
    }
}

#[test]
fn idle_units_strike_what_comes_within_range_and_stay_where_they_are() {
    let mut flats = Flats::open(30);
    let slinger = flats.put("slinger", KEEPERS, 10.0, 10.0);
    let tower = flats.put("sling tower", KEEPERS, 10.0, 14.0);
    let foe = flats.put("hulk", TIDE, 15.0, 12.0);
    let bird = flats.put("pilferer", NOBODY, 11.5, 12.0);
    let beyond = flats.put("hulk", TIDE, 27.0, 27.0);
    flats.run(5.0);
    assert!(flats.health(foe) <= 120.0 - 4.0 * 3.0 - 4.0 * 4.0);
    assert_eq!((flats.health(bird), flats.health(beyond)), (20.0, 120.0));
    assert_eq!(flats.at(slinger), Vec2::new(10.0, 10.0));
    assert_eq!(flats.world.unit(tower).unwrap().doing(), Doing::Striking);
}

#[test]
fn the_hindmost_wait_their_turn_and_take_the_places_of_the_fallen() {
    let mut flats = Flats::open(30);
    let wardens: Vec<UnitId> = (0..24)
        .map(|k| {
            flats.put(
                "warden",
                KEEPERS,
                3.0 + (k % 6) as f32,
                12.0 + (k / 6) as f32,
            )
        })
        .collect();
    let hulks = [12.0, 13.5].map(|y| flats.put("hulk", TIDE, 15.0, y));
    flats.order(&wardens, attack(hulks[0]));
    flats.order_then(&wardens, attack(hulks[1]));
    flats.run(40.0);
    assert!(hulks.iter().all(|hulk| !flats.lives(*hulk)));
    for warden in wardens.into_iter().filter(|warden| flats.lives(*warden)) {
        let done = [(1, Outcome::Done), (2, Outcome::Done)];
        assert_eq!(flats.outcomes(warden), done);
    }
}
