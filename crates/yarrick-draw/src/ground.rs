//! The ground: quiet fills, a pattern for each look, contour lines.

use crate::contour;
use crate::frame::Frame;
use crate::legend::{Column, ends};
use crate::lines::{draw_link, sides};
use crate::palette::{self, Look};
use crate::path::Path;
use crate::sheet::{Line, Sheet};
use yarrick::geom::Block;
use yarrick::ground::{Cell, Lattice};
use yarrick::world::World;
use yarrick::{Ground, Rect, Vec2};

/// A terrain of the map as the picture shows it.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Shown {
    pub(crate) class: usize,
    pub(crate) look: Look,
    /// Its number among the terrains of the same look.
    pub(crate) nth: usize,
}

/// The terrains that the map holds, in the order of its legend.
pub(crate) fn terrains_shown(ground: &Ground) -> Vec<Shown> {
    let mut shown: Vec<Shown> = Vec::new();
    for (class, terrain) in ground.terrains().iter().enumerate() {
        let present = cells(ground).any(|cell| is_class(ground, cell, class));
        if present {
            let look = palette::look(terrain);
            let nth = shown.iter().filter(|known| known.look == look).count();
            shown.push(Shown { class, look, nth });
        }
    }
    shown
}

pub(crate) fn draw(sheet: &mut Sheet, frame: &Frame, ground: &Ground, shown: &[Shown]) {
    for terrain in shown {
        let (fill, pattern) = palette::ground(terrain.look, terrain.nth);
        if ground.lattice() == Lattice::Hexes {
            fill_hexes(sheet, frame, ground, (terrain.class, fill));
        } else {
            let mut area = Path::default();
            for run in runs(ground, terrain.class) {
                area.add_rect(frame.rect(run));
            }
            sheet.fill(area, fill);
        }
        let motifs = motif_places(frame, ground, terrain.class);
        draw_motifs(sheet, terrain.look, pattern, &motifs);
    }
    draw_shores(sheet, frame, ground);
    for door in ground.doors() {
        for cell in door.patch.cells() {
            draw_door(sheet, frame.rect(ground.cell_rect(cell)), door.shut);
        }
    }
    for link in ground.links() {
        let ends = [link.from, link.to].map(|end| frame.point(end));
        draw_link(sheet, ends, !link.both_ways);
    }
    for cell in cells(ground).filter(|cell| ground.is_blocked(*cell)) {
        draw_obstacle(sheet, frame.rect(ground.cell_rect(cell)));
    }
    if let Some(step) = contour::interval(ground) {
        let mut lines = Path::default();
        for (a, b) in contour::pieces(ground, step) {
            lines.add_segment(frame.point(a), frame.point(b));
        }
        sheet.stroke(lines, Line::new(palette::CONTOUR.at(0.5), 0.8));
    }
}

/// Fills the hexes of a class, with their own colour for an edge, so that none shows between them.
fn fill_hexes(
    sheet: &mut Sheet,
    frame: &Frame,
    ground: &Ground,
    (class, fill): (usize, crate::sheet::Colour),
) {
    for cell in cells(ground).filter(|cell| is_class(ground, *cell, class)) {
        let corners = ground.outline(cell).corners().into_iter();
        let outline = Path::polygon(corners.map(|corner| frame.point(corner)));
        sheet.fill(outline.clone(), fill);
        sheet.stroke(outline, Line::new(fill, 0.8));
    }
}

fn cells(ground: &Ground) -> impl Iterator<Item = Cell> {
    let (width, height) = (ground.width() as i32, ground.height() as i32);
    (0..height).flat_map(move |y| (0..width).map(move |x| Cell::new(x, y)))
}

fn is_class(ground: &Ground, cell: Cell, class: usize) -> bool {
    ground
        .terrain(cell)
        .is_some_and(|terrain| core::ptr::eq(terrain, &ground.terrains()[class]))
}

