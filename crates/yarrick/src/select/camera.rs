//! From screen points to ground points and back, for the game's own camera.

use crate::geom::{Mat4, Rect, Vec2, Vec3, Vec4};

/// Nothing nearer to the eye than this, in units of the matrix, counts as before it.
const NEAREST_W: f32 = 1e-5;

/// The camera of a game.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Camera {
    /// It looks straight down on a flat map.
    Flat(FlatView),
    /// It looks at the ground in any way that a matrix can say.
    Matrix(MatrixView),
}

/// A camera that looks straight down on a flat map, with x to the right on both and the
/// screen's y downwards.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct FlatView {
    /// The ground point in the upper left corner of the screen, in metres.
    pub corner: Vec2,
    /// How many screen pixels a metre takes. Raise it to come nearer.
    pub px_per_m: f32,
    /// Width and height of the screen, in pixels.
    pub size_px: Vec2,
}

/// A camera given by its view-projection matrix.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct MatrixView {
    /// From the world (x to the right, y ahead on the plane, z up, in metres) to clip space: a
    /// point is on the screen where `x / w` and `y / w` are in -1 to 1, y up, and before the eye
    /// where `w` is above 0.
    matrix: Mat4,
    inverse: Mat4,
    size_px: Vec2,
}

/// Why a camera was refused.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum CameraError {
    /// The matrix has no inverse, or holds numbers that are not finite.
    #[error("the view-projection matrix cannot be inverted")]
    NoInverse,
    /// The screen has no area.
    #[error("a screen of {0} by {1} pixels has no area")]
    NoScreen(f32, f32),
}

/// A straight line from the eye through a screen point.
#[derive(Clone, Copy, Debug)]
pub struct Ray {
    /// Where it begins, in metres.
    pub from: Vec3,
    /// Where it goes, of length 1.
    pub along: Vec3,
}

/// The ground as a camera sees it: its height at a point, and the lowest and highest of all.
#[derive(Clone, Copy)]
pub struct Relief<'a> {
    /// The height at a point, in metres.
    pub height_at: &'a dyn Fn(Vec2) -> f32,
    /// The lowest and the highest height, in metres.
    pub range: (f32, f32),
    /// The box that the ground covers.
    pub bounds: Rect,
}

impl FlatView {
    /// The ground point under a screen point.
    #[must_use]
    pub fn to_ground(&self, screen: Vec2) -> Vec2 {
        let scaled = screen / self.px_per_m;
        Vec2::new(self.corner.x + scaled.x, self.corner.y - scaled.y)
    }

    /// The screen point of a ground point.
    #[must_use]
    pub fn to_screen(&self, ground: Vec2) -> Vec2 {
        let offset = ground - self.corner;
        Vec2::new(offset.x, -offset.y) * self.px_per_m
    }
}

impl MatrixView {
    /// A camera from its view-projection matrix and the size of its screen in pixels.
    ///
    /// # Errors
    /// [`CameraError`] for a matrix that cannot be inverted, or a screen without area.
    pub fn new(matrix: Mat4, size_px: Vec2) -> Result<MatrixView, CameraError> {
        if !(size_px.is_finite() && size_px.x > 0.0 && size_px.y > 0.0) {
            return Err(CameraError::NoScreen(size_px.x, size_px.y));
        }
        let inverse = matrix.inverse();
        // A matrix that is nearly flat inverts to numbers of no use.
        let unit = matrix * inverse;
        if !(matrix.is_finite() && inverse.is_finite() && unit.abs_diff_eq(Mat4::IDENTITY, 1e-2)) {
            return Err(CameraError::NoInverse);
        }
        Ok(MatrixView {
            matrix,
            inverse,
            size_px,
        })
    }

    /// The screen point of a point in the world; `None` behind the eye.
    #[must_use]
    pub fn to_screen(&self, point: Vec3) -> Option<Vec2> {
        let clip = self.matrix * point.extend(1.0);
        (clip.w > NEAREST_W).then(|| {
            let x = (clip.x / clip.w + 1.0) * 0.5;
            let y = (1.0 - clip.y / clip.w) * 0.5;
            Vec2::new(x, y) * self.size_px
        })
    }

    /// The line of sight through a screen point.
    #[must_use]
    pub fn ray(&self, screen: Vec2) -> Option<Ray> {
        let at = screen / self.size_px;
        let (x, y) = (at.x * 2.0 - 1.0, 1.0 - at.y * 2.0);
        // Two depths give a line, whichever way the game's depth runs; the order in which it
        // passes them is recognised by `w`, which grows away from the eye.
        let point = |depth: f32| {
            let world: Vec4 = self.inverse * Vec4::new(x, y, depth, 1.0);
            world.truncate() / world.w
        };
        let (a, b) = (point(0.25), point(0.75));
        let ahead = |p: Vec3| (self.matrix * p.extend(1.0)).w;
        let (near, far) = (ahead(a), ahead(b));
        let (from, to) = if (near - far).abs() <= 1e-5 * near.abs() {
            // Parallel sight has no eye: such cameras look down, from above everything.
            let (a, b) = (point(-1.0), point(1.0));
            if a.z >= b.z { (a, b) } else { (b, a) }
        } else if near < far {
            (a, b)
        } else {
            (b, a)
        };
        let along = (to - from).try_normalize()?;
        (from.is_finite() && along.is_finite()).then_some(Ray { from, along })
    }
}

impl Camera {
    /// Width and height of the screen, in pixels.
    #[must_use]
    pub fn size_px(&self) -> Vec2 {
        match self {
            Camera::Flat(view) => view.size_px,
            Camera::Matrix(view) => view.size_px,
        }
    }

