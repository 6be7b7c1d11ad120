//! Sides, and the kinds of unit that there are.

use super::WorldError;
use crate::geom::Vec2;
use crate::ground::{Ground, Passage};
use core::fmt;
use serde::{Deserialize, Serialize};

/// Names a side, by its place in the list of sides.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct SideId(pub u8);

/// Names a kind, by its place in the roster.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct KindId(pub u16);

impl fmt::Display for SideId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "side {}", self.0)
    }
}

/// The most sides that a world has.
pub const MAX_SIDES: usize = 16;

/// The most kinds that a roster has.
pub const MAX_KINDS: usize = 1024;

/// Who owns units and gives commands.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Side {
    /// What it is called.
    pub name: String,
}

impl Side {
    /// A side called `name`.
    #[must_use]
    pub fn new(name: &str) -> Side {
        Side {
            name: name.to_owned(),
        }
    }
}

/// What a kind is for: of all that a box touches, those of the foremost rank are selected.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Rank {
    /// It fights.
    Fighter,
    /// It works. Workers without orders are idle.
    Worker,
    /// It is a building.
    Building,
}

/// A sort of unit.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Kind {
    /// What it is called.
    pub name: String,
    /// The character that stands for it in pictures.
    pub glyph: char,
    /// What it is for.
    pub rank: Rank,
    /// The radius of its body in metres, from [`Kind::MIN_RADIUS_M`] to
    /// [`Kind::MAX_RADIUS_M`]. A wider body keeps more room and fits through fewer gaps.
    pub radius_m: f32,
    /// Its length along its facing and its width across it in metres, for a building that is
    /// picked by the ground it covers; from [`Kind::MIN_RADIUS_M`] to [`Kind::MAX_RADIUS_M`].
    /// `None` for bodies that are round.
    pub footprint_m: Option<Vec2>,
    /// How tall it is in metres, at most [`Kind::MAX_HEIGHT_M`]: for picking it on a screen.
    pub height_m: f32,
    /// Its top speed on plain ground in metres a second, at most [`Kind::MAX_SPEED`]. `0` for
    /// what never moves.
    pub speed: f32,
    /// How fast it turns, in radians a second; at most [`Kind::MAX_TURN_RATE`].
    pub turn_rate: f32,
    /// How fast it slows to a stop, in metres a second squared; above 0 and at most
    /// [`Kind::MAX_BRAKING`]. Higher stops later and more abruptly.
    pub braking: f32,
}

impl Kind {
    /// The smallest radius allowed, in metres.
    pub const MIN_RADIUS_M: f32 = 0.05;
    /// The largest radius allowed, in metres.
    pub const MAX_RADIUS_M: f32 = 50.0;
    /// The greatest height allowed, in metres.
    pub const MAX_HEIGHT_M: f32 = 100.0;
    /// The highest speed allowed, in metres a second.
    pub const MAX_SPEED: f32 = 100.0;
    /// The highest turn rate allowed, in radians a second: ten turns.
    pub const MAX_TURN_RATE: f32 = 62.831_855;
    /// The hardest braking allowed, in metres a second squared.
    pub const MAX_BRAKING: f32 = 1000.0;

    /// A fighter of `radius_m` metres and `speed` metres a second that turns once a second,
    /// stops within half a second, and is four radii tall. The first letter of its name is its
    /// glyph.
    #[must_use]
    pub fn walker(name: &str, radius_m: f32, speed: f32) -> Kind {
        Kind {
            name: name.to_owned(),
            glyph: name.chars().next().unwrap_or('?'),
            rank: Rank::Fighter,
            radius_m,
            footprint_m: None,
            height_m: radius_m * 4.0,
            speed,
            turn_rate: core::f32::consts::TAU,
            braking: (speed * 2.0).clamp(0.1, Kind::MAX_BRAKING),
        }
    }

    /// How far its body reaches from its middle, in metres.
    pub(super) fn reach_m(&self) -> f32 {
        let corner = self.footprint_m.map_or(0.0, |size| size.length() * 0.5);
        self.radius_m.max(corner)
    }

    pub(super) fn check(&self, ground: &Ground) -> Result<(), WorldError> {
        let widest = (Passage::MAX_RADIUS_CELLS * ground.cell_m()).min(Kind::MAX_RADIUS_M);
        let (least, most) = (Kind::MIN_RADIUS_M, Kind::MAX_RADIUS_M);
        let footprint = self.footprint_m.unwrap_or(Vec2::splat(least));
        for (what, value, low, high) in [
            ("length", footprint.x, least, most),
            ("width", footprint.y, least, most),
            ("radius", self.radius_m, Kind::MIN_RADIUS_M, widest),
            ("height", self.height_m, 0.0, Kind::MAX_HEIGHT_M),
            ("speed", self.speed, 0.0, Kind::MAX_SPEED),
            ("turn rate", self.turn_rate, 0.0, Kind::MAX_TURN_RATE),
            ("braking", self.braking, 0.01, Kind::MAX_BRAKING),
        ] {
            if !(low..=high).contains(&value) {
                return Err(WorldError::BadKind {
                    kind: self.name.clone(),
                    what,
                    value,
                    low,
                    high,
                });
            }
        }
        Ok(())
    }
}