/// The cells of a class as boxes a row high and as long as they go on.
fn runs(ground: &Ground, class: usize) -> Vec<Rect> {
    let mut runs: Vec<Rect> = Vec::new();
    let mut last: Option<Cell> = None;
    for cell in cells(ground).filter(|cell| is_class(ground, *cell, class)) {
        let rect = ground.cell_rect(cell);
        let goes_on = last.is_some_and(|last| last.y == cell.y && last.x + 1 == cell.x);
        match runs.last_mut() {
            Some(run) if goes_on => run.max = rect.max,
            _ => runs.push(rect),
        }
        last = Some(cell);
    }
    runs
}

/// Where a class's motif is drawn, and how large: in every cell, or in one of a few where the
/// cells are small.
fn motif_places(frame: &Frame, ground: &Ground, class: usize) -> Vec<Rect> {
    let cell_px = frame.scale * ground.cell_m();
    let every = (14.0 / cell_px).ceil().max(1.0) as i32;
    cells(ground)
        .filter(|cell| cell.x % every == 0 && cell.y % every == 0)
        .filter(|cell| is_class(ground, *cell, class))
        .map(|cell| frame.rect(ground.cell_rect(cell)))
        .map(|rect| Rect::around((rect.min + rect.max) * 0.5, (cell_px * 0.5).max(7.0)))
        .collect()
}

/// Draws a look's pattern into boxes.
pub(crate) fn draw_motifs(
    sheet: &mut Sheet,
    look: Look,
    colour: crate::sheet::Colour,
    places: &[Rect],
) {
    let mut lines = Path::default();
    let mut dots = Path::default();
    for rect in places {
        let size = rect.size();
        let at = |x: f32, y: f32| rect.min + size * Vec2::new(x, y);
        match look {
            Look::Plain => {}
            Look::Fast => {
                lines.add_segment(at(0.25, 0.12), at(0.25, 0.88));
                lines.add_segment(at(0.75, 0.12), at(0.75, 0.88));
            }
            Look::Slow => {
                dots.add_circle(at(0.28, 0.3), 1.0);
                dots.add_circle(at(0.74, 0.68), 1.0);
            }
            Look::Screen => {
                lines.add_segment(at(0.5, 0.85), at(0.5, 0.25));
                lines.add_segment(at(0.42, 0.85), at(0.22, 0.35));
                lines.add_segment(at(0.58, 0.85), at(0.78, 0.35));
            }
            Look::Gap => {
                let wave = [
                    (0.1, 0.55),
                    (0.3, 0.42),
                    (0.5, 0.55),
                    (0.7, 0.68),
                    (0.9, 0.55),
                ];
                let points: Vec<Vec2> = wave.iter().map(|(x, y)| at(*x, *y)).collect();
                for pair in points.windows(2) {
                    lines.add_segment(pair[0], pair[1]);
                }
            }
            Look::Wall => {
                lines.add_segment(at(0.0, 0.5), at(1.0, 0.5));
                lines.add_segment(at(0.3, 0.0), at(0.3, 0.5));
                lines.add_segment(at(0.75, 0.5), at(0.75, 1.0));
            }
        }
    }
    sheet.stroke(lines, Line::new(colour, 1.0));
    sheet.fill(dots, colour);
}

/// A cell of a door: with bars across it where that is shut.
pub(crate) fn draw_door(sheet: &mut Sheet, cell: Rect, shut: bool) {
    let (inset, line) = (cell.size() * 0.08, Line::new(palette::INK.at(0.75), 1.4));
    let (low, high) = (cell.min + inset, cell.max - inset);
    let mut bars = Path::default();
    if shut {
        sheet.fill(Path::rect(cell), palette::INK.at(0.12));
        for part in [0.2, 0.5, 0.8] {
            let x = low.x + (high.x - low.x) * part;
            bars.add_segment(Vec2::new(x, low.y), Vec2::new(x, high.y));
        }
    }
    for y in [low.y, high.y] {
        bars.add_segment(Vec2::new(low.x, y), Vec2::new(high.x, y));
    }
    sheet.stroke(bars, line);
}

