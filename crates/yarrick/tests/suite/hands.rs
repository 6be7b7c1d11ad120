//! A hand gives orders: what it points at, intents that turn a click into an order, and the units
//! of those who share control.

use crate::doors::Doors as _;
use crate::flats::{DUNERS, Flats, KEEPERS, REEDFOLK, TIDE, attack_move, ground};
use yarrick::motion::formation::{Form, Formation};
use yarrick::select::{
    Button, Camera, FlatView, GestureSettings, Keys, PointerAction, PointerInput,
};
use yarrick::world::{Aspect, HandOutput};
use yarrick::{Action, Command, Hand, Rect, Spot, Vec2, Verb, When};

fn context(at: Spot) -> Action {
    Action::Context { at }
}

const PX: f32 = 20.0;

fn hand() -> Hand {
    let camera = Camera::Flat(FlatView {
        corner: Vec2::new(0.0, 50.0),
        px_per_m: PX,
        size_px: Vec2::splat(50.0 * PX),
    });
    Hand::new(KEEPERS, camera, GestureSettings::default())
}

fn on_screen(x: f32, y: f32) -> Vec2 {
    Vec2::new(x, 50.0 - y) * PX
}

/// A click at a point of the ground; each at a time of its own.
fn click(
    hand: &mut Hand,
    flats: &Flats,
    button: Button,
    (x, y): (f32, f32),
    keys: Keys,
    time_s: f64,
) -> Option<HandOutput> {
    let input = |action, time_s| PointerInput {
        keys,
        ..PointerInput::new(action, on_screen(x, y), time_s)
    };
    hand.pointer(&flats.world, input(PointerAction::Press(button), time_s));
    hand.pointer(
        &flats.world,
        input(PointerAction::Release(button), time_s + 0.1),
    )
}

fn commanded(deed: Option<HandOutput>) -> Command {
    match deed {
        Some(HandOutput::Commanded(command)) => command,
        other => panic!("{other:?}"),
    }
}

#[test]
fn an_intent_turns_the_next_click_into_its_order() {
    let mut flats = Flats::open(50);
    let warden = flats.put("warden", KEEPERS, 12.0, 10.0);
    let raker = flats.put("raker", KEEPERS, 10.0, 10.0);
    let foe = flats.put("hulk", TIDE, 40.0, 40.0);
    let (mut hand, none) = (hand(), Keys::default());
    let shift = Keys {
        shift: true,
        ..none
    };
    hand.select([warden, raker]);
    hand.intend(Some(Verb::AttackMove));
    let at = on_screen(30.0, 30.0);
    let preview = hand.preview(&flats.world, at).unwrap();
    assert_eq!(
        (preview.lead, preview.aspect),
        (Verb::AttackMove, Aspect::Ground)
    );
    let first = click(&mut hand, &flats, Button::Primary, (30.0, 30.0), shift, 0.0);
    let first = commanded(first);
    assert_eq!(
        (first.action, first.when),
        (attack_move(30.0, 30.0), When::Afterwards)
    );
    // With shift it stays for one more; a shaky press counts as a click.
    let drag = |action, x: f32, time_s| PointerInput::new(action, on_screen(x, 20.0), time_s);
    let press = drag(PointerAction::Press(Button::Primary), 35.0, 1.0);
    assert_eq!(hand.pointer(&flats.world, press), None);
    let release = drag(PointerAction::Release(Button::Primary), 36.0, 1.2);
    let second = commanded(hand.pointer(&flats.world, release));
    assert_eq!(
        (second.action, second.when),
        (attack_move(35.0, 20.0), When::Now)
    );
    assert_eq!(hand.intent(), None);

    // The secondary button takes it back, and orders nothing.
    hand.intend(Some(Verb::Patrol));
    let deed = click(
        &mut hand,
        &flats,
        Button::Secondary,
        (30.0, 30.0),
        none,
        2.0,
    );
    assert_eq!((deed, hand.intent()), (None, None));
    // So does escape. Attacking the ground makes no sense.
    hand.intend(Some(Verb::Attack));
    let deed = click(&mut hand, &flats, Button::Primary, (30.0, 30.0), none, 3.0);
    assert_eq!(deed, None);
    hand.intend(Some(Verb::Attack));
    let deed = click(&mut hand, &flats, Button::Primary, (40.0, 40.0), none, 4.0);
    assert_eq!(commanded(deed).action, Action::Attack { target: foe });
    hand.intend(Some(Verb::Guard));
    hand.cancel();
    assert_eq!(hand.intent(), None);
}

