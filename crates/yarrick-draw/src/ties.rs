//! What ties units to others: foes they fight, units they follow, and where buildings send theirs.

use crate::frame::Frame;
use crate::legend::{Sign, ends, hue};
use crate::palette;
use crate::path::Path;
use crate::sheet::{Colour, Line, Sheet};
use yarrick::Vec2;
use yarrick::world::{Spot, UnitView, World};

/// Draws all ties under the units.
pub(crate) fn draw(sheet: &mut Sheet, frame: &Frame, world: &World) {
    for unit in world.units() {
        let hue = palette::side(unit.side_id().0);
        let from = frame.point(unit.position());
        if let Some(companion) = companion(world, unit) {
            let to = edge_towards(frame, companion, from);
            draw_company(sheet, from, to, hue);
        }
        let mut last = from;
        for &spot in unit.rally_points() {
            let Some(to) = where_is(frame, world, spot) else {
                continue;
            };
            draw_rally(sheet, last, to, hue);
            last = to;
        }
    }
}

/// Draws who goes for whom, over the units.
pub(crate) fn draw_fights(sheet: &mut Sheet, frame: &Frame, world: &World) {
    for unit in world.units() {
        if let Some(foe) = unit.foe().and_then(|foe| world.unit(foe)) {
            let hue = palette::side(unit.side_id().0);
            let at = frame.point(unit.position());
            let to = edge_towards(frame, foe, at);
            let from = edge_towards(frame, unit, frame.point(foe.position()));
            draw_fight(sheet, from, to, hue);
        }
    }
}

fn where_is(frame: &Frame, world: &World, spot: Spot) -> Option<Vec2> {
    let at = match spot {
        Spot::Ground(at) => at,
        Spot::Unit(unit) => world.unit(unit)?.position(),
    };
    Some(frame.point(at))
}

/// The unit that the order being carried out is about, unless it is a foe that is fought.
fn companion<'a>(world: &'a World, unit: UnitView<'_>) -> Option<UnitView<'a>> {
    let target = unit.current_order()?.target()?;
    world.unit(target).filter(|_| unit.foe() != Some(target))
}

/// The point on the rim of a unit that is nearest to a point of the sheet.
fn edge_towards(frame: &Frame, unit: UnitView<'_>, from: Vec2) -> Vec2 {
    let at = frame.point(unit.position());
    at + (from - at).normalize_or_zero() * (unit.radius() * frame.scale + 2.0)
}

/// A line with an arrowhead: one goes for the other, or strikes it.
pub(crate) fn draw_fight(sheet: &mut Sheet, from: Vec2, to: Vec2, hue: Colour) {
    let ahead = (to - from).normalize_or_zero();
    let line = Path::polyline([from, to - ahead * 5.0]);
    sheet.stroke(line.clone(), Line::new(palette::PAPER, 3.4));
    sheet.stroke(line, Line::new(hue, 1.6));
    let barb = ahead.perp() * 4.0;
    let head = Path::polygon([to, to - ahead * 8.0 + barb, to - ahead * 8.0 - barb]);
    sheet.stroke(head.clone(), Line::new(palette::PAPER, 2.0));
    sheet.fill(head, hue);
}

/// A dotted line with a bead at its end: one keeps near the other.
pub(crate) fn draw_company(sheet: &mut Sheet, from: Vec2, to: Vec2, hue: Colour) {
    let line = Line::new(hue.at(0.8), 1.4).dashed(1.5, 4.0);
    sheet.stroke(Path::polyline([from, to]), line);
    let bead = Path::circle(to, 3.0);
    sheet.fill(bead.clone(), palette::PAPER);
    sheet.stroke(bead, Line::new(hue, 1.4));
}

/// A broken line to two rings, one in the other: units that come out go there.
pub(crate) fn draw_rally(sheet: &mut Sheet, from: Vec2, to: Vec2, hue: Colour) {
    let line = Line::new(hue.at(0.8), 1.6).dashed(12.0, 4.0);
    sheet.stroke(Path::polyline([from, to]), line);
    for (radius, width) in [(7.0, 1.6), (3.0, 1.6)] {
        let ring = Path::circle(to, radius);
        sheet.fill(ring.clone(), palette::PAPER);
        sheet.stroke(ring, Line::new(hue, width));
    }
}

/// What of all this is in the picture, for the legend.
pub(crate) struct TiesShown {
    pub(crate) fights: bool,
    pub(crate) company: bool,
    pub(crate) rallies: bool,
}

pub(crate) fn shown(world: &World) -> TiesShown {
    TiesShown {
        fights: world.units().any(|unit| unit.foe().is_some()),
        company: world.units().any(|unit| companion(world, unit).is_some()),
        rallies: world.units().any(|unit| !unit.rally_points().is_empty()),
    }
}

/// The signs of ties: which are in the picture, and how they are drawn.
pub(crate) fn signs(world: &World) -> Vec<Sign> {
    let ties = shown(world);
    vec![
        (ties.fights, "goes for it, or strikes it", |sheet, at| {
            let [from, to] = ends(at);
            draw_fight(sheet, from, to, hue());
        }),
        (ties.company, "keeps near it, or goes to it", |sheet, at| {
            let [from, to] = ends(at);
            draw_company(sheet, from, to, hue());
        }),
        (ties.rallies, "rally point", |sheet, at| {
            let [from, to] = ends(at);
            draw_rally(sheet, from, to - Vec2::new(4.0, 0.0), hue());
        }),
    ]
}