/// A cell on which something lies.
pub(crate) fn draw_obstacle(sheet: &mut Sheet, cell: Rect) {
    let inset = cell.size() * 0.1;
    let (low, high) = (cell.min + inset, cell.max - inset);
    sheet.fill(Path::rect(cell), palette::INK.at(0.1));
    let mut cross = Path::default();
    cross.add_segment(low, high);
    cross.add_segment(Vec2::new(low.x, high.y), Vec2::new(high.x, low.y));
    sheet.stroke(cross, Line::new(palette::INK.at(0.6), 1.3));
}

/// A line wherever open ground ends.
fn draw_shores(sheet: &mut Sheet, frame: &Frame, ground: &Ground) {
    let mut shores = Path::default();
    for cell in cells(ground) {
        for (next, a, b) in sides(ground, cell) {
            if ground.is_open(cell) != ground.is_open(next) {
                shores.add_segment(frame.point(a), frame.point(b));
            }
        }
    }
    sheet.stroke(shores, Line::new(palette::INK.at(0.45), 1.0));
}

/// Explains the ground: its terrains, and what is on it.
pub(crate) fn explain(column: &mut Column<'_>, world: &World, terrains: &[Shown]) {
    let map = world.ground();
    column.heading("ground");
    explain_terrains(column, map, terrains);
    let (mut doors, around) = (map.doors().iter(), |at| Rect::around(at, 9.0));
    if doors.any(|door| door.shut) {
        column.row("shut door", |sheet, at| {
            draw_door(sheet, around(at), true);
        });
    }
    if map.doors().iter().any(|door| !door.shut) {
        column.row("open door", |sheet, at| {
            draw_door(sheet, around(at), false);
        });
    }
    let blocks: Vec<Block> = world.units().filter_map(|unit| unit.block()).collect();
    let is_bare = |cell| {
        let centre = map.centre(cell);
        map.is_blocked(cell) && blocks.iter().all(|block| block.distance(centre) > 0.0)
    };
    if map.whole().cells().any(is_bare) {
        column.row("obstacle", |sheet, at| {
            draw_obstacle(sheet, around(at));
        });
    }
    if !map.links().is_empty() {
        column.row("link over closed ground", |sheet, at| {
            draw_link(sheet, ends(at), false);
        });
    }
    if let Some(step) = contour::interval(map) {
        column.row(&format!("height, a line every {step} m"), |sheet, at| {
            let points = [(-16.0, 5.0), (-6.0, -3.0), (5.0, 3.0), (16.0, -5.0)];
            let line = points.map(|(x, y)| at + Vec2::new(x, y));
            sheet.stroke(Path::polyline(line), Line::new(palette::CONTOUR, 1.0));
        });
    }
}

fn explain_terrains(column: &mut Column<'_>, map: &Ground, terrains: &[Shown]) {
    for shown in terrains {
        let terrain = &map.terrains()[shown.class];
        let how = match (terrain.passable, terrain.blocks_sight) {
            (false, true) => "closed, blocks sight".to_owned(),
            (false, false) => "closed".to_owned(),
            (true, sight) => {
                let sight = if sight { ", blocks sight" } else { "" };
                format!("speed ×{}{sight}", terrain.speed)
            }
        };
        column.row(&format!("{}: {how}", terrain.name), |sheet, at| {
            let (fill, pattern) = palette::ground(shown.look, shown.nth);
            let half = Vec2::new(18.0, 7.5);
            let swatch = Rect::from_corners(at - half, at + half);
            sheet.fill(Path::rect(swatch), fill);
            let motifs = [-9.0, 9.0].map(|x| Rect::around(at + Vec2::new(x, 0.0), 7.5));
            draw_motifs(sheet, shown.look, pattern, &motifs);
            sheet.stroke(Path::rect(swatch), Line::new(palette::FAINT_INK, 0.8));
        });
    }
}
