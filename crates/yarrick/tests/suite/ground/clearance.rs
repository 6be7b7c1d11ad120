//! Clearance against discs, and repaired maps against fresh ones.

use proptest::prelude::*;
use std::collections::BTreeSet;
use yarrick::ground::{Cell, ClearanceMap, Lattice, Link, Patch};
use yarrick::rng::Stream;
use yarrick::route::FarSearch;
use yarrick::scenario::Pattern;
use yarrick::{Ground, Terrain, Vec2};

fn ground(cells: &[bool], width: u32) -> Ground {
    let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
    let mut classes: Vec<u8> = cells.iter().map(|&closed| u8::from(closed)).collect();
    classes[0] = 0;
    let height = cells.len() as u32 / width;
    Ground::new(width, height, 2.0, terrains, classes).unwrap()
}

/// A map of several tracts with links, and changes to it: patches of it that become another terrain. Of each hundred cells some are
/// slow, and some are closed.
fn large_map(slow: u32, closed: u32) -> impl Strategy<Value = (Ground, Vec<(Patch, usize)>)> {
    let lattice = prop_oneof![
        Just(Lattice::Squares),
        Just(Lattice::Squares4),
        Just(Lattice::Hexes)
    ];
    let terrain = (0_u32..100).prop_map(move |k| match k {
        k if k < slow => 1_u8,
        k if k < slow + closed => 2,
        _ => 0,
    });
    let cells = proptest::collection::vec(terrain, 9000);
    let change = (0_u32..9000, 1_i32..9, 1_i32..9, 0_usize..3);
    let changes = proptest::collection::vec(change, 1..6);
    let links = proptest::collection::vec((0_u32..9000, 0_u32..9000, any::<bool>()), 0..4);
    (lattice, cells, links, changes).prop_map(|(lattice, mut cells, links, changes)| {
        cells[0] = 0;
        let terrains = vec![
            Terrain::open("sand"),
            Terrain::open("mud").with_speed(0.5),
            Terrain::closed("dyke"),
        ];
        let ground = Ground::new(100, 90, 1.0, terrains, cells).unwrap();
        let ground = ground.with_lattice(lattice);
        let cell = |k: u32| Cell::new((k % 100) as i32, (k / 100) as i32);
        let link = |(from, to, both_ways): (u32, u32, bool)| Link {
            name: "ferry".to_owned(),
            from: ground.centre(cell(from)),
            to: ground.centre(cell(to)),
            cost_m: 3.0,
            both_ways,
            gaits: Vec::new(),
        };
        let links = links.into_iter().map(link).collect();
        let change = |(at, width, height, terrain)| {
            let low = cell(at);
            let high = Cell::new(low.x + width, low.y + height);
            (Patch::between(low, high), terrain)
        };
        let changes = changes.into_iter().map(change).collect();
        (ground.with_links(links).unwrap(), changes)
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]
    #[test]
    fn long_ways_on_a_repaired_map_are_those_of_a_fresh_one(
        (mut ground, changes) in prop_oneof![large_map(22, 11), large_map(0, 11), large_map(0, 0)], radius in prop_oneof![Just(0.4_f32), Just(1.2)],
        ends in proptest::collection::vec((0_i32..90, 0_i32..90), 8),
    ) {
        let mut clearance = ClearanceMap::new(&ground, radius);
        let (mut repaired, mut built) = (FarSearch::default(), FarSearch::default());
        for (patch, terrain) in changes {
            let changed = ground.set_terrain(patch.cells(), terrain);
            clearance.repair(&ground, changed);
            let fresh = ClearanceMap::new(&ground, radius);
            for &(from, to) in &ends {
                let (from, to) = (Cell::new(1, from), Cell::new(98, to));
                let found = repaired.find(&clearance, from, to);
                prop_assert_eq!(found, built.find(&fresh, from, to));
                prop_assert!(found.is_none() || repaired.cells(&clearance).eq(built.cells(&fresh)));
            }
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(32))]
    #[test]
    fn a_map_that_is_repaired_in_parts_is_in_the_end_like_a_fresh_one(
        (mut ground, changes) in prop_oneof![large_map(22, 11), large_map(0, 11)],
        large in proptest::collection::vec((0_i32..20, 0_i32..10, 0_usize..3, 1_u32..6000), 1..4),
        ends in proptest::collection::vec((0_i32..90, 0_i32..90), 8),
    ) {
        let mut clearance = ClearanceMap::new(&ground, 0.4);
        let (mut repaired, mut built) = (FarSearch::default(), FarSearch::default());
        let small = changes.into_iter().map(|(patch, terrain)| (patch, terrain, 1));
        // Each lies in most of the tracts.
        let large = large.into_iter().map(|(x, y, terrain, work)| {
            (Patch::between(Cell::new(x, y), Cell::new(x + 79, y + 79)), terrain, work)
        });
        let mut steps = 0;
        for (patch, terrain, work) in large.chain(small) {
            // Sparse, so that something is left.
            let changed = ground.set_terrain(patch.cells().filter(|cell| (cell.x * 7 + cell.y * 3) % 5 == 0), terrain);
            clearance.repair_in_parts(&ground, changed);
            steps += u32::from(!clearance.is_finished());
            clearance.finish(work);
        }
        clearance.finish(u32::MAX);
        prop_assert!(clearance.is_finished() && clearance.finish(u32::MAX) == 0);
        prop_assert!(steps > 0);
        let fresh = ClearanceMap::new(&ground, 0.4);
        for &(from, to) in &ends {
            let (from, to) = (Cell::new(1, from), Cell::new(98, to));
            let found = repaired.find(&clearance, from, to);
            prop_assert_eq!(found, built.find(&fresh, from, to));
            prop_assert!(found.is_none() || repaired.cells(&clearance).eq(built.cells(&fresh)));
        }
    }
}

/// Whether two maps hang together in the same way: the numbers of their regions may differ.
fn hang_together_alike(ground: &Ground, a: &ClearanceMap, b: &ClearanceMap) -> bool {
    let pairs = ground.whole().cells().map(|c| (a.region(c), b.region(c)));
    let pairs: BTreeSet<_> = pairs.collect();
    let firsts: BTreeSet<_> = pairs.iter().map(|pair| pair.0).collect();
    let seconds: BTreeSet<_> = pairs.iter().map(|pair| pair.1).collect();
    pairs.len() == firsts.len() && pairs.len() == seconds.len()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]
    #[test]
    fn regions_of_a_repaired_map_are_those_of_a_fresh_one(
        (mut ground, changes) in large_map(14, 43), walls in proptest::collection::vec((any::<bool>(), 0_i32..90), 0..4),
    ) {
        let mut clearance = ClearanceMap::new(&ground, 0.4);
        // Walls right through the map cut it, and come down again.
        let wall = |(upright, at)| if upright {
            Patch::between(Cell::new(at, 0), Cell::new(at, 89))
        } else {
            Patch::between(Cell::new(0, at), Cell::new(99, at))
        };
        let walls: Vec<Patch> = walls.into_iter().map(wall).collect();
        let put_up = walls.iter().map(|wall| (*wall, 2));
        let opened = walls.iter().map(|wall| (*wall, 0));
        for (patch, terrain) in put_up.chain(changes).chain(opened) {
            let changed = ground.set_terrain(patch.cells(), terrain);
            clearance.repair(&ground, changed);
            let fresh = ClearanceMap::new(&ground, 0.4);
            prop_assert!(hang_together_alike(&ground, &clearance, &fresh), "{patch:?} becomes {terrain}");
        }
    }
}

