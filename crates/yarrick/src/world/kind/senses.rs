//! What a kind notices of the world around it.

use super::property::{Number, Property, Unit};
use serde::{Deserialize, Serialize};

/// What a kind notices.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Senses {
    /// How far it notices foes, in metres from its edge to theirs, at most [`Senses::MAX_NOTICE_M`]. Raised, units on an
    /// attack-move, a patrol or on guard go for foes that are farther off.
    pub notice_m: f32,
}

impl Senses {
    /// The farthest that a kind may notice foes, in metres.
    pub const MAX_NOTICE_M: f32 = 200.0;
    /// How much farther than its weapon reaches a kind of which no more is known notices foes, in metres.
    pub const USUAL_NOTICE_BEYOND_M: f32 = 5.0;
}

pub(super) const PROPERTIES: &[Property] = &[Property::number(
    "how far it notices foes, from edge to edge",
    "its range and 5 m",
    Number {
        key: "notice",
        range: Unit::METRES.between(0.0, Senses::MAX_NOTICE_M),
        get: |kind| Some(kind.notice_m().into()),
        set: |kind, notice| {
            let notice_m = notice as f32;
            kind.senses = (notice > 0.0).then_some(Senses { notice_m });
        },
    },
)];
