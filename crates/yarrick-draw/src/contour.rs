//! Contour lines of the heights: marching squares between the cell centres
//! (Lorensen and Cline 1987, in the plane).

use yarrick::ground::Cell;
use yarrick::{Ground, Vec2};

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
