//! Single values of a file: what they are, and what messages call them.

use crate::geom::Vec2;
use crate::world::MAX_COORDINATE_M;
use toml::Spanned;
use toml::de::DeValue;

/// What a name is, for messages.
pub(super) const NAME: &str = "a name of 1 to 64 characters";

pub(super) fn as_name<'a>(value: &'a DeValue<'a>) -> Option<&'a str> {
    let sound = |text: &&str| {
        (1..=64).contains(&text.chars().count()) && !text.chars().any(char::is_control)
    };
    value.as_str().filter(sound)
}

/// The only character of a text, if it can be seen.
pub(super) fn single_glyph(text: &str) -> Option<char> {
    let mut characters = text.chars();
    let first = characters.next().filter(|c| !c.is_control())?;
    (characters.next().is_none() && !first.is_whitespace()).then_some(first)
}

/// A finite number.
pub(super) fn as_number(value: &DeValue<'_>) -> Option<f64> {
    match value {
        DeValue::Integer(digits) => i64::from_str_radix(digits.as_str(), digits.radix())
            .ok()
            .map(|number| number as f64),
        DeValue::Float(digits) => digits.as_str().parse().ok(),
        _ => None,
    }
    .filter(|number: &f64| number.is_finite())
}

/// A point `[x, y]`.
pub(super) fn as_point(value: &DeValue<'_>) -> Option<Vec2> {
    let DeValue::Array(array) = value else {
        return None;
    };
    let coordinate = |value: &Spanned<DeValue<'_>>| {
        as_number(value.get_ref()).filter(|x| x.abs() <= f64::from(MAX_COORDINATE_M))
    };
    match array.iter().map(coordinate).collect::<Vec<_>>()[..] {
        [Some(x), Some(y)] => Some(Vec2::new(x as f32, y as f32)),
        _ => None,
    }
}

/// A value as a message names it.
pub(super) fn describe(value: &DeValue<'_>) -> String {
    match value {
        DeValue::String(text) if text.chars().count() <= 40 => format!("{text:?}"),
        DeValue::String(text) => format!("a text of {} characters", text.chars().count()),
        DeValue::Integer(digits) => digits.to_string(),
        DeValue::Float(digits) => digits.to_string(),
        DeValue::Boolean(flag) => flag.to_string(),
        DeValue::Datetime(_) => "a date or time".to_owned(),
        DeValue::Array(array) if array.len() <= 3 => {
            let entries: Vec<String> = array.iter().map(|v| describe(v.get_ref())).collect();
            format!("[{}]", entries.join(", "))
        }
        DeValue::Array(array) => format!("a list of {}", array.len()),
        DeValue::Table(_) => "a table".to_owned(),
    }
}
