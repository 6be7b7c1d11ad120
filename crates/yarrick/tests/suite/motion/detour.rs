//! Short ways past bodies that stand: every passage is found on a mesh of cells, and what is found can be walked.

use proptest::prelude::*;
use std::collections::BTreeSet;
use yarrick::Vec2;
use yarrick::ground::{Cell, GaitId, Ground, Terrain};
use yarrick::motion::{DetourSearch, Mesh, Obstacle, Surroundings};
use yarrick::rng::Stream;

const SIDE: i32 = 20;

/// A map of dykes, and bodies that stand on it.
fn clutter(seed: u64, closed: u32) -> (Ground, Vec<Obstacle>) {
    let mut stream = Stream::new(seed, "clutter");
    let classes: Vec<u8> = (0..SIDE * SIDE)
        .map(|_| u8::from(stream.below(100) < closed))
        .collect();
    let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
    let ground = Ground::new(SIDE as u32, SIDE as u32, 1.0, terrains, classes).unwrap();
    let bodies = (0..6).map(|_| Obstacle {
        at: Vec2::new(
            stream.between(1.0, SIDE as f32 - 1.0),
            stream.between(1.0, SIDE as f32 - 1.0),
        ),
        radius_m: stream.between(0.2, 0.6),
        yields: false,
    });
    let bodies = bodies.collect();
    (ground, bodies)
}

/// The cells that can be reached by steps from middle to middle of cells: the slow, obvious way.
fn reached(around: &Surroundings<'_>, ground: &Ground, from: Vec2) -> BTreeSet<Cell> {
    let passes = |a: Vec2, b: Vec2| {
        around.view.line_is_clear(a, b, around.radius_m) && !around.meets_body(a, b)
    };
    let round = |cell: Cell| {
        let steps = (-1..=1).flat_map(|y| (-1..=1).map(move |x| (x, y)));
        steps.map(move |(x, y)| Cell::new(cell.x + x, cell.y + y))
    };
    let is_free = |cell: &Cell| ground.contains(*cell) && around.is_free(ground.centre(*cell));
    let mut open: Vec<Cell> = round(ground.nearest_cell(from))
        .filter(|cell| is_free(cell) && passes(from, ground.centre(*cell)))
        .collect();
    let mut seen: BTreeSet<Cell> = open.iter().copied().collect();
    while let Some(cell) = open.pop() {
        for next in round(cell) {
            let is_open = is_free(&next) && passes(ground.centre(cell), ground.centre(next));
            if is_open && seen.insert(next) {
                open.push(next);
            }
        }
    }
    seen
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(256))]
    #[test]
    fn a_mesh_of_cells_finds_every_passage_from_cell_to_cell(
        seed in any::<u64>(),
        closed in 10_u32..40,
        radius_m in 0.1_f32..0.499,
        (x, y) in (1.0_f32..19.0, 1.0_f32..19.0),
        (column, row) in (0..SIDE, 0..SIDE),
        hugs in any::<bool>(),
    ) {
        let (ground, bodies) = clutter(seed, closed);
        let view = ground.view(GaitId(0));
        let around = Surroundings { view, radius_m, obstacles: &bodies };
        let (from, end) = (Vec2::new(x, y), Cell::new(column, row));
        let to = ground.centre(end);
        prop_assume!(view.disc_is_clear(from, radius_m) && around.is_free(from));
        prop_assume!(view.disc_is_clear(to, radius_m) && around.is_free(to));
        let middle = ground.centre(ground.nearest_cell(from));
        let mesh = Mesh { spacing_m: 1.0, reach: SIDE as u32 + 1, middle: Some(middle), hugs };
        let way = DetourSearch::default().find(&around, &mesh, (from, to));
        prop_assert!(way.is_some() || !reached(&around, &ground, from).contains(&end));
        let mut at = from;
        for next in way.into_iter().flatten() {
            prop_assert!(view.line_is_clear(at, next, radius_m), "{at} to {next}");
            prop_assert!(!around.meets_body(at, next), "{at} to {next}");
            at = next;
        }
        prop_assert!(at == from || at == to);
    }

    #[test]
    fn the_nearest_place_with_some_room_is_found_of_all_that_can_be_reached(
        seed in any::<u64>(),
        closed in 10_u32..40,
        radius_m in 0.1_f32..0.499,
        (x, y) in (1.0_f32..19.0, 1.0_f32..19.0),
        (to_x, to_y) in (0.0_f32..20.0, 0.0_f32..20.0),
    ) {
        let (ground, bodies) = clutter(seed, closed);
        let view = ground.view(GaitId(0));
        let around = Surroundings { view, radius_m, obstacles: &bodies };
        let (from, to) = (Vec2::new(x, y), Vec2::new(to_x, to_y));
        prop_assume!(view.disc_is_clear(from, radius_m) && around.is_free(from));
        let middle = ground.centre(ground.nearest_cell(from));
        let mesh = Mesh { spacing_m: 1.0, reach: SIDE as u32 + 1, middle: Some(middle), hugs: false };
        let way = DetourSearch::default().find_nearest(&around, &mesh, (from, to));
        let has_room = |at: Vec2| bodies.iter().all(|body| {
            at.distance(body.at) >= around.keep_m(body) + 0.3 * radius_m
        });
        let reached = reached(&around, &ground, from);
        let places = reached.iter().map(|cell| ground.centre(*cell)).filter(|at| has_room(*at));
        let least_m = places.map(|at| at.distance(to)).fold(from.distance(to), f32::min);
        let mut at = from;
        for next in way {
            prop_assert!(view.line_is_clear(at, next, radius_m) && !around.meets_body(at, next));
            at = next;
        }
        prop_assert!((at.distance(to) - least_m).abs() < 1e-4, "{at}, not {least_m} m");
    }
}

