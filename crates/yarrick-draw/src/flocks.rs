//! Flocks and the zones that keep them in, draw them, or drive them off.

use crate::contour;
use crate::font::{self, Face};
use crate::frame::Frame;
use crate::legend::{Column, ends};
use crate::palette;
use crate::path::Path;
use crate::sheet::{Anchor, Line, Sheet, Text, small};
use std::collections::BTreeSet;
use yarrick::geom::{Outline, angle};
use yarrick::motion::flock::{Zone, ZoneRole};
use yarrick::world::World;
use yarrick::{Rect, Vec2};

/// Members are never drawn shorter than this, in pixels.
const LEAST_PX: f32 = 6.0;

/// Side in pixels of the squares in which the edges of zones are traced.
const TRACE_PX: f32 = 5.0;

/// From arrow to arrow along an edge, in pixels.
const ARROW_EVERY_PX: f32 = 46.0;

/// Draws the zones, below everything that moves. One that is for several flocks is drawn once.
pub(crate) fn draw_zones(sheet: &mut Sheet, frame: &Frame, world: &World) {
    for zone in zones(world) {
        draw_zone(sheet, frame, zone);
    }
}

/// Writes beside each zone what it is, above everything that moves, and not over what is in `taken`. Gives what is taken
/// afterwards.
pub(crate) fn draw_labels(
    sheet: &mut Sheet,
    frame: &Frame,
    world: &World,
    taken: Vec<Rect>,
) -> Vec<Rect> {
    let mut labels = taken;
    for zone in zones(world) {
        let edge = traced(frame, zone, 0.0);
        draw_label(sheet, frame, zone, (&edge, &mut labels));
    }
    labels
}

/// All zones, each once.
fn zones(world: &World) -> Vec<&Zone> {
    let mut zones: Vec<&Zone> = Vec::new();
    let flocks = world.flocks();
    for (_, zone) in flocks.flat_map(|(_, _, flock)| flock.zones()) {
        if !zones.contains(&zone) {
            zones.push(zone);
        }
    }
    zones
}

fn draw_zone(sheet: &mut Sheet, frame: &Frame, zone: &Zone) {
    let edge = traced(frame, zone, 0.0);
    let outline = lines(frame, &edge);
    sheet.stroke(outline.clone(), Line::new(palette::PAPER.at(0.6), 4.0));
    sheet.stroke(outline, edge_line(zone));
    if zone.margin_m > 0.0 {
        let margin_m = match zone.role {
            ZoneRole::Pen => zone.margin_m,
            ZoneRole::Lure | ZoneRole::Scare => -zone.margin_m,
        };
        let margin = traced(frame, zone, margin_m);
        sheet.stroke(lines(frame, &margin), margin_line());
    }
    if zone.is_on {
        draw_arrows(sheet, frame, zone, &edge);
    }
}

fn lines(frame: &Frame, pieces: &[(Vec2, Vec2)]) -> Path {
    let mut path = Path::default();
    for line in contour::chained(pieces) {
        let points = line.into_iter().map(|at| frame.point(at));
        path.parts.extend(Path::polyline(points).parts);
    }
    path
}

/// Arrows along the edge: which way it sends.
fn draw_arrows(sheet: &mut Sheet, frame: &Frame, zone: &Zone, edge: &[(Vec2, Vec2)]) {
    let mut taken: Vec<Vec2> = Vec::new();
    for (a, b) in edge {
        let middle = (*a + *b) * 0.5;
        let at = frame.point(middle);
        if taken
            .iter()
            .any(|other| other.distance(at) < ARROW_EVERY_PX)
        {
            continue;
        }
        taken.push(at);
        let inward = zone.edge(middle).inward * Vec2::new(1.0, -1.0);
        draw_arrow(sheet, at, inward, zone.role);
    }
}

/// An arrow at an edge, `inward` being the way in: a pen sends back in, a lure draws in from outside, a scare sends
/// off.
pub(crate) fn draw_arrow(sheet: &mut Sheet, at: Vec2, inward: Vec2, role: ZoneRole) {
    let (way, foot) = match role {
        ZoneRole::Pen => (inward, 2.0),
        ZoneRole::Lure => (inward, -15.0),
        ZoneRole::Scare => (-inward, 2.0),
    };
    let (from, to) = (at + way * foot, at + way * (foot + 12.0));
    let side = way.perp() * 3.6;
    sheet.stroke(Path::polyline([from, to]), Line::new(palette::INK, 1.4));
    let head = Path::polygon([to + way * 2.0, to - way * 4.5 + side, to - way * 4.5 - side]);
    sheet.fill(head, palette::INK);
}

