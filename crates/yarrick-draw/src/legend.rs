//! Beside the map: what it shows, when, and what each sign in it means. Nothing else.

use crate::font::{self, Face};
use crate::ground::Shown;
use crate::scene::{Scene, box_line, small};
use crate::sheet::{Anchor, Line, Path, Sheet, Text};
use crate::{contour, ground, orders, palette, ties, units};
use yarrick::world::{Doing, Hand};
use yarrick::{Rect, Vec2};

const ROW_PX: f32 = 25.0;
const TEXT_PX: f32 = 40.0;
const WIDTH_PX: f32 = 244.0;

/// The lines of the legend, from the top down.
struct Column<'a> {
    sheet: &'a mut Sheet,
    /// The middle of the next sign.
    at: Vec2,
    /// Below this there is no room for more.
    bottom: f32,
}

impl Column<'_> {
    fn heading(&mut self, text: &str) {
        self.at.y += 14.0;
        let at = self.at + Vec2::new(0.0, 2.0);
        let text = Text {
            face: Face::Bold,
            ..small(at, text, palette::INK)
        };
        self.sheet.text(text, Anchor::Left);
        self.at.y += ROW_PX - 2.0;
    }

    /// One sign and what it means. `draw` puts the sign round its point.
    fn row(&mut self, text: &str, draw: impl FnOnce(&mut Sheet, Vec2)) {
        if self.at.y > self.bottom {
            return;
        }
        draw(self.sheet, self.at + Vec2::new(14.0, 0.0));
        self.note(text);
    }

    fn note(&mut self, text: &str) {
        let at = self.at + Vec2::new(TEXT_PX, 4.5);
        let text = shortened(text, Face::Regular, 13.0, WIDTH_PX - TEXT_PX);
        self.sheet.text(small(at, text, palette::INK), Anchor::Left);
        self.at.y += ROW_PX;
    }
}

pub(crate) fn draw(
    sheet: &mut Sheet,
    corner: Vec2,
    scene: &Scene<'_>,
    terrains: &[Shown],
    has_selected: bool,
) {
    let bottom = sheet.height as f32 - 24.0;
    let mut column = Column {
        sheet,
        at: corner,
        bottom,
    };
    draw_head(&mut column, scene);
    draw_units(&mut column, scene);
    draw_signs(&mut column, scene, has_selected);
    draw_ground(&mut column, scene, terrains);
}

fn draw_head(column: &mut Column<'_>, scene: &Scene<'_>) {
    let world = scene.world;
    for line in wrapped(scene.title, Face::Bold, 20.0, WIDTH_PX) {
        let text = Text {
            at: column.at + Vec2::new(0.0, 16.0),
            face: Face::Bold,
            px: 20.0,
            ..small(Vec2::ZERO, line, palette::INK)
        };
        column.sheet.text(text, Anchor::Left);
        column.at.y += 26.0;
    }
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
    for line in [
        format!(
            "{:.2} s, tick {}, seed {}",
            world.time_s(),
            world.tick(),
            world.seed()
        ),
        format!("{standing} standing, {going} on the way{strike}"),
    ] {
        let at = column.at + Vec2::new(0.0, 14.0);
        column
            .sheet
            .text(small(at, line, palette::FAINT_INK), Anchor::Left);
        column.at.y += 20.0;
    }
    column.at.y += 10.0;
    let rule = [column.at, column.at + Vec2::new(WIDTH_PX, 0.0)];
    column
        .sheet
        .stroke(Path::polyline(rule), Line::new(palette::RULE, 1.0));
    column.at.y += 8.0;
}

fn draw_units(column: &mut Column<'_>, scene: &Scene<'_>) {
    let world = scene.world;
    for (number, side) in world.sides().iter().enumerate() {
        let number = number as u8;
        let of_side = || world.units().filter(move |unit| unit.side_id().0 == number);
        if of_side().count() == 0 {
            continue;
        }
        column.heading(&shortened(&side.name, Face::Bold, 13.0, WIDTH_PX));
        for (at, kind) in world.kinds().iter().enumerate() {
            let count = of_side()
                .filter(|unit| usize::from(unit.kind_id().0) == at)
                .count();
            if count > 0 {
                column.row(&format!("{} {}", count, kind.name), |sheet, at| {
                    units::draw_body(sheet, at, 9.0, 0.0, number);
                    units::draw_letter(sheet, at, kind.glyph);
                });
            }
        }
    }
}