#[test]
fn a_secondary_click_points_at_foes_first_and_looks_through_those_that_are_to_act() {
    let mut flats = Flats::open(50);
    let (a, b) = (
        flats.put("warden", KEEPERS, 10.0, 10.0),
        flats.put("raker", KEEPERS, 10.7, 10.0),
    );
    let foe = flats.put("pilferer", TIDE, 10.4, 10.7);
    flats.world.step();
    let mut hand = hand();
    let none = Keys::default();
    hand.select([a]);
    assert_eq!(
        hand.spot(&flats.world, on_screen(10.4, 10.4)),
        Some(Spot::Unit(foe))
    );
    flats.world.remove(foe);
    flats.world.step();
    assert_eq!(
        hand.spot(&flats.world, on_screen(10.6, 10.0)),
        Some(Spot::Unit(b))
    );
    assert_eq!(
        hand.spot(&flats.world, on_screen(9.8, 10.0)),
        Some(ground(9.8, 10.0))
    );
    assert_eq!(hand.spot(&flats.world, Vec2::NAN), None);
    let alt = Keys { alt: true, ..none };
    let deed = click(&mut hand, &flats, Button::Secondary, (20.0, 20.0), alt, 0.0);
    let command = commanded(deed);
    assert_eq!(
        (command.when, command.action),
        (When::First, context(ground(20.0, 20.0)))
    );
    // A foreign unit can be looked at, not ordered; nor is there a preview.
    hand.select([flats.put("hulk", TIDE, 30.0, 30.0)]);
    assert_eq!(hand.preview(&flats.world, on_screen(20.0, 20.0)), None);
    let deed = click(
        &mut hand,
        &flats,
        Button::Secondary,
        (20.0, 20.0),
        none,
        1.0,
    );
    assert_eq!(deed, None);
}

#[test]
fn a_hand_selects_those_that_share_control_after_its_own() {
    let mut flats = Flats::open(50);
    let ours = flats.put("raker", KEEPERS, 10.0, 10.0);
    let shared = flats.put("warden", REEDFOLK, 12.0, 10.0);
    flats.put("warden", DUNERS, 14.0, 10.0);
    flats.world.step();
    let mut hand = hand();
    let mut drag = |from: (f32, f32), to: (f32, f32)| {
        let rect = Rect::from_corners(on_screen(from.0, from.1), on_screen(to.0, to.1));
        let press = PointerAction::Press(Button::Primary);
        hand.pointer(&flats.world, PointerInput::new(press, rect.min, 0.0));
        let release = PointerAction::Release(Button::Primary);
        hand.pointer(&flats.world, PointerInput::new(release, rect.max, 0.2));
        (
            hand.selection().ids().to_vec(),
            hand.can_order(&flats.world),
        )
    };
    assert_eq!(drag((9.0, 9.0), (16.0, 11.0)), (vec![ours], true));
    assert_eq!(drag((11.0, 9.0), (16.0, 11.0)), (vec![shared], true));
    assert!(!drag((13.2, 9.0), (16.0, 11.0)).1);
}

#[test]
fn with_a_formation_clicks_send_groups_in_it_and_drags_say_where_they_look() {
    let mut flats = Flats::open(50);
    let units = [10.0, 12.0, 14.0].map(|x| flats.put("warden", KEEPERS, x, 10.0));
    let yard = flats.put("yard", KEEPERS, 5.0, 40.0);
    let (mut hand, keys) = (hand(), Keys::default());
    let second = Button::Secondary;
    hand.select(units);
    let line = Formation::new(Form::Line);
    hand.choose_formation(Some(line.clone()));
    let march = |formation, fight| Action::March {
        to: Vec2::new(30.0, 30.0),
        formation,
        fight,
    };
    let deed = click(&mut hand, &flats, second, (30.0, 30.0), keys, 0.0);
    assert_eq!(commanded(deed).action, march(line.clone(), false));
    // A drag upward has them look up; a click that only slips does not.
    for (y, facing) in [(34.0, Some(core::f32::consts::FRAC_PI_2)), (30.3, None)] {
        let at = |action, y, time_s| PointerInput::new(action, on_screen(30.0, y), time_s);
        hand.pointer(&flats.world, at(PointerAction::Press(second), 30.0, 1.0));
        let deed = hand.pointer(&flats.world, at(PointerAction::Release(second), y, 1.2));
        assert_eq!(
            commanded(deed).action,
            march(
                Formation {
                    facing,
                    ..line.clone()
                },
                false
            )
        );
    }
    // An intent to attack-move makes them fight on the way.
    hand.intend(Some(Verb::AttackMove));
    let deed = click(&mut hand, &flats, Button::Primary, (30.0, 30.0), keys, 2.0);
    assert_eq!(commanded(deed).action, march(line, true));
    // What means something else for one of them is what it always was.
    hand.select(units.into_iter().chain([yard]));
    let deed = click(&mut hand, &flats, second, (30.0, 30.0), keys, 3.0);
    assert_eq!(commanded(deed).action, context(ground(30.0, 30.0)));
    hand.select(units);
    hand.choose_formation(None);
    let deed = click(&mut hand, &flats, second, (30.0, 30.0), keys, 4.0);
    assert_eq!(commanded(deed).action, context(ground(30.0, 30.0)));
}
