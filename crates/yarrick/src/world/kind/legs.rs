//! How a kind moves.

use super::Kind;
use super::property::{Access, Number, Property, Range, Sort, Unit, number};
use crate::motion::steering::Turning;

/// The words for the ways to turn.
const TURNINGS: [&str; 3] = ["free", "on-the-spot", "driving"];

const BRAKING: Range = Unit::METRES_A_SECOND_SQUARED.between(0.01, Kind::MAX_BRAKING);

pub(super) const PROPERTIES: &[Property] = &[
    Property::new(
        "gait",
        "how it goes over the ground",
        "`\"foot\"`",
        Sort::Gait(Access {
            get: |kind| kind.gait,
            set: |kind, gait| kind.gait = gait,
        }),
    ),
    Property::number(
        "at its fastest on plain ground; 0 for what never moves",
        "",
        Number {
            key: "speed",
            range: Unit::METRES_A_SECOND.between(0.0, Kind::MAX_SPEED),
            get: |kind| Some(kind.speed.into()),
            set: |kind, speed| kind.set_speed(speed as f32),
        },
    )
    .needed(),
    Property::number(
        "how fast it slows to a stop",
        "twice its speed",
        number!("braking", BRAKING, braking),
    ),
    Property::number(
        "how fast it gathers speed",
        "at once",
        Number {
            key: "acceleration",
            range: BRAKING,
            get: |kind| kind.acceleration.map(f64::from),
            set: |kind, acceleration| kind.acceleration = Some(acceleration as f32),
        },
    ),
    Property::new(
        "turning",
        "how it turns: [how a body moves](6-groups.md#how-a-body-moves)",
        "`\"free\"`",
        Sort::Word(
            Access {
                get: |kind| match kind.turning {
                    Turning::Free => 0,
                    Turning::OnTheSpot => 1,
                    Turning::Driving { .. } => 2,
                },
                set: |kind, word| {
                    kind.turning = match word {
                        0 => Turning::Free,
                        1 => Turning::OnTheSpot,
                        _ => Turning::Driving {
                            circle_m: kind.radius_m * 2.0,
                        },
                    }
                },
            },
            &TURNINGS,
        ),
    ),
    Property::number(
        "the radius of its tightest circle, with `\"driving\"`",
        "2 radii",
        Number {
            key: "circle",
            range: Unit::METRES.between(Kind::MIN_RADIUS_M, Kind::MAX_RADIUS_M),
            get: |kind| match kind.turning {
                Turning::Driving { circle_m } => Some(circle_m.into()),
                Turning::Free | Turning::OnTheSpot => None,
            },
            set: |kind, circle| {
                if let Turning::Driving { circle_m } = &mut kind.turning {
                    *circle_m = circle as f32;
                }
            },
        },
    ),
];
