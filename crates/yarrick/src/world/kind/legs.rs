//! How a kind moves.

use super::property::{Access, Number, OfKind, Property, Range, Sort, Unit, number};
use super::{Body, Kind};
use crate::motion::steering::{CREEP, Turning};
use serde::{Deserialize, Serialize};

/// How a kind walks, drives, swims or flies: what its legs can do.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Legs {
    /// Its top speed on plain ground in metres a second, at most [`Legs::MAX_SPEED`]. With `0` it does not move, as
    /// one without legs.
    pub speed: f32,
    /// How fast it slows to a stop, in metres a second squared; from 0.01 to [`Legs::MAX_BRAKING`]. Higher stops later
    /// and more abruptly.
    pub braking: f32,
    /// Acceleration in metres a second squared, from 0.01 to [`Legs::MAX_BRAKING`]. `None`: full speed at once. With it,
    /// a unit that is ordered to stand brakes first.
    pub acceleration: Option<f32>,
    /// Whether it has to face where it goes, and turns on the spot or only while it drives.
    pub turning: Turning,
}

impl Legs {
    /// The highest speed allowed, in metres a second.
    pub const MAX_SPEED: f32 = 100.0;
    /// The hardest braking allowed, in metres a second squared.
    pub const MAX_BRAKING: f32 = 1000.0;

    /// Legs of `speed` metres a second that stop within half a second, are at full speed at once, and go in any
    /// direction.
    #[must_use]
    pub fn of_speed(speed: f32) -> Legs {
        Legs {
            speed,
            braking: (speed * 2.0).clamp(0.1, Legs::MAX_BRAKING),
            acceleration: None,
            turning: Turning::Free,
        }
    }

    /// How long it takes them to get a point beside them in front of them, in seconds, if they turn only while they drive.
    pub(crate) fn manoeuvre_s(&self) -> f32 {
        match self.turning {
            Turning::Driving { circle_m } => 2.0 * circle_m / (self.speed * CREEP).max(0.01),
            Turning::Free | Turning::OnTheSpot => 0.0,
        }
    }

    /// Whether they take time to gather speed, or have to face where they go.
    pub(crate) fn drive(&self) -> bool {
        self.acceleration.is_some() || self.turning != Turning::Free
    }
}

/// The words for the ways to turn.
const TURNINGS: [&str; 3] = ["free", "on-the-spot", "driving"];

const BRAKING: Range = Unit::METRES_A_SECOND_SQUARED.between(0.01, Legs::MAX_BRAKING);

/// What most of these need.
const LEGS: &str = "a speed above 0";

pub(super) const PROPERTIES: &[Property] = &[
    OfKind::new(
        "gait",
        "how it goes over the ground",
        "`\"foot\"`",
        Sort::Gait(Access {
            get: |kind| kind.body.gait,
            set: |kind, gait| kind.body.gait = gait,
        }),
    ),
    OfKind::number(
        "at its fastest on plain ground; 0 for what never moves",
        "",
        Number {
            key: "speed",
            range: Unit::METRES_A_SECOND.between(0.0, Legs::MAX_SPEED),
            get: |kind| Some(kind.speed().into()),
            set: |kind, speed| kind.legs = (speed > 0.0).then(|| Legs::of_speed(speed as f32)),
        },
    )
    .needed_unless("0 for buildings and deposits"),
    OfKind::number(
        "how fast it slows to a stop",
        "twice its speed",
        number!("braking", BRAKING, legs?.braking),
    )
    .needing(LEGS),
    OfKind::number(
        "how fast it gathers speed",
        "at once",
        Number {
            key: "acceleration",
            range: BRAKING,
            get: |kind| Some(kind.legs?.acceleration?.into()),
            set: |kind, acceleration| {
                if let Some(legs) = &mut kind.legs {
                    legs.acceleration = Some(acceleration as f32);
                }
            },
        },
    )
    .needing(LEGS),
    OfKind::new(
        "turning",
        "how it turns: [how a body moves](6-groups.md#how-a-body-moves)",
        "`\"free\"`",
        Sort::Word(
            Access {
                get: |kind| match kind.legs.map(|legs| legs.turning) {
                    None | Some(Turning::Free) => 0,
                    Some(Turning::OnTheSpot) => 1,
                    Some(Turning::Driving { .. }) => 2,
                },
                set: set_turning,
            },
            &TURNINGS,
        ),
    )
    .needing(LEGS),
    OfKind::number(
        "the radius of its tightest circle, with `\"driving\"`",
        "2 radii",
        Number {
            key: "circle",
            range: Unit::METRES.between(Body::MIN_RADIUS_M, Body::MAX_RADIUS_M),
            get: |kind| match kind.legs?.turning {
                Turning::Driving { circle_m } => Some(circle_m.into()),
                Turning::Free | Turning::OnTheSpot => None,
            },
            set: |kind, circle| {
                let turning = kind.legs.as_mut().map(|legs| &mut legs.turning);
                if let Some(Turning::Driving { circle_m }) = turning {
                    *circle_m = circle as f32;
                }
            },
        },
    )
    .needing("the turning \"driving\""),
];

fn set_turning(kind: &mut Kind, word: usize) {
    if let Some(legs) = &mut kind.legs {
        legs.turning = match word {
            0 => Turning::Free,
            1 => Turning::OnTheSpot,
            _ => Turning::Driving {
                circle_m: kind.body.radius_m * 2.0,
            },
        };
    }
}
