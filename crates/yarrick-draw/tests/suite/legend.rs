//! A picture says what is in it, and nothing of what is not.

use yarrick::combat::Weapon;
use yarrick::select::{Camera, FlatView, GestureSettings, PointerAction, PointerInput};
use yarrick::{
    Action, Command, Ground, Hand, Kind, Side, SideId, Spot, Terrain, UnitId, Vec2, When, World,
    WorldSetup,
};
use yarrick_draw::{Scene, Size};

fn world(rows: &[&str]) -> World {
    let legend = [
        ('.', Terrain::open("sand")),
        ('~', Terrain::closed("creek")),
        ('#', Terrain::closed("dyke").blocking_sight()),
    ];
    let ground = Ground::from_rows(1.0, rows, &legend).unwrap();
    let weapon = Weapon {
        range_m: 1.0,
        damage: 3.0,
        cooldown_s: 0.5,
        ..Weapon::PLAIN
    };
    World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("<tide> & co")],
        kinds: vec![
            Kind::walker("raker", 0.4, 1.5),
            Kind::walker("nipper", 0.3, 3.0).armed(weapon),
            Kind {
                rallies: true,
                ..Kind::walker("yard", 0.5, 0.0)
            },
        ],
        ..WorldSetup::on(ground)
    })
    .unwrap()
}

fn spawn(world: &mut World, kind: &str, side: u8, x: f32) -> UnitId {
    let kind = world.kind(kind).unwrap();
    world
        .spawn(kind, SideId(side), Vec2::new(x, 1.5), 0.0)
        .unwrap()
}

/// All texts of the picture, in the order in which they are drawn.
fn texts(world: &World, hands: &[Hand]) -> Vec<String> {
    let title = "A long title that needs two lines & then some more words that are cut";
    let scene = Scene {
        hands,
        ..Scene::of(title, world)
    };
    let svg = scene.draw(Size::default()).to_svg();
    let pieces = svg.lines().filter(|line| line.starts_with("<text"));
    pieces
        .map(|line| line.split(['<', '>']).nth(2).unwrap().to_owned())
        .collect()
}

const FLAT: [&str; 4] = ["........", "........", "........", "........"];

#[test]
fn an_empty_world_shows_its_ground_only() {
    insta::assert_debug_snapshot!(texts(&world(&FLAT), &[]));
}

#[test]
fn everything_that_is_there_is_explained() {
    let mut world = world(&["....~...", "....~...", "....~..#", "....~..#"]);
    let raker = spawn(&mut world, "raker", 0, 1.0);
    spawn(&mut world, "nipper", 1, 6.0);
    for (x, queued) in [(3.0, false), (6.0, true)] {
        let to = Vec2::new(x, 0.5);
        let command = Command {
            side: SideId(0),
            units: vec![raker],
            action: Action::move_to(to),
            when: if queued { When::Afterwards } else { When::Now },
        };
        world.submit(command).unwrap();
    }
    world.step();
    let camera = Camera::Flat(FlatView {
        corner: Vec2::new(0.0, 4.0),
        px_per_m: 20.0,
        size_px: Vec2::new(160.0, 80.0),
    });
    let mut hand = Hand::new(SideId(0), camera, GestureSettings::default());
    hand.select([raker]);
    let press = PointerAction::Press(yarrick::select::Button::Primary);
    hand.pointer(&world, PointerInput::new(press, Vec2::new(5.0, 5.0), 0.0));
    hand.pointer(
        &world,
        PointerInput::new(PointerAction::Move, Vec2::new(60.0, 50.0), 0.1),
    );
    insta::assert_debug_snapshot!(texts(&world, &[hand]));
}

