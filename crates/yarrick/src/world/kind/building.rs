//! What makes a kind a building.

use super::Kind;
use super::property::{Access, Property, Sort, Unit};

pub(super) const PROPERTIES: &[Property] = &[
    Property::new(
        "footprint",
        "length along its facing and width across it: the ground that a building covers",
        "round",
        Sort::Size(
            Access {
                get: |kind| kind.footprint_m,
                set: |kind, footprint| kind.footprint_m = footprint,
            },
            Unit::METRES.between(Kind::MIN_RADIUS_M, Kind::MAX_RADIUS_M),
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
