//! What a property of a kind is: the key by which scenario files know it, what it may be, and where a [`Kind`] has it.
//!
//! Each property is declared once, in the file of the part that it belongs to: [`body`](super::body),
//! [`legs`](super::legs), [`arms`](super::arms), [`senses`](super::senses), [`building`](super::building). The reader of scenario files, `based_on`, the check of ranges,
//! the writer and the table in the guide follow from the declaration.

use super::{DrillUse, Kind, KindError, KindId};
use crate::combat::Weapon;
use crate::economy::{Price, ResourceId};
use crate::geom::Vec2;
use crate::ground::GaitId;

/// A property of a kind, or of a component that is a table of its own, as scenario files give it.
#[derive(Debug)]
pub struct Property<T = Kind> {
    /// Its key.
    pub key: &'static str,
    /// What it is.
    pub about: &'static str,
    /// What it is for a kind that does not give it; `None` for one that has to be given.
    pub default: Option<&'static str>,
    /// For a property without a default: the case in which it may be left out, and its value then. Empty if there is none.
    pub implied: &'static str,
    /// What it may be, where that is not all that its sort of value can be.
    pub(crate) also: &'static str,
    /// What a kind has to have before it has a use for it; empty if every kind has.
    pub(crate) needs: &'static str,
    pub(crate) sort: Sort<T>,
}

/// For declarations, in which the type would be hard to infer.
pub(super) type OfKind = Property<Kind>;
pub(super) type OfWeapon = Property<Weapon>;

/// The sort of value that a property is, with what it may be and where a `T` has it.
#[derive(Debug)]
pub(crate) enum Sort<T> {
    Number(Number<T>),
    /// Two numbers of the same range, with what messages call them.
    Pair(Access<T, Option<Vec2>>, Range, &'static str),
    /// One of some words, by its place among them.
    Word(Access<T, usize>, &'static [&'static str]),
    Glyph(Access<T, char>),
    Flag(Access<T, bool>),
    /// A whole number.
    Count(Number<T>),
    /// Amounts of resources.
    Amounts(Access<T, Option<Price>>),
    Resource(Access<T, Option<ResourceId>>),
    Kinds(Access<T, Option<Vec<KindId>>>),
    /// Drills by name.
    Drills(Access<T, Vec<DrillUse>>),
    /// Dials of these by name, each with a number in the unit of the dial.
    Dials(Access<T, Vec<DrillUse>>),
    Gait(Access<T, GaitId>),
    /// A table, or `false` for none.
    Weapon(Access<T, Option<Weapon>>, &'static [Property<Weapon>]),
}

/// Where a value is in a `T`.
#[derive(Debug)]
pub(crate) struct Access<T, V> {
    pub(crate) get: fn(&T) -> V,
    /// Sets it, and what depends on it; properties are set in the order in which they are declared.
    pub(crate) set: fn(&mut T, V),
}

/// A number within a range.
#[derive(Debug)]
pub(crate) struct Number<T> {
    pub(crate) key: &'static str,
    pub(crate) range: Range,
    /// The value, if a `T` like this one has it.
    pub(crate) get: fn(&T) -> Option<f64>,
    pub(crate) set: fn(&mut T, f64),
}

/// A number that is a field: `number!("height", range, body.height_m)`. A field of an optional component:
/// `number!("braking", range, legs?.braking)`; setting it on a kind without the component does nothing.
macro_rules! number {
    ($key:literal, $range:expr, $part:ident?.$field:ident) => {
        $crate::world::kind::property::Number {
            key: $key,
            range: $range,
            get: |of| Some(of.$part?.$field.into()),
            set: |of, value| {
                if let Some(part) = &mut of.$part {
                    part.$field = value as f32;
                }
            },
        }
    };
    ($key:literal, $range:expr, $($field:ident).+) => {
        $crate::world::kind::property::Number {
            key: $key,
            range: $range,
            get: |of| Some(of.$($field).+.into()),
            set: |of, value| of.$($field).+ = value as f32,
        }
    };
}
pub(super) use number;

/// The numbers that are allowed, and their unit.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Range {
    pub(crate) low: f32,
    pub(crate) high: f32,
    pub(crate) unit: Unit,
}

/// A unit: in words, and its symbol.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Unit(pub(crate) &'static str, pub(crate) &'static str);

impl Unit {
    pub(crate) const METRES: Unit = Unit("metres", "m");
    pub(crate) const METRES_A_SECOND: Unit = Unit("metres a second", "m/s");
    pub(crate) const METRES_A_SECOND_SQUARED: Unit = Unit("metres a second squared", "m/s²");
    pub(crate) const DEGREES: Unit = Unit("degrees", "°");
    pub(crate) const DEGREES_A_SECOND: Unit = Unit("degrees a second", "°/s");
    pub(crate) const SECONDS: Unit = Unit("seconds", "s");
    pub(crate) const POINTS: Unit = Unit("points", "points");

    /// The numbers from `low` to `high` of the unit.
    pub(crate) const fn between(self, low: f32, high: f32) -> Range {
        Range {
            low,
            high,
            unit: self,
        }
    }
}

