//! A way that was looked for: the cells searched, the way found, as wide as the body.

use crate::frame::Frame;
use crate::legend::{Column, ends};
use crate::orders;
use crate::palette;
use crate::path::Path;
use crate::sheet::{Line, Sheet};
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
    sheet.fill(
        Path::rect(Rect::around(middle, half)),
        palette::traced().at(0.45),
    );
}

/// A band as wide as the body, and the line of its middle with its corners.
pub(crate) fn draw_way(sheet: &mut Sheet, points: &[Vec2], width: f32) {
    let line = || Path::polyline(points.iter().copied());
    sheet.stroke(line(), Line::new(palette::traced().at(0.22), width));
    sheet.stroke(line(), Line::new(palette::traced(), 2.0));
    for &corner in points {
        let bead = Path::circle(corner, 3.4);
        sheet.fill(bead.clone(), palette::PAPER);
        sheet.stroke(bead, Line::new(palette::traced(), 1.6));
    }
}

pub(crate) fn draw_start(sheet: &mut Sheet, at: Vec2) {
    let ring = Path::circle(at, 7.0);
    sheet.fill(ring.clone(), palette::PAPER);
    sheet.stroke(ring, Line::new(palette::INK, 1.8));
    sheet.fill(Path::circle(at, 3.0), palette::INK);
}

/// Explains a way that was looked for.
pub(crate) fn explain(column: &mut Column<'_>, found: &Traced<'_>) {
    column.heading("the way looked for");
    column.row("start", draw_start);
    column.row(
        &format!("way, {:.1} m", found.route.length_m),
        |sheet, at| {
            draw_way(sheet, &ends(at), 9.0);
        },
    );
    column.row("goal", |sheet, at| {
        let short = found.route.short.is_some();
        orders::draw_goal(sheet, at + Vec2::new(4.0, 9.0), palette::traced(), short);
    });
    if !found.searched.is_empty() {
        let count = found.searched.len();
        column.row(&format!("searched, {count} cells"), |sheet, at| {
            for x in [-10.0, 0.0, 10.0] {
                draw_searched(sheet, Rect::around(at + Vec2::new(x, 0.0), 9.0));
            }
        });
    }
}
