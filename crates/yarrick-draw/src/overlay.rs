//! What was worked out from the ground, drawn over it: a goal field, the regions, the room that
//! bodies have.

use crate::font::Face;
use crate::frame::Frame;
use crate::legend::{Column, ends};
use crate::lines::{draw_leg, draw_needle, sides};
use crate::orders;
use crate::palette;
use crate::path::Path;
use crate::sheet::{Anchor, Line, Sheet, Text, small};
use std::collections::BTreeMap;
use yarrick::ground::{Cell, ClearanceMap};
use yarrick::route::{GoalField, Waypoints};
use yarrick::{Ground, Vec2};

/// What is drawn over the ground.
#[derive(Clone, Copy, Debug)]
pub enum Overlay<'a> {
    /// Which way a goal field leads, and lines of equal cost.
    Field {
        /// The field.
        field: &'a GoalField,
        /// The clearance map that it is of.
        clearance: &'a ClearanceMap,
    },
    /// The regions that hang together, the largest numbered from 1.
    Regions {
        /// The clearance map that they are of.
        clearance: &'a ClearanceMap,
    },
    /// How wide a body may be in each cell.
    Room {
        /// Clearance maps of bodies of growing width, the narrowest first.
        clearances: &'a [ClearanceMap],
    },
    /// Places and the legs between them.
    Places {
        /// All of them.
        waypoints: &'a Waypoints,
        /// Those that a way leads over, in order, by their numbers.
        trip: &'a [u32],
    },
}

/// So many regions get a number and a hatching of their own.
const NUMBERED: usize = 9;

pub(crate) fn draw(sheet: &mut Sheet, frame: &Frame, ground: &Ground, overlay: &Overlay<'_>) {
    match overlay {
        Overlay::Field { field, clearance } => draw_field(sheet, frame, ground, (field, clearance)),
        Overlay::Regions { clearance } => draw_regions(sheet, frame, ground, clearance),
        Overlay::Room { clearances } => draw_room(sheet, frame, ground, clearances),
        Overlay::Places { waypoints, trip } => draw_places(sheet, frame, waypoints, trip),
    }
}

/// Cells so far apart that signs in them can be told apart, and how large these may be in pixels.
fn sampled(frame: &Frame, ground: &Ground) -> (impl Iterator<Item = Cell> + use<>, f32) {
    const LEAST_PX: f32 = 13.0;
    let cell_px = frame.scale * ground.cell_m();
    let every = (LEAST_PX / cell_px).ceil().max(1.0) as i32;
    let cells = ground.whole().cells();
    let shown =
        cells.filter(move |cell| cell.x % every == every / 2 && cell.y % every == every / 2);
    (shown, (cell_px * every as f32).min(30.0))
}

fn draw_field(
    sheet: &mut Sheet,
    frame: &Frame,
    ground: &Ground,
    (field, clearance): (&GoalField, &ClearanceMap),
) {
    let step = line_every_m(field, clearance, ground);
    let band = |cell: Cell| {
        let left = field.left_m(clearance, cell);
        left.map(|left| (left / step) as i32)
    };
    let mut lines = Path::default();
    for cell in ground.whole().cells() {
        for (next, a, b) in sides(ground, cell) {
            if let (Some(here), Some(there)) = (band(cell), band(next))
                && here != there
            {
                lines.add_segment(frame.point(a), frame.point(b));
            }
        }
    }
    sheet.stroke(lines, Line::new(palette::traced().at(0.55), 1.2));
    let (cells, px) = sampled(frame, ground);
    for cell in cells {
        if let Some(next) = field.next_cell(clearance, cell) {
            let way = frame.point(ground.centre(next)) - frame.point(ground.centre(cell));
            let at = frame.point(ground.centre(cell));
            draw_arrow(sheet, at, way.normalize_or_zero() * px * 0.36);
        }
    }
}

/// A needle that points along a vector, its thick end behind.
pub(crate) fn draw_arrow(sheet: &mut Sheet, at: Vec2, half: Vec2) {
    let across = half.perp() * 0.32;
    let needle = [at + half, at - half + across, at - half - across];
    sheet.fill(Path::polygon(needle), palette::INK.at(0.55));
}

