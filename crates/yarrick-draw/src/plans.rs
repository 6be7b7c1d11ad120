//! Site plans in the players' hands: a solid outline with a filled corner where the building may stand, hatching and the
//! name of each objection where it may not.

use crate::font::{self, Face};
use crate::frame::Frame;
use crate::ground::draw_obstacle;
use crate::legend::{Sign, hue};
use crate::palette;
use crate::path::Path;
use crate::sheet::{Anchor, Colour, Line, Sheet, Text, small};
use yarrick::geom::Block;
use yarrick::world::{Hand, SiteObjection, SitePlan, World};
use yarrick::{Rect, Vec2};

/// From one line of the hatching to the next, in pixels.
const HATCH_PX: f32 = 8.0;
const LABEL_PX: f32 = 13.0;

/// Draws the plans of some hands, each with its verdict.
pub(crate) fn draw(sheet: &mut Sheet, frame: &Frame, world: &World, hands: &[Hand]) {
    for hand in hands {
        let plan = hand.site_plan(world);
        let block = plan.and_then(|plan| plan.block(world));
        if let Some((plan, block)) = plan.zip(block) {
            let verdict = hand.plan_verdict(world);
            let hue = palette::side(hand.side().0);
            draw_plan(sheet, frame, &block, (hue, verdict.is_empty()));
            draw_objections(sheet, frame, (world, &plan, &block), &verdict);
        }
    }
}

fn draw_plan(sheet: &mut Sheet, frame: &Frame, block: &Block, (hue, may_stand): (Colour, bool)) {
    draw_outline(
        sheet,
        block.corners().map(|corner| frame.point(corner)),
        (hue, may_stand),
    );
}

/// The outline of a plan; its first and last corners are those at its front.
fn draw_outline(sheet: &mut Sheet, corners: [Vec2; 4], (hue, may_stand): (Colour, bool)) {
    let outline = Path::polygon(corners);
    sheet.fill(outline.clone(), palette::PAPER.at(0.55));
    if !may_stand {
        sheet.stroke(hatching(corners), Line::new(palette::INK.at(0.75), 1.2));
    }
    let line = Line::new(hue, 2.2);
    sheet.stroke(
        outline,
        if may_stand {
            line
        } else {
            line.dashed(5.0, 4.0)
        },
    );
    let [a, b, _, d] = corners;
    let inwards = (b - a).normalize_or_zero() * 4.0;
    sheet.stroke(Path::polyline([a + inwards, d + inwards]), line);
    if may_stand {
        let leg = |to: Vec2| a + (to - a).clamp_length_max(11.0);
        sheet.fill(Path::polygon([a, leg(b), leg(d)]), palette::INK);
    }
}

/// Lines from side to side, slanted against both.
fn hatching([a, b, c, d]: [Vec2; 4]) -> Path {
    let (along, across) = (b - a, d - a);
    let count = ((along.length() + across.length()) / HATCH_PX)
        .ceil()
        .max(2.0);
    let mut lines = Path::default();
    // A line leaves the side from `a` over `b` to `c` where another way round meets it.
    let on = |corner: [Vec2; 3], first: f32, part: f32| {
        let whole = along.length() + across.length();
        let walked = part * whole;
        if walked <= first {
            corner[0].lerp(corner[1], walked / first.max(1e-6))
        } else {
            corner[1].lerp(corner[2], (walked - first) / (whole - first).max(1e-6))
        }
    };
    for k in 1..count as u32 {
        let part = k as f32 / count;
        let from = on([a, b, c], along.length(), part);
        let to = on([a, d, c], across.length(), part);
        lines.add_segment(from, to);
    }
    lines
}

/// Marks where each objection applies, and writes its name there.
fn draw_objections(
    sheet: &mut Sheet,
    frame: &Frame,
    (world, plan, block): (&World, &SitePlan, &Block),
    verdict: &[SiteObjection],
) {
    let mut labels = Labels::default();
    let corners = block.corners().map(|corner| frame.point(corner));
    let low = corners
        .iter()
        .fold(f32::MIN, |low, corner| low.max(corner.y));
    let foot = Vec2::new(frame.point(block.centre).x, low + 17.0);
    let is_closed =
        |objection: &&SiteObjection| matches!(objection, SiteObjection::ClosedGround { .. });
    let first_closed = verdict.iter().find(is_closed);
    for objection in verdict {
        let at = place_of(objection, (world, block)).map_or(foot, |at| frame.point(at));
        draw_mark(sheet, frame, world, objection);
        // Every closed cell is marked, and one of them named.
        if !is_closed(&objection) || Some(objection) == first_closed {
            labels.add(at, name_of(objection, world));
        }
    }
    let kind = world.kinds().get(usize::from(plan.kind.0));
    if verdict.is_empty()
        && let Some(kind) = kind
    {
        labels.add(foot, kind.name.clone());
    }
    labels.draw(sheet, frame.area);
}

/// Where an objection applies, on the ground; `None` where it is about the plan as a whole.
fn place_of(objection: &SiteObjection, (world, block): (&World, &Block)) -> Option<Vec2> {
    match *objection {
        SiteObjection::ClosedGround { at } => Some(at),
        SiteObjection::Overlaps { building } => {
            let other = world.unit(building)?.block()?;
            Some((other.centre + block.centre) * 0.5)
        }
        SiteObjection::InTheWay { unit } => Some(world.unit(unit)?.position()),
        _ => None,
    }
}

