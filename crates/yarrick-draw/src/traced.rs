//! A way that was looked for: the cells searched, the way found, as wide as the body.

use crate::palette;
use crate::scene::Frame;
use crate::sheet::{Colour, Line, Path, Sheet};
use yarrick::ground::Cell;
use yarrick::route::Route;
use yarrick::{Rect, Vec2, World};

/// A way that was looked for, to be drawn over the ground.
#[derive(Clone, Copy, Debug)]
pub struct Traced<'a> {
    /// The way.
    pub route: &'a Route,
    /// The point asked for, in metres.
    pub goal: Vec2,
    /// The radius of the body, in metres.
    pub radius_m: f32,
    /// The cells that the search settled.
    pub searched: &'a [Cell],
}

/// The hue of a way that is no unit's.
pub(crate) fn hue() -> Colour {
    palette::side(2)
}

pub(crate) fn draw(sheet: &mut Sheet, frame: &Frame, world: &World, traced: &Traced<'_>) {
    let ground = world.ground();
    for &cell in traced.searched {
        draw_searched(sheet, frame.rect(ground.cell_rect(cell)));
    }
    let points: Vec<Vec2> = traced
        .route
        .points
        .iter()
        .map(|at| frame.point(*at))
        .collect();
    let width = (traced.radius_m * 2.0 * frame.scale).max(3.0);
    draw_way(sheet, &points, width);
    if let Some(start) = points.first() {
        draw_start(sheet, *start);
    }
}

/// A small square in the middle of a cell that was searched.
pub(crate) fn draw_searched(sheet: &mut Sheet, cell: Rect) {
    let middle = (cell.min + cell.max) * 0.5;
    let half = (cell.size().min_element() * 0.18).clamp(0.6, 4.0);
    sheet.fill(Path::rect(Rect::around(middle, half)), hue().at(0.45));
}

/// A band as wide as the body, and the line of its middle with its corners.
pub(crate) fn draw_way(sheet: &mut Sheet, points: &[Vec2], width: f32) {
    let line = || Path::polyline(points.iter().copied());
    sheet.stroke(line(), Line::new(hue().at(0.22), width));
    sheet.stroke(line(), Line::new(hue(), 2.0));
    for &corner in points {
        let bead = Path::circle(corner, 3.4);
        sheet.fill(bead.clone(), palette::PAPER);
        sheet.stroke(bead, Line::new(hue(), 1.6));
    }
}

pub(crate) fn draw_start(sheet: &mut Sheet, at: Vec2) {
    let ring = Path::circle(at, 7.0);
    sheet.fill(ring.clone(), palette::PAPER);
    sheet.stroke(ring, Line::new(palette::INK, 1.8));
    sheet.fill(Path::circle(at, 3.0), palette::INK);
}
