//! Beside the map: what it shows, when, and what each sign in it means. Nothing else.

use crate::font::{self, Face};
use crate::ground::Shown;
use crate::overlay::{self, Overlay};
use crate::scene::{Scene, box_line, small};
use crate::sheet::{Anchor, Colour, Line, Path, Sheet, Text};
use crate::{contour, flocks, ground, marches, motions, orders, palette, ties, traced, units};
use yarrick::geom::Block;
use yarrick::ground::Passage;
use yarrick::route::Waypoints;
use yarrick::world::{Doing, Hand};
use yarrick::{Rect, Vec2};

/// From row to row, where there is room, and at the least.
const ROW_PX: f32 = 25.0;
const LEAST_ROW_PX: f32 = 19.0;
const TEXT_PX: f32 = 40.0;
const WIDTH_PX: f32 = 244.0;

/// The lines of the legend, from the top down.
pub(crate) struct Column<'a> {
    sheet: &'a mut Sheet,
    /// The middle of the next sign.
    at: Vec2,
    /// Below this there is no room for more.
    bottom: f32,
    /// From row to row.
    row_px: f32,
    /// How many rows found no room.
    left_out: usize,
}

impl Column<'_> {
    pub(crate) fn heading(&mut self, text: &str) {
        if self.at.y > self.bottom {
            return;
        }
        self.at.y += self.row_px * 0.56;
        let at = self.at + Vec2::new(0.0, 2.0);
        let text = Text {
            face: Face::Bold,
            ..small(at, text, palette::INK)
        };
        self.sheet.text(text, Anchor::Left);
        self.at.y += self.row_px * 0.92;
    }

    /// One sign and what it means. `draw` puts the sign round its point.
    pub(crate) fn row(&mut self, text: &str, draw: impl FnOnce(&mut Sheet, Vec2)) {
        if self.at.y > self.bottom {
            self.left_out += 1;
            return;
        }
        draw(self.sheet, self.at + Vec2::new(14.0, 0.0));
        self.note(text);
    }

    fn note(&mut self, text: &str) {
        let at = self.at + Vec2::new(TEXT_PX, 4.5);
        let text = shortened(text, Face::Regular, 13.0, WIDTH_PX - TEXT_PX);
        self.sheet.text(small(at, text, palette::INK), Anchor::Left);
        self.at.y += self.row_px;
    }
}

pub(crate) fn draw(
    sheet: &mut Sheet,
    corner: Vec2,
    scene: &Scene<'_>,
    terrains: &[Shown],
    has_selected: bool,
) {
    // On a sheet of its own it shows how much room it takes.
    let mut trial = Sheet::new(sheet.width, sheet.height, "");
    let (top, needed) = {
        let mut column = Column::at(&mut trial, corner, f32::INFINITY, ROW_PX);
        draw_head(&mut column, scene);
        let top = column.at.y;
        draw_rows(&mut column, scene, terrains, has_selected);
        (top, column.at.y - top)
    };
    let bottom = sheet.height as f32 - 24.0;
    let row_px = (ROW_PX * (bottom - top - 2.0) / needed).clamp(LEAST_ROW_PX, ROW_PX);
    // A row may begin at the bottom; the note on what is left out comes below it.
    let mut column = Column::at(sheet, corner, bottom - row_px, row_px);
    draw_head(&mut column, scene);
    draw_rows(&mut column, scene, terrains, has_selected);
    if column.left_out > 0 {
        let text = format!("… and {} more: draw it larger", column.left_out);
        column.note(&text);
    }
}

impl Column<'_> {
    fn at(sheet: &mut Sheet, at: Vec2, bottom: f32, row_px: f32) -> Column<'_> {
        Column {
            sheet,
            at,
            bottom,
            row_px,
            left_out: 0,
        }
    }
}

fn draw_rows(column: &mut Column<'_>, scene: &Scene<'_>, terrains: &[Shown], has_selected: bool) {
    draw_units(column, scene);
    flocks::explain(column, scene.world);
    draw_signs(column, scene, has_selected);
    motions::explain(column, scene.world, &scene.motions);
    draw_traced(column, scene);
    draw_overlay(column, scene);
    draw_ground(column, scene, terrains);
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
                    let facing = units::shows_facing(kind).then_some(0.0);
                    units::draw_body(sheet, at, 8.0, facing, number);
                    units::draw_letter(sheet, at, kind.glyph);
                });
            }
        }
    }
}

