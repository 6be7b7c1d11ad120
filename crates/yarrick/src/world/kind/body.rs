//! What the body of a kind is like.

use super::property::{Access, Number, Property, Sort, Unit, number};
use super::{Kind, Rank};

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
    Property::new(
        "glyph",
        "the character in pictures",
        "first of the name, or that of the base",
        Sort::Glyph(Access {
            get: |kind| kind.glyph,
            set: |kind, glyph| kind.glyph = glyph,
        }),
    ),
    Property::new(
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
    Property::number(
        "of its body",
        "",
        Number {
            key: "radius",
            range: Unit::METRES.between(Kind::MIN_RADIUS_M, Kind::MAX_RADIUS_M),
            get: |kind| Some(kind.radius_m.into()),
            set: |kind, radius| kind.set_radius(radius as f32),
        },
    )
    .needed()
    .also(", and 16 cells"),
    Property::number(
        "how tall it is, for picking it on a screen",
        "4 radii",
        number!(
            "height",
            Unit::METRES.between(0.0, Kind::MAX_HEIGHT_M),
            height_m
        ),
    ),
    Property::number(
        "how fast it turns",
        "360",
        Number {
            key: "turn_rate",
            range: Unit::DEGREES_A_SECOND.between(0.0, 3600.0),
            get: |kind| Some(f64::from(kind.turn_rate).to_degrees()),
            set: |kind, degrees| kind.turn_rate = degrees.to_radians() as f32,
        },
    ),
    Property::number(
        "what it can suffer; 0 for what cannot be harmed",
        "100; 0 for deposits",
        number!(
            "health",
            Unit::POINTS.between(0.0, Kind::MAX_HEALTH),
            health
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
        kind.health = 0.0;
    }
}