/// A cross over a closed cell, a ring round a unit in the way.
fn draw_mark(sheet: &mut Sheet, frame: &Frame, world: &World, objection: &SiteObjection) {
    match *objection {
        SiteObjection::ClosedGround { at } => {
            let half = Vec2::splat(world.ground().cell_m() * 0.5);
            draw_obstacle(sheet, frame.rect(Rect::from_corners(at - half, at + half)));
        }
        SiteObjection::InTheWay { unit } => {
            if let Some(unit) = world.unit(unit) {
                let radius = unit.radius() * frame.scale + 3.0;
                let ring = Path::circle(frame.point(unit.position()), radius);
                sheet.stroke(ring, Line::new(palette::INK, 1.6));
            }
        }
        _ => {}
    }
}

/// The name of an objection, with those of what it is about.
fn name_of(objection: &SiteObjection, world: &World) -> String {
    match *objection {
        SiteObjection::OffTheMap => "off the map".to_owned(),
        SiteObjection::ClosedGround { .. } => "closed ground".to_owned(),
        SiteObjection::Overlaps { building } => format!("overlaps {}", name(world, building)),
        SiteObjection::InTheWay { unit } => format!("{} in the way", name(world, unit)),
        SiteObjection::NotAffordable(missing) => {
            let resources = world.resources();
            let resource = resources.get(usize::from(missing.resource.0));
            let resource = resource.map_or("?", String::as_str);
            format!("{} {resource} missing", missing.amount)
        }
        SiteObjection::ClosesWay { entry, goal } => {
            let entry = world.entries().get(usize::from(entry));
            let goal = world.goals().get(usize::from(goal));
            let [entry, goal] = [entry.map(|entry| &entry.name), goal.map(|goal| &goal.name)];
            let [entry, goal] = [entry, goal].map(|name| name.map_or("?", String::as_str));
            format!("closes the last way from {entry} to {goal}")
        }
        // A verdict may grow: its own words are enough then.
        ref other => other.to_string(),
    }
}

fn name(world: &World, unit: yarrick::UnitId) -> &str {
    world.unit(unit).map_or("?", |unit| &unit.kind().name)
}

/// Texts that keep out of one another's way.
#[derive(Default)]
struct Labels {
    texts: Vec<(Vec2, String)>,
}

impl Labels {
    /// Asks for a text with its middle at a point.
    fn add(&mut self, at: Vec2, text: String) {
        self.texts.push((at, text));
    }

    /// Writes all texts, each as near to its point as the others leave room, and within an area.
    fn draw(self, sheet: &mut Sheet, area: Rect) {
        let mut taken: Vec<Rect> = Vec::new();
        for (wanted, text) in self.texts {
            let half = Vec2::new(font::width(&text, Face::Bold, LABEL_PX) * 0.5 + 3.0, 9.0);
            let inside =
                |at: Vec2| at.clamp(area.min + half, (area.max - half).max(area.min + half));
            let is_free = |at: Vec2| {
                let own = Rect::from_corners(at - half, at + half);
                taken.iter().all(|other| !overlap(&own, other))
            };
            let rows =
                (0..24_i16).map(|k| f32::from((k + 1) / 2 * if k % 2 == 0 { 1 } else { -1 }));
            let mut places = rows.map(|row| inside(wanted + Vec2::new(0.0, row * half.y * 2.0)));
            let at = places.find(|at| is_free(*at)).unwrap_or(inside(wanted));
            if at.distance(wanted) > half.y * 3.0 {
                sheet.stroke(Path::polyline([wanted, at]), Line::new(palette::INK, 1.0));
            }
            taken.push(Rect::from_corners(at - half, at + half));
            let text = Text {
                face: Face::Bold,
                px: LABEL_PX,
                halo: Some(palette::PAPER),
                ..small(at + Vec2::new(0.0, 4.5), text, palette::INK)
            };
            sheet.text(text, Anchor::Middle);
        }
    }
}

fn overlap(a: &Rect, b: &Rect) -> bool {
    a.min.cmplt(b.max).all() && b.min.cmplt(a.max).all()
}

/// The signs of plans: which are in the picture, and how they are drawn.
pub(crate) fn signs(world: &World, hands: &[Hand]) -> Vec<Sign> {
    let planning = || hands.iter().filter(|hand| hand.site_plan(world).is_some());
    let stands = |hand: &&Hand| hand.plan_verdict(world).is_empty();
    fn corners(at: Vec2) -> [Vec2; 4] {
        let half = Vec2::new(11.0, 7.0);
        let (min, max) = (at - half, at + half);
        [max, Vec2::new(min.x, max.y), min, Vec2::new(max.x, min.y)]
    }
    vec![
        (
            planning().any(|hand| stands(&hand)),
            "site plan: may be built",
            |sheet, at| {
                draw_outline(sheet, corners(at), (hue(), true));
            },
        ),
        (
            planning().any(|hand| !stands(&hand)),
            "site plan: refused",
            |sheet, at| {
                draw_outline(sheet, corners(at), (hue(), false));
            },
        ),
    ]
}