    /// The screen point of a point in the world; `None` behind the eye.
    #[must_use]
    pub fn to_screen(&self, point: Vec3) -> Option<Vec2> {
        match self {
            Camera::Flat(view) => Some(view.to_screen(point.truncate())),
            Camera::Matrix(view) => view.to_screen(point),
        }
    }

    /// The ground point under a screen point; `None` where the line of sight meets no ground.
    #[must_use]
    pub fn to_ground(&self, screen: Vec2, relief: &Relief<'_>) -> Option<Vec2> {
        if !screen.is_finite() {
            return None;
        }
        match self {
            Camera::Flat(view) => Some(view.to_ground(screen)),
            Camera::Matrix(view) => relief.meet(view.ray(screen)?),
        }
    }

    /// The screen box of some points: of those that are before the eye; `None` where none is.
    #[must_use]
    pub fn bounds_of(&self, points: impl IntoIterator<Item = Vec3>) -> Option<Rect> {
        points
            .into_iter()
            .filter_map(|point| self.to_screen(point))
            .map(|at| Rect { min: at, max: at })
            .reduce(|known, at| Rect {
                min: known.min.min(at.min),
                max: known.max.max(at.max),
            })
    }

    /// How much of a box in the world a screen box shows. `None` and `All` are certain.
    #[must_use]
    pub fn shows(&self, screen: Rect, low: Vec3, high: Vec3) -> Shows {
        match self {
            Camera::Flat(view) => {
                let (a, b) = (
                    view.to_screen(low.truncate()),
                    view.to_screen(high.truncate()),
                );
                let shown = Rect::from_corners(a, b);
                let meets = shown.min.cmple(screen.max).all() && screen.min.cmple(shown.max).all();
                match (meets, screen.contains(a) && screen.contains(b)) {
                    (false, _) => Shows::None,
                    (true, true) => Shows::All,
                    (true, false) => Shows::Part,
                }
            }
            Camera::Matrix(view) => view.shows(screen, low, high),
        }
    }
}

/// How much of something a screen box shows.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Shows {
    /// Nothing.
    None,
    /// Perhaps some of it.
    Part,
    /// All of it.
    All,
}

impl MatrixView {
    /// Looks for a side of the screen box, or the eye's plane, that all corners lie beyond, and
    /// whether none lies beyond any.
    fn shows(&self, screen: Rect, low: Vec3, high: Vec3) -> Shows {
        let at = |px: Vec2| {
            let part = px / self.size_px;
            Vec2::new(part.x * 2.0 - 1.0, 1.0 - part.y * 2.0)
        };
        let window = Rect::from_corners(at(screen.min), at(screen.max));
        let (mut beyond, mut within) = ([true; 5], [true; 5]);
        for k in 0..8 {
            let corner = Vec3::new(
                if k & 1 == 0 { low.x } else { high.x },
                if k & 2 == 0 { low.y } else { high.y },
                if k & 4 == 0 { low.z } else { high.z },
            );
            let clip = self.matrix * corner.extend(1.0);
            // How far inside each side it is; rounding must not decide what lies on the edge.
            let inside = [
                clip.x - window.min.x * clip.w,
                window.max.x * clip.w - clip.x,
                clip.y - window.min.y * clip.w,
                window.max.y * clip.w - clip.y,
                clip.w - NEAREST_W,
            ];
            let slack = 1e-4 * clip.w.abs().max(1.0);
            for (side, depth) in inside.into_iter().enumerate() {
                beyond[side] &= depth < -slack;
                within[side] &= depth > slack;
            }
        }
        if beyond.contains(&true) {
            Shows::None
        } else if within.contains(&false) {
            Shows::Part
        } else {
            Shows::All
        }
    }
}

impl Relief<'_> {
    /// Where a line of sight first meets the ground, within its bounds.
    ///
    /// Walks along the part of the line that lies between the lowest and the highest ground, and
    /// halves the step in which it goes under.
    fn meet(&self, ray: Ray) -> Option<Vec2> {
        /// Steps along the line; fine enough for slopes that units walk on.
        const STEPS: u32 = 512;
        let (low, high) = self.range;
        let reach = self.bounds.size().length() * 2.0 + (ray.from.z - low).abs() * 4.0;
        let mut span = (0.0_f32, reach);
        if ray.along.z.abs() > 1e-6 {
            let (a, b) = (
                (low - 1e-3 - ray.from.z) / ray.along.z,
                (high + 1e-3 - ray.from.z) / ray.along.z,
            );
            span = (span.0.max(a.min(b)), span.1.min(a.max(b)));
        } else if !(low..=high).contains(&ray.from.z) {
            return None;
        }
        let point = |t: f32| ray.from + ray.along * t;
        let above = |t: f32| point(t).z - (self.height_at)(point(t).truncate());
        if span.0 > span.1 || !span.0.is_finite() {
            return None;
        }
        let mut last = span.0;
        for k in 1..=STEPS {
            let next = span.0 + (span.1 - span.0) * k as f32 / STEPS as f32;
            if above(last) >= 0.0 && above(next) <= 0.0 {
                let found = point(self.halve(last, next, above)).truncate();
                return self.bounds.contains(found).then_some(found);
            }
            last = next;
        }
        None
    }

    fn halve(&self, mut over: f32, mut under: f32, above: impl Fn(f32) -> f32) -> f32 {
        for _ in 0..24 {
            let middle = (over + under) * 0.5;
            if above(middle) >= 0.0 {
                over = middle;
            } else {
                under = middle;
            }
        }
        under
    }
}