#[test]
fn fights_company_and_rally_points_are_explained_where_there_are_any() {
    let mut world = world(&FLAT);
    let mut at = (0..6).map(|k| 0.6 + 1.2 * k as f32);
    let mut put = |kind: &str, side| spawn(&mut world, kind, side, at.next().unwrap());
    let (yard, raker, holder) = (put("yard", 0), put("raker", 0), put("raker", 0));
    let (nipper, walker) = (put("nipper", 1), put("nipper", 1));
    let post = Vec2::new(7.0, 3.0);
    for (side, unit, action) in [
        (
            0,
            yard,
            Action::Rally {
                to: Spot::Ground(Vec2::new(1.0, 3.0)),
            },
        ),
        (
            0,
            yard,
            Action::Rally {
                to: Spot::Unit(raker),
            },
        ),
        (0, raker, Action::follow(yard)),
        (0, holder, Action::Hold),
        (1, nipper, Action::Attack { target: holder }),
        (
            1,
            walker,
            Action::Patrol {
                points: vec![post, Vec2::new(2.0, 3.0)],
                round: true,
            },
        ),
        (
            1,
            walker,
            Action::Guard {
                ward: Spot::Ground(post),
            },
        ),
        (
            1,
            walker,
            Action::AttackMove {
                to: Vec2::new(5.0, 3.5),
            },
        ),
    ] {
        let (side, units, when) = (SideId(side), vec![unit], When::Afterwards);
        world
            .submit(Command {
                side,
                units,
                action,
                when,
            })
            .unwrap();
    }
    for _ in 0..40 {
        world.step();
    }
    insta::assert_debug_snapshot!(texts(&world, &[]));
}

#[test]
fn a_legend_too_long_for_its_picture_says_so() {
    let mut world = world(&["....~...", "....~..#", "........", "........"]);
    for (side, x) in [(0, 1.0), (1, 6.0)] {
        spawn(&mut world, "raker", side, x);
        spawn(&mut world, "nipper", side, x + 1.0);
    }
    let scene = Scene::of("Small", &world);
    let cut_short = |size: Size| scene.draw(size).to_svg().contains("more: draw it larger");
    let (width, height) = Size::LEAST;
    assert!(!cut_short(Size::default()));
    assert!(
        !cut_short(Size::new(width, height).unwrap()),
        "rows close up first"
    );
    let many = (0..30).map(|k| Kind::walker(&format!("kind {k}"), 0.3, 1.0));
    let ground = world.ground().clone();
    let mut crowded = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: many.collect(),
        ..WorldSetup::on(ground)
    })
    .unwrap();
    for k in 0..30 {
        spawn(&mut crowded, &format!("kind {k}"), 0, 1.0);
    }
    let scene = Scene {
        world: &crowded,
        ..scene
    };
    let svg = scene.draw(Size::new(width, height).unwrap()).to_svg();
    assert!(svg.contains("more: draw it larger"));
}

#[test]
fn maps_of_any_shape_stay_within_the_picture() {
    let tall = vec!["...."; 300];
    let wide = ["."; 1].map(|_| ".".repeat(600));
    let wide: Vec<&str> = wide.iter().map(String::as_str).collect();
    for rows in [&tall[..], &wide[..], &["."][..]] {
        let world = world(rows);
        let scene = Scene::of("shape", &world);
        let sheet = scene.draw(Size::new(640, 480).unwrap());
        assert_eq!(
            sheet.to_png().unwrap(),
            scene.draw(Size::new(640, 480).unwrap()).to_png().unwrap()
        );
        for line in sheet
            .to_svg()
            .lines()
            .filter(|line| line.starts_with("<text"))
        {
            let number = |key: &str| -> f32 {
                line.split(key)
                    .nth(1)
                    .unwrap()
                    .split('"')
                    .nth(1)
                    .unwrap()
                    .parse()
                    .unwrap()
            };
            let (left, width, y) = (number(" x="), number(" textLength="), number(" y="));
            assert!(left >= 0.0 && left + width <= 640.0 && y <= 480.0, "{line}");
        }
    }
}

#[test]
fn sizes_have_limits() {
    assert!(Size::new(0, 0).is_none() && Size::new(9000, 800).is_none());
    assert!(Size::new(1280, 800) == Some(Size::default()));
}
