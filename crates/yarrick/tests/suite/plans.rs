//! A building in hand: it follows the pointer, turns, is placed, replaced or given up.

use crate::marsh::{DYKE, KEEPERS, Marsh, RACK, RAKER, SALT, SALTHOUSE, WARDEN, YARD, setup};
use core::f32::consts::{FRAC_PI_2, FRAC_PI_4};
use proptest::prelude::*;
use yarrick::economy::Missing;
use yarrick::select::{
    Button, Camera, FlatView, GestureSettings, Keys, PointerAction, PointerInput,
};
use yarrick::world::{Footprint, HandOutput, KindId, NotPlaced, PlanRules, SiteObjection};
use yarrick::{Action, Command, Event, Hand, UnitId, Vec2, When};

const PX: f32 = 20.0;
const FREE: PlanRules = PlanRules {
    on_cells: false,
    steps_a_turn: 8,
    facing: 0.0,
};

/// A hand on a marsh that has selected a raker.
struct Player {
    marsh: Marsh,
    hand: Hand,
    raker: UnitId,
}

impl Player {
    fn of(mut marsh: Marsh) -> Player {
        let camera = Camera::Flat(FlatView {
            corner: Vec2::new(0.0, 30.0),
            px_per_m: PX,
            size_px: Vec2::splat(30.0 * PX),
        });
        let mut hand = Hand::new(KEEPERS, camera, GestureSettings::default());
        let raker = marsh.put(RAKER, 5.0, 5.0);
        hand.select([raker]);
        Player { marsh, hand, raker }
    }

    fn with_salt(salt: u32) -> Player {
        Player::of(Marsh::open(salt))
    }

    fn plan(&mut self, kind: KindId) {
        self.hand.plan_site(kind, PlanRules::default());
    }

    fn input(&mut self, action: PointerAction, x: f32, y: f32, keys: Keys) -> Option<HandOutput> {
        let at = Vec2::new(x, 30.0 - y) * PX;
        let input = PointerInput {
            keys,
            ..PointerInput::new(action, at, 0.0)
        };
        self.hand.pointer(&self.marsh.world, input)
    }

    fn point(&mut self, x: f32, y: f32) {
        self.input(PointerAction::Move, x, y, Keys::default());
    }

    fn press(&mut self, x: f32, y: f32) {
        self.input(PointerAction::Press(Button::Primary), x, y, Keys::default());
    }

    fn release(&mut self, x: f32, y: f32, keys: Keys) -> Option<HandOutput> {
        self.input(PointerAction::Release(Button::Primary), x, y, keys)
    }

    fn click(&mut self, x: f32, y: f32) -> Option<HandOutput> {
        self.press(x, y);
        self.release(x, y, Keys::default())
    }

    /// Where the plan lies: its point and facing.
    fn place(&self) -> Option<(Vec2, f32)> {
        let plan = self.hand.site_plan(&self.marsh.world)?;
        Some((plan.at, plan.facing))
    }
}

fn build(output: Option<HandOutput>) -> Command {
    match output {
        Some(HandOutput::Commanded(command)) => command,
        other => panic!("{other:?}"),
    }
}

#[test]
fn a_plan_follows_the_pointer_on_whole_cells_and_a_click_has_it_built() {
    let mut player = Player::with_salt(50);
    player.plan(RACK);
    assert_eq!(player.place(), None, "the pointer has not been seen yet");
    player.point(12.3, 8.2);
    assert_eq!(player.place(), Some((Vec2::new(12.0, 8.5), 0.0)));
    player.hand.turn_plan(&player.marsh.world, 1);
    let turned = player.place().unwrap();
    assert_eq!(
        turned,
        (Vec2::new(12.5, 8.0), FRAC_PI_2),
        "a quarter on cells"
    );
    assert_eq!(player.hand.plan_verdict(&player.marsh.world), []);
    let command = build(player.click(12.3, 8.2));
    assert_eq!(command.units, [player.raker]);
    assert_eq!(player.hand.planned_kind(), None, "it has left the hand");
    player.marsh.world.submit(command).unwrap();
    player.marsh.run(15.0);
    let racks = player
        .marsh
        .world
        .units()
        .filter(|unit| unit.kind_id() == RACK);
    let built: Vec<_> = racks
        .map(|unit| (unit.position(), unit.construction()))
        .collect();
    assert_eq!(built, [(turned.0, None)]);
}

