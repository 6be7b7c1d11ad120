//! Steps along walls.

use proptest::prelude::*;
use yarrick::Vec2;
use yarrick::ground::{Ground, Terrain};
use yarrick::motion::step_clear;

proptest! {
    #[test]
    fn no_walk_of_random_steps_ever_touches_a_wall(
        cells in proptest::collection::vec(proptest::bool::weighted(0.3), 64),
        steps in proptest::collection::vec((-0.6_f32..0.6, -0.6_f32..0.6), 1..80),
        radius in 0.05_f32..0.49,
    ) {
        let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
        let mut classes: Vec<u8> = cells.iter().map(|&closed| u8::from(closed)).collect();
        classes[27] = 0;
        let ground = Ground::new(8, 8, 1.0, terrains, classes).unwrap();
        let mut at = Vec2::new(3.5, 3.5);
        for (dx, dy) in steps {
            let to = step_clear(ground.on_foot(), at, at + Vec2::new(dx, dy), radius);
            prop_assert!(ground.line_is_clear(at, to, radius));
            at = to;
        }
    }
}

#[test]
fn a_body_slides_along_the_wall_that_it_walks_into() {
    let ground = Ground::from_rows(
        1.0,
        &["####", "....", "...."],
        &[('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))],
    )
    .unwrap();
    let slid = step_clear(
        ground.on_foot(),
        Vec2::new(1.0, 1.5),
        Vec2::new(1.2, 1.7),
        0.4,
    );
    assert!((slid - Vec2::new(1.2, 1.6)).length() < 2e-3, "{slid}");
}
