//! What units without orders do about foes.

use crate::flats::{Flats, KEEPERS, TIDE};
use yarrick::world::Posture;
use yarrick::{Action, Outcome, UnitId, Vec2};

fn attack(target: UnitId) -> Action {
    Action::Attack { target }
}

fn be(posture: Posture) -> Action {
    Action::SetPosture { posture }
}

/// Wardens side by side, and a slinger of the tide that strikes the first from afar.
fn under_fire(posture: Option<Posture>) -> (Flats, Vec<UnitId>, UnitId) {
    let mut flats = Flats::open(40);
    let wardens: Vec<UnitId> = (0..5)
        .map(|k| flats.put("warden", KEEPERS, 10.0, 16.0 + 1.5 * k as f32))
        .collect();
    let slinger = flats.put("slinger", TIDE, 18.0, 16.0);
    if let Some(posture) = posture {
        flats.order(&wardens, be(posture));
    }
    flats.command(TIDE, &[slinger], attack(wardens[0]), yarrick::When::Now);
    (flats, wardens, slinger)
}

#[test]
fn neighbours_answer_an_attack_from_afar_and_come_back() {
    let (mut flats, wardens, slinger) = under_fire(None);
    let homes: Vec<Vec2> = wardens.iter().map(|unit| flats.at(*unit)).collect();
    flats.run_until(30.0, |world| world.unit(slinger).is_none());
    flats.run(15.0);
    let alive = wardens
        .iter()
        .zip(homes)
        .filter(|(unit, _)| flats.lives(**unit));
    let mut came_back = 0;
    for (unit, home) in alive {
        came_back += 1;
        assert!(
            flats.at(*unit).distance(home) < 0.6,
            "{unit}: {}",
            flats.at(*unit)
        );
    }
    assert!(came_back >= 4);
}

#[test]
fn one_that_is_killed_at_a_blow_is_avenged() {
    let mut flats = Flats::open(40);
    let raker = flats.put("raker", KEEPERS, 10.0, 20.0);
    let warden = flats.put("warden", KEEPERS, 10.0, 22.0);
    let hulks: Vec<UnitId> = (0..3)
        .map(|k| flats.put("hulk", TIDE, 11.8, 18.3 + 1.9 * k as f32))
        .collect();
    flats.order(&[warden], be(Posture::Defend));
    flats.command(TIDE, &hulks, attack(raker), yarrick::When::Now);
    flats.run_until(20.0, |world| world.unit(raker).is_none());
    flats.run(3.0);
    let struck = hulks.iter().any(|hulk| flats.health(*hulk) < 120.0);
    assert!(struck, "the warden struck back");
}

#[test]
fn the_passive_suffer_and_those_that_hold_stay() {
    for posture in [Posture::Passive, Posture::Hold] {
        let (mut flats, wardens, slinger) = under_fire(Some(posture));
        let homes: Vec<Vec2> = wardens.iter().map(|unit| flats.at(*unit)).collect();
        flats.run(20.0);
        assert!(flats.lives(slinger) && flats.health(slinger) == 30.0);
        for (unit, home) in wardens.iter().zip(homes) {
            assert!(!flats.lives(*unit) || flats.at(*unit) == home);
        }
    }
    // What comes within range is struck by one that holds, not by one that is passive.
    for (posture, strikes) in [(Posture::Passive, false), (Posture::Hold, true)] {
        let mut flats = Flats::open(20);
        let warden = flats.put("warden", KEEPERS, 10.0, 10.0);
        let pilferer = flats.put("pilferer", TIDE, 11.2, 10.0);
        flats.order(&[warden], be(posture));
        flats.run(5.0);
        assert_eq!(flats.health(pilferer) < 20.0, strikes);
        assert_eq!(flats.world.unit(warden).unwrap().posture(), posture);
    }
}

#[test]
fn one_that_pursues_goes_for_what_it_notices_and_stays_there() {
    let mut flats = Flats::open(40);
    let warden = flats.put("warden", KEEPERS, 10.0, 20.0);
    let nipper = flats.put("nipper", TIDE, 15.0, 20.0);
    flats.order(&[warden], be(Posture::Pursue));
    flats.run_until(20.0, |world| world.unit(nipper).is_none());
    flats.run(5.0);
    assert!(flats.at(warden).x > 10.5 || flats.health(warden) < 60.0);
    // Ordered to be passive in the middle of a fight, it lowers its arms.
    let next = flats.put("hulk", TIDE, flats.at(warden).x + 3.0, 20.0);
    flats.run(2.0);
    flats.order(&[warden], be(Posture::Passive));
    flats.run(0.5);
    let health = flats.health(next);
    flats.run(3.0);
    assert_eq!(flats.health(next), health);
}

#[test]
fn an_order_goes_before_the_posture() {
    let (mut flats, wardens, _) = under_fire(None);
    flats.run(3.0);
    flats.order(&wardens, crate::flats::move_to(3.0, 30.0));
    flats.run(15.0);
    for unit in wardens.iter().filter(|unit| flats.lives(**unit)) {
        assert_eq!(flats.outcomes(*unit).last(), Some(&(2, Outcome::Done)));
    }
}
