//! The player's hand: gestures, picking, and what they come to in a world.

use proptest::prelude::*;
use yarrick::select::{
    Button, FlatView, Gesture, GestureReader, GestureSettings, Keys, PointerAction, PointerInput,
};
use yarrick::world::Deed;
use yarrick::{
    Action, Ground, Hand, Kind, Rect, Side, SideId, Terrain, UnitId, Vec2, World, WorldSetup,
};

const KEEPERS: SideId = SideId(0);
const PRESS: PointerAction = PointerAction::Press(Button::Primary);
const RELEASE: PointerAction = PointerAction::Release(Button::Primary);
const MOVE: PointerAction = PointerAction::Move;

fn input(action: PointerAction, x: f32, y: f32, time_s: f64) -> PointerInput {
    PointerInput::new(action, Vec2::new(x, y), time_s)
}

/// Reads inputs and gives the gestures that come of them.
fn read(inputs: &[PointerInput]) -> Vec<Gesture> {
    let mut reader = GestureReader::default();
    inputs
        .iter()
        .filter_map(|input| reader.read(*input))
        .collect()
}

fn boxed(a: (f32, f32), b: (f32, f32)) -> Gesture {
    Gesture::Box {
        rect: Rect::from_corners(a.into(), b.into()),
        keys: Keys::default(),
    }
}

fn click(button: Button, x: f32, y: f32) -> Gesture {
    Gesture::Click {
        button,
        at: Vec2::new(x, y),
        keys: Keys::default(),
    }
}

#[test]
fn a_slip_within_the_threshold_is_a_click_where_it_was_pressed() {
    let inputs = [
        input(PRESS, 10.0, 10.0, 0.0),
        input(RELEASE, 13.0, 12.0, 0.2),
    ];
    assert_eq!(read(&inputs), [click(Button::Primary, 10.0, 10.0)]);
}

#[test]
fn a_box_can_be_dragged_in_any_direction() {
    for (x, y) in [(90.0, 80.0), (10.0, 80.0), (90.0, 20.0), (10.0, 20.0)] {
        let inputs = [
            input(PRESS, 50.0, 50.0, 0.0),
            input(MOVE, x, y, 0.1),
            input(RELEASE, x, y, 0.2),
        ];
        assert_eq!(read(&inputs), [boxed((50.0, 50.0), (x, y))]);
    }
}

#[test]
fn a_long_press_makes_a_box_of_a_small_movement() {
    let drag = |until| {
        read(&[
            input(PRESS, 10.0, 10.0, 0.0),
            input(MOVE, 12.0, 12.0, until),
            input(RELEASE, 12.0, 12.0, until),
        ])
    };
    assert_eq!(drag(0.2), [click(Button::Primary, 10.0, 10.0)]);
    assert_eq!(drag(0.5), [boxed((10.0, 10.0), (12.0, 12.0))]);
}

#[test]
fn a_box_drawn_back_to_its_start_stays_a_box() {
    let inputs = [
        input(PRESS, 10.0, 10.0, 0.0),
        input(MOVE, 60.0, 60.0, 0.1),
        input(RELEASE, 10.0, 10.0, 0.2),
    ];
    assert_eq!(read(&inputs), [boxed((10.0, 10.0), (10.0, 10.0))]);
}

#[test]
fn an_interrupted_drag_means_nothing() {
    let secondary = PointerAction::Press(Button::Secondary);
    for interruption in [PointerAction::Cancel, secondary, PRESS] {
        let inputs = [
            input(PRESS, 10.0, 10.0, 0.0),
            input(MOVE, 60.0, 60.0, 0.1),
            input(interruption, 60.0, 60.0, 0.2),
            input(RELEASE, 70.0, 70.0, 0.3),
            input(PointerAction::Release(Button::Secondary), 70.0, 70.0, 0.4),
        ];
        assert_eq!(read(&inputs), [], "{interruption:?}");
    }
}

