//! Claims against a plain list.

use proptest::prelude::*;
use yarrick::geom::{Rect, Vec2};
use yarrick::near::Claims;

proptest! {
    #[test]
    fn claims_answer_as_a_plain_list_would(
        moves in proptest::collection::vec(
            (0_u32..12, -1.0_f32..11.0, -1.0_f32..11.0, 0.0_f32..2.0, any::<bool>()), 1..60),
        x in 0.0_f32..10.0, y in 0.0_f32..10.0, radius in 0.0_f32..2.0,
    ) {
        let mut claims = Claims::default();
        claims.clear(Rect::from_corners(Vec2::ZERO, Vec2::splat(10.0)), 0.7);
        let mut plain: Vec<Option<(Vec2, f32)>> = vec![None; 12];
        for (who, x, y, radius, stays) in moves {
            if stays {
                claims.put(who, Vec2::new(x, y), radius);
                plain[who as usize] = Some((Vec2::new(x, y), radius));
            } else {
                claims.take(who);
                plain[who as usize] = None;
            }
        }
        let place = Vec2::new(x, y);
        let free = plain.iter().flatten().all(|(at, r)| {
            at.distance_squared(place) >= (r + radius) * (r + radius)
        });
        prop_assert_eq!(claims.is_free(place, radius), free);
    }
}
