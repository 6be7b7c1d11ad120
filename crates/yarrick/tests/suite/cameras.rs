//! Picking behind any camera: random cameras against testing every unit one by one.

use glam::camera::rh::view::look_at_mat4;
use proptest::prelude::*;
use yarrick::geom::{Mat4, Vec3, Vec4};
use yarrick::select::{Camera, CameraError, FlatView, MatrixView};
use yarrick::{Ground, Kind, Rect, Side, SideId, Terrain, UnitId, Vec2, World, WorldSetup};

const SCREEN: Vec2 = Vec2::new(1280.0, 800.0);

/// A hilly map with units strewn over it.
fn world(places: &[(f32, f32)]) -> World {
    let terrains = vec![Terrain::open("sand")];
    let hills = (0..48 * 48).map(|k| (k % 48, k / 48));
    let hills =
        hills.map(|(x, y)| 3.0 * libm::sinf(x as f32 / 9.0) + 2.0 * libm::cosf(y as f32 / 7.0));
    let ground = Ground::new(48, 48, 1.0, terrains, vec![0; 48 * 48]).unwrap();
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![
            Kind::walker("raker", 0.4, 1.5),
            Kind::walker("sledge", 1.2, 1.0),
        ],
        ..WorldSetup::on(ground.with_heights(hills.collect()).unwrap())
    })
    .unwrap();
    for (k, (x, y)) in places.iter().enumerate() {
        let kind = yarrick::world::KindId((k % 2) as u16);
        // Those that do not fit are not there.
        let _ = world.spawn(kind, SideId(0), Vec2::new(*x, *y), *x);
    }
    world.step();
    world
}

/// A perspective projection whose depth is `a + b / w` behind the sign that games differ in.
fn perspective(fov: f32, a: f32, b: f32) -> Mat4 {
    let near = 1.0 / libm::tanf(fov * 0.5);
    Mat4::from_cols(
        Vec4::new(near * SCREEN.y / SCREEN.x, 0.0, 0.0, 0.0),
        Vec4::new(0.0, near, 0.0, 0.0),
        Vec4::new(0.0, 0.0, a, -1.0),
        Vec4::new(0.0, 0.0, b, 0.0),
    )
}

/// Perspective and parallel cameras, looking anywhere, from above, within and below.
fn camera() -> impl Strategy<Value = Camera> {
    let eye = (-30.0_f32..80.0, -30.0_f32..80.0, 0.5_f32..60.0);
    let aim = (0.0_f32..48.0, 0.0_f32..48.0, -2.0_f32..4.0);
    (eye, aim, 0.3_f32..2.0, 0_u8..3).prop_filter_map(
        "looks straight up",
        |(eye, aim, fov, sort)| {
            let (eye, aim) = (Vec3::from(eye), Vec3::from(aim));
            let view = look_at_mat4(eye, aim, Vec3::Z);
            let ratio = SCREEN.x / SCREEN.y;
            let projection = match sort {
                0 => perspective(fov, 500.0 / -499.9, 0.1 * 500.0 / -499.9),
                // Depth that runs the other way, to infinity.
                1 => perspective(fov, 0.0, 0.1),
                _ => Mat4::from_scale(Vec3::new(0.05 / ratio, 0.05, -0.002)),
            };
            MatrixView::new(projection * view, SCREEN)
                .ok()
                .map(Camera::Matrix)
        },
    )
}

proptest! {
    #![proptest_config(ProptestConfig {
        cases: 400,
        failure_persistence: None,
        ..ProptestConfig::default()
    })]

    #[test]
    fn a_box_selects_what_testing_every_unit_one_by_one_selects(
        camera in camera(),
        places in proptest::collection::vec((0.0_f32..48.0, 0.0_f32..48.0), 0..60),
        a in (-100.0_f32..1400.0, -100.0_f32..900.0), b in (-100.0_f32..1400.0, -100.0_f32..900.0),
    ) {
        let world = world(&places);
        let screen = Rect::from_corners(a.into(), b.into());
        let mut plain: Vec<UnitId> = world
            .units()
            .filter(|unit| {
                let shown = camera.bounds_of(world.corners(*unit));
                shown.is_some_and(|shown| {
                    shown.min.cmple(screen.max).all() && screen.min.cmple(shown.max).all()
                })
            })
            .map(|unit| unit.id())
            .collect();
        plain.sort_unstable();
        prop_assert_eq!(world.in_screen_box(&camera, screen), plain);
    }

    #[test]
    fn what_is_seen_of_the_ground_is_seen_where_it_is(
        camera in camera(), x in 1.0_f32..47.0, y in 1.0_f32..47.0,
    ) {
        let world = world(&[]);
        let point = Vec2::new(x, y);
        let raised = point.extend(world.ground().height_at(point));
        // Points behind the eye never match, and hills may hide what lies behind them: then
        // something nearer is seen.
        if let Some(screen) = camera.to_screen(raised)
            && Rect::from_corners(Vec2::ZERO, SCREEN).contains(screen)
            && let Some(seen) = world.ground_under(&camera, screen)
        {
            let seen = seen.extend(world.ground().height_at(seen));
            let shown = camera.to_screen(seen).unwrap();
            prop_assert!(shown.distance(screen) < 3.0, "{} is seen at {} px, not {}", seen, shown, screen);
        }
    }
}

