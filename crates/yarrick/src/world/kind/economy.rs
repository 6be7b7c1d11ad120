//! What a kind is in the economy: what it costs, what it gathers, holds, takes in, produces and builds.

use super::property::{Access, Number, OfKind, Property, Range, Sort, Unit};
use super::{Kind, KindId};
use crate::economy::{MAX_IN_LINE, Price, ResourceId, Rhythm};
use serde::{Deserialize, Serialize};

/// What it takes to make one: in a production line, or on a site.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Cost {
    /// What is paid.
    pub price: Price,
    /// How long it takes, in seconds, at most [`Cost::MAX_TIME_S`]: in a production line, or with one builder at work.
    pub time_s: f32,
}

impl Cost {
    /// The longest time allowed, in seconds.
    pub const MAX_TIME_S: f32 = 3600.0;
}

impl Default for Cost {
    /// Nothing, and five seconds.
    fn default() -> Cost {
        Cost {
            price: Price::default(),
            time_s: 5.0,
        }
    }
}

/// How a kind works: on deposits, and on sites.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Work {
    /// How much of a resource it carries. With `0` it does not gather.
    pub carries: u32,
    /// From one stroke to the next, in seconds; from [`Work::MIN_STROKE_S`] to [`Work::MAX_STROKE_S`].
    pub stroke_every_s: f32,
    /// How far from a deposit that is empty it looks for another of the same kind, in metres; at most
    /// [`Work::MAX_LOOK_ON_M`].
    pub look_on_m: f32,
    /// What it builds.
    pub builds: Vec<KindId>,
}

impl Work {
    /// The most that is carried.
    pub const MAX_CARRIED: u32 = 10_000;
    /// The shortest and the longest time from one stroke to the next, in seconds.
    pub const MIN_STROKE_S: f32 = 0.05;
    /// See [`Work::MIN_STROKE_S`].
    pub const MAX_STROKE_S: f32 = 60.0;
    /// The farthest look for another deposit, in metres.
    pub const MAX_LOOK_ON_M: f32 = 1000.0;
}

impl Default for Work {
    /// A stroke every half second, and a look of 15 m. It carries and builds nothing.
    fn default() -> Work {
        Work {
            carries: 0,
            stroke_every_s: 0.5,
            look_on_m: 15.0,
            builds: Vec::new(),
        }
    }
}

/// What a kind holds that can be gathered from it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Holding {
    /// The resource.
    pub resource: ResourceId,
    /// How much of it there is at the start, at most [`Holding::MAX_AMOUNT`].
    pub amount: u32,
    /// How many can work there at a time, 1 to [`Holding::MAX_SLOTS`]: their places are spread evenly round it.
    pub slots: u16,
    /// In which strokes there is an item.
    pub rhythm: Rhythm,
}

impl Holding {
    /// The largest amount.
    pub const MAX_AMOUNT: u32 = 1_000_000;
    /// The most slots.
    pub const MAX_SLOTS: u16 = 64;
    /// The longest rhythm, in strokes.
    pub const MAX_STROKES: u32 = 1000;

    /// A holding of a resource of 100, with 3 slots, and an item in every stroke.
    #[must_use]
    pub fn of(resource: ResourceId) -> Holding {
        Holding {
            resource,
            amount: 100,
            slots: 3,
            rhythm: Rhythm {
                strokes: 1,
                item_on: 1,
            },
        }
    }
}

/// That a kind takes in what is gathered.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Depot {
    /// The side on which its entrance is, in radians from its facing; `None` if it takes in from all sides.
    pub entrance: Option<f32>,
}

/// What a kind produces.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Producer {
    /// The kinds that it produces.
    pub kinds: Vec<KindId>,
    /// How many it has in its queue at most, 1 to [`MAX_IN_LINE`], the one in work included.
    pub limit: u16,
}

const ITEMS: Unit = Unit("items", "items");
const STROKES: Unit = Unit("strokes", "strokes");

const WORKS: &str = "a `carries` above 0, or `builds`";
const HOLDS: &str = "`holds`";

/// A whole number of a component.
macro_rules! count {
    ($key:literal, $range:expr, $part:ident?.$($field:ident).+ as $Type:ty) => {
        Sort::Count(Number {
            key: $key,
            range: $range,
            get: |of: &Kind| Some(of.$part.as_ref()?.$($field).+.into()),
            set: |of, value| {
                if let Some(part) = &mut of.$part {
                    part.$($field).+ = value as $Type;
                }
            },
        })
    };
}

const fn items(low: f32, high: u32) -> Range {
    ITEMS.between(low, high as f32)
}