proptest! {
    #[test]
    fn a_cell_is_open_exactly_where_the_disc_is_clear(
        cells in proptest::collection::vec(proptest::bool::weighted(0.08), 12 * 14),
        radius in 0.0_f32..7.0,
    ) {
        let ground = ground(&cells, 14);
        let clearance = ClearanceMap::new(&ground, radius);
        for k in 0..12 * 14 {
            let cell = Cell::new(k % 14, k / 14);
            let clear = ground.disc_is_clear(ground.centre(cell), radius);
            prop_assert_eq!(clearance.is_open(cell), clear, "{:?} at radius {}", cell, radius);
        }
    }

    #[test]
    fn every_step_between_open_cells_is_clear(
        cells in proptest::collection::vec(proptest::bool::weighted(0.1), 10 * 10),
        radius in 0.0_f32..5.0,
    ) {
        let ground = ground(&cells, 10);
        let clearance = ClearanceMap::new(&ground, radius);
        for k in 0..100 {
            let (x, y) = (k % 10, k / 10);
            let square = [(0, 0), (1, 0), (0, 1), (1, 1)].map(|(dx, dy)| Cell::new(x + dx, y + dy));
            if square.into_iter().all(|cell| clearance.is_open(cell)) {
                let [a, b, c, d] = square.map(|cell| ground.centre(cell));
                prop_assert!(ground.line_is_clear(a, b, radius));
                prop_assert!(ground.line_is_clear(a, d, radius));
                prop_assert!(ground.line_is_clear(b, c, radius));
            }
        }
    }

    #[test]
    fn the_nearest_cell_is_that_of_a_plain_scan(
        cells in proptest::collection::vec(proptest::bool::weighted(0.9), 9 * 11),
        x in -3.0_f32..25.0, y in -3.0_f32..25.0,
    ) {
        let ground = ground(&cells, 11);
        let clearance = ClearanceMap::new(&ground, 0.5);
        let point = Vec2::new(x, y).clamp(Vec2::ZERO, ground.bounds().max);
        let plain = (0..99).map(|k| Cell::new(k % 11, k / 11))
            .filter(|&cell| clearance.is_open(cell))
            .map(|cell| ground.centre(cell).distance(point))
            .fold(f32::INFINITY, f32::min);
        let found = clearance.nearest(Vec2::new(x, y), |_| true).unwrap();
        prop_assert!((ground.centre(found).distance(point) - plain).abs() < 1e-4);
    }
}

