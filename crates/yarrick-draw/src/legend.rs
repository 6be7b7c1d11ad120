//! Beside the map: what it shows, when, and what each sign in it means. Nothing else.

use crate::font::{self, Face};
use crate::palette;
use crate::path::Path;
use crate::sheet::{Anchor, Colour, Line, Sheet, Text, small};
use yarrick::Vec2;

/// From row to row, where there is room, and at the least.
const ROW_PX: f32 = 25.0;
const LEAST_ROW_PX: f32 = 17.0;
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
        let text = shortened(text, Face::Bold, 13.0, WIDTH_PX);
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

    /// The title, in large letters, and lines below it.
    pub(crate) fn head(&mut self, title: &str, lines: &[String]) {
        for line in wrapped(title, Face::Bold, 20.0, WIDTH_PX) {
            let text = Text {
                at: self.at + Vec2::new(0.0, 16.0),
                face: Face::Bold,
                px: 20.0,
                ..small(Vec2::ZERO, line, palette::INK)
            };
            self.sheet.text(text, Anchor::Left);
            self.at.y += 26.0;
        }
        for line in lines {
            let at = self.at + Vec2::new(0.0, 14.0);
            let text = small(at, line, palette::FAINT_INK);
            self.sheet.text(text, Anchor::Left);
            self.at.y += 20.0;
        }
        self.at.y += 10.0;
        let rule = [self.at, self.at + Vec2::new(WIDTH_PX, 0.0)];
        let line = Line::new(palette::RULE, 1.0);
        self.sheet.stroke(Path::polyline(rule), line);
        self.at.y += 8.0;
    }

    /// Those of some signs that are in the picture.
    pub(crate) fn signs(&mut self, signs: Vec<Sign>) {
        for (_, text, draw) in signs.into_iter().filter(|(shown, ..)| *shown) {
            self.row(text, draw);
        }
    }

    fn note(&mut self, text: &str) {
        let at = self.at + Vec2::new(TEXT_PX, 4.5);
        let text = shortened(text, Face::Regular, 13.0, WIDTH_PX - TEXT_PX);
        self.sheet.text(small(at, text, palette::INK), Anchor::Left);
        self.at.y += self.row_px;
    }
}

/// Writes a legend from a corner down: its head, and rows as close together as they have to be to find room.
pub(crate) fn draw(
    sheet: &mut Sheet,
    corner: Vec2,
    head: impl Fn(&mut Column<'_>),
    rows: impl Fn(&mut Column<'_>),
) {
    // On a sheet of its own it shows how much room it takes.
    let mut trial = Sheet::new(sheet.width, sheet.height, "");
    let (top, needed) = {
        let mut column = Column::at(&mut trial, corner, f32::INFINITY, ROW_PX);
        head(&mut column);
        let top = column.at.y;
        rows(&mut column);
        (top, column.at.y - top)
    };
    let bottom = sheet.height as f32 - 24.0;
    let row_px = (ROW_PX * (bottom - top - 2.0) / needed).clamp(LEAST_ROW_PX, ROW_PX);
    // A row may begin at the bottom; the note on what is left out comes below it.
    let mut column = Column::at(sheet, corner, bottom - row_px, row_px);
    head(&mut column);
    rows(&mut column);
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

/// A sign for a selection or an order: whether it is in the picture, what it means, and how it is
/// drawn round a point.
pub(crate) type Sign = (bool, &'static str, fn(&mut Sheet, Vec2));

/// The hue of lines in the legend: that of the first side.
pub(crate) fn hue() -> Colour {
    palette::side(0)
}

/// The ends of a line in the legend.
pub(crate) fn ends(at: Vec2) -> [Vec2; 2] {
    [at - Vec2::new(14.0, 0.0), at + Vec2::new(14.0, 0.0)]
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
