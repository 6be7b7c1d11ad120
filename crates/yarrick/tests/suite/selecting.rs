//! The player's hand: what gestures come to in a world.

use crate::doors::Doors as _;
use proptest::prelude::*;
use yarrick::select::{Button, Camera, FlatView, GestureSettings, PointerAction, PointerInput};
use yarrick::world::{Footprint, HandOutput, KindId, Rank, Spot};
use yarrick::{
    Action, Ground, Hand, Kind, Rect, Side, SideId, Terrain, UnitId, Vec2, When, World, WorldSetup,
};

const KEEPERS: SideId = SideId(0);
const PRESS: PointerAction = PointerAction::Press(Button::Primary);
const RELEASE: PointerAction = PointerAction::Release(Button::Primary);

fn input(action: PointerAction, x: f32, y: f32, time_s: f64) -> PointerInput {
    PointerInput::new(action, Vec2::new(x, y), time_s)
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
        let Camera::Flat(view) = *hand().camera() else {
            return Ok(());
        };
        let screen = Rect::from_corners(view.to_screen(a.into()), view.to_screen(b.into()));
        let rect = Rect::from_corners(view.to_ground(screen.min), view.to_ground(screen.max));
        let mut plain: Vec<UnitId> = world
            .units()
            .filter(|unit| rect.touches_disc(unit.position(), unit.radius()))
            .map(|unit| unit.id())
            .collect();
        plain.sort_unstable();
        prop_assert_eq!(world.in_screen_box(hand().camera(), screen), plain);

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
    let camera = Camera::Flat(FlatView {
        corner: Vec2::new(0.0, 16.0),
        px_per_m: 10.0,
        size_px: Vec2::new(160.0, 160.0),
    });
    Hand::new(KEEPERS, camera, GestureSettings::default())
}

fn with_shift(inputs: [PointerInput; 2]) -> [PointerInput; 2] {
    inputs.map(|mut input| {
        input.keys.shift = true;
        input
    })
}

/// A click, as the two inputs that make it.
fn clicks(x: f32, y: f32, button: Button, time_s: f64) -> [PointerInput; 2] {
    let (x, y) = (x * 10.0, (16.0 - y) * 10.0);
    [
        input(PointerAction::Press(button), x, y, time_s),
        input(PointerAction::Release(button), x, y, time_s + 0.05),
    ]
}

/// A box between two ground points.
fn drags(a: (f32, f32), b: (f32, f32), time_s: f64) -> [PointerInput; 2] {
    [
        input(PRESS, a.0 * 10.0, (16.0 - a.1) * 10.0, time_s),
        input(RELEASE, b.0 * 10.0, (16.0 - b.1) * 10.0, time_s + 0.2),
    ]
}

fn with_control(inputs: [PointerInput; 2]) -> [PointerInput; 2] {
    inputs.map(|mut input| {
        input.keys.control = true;
        input
    })
}

/// Gives the inputs to the hand, and what is selected then.
fn after(hand: &mut Hand, world: &World, inputs: [PointerInput; 2]) -> Vec<UnitId> {
    for input in inputs {
        hand.pointer(world, input);
    }
    hand.selection().ids().to_vec()
}

/// A world with fighters, workers and a building of the keepers, and one of the tide.
fn mixed() -> (World, [UnitId; 7]) {
    let ground = Ground::from_rows(
        1.0,
        &["................"; 16],
        &[('.', Terrain::open("sand"))],
    );
    let of_rank = |name, rank, speed| Kind {
        rank,
        ..Kind::walker(name, 0.4, speed)
    };
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![
            of_rank("salthouse", Rank::Building, 0.0),
            of_rank("raker", Rank::Worker, 1.5),
            of_rank("slinger", Rank::Fighter, 1.5),
            of_rank("warden", Rank::Fighter, 1.5),
        ],
        ..WorldSetup::on(ground.unwrap())
    })
    .unwrap();
    let mut put = |kind: u16, side: u8, x: f32, y: f32| {
        world
            .spawn(KindId(kind), SideId(side), Vec2::new(x, y), 0.0)
            .unwrap()
    };
    let units = [
        put(0, 0, 2.0, 8.0),
        put(1, 0, 4.0, 8.0),
        put(1, 0, 4.0, 10.0),
        put(3, 0, 6.0, 8.0),
        put(2, 0, 6.0, 10.0),
        put(3, 0, 12.0, 8.0),
        put(3, 1, 14.0, 8.0),
    ];
    world.step();
    (world, units)
}

