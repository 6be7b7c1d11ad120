//! Keeping bodies out of closed ground.

use crate::geom::Vec2;
use crate::ground::{GroundView, Outline, SKIN_M};

/// How often a body in a corner is pushed out of the walls round it before it stays put.
const PUSHES: usize = 4;

/// Where a body gets to that wants to move from `from` to `to`: there, if the way is clear;
/// else along the wall as far as it can slide; else nowhere.
///
/// If `from` touches no closed ground, neither does the answer, nor the straight way to it.
#[must_use]
pub fn step_clear(view: GroundView<'_>, from: Vec2, to: Vec2, radius: f32) -> Vec2 {
    if view.line_is_clear(from, to, radius) {
        return to;
    }
    let beside = pushed_out(view, to, radius);
    let slides = [beside, Vec2::new(to.x, from.y), Vec2::new(from.x, to.y)];
    slides
        .into_iter()
        .find(|&slid| view.line_is_clear(from, slid, radius))
        .unwrap_or(from)
}

/// The point, moved out of the closed cells and back onto the map, the deepest first.
fn pushed_out(view: GroundView<'_>, point: Vec2, radius: f32) -> Vec2 {
    let reach = (radius - SKIN_M * 0.5).max(0.0);
    let room = view.ground().bounds().grown(-reach);
    let mut at = room.nearest(point);
    for _ in 0..PUSHES {
        let depth = |cell: &Outline| cell.nearest(at).distance_squared(at);
        let deepest = view
            .closed_cells_under(at, reach)
            .min_by(|a, b| depth(a).total_cmp(&depth(b)));
        let Some(cell) = deepest else {
            break;
        };
        let edge = cell.nearest(at);
        let gap = at.distance(edge);
        if gap <= 0.0 {
            // Its middle is inside: no side is known to be the way out.
            break;
        }
        at = room.nearest(edge + (at - edge) * (reach / gap));
    }
    at
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ground::{Ground, Terrain};
    use proptest::prelude::*;

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
}
