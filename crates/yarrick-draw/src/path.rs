//! Outlines of straight lines and curves.

use yarrick::{Rect, Vec2};

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
            path.parts.push(if path.parts.is_empty() {
                Part::Move(point)
            } else {
                Part::Line(point)
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