#[test]
fn a_box_prefers_fighters_over_workers_over_buildings_and_ones_own_over_others() {
    let (world, [house, raker, other, warden, slinger, far, foe]) = mixed();
    let mut hand = hand();
    let mut boxed = |a, b, time_s| after(&mut hand, &world, drags(a, b, time_s));
    assert_eq!(
        boxed((1.0, 12.0), (7.0, 7.0), 0.0),
        [slinger, warden],
        "by kind, then by id"
    );
    assert_eq!(boxed((1.0, 12.0), (5.0, 7.0), 1.0), [raker, other]);
    assert_eq!(boxed((1.0, 12.0), (3.0, 7.0), 2.0), [house]);
    assert_eq!(boxed((11.0, 12.0), (15.0, 7.0), 3.0), [far]);
    assert_eq!(
        boxed((13.0, 12.0), (15.0, 7.0), 4.0),
        [foe],
        "to be looked at"
    );
    assert!(!hand.can_order(&world));
    let deeds = clicks(3.0, 3.0, Button::Secondary, 5.0).map(|input| hand.pointer(&world, input));
    assert_eq!(deeds, [None, None], "a foreign unit is not ordered about");
}

#[test]
fn a_building_is_picked_by_the_ground_that_it_covers() {
    let ground = Ground::from_rows(
        1.0,
        &["................"; 16],
        &[('.', Terrain::open("sand"))],
    );
    let house = Kind {
        footprint: Some(Footprint::of_size(Vec2::new(6.0, 2.0))),
        ..Kind::walker("salthouse", 0.9, 0.0)
    };
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![house],
        ..WorldSetup::on(ground.unwrap())
    })
    .unwrap();
    // It faces north: six metres from south to north, two across.
    let north = core::f32::consts::FRAC_PI_2;
    let house = world
        .spawn(KindId(0), KEEPERS, Vec2::new(8.0, 8.0), north)
        .unwrap();
    world.step();
    let mut hand = hand();
    let mut click = |x, y, time_s| after(&mut hand, &world, clicks(x, y, Button::Primary, time_s));
    assert_eq!(click(8.5, 10.7, 0.0), [house]);
    assert_eq!(click(10.7, 8.5, 1.0), []);
    assert_eq!(click(8.0, 5.3, 2.0), [house]);
    let boxed = after(&mut hand, &world, drags((7.5, 12.0), (8.5, 10.5), 3.0));
    assert_eq!(boxed, [house]);
}

#[test]
fn own_and_foreign_units_are_never_selected_together() {
    let (world, [.., far, foe]) = mixed();
    let mut hand = hand();
    assert_eq!(
        after(&mut hand, &world, clicks(12.0, 8.0, Button::Primary, 0.0)),
        [far]
    );
    let shift = with_shift(clicks(14.0, 8.0, Button::Primary, 1.0));
    assert_eq!(after(&mut hand, &world, shift), [foe]);
    let shift = with_shift(drags((11.0, 9.0), (13.0, 7.0), 2.0));
    assert_eq!(after(&mut hand, &world, shift), [far]);
}

#[test]
fn shift_takes_in_and_out_and_control_takes_away() {
    let (world, [_, raker, other, warden, ..]) = mixed();
    let mut hand = hand();
    let primary = Button::Primary;
    assert_eq!(
        after(&mut hand, &world, drags((3.0, 12.0), (5.0, 7.0), 0.0)),
        [raker, other]
    );
    let shift = with_shift(clicks(6.0, 8.0, primary, 1.0));
    assert_eq!(after(&mut hand, &world, shift), [raker, other, warden]);
    let shift = with_shift(clicks(4.0, 8.0, primary, 2.0));
    assert_eq!(after(&mut hand, &world, shift), [other, warden]);
    assert_eq!(hand.selection().lead(), Some(other));
    let control = with_control(drags((3.0, 12.0), (5.0, 7.0), 3.0));
    assert_eq!(after(&mut hand, &world, control), [warden]);
    let control = with_control(clicks(9.0, 2.0, primary, 4.0));
    assert_eq!(
        after(&mut hand, &world, control),
        [warden],
        "open ground takes nobody away"
    );
}

