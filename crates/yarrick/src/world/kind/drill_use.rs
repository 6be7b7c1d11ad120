//! The drills that units of a kind go by.

use serde::{Deserialize, Serialize};

/// A drill that units of a kind go by.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct DrillUse {
    /// The number of the drill in the program of the world.
    pub drill: u16,
    /// Dials that are set otherwise than the drill has them: the number of each, and its value in base units.
    pub dials: Vec<(u16, f32)>,
}

impl DrillUse {
    /// A drill with its dials as they are.
    #[must_use]
    pub fn of(drill: u16) -> DrillUse {
        DrillUse {
            drill,
            dials: Vec::new(),
        }
    }
}