/// From line to line of a field, in metres of plain ground: a round number, of which there are at most
/// thirty.
pub(crate) fn line_every_m(field: &GoalField, clearance: &ClearanceMap, ground: &Ground) -> f32 {
    let left = ground
        .whole()
        .cells()
        .filter_map(|cell| field.left_m(clearance, cell));
    let most = left.fold(0.0, f32::max);
    let rounds = [1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0];
    let enough = |step: &f32| most / step <= 30.0;
    rounds.into_iter().find(enough).unwrap_or(5000.0)
}

fn draw_regions(sheet: &mut Sheet, frame: &Frame, ground: &Ground, clearance: &ClearanceMap) {
    let regions = by_size(ground, clearance);
    let number = |cell: Cell| {
        let region = clearance.region(cell)?;
        regions.iter().position(|(known, _)| *known == region)
    };
    let (cells, px) = sampled(frame, ground);
    for cell in cells {
        if let Some(number) = number(cell) {
            let at = frame.point(ground.centre(cell));
            draw_hatch(sheet, at, px * 0.5, number);
        }
    }
    for (number, (_, cells)) in regions.iter().take(NUMBERED).enumerate() {
        let sum: Vec2 = cells.iter().map(|cell| ground.centre(*cell)).sum();
        let mean = sum / cells.len() as f32;
        let apart = |cell: &&Cell| ground.centre(**cell).distance_squared(mean);
        let middle = cells.iter().min_by(|a, b| apart(a).total_cmp(&apart(b)));
        if let Some(&cell) = middle {
            let text = Text {
                face: Face::Bold,
                px: 18.0,
                halo: Some(palette::PAPER),
                ..small(
                    frame.point(ground.centre(cell)) + Vec2::new(0.0, 6.0),
                    (number + 1).to_string(),
                    palette::INK,
                )
            };
            sheet.text(text, Anchor::Middle);
        }
    }
}

/// The cells of each region, the largest first; ties as the clearance map numbers them.
pub(crate) fn by_size(
    ground: &Ground,
    clearance: &ClearanceMap,
) -> Vec<(yarrick::ground::Region, Vec<Cell>)> {
    let mut regions = BTreeMap::new();
    for cell in ground.whole().cells() {
        if let Some(region) = clearance.region(cell) {
            regions.entry(region).or_insert_with(Vec::new).push(cell);
        }
    }
    let mut regions: Vec<_> = regions.into_iter().collect();
    regions.sort_by_key(|(_, cells)| core::cmp::Reverse(cells.len()));
    regions
}

/// The hatching of a region: its strokes differ, not only its colour.
pub(crate) fn draw_hatch(sheet: &mut Sheet, at: Vec2, half: f32, number: usize) {
    let line = Line::new(palette::side(number as u8).at(0.75), 1.4);
    let reach = Vec2::splat(half * 0.6);
    let rising = Vec2::new(reach.x, -reach.y);
    let mut strokes = Path::default();
    match number.min(NUMBERED) % 5 {
        0 => strokes.add_segment(at - rising, at + rising),
        1 => strokes.add_segment(at - reach, at + reach),
        2 => strokes.add_segment(at - Vec2::X * reach.x, at + Vec2::X * reach.x),
        3 => strokes.add_segment(at - Vec2::Y * reach.y, at + Vec2::Y * reach.y),
        _ => {
            strokes.add_segment(at - reach, at + reach);
            strokes.add_segment(at - rising, at + rising);
        }
    }
    sheet.stroke(strokes, line);
}

fn draw_room(sheet: &mut Sheet, frame: &Frame, ground: &Ground, clearances: &[ClearanceMap]) {
    let (cells, px) = sampled(frame, ground);
    for cell in cells {
        let fitting = clearances
            .iter()
            .filter(|clearance| clearance.is_open(cell))
            .count();
        if fitting > 0 {
            let at = frame.point(ground.centre(cell));
            let part = fitting as f32 / clearances.len() as f32;
            draw_dot(sheet, at, px * 0.5 * part);
        }
    }
}

/// The larger, the more room there is.
pub(crate) fn draw_dot(sheet: &mut Sheet, at: Vec2, radius: f32) {
    sheet.fill(
        Path::circle(at, radius.max(0.8)),
        palette::traced().at(0.55),
    );
}

