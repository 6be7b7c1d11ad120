//! What makes a kind a building.

use super::Kind;
use super::property::{Access, Property, Sort, Unit};

pub(super) const PROPERTIES: &[Property] = &[
    Property::new(
        "footprint",
        "length along its facing and width across it: the ground that a building covers",
        "round; the square round its radius for a building that cannot move",
        Sort::Pair(
            Access {
                get: |kind| kind.footprint_m,
                set: |kind, footprint| kind.footprint_m = footprint,
            },
            Unit::METRES.between(Kind::MIN_RADIUS_M, Kind::MAX_RADIUS_M),
            "numbers [length, width]",
        ),
    ),
    Property::new(
        "footprint_offset",
        "where its middle is, seen from the position of the unit: how far ahead, and how far to the left",
        "`[0, 0]`",
        Sort::Pair(
            Access {
                get: |kind| Some(kind.footprint_offset_m),
                set: |kind, offset| kind.footprint_offset_m = offset.unwrap_or_default(),
            },
            Unit::METRES.between(-Kind::MAX_RADIUS_M, Kind::MAX_RADIUS_M),
            "numbers [ahead, left]",
        ),
    ),
    Property::new(
        "rallies",
        "whether it has a rally point",
        "true for buildings",
        Sort::Flag(Access {
            get: |kind| kind.rallies,
            set: |kind, rallies| kind.rallies = rallies,
        }),
    ),
];
