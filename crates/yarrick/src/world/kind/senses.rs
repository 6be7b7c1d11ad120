//! What a kind notices of the world around it.

use super::property::{Number, OfKind, Property, Unit, number};
use serde::{Deserialize, Serialize};

/// What a kind notices.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Senses {
    /// How far it notices foes, in metres from its edge to theirs, at most [`Senses::MAX_NOTICE_M`]. Raised, units on an
    /// attack-move, a patrol or on guard go for foes that are farther off.
    pub notice_m: f32,
    /// How often it looks for foes, in seconds between two looks, at most [`Senses::MAX_LOOK_EVERY_S`]; at least once a
    /// tick apart. Apart from the cooldown of its weapon. Raised, it costs less and reacts later.
    pub look_every_s: f32,
}

impl Senses {
    /// The farthest that a kind may notice foes, in metres.
    pub const MAX_NOTICE_M: f32 = 200.0;
    /// How much farther than its weapon reaches a kind of which no more is known notices foes, in metres.
    pub const USUAL_NOTICE_BEYOND_M: f32 = 5.0;
    /// The rarest look allowed, in seconds from one to the next.
    pub const MAX_LOOK_EVERY_S: f32 = 60.0;
    /// How often a kind of which no more is known looks for foes, in seconds.
    pub const USUAL_LOOK_EVERY_S: f32 = 0.2;

    /// Senses that notice foes within `notice_m` metres, and look as often as usual.
    #[must_use]
    pub fn noticing(notice_m: f32) -> Senses {
        Senses {
            notice_m,
            look_every_s: Senses::USUAL_LOOK_EVERY_S,
        }
    }
}

pub(super) const PROPERTIES: &[Property] = &[
    OfKind::number(
        "how far it notices foes, from edge to edge",
        "its range and 5 m",
        Number {
            key: "notice",
            range: Unit::METRES.between(0.0, Senses::MAX_NOTICE_M),
            get: |kind| Some(kind.notice_m().into()),
            set: |kind, notice| {
                let notice_m = notice as f32;
                kind.senses = (notice > 0.0).then(|| Senses::noticing(notice_m));
            },
        },
    ),
    OfKind::number(
        "how often it looks for foes: the time from one look to the next, at least a tick",
        "0.2",
        number!(
            "look_every",
            Unit::SECONDS.between(0.0, Senses::MAX_LOOK_EVERY_S),
            senses?.look_every_s
        ),
    )
    .needing("a weapon or a `notice` above 0"),
];
