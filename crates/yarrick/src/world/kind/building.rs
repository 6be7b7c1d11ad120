//! What makes a kind a building: its footprint, and its rally point.

use super::property::{Access, OfKind, Property, Sort, Unit};
use super::{Body, Kind};
use crate::geom::Vec2;
use serde::{Deserialize, Serialize};

/// The box that a kind takes up. It is what is picked, what ranges are measured to, and, if the kind cannot move, the
/// ground that it closes: the radius of its body plays no part there.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Footprint {
    /// Its length along the facing and its width across it in metres, each from [`Body::MIN_RADIUS_M`] to
    /// [`Body::MAX_RADIUS_M`].
    pub size_m: Vec2,
    /// Where its middle is, seen from the position of the unit: metres ahead and to the left, each at most
    /// [`Body::MAX_RADIUS_M`]. A building turns about its position.
    pub offset_m: Vec2,
}

impl Footprint {
    /// A box of `size_m` metres, length by width, with the position of the unit in its middle.
    #[must_use]
    pub fn of_size(size_m: Vec2) -> Footprint {
        Footprint {
            size_m,
            offset_m: Vec2::ZERO,
        }
    }
}

pub(super) const PROPERTIES: &[Property] = &[
    OfKind::new(
        "footprint",
        "length along its facing and width across it: the ground that a building covers",
        "round; the square round its radius for a building that cannot move",
        Sort::Pair(
            Access {
                get: |kind| Some(kind.footprint?.size_m),
                set: |kind, size| kind.footprint = size.map(Footprint::of_size),
            },
            Unit::METRES.between(Body::MIN_RADIUS_M, Body::MAX_RADIUS_M),
            "numbers [length, width]",
        ),
    ),
    OfKind::new(
        "footprint_offset",
        "where its middle is, seen from the position of the unit: how far ahead, and how far to the left",
        "`[0, 0]`",
        Sort::Pair(
            Access {
                get: |kind| Some(kind.footprint?.offset_m),
                set: set_offset,
            },
            Unit::METRES.between(-Body::MAX_RADIUS_M, Body::MAX_RADIUS_M),
            "numbers [ahead, left]",
        ),
    )
    .needing("a footprint"),
    OfKind::new(
        "rallies",
        "whether it has a rally point",
        "true for buildings",
        Sort::Flag(Access {
            get: |kind| kind.rallies,
            set: |kind, rallies| kind.rallies = rallies,
        }),
    ),
];

/// Shifts the footprint that the kind has, or that follows from its rank and radius.
fn set_offset(kind: &mut Kind, offset: Option<Vec2>) {
    let offset_m = offset.unwrap_or_default();
    let footprint = kind.footprint_or_square();
    kind.footprint = footprint.map(|footprint| Footprint {
        offset_m,
        ..footprint
    });
}
