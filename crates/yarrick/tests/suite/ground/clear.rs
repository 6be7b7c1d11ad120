//! Clear lines and discs against a look at every cell.

use proptest::prelude::*;
use yarrick::geom::{Vec2, segment_rect_distance_squared};
use yarrick::ground::Terrain;
use yarrick::ground::{Cell, Glances, Ground, Lattice, SKIN_M};

fn ground(cells: &[bool], width: u32, cell_m: f32) -> Ground {
    let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
    let mut classes: Vec<u8> = cells.iter().map(|&closed| u8::from(closed)).collect();
    classes[0] = 0;
    let height = cells.len() as u32 / width;
    Ground::new(width, height, cell_m, terrains, classes).unwrap()
}

proptest! {
    #[test]
    fn a_clear_line_equals_looking_at_every_cell(
        cells in proptest::collection::vec(proptest::bool::weighted(0.15), 100),
        ax in 0.0_f32..10.0, ay in 0.0_f32..10.0,
        bx in 0.0_f32..10.0, by in 0.0_f32..10.0,
        radius in 0.0_f32..1.6,
    ) {
        let ground = ground(&cells, 10, 1.0);
        let (a, b) = (Vec2::new(ax, ay), Vec2::new(bx, by));
        let reach = (radius - SKIN_M).max(0.0);
        let on_map = ground.bounds().grown(-reach);
        let expected = on_map.contains(a) && on_map.contains(b)
            && (0..100).map(|k| Cell::new(k % 10, k / 10))
                .filter(|&cell| !ground.is_open(cell))
                .all(|cell| {
                    let gap = segment_rect_distance_squared(a, b, &ground.cell_rect(cell));
                    gap > 0.0 && gap >= reach * reach
                });
        prop_assert_eq!(ground.line_is_clear(a, b, radius), expected);
    }

    #[test]
    fn a_glance_tells_the_same_as_the_line(
        cells in proptest::collection::vec(proptest::bool::weighted(0.15), 20 * 13),
        cell_m in prop_oneof![Just(1.0_f32), 0.3_f32..4.0],
        radii in proptest::collection::vec(0.0_f32..1.6, 1..20),
    ) {
        let ground = ground(&cells, 20, cell_m);
        let mut glances = Glances::default();
        for radius in radii.iter().map(|wide| wide * cell_m) {
            let (mut told, mut near) = (0, 0);
            let pairs = (0..20 * 13).flat_map(|a| (a % 7..20 * 13).step_by(11).map(move |b| (a, b)));
            for (a, b) in pairs.map(|(a, b)| (Cell::new(a % 20, a / 20), Cell::new(b % 20, b / 20))) {
                let expected = ground.line_is_clear(ground.centre(a), ground.centre(b), radius);
                let glance = glances.look(ground.on_foot(), radius, a, b);
                prop_assert!(glance.is_none_or(|glance| glance == expected), "{a:?} {b:?} {radius}");
                let (wide, high) = (a.x.abs_diff(b.x), a.y.abs_diff(b.y));
                let is_near = wide.max(high) < 16 && wide.min(high) < 8;
                near += u32::from(is_near);
                told += u32::from(is_near && glance.is_some());
            }
            // Where the disc is not wider than a cell, nearly all is told.
            let fits = (0.05..0.45).contains(&(radius / cell_m));
            prop_assert!(!fits || told * 10 > near * 9, "{told} of {near} for {radius}");
        }
    }
}

#[test]
fn a_glance_leaves_what_it_cannot_tell() {
    let open = ground(&[false; 400], 20, 1.0);
    let mut glances = Glances::default();
    let mut look = |ground: &Ground, radius, a: (i32, i32), b: (i32, i32)| {
        let (a, b) = (Cell::new(a.0, a.1), Cell::new(b.0, b.1));
        glances.look(ground.on_foot(), radius, a, b)
    };
    assert_eq!(look(&open, 0.4, (0, 0), (7, 7)), Some(true));
    assert_eq!(look(&open, 0.4, (15, 7), (0, 0)), Some(true));
    assert_eq!(look(&open, 0.4, (4, 0), (11, 15)), Some(true));
    assert_eq!(look(&open, 0.4, (0, 0), (16, 0)), None);
    assert_eq!(look(&open, 0.4, (0, 0), (8, 8)), None);
    assert_eq!(look(&open, 0.4, (19, 19), (20, 19)), None);
    assert_eq!(look(&open, 0.4, (i32::MIN, 0), (i32::MAX, 0)), None);
    assert_eq!(look(&open, 0.4, (i32::MIN, 0), (i32::MIN, 3)), None);
    assert_eq!(look(&open, 0.9, (0, 0), (1, 0)), None, "too near the rim");
    assert_eq!(look(&open, 0.9, (2, 2), (3, 4)), Some(true));
    for radius in [0.0, -1.0, f32::NAN, f32::INFINITY, 1e30] {
        assert_eq!(look(&open, radius, (4, 4), (5, 5)), None, "{radius}");
    }
    let (sand, cells) = (vec![Terrain::open("sand")], vec![0; 100]);
    let hexes = Ground::new(10, 10, 1.0, sand.clone(), cells).unwrap();
    let hexes = hexes.with_lattice(Lattice::Hexes);
    assert_eq!(look(&hexes, 0.4, (4, 4), (5, 5)), None);
    let wide = Ground::new(500, 10, 10.0, sand, vec![0; 5000]).unwrap();
    assert_eq!(look(&wide, 4.0, (4, 4), (5, 5)), None);
}

#[test]
fn points_that_are_no_numbers_are_never_clear() {
    let ground = ground(&[false; 4], 2, 1.0);
    assert!(!ground.disc_is_clear(Vec2::NAN, 0.1));
    assert!(!ground.line_is_clear(Vec2::ONE, Vec2::splat(f32::INFINITY), 0.1));
}
