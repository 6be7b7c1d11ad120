//! The two faces that pictures are lettered in, and how wide their texts are.

use ab_glyph::{Font as _, FontRef, OutlineCurve, ScaleFont as _};
use std::sync::LazyLock;
use yarrick::Vec2;

use crate::path::{Part, Path};

/// A face of the font B612 (SIL Open Font License, see `fonts/LICENSE-OFL.txt`).
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Face {
    Regular,
    Bold,
}

static REGULAR: LazyLock<FontRef<'static>> =
    LazyLock::new(|| parse(include_bytes!("../fonts/B612-Regular.otf")));
static BOLD: LazyLock<FontRef<'static>> =
    LazyLock::new(|| parse(include_bytes!("../fonts/B612-Bold.otf")));

fn parse(bytes: &'static [u8]) -> FontRef<'static> {
    FontRef::try_from_slice(bytes).expect("the embedded font is sound")
}

fn font(face: Face) -> &'static FontRef<'static> {
    match face {
        Face::Regular => &REGULAR,
        Face::Bold => &BOLD,
    }
}

/// The width of a text in pixels.
pub(crate) fn width(text: &str, face: Face, px: f32) -> f32 {
    let font = font(face).as_scaled(px_scale(face, px));
    text.chars().map(|c| font.h_advance(font.glyph_id(c))).sum()
}

/// The outlines of a text, for writers that cannot set type themselves.
pub(crate) fn outline(text: &str, face: Face, px: f32, at: Vec2) -> Path {
    let font = font(face);
    let scale = px_scale(face, px);
    let units = scale.y / font.height_unscaled();
    let mut path = Path::default();
    let mut pen = at;
    for c in text.chars() {
        let glyph = font.glyph_id(c);
        if let Some(outline) = font.outline(glyph) {
            add_glyph(&mut path, &outline.curves, pen, units);
        }
        pen.x += font.as_scaled(scale).h_advance(glyph);
    }
    path
}

fn add_glyph(path: &mut Path, curves: &[OutlineCurve], pen: Vec2, units: f32) {
    let place = |p: ab_glyph::Point| pen + Vec2::new(p.x, -p.y) * units;
    let mut end: Option<ab_glyph::Point> = None;
    for curve in curves {
        let (from, part, to) = match *curve {
            OutlineCurve::Line(a, b) => (a, Part::Line(place(b)), b),
            OutlineCurve::Quad(a, c, b) => {
                // The same curve with two handles.
                let (pa, pc, pb) = (place(a), place(c), place(b));
                let handles = (pa.lerp(pc, 2.0 / 3.0), pb.lerp(pc, 2.0 / 3.0));
                (a, Part::Curve(handles.0, handles.1, pb), b)
            }
            OutlineCurve::Cubic(a, c, d, b) => (a, Part::Curve(place(c), place(d), place(b)), b),
        };
        if end != Some(from) {
            path.parts.push(Part::Move(place(from)));
        }
        path.parts.push(part);
        end = Some(to);
    }
    path.parts.push(Part::Close);
}

/// The scale at which one em is `px` pixels.
fn px_scale(face: Face, px: f32) -> ab_glyph::PxScale {
    let font = font(face);
    let em = font.units_per_em().unwrap_or(1000.0);
    ab_glyph::PxScale::from(px * font.height_unscaled() / em)
}