#[test]
fn a_footprint_off_the_middle_lies_on_the_cells_as_well() {
    let mut setup = setup(&[&".".repeat(30) as &str; 30], 50);
    let offset_m = Vec2::new(1.25, 0.5);
    setup.kinds[usize::from(RACK.0)].footprint = Some(Footprint {
        offset_m,
        ..Footprint::of_size(Vec2::new(3.0, 2.0))
    });
    let mut player = Player::of(Marsh::new(setup));
    player.plan(RACK);
    for turns in 0..4 {
        player.point(12.3, 8.2);
        let plan = player.hand.site_plan(&player.marsh.world).unwrap();
        assert!(plan.at.distance(Vec2::new(12.3, 8.2)) < 0.8, "{turns}");
        for corner in plan.block(&player.marsh.world).unwrap().corners() {
            assert!(corner.distance(corner.round()) < 1e-4, "{turns}: {corner}");
        }
        player.hand.turn_plan(&player.marsh.world, 1);
    }
}

#[test]
fn a_drag_turns_a_plan_where_it_lies() {
    let mut player = Player::with_salt(50);
    player.hand.plan_site(RACK, FREE);
    player.press(12.3, 8.2);
    player.point(14.3, 10.2);
    let (at, facing) = player.place().unwrap();
    assert!(at.distance(Vec2::new(12.3, 8.2)) < 1e-4);
    assert!((facing - FRAC_PI_4).abs() < 1e-4, "{facing}");
    assert_eq!(player.hand.current_box(), None, "it is no box");
    let command = build(player.release(10.3, 8.2, Keys::default()));
    let Action::Build { at, facing, kind } = command.action else {
        panic!("{command:?}");
    };
    assert_eq!(kind, RACK);
    assert!(at.distance(Vec2::new(12.3, 8.2)) < 1e-4);
    assert!((facing.abs() - 2.0 * FRAC_PI_2).abs() < 1e-4, "{facing}");
}

#[test]
fn free_plans_turn_by_steps_of_their_own() {
    let mut player = Player::with_salt(50);
    player.hand.plan_site(RACK, FREE);
    player.point(12.3, 8.2);
    player.hand.turn_plan(&player.marsh.world, -1);
    assert_eq!(player.place().unwrap().1, -FRAC_PI_4);
    let stiff = PlanRules {
        steps_a_turn: 0,
        ..FREE
    };
    player.hand.plan_site(RACK, stiff);
    player.hand.turn_plan(&player.marsh.world, 3);
    assert_eq!(player.place().unwrap().1, 0.0);
}

#[test]
fn a_refused_place_is_told_in_full_and_the_plan_stays() {
    let mut player = Player::with_salt(9);
    let house = player.marsh.put(SALTHOUSE, 15.0, 15.5);
    let warden = player.marsh.put(WARDEN, 12.0, 13.0);
    player.plan(YARD);
    let refused = player.click(12.7, 14.6);
    let missing = Missing {
        resource: SALT,
        amount: 6,
    };
    let expected = vec![
        SiteObjection::Overlaps { building: house },
        SiteObjection::InTheWay { unit: warden },
        SiteObjection::NotAffordable(missing),
    ];
    let why = NotPlaced::Objections(expected.clone());
    assert_eq!(refused, Some(HandOutput::NotPlaced(why)));
    assert_eq!(player.hand.planned_kind(), Some(YARD));
    assert_eq!(player.hand.plan_verdict(&player.marsh.world), expected);
}

#[test]
fn another_choice_replaces_a_plan_where_it_lies() {
    let mut player = Player::with_salt(50);
    player.plan(RACK);
    player.point(12.3, 8.2);
    player.hand.turn_plan(&player.marsh.world, 1);
    player.plan(DYKE);
    assert_eq!(player.place(), Some((Vec2::new(12.5, 8.5), 0.0)));
    let command = build(player.click(12.3, 8.2));
    assert!(matches!(command.action, Action::Build { kind: DYKE, .. }));
    assert_eq!(player.hand.planned_kind(), None);
}

