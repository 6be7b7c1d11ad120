//! Places on the rim of a body: where those stand that come up to it.
//!
//! ```text
//!        ╭─ b ─ c ─╮
//!        │ ┌─────┐ │        b, c   taken places; a unit at u gets the free place nearest to p
//!   u →  p │     │ │        p      the point of the rim nearest to u
//!        │ └─────┘ │
//!        ╰─────────╯
//! ```

use crate::geom::{Block, Vec2, angle};
use core::f32::consts::{FRAC_PI_2, TAU};

/// The line at a distance round a body: a disc, or a turned box with rounded corners.
///
/// ```
/// use yarrick::geom::{Block, Vec2};
/// use yarrick::motion::Rim;
///
/// let hut = Block { centre: Vec2::new(10.0, 5.0), half: Vec2::new(2.0, 1.0), facing: 0.0 };
/// let rim = Rim::round_block(&hut, 0.5);
/// // The first that comes from the left stands right before it, the second beside the first:
/// let from = Vec2::new(2.0, 5.0);
/// let first = rim.nearest_place(from, 0.1, f32::INFINITY, |_| true).unwrap();
/// assert!(first.at.distance(Vec2::new(7.5, 5.0)) < 1e-4);
/// let second = rim.nearest_place(from, 0.1, f32::INFINITY, |at| at.distance(first.at) >= 0.8).unwrap();
/// assert!(second.at.x < 7.6 && second.at.distance(first.at) < 0.91);
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Rim {
    body: Block,
    /// Where the body looks, as a vector of length one.
    ahead: Vec2,
    off_m: f32,
}

/// Out of the front of a body, and so on anticlockwise, in its own axes.
const OUT: [Vec2; 4] = [Vec2::X, Vec2::Y, Vec2::NEG_X, Vec2::NEG_Y];

/// A place on a rim.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct RimPlace {
    /// The place, in metres.
    pub at: Vec2,
    /// The way there: straight to the rim, and along it; in metres.
    pub way_m: f32,
}

/// The most places of a rim that are looked at, on either side.
const MOST_STEPS: u32 = 512;

impl Rim {
    /// The rim of a disc with a middle and a radius in metres, a distance off its edge.
    #[must_use]
    pub fn round_disc(middle: Vec2, radius_m: f32, off_m: f32) -> Rim {
        let body = Block {
            centre: middle,
            half: Vec2::ZERO,
            facing: 0.0,
        };
        Rim {
            body,
            ahead: Vec2::X,
            off_m: (radius_m + off_m).max(0.0),
        }
    }

    /// The rim of a box, a distance in metres off its edge.
    #[must_use]
    pub fn round_block(block: &Block, off_m: f32) -> Rim {
        Rim {
            body: *block,
            ahead: angle::direction(block.facing),
            off_m: off_m.max(0.0),
        }
    }

    /// Its length, in metres.
    #[must_use]
    pub fn length_m(&self) -> f32 {
        4.0 * (self.body.half.x + self.body.half.y) + TAU * self.off_m
    }

    /// Its radius, if it is a circle.
    pub(super) fn turns_with(&self) -> Option<f32> {
        (self.body.half == Vec2::ZERO).then_some(self.off_m)
    }

    /// The point that lies some metres along it, anticlockwise from the front right corner of the body.
    #[must_use]
    pub fn at(&self, along_m: f32) -> Vec2 {
        let (half, corner_m) = (self.body.half, FRAC_PI_2 * self.off_m);
        let length_m = self.length_m().max(f32::MIN_POSITIVE);
        let mut left = if (0.0..length_m).contains(&along_m) {
            along_m
        } else {
            along_m.rem_euclid(length_m)
        };
        let sides = [half.y, half.x, half.y, half.x].map(|half| 2.0 * half);
        let mut local = Vec2::new(half.x + self.off_m, -half.y);
        for (quarter, (side_m, out)) in (0_u8..).zip(sides.into_iter().zip(OUT)) {
            let corner = self.corner(quarter);
            if left <= side_m {
                local = corner + out * self.off_m - out.perp() * (side_m - left);
                break;
            }
            left -= side_m;
            if left <= corner_m || quarter == 3 {
                let turn = left.min(corner_m) / self.off_m.max(f32::MIN_POSITIVE);
                let round = angle::direction(turn);
                local = corner + (out * round.x + out.perp() * round.y) * self.off_m;
                break;
            }
            left -= corner_m;
        }
        self.body.centre + self.ahead * local.x + self.ahead.perp() * local.y
    }