/// What it is and how much it counts, beside its edge: as far up as no other zone's label is in the way.
fn draw_label(
    sheet: &mut Sheet,
    frame: &Frame,
    zone: &Zone,
    (edge, labels): (&[(Vec2, Vec2)], &mut Vec<Rect>),
) {
    let (role, off) = (zone.role.word(), if zone.is_on { "" } else { ", off" });
    let text = format!("{role}, weight {}{off}", zone.weight);
    let size = Vec2::new(font::width(&text, Face::Bold, 13.0), 18.0);
    let mut points: Vec<Vec2> = edge.iter().map(|(a, _)| frame.point(*a)).collect();
    points.sort_by(|a, b| a.y.total_cmp(&b.y).then(a.x.total_cmp(&b.x)));
    let above = |at: &Vec2| {
        let min = *at - Vec2::new(size.x * 0.5, size.y + 4.0);
        let inmost = frame.area.max - size;
        let min = min.clamp(frame.area.min, inmost.max(frame.area.min));
        Rect {
            min,
            max: min + size,
        }
    };
    let on_map = points.iter().filter(|at| frame.area.contains(**at));
    let is_free = |place: &Rect| {
        let meets =
            |other: &Rect| place.min.cmplt(other.max).all() && other.min.cmplt(place.max).all();
        !labels.iter().any(meets)
    };
    let Some(place) = on_map.map(above).find(is_free) else {
        return;
    };
    labels.push(place);
    let text = Text {
        face: Face::Bold,
        halo: Some(palette::PAPER),
        ..small(
            Vec2::new(place.min.x, place.max.y - 5.0),
            text,
            palette::INK,
        )
    };
    sheet.text(text, Anchor::Left);
}

pub(crate) fn edge_line(zone: &Zone) -> Line {
    let line = Line::new(palette::INK.at(if zone.is_on { 0.85 } else { 0.35 }), 1.8);
    match zone.role {
        ZoneRole::Pen => line,
        ZoneRole::Lure | ZoneRole::Scare => Line { width: 1.3, ..line },
    }
}

pub(crate) fn margin_line() -> Line {
    Line::new(palette::INK.at(0.6), 1.1).dashed(5.0, 4.0)
}

/// Pieces of the line on which the edge of a zone is `depth_m` metres away, more than zero inside.
fn traced(frame: &Frame, zone: &Zone, depth_m: f32) -> Vec<(Vec2, Vec2)> {
    let reach = zone.outline.reach_m() + depth_m.abs() + TRACE_PX / frame.scale;
    let map = frame.area.size() / frame.scale;
    let seen = Rect::from_corners(
        (zone.at - Vec2::splat(reach)).max(Vec2::ZERO),
        (zone.at + Vec2::splat(reach)).min(map),
    );
    let depth = |at: Vec2| zone.edge(at).depth_m - depth_m;
    contour::level_line(seen, TRACE_PX / frame.scale, depth)
}

/// Draws the members, each as a dart that points where it goes; a shade of them is one mark.
pub(crate) fn draw_members(sheet: &mut Sheet, frame: &Frame, world: &World) {
    for (_, _, flock) in world.flocks() {
        let shades: BTreeSet<u8> = flock.members().map(|bird| bird.value.shade).collect();
        for shade in shades {
            let mut path = Path::default();
            for bird in flock.members().filter(|bird| bird.value.shade == shade) {
                let px = (bird.value.size_m * frame.scale).max(LEAST_PX);
                add_dart(&mut path, frame.point(bird.at.truncate()), bird.heading, px);
            }
            fill_darts(sheet, path, shade);
        }
    }
}

pub(crate) fn fill_darts(sheet: &mut Sheet, path: Path, shade: u8) {
    let fill = palette::INK.towards(palette::PAPER, f32::from(shade.min(3)) * 0.3);
    sheet.fill(path.clone(), fill);
    sheet.stroke(path, Line::new(palette::INK.at(0.6), 0.5));
}

/// A dart of a length in pixels, notched behind.
pub(crate) fn add_dart(path: &mut Path, at: Vec2, heading: f32, px: f32) {
    let ahead = angle::direction(heading) * Vec2::new(1.0, -1.0) * px;
    let side = ahead.perp();
    let dart = [
        at + ahead * 0.55,
        at - ahead * 0.45 + side * 0.34,
        at - ahead * 0.2,
        at - ahead * 0.45 - side * 0.34,
    ];
    path.parts.extend(Path::polygon(dart).parts);
}

/// The roles of the zones in the picture, for the legend.
pub(crate) fn roles(world: &World) -> Vec<ZoneRole> {
    let all = ZoneRole::WORDS.into_iter().map(|(_, role)| role);
    let is_there = |role: &ZoneRole| zones(world).iter().any(|zone| zone.role == *role);
    all.filter(is_there).collect()
}

/// Whether any zone in the picture has a margin.
pub(crate) fn has_margins(world: &World) -> bool {
    zones(world).iter().any(|zone| zone.margin_m > 0.0)
}

/// The rows of the legend.
pub(crate) fn explain(column: &mut Column<'_>, world: &World) {
    if world.flocks().len() > 0 {
        column.heading("flocks and their zones");
    }
    for (_, name, flock) in world.flocks() {
        column.row(&format!("{} of {name}", flock.len()), |sheet, at| {
            let mut dart = Path::default();
            add_dart(&mut dart, at, 0.0, 14.0);
            fill_darts(sheet, dart, 0);
        });
    }
    for role in roles(world) {
        let text = match role {
            ZoneRole::Pen => "pen: keeps them in",
            ZoneRole::Lure => "lure: draws them in",
            ZoneRole::Scare => "scare: drives them off",
        };
        column.row(text, |sheet, at| {
            let zone = Zone::new(role, Outline::Circle { radius_m: 1.0 }, Vec2::ZERO);
            sheet.stroke(Path::polyline(ends(at)), edge_line(&zone));
            draw_arrow(sheet, at, -Vec2::Y * 0.6, role);
        });
    }
    if has_margins(world) {
        column.row("margin: from here on it works", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), margin_line());
        });
    }
}
