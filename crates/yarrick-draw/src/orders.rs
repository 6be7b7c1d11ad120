//! Orders: the way still to walk, the place at its end, and the point that was asked for.

use crate::font::{self, Face};
use crate::frame::Frame;
use crate::legend::{Sign, ends, hue};
use crate::palette;
use crate::path::Path;
use crate::sheet::{Anchor, Colour, Line, Sheet, Text};
use yarrick::world::{Destination, OrderNo, OrderView, World};
use yarrick::{Rect, Vec2};

/// A point that some units were sent to.
struct Goal {
    order: OrderNo,
    at: Vec2,
    side: u8,
    /// Whether the units will come to stand short of it.
    short: bool,
    /// What the units do there, if it is more than to go there.
    what: &'static str,
    /// Whether it is the first point of its order, which carries the number.
    leads: bool,
}

/// Draws all ways and places under the units.
pub(crate) fn draw_ways(sheet: &mut Sheet, frame: &Frame, world: &World) {
    for unit in world.units() {
        let hue = palette::side(unit.side_id().0);
        let ahead = unit.way_ahead();
        if !ahead.is_empty() {
            let way = core::iter::once(&unit.position())
                .chain(ahead)
                .copied()
                .collect::<Vec<_>>();
            let way = Path::polyline(way.iter().map(|point| frame.point(*point)));
            sheet.stroke(way, way_line(hue));
        }
        let mut from = ahead.last().copied().unwrap_or(unit.position());
        for (k, order) in unit.orders().enumerate() {
            draw_patrol_leg(sheet, frame, &order, hue);
            let Some(place) = order.place() else {
                continue;
            };
            if k > 0 {
                let leg = Path::polyline([frame.point(from), frame.point(place.at)]);
                sheet.stroke(leg, queued_line(hue));
            }
            draw_place(sheet, frame.point(place.at), hue);
            from = place.at;
        }
    }
}

/// Draws the legs of a patrol from post to post.
fn draw_patrol_leg(sheet: &mut Sheet, frame: &Frame, order: &OrderView<'_>, hue: Colour) {
    let Some(route) = order.patrol() else {
        return;
    };
    let posts = route.posts.iter().filter_map(|post| post.place.ok());
    let mut points: Vec<Vec2> = posts.map(|place| frame.point(place.at)).collect();
    if route.round {
        points.extend(points.first().copied());
    }
    sheet.stroke(Path::polyline(points), patrol_line(hue));
}

pub(crate) fn patrol_line(hue: Colour) -> Line {
    Line::new(hue.at(0.6), 1.6).dashed(9.0, 5.0)
}

/// The boxes of the pennants at the points asked for.
pub(crate) fn goal_boxes(frame: &Frame, world: &World) -> Vec<Rect> {
    let goals = goals(world).into_iter();
    goals
        .map(|goal| pennant_box(frame.point(goal.at)))
        .collect()
}

fn pennant_box(at: Vec2) -> Rect {
    Rect::from_corners(at + Vec2::new(-14.0, -21.0), at + Vec2::new(4.0, 4.0))
}

/// Draws the points asked for, with the numbers of their orders, above the units; what is written already lies in
/// `labels`.
pub(crate) fn draw_goals(sheet: &mut Sheet, frame: &Frame, world: &World, labels: &[Rect]) {
    let goals = goals(world);
    let mut taken = taken_boxes(frame, world);
    taken.extend_from_slice(labels);
    for goal in &goals {
        let at = frame.point(goal.at);
        taken.push(pennant_box(at));
    }
    for goal in &goals {
        let at = frame.point(goal.at);
        draw_goal(sheet, at, palette::side(goal.side), goal.short);
        if !goal.leads {
            continue;
        }
        let short = if goal.short { ", out of reach" } else { "" };
        let label = format!("{}order {}{short}", goal.what, goal.order.0);
        let place = free_place(frame, &taken, at, font::width(&label, Face::Bold, LABEL_PX));
        taken.push(place);
        let text = Text {
            at: Vec2::new(place.min.x, place.max.y - 4.0),
            text: label,
            face: Face::Bold,
            px: LABEL_PX,
            colour: palette::INK,
            halo: Some(palette::PAPER),
        };
        sheet.text(text, Anchor::Left);
    }
}

const LABEL_PX: f32 = 13.0;

/// The boxes on the sheet that a label should not cover: units, and the places they go to.
fn taken_boxes(frame: &Frame, world: &World) -> Vec<Rect> {
    let mut taken = Vec::new();
    for unit in world.units() {
        let reach = unit.radius() * frame.scale;
        taken.push(Rect::around(frame.point(unit.position()), reach));
        let places = unit.orders().filter_map(|order| order.place());
        taken.extend(places.map(|place| Rect::around(frame.point(place.at), 4.0)));
    }
    taken
}

/// The box of a label `width` pixels wide near a goal: beside it, above, below, or farther out,
/// wherever it covers least.
fn free_place(frame: &Frame, taken: &[Rect], goal: Vec2, width: f32) -> Rect {
    let height = LABEL_PX + 4.0;
    let mut places = Vec::new();
    for out in [0.0, 12.0, 26.0, 44.0] {
        for corner in [
            Vec2::new(11.0 + out, -16.0),
            Vec2::new(-width - 18.0 - out, -16.0),
            Vec2::new(-width * 0.5, -42.0 - out),
            Vec2::new(-width * 0.5, 8.0 + out),
        ] {
            let min = goal + corner;
            let max = min + Vec2::new(width, height);
            places.push(Rect { min, max });
        }
    }
    let cost = |place: &Rect| {
        let off_map = !(frame.area.contains(place.min) && frame.area.contains(place.max));
        let covered = taken.iter().filter(|other| overlap(place, other)).count();
        covered + if off_map { 1000 } else { 0 }
    };
    // The first of the best: those tried first are nearest.
    let best = places.iter().min_by_key(|place| cost(place));
    best.copied().unwrap_or(Rect::around(goal, 0.0))
}