/// A hall that a row of bodies of radius `wide_m` divides, all but for one gap that leaves a walker `slack_m`: the bodies, the height of the
/// hall, and the middle of the gap. The gap lies between two bodies, or between the last one and the rim.
fn row_with_a_gap(
    stream: &mut Stream,
    (radius_m, wide_m): (f32, f32),
    slack_m: f32,
) -> (Vec<Obstacle>, f32, Vec2) {
    let count = 2 + stream.below(5);
    let gap_at = 1 + stream.below(count);
    let apart_m = |gap_m: f32| 2.0 * wide_m + gap_m;
    let body = |at: Vec2| Obstacle {
        at,
        radius_m: wide_m,
        yields: false,
    };
    let mut at = Vec2::new(8.0, wide_m + radius_m * stream.between(0.0, 1.5));
    let (mut bodies, mut gap) = (vec![body(at)], Vec2::ZERO);
    for k in 1..count {
        let gap_m = if k == gap_at {
            2.0 * radius_m + slack_m
        } else {
            radius_m * stream.between(0.0, 1.5)
        };
        let aside_m = stream.between(-0.3, 0.3) * wide_m;
        let up_m = (apart_m(gap_m) * apart_m(gap_m) - aside_m * aside_m).sqrt();
        let next = at + Vec2::new(aside_m, up_m);
        if k == gap_at {
            gap = at.midpoint(next);
        }
        at = next;
        bodies.push(body(at));
    }
    let over_m = if gap_at == count {
        2.0 * radius_m + slack_m
    } else {
        radius_m * stream.between(0.0, 1.5)
    };
    let height_m = at.y + wide_m + over_m;
    if gap_at == count {
        gap = Vec2::new(at.x, height_m - over_m / 2.0);
    }
    (bodies, height_m, gap)
}

proptest! {
    #[test]
    fn a_mesh_that_hugs_finds_the_one_gap_in_a_row_of_bodies(
        seed in any::<u64>(),
        radius_m in 0.2_f32..0.9,
        wide_m in 0.2_f32..0.9,
        slack in 0.1_f32..0.5,
        (before, beyond) in (1.5_f32..3.0, 1.5_f32..3.0),
    ) {
        let mut stream = Stream::new(seed, "row");
        // A walker keeps a hundredth of its distance from each body as well.
        let slack_m = slack * radius_m + 0.04 * (radius_m + wide_m);
        let (bodies, height_m, gap) = row_with_a_gap(&mut stream, (radius_m, wide_m), slack_m);
        let rows = (height_m / 1.3).ceil() as u32;
        let cell_m = height_m / rows as f32;
        let columns = (16.0 / cell_m).ceil() as u32;
        let classes = vec![0; (rows * columns) as usize];
        let ground = Ground::new(columns, rows, cell_m, vec![Terrain::open("sand")], classes).unwrap();
        let view = ground.view(GaitId(0));
        let around = Surroundings { view, radius_m, obstacles: &bodies };
        let off_m = radius_m + wide_m;
        let y = gap.y.clamp(radius_m * 1.1, height_m - radius_m * 1.1);
        let (from, to) = (Vec2::new(gap.x - before * off_m, y), Vec2::new(gap.x + beyond * off_m, y));
        let mesh = Mesh { hugs: true, ..Mesh::in_radii(radius_m, (0.5, 64)) };
        prop_assume!(around.is_free(from) && around.is_free(to) && to.x - from.x < mesh.half_m());
        let way = DetourSearch::default().find(&around, &mesh, (from, to));
        prop_assert!(way.is_some(), "no way through {slack_m} m at {gap}");
        let mut at = from;
        for next in way.into_iter().flatten() {
            prop_assert!(view.line_is_clear(at, next, radius_m), "{at} to {next}");
            prop_assert!(!around.meets_body(at, next), "{at} to {next}");
            at = next;
        }
        prop_assert_eq!(at, to);
    }
}

#[test]
fn a_middle_far_from_the_start_is_refused() {
    let (ground, _) = clutter(1, 0);
    let around = Surroundings {
        view: ground.view(GaitId(0)),
        radius_m: 0.4,
        obstacles: &[],
    };
    let from = Vec2::splat(5.0);
    for (middle, is_usable) in [
        (Vec2::splat(5.5), true),
        (Vec2::new(6.5, 5.5), false),
        (Vec2::splat(f32::NAN), false),
    ] {
        let mesh = Mesh {
            spacing_m: 1.0,
            reach: 10,
            middle: Some(middle),
            hugs: false,
        };
        let way = DetourSearch::default().find(&around, &mesh, (from, Vec2::splat(9.0)));
        assert_eq!(way.is_some(), is_usable, "{middle}");
    }
}
