//! Legs, links, and the sides of cells.

use crate::palette;
use crate::path::Path;
use crate::sheet::{Line, Sheet};
use yarrick::ground::Cell;
use yarrick::{Ground, Rect, Vec2};

/// The sides of a cell that it shares with cells on the map farther on: the cell beyond, and the ends
/// of the side in metres.
pub(crate) fn sides(ground: &Ground, cell: Cell) -> Vec<(Cell, Vec2, Vec2)> {
    let corners = ground.outline(cell).corners();
    let count = corners.len();
    let side = |k: usize| {
        let (a, b) = (corners[k], corners[(k + 1) % count]);
        let middle = (a + b) * 0.5;
        let beyond = ground.cell_at(middle * 2.0 - ground.centre(cell))?;
        (beyond > cell).then_some((beyond, a, b))
    };
    (0..count).filter_map(side).collect()
}

/// A leg of a waypoint graph. A one-way leg has an arrowhead in its middle.
pub(crate) fn draw_leg(sheet: &mut Sheet, ends: [Vec2; 2], one_way: bool) {
    sheet.stroke(Path::polyline(ends), Line::new(palette::PAPER.at(0.7), 3.6));
    sheet.stroke(Path::polyline(ends), Line::new(palette::INK.at(0.7), 1.4));
    if one_way {
        draw_needle(sheet, ends);
    }
}

/// A link: a leg from post to post.
pub(crate) fn draw_link(sheet: &mut Sheet, ends: [Vec2; 2], one_way: bool) {
    draw_leg(sheet, ends, one_way);
    for end in ends {
        let post = Path::rect(Rect::around(end, 4.0));
        sheet.fill(post.clone(), palette::PAPER);
        sheet.stroke(post, Line::new(palette::INK.at(0.8), 1.4));
    }
}

pub(crate) fn draw_needle(sheet: &mut Sheet, [from, to]: [Vec2; 2]) {
    let along = (to - from).normalize_or_zero();
    let across = along.perp() * 5.0;
    let at = (from + to) * 0.5;
    let needle = Path::polygon([
        at + along * 10.0,
        at - along * 7.0 + across,
        at - along * 7.0 - across,
    ]);
    sheet.stroke(needle.clone(), Line::new(palette::PAPER, 2.5));
    sheet.fill(needle, palette::INK);
}
