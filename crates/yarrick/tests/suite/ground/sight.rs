//! Lines of sight to points far off the map.

use yarrick::{Ground, Terrain, Vec2};

/// A wall of reed across the middle of a map of 9 by 7.
fn reeds() -> Ground {
    let rows = [
        "....r....",
        "....r....",
        "....r....",
        "....r....",
        "....r....",
        "....r....",
        ".........",
    ];
    let legend = [
        ('.', Terrain::open("sand")),
        ('r', Terrain::open("reed").blocking_sight()),
    ];
    Ground::from_rows(1.0, &rows, &legend).unwrap()
}

#[test]
fn a_look_off_the_map_is_as_long_as_its_part_on_the_map() {
    let ground = reeds();
    let eye = Vec2::new(1.5, 3.5);
    for far in [20.0, 1e6, 1e30, f32::MAX] {
        assert!(ground.sees(eye, Vec2::new(-far, 3.5)), "to the left, {far}");
        assert!(
            !ground.sees(eye, Vec2::new(far, 3.5)),
            "through the reed, {far}"
        );
        assert!(!ground.sees(Vec2::new(far, 3.5), eye), "from beyond, {far}");
        assert!(
            !ground.sees(Vec2::new(-far, 3.5), Vec2::new(far, 3.5)),
            "across, {far}"
        );
        assert!(
            ground.sees(Vec2::new(-far, 0.5), Vec2::new(far, 0.5)),
            "below the reed, {far}"
        );
        assert!(
            ground.sees(Vec2::new(-far, 60.5), Vec2::new(far, 60.5)),
            "past the map, {far}"
        );
        assert!(
            ground.sees(Vec2::splat(far), Vec2::new(far, -far)),
            "nowhere near, {far}"
        );
    }
    assert!(!ground.sees(eye, Vec2::splat(f32::NAN)));
    assert!(!ground.sees(eye, Vec2::splat(f32::INFINITY)));
}
