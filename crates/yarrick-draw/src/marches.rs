//! Groups in formation: the slots that their members keep to, and where the shape looks.

use crate::frame::Frame;
use crate::legend::{Column, ends};
use crate::palette;
use crate::path::Path;
use crate::sheet::{Colour, Line, Sheet};
use yarrick::Vec2;
use yarrick::geom::angle;
use yarrick::world::World;

/// A unit nearer to its slot than this, in its own radii, needs no tie to it.
const IN_SLOT_RADII: f32 = 0.6;

/// Draws the slots of those under way, below the units.
pub(crate) fn draw(sheet: &mut Sheet, frame: &Frame, world: &World) {
    for march in world.marches() {
        let Some((middle, facing)) = march.guide else {
            continue;
        };
        let hue = march.slots.iter().find_map(|(unit, _)| world.unit(*unit));
        let hue = palette::side(hue.map_or(0, |unit| unit.side_id().0));
        for (unit, slot) in &march.slots {
            let Some(unit) = world.unit(*unit) else {
                continue;
            };
            let at = frame.point(*slot);
            draw_slot(sheet, at, unit.radius() * frame.scale, hue);
            if unit.position().distance(*slot) > IN_SLOT_RADII * unit.radius() {
                draw_tie(sheet, [frame.point(unit.position()), at], hue);
            }
        }
        draw_lead(sheet, frame.point(middle), facing, hue);
    }
}

fn draw_slot(sheet: &mut Sheet, at: Vec2, radius: f32, hue: Colour) {
    let ring = Path::circle(at, radius.max(3.0));
    sheet.stroke(ring, Line::new(hue.at(0.8), 1.2).dashed(2.5, 2.0));
}

fn draw_tie(sheet: &mut Sheet, ends: [Vec2; 2], hue: Colour) {
    sheet.stroke(
        Path::polyline(ends),
        Line::new(hue.at(0.5), 1.0).dashed(1.5, 3.0),
    );
}

/// A double chevron in the middle of a shape, towards where it looks.
fn draw_lead(sheet: &mut Sheet, at: Vec2, facing: f32, hue: Colour) {
    let ahead = angle::direction(facing) * Vec2::new(1.0, -1.0);
    let side = ahead.perp();
    let mut chevrons = Path::default();
    for out in [0.0, 7.0] {
        let tip = at + ahead * (8.0 + out);
        let back = at + ahead * out;
        let line = Path::polyline([back + side * 8.0, tip, back - side * 8.0]);
        chevrons.parts.extend(line.parts);
    }
    sheet.stroke(chevrons.clone(), Line::new(palette::PAPER, 5.0));
    sheet.stroke(chevrons, Line::new(hue, 2.2));
}

/// The rows of the legend.
pub(crate) fn explain(column: &mut Column<'_>, world: &World) {
    let hue = palette::side(0);
    if world.marches().any(|march| march.guide.is_some()) {
        column.row("slot in a formation", |sheet, at| {
            draw_slot(sheet, at - Vec2::X * 8.0, 6.0, hue);
            draw_tie(sheet, ends(at + Vec2::X * 12.0), hue);
        });
        column.row("its middle, and where it looks", |sheet, at| {
            draw_lead(sheet, at - Vec2::X * 8.0, 0.0, hue);
        });
    }
}