#[test]
fn what_the_interface_has_taken_begins_nothing() {
    let mut taken = input(PRESS, 10.0, 10.0, 0.0);
    taken.taken = true;
    assert_eq!(read(&[taken, input(RELEASE, 60.0, 60.0, 0.1)]), []);

    let mut released = input(RELEASE, 60.0, 60.0, 0.2);
    released.taken = true;
    let press = input(PRESS, 10.0, 10.0, 0.0);
    assert_eq!(
        read(&[press, released]),
        [boxed((10.0, 10.0), (60.0, 60.0))]
    );
    released.at = Vec2::new(11.0, 10.0);
    assert_eq!(
        read(&[press, released]),
        [],
        "a click that ends on a button is none"
    );
}

#[test]
fn a_secondary_press_is_a_click_however_far_it_slips() {
    let inputs = [
        input(PointerAction::Press(Button::Secondary), 10.0, 10.0, 0.0),
        input(MOVE, 60.0, 60.0, 0.1),
        input(PointerAction::Release(Button::Secondary), 60.0, 60.0, 0.2),
    ];
    assert_eq!(read(&inputs), [click(Button::Secondary, 10.0, 10.0)]);
}

#[test]
fn points_that_are_no_numbers_are_ignored() {
    let nan = f32::NAN;
    assert_eq!(
        read(&[input(PRESS, nan, 1.0, 0.0), input(RELEASE, 1.0, 1.0, 0.1)]),
        []
    );
    let inputs = [
        input(PRESS, 10.0, 10.0, 0.0),
        input(MOVE, nan, nan, 0.1),
        input(RELEASE, 40.0, 40.0, f64::NAN),
    ];
    assert_eq!(read(&inputs), [boxed((10.0, 10.0), (40.0, 40.0))]);
}

fn action() -> impl Strategy<Value = PointerAction> {
    let button = prop_oneof![Just(Button::Primary), Just(Button::Secondary)];
    prop_oneof![
        button.clone().prop_map(PointerAction::Press),
        button.prop_map(PointerAction::Release),
        Just(PointerAction::Move),
        Just(PointerAction::Cancel),
    ]
}

fn world() -> World {
    let ground = Ground::from_rows(
        1.0,
        &["................"; 16],
        &[('.', Terrain::open("sand"))],
    );
    World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![Kind::walker("raker", 0.4, 2.0)],
        ..WorldSetup::on(ground.unwrap())
    })
    .unwrap()
}

fn spawn(world: &mut World, side: u8, x: f32, y: f32) -> UnitId {
    let kind = world.kind("raker").unwrap();
    world
        .spawn(kind, SideId(side), Vec2::new(x, y), 0.0)
        .unwrap()
}

proptest! {
    #[test]
    fn no_stream_of_events_leaves_a_drag_open(
        stream in proptest::collection::vec(
            (action(), -50.0_f32..50.0, -50.0_f32..50.0, any::<bool>()), 0..60),
    ) {
        let mut reader = GestureReader::default();
        for (k, (action, x, y, taken)) in stream.into_iter().enumerate() {
            let mut given = input(action, x, y, k as f64 * 0.1);
            given.taken = taken;
            let gesture = reader.read(given);
            prop_assert!(gesture.is_none() || !reader.is_held());
            prop_assert!(reader.current_box().is_none() || reader.is_held());
        }
        reader.read(input(PointerAction::Cancel, 0.0, 0.0, 99.0));
        prop_assert!(!reader.is_held() && reader.current_box().is_none());
    }

    #[test]
    fn a_box_picks_what_a_plain_scan_picks(
        places in proptest::collection::vec((0.5_f32..15.5, 0.5_f32..15.5, 0_u8..2), 0..40),
        a in (-2.0_f32..18.0, -2.0_f32..18.0), b in (-2.0_f32..18.0, -2.0_f32..18.0),
        stepped in any::<bool>(),
    ) {
        let mut world = world();
        for (x, y, side) in places {
            spawn(&mut world, side, x, y);
        }
        if stepped {
            world.step();
        }
        let rect = Rect::from_corners(a.into(), b.into());
        let mut plain: Vec<UnitId> = world
            .units()
            .filter(|unit| unit.side_id() == KEEPERS)
            .filter(|unit| rect.touches_disc(unit.position(), unit.radius()))
            .map(|unit| unit.id())
            .collect();
        plain.sort_unstable();
        prop_assert_eq!(world.pick_box(KEEPERS, rect), plain);

        let point = Vec2::from(a);
        let nearest = world
            .units()
            .filter(|unit| unit.side_id() == KEEPERS)
            .filter(|unit| unit.position().distance(point) <= unit.radius() + 0.3)
            .map(|unit| unit.position().distance(point))
            .fold(f32::INFINITY, f32::min);
        let picked = world.pick(KEEPERS, point, 0.3).and_then(|id| world.unit(id));
        let picked = picked.map_or(f32::INFINITY, |unit| unit.position().distance(point));
        prop_assert!(picked == nearest || (picked - nearest).abs() < 1e-4);
    }
}

