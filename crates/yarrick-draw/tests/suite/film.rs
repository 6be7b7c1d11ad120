//! Films: frame after frame, the same bytes, and an end where they are to end.

use yarrick::motion::formation::{Form, Formation};
use yarrick::{
    Action, Command, Ground, Kind, Side, SideId, Terrain, Vec2, When, World, WorldSetup,
};
use yarrick_draw::{Film, FilmError, Motions, Scene, Size};

/// Three on a march over open sand.
fn world() -> World {
    let ground = Ground::from_rows(
        1.0,
        &[".................."; 9],
        &[('.', Terrain::open("sand"))],
    );
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("warden", 0.4, 2.0)],
        ..WorldSetup::on(ground.unwrap())
    })
    .unwrap();
    let kind = world.kind("warden").unwrap();
    let units = [2.0, 4.0, 6.0].map(|y| {
        world
            .spawn(kind, SideId(0), Vec2::new(2.0, y), 0.0)
            .unwrap()
    });
    let action = Action::March {
        to: Vec2::new(15.0, 4.0),
        formation: Formation::new(Form::Line),
        fight: false,
    };
    let (side, units, when) = (SideId(0), units.to_vec(), When::Now);
    world
        .submit(Command {
            side,
            units,
            action,
            when,
        })
        .unwrap();
    world
}

fn size() -> Size {
    Size::new(640, 480).unwrap()
}

#[test]
fn a_film_has_its_frames_and_is_the_same_every_time() {
    let film = || {
        let (mut world, mut film) = (world(), Film::new(0.05, 1_000_000));
        for _ in 0..12 {
            world.step();
            film.add(&Scene::of("A march", &world).draw(size()))
                .unwrap();
        }
        assert_eq!(film.frames(), 12);
        film.finish().unwrap()
    };
    let bytes = film();
    assert_eq!(bytes, film());
    // Frames that hardly differ take hardly any room.
    let (mut world, mut still) = (world(), Film::new(0.05, 1_000_000));
    world.step();
    let sheet = Scene::of("A march", &world).draw(size());
    for _ in 0..12 {
        still.add(&sheet).unwrap();
    }
    assert!(still.finish().unwrap().len() < bytes.len());
}

#[test]
fn a_film_ends_at_its_limit_and_keeps_what_it_has() {
    let (mut world, mut film) = (world(), Film::new(0.05, 10));
    world.step();
    let sheet = Scene::of("A march", &world).draw(size());
    assert!(matches!(film.add(&sheet), Err(FilmError::TooLarge(10))));
    assert!(matches!(film.add(&sheet), Err(FilmError::TooLarge(10))));
    assert_eq!(film.frames(), 1);
    assert!(film.finish().unwrap().len() > 10);
}

#[test]
fn what_is_no_film_is_refused() {
    assert!(matches!(
        Film::new(0.1, 1000).finish(),
        Err(FilmError::Empty)
    ));
    let (world, mut film) = (world(), Film::new(f64::NAN, 1_000_000));
    let scene = Scene::of("A march", &world);
    film.add(&scene.draw(size())).unwrap();
    let larger = scene.draw(Size::default());
    assert!(matches!(film.add(&larger), Err(FilmError::OtherSize)));
}

#[test]
fn a_march_and_its_velocities_are_explained() {
    let mut world = world();
    for _ in 0..20 {
        world.step();
    }
    let velocities = Motions {
        velocities: true,
        ..Motions::default()
    };
    let scene = Scene {
        motions: velocities,
        ..Scene::of("A march", &world)
    };
    let svg = scene.draw(size()).to_svg();
    for text in [
        "slot in a formation",
        "its middle, and where it looks",
        "where it will be in a second",
    ] {
        assert!(svg.contains(text), "{text}");
    }
    let plain = Scene::of("A march", &world).draw(size()).to_svg();
    assert!(!plain.contains("where it will be in a second"));
}
