//! Orders: the way still to walk, the place at its end, and the point that was asked for.

use crate::font::Face;
use crate::palette;
use crate::scene::Frame;
use crate::sheet::{Anchor, Colour, Line, Path, Sheet, Text};
use yarrick::Vec2;
use yarrick::world::{OrderNo, Task, World};

/// A point that some units were sent to.
struct Goal {
    order: OrderNo,
    at: Vec2,
    side: u8,
    /// Whether the units will come to stand short of it.
    short: bool,
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
        for (k, order) in unit.orders().iter().enumerate() {
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

/// Draws the points asked for, with the numbers of their orders, above the units.
pub(crate) fn draw_goals(sheet: &mut Sheet, frame: &Frame, world: &World) {
    for goal in goals(world) {
        let at = frame.point(goal.at);
        draw_goal(sheet, at, palette::side(goal.side), goal.short);
        let short = if goal.short { ", out of reach" } else { "" };
        let text = Text {
            at: at + Vec2::new(11.0, -7.0),
            text: format!("order {}{short}", goal.order.0),
            face: Face::Bold,
            px: 13.0,
            colour: palette::INK,
            halo: Some(palette::PAPER),
        };
        sheet.text(text, Anchor::Left);
    }
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

/// The points of all orders under way or queued, each order once.
fn goals(world: &World) -> Vec<Goal> {
    let mut goals: Vec<Goal> = Vec::new();
    for unit in world.units() {
        for order in unit.orders() {
            let Task::Move { goal, place } = order.task else {
                continue;
            };
            let short = place.map_or(true, |place| place.short.is_some());
            match goals.iter_mut().find(|known| known.order == order.number) {
                Some(known) => known.short |= short,
                None => goals.push(Goal {
                    order: order.number,
                    at: goal,
                    side: unit.side_id().0,
                    short,
                }),
            }
        }
    }
    goals.sort_by_key(|goal| goal.order);
    goals
}

/// What of all this is in the picture, for the legend.
pub(crate) struct OrdersShown {
    pub(crate) ways: bool,
    pub(crate) queued: bool,
    pub(crate) places: bool,
    pub(crate) goals: bool,
    pub(crate) short_goals: bool,
}

pub(crate) fn shown(world: &World) -> OrdersShown {
    let goals = goals(world);
    let placed = |unit: &yarrick::world::UnitView<'_>| {
        unit.orders()
            .iter()
            .filter(|order| order.place().is_some())
            .count()
    };
    OrdersShown {
        ways: world.units().any(|unit| !unit.way_ahead().is_empty()),
        queued: world.units().any(|unit| placed(&unit) > 1),
        places: world.units().any(|unit| placed(&unit) > 0),
        goals: goals.iter().any(|goal| !goal.short),
        short_goals: goals.iter().any(|goal| goal.short),
    }
}