/// A hand with a camera of 10 px a metre that sees the whole map.
fn hand() -> Hand {
    let view = FlatView {
        corner: Vec2::new(0.0, 16.0),
        px_per_m: 10.0,
    };
    Hand::new(KEEPERS, view, GestureSettings::default())
}

fn with_shift(inputs: [PointerInput; 2]) -> [PointerInput; 2] {
    inputs.map(|mut input| {
        input.keys.shift = true;
        input
    })
}

#[test]
fn a_hand_selects_adds_orders_and_queues() {
    let mut world = world();
    let west = spawn(&mut world, 0, 2.0, 8.0);
    let east = spawn(&mut world, 0, 12.0, 8.0);
    spawn(&mut world, 1, 3.0, 8.0);
    world.step();
    let mut hand = hand();
    let at = |x: f32, y: f32| (x * 10.0, (16.0 - y) * 10.0);
    let clicks = |x: f32, y: f32, button| {
        let (x, y) = at(x, y);
        [
            input(PointerAction::Press(button), x, y, 0.0),
            input(PointerAction::Release(button), x, y, 0.1),
        ]
    };
    let (primary, secondary) = (Button::Primary, Button::Secondary);
    let mut give = |inputs: [PointerInput; 2]| {
        let deeds = inputs.map(|input| hand.pointer(&world, input));
        (deeds[1].clone(), hand.selection().ids().to_vec())
    };

    let (_, selected) = give([
        input(PRESS, at(1.0, 10.0).0, at(1.0, 10.0).1, 0.0),
        input(RELEASE, at(5.0, 6.0).0, at(5.0, 6.0).1, 0.3),
    ]);
    assert_eq!(selected, [west], "a box takes one's own only");
    let (_, selected) = give(with_shift(clicks(12.5, 8.0, primary)));
    assert_eq!(selected, [west, east], "shift adds");
    let (deed, _) = give(with_shift(clicks(6.0, 3.0, secondary)));
    let Some(Deed::Commanded(command)) = deed else {
        panic!("{deed:?}");
    };
    assert!(command.queued && command.units == [west, east]);
    assert_eq!(
        command.action,
        Action::Move {
            to: Vec2::new(6.0, 3.0)
        }
    );
    let (_, selected) = give(with_shift(clicks(8.0, 2.0, primary)));
    assert_eq!(
        selected,
        [west, east],
        "shift on open ground keeps the selection"
    );
    let (_, selected) = give(clicks(8.0, 2.0, primary));
    assert_eq!(selected, [], "a click on open ground selects nobody");
    let (deed, _) = give(clicks(6.0, 3.0, secondary));
    assert_eq!(deed, None, "nobody is there to be ordered");
}

#[test]
fn a_selection_loses_those_that_are_gone() {
    let mut world = world();
    let unit = spawn(&mut world, 0, 2.0, 8.0);
    let mut hand = hand();
    hand.select([unit]);
    world.remove(unit);
    world.step();
    let press = PointerAction::Press(Button::Secondary);
    let release = PointerAction::Release(Button::Secondary);
    hand.pointer(&world, input(press, 50.0, 50.0, 0.0));
    assert_eq!(hand.pointer(&world, input(release, 50.0, 50.0, 0.1)), None);
    assert!(hand.selection().is_empty());
}
