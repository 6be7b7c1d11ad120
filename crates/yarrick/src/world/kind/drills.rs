//! The drills that a kind goes by, as scenario files give them.

use super::property::{Access, OfKind, Property, Sort};

pub(super) const PROPERTIES: &[Property] = &[
    OfKind::new(
        "drills",
        "the drills that it goes by, each driving other faculties",
        "none",
        Sort::Drills(Access {
            get: |kind| kind.drills.clone(),
            set: |kind, drills| kind.drills = drills,
        }),
    ),
    OfKind::new(
        "dials",
        "dials of its drills that are set otherwise: `{ width = 4 }`, in the unit of the dial",
        "as the drills have them",
        Sort::Dials(Access {
            get: |kind| kind.drills.clone(),
            set: |kind, drills| kind.drills = drills,
        }),
    )
    .needing("a drill with that dial"),
];
