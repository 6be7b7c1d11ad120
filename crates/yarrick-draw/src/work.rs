//! Work and war in progress: projectiles, loads, what deposits hold, what is produced and built, and where an assault comes
//! in and makes for.

use crate::font::Face;
use crate::frame::Frame;
use crate::legend::{Sign, hue};
use crate::palette;
use crate::path::Path;
use crate::sheet::{Anchor, Colour, Line, Sheet, Text, small};
use yarrick::geom::angle;
use yarrick::select::Selection;
use yarrick::world::{UnitId, UnitView, World};
use yarrick::{Rect, Vec2};

/// Draws what lies on the ground: entries, goals, and the ranges of what is selected.
pub(crate) fn draw_areas(
    sheet: &mut Sheet,
    frame: &Frame,
    world: &World,
    selected: &Selection<UnitId>,
) {
    for entry in world.entries() {
        let at = frame.point(entry.at);
        draw_entry(sheet, at, entry.spread_m * frame.scale, entry.facing);
        draw_name(sheet, at, entry.spread_m * frame.scale, &entry.name);
    }
    for goal in world.goals() {
        let at = frame.point(goal.at);
        draw_goal_area(sheet, at, goal.radius_m * frame.scale);
        draw_name(sheet, at, goal.radius_m * frame.scale, &goal.name);
    }
    for unit in world.units().filter(|unit| selected.contains(unit.id())) {
        if let Some(weapon) = unit.kind().weapon {
            let radius = (weapon.range_m + unit.radius()) * frame.scale;
            let ring = Path::circle(frame.point(unit.position()), radius);
            sheet.stroke(ring, range_line(palette::side(unit.side_id().0)));
        }
    }
}

/// Draws what units carry, hold, produce and build, and what flies.
pub(crate) fn draw(sheet: &mut Sheet, frame: &Frame, world: &World) {
    for unit in world.units() {
        let at = frame.point(unit.position());
        let half = (unit.radius() * frame.scale).max(6.0);
        if unit.load().is_some() {
            draw_load(sheet, at + Vec2::new(half * 0.8, half * 0.8));
        }
        draw_production(sheet, frame, &unit);
        if let Some(part) = unit.construction() {
            draw_construction(sheet, frame, &unit, part);
        }
    }
    // After all units: gatherers stand where the amount is written.
    for unit in world.units() {
        if let Some(deposit) = unit.deposit() {
            let half = (unit.radius() * frame.scale).max(6.0);
            let below = frame.point(unit.position()) + Vec2::new(0.0, half + 9.0);
            let text = Text {
                halo: Some(palette::PAPER),
                ..small(below, deposit.left.to_string(), palette::INK)
            };
            sheet.text(text, Anchor::Middle);
        }
    }
    for projectile in world.projectiles() {
        let flight = projectile.flight();
        let ahead = flight.velocity.normalize_or_zero() * Vec2::new(1.0, -1.0);
        let at = frame.point(flight.position);
        draw_projectile(sheet, at, ahead, palette::side(projectile.side_id().0));
    }
}

fn draw_name(sheet: &mut Sheet, at: Vec2, radius: f32, name: &str) {
    let text = Text {
        face: Face::Bold,
        halo: Some(palette::PAPER),
        ..small(
            at + Vec2::new(0.0, radius + 15.0),
            name.to_owned(),
            palette::INK,
        )
    };
    sheet.text(text, Anchor::Middle);
}

/// A broken ring, and three chevrons that point the way in.
fn draw_entry(sheet: &mut Sheet, at: Vec2, radius: f32, facing: f32) {
    let ring = Path::circle(at, radius.max(6.0));
    sheet.stroke(ring, Line::new(palette::INK, 1.2).dashed(2.0, 4.0));
    let ahead = angle::direction(facing) * Vec2::new(1.0, -1.0);
    for k in [-1.0_f32, 0.0, 1.0] {
        let tip = at + ahead * (k * 7.0 + 3.0);
        let side = ahead.perp() * 5.0;
        let back = ahead * 5.0;
        let chevron = Path::polyline([tip - back + side, tip, tip - back - side]);
        sheet.stroke(chevron, Line::new(palette::INK, 1.6));
    }
}

