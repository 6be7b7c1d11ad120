//! What a game does to units from outside: activities without orders, health, place, side and kind.

use crate::doors::Doors as _;
use crate::flats::{Flats, KEEPERS, TIDE, move_to};
use yarrick::world::{Change, Effect, Failure, NoRoom, Owner, Refusal, Ticket};
use yarrick::{Action, Event, Outcome, UnitId, Vec2};

/// How a change was answered.
fn answer(events: &[Event], asked: Ticket) -> Result<Effect, Refusal> {
    let answers = events.iter().filter_map(|event| match event {
        Event::Changed { ticket, effect } if *ticket == asked => Some(Ok(*effect)),
        Event::ChangeRefused { ticket, why } if *ticket == asked => Some(Err(*why)),
        _ => None,
    });
    let answers: Vec<_> = answers.collect();
    assert_eq!(answers.len(), 1, "each change is answered once");
    answers[0]
}

pub(crate) fn make(flats: &mut Flats, change: Change) -> Result<Effect, Refusal> {
    let ticket = flats.world.hand_in(change);
    answer(&flats.run(0.05), ticket)
}

fn ended(flats: &Flats, asked: Ticket) -> Vec<Outcome> {
    let outcomes = flats.events.iter().filter_map(|event| match event {
        Event::ActivityEnded {
            ticket, outcome, ..
        } if *ticket == asked => Some(*outcome),
        _ => None,
    });
    outcomes.collect()
}

fn start(flats: &mut Flats, unit: UnitId, action: Action) -> Ticket {
    flats.world.hand_in(Change::Start { unit, action })
}

#[test]
fn legs_and_arms_are_busy_with_two_activities_that_no_order_began() {
    let mut flats = Flats::open(40);
    let slinger = flats.put("slinger", KEEPERS, 3.0, 6.0);
    let hulk = flats.put("hulk", TIDE, 12.0, 10.0);
    // The hulk stands and bears it: it fights only what comes to it.
    let walk = start(&mut flats, slinger, move_to(30.0, 6.0));
    let sling = start(&mut flats, slinger, Action::Fire { target: hulk });
    flats.run(0.1);
    let view = flats.world.unit(slinger).unwrap();
    assert_eq!(view.legs_owner(), Owner::Change(walk));
    assert_eq!(view.arms_owner(), Owner::Change(sling));
    assert!(!view.has_orders());

    flats.run(16.0);
    assert_eq!(flats.at(slinger), Vec2::new(30.0, 6.0));
    assert_eq!(ended(&flats, walk), [Outcome::Done]);
    assert_eq!(ended(&flats, sling), [], "it goes on, out of range");
    let blows = flats
        .events
        .iter()
        .filter(|event| matches!(event, Event::Struck { unit, .. } if *unit == slinger));
    assert!(blows.count() >= 4, "it struck in passing");
    let view = flats.world.unit(slinger).unwrap();
    assert_eq!(view.legs_owner(), Owner::Nobody);
    assert_eq!(view.arms_owner(), Owner::Change(sling));

    flats.world.remove(hulk);
    flats.run(0.1);
    let why = Failure::TargetGone;
    assert_eq!(ended(&flats, sling), [Outcome::Failed { why }]);
}

#[test]
fn an_order_takes_over_what_it_needs_and_leaves_the_rest() {
    let mut flats = Flats::open(40);
    let slinger = flats.put("slinger", KEEPERS, 3.0, 6.0);
    let hulk = flats.put("hulk", TIDE, 30.0, 30.0);
    let walk = start(&mut flats, slinger, move_to(30.0, 6.0));
    let sling = start(&mut flats, slinger, Action::Fire { target: hulk });
    flats.run(1.0);
    flats.order(&[slinger], move_to(3.0, 20.0));
    flats.run(0.1);
    assert!(matches!(
        ended(&flats, walk)[..],
        [Outcome::Replaced { .. }]
    ));
    assert_eq!(ended(&flats, sling), []);

    let refused = Change::Start {
        unit: slinger,
        action: move_to(1.0, 1.0),
    };
    assert_eq!(make(&mut flats, refused), Err(Refusal::UnderOrders));
    flats.run(20.0);
    assert_eq!(flats.at(slinger), Vec2::new(3.0, 20.0));

    let stop = |started| Change::Stop {
        unit: slinger,
        started,
    };
    assert_eq!(make(&mut flats, stop(sling)), Ok(Effect::Made));
    assert_eq!(ended(&flats, sling), [Outcome::Stopped]);
    let again = make(&mut flats, stop(sling));
    assert_eq!(again, Err(Refusal::NoSuchActivity));
}

#[test]
fn health_is_taken_and_given_within_what_a_kind_has() {
    let mut flats = Flats::open(20);
    let warden = flats.put("warden", KEEPERS, 5.0, 5.0);
    let pan = flats.put("pan", KEEPERS, 12.0, 12.0);
    let health = |flats: &Flats| flats.world.unit(warden).unwrap().health();
    let harm = |unit, damage| Change::Harm {
        unit,
        damage,
        by: None,
    };
    let heal = |health| Change::Heal {
        unit: warden,
        health,
    };
    assert_eq!(make(&mut flats, harm(warden, 25.0)), Ok(Effect::Made));
    assert_eq!(health(&flats), 35.0);
    assert_eq!(make(&mut flats, heal(1000.0)), Ok(Effect::Made));
    assert_eq!(health(&flats), 60.0);
    for bad in [-1.0, f32::NAN, f32::INFINITY] {
        assert_eq!(make(&mut flats, harm(warden, bad)), Err(Refusal::BadNumber));
        assert_eq!(make(&mut flats, heal(bad)), Err(Refusal::BadNumber));
    }
    let immune = make(&mut flats, harm(pan, 5.0));
    assert_eq!(immune, Err(Refusal::CannotBeHarmed));

    // Whoever has died in a tick is not healed in it, and dies once.
    flats.world.hand_in(harm(warden, 60.0));
    let late = flats.world.hand_in(heal(10.0));
    flats.world.hand_in(harm(warden, 60.0));
    let events = flats.run(0.05);
    assert_eq!(answer(&events, late), Err(Refusal::NoSuchUnit));
    let deaths = events
        .iter()
        .filter(|event| matches!(event, Event::Died { unit, by: None } if *unit == warden));
    assert_eq!(deaths.count(), 1);
    assert!(!flats.lives(warden));
    assert_eq!(
        make(&mut flats, heal(1.0)),
        Err(Refusal::NoSuchUnit),
        "a change for the dead"
    );
}

