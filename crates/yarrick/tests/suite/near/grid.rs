//! The index against a plain scan.

use proptest::prelude::*;
use yarrick::geom::{Rect, Vec2};
use yarrick::near::Near;

fn points(count: usize) -> impl Strategy<Value = Vec<Vec2>> {
    let point = (-2.0_f32..22.0, -2.0_f32..22.0).prop_map(|(x, y)| Vec2::new(x, y));
    proptest::collection::vec(point, 0..count)
}

proptest! {
    #[test]
    fn the_index_finds_what_a_plain_scan_finds(
        positions in points(80), x in -3.0_f32..23.0, y in -3.0_f32..23.0,
        radius in 0.0_f32..9.0, cell in 0.1_f32..30.0,
    ) {
        let mut near = Near::default();
        near.rebuild(Rect::from_corners(Vec2::ZERO, Vec2::splat(20.0)), cell, &positions);
        let centre = Vec2::new(x, y);
        let mut found: Vec<u32> = near.within(centre, radius).collect();
        found.sort_unstable();
        let plain: Vec<u32> = (0..positions.len() as u32)
            .filter(|&k| positions[k as usize].distance_squared(centre) <= radius * radius)
            .collect();
        prop_assert_eq!(found, plain);

        let rect = Rect::from_corners(centre, Vec2::new(radius, cell));
        let mut boxed: Vec<u32> = near.in_rect(rect).collect();
        boxed.sort_unstable();
        let plain: Vec<u32> = (0..positions.len() as u32)
            .filter(|&k| rect.contains(positions[k as usize]))
            .collect();
        prop_assert_eq!(boxed, plain);
    }
}

#[test]
fn an_index_of_nothing_finds_nothing() {
    let mut near = Near::default();
    assert_eq!(near.within(Vec2::ZERO, 1e9).count(), 0);
    near.rebuild(Rect::from_corners(Vec2::ZERO, Vec2::ZERO), 0.0, &[]);
    assert_eq!(near.within(Vec2::NAN, f32::INFINITY).count(), 0);
}