fn draw_signs(column: &mut Column<'_>, scene: &Scene<'_>, has_selected: bool) {
    let hue = palette::side(0);
    let shown = orders::shown(scene.world);
    let dragging = scene
        .hands
        .iter()
        .any(|hand: &Hand| hand.current_box().is_some());
    let ties = ties::shown(scene.world);
    let firm = scene.world.units().any(|unit| units::stands_firm(&unit));
    let harmed = scene.world.units().any(|unit| units::is_harmed(&unit));
    let orders = shown.places || shown.goals || shown.short_goals;
    let tied = ties.fights || ties.company || ties.rallies;
    if !(has_selected || dragging || orders || tied || firm || harmed) {
        return;
    }
    column.heading("selection and orders");
    if has_selected {
        column.row("selected", |sheet, at| {
            sheet.stroke(Path::circle(at, 9.0), units::selection_line());
        });
    }
    if dragging {
        column.row("box being dragged", |sheet, at| {
            let rect = Rect::from_corners(at - Vec2::new(12.0, 8.0), at + Vec2::new(12.0, 8.0));
            sheet.stroke(Path::rect(rect), box_line());
        });
    }
    let ends = |at: Vec2| [at - Vec2::new(14.0, 0.0), at + Vec2::new(14.0, 0.0)];
    if shown.ways {
        column.row("way still to walk", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), orders::way_line(hue));
        });
    }
    if shown.queued {
        column.row("queued: goes there next", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), orders::queued_line(hue));
        });
    }
    if shown.patrols {
        column.row("leg of a patrol", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), orders::patrol_line(hue));
        });
    }
    if ties.fights {
        column.row("goes for it, or strikes it", |sheet, at| {
            let [from, to] = ends(at);
            ties::draw_fight(sheet, from, to, hue);
        });
    }
    if ties.company {
        column.row("keeps near it, or goes to it", |sheet, at| {
            let [from, to] = ends(at);
            ties::draw_company(sheet, from, to, hue);
        });
    }
    if ties.rallies {
        column.row("rally point", |sheet, at| {
            let [from, to] = ends(at);
            ties::draw_rally(sheet, from, to - Vec2::new(4.0, 0.0), hue);
        });
    }
    if firm {
        column.row("holds its ground", |sheet, at| {
            units::draw_footing(sheet, at - Vec2::new(0.0, 9.0), 9.0);
        });
    }
    if harmed {
        column.row("health that is left", |sheet, at| {
            units::draw_health(sheet, at + Vec2::new(0.0, 17.0), 10.0, 0.6);
        });
    }
    if shown.places {
        column.row("where a unit will stand", |sheet, at| {
            orders::draw_place(sheet, at, hue);
        });
    }
    if shown.goals {
        column.row("where it was sent", |sheet, at| {
            orders::draw_goal(sheet, at + Vec2::new(4.0, 9.0), hue, false);
        });
    }
    if shown.short_goals {
        column.row("sent there, out of reach", |sheet, at| {
            orders::draw_goal(sheet, at + Vec2::new(4.0, 9.0), hue, true);
        });
    }
}

fn draw_ground(column: &mut Column<'_>, scene: &Scene<'_>, terrains: &[Shown]) {
    let map = scene.world.ground();
    column.heading("ground");
    for shown in terrains {
        let terrain = &map.terrains()[shown.class];
        let how = match (terrain.passable, terrain.blocks_sight) {
            (false, true) => "closed, blocks sight".to_owned(),
            (false, false) => "closed".to_owned(),
            (true, sight) => {
                let sight = if sight { ", blocks sight" } else { "" };
                format!("speed ×{}{sight}", terrain.speed)
            }
        };
        column.row(&format!("{}: {how}", terrain.name), |sheet, at| {
            let (fill, pattern) = palette::ground(shown.look, shown.nth);
            let half = Vec2::new(18.0, 9.0);
            let swatch = Rect::from_corners(at - half, at + half);
            sheet.fill(Path::rect(swatch), fill);
            let motifs = [-9.0, 9.0].map(|x| Rect::around(at + Vec2::new(x, 0.0), 9.0));
            ground::draw_motifs(sheet, shown.look, pattern, &motifs);
            sheet.stroke(Path::rect(swatch), Line::new(palette::FAINT_INK, 0.8));
        });
    }
    if let Some(step) = contour::interval(map) {
        column.row(&format!("height, a line every {step} m"), |sheet, at| {
            let points = [(-16.0, 5.0), (-6.0, -3.0), (5.0, 3.0), (16.0, -5.0)];
            let line = points.map(|(x, y)| at + Vec2::new(x, y));
            sheet.stroke(Path::polyline(line), Line::new(palette::CONTOUR, 1.0));
        });
    }
}

/// The text, cut with an ellipsis where it is wider than `most` pixels.
fn shortened(text: &str, face: Face, px: f32, most: f32) -> String {
    if font::width(text, face, px) <= most {
        return text.to_owned();
    }
    let mut kept: String = text.to_owned();
    while kept.pop().is_some() && font::width(&format!("{kept}…"), face, px) > most {}
    format!("{kept}…")
}

/// The text in lines of at most `most` pixels, two at the most.
fn wrapped(text: &str, face: Face, px: f32, most: f32) -> Vec<String> {
    let mut first = String::new();
    let mut words = text.split_whitespace().peekable();
    while let Some(word) = words.peek() {
        let longer = if first.is_empty() {
            (*word).to_owned()
        } else {
            format!("{first} {word}")
        };
        if !first.is_empty() && font::width(&longer, face, px) > most {
            break;
        }
        first = longer;
        words.next();
    }
    let rest = words.collect::<Vec<_>>().join(" ");
    [first, rest]
        .into_iter()
        .filter(|line| !line.is_empty())
        .map(|line| shortened(&line, face, px, most))
        .collect()
}
