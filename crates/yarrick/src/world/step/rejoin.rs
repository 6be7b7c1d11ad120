//! Where a way round bodies comes back to the path of a unit.

use crate::geom::Vec2;
use crate::motion::Surroundings;

/// The path of a unit from where it is.
pub(super) struct Path<'a> {
    pub(super) from: Vec2,
    pub(super) ahead: &'a [Vec2],
    /// The number of the first point ahead.
    pub(super) first: u32,
}

/// Where a detour comes back to the path.
pub(super) enum End {
    /// Nothing stands on the path.
    Clear,
    /// At a point, and the number of the first point of the path behind it.
    At(Vec2, u32),
    /// Nowhere.
    None,
}

impl Path<'_> {
    /// The farthest point of the path within some metres on either axis at which no body stands, but behind a body that
    /// does; or its end, unless one stands there that makes no room.
    pub(super) fn end_of_detour(&self, around: &Surroundings<'_>, within_m: f32) -> End {
        let step_m = around.radius_m.max(0.05);
        let last = self.first + self.ahead.len() as u32;
        let (mut end, mut is_blocked) = (None, false);
        let mut from = self.from;
        'legs: for (behind, &to) in (self.first + 1..).zip(self.ahead) {
            let steps = (from.distance(to) / step_m).ceil().max(1.0) as u32;
            let mut before = from;
            for k in 1..=steps {
                let at = from.lerp(to, k as f32 / steps as f32);
                if (at - self.from).abs().max_element() > within_m {
                    break 'legs;
                }
                is_blocked |= around.meets_body(before, at);
                before = at;
                let is_end = k == steps && behind == last;
                if is_blocked && (around.is_free(at) || is_end && around.can_end_at(at)) {
                    end = Some((at, if k == steps { behind } else { behind - 1 }));
                }
            }
            from = to;
        }
        match end {
            _ if !is_blocked => End::Clear,
            Some((at, rejoins)) => End::At(at, rejoins),
            None => End::None,
        }
    }
}