    /// How far along it the point lies that is nearest to another, in metres.
    #[must_use]
    pub fn nearest(&self, point: Vec2) -> f32 {
        let (half, corner_m) = (self.body.half, FRAC_PI_2 * self.off_m);
        let from_centre = point - self.body.centre;
        let local = Vec2::new(
            from_centre.dot(self.ahead),
            from_centre.dot(self.ahead.perp()),
        );
        // Within the body, the nearest side counts.
        let beyond = local.abs() - half;
        let (on_x, on_y) = if beyond.max_element() <= 0.0 {
            (beyond.x >= beyond.y, beyond.x < beyond.y)
        } else {
            (beyond.x > 0.0, beyond.y > 0.0)
        };
        let quarter = match (on_x, on_y) {
            (true, false) => u8::from(local.x < 0.0) * 2,
            (false, true) => u8::from(local.y < 0.0) * 2 + 1,
            _ => return self.on_corner(local),
        };
        let out = OUT[usize::from(quarter)];
        let side_half = if quarter % 2 == 0 { half.y } else { half.x };
        self.side_begins(quarter, corner_m) + side_half + local.dot(out.perp())
    }

    /// Of the places along it that are `is_free`, the one with the shortest way from a point; `None` where none is, or none
    /// with a way of at most `most_m` metres.
    ///
    /// Looks at places `step_m` metres apart, outward from the nearest to either side, at most 512 on each.
    pub fn nearest_place(
        &self,
        from: Vec2,
        step_m: f32,
        most_m: f32,
        mut is_free: impl FnMut(Vec2) -> bool,
    ) -> Option<RimPlace> {
        let length_m = self.length_m();
        let first = self.nearest(from);
        let straight_m = self.at(first).distance(from);
        let step_m = step_m.max(length_m / (2.0 * MOST_STEPS as f32)).max(1e-3);
        let steps = (length_m * 0.5 / step_m).ceil();
        let mut offsets = (0..=steps as u32)
            .map(|k| k as f32 * step_m)
            .take_while(|off_m| straight_m + off_m <= most_m);
        let mut places = self.outward(first, step_m);
        offsets.find_map(|off_m| {
            let sides = places(off_m);
            let at = sides.into_iter().find(|at| is_free(*at))?;
            Some(RimPlace {
                at,
                way_m: straight_m + off_m,
            })
        })
    }

    /// The places on both sides of the first one; each call returns the next pair outward, `step_m` farther off.
    fn outward(&self, first_m: f32, step_m: f32) -> impl FnMut(f32) -> [Vec2; 2] {
        let rim = *self;
        // On a disc each place is the one before, rotated: that saves a sine and a cosine for each.
        let is_disc = rim.body.half == Vec2::ZERO && rim.off_m > 0.0;
        let turn = angle::direction(if is_disc { step_m / rim.off_m } else { 0.0 });
        let arm = rim.at(first_m) - rim.body.centre;
        let mut arms = [arm, arm];
        move |off_m| {
            if !is_disc {
                return [first_m + off_m, first_m - off_m].map(|along_m| rim.at(along_m));
            }
            let sides = arms.map(|arm| rim.body.centre + arm);
            arms = [
                turn.rotate(arms[0]),
                Vec2::new(turn.x, -turn.y).rotate(arms[1]),
            ];
            sides
        }
    }

    /// A corner of the body, in its own axes: 0 is in front and to the left, and so on anticlockwise.
    fn corner(&self, quarter: u8) -> Vec2 {
        let half = self.body.half;
        match quarter {
            0 => half,
            1 => Vec2::new(-half.x, half.y),
            2 => -half,
            _ => Vec2::new(half.x, -half.y),
        }
    }

    /// How far along the rim the side before a corner begins.
    fn side_begins(&self, quarter: u8, corner_m: f32) -> f32 {
        let half = self.body.half;
        let sides = [half.y, half.x, half.y];
        let before = sides.iter().take(usize::from(quarter));
        before.map(|half| 2.0 * half + corner_m).sum()
    }

    /// How far along the rim the nearest point lies, for a point beyond a corner, in the axes of the body.
    fn on_corner(&self, local: Vec2) -> f32 {
        let quarter = match (local.x < 0.0, local.y < 0.0) {
            (false, false) => 0,
            (true, false) => 1,
            (true, true) => 2,
            (false, true) => 3,
        };
        let corner_m = FRAC_PI_2 * self.off_m;
        let half = self.body.half;
        let side_m = 2.0 * if quarter % 2 == 0 { half.y } else { half.x };
        let begins = self.side_begins(quarter, corner_m) + side_m;
        let turn = f32::from(quarter) * FRAC_PI_2;
        let heading = angle::of(local - self.corner(quarter)).unwrap_or(turn);
        let off = angle::wrap(heading - turn).clamp(0.0, FRAC_PI_2);
        begins + off * self.off_m
    }
}