/// Two rings, one in the other.
fn draw_goal_area(sheet: &mut Sheet, at: Vec2, radius: f32) {
    for radius in [radius.max(8.0), (radius - 4.0).max(4.0)] {
        let line = Line::new(palette::INK.at(0.7), 1.1).dashed(6.0, 3.0);
        sheet.stroke(Path::circle(at, radius), line);
    }
}

fn range_line(hue: Colour) -> Line {
    Line::new(hue, 1.2).dashed(1.5, 4.5)
}

/// A little sack at the side of the body.
fn draw_load(sheet: &mut Sheet, at: Vec2) {
    let sack = Path::circle(at, 3.6);
    sheet.fill(sack.clone(), palette::INK);
    sheet.stroke(sack, Line::new(palette::PAPER, 1.0));
}

fn draw_projectile(sheet: &mut Sheet, at: Vec2, ahead: Vec2, hue: Colour) {
    let tail = Path::polyline([at - ahead * 11.0, at]);
    sheet.stroke(tail, Line::new(hue, 1.6));
    sheet.fill(Path::circle(at, 2.4), palette::INK);
}

/// A bar below a building, as long as the part of the first item that is done, and how many are in the queue.
fn draw_production(sheet: &mut Sheet, frame: &Frame, unit: &UnitView<'_>) {
    let Some(line) = unit.production().filter(|line| line.items().len() > 0) else {
        return;
    };
    let foot = foot_of(frame, unit);
    let count = line.items().len();
    draw_progress(sheet, foot, line.progress().unwrap_or(0.0), Some(count));
}

/// Below the lower edge of a unit.
fn foot_of(frame: &Frame, unit: &UnitView<'_>) -> Vec2 {
    let low = match unit.block() {
        Some(block) => {
            let corners = block.corners().map(|corner| frame.point(corner).y);
            corners.into_iter().fold(f32::NEG_INFINITY, f32::max)
        }
        None => frame.point(unit.position()).y + unit.radius() * frame.scale,
    };
    Vec2::new(frame.point(unit.position()).x, low + 4.0)
}

fn draw_progress(sheet: &mut Sheet, foot: Vec2, part: f32, count: Option<usize>) {
    let half = 16.0;
    let min = foot - Vec2::new(half, 0.0);
    let bar = |part: f32| {
        let max = min + Vec2::new(2.0 * half * part, 5.0);
        Path::rect(Rect { min, max })
    };
    sheet.fill(bar(1.0), palette::PAPER);
    sheet.fill(bar(part.clamp(0.0, 1.0)), palette::FAINT_INK);
    sheet.stroke(bar(1.0), Line::new(palette::INK, 1.0));
    if let Some(count) = count {
        let text = Text {
            halo: Some(palette::PAPER),
            ..small(
                foot + Vec2::new(half + 5.0, 7.0),
                count.to_string(),
                palette::INK,
            )
        };
        sheet.text(text, Anchor::Left);
    }
}

/// Hatching over what is not built yet, and how much of it is.
fn draw_construction(sheet: &mut Sheet, frame: &Frame, unit: &UnitView<'_>, part: f32) {
    if let Some(block) = unit.block() {
        let [a, b, c, d] = block.corners().map(|corner| frame.point(corner));
        let mut hatching = Path::default();
        for k in 1..8 {
            let part = k as f32 / 8.0;
            hatching.add_segment(a.lerp(b, part), a.lerp(d, part));
            hatching.add_segment(c.lerp(b, part), c.lerp(d, part));
        }
        sheet.stroke(hatching, Line::new(palette::INK.at(0.45), 1.0));
    }
    draw_progress(sheet, foot_of(frame, unit), part, None);
}