/// A sign for a selection or an order: whether it is in the picture, what it means, and how it is
/// drawn round a point.
type Sign = (bool, &'static str, fn(&mut Sheet, Vec2));

fn draw_signs(column: &mut Column<'_>, scene: &Scene<'_>, has_selected: bool) {
    let signs = signs(scene, has_selected);
    if !signs.iter().any(|(shown, ..)| *shown) {
        return;
    }
    column.heading("selection and orders");
    for (_, text, draw) in signs.into_iter().filter(|(shown, ..)| *shown) {
        column.row(text, draw);
    }
    marches::explain(column, scene.world);
}

/// The hue of lines in the legend: that of the first side.
fn hue() -> Colour {
    palette::side(0)
}

/// The ends of a line in the legend.
pub(crate) fn ends(at: Vec2) -> [Vec2; 2] {
    [at - Vec2::new(14.0, 0.0), at + Vec2::new(14.0, 0.0)]
}

fn signs(scene: &Scene<'_>, has_selected: bool) -> Vec<Sign> {
    let shown = orders::shown(scene.world);
    let ties = ties::shown(scene.world);
    let dragging = scene
        .hands
        .iter()
        .any(|hand: &Hand| hand.current_box().is_some());
    let mut units = scene.world.units();
    let firm = units.any(|unit| units::stands_firm(&unit));
    let harmed = scene.world.units().any(|unit| units::is_harmed(&unit));
    vec![
        (has_selected, "selected", |sheet, at| {
            sheet.stroke(Path::circle(at, 8.0), units::selection_line());
        }),
        (dragging, "box being dragged", |sheet, at| {
            let half = Vec2::new(12.0, 7.0);
            let rect = Rect::from_corners(at - half, at + half);
            sheet.stroke(Path::rect(rect), box_line());
        }),
        (shown.ways, "way still to walk", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), orders::way_line(hue()));
        }),
        (shown.queued, "queued: goes there next", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), orders::queued_line(hue()));
        }),
        (shown.patrols, "leg of a patrol", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), orders::patrol_line(hue()));
        }),
        (ties.fights, "goes for it, or strikes it", |sheet, at| {
            let [from, to] = ends(at);
            ties::draw_fight(sheet, from, to, hue());
        }),
        (ties.company, "keeps near it, or goes to it", |sheet, at| {
            let [from, to] = ends(at);
            ties::draw_company(sheet, from, to, hue());
        }),
        (ties.rallies, "rally point", |sheet, at| {
            let [from, to] = ends(at);
            ties::draw_rally(sheet, from, to - Vec2::new(4.0, 0.0), hue());
        }),
        (firm, "holds its ground", |sheet, at| {
            units::draw_footing(sheet, at - Vec2::new(0.0, 14.0), 9.0);
        }),
        (harmed, "health that is left", |sheet, at| {
            units::draw_health(sheet, at + Vec2::new(0.0, 17.0), 10.0, 0.6);
        }),
        (shown.places, "where a unit will stand", |sheet, at| {
            orders::draw_place(sheet, at, hue());
        }),
        (shown.goals, "where it was sent", |sheet, at| {
            orders::draw_goal(sheet, at + Vec2::new(4.0, 9.0), hue(), false);
        }),
        (
            shown.short_goals,
            "sent there, out of reach",
            |sheet, at| {
                orders::draw_goal(sheet, at + Vec2::new(4.0, 9.0), hue(), true);
            },
        ),
    ]
}

fn draw_traced(column: &mut Column<'_>, scene: &Scene<'_>) {
    let Some(found) = &scene.traced else {
        return;
    };
    column.heading("the way looked for");
    column.row("start", traced::draw_start);
    column.row(
        &format!("way, {:.1} m", found.route.length_m),
        |sheet, at| {
            traced::draw_way(sheet, &ends(at), 9.0);
        },
    );
    column.row("goal", |sheet, at| {
        let short = found.route.short.is_some();
        orders::draw_goal(sheet, at + Vec2::new(4.0, 9.0), traced::hue(), short);
    });
    if !found.searched.is_empty() {
        let count = found.searched.len();
        column.row(&format!("searched, {count} cells"), |sheet, at| {
            for x in [-10.0, 0.0, 10.0] {
                traced::draw_searched(sheet, Rect::around(at + Vec2::new(x, 0.0), 9.0));
            }
        });
    }
}

