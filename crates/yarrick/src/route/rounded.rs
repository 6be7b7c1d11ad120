//! Rounded corners: a path with curves in place of its corners, for walking that looks natural.

use crate::geom::Vec2;
use crate::ground::{GroundView, LinkId};

/// How many straight pieces make a curve.
const PIECES: usize = 6;

/// How often a curve that would touch a wall is made half as wide before the corner is left as it is.
const TRIES: usize = 4;

/// The points of a path with its corners rounded: no point of it is farther than `most_m` metres from
/// the path that it was, and a body of `radius` metres touches nothing on it that it did not touch
/// before. Corners where a link begins or ends are left as they are, and so are those where there is no
/// room. The links are numbered anew.
///
/// Each corner becomes a parabola (a quadratic Bézier curve) of a few straight pieces.
#[must_use]
pub fn round_corners(
    view: GroundView<'_>,
    radius: f32,
    points: &[Vec2],
    links: &[(u32, LinkId)],
    most_m: f32,
) -> (Vec<Vec2>, Vec<(u32, LinkId)>) {
    let mut rounded = Vec::with_capacity(points.len());
    let mut renumbered = Vec::new();
    let link_to = |k: usize| links.iter().find(|(at, _)| *at as usize == k);
    for (k, &corner) in points.iter().enumerate() {
        let is_free = link_to(k).is_none() && link_to(k + 1).is_none();
        let between = points.get(k.wrapping_sub(1)).zip(points.get(k + 1));
        match between.filter(|_| is_free && most_m > 0.0) {
            Some((&before, &after)) => {
                let curve = curve(view, radius, [before, corner, after], most_m);
                rounded.extend(curve);
            }
            None => rounded.push(corner),
        }
        if let Some((_, link)) = link_to(k) {
            renumbered.push((rounded.len() as u32 - 1, *link));
        }
    }
    (rounded, renumbered)
}

/// The curve in place of a corner, or the corner.
fn curve(
    view: GroundView<'_>,
    radius: f32,
    [before, corner, after]: [Vec2; 3],
    most_m: f32,
) -> Vec<Vec2> {
    let (back, on) = (before - corner, after - corner);
    // No more than half of either leg, so that the curves of two corners never meet.
    let room = back.length().min(on.length()) * 0.5;
    let ways = back.try_normalize().zip(on.try_normalize());
    let Some((back, on)) = ways.filter(|_| room > 0.0) else {
        return vec![corner];
    };
    // The middle of the curve lies half as far from the corner as the middle of its ends.
    let per_metre = (back + on).length() * 0.25;
    let wide = if per_metre > 1e-6 {
        most_m / per_metre
    } else {
        room
    };
    let mut reach = wide.min(room);
    for _ in 0..TRIES {
        let (start, end) = (corner + back * reach, corner + on * reach);
        let at = |t: f32| start.lerp(corner, t).lerp(corner.lerp(end, t), t);
        let pieces: Vec<Vec2> = (0..=PIECES).map(|k| at(k as f32 / PIECES as f32)).collect();
        let clear = |pair: &[Vec2]| view.line_is_clear(pair[0], pair[1], radius);
        if pieces.windows(2).all(clear) {
            return pieces;
        }
        reach *= 0.5;
    }
    vec![corner]
}