/// What is wrong with a number: its key, itself, and what is allowed.
type OutOfRange = Option<(&'static str, f32, Range)>;

impl Range {
    /// The limits as a user would write them: `0.05`, not the nearest binary fraction.
    pub(crate) fn as_written(self) -> core::ops::RangeInclusive<f64> {
        let decimal = |limit: f32| (f64::from(limit) * 1e4).round() / 1e4;
        decimal(self.low)..=decimal(self.high)
    }

    fn check(self, key: &'static str, value: f64) -> OutOfRange {
        let value = value as f32;
        (!(self.low..=self.high).contains(&value)).then_some((key, value, self))
    }

    fn words(self) -> String {
        let Range { low, high, unit } = self;
        format!("{} to {} {}", grouped(low), grouped(high), unit.1)
    }
}

impl<T> Number<T> {
    fn check(&self, of: &T) -> OutOfRange {
        self.range.check(self.key, (self.get)(of)?)
    }
}

/// A number for people: `1,000,000`.
fn grouped(number: f32) -> String {
    let text = number.to_string();
    match text.strip_suffix("000000") {
        Some(millions) => format!("{millions},000,000"),
        None => text,
    }
}

impl<T> Property<T> {
    /// A property that a `T` need not give.
    pub(super) const fn new(
        key: &'static str,
        about: &'static str,
        default: &'static str,
        sort: Sort<T>,
    ) -> Property<T> {
        Property {
            key,
            about,
            default: Some(default),
            implied: "",
            also: "",
            needs: "",
            sort,
        }
    }

    /// A property that is a number, and that a `T` need not give.
    pub(super) const fn number(
        about: &'static str,
        default: &'static str,
        number: Number<T>,
    ) -> Property<T> {
        let key = number.key;
        Property::new(key, about, default, Sort::Number(number))
    }

    /// The same property, which has to be given but in some cases.
    pub(super) const fn needed_unless(self, implied: &'static str) -> Property<T> {
        Property {
            default: None,
            implied,
            ..self
        }
    }

    /// The same property, which has to be given.
    pub(super) const fn needed(self) -> Property<T> {
        Property {
            default: None,
            ..self
        }
    }

    /// The same property, of which more is to be said about what is allowed.
    pub(super) const fn also(self, also: &'static str) -> Property<T> {
        Property { also, ..self }
    }

    /// The same property, for kinds that have something.
    pub(super) const fn needing(self, needs: &'static str) -> Property<T> {
        Property { needs, ..self }
    }

    /// What it may be, for people.
    #[must_use]
    pub fn allowed(&self) -> String {
        let allowed = match &self.sort {
            Sort::Number(number) => number.range.words(),
            Sort::Pair(_, range, _) => {
                let side = format!("{} to {} {}", range.low, range.high, range.unit.1);
                format!("`[{side}, {side}]`")
            }
            Sort::Word(_, words) => {
                let quoted: Vec<String> =
                    words.iter().map(|word| format!("`\"{word}\"`")).collect();
                quoted.join(", ")
            }
            Sort::Glyph(_) => "one character".to_owned(),
            Sort::Flag(_) => "`true`, `false`".to_owned(),
            Sort::Count(number) => format!("{}, a whole number", number.range.words()),
            Sort::Amounts(_) => {
                "a table of `[[resource]]` names, each with 0 to 1,000,000".to_owned()
            }
            Sort::Resource(_) => "a `[[resource]]`".to_owned(),
            Sort::Kinds(_) => "a list of `[[kind]]` names".to_owned(),
            Sort::Drills(_) => "a list of names of drills".to_owned(),
            Sort::Dials(_) => {
                "a table of names of dials, each with a number within its range".to_owned()
            }
            Sort::Gait(_) => "a `[[gait]]`".to_owned(),
            Sort::Weapon(..) => "`false`, or a table".to_owned(),
        };
        allowed + self.also
    }

    /// What of it is out of range.
    fn out_of_range(&self, of: &T) -> OutOfRange {
        match &self.sort {
            Sort::Number(number) | Sort::Count(number) => number.check(of),
            Sort::Pair(access, range, _) => {
                let size = (access.get)(of)?;
                let sides = size.to_array().map(f64::from);
                let [length, width] = sides.map(|side| range.check(self.key, side));
                length.or(width)
            }
            Sort::Weapon(access, parts) => {
                let weapon = (access.get)(of)?;
                parts.iter().find_map(|part| part.out_of_range(&weapon))
            }
            Sort::Word(..)
            | Sort::Glyph(_)
            | Sort::Flag(_)
            | Sort::Gait(_)
            | Sort::Amounts(_)
            | Sort::Resource(_)
            | Sort::Kinds(_)
            | Sort::Drills(_)
            | Sort::Dials(_) => None,
        }
    }
}

impl Property {
    /// Checks that a kind has it within its range.
    pub(super) fn check(&self, kind: &Kind) -> Result<(), KindError> {
        match self.out_of_range(kind) {
            None => Ok(()),
            Some((what, value, allowed)) => Err(KindError::OutOfRange {
                kind: kind.name.clone(),
                what,
                value,
                low: allowed.low,
                high: allowed.high,
                unit: allowed.unit.0,
            }),
        }
    }
}
