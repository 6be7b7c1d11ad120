//! The layout of a picture: the map with its rulers, and beside it what it shows.

use crate::frame::{Frame, PANEL_PX, Size, TOP_PX};
use crate::legend::{self, Column};
use crate::motions::{self, Motions};
use crate::overlay::{self, Overlay};
use crate::path::Path;
use crate::sheet::{Anchor, Line, Sheet, small};
use crate::traced::{self, Traced};
use crate::{flocks, font, ground, marches, orders, palette, plans, ties, units, work};
use yarrick::select::Selection;
use yarrick::world::{Doing, Hand, World};
use yarrick::{Rect, Vec2};

/// What a picture shows.
#[derive(Clone, Copy, Debug)]
pub struct Scene<'a> {
    /// The title of the scenario.
    pub title: &'a str,
    /// The world, as it is now.
    pub world: &'a World,
    /// The players' hands: their selections and boxes are drawn.
    pub hands: &'a [Hand],
    /// A way that was looked for.
    pub traced: Option<Traced<'a>>,
    /// What is drawn over the ground, below all else.
    pub overlay: Option<Overlay<'a>>,
    /// How those in it move, and what makes them.
    pub motions: Motions<'a>,
}

impl<'a> Scene<'a> {
    /// A picture of a world, with nothing else.
    #[must_use]
    pub fn of(title: &'a str, world: &'a World) -> Scene<'a> {
        Scene {
            title,
            world,
            hands: &[],
            traced: None,
            overlay: None,
            motions: Motions::default(),
        }
    }
}

impl Scene<'_> {
    /// Lays the picture out. The same scene gives the same sheet.
    #[must_use]
    pub fn draw(&self, size: Size) -> Sheet {
        let title = format!("{}, {:.1} s", self.title, self.world.time_s());
        let mut sheet = Sheet::new(size.width, size.height, &title);
        let whole = Rect {
            min: Vec2::ZERO,
            max: Vec2::new(size.width as f32, size.height as f32),
        };
        sheet.fill(Path::rect(whole), palette::PAPER);
        let frame = Frame::new(self.world, size);
        let shown = ground::terrains_shown(self.world.ground());
        let mut selected = Selection::default();
        for hand in self.hands {
            selected.add(hand.selection().ids().iter().copied());
        }
        sheet.clipped(frame.area, |sheet| {
            self.draw_below(sheet, &frame, (&shown, &selected));
            self.draw_above(sheet, &frame);
        });
        draw_rulers(&mut sheet, &frame, self.world);
        let has_selected = self.world.units().any(|unit| selected.contains(unit.id()));
        let corner = Vec2::new(size.width as f32 - PANEL_PX + 24.0, TOP_PX);
        legend::draw(
            &mut sheet,
            corner,
            |column| self.head(column),
            |column| self.explain(column, &shown, has_selected),
        );
        sheet
    }
}

impl Scene<'_> {
    /// The ground, and all that is on it, from the bottom up.
    fn draw_below(
        &self,
        sheet: &mut Sheet,
        frame: &Frame,
        (shown, selected): (&[ground::Shown], &Selection<yarrick::UnitId>),
    ) {
        ground::draw(sheet, frame, self.world.ground(), shown);
        if let Some(overlay) = &self.overlay {
            overlay::draw(sheet, frame, self.world.ground(), overlay);
        }
        if let Some(traced) = &self.traced {
            traced::draw(sheet, frame, self.world, traced);
        }
        work::draw_areas(sheet, frame, self.world, selected);
        flocks::draw_zones(sheet, frame, self.world);
        marches::draw(sheet, frame, self.world);
        orders::draw_ways(sheet, frame, self.world);
        ties::draw(sheet, frame, self.world);
        units::draw(sheet, frame, self.world, selected);
        work::draw(sheet, frame, self.world);
        flocks::draw_members(sheet, frame, self.world);
        motions::draw(sheet, frame, self.world, &self.motions);
        ties::draw_fights(sheet, frame, self.world);
    }

    /// What must be readable over everything else: labels, goals, boxes that are being drawn.
    fn draw_above(&self, sheet: &mut Sheet, frame: &Frame) {
        let mut taken = orders::goal_boxes(frame, self.world);
        taken.extend(motions::force_boxes(frame, self.world, &self.motions));
        let labels = flocks::draw_labels(sheet, frame, self.world, taken);
        orders::draw_goals(sheet, frame, self.world, &labels);
        if let Some(Overlay::Field { field, clearance }) = &self.overlay {
            for cell in field.goals(clearance) {
                let at = frame.point(self.world.ground().centre(cell));
                orders::draw_goal(sheet, at, palette::traced(), false);
            }
        }
        if let Some(traced) = &self.traced {
            let short = traced.route.short.is_some();
            orders::draw_goal(sheet, frame.point(traced.goal), palette::traced(), short);
        }
        plans::draw(sheet, frame, self.world, self.hands);
        for outline in self
            .hands
            .iter()
            .filter_map(|hand| self.box_outline(frame, hand))
        {
            sheet.fill(outline.clone(), palette::INK.at(0.08));
            sheet.stroke(outline, box_line());
        }
    }
}

