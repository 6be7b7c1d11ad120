//! Writing a sheet as PNG.

use crate::font;
use crate::path::{Part, Path};
use crate::sheet::{Colour, Line, Mark, Sheet, Text};
use tiny_skia::{
    Color, FillRule, LineCap, LineJoin, Mask, Paint, PathBuilder, Pixmap, Stroke, StrokeDash,
    Transform,
};
use yarrick::Rect;

/// Why a picture could not be written as PNG.
#[derive(Debug, thiserror::Error)]
pub enum PngError {
    /// It is too large to be held in memory, or has no size.
    #[error("a picture of {0} by {1} pixels cannot be made")]
    Size(u32, u32),
    /// The encoder failed.
    #[error("the picture could not be encoded: {0}")]
    Encode(String),
}

impl Sheet {
    /// The picture as a PNG file. The same sheet gives the same bytes.
    ///
    /// # Errors
    /// [`PngError`] for a size that cannot be held in memory.
    pub fn to_png(&self) -> Result<Vec<u8>, PngError> {
        let pixmap = raster(self)?;
        pixmap
            .encode_png()
            .map_err(|error| PngError::Encode(error.to_string()))
    }
}

/// The pixels of a sheet.
pub(crate) fn raster(sheet: &Sheet) -> Result<Pixmap, PngError> {
    let (width, height) = (sheet.width, sheet.height);
    let mut pixmap = Pixmap::new(width, height).ok_or(PngError::Size(width, height))?;
    pixmap.fill(Color::WHITE);
    let mut mask = None;
    for mark in &sheet.marks {
        match mark {
            Mark::Fill(path, colour) => fill(&mut pixmap, mask.as_ref(), path, *colour),
            Mark::Stroke(path, line) => stroke(&mut pixmap, mask.as_ref(), path, line),
            Mark::Text(text) => letter(&mut pixmap, mask.as_ref(), text),
            Mark::Clip(rect) => mask = clip(width, height, *rect),
            Mark::Unclip => mask = None,
        }
    }
    Ok(pixmap)
}

fn clip(width: u32, height: u32, rect: Rect) -> Option<Mask> {
    let mut mask = Mask::new(width, height)?;
    let path = build(&Path::rect(rect))?;
    mask.fill_path(&path, FillRule::Winding, false, Transform::identity());
    Some(mask)
}

fn fill(pixmap: &mut Pixmap, mask: Option<&Mask>, path: &Path, colour: Colour) {
    if let Some(path) = build(path) {
        let rule = FillRule::Winding;
        pixmap.fill_path(&path, &paint(colour), rule, Transform::identity(), mask);
    }
}

fn stroke(pixmap: &mut Pixmap, mask: Option<&Mask>, path: &Path, line: &Line) {
    if let Some(path) = build(path) {
        let stroke = Stroke {
            width: line.width,
            line_cap: LineCap::Butt,
            line_join: LineJoin::Round,
            dash: line
                .dash
                .and_then(|dash| StrokeDash::new(dash.to_vec(), 0.0)),
            ..Stroke::default()
        };
        pixmap.stroke_path(
            &path,
            &paint(line.colour),
            &stroke,
            Transform::identity(),
            mask,
        );
    }
}

fn letter(pixmap: &mut Pixmap, mask: Option<&Mask>, text: &Text) {
    let outline = font::outline(&text.text, text.face, text.px, text.at);
    if let Some(halo) = text.halo {
        stroke(pixmap, mask, &outline, &Line::new(halo, 3.0));
    }
    fill(pixmap, mask, &outline, text.colour);
}

fn paint(colour: Colour) -> Paint<'static> {
    let [r, g, b] = colour.rgb;
    let mut paint = Paint::default();
    paint.set_color_rgba8(r, g, b, (colour.cover * 255.0 + 0.5) as u8);
    paint.anti_alias = true;
    paint
}

fn build(path: &Path) -> Option<tiny_skia::Path> {
    let mut builder = PathBuilder::new();
    for part in &path.parts {
        match *part {
            Part::Move(p) => builder.move_to(p.x, p.y),
            Part::Line(p) => builder.line_to(p.x, p.y),
            Part::Curve(a, b, p) => builder.cubic_to(a.x, a.y, b.x, b.y, p.x, p.y),
            Part::Close => builder.close(),
        }
    }
    builder.finish()
}
