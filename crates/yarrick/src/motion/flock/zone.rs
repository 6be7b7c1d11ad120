//! Zones: where a flock is kept, what draws it, and what drives it off.

use super::FlockParams;
use crate::geom::{Edge, Outline, OutlineError, Vec2, angle};
use serde::{Deserialize, Serialize};

/// What a zone does to a flock.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum ZoneRole {
    /// It keeps the flock in: nobody who is inside crosses its edge while it stays where it is. The pull inward begins
    /// `margin_m` before the edge, and is full there.
    Pen,
    /// It draws those at its edge to its middle with its full weight, those outside with less the farther they are, up to
    /// `margin_m` from its edge, and those inside with less the nearer they are to the middle: once there, they spread
    /// over it.
    Lure,
    /// It drives off those inside with its full weight, and those outside with less the farther they are, up to
    /// `margin_m` from its edge.
    Scare,
}

/// A zone of a flock.
///
/// ```text
///   pen                 lure, scare
///   |──────edge──────|  · · · · · · · · ·   the edge of the margin: nothing beyond
///   | · · margin · · |  ·  |──edge───|  ·
///   | ·    free    · |  ·  |  full   |  ·   in the margin the pull fades smoothly
///   | · · · · · ·  · |  ·  |─────────|  ·
///   |────────────────|  · · · · · · · · ·
/// ```
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Zone {
    /// What it does.
    pub role: ZoneRole,
    /// Its form, about `at` and turned by `facing`.
    pub outline: Outline,
    /// Where it is, in metres.
    pub at: Vec2,
    /// How it is turned, in radians.
    pub facing: f32,
    /// The soft part of it, in metres: inside the edge of a pen, outside that of a lure or a scare.
    pub margin_m: f32,
    /// How much it counts, beside the weights of the rules of a flock.
    pub weight: f32,
    /// Whether it works.
    pub is_on: bool,
}

/// What is wrong with a zone.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
pub enum ZoneError {
    /// Its outline.
    #[error(transparent)]
    Outline(#[from] OutlineError),
    /// A number is below zero, infinite or none at all.
    #[error("{what} is {value}, and must be a number of 0 or more")]
    OutOfRange {
        /// The field.
        what: &'static str,
        /// What was given.
        value: f32,
    },
    /// Its place or direction is not a number.
    #[error("the zone's place or direction is not a finite number")]
    NotFinite,
    /// Members could not turn within the pen.
    #[error(
        "the pen is too narrow: its largest circle has a radius of {inside_m} m, and members at their lowest speed turn on one of {needed_m} m"
    )]
    TooNarrow {
        /// The radius of the largest circle within it.
        inside_m: f32,
        /// The radius of the tightest turn.
        needed_m: f32,
    },
    /// The flock is kept by another pen, and nobody could be in both.
    #[error(
        "the pen lies apart from another of the flock: nobody could be in both. Switch the other off, or remove it"
    )]
    Apart,
    /// More zones than [`MAX_ZONES`](super::MAX_ZONES).
    #[error("a flock has at most {} zones", super::MAX_ZONES)]
    TooMany,
}

impl ZoneRole {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, ZoneRole); 3] = [
        ("pen", ZoneRole::Pen),
        ("lure", ZoneRole::Lure),
        ("scare", ZoneRole::Scare),
    ];

    /// The word for it in scenario files.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            ZoneRole::Pen => "pen",
            ZoneRole::Lure => "lure",
            ZoneRole::Scare => "scare",
        }
    }
}

impl Zone {
    /// A zone that works, of weight 4, with a margin of 2 metres.
    #[must_use]
    pub fn new(role: ZoneRole, outline: Outline, at: Vec2) -> Zone {
        Zone {
            role,
            outline,
            at,
            facing: 0.0,
            margin_m: 2.0,
            weight: 4.0,
            is_on: true,
        }
    }

    /// Checks it against the parameters of the flock that it is for.
    ///
    /// # Errors
    ///
    /// [`ZoneError`]: the first error.
    pub fn check(&self, params: &FlockParams) -> Result<(), ZoneError> {
        self.outline.check()?;
        for (what, value) in [("the margin", self.margin_m), ("the weight", self.weight)] {
            if !(value >= 0.0 && value.is_finite()) {
                return Err(ZoneError::OutOfRange { what, value });
            }
        }
        if !(self.at.is_finite() && self.facing.is_finite()) {
            return Err(ZoneError::NotFinite);
        }
        let needed_m = params.speed.0 / params.turn_rate;
        let inside_m = self.outline.inradius_m();
        if self.role == ZoneRole::Pen && inside_m < needed_m {
            Err(ZoneError::TooNarrow { inside_m, needed_m })
        } else {
            Ok(())
        }
    }

    /// Its edge as seen from a point.
    #[must_use]
    pub fn edge(&self, point: Vec2) -> Edge {
        let ahead = angle::direction(self.facing);
        let offset = point - self.at;
        let local = Vec2::new(offset.dot(ahead), offset.dot(ahead.perp()));
        let edge = self.outline.edge(local);
        Edge {
            inward: ahead * edge.inward.x + ahead.perp() * edge.inward.y,
            ..edge
        }
    }

    /// How it pulls one who is at a point: a direction, and in its length the weight with which it does. Zero if the
    /// zone is off.
    #[must_use]
    pub fn pull(&self, point: Vec2) -> Vec2 {
        let reaches = match self.role {
            ZoneRole::Pen => f32::INFINITY,
            ZoneRole::Lure | ZoneRole::Scare => self.outline.reach_m() + self.margin_m,
        };
        let to_middle = self.at - point;
        if !self.is_on || to_middle.length_squared() > reaches * reaches {
            return Vec2::ZERO;
        }
        let Edge { depth_m, inward } = self.edge(point);
        match self.role {
            ZoneRole::Pen => inward * (self.weight * fading(depth_m, self.margin_m)),
            ZoneRole::Lure => {
                let home = to_middle / self.outline.inradius_m().max(1e-3);
                home.clamp_length_max(1.0) * (self.weight * fading(-depth_m, self.margin_m))
            }
            ZoneRole::Scare => -inward * (self.weight * fading(-depth_m, self.margin_m)),
        }
    }

    /// Its middle and the radius of a circle round it that holds it.
    pub(super) fn holds(&self) -> (Vec2, f32) {
        (self.at, self.outline.reach_m())
    }
}

/// `1` up to the edge, `0` from the margin beyond it on, and smooth in between.
fn fading(beyond_m: f32, margin_m: f32) -> f32 {
    if beyond_m <= 0.0 {
        1.0
    } else if beyond_m >= margin_m {
        0.0
    } else {
        let left = 1.0 - beyond_m / margin_m;
        left * left * (3.0 - 2.0 * left)
    }
}
