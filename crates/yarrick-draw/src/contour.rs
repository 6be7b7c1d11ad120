//! Contour lines of the heights: marching squares between the cell centres
//! (Lorensen and Cline 1987, in the plane).

use std::collections::BTreeMap;
use yarrick::ground::Cell;
use yarrick::{Ground, Rect, Vec2};

/// The metres between contour lines: a round number that gives about eight of them.
pub(crate) fn interval(ground: &Ground) -> Option<f32> {
    let (low, high) = range(ground)?;
    [0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0]
        .into_iter()
        .find(|step| (high - low) / step <= 8.0)
        .or(Some(500.0))
        .filter(|_| high > low)
}

fn range(ground: &Ground) -> Option<(f32, f32)> {
    if !ground.has_heights() {
        return None;
    }
    let heights = || corners(ground).map(|(_, height)| height);
    Some((
        heights().fold(f32::INFINITY, f32::min),
        heights().fold(f32::NEG_INFINITY, f32::max),
    ))
}

fn corners(ground: &Ground) -> impl Iterator<Item = (Vec2, f32)> + '_ {
    let (width, height) = (ground.width() as i32, ground.height() as i32);
    (0..height)
        .flat_map(move |y| (0..width).map(move |x| ground.centre(Cell::new(x, y))))
        .map(|centre| (centre, ground.height_at(centre)))
}

/// The pieces of the contour lines at all levels, in metres.
pub(crate) fn pieces(ground: &Ground, step: f32) -> Vec<(Vec2, Vec2)> {
    let (width, height) = (ground.width() as i32, ground.height() as i32);
    let corner = |x: i32, y: i32| {
        let at = ground.centre(Cell::new(x, y));
        (at, ground.height_at(at))
    };
    let mut found = Vec::new();
    for y in 0..height - 1 {
        for x in 0..width - 1 {
            let square = [(x, y), (x + 1, y), (x + 1, y + 1), (x, y + 1)];
            let square = square.map(|(x, y)| corner(x, y));
            let low = square.iter().fold(f32::INFINITY, |least, c| least.min(c.1));
            let high = square
                .iter()
                .fold(f32::NEG_INFINITY, |most, c| most.max(c.1));
            // Half a step up, so that a terrace is not drawn as a tangle of lines.
            let mut level = ((low / step - 0.5).ceil() + 0.5) * step;
            while level < high {
                cross(&square, level, &mut found);
                level += step;
            }
        }
    }
    found
}

/// The pieces of the line on which a function of the points of a box is zero, looked for in squares of a side `step`.
pub(crate) fn level_line(area: Rect, step: f32, value: impl Fn(Vec2) -> f32) -> Vec<(Vec2, Vec2)> {
    let size = (area.size() / step).ceil();
    let (columns, rows) = (size.x as usize, size.y as usize);
    let corner = |x: usize, y: usize| {
        let at = area.min + Vec2::new(x as f32, y as f32) * step;
        (at, value(at))
    };
    let line = |y: usize| (0..=columns).map(|x| corner(x, y)).collect::<Vec<_>>();
    let mut found = Vec::new();
    let mut below = line(0);
    for y in 1..=rows {
        let above = line(y);
        for x in 0..columns {
            cross(
                &[below[x], below[x + 1], above[x + 1], above[x]],
                0.0,
                &mut found,
            );
        }
        below = above;
    }
    found
}

/// The lines that pieces make which end where others begin.
pub(crate) fn chained(pieces: &[(Vec2, Vec2)]) -> Vec<Vec<Vec2>> {
    let place = |at: Vec2| {
        (
            (at.x * 1024.0).round() as i64,
            (at.y * 1024.0).round() as i64,
        )
    };
    let mut at_place: BTreeMap<(i64, i64), Vec<usize>> = BTreeMap::new();
    for (k, (a, b)) in pieces.iter().enumerate() {
        for end in [a, b] {
            at_place.entry(place(*end)).or_default().push(k);
        }
    }
    let mut used = vec![false; pieces.len()];
    let mut onward = |from: Vec2| {
        let known = at_place.get(&place(from))?;
        let k = known.iter().copied().find(|k| !used[*k])?;
        used[k] = true;
        let (a, b) = pieces[k];
        Some(if place(a) == place(from) { b } else { a })
    };
    let mut lines = Vec::new();
    for (a, _) in pieces {
        // Both ways from a point: it may lie within an open line.
        let ahead: Vec<Vec2> = core::iter::successors(onward(*a), |at| onward(*at)).collect();
        let mut line: Vec<Vec2> = core::iter::successors(onward(*a), |at| onward(*at)).collect();
        if ahead.is_empty() {
            continue;
        }
        line.reverse();
        line.push(*a);
        line.extend(ahead);
        lines.push(line);
    }
    lines
}

/// Joins the points in which a level crosses the sides of a square, two by two.
fn cross(square: &[(Vec2, f32); 4], level: f32, found: &mut Vec<(Vec2, Vec2)>) {
    let mut crossings = [Vec2::ZERO; 4];
    let mut count = 0;
    for side in 0..4 {
        let ((a, low), (b, high)) = (square[side], square[(side + 1) % 4]);
        if (low < level) != (high < level) {
            crossings[count] = a.lerp(b, (level - low) / (high - low));
            count += 1;
        }
    }
    for pair in crossings[..count].chunks_exact(2) {
        found.push((pair[0], pair[1]));
    }
}