#[test]
fn a_plan_that_is_given_up_leaves_no_trace() {
    let mut player = Player::with_salt(50);
    let before = player.marsh.world.checksum_now();
    let secondary = |player: &mut Player| {
        for action in [PointerAction::Press, PointerAction::Release] {
            let output = player.input(action(Button::Secondary), 9.0, 9.0, Keys::default());
            assert_eq!(output, None);
        }
    };
    let ways: [&dyn Fn(&mut Player); 4] = [
        &secondary,
        &|player| player.hand.cancel(),
        &|player| player.hand.drop_plan(),
        &|player| player.hand.intend(None),
    ];
    for way in ways {
        player.plan(RACK);
        player.press(9.0, 9.0);
        player.point(11.0, 9.0);
        way(&mut player);
        assert_eq!(player.hand.planned_kind(), None);
        player.hand.cancel();
        assert_eq!(player.hand.selection().ids(), [player.raker]);
        player.plan(RACK);
        player.point(9.3, 9.2);
        assert_eq!(player.place().unwrap().1, 0.0, "no turn is left over");
        player.hand.drop_plan();
    }
    assert_eq!(player.marsh.world.checksum_now(), before);
    // A click selects again, and a secondary one orders.
    player.click(20.0, 20.0);
    assert_eq!(player.hand.selection().ids(), []);
}

#[test]
fn shift_places_one_after_the_other() {
    let mut player = Player::with_salt(50);
    player.plan(DYKE);
    let shift = Keys {
        shift: true,
        ..Keys::default()
    };
    for x in [10.5, 11.5, 12.5] {
        player.press(x, 20.5);
        let command = build(player.release(x, 20.5, shift));
        assert_eq!(command.when, When::Afterwards);
        player.marsh.world.submit(command).unwrap();
        player.marsh.run(0.05);
    }
    player.marsh.run(20.0);
    let built = |event: &&Event| matches!(event, Event::Built { .. });
    assert_eq!(player.marsh.events.iter().filter(built).count(), 3);
}

#[test]
fn over_the_interface_a_plan_lies_nowhere() {
    let mut player = Player::with_salt(50);
    player.plan(RACK);
    player.point(12.0, 12.0);
    let taken = PointerInput {
        taken: true,
        ..PointerInput::new(PointerAction::Move, Vec2::splat(10.0), 0.0)
    };
    player.hand.pointer(&player.marsh.world, taken);
    assert_eq!(player.place(), None);
    player.point(f32::NAN, 3.0);
    assert_eq!(player.place(), None);
    player.point(12.0, 12.0);
    assert!(player.place().is_some());
}

#[test]
fn nobody_places_what_nobody_selected_builds() {
    let mut player = Player::with_salt(50);
    let warden = player.marsh.put(WARDEN, 7.0, 7.0);
    player.hand.select([warden]);
    player.plan(RACK);
    let refused = Some(HandOutput::NotPlaced(NotPlaced::NoBuilder));
    assert_eq!(player.click(12.0, 12.0), refused);
    let (raker, nowhere) = (player.raker, KindId(99));
    player.hand.select([warden, raker]);
    let command = build(player.click(12.0, 12.0));
    assert_eq!(command.units, [raker], "the warden goes on with its own");
    player.plan(nowhere);
    assert_eq!(player.click(12.0, 12.0), None);
    assert_eq!(player.place(), None);
}

proptest! {
    /// What the hand places, the world takes; what it refuses, the world would have refused for the first of its reasons.
    #[test]
    fn hand_and_world_agree_on_every_place(
        (x, y) in (-2.0_f32..32.0, -2.0_f32..32.0), facing in -4.0_f32..4.0, on_cells: bool,
        kind in prop_oneof![Just(RACK), Just(YARD), Just(DYKE)], salt in 0_u32..30,
    ) {
        let mut rows = vec![".".repeat(30); 30];
        rows[12].replace_range(8..14, "######");
        let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
        let mut player = Player::of(Marsh::of(&rows, salt));
        player.marsh.put(SALTHOUSE, 15.0, 15.5);
        player.marsh.put(WARDEN, 20.0, 20.0);
        player.hand.plan_site(kind, PlanRules { on_cells, steps_a_turn: 8, facing });
        player.press(x, y);
        let Some((at, facing)) = player.place() else {
            return Ok(());
        };
        let output = player.release(x, y, Keys::default());
        let (command, expected) = match output.unwrap() {
            HandOutput::Commanded(command) => (command, None),
            HandOutput::NotPlaced(NotPlaced::Objections(against)) => {
                let action = Action::Build { kind, at, facing };
                let (side, units, when) = (KEEPERS, vec![player.raker], When::Now);
                (Command { side, units, action, when }, Some(against[0]))
            }
            other => panic!("{other:?}"),
        };
        player.marsh.world.submit(command).unwrap();
        let refused = player.marsh.run(0.05).into_iter().find_map(|event| match event {
            Event::Refused { why, .. } => Some(why),
            _ => None,
        });
        prop_assert_eq!(refused, expected.map(yarrick::world::Refusal::Site));
    }
}