#[test]
fn regions_of_a_wide_map_are_those_of_a_fresh_one_after_any_changes() {
    // Tracts are grouped in squares of 256 cells: these maps have two, or four.
    for seed in 0..30_u64 {
        let mut stream = Stream::new(seed, "wide maps");
        let (width, height) = [(290, 40), (40, 290), (270, 264)][(seed % 10 / 4) as usize];
        let closed = 36 + stream.below(9);
        let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
        let cells = (0..width * height).map(|_| u8::from(stream.below(100) < closed));
        let cells = cells.collect();
        let mut ground = Ground::new(width, height, 1.0, terrains, cells).unwrap();
        let mut clearance = ClearanceMap::new(&ground, 0.4);
        for _ in 0..12 {
            let any = |stream: &mut Stream, below: u32| stream.below(below) as i32;
            let low = Cell::new(any(&mut stream, width), any(&mut stream, height));
            // Walls across, along the borders of squares too, and small things.
            let patch = match stream.below(6) {
                0 => Patch::between(Cell::new(low.x, 0), Cell::new(low.x, 300)),
                1 => Patch::between(Cell::new(0, low.y), Cell::new(300, low.y)),
                2 => Patch::between(Cell::new(255, 0), Cell::new(256, 300)),
                3 => Patch::between(Cell::new(0, 255), Cell::new(300, 256)),
                _ => Patch::between(low, Cell::new(low.x + any(&mut stream, 9), low.y + 3)),
            };
            let terrain = stream.below(2) as usize;
            let changed = ground.set_terrain(patch.cells(), terrain);
            clearance.repair(&ground, changed);
            let fresh = ClearanceMap::new(&ground, 0.4);
            let alike = hang_together_alike(&ground, &clearance, &fresh);
            assert!(alike, "{seed}: {patch:?} becomes {terrain}");
        }
    }
}

#[test]
fn a_wall_across_a_large_maze_is_mended_tract_by_tract() {
    // A maze without loops: the wall cuts it into many regions, large ones among them.
    let mut ground = Pattern::Maze.ground(512, 4);
    let mut clearance = ClearanceMap::new(&ground, 0.4);
    let one_side = ground
        .whole()
        .cells()
        .find(|c| clearance.is_open(*c))
        .unwrap();
    let across = |clearance: &ClearanceMap| {
        let right = (0..512).flat_map(|y| (300..512).map(move |x| Cell::new(x, y)));
        right
            .filter(|cell| clearance.connected(one_side, *cell))
            .count()
    };
    assert!(across(&clearance) > 30_000);
    let wall = Patch::between(Cell::new(256, 0), Cell::new(257, 511));
    let put_up = ground.block(wall.cells());
    let cut = clearance.repair(&ground, put_up);
    assert_eq!((cut.regrouped, across(&clearance)), (true, 0));
    let torn_down = ground.unblock(wall.cells());
    let joined = clearance.repair(&ground, torn_down);
    assert!(joined.regrouped && across(&clearance) > 30_000);
    // Cell by cell it would be most of the 170,000 that are open, and the charts of the tracts besides.
    assert!(
        cut.work < 28_000 && joined.work < 56_000,
        "{cut:?} {joined:?}"
    );
    // In a maze without loops any building cuts off what lies behind it.
    let works = (0..40).map(|k| {
        let low = Cell::new(k * 197 % 480 + 8, k * 389 % 480 + 8);
        let changed = ground.block(Patch::between(low, Cell::new(low.x + 3, low.y + 3)).cells());
        clearance.repair(&ground, changed).work
    });
    let most = works.max().unwrap();
    assert!(most < 8000, "{most}");
}

#[test]
fn a_wall_across_the_largest_maze_fits_in_the_budget_of_a_tick() {
    let mut ground = Pattern::Maze.ground(2048, 4);
    let mut clearance = ClearanceMap::new(&ground, 0.4);
    let wall = Patch::between(Cell::new(1024, 0), Cell::new(1025, 2047));
    let put_up = ground.block(wall.cells());
    let cut = clearance.repair_in_parts(&ground, put_up);
    while !clearance.is_finished() {
        clearance.finish(u32::MAX);
    }
    let torn_down = ground.unblock(wall.cells());
    let joined = clearance.repair_in_parts(&ground, torn_down);
    assert!(cut.regrouped && joined.regrouped);
    let works = [cut.work, joined.work];
    assert!(works.iter().all(|work| *work < 100_000), "{works:?}");
}