#[test]
fn a_double_click_selects_all_of_the_kind_that_the_camera_shows() {
    let (world, [_, _, _, warden, _, far, _]) = mixed();
    let mut hand = hand();
    let twice = |hand: &mut Hand, time_s| {
        after(hand, &world, clicks(6.0, 8.0, Button::Primary, time_s));
        after(
            hand,
            &world,
            clicks(6.0, 8.0, Button::Primary, time_s + 0.2),
        )
    };
    assert_eq!(twice(&mut hand, 0.0), [warden, far]);
    let narrow = FlatView {
        corner: Vec2::new(0.0, 16.0),
        px_per_m: 10.0,
        size_px: Vec2::new(80.0, 160.0),
    };
    hand.set_camera(Camera::Flat(narrow));
    assert_eq!(twice(&mut hand, 5.0), [warden]);
    hand.select_all_of_kind(&world, KindId(3));
    assert_eq!(hand.selection().ids(), [warden, far]);
}

#[test]
fn repeated_clicks_go_through_those_that_stand_in_one_place() {
    let mut world = world();
    let close = [(5.0, 5.0), (5.2, 5.0), (5.4, 5.0)].map(|(x, y)| spawn(&mut world, 0, x, y));
    let mut hand = hand();
    let picked: Vec<UnitId> = (0..4)
        .map(|k| {
            after(
                &mut hand,
                &world,
                clicks(5.0, 5.0, Button::Primary, f64::from(k)),
            )[0]
        })
        .collect();
    assert_eq!(picked, [close[0], close[1], close[2], close[0]]);
    after(&mut hand, &world, clicks(12.0, 12.0, Button::Primary, 10.0));
    let again = after(&mut hand, &world, clicks(5.0, 5.0, Button::Primary, 11.0));
    assert_eq!(again, [close[0]], "it begins with the nearest again");
}

#[test]
fn control_groups_are_kept_recalled_and_shown() {
    let (mut world, [_, raker, other, warden, ..]) = mixed();
    let mut hand = hand();
    hand.select([warden, raker]);
    hand.set_group(3).unwrap();
    hand.select([other]);
    hand.add_to_group(3).unwrap();
    assert!(hand.set_group(10).is_err() && hand.recall_group(&world, 10, 0.0).is_err());

    let recalled = hand.recall_group(&world, 3, 1.0).unwrap();
    assert_eq!(hand.selection().ids(), [warden, raker, other]);
    assert_eq!(recalled.look_at, None);
    let recalled = hand.recall_group(&world, 3, 1.2).unwrap();
    assert_eq!(
        recalled.look_at,
        Some(Vec2::new(6.0, 8.0)),
        "where the leading one stands"
    );

    world.remove(warden);
    world.step();
    hand.recall_group(&world, 3, 9.0).unwrap();
    assert_eq!(hand.selection().ids(), [raker, other]);
}

#[test]
fn idle_workers_come_in_turn() {
    let (mut world, [_, raker, other, ..]) = mixed();
    let mut hand = hand();
    let mut next = |world: &World| hand.next_idle_worker(world);
    let (first, second) = (Some(Vec2::new(4.0, 8.0)), Some(Vec2::new(4.0, 10.0)));
    assert_eq!(
        [next(&world), next(&world), next(&world)],
        [first, second, first]
    );
    let to = Vec2::new(14.0, 14.0);
    for unit in [raker, other] {
        let command = yarrick::Command {
            side: KEEPERS,
            units: vec![unit],
            action: Action::move_to(to),
            when: When::Now,
        };
        world.submit(command).unwrap();
        world.step();
        assert!(!world.idle_workers(KEEPERS).contains(&unit));
    }
    assert_eq!(next(&world), None);
}

#[test]
fn a_limit_on_selections_holds() {
    let (world, [_, _, _, _, slinger, ..]) = mixed();
    let mut hand = hand().with_limit(1);
    assert_eq!(
        after(&mut hand, &world, drags((1.0, 12.0), (7.0, 7.0), 0.0)),
        [slinger]
    );
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
    let mut now = 0.0;
    let mut clicks = |x: f32, y: f32, button| {
        now += 1.0;
        clicks(x, y, button, now)
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
    let Some(HandOutput::Commanded(command)) = deed else {
        panic!("{deed:?}");
    };
    assert!(command.when == When::Afterwards && command.units == [west, east]);
    assert_eq!(
        command.action,
        Action::Context {
            at: Spot::Ground(Vec2::new(6.0, 3.0))
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
