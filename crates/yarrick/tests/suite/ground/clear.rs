//! Clear lines and discs against a look at every cell.

use proptest::prelude::*;
use yarrick::geom::{Vec2, segment_rect_distance_squared};
use yarrick::ground::Terrain;
use yarrick::ground::{Cell, Ground, SKIN_M};

fn ground(cells: &[bool], width: u32) -> Ground {
    let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
    let mut classes: Vec<u8> = cells.iter().map(|&closed| u8::from(closed)).collect();
    classes[0] = 0;
    let height = cells.len() as u32 / width;
    Ground::new(width, height, 1.0, terrains, classes).unwrap()
}

proptest! {
    #[test]
    fn a_clear_line_equals_looking_at_every_cell(
        cells in proptest::collection::vec(proptest::bool::weighted(0.15), 100),
        ax in 0.0_f32..10.0, ay in 0.0_f32..10.0,
        bx in 0.0_f32..10.0, by in 0.0_f32..10.0,
        radius in 0.0_f32..1.6,
    ) {
        let ground = ground(&cells, 10);
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
}

#[test]
fn points_that_are_no_numbers_are_never_clear() {
    let ground = ground(&[false; 4], 2);
    assert!(!ground.disc_is_clear(Vec2::NAN, 0.1));
    assert!(!ground.line_is_clear(Vec2::ONE, Vec2::splat(f32::INFINITY), 0.1));
}