pub(super) const PROPERTIES: &[Property] = &[
    OfKind::new(
        "price",
        "what it costs to produce or build: `{ salt = 12 }`",
        "nothing",
        Sort::Amounts(Access {
            get: |kind| Some(kind.cost.price.clone()),
            set: |kind, price| kind.cost.price = price.unwrap_or_default(),
        }),
    ),
    OfKind::number(
        "how long it takes to produce, or to build with one builder at work",
        "5",
        Number {
            key: "making_time",
            range: Unit::SECONDS.between(0.0, Cost::MAX_TIME_S),
            get: |kind| Some(kind.cost.time_s.into()),
            set: |kind, seconds| kind.cost.time_s = seconds as f32,
        },
    ),
    OfKind::new(
        "produces",
        "the kinds that it produces",
        "none",
        Sort::Kinds(Access {
            get: |kind| {
                kind.producer
                    .as_ref()
                    .map(|producer| producer.kinds.clone())
            },
            set: |kind, kinds| {
                let kinds = kinds.filter(|kinds| !kinds.is_empty());
                kind.producer = kinds.map(|kinds| Producer { kinds, limit: 5 });
            },
        }),
    ),
    OfKind::new(
        "queue_limit",
        "how many it has in its production queue at most",
        "5",
        count!(
            "queue_limit",
            items(1.0, MAX_IN_LINE as u32),
            producer?.limit as u16
        ),
    )
    .needing("`produces`"),
    OfKind::new(
        "carries",
        "how much of a resource it carries when it gathers; 0 for kinds that do not gather",
        "0",
        Sort::Count(Number {
            key: "carries",
            range: items(0.0, Work::MAX_CARRIED),
            get: |kind| Some(kind.work.as_ref().map_or(0.0, |work| work.carries.into())),
            set: |kind, carries| {
                let carries = carries as u32;
                if carries > 0 || kind.work.is_some() {
                    kind.work.get_or_insert_default().carries = carries;
                }
            },
        }),
    ),
    OfKind::new(
        "builds",
        "the kinds that it builds",
        "none",
        Sort::Kinds(Access {
            get: |kind| kind.work.as_ref().map(|work| work.builds.clone()),
            set: |kind, kinds| {
                let kinds = kinds.unwrap_or_default();
                if !kinds.is_empty() || kind.work.is_some() {
                    kind.work.get_or_insert_default().builds = kinds;
                }
            },
        }),
    ),
    OfKind::number(
        "from one stroke of work to the next",
        "0.5",
        Number {
            key: "stroke_every",
            range: Unit::SECONDS.between(Work::MIN_STROKE_S, Work::MAX_STROKE_S),
            get: |kind| Some(kind.work.as_ref()?.stroke_every_s.into()),
            set: |kind, seconds| {
                if let Some(work) = &mut kind.work {
                    work.stroke_every_s = seconds as f32;
                }
            },
        },
    )
    .needing(WORKS),
    OfKind::number(
        "how far from an empty deposit it looks for another of the same kind",
        "15",
        Number {
            key: "look_on",
            range: Unit::METRES.between(0.0, Work::MAX_LOOK_ON_M),
            get: |kind| Some(kind.work.as_ref()?.look_on_m.into()),
            set: |kind, metres| {
                if let Some(work) = &mut kind.work {
                    work.look_on_m = metres as f32;
                }
            },
        },
    )
    .needing(WORKS),
    OfKind::new(
        "holds",
        "the resource that can be gathered from it",
        "none",
        Sort::Resource(Access {
            get: |kind| kind.holding.map(|holding| holding.resource),
            set: |kind, resource| kind.holding = resource.map(Holding::of),
        }),
    ),
    OfKind::new(
        "amount",
        "how much of the resource it holds at the start",
        "100",
        count!(
            "amount",
            items(0.0, Holding::MAX_AMOUNT),
            holding?.amount as u32
        ),
    )
    .needing(HOLDS),
    OfKind::new(
        "slots",
        "how many can work there at a time",
        "3",
        count!(
            "slots",
            items(1.0, Holding::MAX_SLOTS as u32),
            holding?.slots as u16
        ),
    )
    .needing(HOLDS),
    OfKind::new(
        "strokes",
        "how many strokes there are to an item",
        "1",
        count!(
            "strokes",
            STROKES.between(1.0, Holding::MAX_STROKES as f32),
            holding?.rhythm.strokes as u32
        ),
    )
    .needing(HOLDS),
    OfKind::new(
        "item_on",
        "which of these strokes brings it",
        "1",
        count!(
            "item_on",
            STROKES.between(1.0, Holding::MAX_STROKES as f32),
            holding?.rhythm.item_on as u32
        ),
    )
    .needing(HOLDS),
    OfKind::new(
        "depot",
        "whether what is gathered is handed in here",
        "`false`",
        Sort::Flag(Access {
            get: |kind| kind.depot.is_some(),
            set: |kind, depot| kind.depot = depot.then(Depot::default),
        }),
    ),
    OfKind::number(
        "the side on which a depot has its entrance, from where it faces",
        "all sides",
        Number {
            key: "entrance",
            range: Unit::DEGREES.between(-360.0, 360.0),
            get: |kind| Some(f64::from(kind.depot?.entrance?).to_degrees()),
            set: |kind, degrees| {
                if let Some(depot) = &mut kind.depot {
                    depot.entrance = Some(degrees.to_radians() as f32);
                }
            },
        },
    )
    .needing("`depot = true`"),
];