#[test]
fn a_camera_that_looks_down_sees_the_ground_that_is_there() {
    let world = world(&[]);
    let eye = Vec3::new(24.0, -10.0, 40.0);
    let view = look_at_mat4(eye, Vec3::new(24.0, 24.0, 0.0), Vec3::Z);
    let matrix = perspective(1.0, 0.0, 0.1) * view;
    let camera = Camera::Matrix(MatrixView::new(matrix, SCREEN).unwrap());
    let mut seen = 0;
    for (x, y) in [(10.0, 10.0), (24.0, 24.0), (38.0, 30.0), (20.0, 44.0)] {
        let point = Vec2::new(x, y);
        let raised = point.extend(world.ground().height_at(point));
        let screen = camera.to_screen(raised).unwrap();
        let found = world.ground_under(&camera, screen).unwrap();
        assert!(found.distance(point) < 0.2, "{found} is not {point}");
        seen += 1;
    }
    assert_eq!(seen, 4);
    let sky = Vec2::new(640.0, -5000.0);
    assert_eq!(world.ground_under(&camera, sky), None);
    assert_eq!(world.ground_under(&camera, Vec2::NAN), None);
}

#[test]
fn what_is_behind_the_eye_is_never_picked() {
    let world = world(&[(24.0, 4.0), (24.0, 44.0)]);
    let eye = Vec3::new(24.0, 24.0, 6.0);
    let view = look_at_mat4(eye, Vec3::new(24.0, 48.0, 0.0), Vec3::Z);
    let matrix = perspective(1.5, 0.0, 0.1) * view;
    let camera = Camera::Matrix(MatrixView::new(matrix, SCREEN).unwrap());
    let everything = Rect::around(Vec2::ZERO, 1e6);
    let found = world.in_screen_box(&camera, everything);
    assert_eq!(found.len(), 1);
    assert!(world.unit(found[0]).unwrap().position().y > 40.0);
}

#[test]
fn cameras_that_see_nothing_are_refused() {
    let flat = Mat4::from_scale(Vec3::new(1.0, 1.0, 0.0));
    let nan = Mat4::from_scale(Vec3::splat(f32::NAN));
    for (matrix, size, expected) in [
        (flat, SCREEN, CameraError::NoInverse),
        (nan, SCREEN, CameraError::NoInverse),
        (Mat4::ZERO, SCREEN, CameraError::NoInverse),
        (Mat4::IDENTITY, Vec2::ZERO, CameraError::NoScreen(0.0, 0.0)),
        (
            Mat4::IDENTITY,
            Vec2::new(640.0, -1.0),
            CameraError::NoScreen(640.0, -1.0),
        ),
    ] {
        assert_eq!(MatrixView::new(matrix, size), Err(expected));
    }
}

#[test]
fn boxes_that_are_no_boxes_select_nobody() {
    let world = world(&[(24.0, 24.0)]);
    let view = FlatView {
        corner: Vec2::new(0.0, 48.0),
        px_per_m: 10.0,
        size_px: SCREEN,
    };
    let nan = Rect::around(Vec2::splat(f32::NAN), 5.0);
    assert_eq!(world.in_screen_box(&Camera::Flat(view), nan), []);
    assert_eq!(
        world.under(&Camera::Flat(view), Vec2::splat(f32::INFINITY), 5.0),
        []
    );
    let nothing = FlatView {
        px_per_m: 0.0,
        ..view
    };
    let all = Rect::from_corners(Vec2::ZERO, SCREEN);
    assert_eq!(world.in_screen_box(&Camera::Flat(nothing), all), []);
}
