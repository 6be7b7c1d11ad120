use super::*;
use crate::ground::Terrain;
use proptest::prelude::*;

fn ground(cells: &[bool], width: u32) -> Ground {
    let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
    let mut classes: Vec<u8> = cells.iter().map(|&closed| u8::from(closed)).collect();
    classes[0] = 0;
    let height = cells.len() as u32 / width;
    Ground::new(width, height, 2.0, terrains, classes).unwrap()
}

proptest! {
    #[test]
    fn a_cell_is_open_exactly_where_the_disc_is_clear(
        cells in proptest::collection::vec(proptest::bool::weighted(0.08), 12 * 14),
        radius in 0.0_f32..7.0,
    ) {
        let ground = ground(&cells, 14);
        let passage = Passage::new(&ground, radius);
        for k in 0..12 * 14 {
            let cell = Cell::new(k % 14, k / 14);
            let clear = ground.disc_is_clear(ground.centre(cell), radius);
            prop_assert_eq!(passage.is_open(cell), clear, "{:?} at radius {}", cell, radius);
        }
    }

    #[test]
    fn every_step_between_open_cells_is_clear(
        cells in proptest::collection::vec(proptest::bool::weighted(0.1), 10 * 10),
        radius in 0.0_f32..5.0,
    ) {
        let ground = ground(&cells, 10);
        let passage = Passage::new(&ground, radius);
        for k in 0..100 {
            let (x, y) = (k % 10, k / 10);
            let square = [(0, 0), (1, 0), (0, 1), (1, 1)].map(|(dx, dy)| Cell::new(x + dx, y + dy));
            if square.into_iter().all(|cell| passage.is_open(cell)) {
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
        let passage = Passage::new(&ground, 0.5);
        let point = Vec2::new(x, y).clamp(Vec2::ZERO, ground.bounds().max);
        let plain = (0..99).map(|k| Cell::new(k % 11, k / 11))
            .filter(|&cell| passage.is_open(cell))
            .map(|cell| ground.centre(cell).distance(point))
            .fold(f32::INFINITY, f32::min);
        let found = passage.nearest(Vec2::new(x, y), |_| true).unwrap();
        prop_assert!((ground.centre(found).distance(point) - plain).abs() < 1e-4);
    }
}
