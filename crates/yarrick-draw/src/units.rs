//! Units: the outline says the side, the letter the kind, the notch where it looks.

use crate::font::Face;
use crate::frame::Frame;
use crate::legend::{Column, Sign};
use crate::palette;
use crate::path::Path;
use crate::sheet::{Anchor, Line, Sheet, Text};
use yarrick::geom::{Block, angle};
use yarrick::select::Selection;
use yarrick::world::{Kind, Rank, UnitId, UnitView, World};
use yarrick::{Rect, Vec2};

/// Units are never drawn smaller than this, in pixels of radius.
const LEAST_PX: f32 = 3.0;

/// The sign of a building's kind and side on its footprint is no larger than this.
const BADGE_PX: f32 = 10.0;

/// Below this radius in pixels a letter does not fit.
const LETTER_PX: f32 = 6.0;

/// Draws all units, those with higher ids on top.
pub(crate) fn draw(sheet: &mut Sheet, frame: &Frame, world: &World, selected: &Selection<UnitId>) {
    let mut units: Vec<UnitView<'_>> = world.units().collect();
    units.sort_by_key(UnitView::id);
    for unit in units.iter().filter(|unit| selected.contains(unit.id())) {
        let at = frame.point(unit.position());
        let ring = match unit.block() {
            Some(block) => {
                let half = block.half + Vec2::splat(3.5 / frame.scale);
                let round = Block { half, ..block };
                Path::polygon(round.corners().map(|corner| frame.point(corner)))
            }
            None => Path::circle(at, radius_px(frame, unit) + 3.5),
        };
        sheet.stroke(ring.clone(), Line::new(palette::PAPER, 3.6));
        sheet.stroke(ring, selection_line());
    }
    for unit in &units {
        let at = frame.point(unit.position());
        let mut radius = radius_px(frame, unit);
        if let Some(block) = unit.block() {
            draw_block(sheet, frame, &block, unit.side_id().0);
            radius = radius.min(BADGE_PX);
        }
        let facing = shows_facing(unit.kind()).then_some(unit.pointing());
        draw_body(sheet, at, radius, facing, unit.side_id().0);
        if radius >= LETTER_PX {
            draw_letter(sheet, at, unit.kind().glyph);
        }
        let half = radius.max(LETTER_PX);
        if stands_firm(unit) {
            draw_footing(sheet, at, half);
        }
        if is_harmed(unit) {
            draw_health(sheet, at, half, unit.health() / unit.kind().body.health);
        }
    }
}

/// Whether a unit was ordered never to take a step.
pub(crate) fn stands_firm(unit: &UnitView<'_>) -> bool {
    unit.current_order()
        .is_some_and(|order| order.word() == "hold")
}

pub(crate) fn is_harmed(unit: &UnitView<'_>) -> bool {
    unit.health() < unit.kind().body.health
}

/// A bar under the body of a unit that stands firm.
pub(crate) fn draw_footing(sheet: &mut Sheet, at: Vec2, half: f32) {
    let foot = at + Vec2::new(0.0, half + 5.0);
    let side = Vec2::new(half, 0.0);
    sheet.stroke(
        Path::polyline([foot - side, foot + side]),
        Line::new(palette::INK, 3.0),
    );
}

/// A bar over the body, as long as the part of the health that is left.
pub(crate) fn draw_health(sheet: &mut Sheet, at: Vec2, half: f32, part: f32) {
    let min = at - Vec2::new(half, half + 9.0);
    let size = Vec2::new(2.0 * half, 4.0);
    let bar = |part: f32| {
        let max = min + size * Vec2::new(part, 1.0);
        Path::rect(Rect { min, max })
    };
    sheet.fill(bar(1.0), palette::PAPER);
    sheet.fill(bar(part.clamp(0.0, 1.0)), palette::INK);
    sheet.stroke(bar(1.0), Line::new(palette::INK, 1.0));
}

/// The broken ring of a selected unit.
pub(crate) fn selection_line() -> Line {
    Line::new(palette::INK, 1.8).dashed(5.0, 3.0)
}

fn radius_px(frame: &Frame, unit: &UnitView<'_>) -> f32 {
    (unit.radius() * frame.scale).max(LEAST_PX)
}