fn overlap(a: &Rect, b: &Rect) -> bool {
    a.min.cmplt(b.max).all() && b.min.cmplt(a.max).all()
}

pub(crate) fn way_line(hue: Colour) -> Line {
    Line::new(hue.at(0.55), 1.2)
}

pub(crate) fn queued_line(hue: Colour) -> Line {
    Line::new(hue.at(0.45), 1.1).dashed(2.0, 4.0)
}

/// A small cross where a unit will stand.
pub(crate) fn draw_place(sheet: &mut Sheet, at: Vec2, hue: Colour) {
    let mut cross = Path::default();
    let arm = Vec2::new(3.2, 3.2);
    cross.add_segment(at - arm, at + arm);
    cross.add_segment(at - arm.perp(), at + arm.perp());
    sheet.stroke(cross, Line::new(hue, 1.4));
}

/// A pennant at a point that was asked for; struck through where it cannot be reached.
pub(crate) fn draw_goal(sheet: &mut Sheet, at: Vec2, hue: Colour, short: bool) {
    let top = at - Vec2::new(0.0, 20.0);
    let pole = Path::polyline([at, top]);
    let pennant = Path::polygon([top, top + Vec2::new(-13.0, 4.5), top + Vec2::new(0.0, 9.0)]);
    sheet.stroke(pole.clone(), Line::new(palette::PAPER, 4.5));
    sheet.stroke(pennant.clone(), Line::new(palette::PAPER, 3.0));
    sheet.stroke(pole, Line::new(palette::INK, 1.8));
    sheet.fill(pennant.clone(), hue);
    sheet.stroke(pennant, Line::new(palette::INK, 1.0));
    let foot = Path::circle(at, 3.0);
    sheet.fill(
        foot.clone(),
        if short { palette::PAPER } else { palette::INK },
    );
    sheet.stroke(foot, Line::new(palette::INK, 1.4));
    if short {
        let bar = Vec2::new(7.0, 0.0);
        sheet.stroke(
            Path::polyline([at - bar, at + bar]),
            Line::new(palette::INK, 1.8),
        );
    }
}

/// The points that a unit was sent to with an order, where a patrol began not among them.
fn destinations(order: &OrderView<'_>) -> Vec<Destination> {
    match order.patrol() {
        Some(route) => route.posts[1..].to_vec(),
        None => order.destination().into_iter().collect(),
    }
}

fn what(order: &OrderView<'_>) -> &'static str {
    match order.word() {
        "patrol" => "patrol, ",
        "attack-move" => "attack-move, ",
        "guard" => "guard, ",
        _ => "",
    }
}

/// The points of all orders under way or queued, each order once.
fn goals(world: &World) -> Vec<Goal> {
    let mut goals: Vec<Goal> = Vec::new();
    for unit in world.units() {
        for order in unit.orders() {
            for (k, destination) in destinations(&order).iter().enumerate() {
                let short = destination
                    .place
                    .map_or(true, |place| place.short.is_some());
                let same = |known: &&mut Goal| {
                    known.order == order.number() && known.at == destination.goal
                };
                match goals.iter_mut().find(same) {
                    Some(known) => known.short |= short,
                    None => goals.push(Goal {
                        order: order.number(),
                        at: destination.goal,
                        side: unit.side_id().0,
                        short,
                        what: what(&order),
                        leads: k == 0,
                    }),
                }
            }
        }
    }
    goals.sort_by_key(|goal| goal.order);
    goals
}

fn is_patrol(order: &OrderView<'_>) -> bool {
    order.patrol().is_some()
}

/// What of all this is in the picture, for the legend.
pub(crate) struct OrdersShown {
    pub(crate) ways: bool,
    pub(crate) queued: bool,
    pub(crate) patrols: bool,
    pub(crate) places: bool,
    pub(crate) goals: bool,
    pub(crate) short_goals: bool,
}

pub(crate) fn shown(world: &World) -> OrdersShown {
    let goals = goals(world);
    let placed = |unit: &yarrick::world::UnitView<'_>| {
        unit.orders()
            .filter(|order| order.place().is_some())
            .count()
    };
    OrdersShown {
        ways: world.units().any(|unit| !unit.way_ahead().is_empty()),
        queued: world.units().any(|unit| placed(&unit) > 1),
        patrols: world
            .units()
            .any(|unit| unit.orders().any(|order| is_patrol(&order))),
        places: world.units().any(|unit| placed(&unit) > 0),
        goals: goals.iter().any(|goal| !goal.short),
        short_goals: goals.iter().any(|goal| goal.short),
    }
}

/// The signs of orders: which are in the picture, and how they are drawn.
pub(crate) fn signs(world: &World) -> Vec<Sign> {
    let shown = shown(world);
    vec![
        (shown.ways, "way still to walk", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), way_line(hue()));
        }),
        (shown.queued, "queued: goes there next", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), queued_line(hue()));
        }),
        (shown.patrols, "leg of a patrol", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), patrol_line(hue()));
        }),
        (shown.places, "where a unit will stand", |sheet, at| {
            draw_place(sheet, at, hue());
        }),
        (shown.goals, "where it was sent", |sheet, at| {
            draw_goal(sheet, at + Vec2::new(4.0, 9.0), hue(), false);
        }),
        (
            shown.short_goals,
            "sent there, out of reach",
            |sheet, at| draw_goal(sheet, at + Vec2::new(4.0, 9.0), hue(), true),
        ),
    ]
}
