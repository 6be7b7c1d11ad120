//! Press, move and release become clicks and boxes, whatever the pointer does.

use proptest::prelude::*;
use yarrick::select::{Button, Gesture, GestureReader, Keys, PointerAction, PointerInput};
use yarrick::{Rect, Vec2};

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
        from: a.into(),
        keys: Keys::default(),
    }
}

fn click(button: Button, x: f32, y: f32) -> Gesture {
    Gesture::Click {
        button,
        at: Vec2::new(x, y),
        keys: Keys::default(),
        double: false,
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
    for interruption in [PointerAction::Cancel, secondary] {
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

/// The same input from another pointer.
fn of(pointer: u32, input: PointerInput) -> PointerInput {
    PointerInput { pointer, ..input }
}

#[test]
fn a_second_finger_interrupts_and_only_when_all_are_up_does_a_press_count_again() {
    let inputs = [
        of(1, input(PRESS, 10.0, 10.0, 0.0)),
        of(1, input(MOVE, 60.0, 60.0, 0.1)),
        of(2, input(PRESS, 80.0, 80.0, 0.2)),
        of(1, input(RELEASE, 60.0, 60.0, 0.3)),
        // One finger is still down: this one is part of the same play of hands.
        of(3, input(PRESS, 20.0, 20.0, 0.4)),
        of(3, input(RELEASE, 20.0, 20.0, 0.5)),
        of(2, input(RELEASE, 80.0, 80.0, 0.6)),
        of(4, input(PRESS, 30.0, 30.0, 0.7)),
        of(4, input(RELEASE, 30.0, 30.0, 0.8)),
    ];
    assert_eq!(read(&inputs), [click(Button::Primary, 30.0, 30.0)]);
}

#[test]
fn one_pointer_drags_on_while_another_is_cancelled_or_presses_the_interface() {
    let mut thumb = of(2, input(PRESS, 80.0, 80.0, 0.1));
    thumb.taken = true;
    for other in [thumb, of(2, input(PointerAction::Cancel, 0.0, 0.0, 0.1))] {
        let inputs = [
            of(1, input(PRESS, 10.0, 10.0, 0.0)),
            other,
            of(2, input(MOVE, 90.0, 90.0, 0.2)),
            of(2, input(RELEASE, 90.0, 90.0, 0.3)),
            of(1, input(RELEASE, 60.0, 60.0, 0.4)),
        ];
        assert_eq!(read(&inputs), [boxed((10.0, 10.0), (60.0, 60.0))]);
    }
}

#[test]
fn a_release_that_got_lost_does_not_hold_up_what_comes_after() {
    let lost = of(1, input(PRESS, 10.0, 10.0, 0.0));
    let dragged = of(1, input(MOVE, 60.0, 60.0, 0.1));
    // The same button again.
    let again = [
        of(1, input(PRESS, 30.0, 30.0, 0.2)),
        of(1, input(RELEASE, 30.0, 30.0, 0.3)),
    ];
    let inputs = [[lost, dragged], again].concat();
    assert_eq!(read(&inputs), [click(Button::Primary, 30.0, 30.0)]);
    // Another finger, at once and after a while.
    let other = |at_s: f64| {
        read(&[
            lost,
            dragged,
            of(2, input(PRESS, 30.0, 30.0, at_s)),
            of(2, input(RELEASE, 30.0, 30.0, at_s + 0.1)),
        ])
    };
    assert_eq!(other(0.5), []);
    assert_eq!(other(5.0), [click(Button::Primary, 30.0, 30.0)]);
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
    // Unless sweeps are looked for, and it slips far.
    let mut reader = GestureReader::default();
    reader.look_for_sweeps(true);
    let sweeps: Vec<Gesture> = inputs
        .into_iter()
        .filter_map(|input| reader.read(input))
        .collect();
    let (from, to) = (Vec2::splat(10.0), Vec2::splat(60.0));
    let keys = Keys::default();
    assert_eq!(sweeps, [Gesture::Sweep { from, to, keys }]);
    let near = [
        input(PointerAction::Press(Button::Secondary), 10.0, 10.0, 1.0),
        input(PointerAction::Release(Button::Secondary), 20.0, 10.0, 1.2),
    ];
    let clicks: Vec<Gesture> = near
        .into_iter()
        .filter_map(|input| reader.read(input))
        .collect();
    assert_eq!(clicks, [click(Button::Secondary, 10.0, 10.0)]);
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

proptest! {
    #[test]
    fn no_stream_of_events_leaves_a_drag_open(
        stream in proptest::collection::vec(
            (0_u32..4, action(), -50.0_f32..50.0, -50.0_f32..50.0, any::<bool>(), 0_u8..20), 0..80),
        cancelled in any::<bool>(),
    ) {
        let mut reader = GestureReader::default();
        for (k, (pointer, action, x, y, taken, odd)) in stream.into_iter().enumerate() {
            let time_s = if odd == 0 { f64::NAN } else { k as f64 * 0.1 };
            let mut given = of(pointer, input(action, x, y, time_s));
            given.taken = taken;
            let gesture = reader.read(given);
            prop_assert!(gesture.is_none() || !reader.is_held());
            prop_assert!(reader.current_box().is_none() || reader.is_held());
        }
        for pointer in 0..4 {
            let up = |action| of(pointer, input(action, 0.0, 0.0, 9.0));
            if cancelled {
                reader.read(up(PointerAction::Cancel));
            } else {
                reader.read(up(RELEASE));
                reader.read(up(PointerAction::Release(Button::Secondary)));
            }
        }
        prop_assert!(!reader.is_held() && reader.current_box().is_none());
        // Whatever was before, a click counts now.
        reader.read(input(PRESS, 5.0, 5.0, 20.0));
        let clicked = reader.read(input(RELEASE, 5.0, 5.0, 20.1));
        prop_assert_eq!(clicked, Some(click(Button::Primary, 5.0, 5.0)));
    }
}
