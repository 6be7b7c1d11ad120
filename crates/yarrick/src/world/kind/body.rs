//! What the body of a kind is like.

use super::property::{Access, Number, OfKind, Property, Sort, Unit, number};
use super::{Kind, Rank};
use crate::ground::GaitId;
use serde::{Deserialize, Serialize};

/// What every unit has: it takes up room, stands on ground of some sort, turns, and can be harmed.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Body {
    /// Its radius in metres, from [`Body::MIN_RADIUS_M`] to [`Body::MAX_RADIUS_M`]. A wider body keeps more room and
    /// fits through fewer gaps.
    pub radius_m: f32,
    /// How tall it is in metres, at most [`Body::MAX_HEIGHT_M`]: for picking it on a screen.
    pub height_m: f32,
    /// Which ground it may stand on, and how it goes over it: one of the gaits of the map.
    pub gait: GaitId,
    /// How fast it turns, in radians a second; at most [`Body::MAX_TURN_RATE`]. What cannot walk turns to aim.
    pub turn_rate: f32,
    /// What it can suffer before it dies, in points, at most [`Body::MAX_HEALTH`]. `0` for what cannot be harmed.
    pub health: f32,
}

impl Body {
    /// The smallest radius allowed, in metres.
    pub const MIN_RADIUS_M: f32 = 0.05;
    /// The largest radius allowed, in metres.
    pub const MAX_RADIUS_M: f32 = 50.0;
    /// The greatest height allowed, in metres.
    pub const MAX_HEIGHT_M: f32 = 100.0;
    /// The highest turn rate allowed, in radians a second: ten turns.
    pub const MAX_TURN_RATE: f32 = 62.831_855;
    /// The most health allowed, in points.
    pub const MAX_HEALTH: f32 = 1_000_000.0;
    /// The health of a body of which no more is known, in points.
    pub const USUAL_HEALTH: f32 = 100.0;

    /// A body of `radius_m` metres that is four radii tall, goes on foot, turns once a second and has
    /// [`Body::USUAL_HEALTH`].
    #[must_use]
    pub fn of_radius(radius_m: f32) -> Body {
        Body {
            radius_m,
            height_m: radius_m * 4.0,
            gait: GaitId::default(),
            turn_rate: core::f32::consts::TAU,
            health: Body::USUAL_HEALTH,
        }
    }
}

/// The words for the ranks.
const RANKS: [&str; Rank::WORDS.len()] = {
    let mut words = [""; Rank::WORDS.len()];
    let mut at = 0;
    while at < words.len() {
        words[at] = Rank::WORDS[at].0;
        at += 1;
    }
    words
};

pub(super) const PROPERTIES: &[Property] = &[
    OfKind::new(
        "glyph",
        "the character in pictures",
        "first of the name, or that of the base",
        Sort::Glyph(Access {
            get: |kind| kind.glyph,
            set: |kind, glyph| kind.glyph = glyph,
        }),
    ),
    OfKind::new(
        "rank",
        "what it is for: a box prefers fighters over workers over buildings",
        "`\"fighter\"`",
        Sort::Word(
            Access {
                get: |kind| {
                    let rank = Rank::WORDS.iter().position(|(_, rank)| *rank == kind.rank);
                    rank.unwrap_or_default()
                },
                set: set_rank,
            },
            &RANKS,
        ),
    ),
    OfKind::number(
        "of its body",
        "",
        Number {
            key: "radius",
            range: Unit::METRES.between(Body::MIN_RADIUS_M, Body::MAX_RADIUS_M),
            get: |kind| Some(kind.body.radius_m.into()),
            set: |kind, radius| {
                let usual = Body::of_radius(radius as f32);
                kind.body.radius_m = usual.radius_m;
                kind.body.height_m = usual.height_m;
            },
        },
    )
    .needed_unless("half the shorter side of a footprint")
    .also(", and 16 cells"),
    OfKind::number(
        "how tall it is, for picking it on a screen",
        "4 radii",
        number!(
            "height",
            Unit::METRES.between(0.0, Body::MAX_HEIGHT_M),
            body.height_m
        ),
    ),
    OfKind::number(
        "how fast it turns",
        "360",
        Number {
            key: "turn_rate",
            range: Unit::DEGREES_A_SECOND.between(0.0, 3600.0),
            get: |kind| Some(f64::from(kind.body.turn_rate).to_degrees()),
            set: |kind, degrees| kind.body.turn_rate = degrees.to_radians() as f32,
        },
    ),
    OfKind::number(
        "what it can suffer; 0 for what cannot be harmed",
        "100; 0 for deposits",
        number!(
            "health",
            Unit::POINTS.between(0.0, Body::MAX_HEALTH),
            body.health
        ),
    ),
];

/// What a kind is for decides what else it is, unless that is given: deposits are used up, not struck down, and units
/// come out of buildings.
fn set_rank(kind: &mut Kind, word: usize) {
    let Some((_, rank)) = Rank::WORDS.get(word) else {
        return;
    };
    kind.rank = *rank;
    kind.rallies = *rank == Rank::Building;
    if *rank == Rank::Deposit {
        kind.body.health = 0.0;
    }
}