/// The ground that a building covers, with a double line at its front.
fn draw_block(sheet: &mut Sheet, frame: &Frame, block: &Block, side: u8) {
    let hue = palette::side(side);
    let corners = block.corners().map(|corner| frame.point(corner));
    let outline = Path::polygon(corners);
    sheet.fill(outline.clone(), hue.towards(palette::PAPER, 0.7));
    sheet.stroke(outline, Line::new(hue, 2.0));
    let inwards = (frame.point(block.centre) - (corners[0] + corners[3]) * 0.5).normalize_or_zero();
    let front = [corners[0] + inwards * 4.0, corners[3] + inwards * 4.0];
    sheet.stroke(Path::polyline(front), Line::new(hue, 2.0));
}

/// Whether it matters where units of a kind look: not for what only lies there.
pub(crate) fn shows_facing(kind: &Kind) -> bool {
    kind.rank != Rank::Deposit
}

/// The outline of a side, with a notch towards `facing`.
pub(crate) fn draw_body(sheet: &mut Sheet, at: Vec2, radius: f32, facing: Option<f32>, side: u8) {
    let hue = palette::side(side);
    let outline = outline(at, radius, side);
    sheet.fill(outline.clone(), hue.towards(palette::PAPER, 0.78));
    sheet.stroke(outline, Line::new(hue, (radius * 0.2).clamp(1.0, 2.0)));
    let Some(facing) = facing else {
        return;
    };
    let ahead = angle::direction(facing) * Vec2::new(1.0, -1.0);
    let beside = ahead.perp();
    let notch = Path::polygon([
        at + ahead * (radius * 1.25 + 2.5),
        at + ahead * (radius * 0.72) + beside * (radius * 0.62),
        at + ahead * (radius * 0.72) - beside * (radius * 0.62),
    ]);
    sheet.fill(notch, hue);
}

/// The letter of a kind, in the middle of its body.
pub(crate) fn draw_letter(sheet: &mut Sheet, at: Vec2, glyph: char) {
    let text = Text {
        at: at + Vec2::new(0.0, 4.2),
        text: glyph.to_string(),
        face: Face::Bold,
        px: 12.0,
        colour: palette::INK,
        halo: None,
    };
    sheet.text(text, Anchor::Middle);
}

/// A shape for each side: circle, square, hexagon, diamond, triangle, octagon.
fn outline(at: Vec2, radius: f32, side: u8) -> Path {
    let (corners, turn, grow) = match side % 6 {
        0 => return Path::circle(at, radius),
        1 => (4, 0.5, 1.2),
        2 => (6, 0.0, 1.08),
        3 => (4, 0.0, 1.25),
        4 => (3, 0.25, 1.35),
        _ => (8, 0.5, 1.05),
    };
    let corner = |k: u32| {
        let part = (k as f32 + turn) / corners as f32;
        at + angle::direction(part * core::f32::consts::TAU) * radius * grow
    };
    Path::polygon((0..corners).map(corner))
}

/// Explains the units in the picture, side by side.
pub(crate) fn explain(column: &mut Column<'_>, world: &World) {
    for (number, side) in world.sides().iter().enumerate() {
        let number = number as u8;
        let of_side = || world.units().filter(move |unit| unit.side_id().0 == number);
        if of_side().count() == 0 {
            continue;
        }
        column.heading(&side.name);
        for (at, kind) in world.kinds().iter().enumerate() {
            let count = of_side()
                .filter(|unit| usize::from(unit.kind_id().0) == at)
                .count();
            if count > 0 {
                column.row(&format!("{} {}", count, kind.name), |sheet, at| {
                    let facing = shows_facing(kind).then_some(0.0);
                    draw_body(sheet, at, 8.0, facing, number);
                    draw_letter(sheet, at, kind.glyph);
                });
            }
        }
    }
}

/// The signs of units: which are in the picture, and how they are drawn.
pub(crate) fn signs(world: &World, has_selected: bool) -> Vec<Sign> {
    let firm = world.units().any(|unit| stands_firm(&unit));
    let harmed = world.units().any(|unit| is_harmed(&unit));
    vec![
        (has_selected, "selected", |sheet, at| {
            sheet.stroke(Path::circle(at, 8.0), selection_line());
        }),
        (firm, "holds its ground", |sheet, at| {
            draw_footing(sheet, at - Vec2::new(0.0, 14.0), 9.0);
        }),
        (harmed, "health that is left", |sheet, at| {
            draw_health(sheet, at + Vec2::new(0.0, 17.0), 10.0, 0.6);
        }),
    ]
}
