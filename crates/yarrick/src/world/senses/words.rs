//! The senses and tests that a world understands, each with its declaration.

use super::look::Look;
use crate::drill::{Gives, Held, Unit, Value, Word};

/// The declaration of a word.
pub(crate) type Declared = fn() -> Word;

type Sense = fn(&Look<'_>, &[Value]) -> Value;
type Test = fn(&Look<'_>, &[Value]) -> Held;

fn number(value: Option<f32>) -> Value {
    value.map_or(Value::Nothing, Value::Number)
}

/// Everything that can be measured.
pub(crate) const SENSES: &[(Declared, Sense)] = &[
    (
        || {
            let about = "metres from its edge to that of a unit";
            Word::sense("gap to {unit}", Gives::Number(Unit::Metres), about)
        },
        |look, values| {
            let other = look.row_of(values.first());
            number(other.map(|other| look.state.gap_m(look.row, other)))
        },
    ),
    (
        || {
            let about = "what is left of its health, of that of its kind";
            Word::sense("health", Gives::Number(Unit::Percent), about)
        },
        |look, _| {
            let full = look.state.kind_of(look.row).body.health;
            let part = look.state.units.health[look.row] / full;
            Value::Number(if full > 0.0 { part } else { 1.0 })
        },
    ),
    (
        || {
            let about = "how long it has been in its state";
            Word::sense("time in state", Gives::Number(Unit::Seconds), about)
        },
        |look, _| {
            let ticks = look.state.clock.tick - look.since.min(look.state.clock.tick);
            Value::Number(ticks as f32 * look.state.tick_s())
        },
    ),
    (
        || {
            let about = "how far its weapon reaches; 0 without one";
            Word::sense("reach", Gives::Number(Unit::Metres), about)
        },
        |look, _| {
            let weapon = look.state.kind_of(look.row).weapon;
            Value::Number(weapon.map_or(0.0, |weapon| weapon.range_m))
        },
    ),
    (
        || Word::sense("here", Gives::Point, "where it is"),
        |look, _| Value::Point(look.state.units.position[look.row].to_array()),
    ),
];

fn captured(look: &Look<'_>, found: Option<usize>) -> Held {
    match found {
        Some(row) => Held::Yes(Some(look.state.units.id[row].number())),
        None => Held::No,
    }
}

fn metres(value: Option<&Value>) -> f32 {
    match value {
        Some(Value::Number(metres)) => *metres,
        _ => 0.0,
    }
}

/// Everything that holds or does not.
pub(crate) const TESTS: &[(Declared, Test)] = &[
    (
        || {
            let about = "it sees one of a group that near, with nothing that blocks sight between; the nearest is taken";
            Word::test("sees {who} within {m}", true, about)
        },
        |look, values| {
            let from = look.state.units.position[look.row];
            let sees = |other| look.state.ground.sees(from, look.state.middle(other));
            let found = look.nearest(values.first(), metres(values.get(1)), sees);
            captured(look, found)
        },
    ),
    (
        || {
            let about = "one of a group is that near, seen or not; the nearest is taken";
            Word::test("any {who} within {m}", true, about)
        },
        |look, values| {
            let found = look.nearest(values.first(), metres(values.get(1)), |_| true);
            captured(look, found)
        },
    ),
    (
        || {
            let about = "it was hit in the last second, since its state began; who struck is taken";
            Word::test("was hit", true, about)
        },
        |look, _| {
            let unit = look.state.units.id[look.row];
            let Some((tick, by)) = look.state.last_hit.get(unit).copied() else {
                return Held::No;
            };
            let second = u64::from(look.state.rules.ticks_per_second);
            let is_new = tick >= look.since && tick + second > look.state.clock.tick;
            let by = look.state.units.row(by).map(|_| by.number());
            if is_new { Held::Yes(by) } else { Held::No }
        },
    ),
    (
        || {
            let about =
                "it could walk straight to a unit: no closed ground, and nobody else, is between";
            Word::test("way to {unit} is clear", false, about)
        },
        |look, values| {
            let Some(other) = look.row_of(values.first()) else {
                return Held::Unknown;
            };
            let state = look.state;
            let (from, to) = (state.units.position[look.row], state.middle(other));
            let radius = state.units.radius[look.row];
            let open = state.ground_view(look.row).line_is_clear(from, to, radius);
            if open && look.nobody_between(other) {
                Held::Yes(None)
            } else {
                Held::No
            }
        },
    ),
    (
        || {
            let about = "nothing that blocks sight is between it and a unit";
            Word::test("line to {unit} is clear", false, about)
        },
        |look, values| {
            let Some(other) = look.row_of(values.first()) else {
                return Held::Unknown;
            };
            let from = look.state.units.position[look.row];
            if look.state.ground.sees(from, look.state.middle(other)) {
                Held::Yes(None)
            } else {
                Held::No
            }
        },
    ),
];

impl Look<'_> {
    /// Whether no body but those of the two is between a unit and another.
    fn nobody_between(&self, other: usize) -> bool {
        use crate::geom::segment_point_distance_squared;
        let units = &self.state.units;
        let (from, to) = (units.position[self.row], self.state.middle(other));
        let middle = (from + to) * 0.5;
        let reach_m = from.distance(to) * 0.5 + self.state.derived.widest;
        let all = self.near.is_none().then_some(0..units.len());
        let filed = self.near.map(|near| near.within(middle, reach_m));
        let filed = filed.into_iter().flatten().map(|number| number as usize);
        let mut rows = all.into_iter().flatten().chain(filed);
        !rows.any(|row| {
            let apart = units.radius[row] + units.radius[self.row];
            let gap = segment_point_distance_squared(from, to, units.position[row]);
            row != self.row && row != other && gap < apart * apart
        })
    }
}
