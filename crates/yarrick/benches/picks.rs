//! Selecting with a box among 100,000 units, against a plain scan of all of them.
//!
//! `cargo bench --bench picks`

#[path = "measure/mod.rs"]
mod measure;

use std::hint::black_box;
use yarrick::geom::{Mat4, Vec3, Vec4};
use yarrick::rng::Stream;
use yarrick::select::{Camera, FlatView, MatrixView};
use yarrick::{Ground, Kind, Rect, Side, SideId, Terrain, UnitId, Vec2, World, WorldSetup};

const COUNT: usize = 100_000;
const SIDE: u32 = 1000;
const SCREEN: Vec2 = Vec2::new(1280.0, 800.0);

fn main() {
    let world = world();
    measure::head(
        "a box among 100,000 units",
        "by the index",
        "plain scan of all units",
    );
    let flat = Camera::Flat(FlatView {
        corner: Vec2::new(0.0, SIDE as f32),
        px_per_m: 1.0,
        size_px: Vec2::splat(SIDE as f32),
    });
    for side in [4.0, 40.0, 400.0] {
        compare(
            &world,
            &format!("straight down, {side} m a side"),
            &flat,
            side,
        );
    }
    for side in [10.0, 100.0, 800.0] {
        compare(
            &world,
            &format!("perspective, {side} px a side"),
            &perspective(),
            side,
        );
    }
}

fn compare(world: &World, name: &str, camera: &Camera, side: f32) {
    let mut stream = Stream::new(4, "boxes");
    let boxes: Vec<Rect> = (0..60)
        .map(|_| {
            let size = camera.size_px();
            let x = stream.between(0.0, size.x - side);
            let y = stream.between(0.0, size.y - side);
            let min = Vec2::new(x, y);
            Rect::from_corners(min, min + Vec2::splat(side))
        })
        .collect();
    for rect in &boxes {
        let found = world.in_screen_box(camera, *rect);
        assert_eq!(
            found,
            scan(world, camera, *rect),
            "both must find the same units"
        );
    }
    measure::line(
        name,
        boxes.len(),
        |k| {
            black_box(world.in_screen_box(camera, boxes[k]));
        },
        |k| {
            black_box(scan(world, camera, boxes[k]));
        },
    );
}

/// Every unit, one by one.
fn scan(world: &World, camera: &Camera, screen: Rect) -> Vec<UnitId> {
    let shown = |unit: &yarrick::world::UnitView<'_>| match camera {
        Camera::Flat(view) => {
            let rect = Rect::from_corners(view.to_ground(screen.min), view.to_ground(screen.max));
            rect.touches_disc(unit.position(), unit.radius())
        }
        Camera::Matrix(_) => {
            let bounds = camera.bounds_of(world.corners(*unit));
            bounds.is_some_and(|bounds| {
                bounds.min.cmple(screen.max).all() && screen.min.cmple(bounds.max).all()
            })
        }
    };
    let mut found: Vec<UnitId> = world.units().filter(shown).map(|unit| unit.id()).collect();
    found.sort_unstable();
    found
}

fn world() -> World {
    let cells = (SIDE * SIDE) as usize;
    let terrains = vec![Terrain::open("sand")];
    let ground = Ground::new(SIDE, SIDE, 1.0, terrains, vec![0; cells]).unwrap();
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("raker", 0.4, 1.5)],
        ..WorldSetup::on(ground)
    })
    .unwrap();
    let raker = world.kind("raker").unwrap();
    let mut stream = Stream::new(9, "places");
    for _ in 0..COUNT {
        let (x, y) = (stream.between(1.0, 999.0), stream.between(1.0, 999.0));
        world.spawn(raker, SideId(0), Vec2::new(x, y), 0.0).unwrap();
    }
    world.step();
    world
}

/// A camera in the south that looks north and down over the whole map.
fn perspective() -> Camera {
    let near = 1.2;
    let projection = Mat4::from_cols(
        Vec4::new(near * SCREEN.y / SCREEN.x, 0.0, 0.0, 0.0),
        Vec4::new(0.0, near, 0.0, 0.0),
        Vec4::new(0.0, 0.0, 0.0, -1.0),
        Vec4::new(0.0, 0.0, 0.1, 0.0),
    );
    let eye = Vec3::new(500.0, -200.0, 500.0);
    let aim = Vec3::new(500.0, 400.0, 0.0);
    let view = glam::camera::rh::view::look_at_mat4(eye, aim, Vec3::Z);
    Camera::Matrix(MatrixView::new(projection * view, SCREEN).unwrap())
}
