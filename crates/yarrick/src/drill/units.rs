//! Units of measure.

use serde::{Deserialize, Serialize};

/// A unit of measure.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Unit {
    /// Metres, `m`.
    Metres,
    /// Seconds, `s`.
    Seconds,
    /// Degrees, `deg`.
    Degrees,
    /// Hundredths, `%`.
    Percent,
    /// Metres a second, `m/s`.
    MetresASecond,
    /// Metres a second squared, `m/s2`.
    MetresASecondSquared,
    /// Points of health, `points`.
    Points,
    /// None: a plain number.
    None,
}

impl Unit {
    /// All units but none, with their symbols; those that begin like others come first.
    pub(crate) const SYMBOLS: [(&'static str, Unit); 7] = [
        ("m/s2", Unit::MetresASecondSquared),
        ("m/s", Unit::MetresASecond),
        ("deg", Unit::Degrees),
        ("points", Unit::Points),
        ("%", Unit::Percent),
        ("m", Unit::Metres),
        ("s", Unit::Seconds),
    ];

    /// The unit with which a text begins, and the length of its symbol in bytes.
    pub(crate) fn at_start_of(text: &str) -> (Unit, usize) {
        let ends_there = |symbol: &str| {
            let next = text[symbol.len()..].chars().next();
            symbol == "%"
                || !next.is_some_and(|c| c.is_ascii_alphanumeric() || c == '-' || c == '/')
        };
        let found = Unit::SYMBOLS
            .iter()
            .find(|(symbol, _)| text.starts_with(symbol) && ends_there(symbol));
        found.map_or((Unit::None, 0), |(symbol, unit)| (*unit, symbol.len()))
    }

    /// The unit of a symbol; the empty text is none.
    pub(crate) fn of_symbol(symbol: &str) -> Option<Unit> {
        if symbol == "number" {
            return Some(Unit::None);
        }
        let found = Unit::SYMBOLS.iter().find(|(known, _)| *known == symbol);
        found.map(|(_, unit)| *unit)
    }

    /// A quantity in base units: metres, seconds, radians, parts of one for per cent.
    pub(crate) fn to_base(self, value: f32) -> f32 {
        match self {
            Unit::Percent => value * 0.01,
            Unit::Degrees => value.to_radians(),
            _ => value,
        }
    }

    /// The same, back again.
    pub(crate) fn of_base(self, value: f32) -> f32 {
        match self {
            Unit::Percent => value * 100.0,
            Unit::Degrees => value.to_degrees(),
            _ => value,
        }
    }

    /// The unit for people: "metres (m)".
    pub(crate) fn words(self) -> &'static str {
        match self {
            Unit::Metres => "metres (m)",
            Unit::Seconds => "seconds (s)",
            Unit::Degrees => "degrees (deg)",
            Unit::Percent => "per cent (%)",
            Unit::MetresASecond => "metres a second (m/s)",
            Unit::MetresASecondSquared => "metres a second squared (m/s2)",
            Unit::Points => "points",
            Unit::None => "a number without a unit",
        }
    }
}
