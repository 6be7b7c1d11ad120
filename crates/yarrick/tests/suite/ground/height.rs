//! Heights between the cells.

use yarrick::geom::Vec2;
use yarrick::ground::{Ground, Terrain};

#[test]
fn heights_blend_between_centres_and_stay_level_beyond_the_rim() {
    let ground = Ground::from_rows(2.0, &["..", ".."], &[('.', Terrain::open("sand"))])
        .unwrap()
        .with_heights(vec![0.0, 1.0, 2.0, 3.0])
        .unwrap();
    assert_eq!(ground.height_at(Vec2::new(1.0, 1.0)), 0.0);
    assert_eq!(ground.height_at(Vec2::new(2.0, 1.0)), 0.5);
    assert_eq!(ground.height_at(Vec2::new(2.0, 2.0)), 1.5);
    assert_eq!(ground.height_at(Vec2::new(90.0, 90.0)), 3.0);
    assert_eq!(ground.height_at(Vec2::NAN), 0.0);
}
