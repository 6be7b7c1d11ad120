//! Cells of each lattice: a point lies in the outline of its cell, and no other cell's middle is nearer.

use proptest::prelude::*;
use yarrick::ground::{Cell, Lattice};
use yarrick::{Ground, Terrain, Vec2};

proptest! {
    #[test]
    fn a_point_lies_in_the_outline_of_its_cell(x in 1.0_f32..7.0, y in 1.0_f32..7.0) {
        for (_, lattice) in Lattice::WORDS {
            let ground = Ground::new(10, 10, 1.0, vec![Terrain::open("sand")], vec![0; 100]).unwrap();
            let ground = ground.with_lattice(lattice);
            let at = Vec2::new(x, y);
            let cell = ground.cell_at(at).unwrap();
            prop_assert!(ground.outline(cell).nearest(at).distance(at) < 1e-4, "{:?} {:?}", lattice, cell);
            prop_assert_eq!(ground.cell_at(ground.centre(cell)), Some(cell));
            let gap = ground.centre(cell).distance(at);
            for other in (0..100).map(|k| Cell::new(k % 10, k / 10)) {
                prop_assert!(gap <= ground.centre(other).distance(at) + 1e-4, "{:?} {:?}", lattice, other);
            }
        }
    }
}