fn draw_overlay(column: &mut Column<'_>, scene: &Scene<'_>) {
    let Some(overlay) = &scene.overlay else {
        return;
    };
    let ground = scene.world.ground();
    match overlay {
        Overlay::Field { field, passage } => {
            column.heading("goal field");
            column.row("which way to go", |sheet, at| {
                overlay::draw_arrow(sheet, at, Vec2::new(9.0, 0.0));
            });
            let step = overlay::line_every_m(field, passage, ground);
            column.row(&format!("equal cost, every {step} m"), |sheet, at| {
                let line = Path::polyline(ends(at));
                sheet.stroke(line, Line::new(traced::hue().at(0.55), 1.2));
            });
            column.row("goal", |sheet, at| {
                let foot = at + Vec2::new(4.0, 9.0);
                orders::draw_goal(sheet, foot, traced::hue(), false);
            });
        }
        Overlay::Regions { passage } => {
            column.heading("regions");
            let regions = overlay::by_size(ground, passage);
            for (number, (_, cells)) in regions.iter().take(9).enumerate() {
                let count = cells.len();
                column.row(&format!("{}: {count} cells", number + 1), |sheet, at| {
                    overlay::draw_hatch(sheet, at, 9.0, number);
                });
            }
            if regions.len() > 9 {
                let text = format!("{} smaller ones", regions.len() - 9);
                column.row(&text, |sheet, at| overlay::draw_hatch(sheet, at, 9.0, 9));
            }
        }
        Overlay::Room { passages } => {
            column.heading("room for a body");
            let has_room = |passage: &Passage| {
                let mut cells = ground.whole().cells();
                cells.any(|cell| passage.is_open(cell))
            };
            for (k, passage) in passages.iter().enumerate().filter(|(_, p)| has_room(p)) {
                let text = format!("{:.2} m in radius, or more", passage.radius());
                let part = (k + 1) as f32 / passages.len() as f32;
                column.row(&text, |sheet, at| overlay::draw_dot(sheet, at, 9.0 * part));
            }
        }
        Overlay::Places { waypoints, trip } => draw_places(column, waypoints, trip),
    }
}

fn draw_places(column: &mut Column<'_>, waypoints: &Waypoints, trip: &[u32]) {
    column.heading("places");
    column.row("place", |sheet, at| overlay::draw_place(sheet, at, false));
    column.row("leg", |sheet, at| overlay::draw_leg(sheet, ends(at), false));
    if waypoints.legs().iter().any(|leg| leg.one_way) {
        column.row("leg that leads one way", |sheet, at| {
            overlay::draw_leg(sheet, ends(at), true);
        });
    }
    if !trip.is_empty() {
        column.row("place on the way", |sheet, at| {
            overlay::draw_place(sheet, at, true);
        });
        column.row("way", |sheet, at| {
            sheet.stroke(Path::polyline(ends(at)), Line::new(traced::hue(), 3.2));
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
            let half = Vec2::new(18.0, 7.5);
            let swatch = Rect::from_corners(at - half, at + half);
            sheet.fill(Path::rect(swatch), fill);
            let motifs = [-9.0, 9.0].map(|x| Rect::around(at + Vec2::new(x, 0.0), 7.5));
            ground::draw_motifs(sheet, shown.look, pattern, &motifs);
            sheet.stroke(Path::rect(swatch), Line::new(palette::FAINT_INK, 0.8));
        });
    }
    let (mut doors, around) = (map.doors().iter(), |at| Rect::around(at, 9.0));
    if doors.any(|door| door.shut) {
        column.row("shut door", |sheet, at| {
            ground::draw_door(sheet, around(at), true);
        });
    }
    if map.doors().iter().any(|door| !door.shut) {
        column.row("open door", |sheet, at| {
            ground::draw_door(sheet, around(at), false);
        });
    }
    let blocks: Vec<Block> = scene
        .world
        .units()
        .filter_map(|unit| unit.block())
        .collect();
    let is_bare = |cell| {
        let centre = map.centre(cell);
        map.is_blocked(cell) && blocks.iter().all(|block| block.distance(centre) > 0.0)
    };
    if map.whole().cells().any(is_bare) {
        column.row("obstacle", |sheet, at| {
            ground::draw_obstacle(sheet, around(at));
        });
    }
    if !map.links().is_empty() {
        column.row("link over closed ground", |sheet, at| {
            overlay::draw_link(sheet, ends(at), false);
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