impl Scene<'_> {
    /// What the picture shows, and when.
    fn head(&self, column: &mut Column<'_>) {
        let world = self.world;
        let count = |doing| {
            let units = world.units().filter(|unit| unit.doing() == doing);
            units.count()
        };
        let (standing, striking) = (count(Doing::Standing), count(Doing::Striking));
        let going = world.units().len() - standing - striking;
        let strike = match striking {
            0 => String::new(),
            some => format!(", {some} striking"),
        };
        let when = format!(
            "{:.2} s, tick {}, seed {}",
            world.time_s(),
            world.tick(),
            world.seed()
        );
        let doing = format!("{standing} standing, {going} on the way{strike}");
        let mut lines = vec![when, doing];
        lines.extend(work::status(world));
        column.head(self.title, &lines);
    }

    /// The rows of the legend, layer by layer.
    fn explain(&self, column: &mut Column<'_>, terrains: &[ground::Shown], has_selected: bool) {
        let world = self.world;
        units::explain(column, world);
        flocks::explain(column, world);
        let mut hands = self.hands.iter();
        let dragging = hands.any(|hand| hand.current_box().is_some());
        let mut signs = units::signs(world, has_selected);
        signs.push((dragging, "box being dragged", |sheet, at| {
            let half = Vec2::new(12.0, 7.0);
            let rect = Rect::from_corners(at - half, at + half);
            sheet.stroke(Path::rect(rect), box_line());
        }));
        signs.extend(plans::signs(world, self.hands));
        signs.extend(orders::signs(world));
        signs.extend(work::signs(
            world,
            has_selected && world.units().any(|unit| unit.kind().weapon.is_some()),
        ));
        signs.extend(ties::signs(world));
        if signs.iter().any(|(shown, ..)| *shown) {
            column.heading("selection and orders");
            column.signs(signs);
            marches::explain(column, world);
        }
        motions::explain(column, world, &self.motions);
        if let Some(traced) = &self.traced {
            traced::explain(column, traced);
        }
        if let Some(overlay) = &self.overlay {
            overlay::explain(column, world.ground(), overlay);
        }
        ground::explain(column, world, terrains);
    }

    /// The box that a hand is dragging, as it lies on the ground; `None` where it is dragging
    /// none, or a corner of it shows no ground.
    fn box_outline(&self, frame: &Frame, hand: &Hand) -> Option<Path> {
        let Rect { min, max } = hand.current_box()?;
        let corners = [min, Vec2::new(max.x, min.y), max, Vec2::new(min.x, max.y)];
        let on_ground = corners.map(|corner| self.world.ground_under(hand.camera(), corner));
        let points: Option<Vec<Vec2>> = on_ground.into_iter().collect();
        Some(Path::polygon(
            points?.into_iter().map(|point| frame.point(point)),
        ))
    }
}

/// The line of a box being dragged.
fn box_line() -> Line {
    Line::new(palette::INK, 1.4).dashed(7.0, 4.0)
}

/// Metres along the lower and the left edge, so that points can be read off, and a scale bar.
fn draw_rulers(sheet: &mut Sheet, frame: &Frame, world: &World) {
    let area = frame.area;
    sheet.stroke(Path::rect(area), Line::new(palette::INK, 1.0));
    let size = world.ground().bounds().max;
    let step = ruler_step(frame.scale);
    let mut ticks = Path::default();
    let marks = |length: f32| {
        (0..)
            .map(move |k| k as f32 * step)
            .take_while(move |m| *m <= length)
    };
    for metres in marks(size.x) {
        let foot = frame.point(Vec2::new(metres, 0.0));
        ticks.add_segment(foot, foot + Vec2::new(0.0, 5.0));
        let at = foot + Vec2::new(0.0, 19.0);
        sheet.text(
            small(at, format!("{metres}"), palette::FAINT_INK),
            Anchor::Middle,
        );
    }
    for metres in marks(size.y) {
        let foot = frame.point(Vec2::new(0.0, metres));
        ticks.add_segment(foot, foot - Vec2::new(5.0, 0.0));
        let at = foot + Vec2::new(-9.0, 4.5);
        sheet.text(
            small(at, format!("{metres}"), palette::FAINT_INK),
            Anchor::Right,
        );
    }
    sheet.stroke(ticks, Line::new(palette::INK, 1.0));
    draw_scale_bar(sheet, frame, step);
}

fn draw_scale_bar(sheet: &mut Sheet, frame: &Frame, step: f32) {
    let left = Vec2::new(frame.area.min.x, frame.area.max.y + 40.0);
    let right = left + Vec2::new(step * frame.scale, 0.0);
    let mut bar = Path::polyline([left, right]);
    for end in [left, right] {
        bar.add_segment(end - Vec2::new(0.0, 5.0), end + Vec2::new(0.0, 5.0));
    }
    sheet.stroke(bar, Line::new(palette::INK, 2.0));
    let at = right + Vec2::new(10.0, 4.5);
    let mut text = small(at, format!("{step} m"), palette::INK);
    let note = format!("{}; rulers in metres, x to the right and y up", text.text);
    // On a small sheet the legend needs the room.
    if at.x + font::width(&note, text.face, text.px) <= sheet.width as f32 - PANEL_PX {
        text.text = note;
    }
    sheet.text(text, Anchor::Left);
}

/// A round number of metres that takes 70 pixels or more.
fn ruler_step(scale: f32) -> f32 {
    [
        1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0, 2000.0,
    ]
    .into_iter()
    .find(|step| step * scale >= 70.0)
    .unwrap_or(5000.0)
}
