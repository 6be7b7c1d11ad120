//! What a class of ground is like.

use serde::{Deserialize, Serialize};

/// A class of ground.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Terrain {
    /// What it is called in messages and legends.
    pub name: String,
    /// How fast units go on it, as a factor on their own speed: `1` is plain ground, `0.5` half
    /// as fast. From [`Terrain::SLOWEST`] to [`Terrain::FASTEST`].
    pub speed: f32,
    /// Whether units can enter it.
    pub passable: bool,
    /// Whether it hides what lies behind it.
    pub blocks_sight: bool,
}

impl Terrain {
    /// The smallest speed factor allowed. Ground slower than this is better closed.
    pub const SLOWEST: f32 = 0.1;
    /// The largest speed factor allowed.
    pub const FASTEST: f32 = 4.0;

    /// Ground that is walked at the unit's own speed and hides nothing.
    #[must_use]
    pub fn open(name: &str) -> Terrain {
        Terrain {
            name: name.to_owned(),
            speed: 1.0,
            passable: true,
            blocks_sight: false,
        }
    }

    /// Ground that cannot be entered, and hides nothing.
    #[must_use]
    pub fn closed(name: &str) -> Terrain {
        Terrain {
            passable: false,
            ..Terrain::open(name)
        }
    }

    /// The same ground, walked at `speed` times a unit's own speed.
    #[must_use]
    pub fn with_speed(self, speed: f32) -> Terrain {
        Terrain { speed, ..self }
    }

    /// The same ground, hiding what lies behind it.
    #[must_use]
    pub fn blocking_sight(self) -> Terrain {
        Terrain {
            blocks_sight: true,
            ..self
        }
    }
}