#[test]
fn a_unit_that_is_put_elsewhere_goes_on_with_its_order_from_there() {
    let mut flats = Flats::of(&["..........~........."; 20]);
    let raker = flats.put("raker", KEEPERS, 2.0, 10.0);
    flats.order(&[raker], move_to(8.0, 10.0));
    flats.run(0.5);
    let teleport = |x, y| Change::Teleport {
        unit: raker,
        to: Vec2::new(x, y),
        facing: None,
    };
    let into_the_creek = make(&mut flats, teleport(10.5, 10.0));
    let at = Vec2::new(10.5, 10.0);
    assert_eq!(
        into_the_creek,
        Err(Refusal::NoRoom(NoRoom::ClosedGround { at }))
    );
    let nowhere = make(&mut flats, teleport(f32::NAN, 10.0));
    assert_eq!(nowhere, Err(Refusal::BadPoint));
    assert_eq!(make(&mut flats, teleport(2.0, 2.0)), Ok(Effect::Made));
    assert!(flats.at(raker).distance(Vec2::new(2.0, 2.0)) < 0.2);
    flats.run(10.0);
    assert_eq!(flats.at(raker), Vec2::new(8.0, 10.0));
    assert_eq!(flats.outcomes(raker)[0].1, Outcome::Done);

    // Over the creek there is no way to the place any more: it goes as near as it can, and says so.
    flats.order(&[raker], move_to(2.0, 10.0));
    flats.run(0.2);
    assert_eq!(make(&mut flats, teleport(15.0, 10.0)), Ok(Effect::Made));
    flats.run(15.0);
    let outcome = flats.outcomes(raker)[1].1;
    assert!(
        matches!(outcome, Outcome::CameShort { .. } | Outcome::Failed { .. }),
        "{outcome}"
    );
}

#[test]
fn a_unit_that_changes_sides_drops_its_orders_and_is_let_go_by_new_friends() {
    let mut flats = Flats::open(30);
    let warden = flats.put("warden", KEEPERS, 5.0, 15.0);
    let nipper = flats.put("nipper", TIDE, 20.0, 15.0);
    flats.order(&[warden], Action::Attack { target: nipper });
    flats.run(1.0);
    let change = Change::ChangeSide {
        unit: nipper,
        side: KEEPERS,
    };
    assert_eq!(make(&mut flats, change), Ok(Effect::Made));
    let view = flats.world.unit(warden).unwrap();
    assert!(!view.has_orders() && view.foe().is_none());
    assert_eq!(flats.outcomes(warden).len(), 1);
    flats.order(&[nipper], move_to(5.0, 5.0));
    flats.run(10.0);
    assert_eq!(flats.at(nipper), Vec2::new(5.0, 5.0));
}

#[test]
fn a_unit_that_becomes_another_kind_keeps_the_part_of_its_health() {
    let mut flats = Flats::of(&["....", ".##.", "....", "...."]);
    let warden = flats.put("warden", KEEPERS, 0.5, 0.5);
    let kind = |flats: &Flats, name| flats.world.kind(name).unwrap();
    let half = Change::SetHealth {
        unit: warden,
        health: 30.0,
    };
    assert_eq!(make(&mut flats, half), Ok(Effect::Made));
    let hulk = Change::ChangeKind {
        unit: warden,
        kind: kind(&flats, "hulk"),
    };
    assert_eq!(
        make(&mut flats, hulk),
        Err(Refusal::NoRoom(NoRoom::OffTheMap)),
        "too near the edge"
    );
    let slinger = Change::ChangeKind {
        unit: warden,
        kind: kind(&flats, "slinger"),
    };
    assert_eq!(make(&mut flats, slinger), Ok(Effect::Made));
    let view = flats.world.unit(warden).unwrap();
    assert_eq!(view.kind().name, "slinger");
    assert_eq!(view.health(), 15.0);
}

#[test]
fn a_unit_of_a_kind_that_cannot_carry_out_its_orders_is_stopped() {
    let mut flats = Flats::open(20);
    let warden = flats.put("warden", KEEPERS, 3.0, 3.0);
    let nipper = flats.put("nipper", TIDE, 15.0, 15.0);
    flats.order(&[warden], Action::Attack { target: nipper });
    flats.run(0.5);
    let become_a = |flats: &Flats, name| Change::ChangeKind {
        unit: warden,
        kind: flats.world.kind(name).unwrap(),
    };
    let slinger = become_a(&flats, "slinger");
    assert_eq!(make(&mut flats, slinger), Ok(Effect::Made));
    assert_eq!(flats.outcomes(warden), [], "a slinger goes on");
    let raker = become_a(&flats, "raker");
    assert_eq!(make(&mut flats, raker), Ok(Effect::Made));
    assert_eq!(flats.outcomes(warden)[0].1, Outcome::Stopped);
    assert_eq!(flats.world.unit(warden).unwrap().foe(), None);
}
