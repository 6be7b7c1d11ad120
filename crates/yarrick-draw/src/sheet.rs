//! A picture as a list of marks, drawn in order. What both writers understand.

use crate::font::{self, Face};
use yarrick::{Rect, Vec2};

/// A laid-out picture.
#[derive(Clone, Debug)]
pub struct Sheet {
    pub(crate) width: u32,
    pub(crate) height: u32,
    pub(crate) title: String,
    pub(crate) marks: Vec<Mark>,
}

/// A colour: red, green and blue, and how much it covers.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Colour {
    pub(crate) rgb: [u8; 3],
    pub(crate) cover: f32,
}

impl Colour {
    pub(crate) const fn hex(rgb: u32) -> Colour {
        let [_, r, g, b] = rgb.to_be_bytes();
        Colour {
            rgb: [r, g, b],
            cover: 1.0,
        }
    }

    pub(crate) const fn at(self, cover: f32) -> Colour {
        Colour { cover, ..self }
    }

    /// A part of the way to another colour.
    pub(crate) fn towards(self, other: Colour, part: f32) -> Colour {
        let blend = |k: usize| {
            let (a, b) = (f32::from(self.rgb[k]), f32::from(other.rgb[k]));
            (a + (b - a) * part + 0.5) as u8
        };
        Colour {
            rgb: [blend(0), blend(1), blend(2)],
            cover: self.cover,
        }
    }
}

#[derive(Clone, Debug)]
pub(crate) enum Mark {
    Fill(Path, Colour),
    Stroke(Path, Line),
    Text(Text),
    /// What follows shows only inside the box, until [`Mark::Unclip`].
    Clip(Rect),
    Unclip,
}

/// How a line looks.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Line {
    pub(crate) colour: Colour,
    pub(crate) width: f32,
    /// Lengths of dash and gap, in pixels.
    pub(crate) dash: Option<[f32; 2]>,
}

impl Line {
    pub(crate) fn new(colour: Colour, width: f32) -> Line {
        Line {
            colour,
            width,
            dash: None,
        }
    }

    pub(crate) fn dashed(self, dash: f32, gap: f32) -> Line {
        Line {
            dash: Some([dash, gap]),
            ..self
        }
    }
}

#[derive(Clone, Debug)]
pub(crate) struct Text {
    /// The left end of the base line.
    pub(crate) at: Vec2,
    pub(crate) text: String,
    pub(crate) face: Face,
    pub(crate) px: f32,
    pub(crate) colour: Colour,
    /// A rim in this colour keeps it readable over anything.
    pub(crate) halo: Option<Colour>,
}

/// An outline of straight lines and curves.
#[derive(Clone, Debug, Default)]
pub(crate) struct Path {
    pub(crate) parts: Vec<Part>,
}

#[derive(Clone, Copy, Debug)]
pub(crate) enum Part {
    Move(Vec2),
    Line(Vec2),
    Curve(Vec2, Vec2, Vec2),
    Close,
}

impl Path {
    pub(crate) fn polyline(points: impl IntoIterator<Item = Vec2>) -> Path {
        let mut path = Path::default();
        for point in points {
            path.parts.push(match path.parts.is_empty() {
                true => Part::Move(point),
                false => Part::Line(point),
            });
        }
        path
    }

    pub(crate) fn polygon(points: impl IntoIterator<Item = Vec2>) -> Path {
        let mut path = Path::polyline(points);
        path.parts.push(Part::Close);
        path
    }

    pub(crate) fn rect(rect: Rect) -> Path {
        let mut path = Path::default();
        path.add_rect(rect);
        path
    }

    pub(crate) fn add_rect(&mut self, rect: Rect) {
        let (a, b) = (rect.min, rect.max);
        self.parts.extend([
            Part::Move(a),
            Part::Line(Vec2::new(b.x, a.y)),
            Part::Line(b),
            Part::Line(Vec2::new(a.x, b.y)),
            Part::Close,
        ]);
    }

    pub(crate) fn add_segment(&mut self, a: Vec2, b: Vec2) {
        self.parts.extend([Part::Move(a), Part::Line(b)]);
    }

    pub(crate) fn circle(centre: Vec2, radius: f32) -> Path {
        let mut path = Path::default();
        path.add_circle(centre, radius);
        path
    }

    /// A circle of four curves.
    pub(crate) fn add_circle(&mut self, centre: Vec2, radius: f32) {
        /// How far a curve's handles reach, of the radius, to follow a quarter circle.
        const HANDLE: f32 = 0.552_285;
        let at = |x: f32, y: f32| centre + Vec2::new(x, y) * radius;
        let h = HANDLE;
        self.parts.extend([
            Part::Move(at(1.0, 0.0)),
            Part::Curve(at(1.0, h), at(h, 1.0), at(0.0, 1.0)),
            Part::Curve(at(-h, 1.0), at(-1.0, h), at(-1.0, 0.0)),
            Part::Curve(at(-1.0, -h), at(-h, -1.0), at(0.0, -1.0)),
            Part::Curve(at(h, -1.0), at(1.0, -h), at(1.0, 0.0)),
            Part::Close,
        ]);
    }
}

/// Where a text lies from its point.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Anchor {
    Left,
    Middle,
    Right,
}

impl Sheet {
    pub(crate) fn new(width: u32, height: u32, title: &str) -> Sheet {
        Sheet {
            width,
            height,
            title: title.to_owned(),
            marks: Vec::new(),
        }
    }

    pub(crate) fn fill(&mut self, path: Path, colour: Colour) {
        if !path.parts.is_empty() {
            self.marks.push(Mark::Fill(path, colour));
        }
    }

    pub(crate) fn stroke(&mut self, path: Path, line: Line) {
        if !path.parts.is_empty() {
            self.marks.push(Mark::Stroke(path, line));
        }
    }

    /// Writes a text and gives its width.
    pub(crate) fn text(&mut self, text: Text, anchor: Anchor) -> f32 {
        let width = font::width(&text.text, text.face, text.px);
        let shift = match anchor {
            Anchor::Left => 0.0,
            Anchor::Middle => width * 0.5,
            Anchor::Right => width,
        };
        let at = text.at - Vec2::new(shift, 0.0);
        self.marks.push(Mark::Text(Text { at, ..text }));
        width
    }

    /// Draws with everything outside the box hidden.
    pub(crate) fn clipped(&mut self, rect: Rect, draw: impl FnOnce(&mut Sheet)) {
        self.marks.push(Mark::Clip(rect));
        draw(self);
        self.marks.push(Mark::Unclip);
    }
}