/// The signs of these: which are in the picture, and how they are drawn.
pub(crate) fn signs(world: &World, has_armed: bool) -> Vec<Sign> {
    let any = |is: fn(&UnitView<'_>) -> bool| world.units().any(|unit| is(&unit));
    let produces = any(|unit| unit.production().is_some_and(|line| line.items().len() > 0));
    vec![
        (
            !world.entries().is_empty(),
            "an entry of the assault",
            |sheet, at| {
                draw_entry(sheet, at, 10.0, 0.0);
            },
        ),
        (!world.goals().is_empty(), "its goal", |sheet, at| {
            draw_goal_area(sheet, at, 9.0);
        }),
        (
            world.projectiles().len() > 0,
            "a projectile",
            |sheet, at| {
                draw_projectile(sheet, at + Vec2::new(5.0, 0.0), Vec2::X, hue());
            },
        ),
        (has_armed, "range of what is selected", |sheet, at| {
            sheet.stroke(Path::circle(at, 9.0), range_line(hue()));
        }),
        (
            any(|unit| unit.load().is_some()),
            "carries a load",
            draw_load,
        ),
        (
            any(|unit| unit.deposit().is_some()),
            "what a deposit holds",
            |sheet, at| {
                let text = small(at + Vec2::new(0.0, 4.5), "120".to_owned(), palette::INK);
                sheet.text(text, Anchor::Middle);
            },
        ),
        (produces, "in production, and the queue", |sheet, at| {
            draw_progress(sheet, at - Vec2::new(6.0, 3.0), 0.6, None);
        }),
        (
            any(|unit| unit.construction().is_some()),
            "being built",
            |sheet, at| {
                let half = Vec2::new(9.0, 7.0);
                let [min, max] = [at - half, at + half];
                let mut hatching = Path::default();
                for k in 1..4 {
                    let part = k as f32 / 4.0;
                    let [left, low] = [Vec2::new(min.x, max.y), Vec2::new(max.x, max.y)];
                    hatching.add_segment(left.lerp(min, part), left.lerp(low, part));
                }
                sheet.stroke(Path::rect(Rect { min, max }), Line::new(hue(), 1.4));
                sheet.stroke(hatching, Line::new(palette::INK.at(0.45), 1.0));
            },
        ),
    ]
}

/// How the assault and the stores stand, in a line or two.
pub(crate) fn status(world: &World) -> Vec<String> {
    let mut lines = Vec::new();
    if let Some(progress) = world.assault() {
        let wave = progress.wave.map_or(0, |wave| wave + 1);
        let alive = progress.tally.alive();
        let then = match progress.next_in {
            Some(ticks) => {
                let seconds = ticks as f32 / world.ticks_per_second() as f32;
                format!("next in {seconds:.0} s")
            }
            None if wave == progress.waves && alive + progress.to_come == 0 => {
                "all over".to_owned()
            }
            None => format!("{alive} alive, {} to come", progress.to_come),
        };
        lines.push(format!("wave {wave} of {}: {then}", progress.waves));
        let leaked = progress.leaked;
        lines.push(format!("{leaked} leaked{}", owned(world)));
    } else {
        let owned = owned(world);
        let owned = owned.trim_start_matches("; ");
        if !owned.is_empty() {
            lines.push(owned.to_owned());
        }
    }
    if let Some(decision) = world.decision() {
        let side = world.sides().get(usize::from(decision.ending.side.0));
        let side = side.map_or("", |side| side.name.as_str());
        lines.push(format!("{side} have {}", decision.ending.result));
    }
    lines
}

/// What the sides own that own anything.
fn owned(world: &World) -> String {
    let mut text = String::new();
    for (number, side) in (0_u8..).zip(world.sides()) {
        let stores = world.stores(yarrick::SideId(number));
        let resources = (0_u8..).zip(world.resources());
        for (resource, name) in resources {
            let amount = stores.of(yarrick::economy::ResourceId(resource));
            if amount > 0 {
                text += &format!("; {} own {amount} {name}", side.name);
            }
        }
    }
    text
}
