//! A picture as a list of marks, drawn in order. What both writers understand.

use crate::font::{self, Face};
use crate::path::Path;
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

/// A text of the usual size.
pub(crate) fn small(at: Vec2, text: impl Into<String>, colour: Colour) -> Text {
    Text {
        at,
        text: text.into(),
        face: Face::Regular,
        px: 13.0,
        colour,
        halo: None,
    }
}