fn draw_places(sheet: &mut Sheet, frame: &Frame, waypoints: &Waypoints, trip: &[u32]) {
    let at = |place: u32| frame.point(waypoints.places()[place as usize].at);
    for leg in waypoints.legs() {
        draw_leg(sheet, [at(leg.from), at(leg.to)], false);
    }
    let way = trip.iter().map(|place| at(*place));
    sheet.stroke(Path::polyline(way.clone()), Line::new(palette::PAPER, 6.0));
    sheet.stroke(Path::polyline(way), Line::new(palette::traced(), 3.2));
    for leg in waypoints.legs().iter().filter(|leg| leg.one_way) {
        draw_needle(sheet, [at(leg.from), at(leg.to)]);
    }
    for (place, number) in waypoints.places().iter().zip(0..) {
        let at = frame.point(place.at);
        draw_place(sheet, at, trip.contains(&number));
        let text = Text {
            halo: Some(palette::PAPER),
            ..small(at + Vec2::new(0.0, -11.0), &place.name, palette::INK)
        };
        sheet.text(text, Anchor::Middle);
    }
}

/// A place: full where a way leads over it.
pub(crate) fn draw_place(sheet: &mut Sheet, at: Vec2, is_on_way: bool) {
    let ring = Path::circle(at, 5.5);
    let fill = if is_on_way {
        palette::traced()
    } else {
        palette::PAPER
    };
    sheet.fill(ring.clone(), fill);
    sheet.stroke(ring, Line::new(palette::INK, 1.8));
}

/// Explains what lies over the ground.
pub(crate) fn explain(column: &mut Column<'_>, ground: &Ground, overlay: &Overlay<'_>) {
    match overlay {
        Overlay::Field { field, clearance } => {
            column.heading("goal field");
            column.row("which way to go", |sheet, at| {
                draw_arrow(sheet, at, Vec2::new(9.0, 0.0));
            });
            let step = line_every_m(field, clearance, ground);
            column.row(&format!("equal cost, every {step} m"), |sheet, at| {
                let line = Path::polyline(ends(at));
                sheet.stroke(line, Line::new(palette::traced().at(0.55), 1.2));
            });
            column.row("goal", |sheet, at| {
                let foot = at + Vec2::new(4.0, 9.0);
                orders::draw_goal(sheet, foot, palette::traced(), false);
            });
        }
        Overlay::Regions { clearance } => {
            column.heading("regions");
            let regions = by_size(ground, clearance);
            for (number, (_, cells)) in regions.iter().take(9).enumerate() {
                let count = cells.len();
                column.row(&format!("{}: {count} cells", number + 1), |sheet, at| {
                    draw_hatch(sheet, at, 9.0, number);
                });
            }
            if regions.len() > 9 {
                let text = format!("{} smaller ones", regions.len() - 9);
                column.row(&text, |sheet, at| draw_hatch(sheet, at, 9.0, 9));
            }
        }
        Overlay::Room { clearances } => {
            column.heading("room for a body");
            let has_room = |clearance: &ClearanceMap| {
                let mut cells = ground.whole().cells();
                cells.any(|cell| clearance.is_open(cell))
            };
            for (k, clearance) in clearances.iter().enumerate().filter(|(_, p)| has_room(p)) {
                let text = format!("{:.2} m in radius, or more", clearance.radius());
                let part = (k + 1) as f32 / clearances.len() as f32;
                column.row(&text, |sheet, at| draw_dot(sheet, at, 9.0 * part));
            }
        }
        Overlay::Places { waypoints, trip } => explain_places(column, waypoints, trip),
    }
}

fn explain_places(column: &mut Column<'_>, waypoints: &Waypoints, trip: &[u32]) {
    column.heading("places");
    column.row("place", |sheet, at| draw_place(sheet, at, false));
    column.row("leg", |sheet, at| draw_leg(sheet, ends(at), false));
    if waypoints.legs().iter().any(|leg| leg.one_way) {
        column.row("leg that leads one way", |sheet, at| {
            draw_leg(sheet, ends(at), true);
        });
    }
    if !trip.is_empty() {
        column.row("place on the way", |sheet, at| {
            draw_place(sheet, at, true);
        });
        column.row("way", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), Line::new(palette::traced(), 3.2));
        });
    }
}
