//! What a drill is answered that asks.

use super::look::Look;
use super::words::{SENSES, TESTS};
use crate::drill::{Held, Senses, Value};
use crate::rng;
use crate::world::ids::UnitId;

impl Senses for Look<'_> {
    fn sense(&self, word: u16, values: &[Value]) -> Value {
        match SENSES.get(usize::from(word)) {
            Some((_, sense)) => sense(self, values),
            None => self.own_sense(usize::from(word) - SENSES.len()),
        }
    }

    fn test(&self, word: u16, values: &[Value]) -> Held {
        let test = TESTS.get(usize::from(word));
        test.map_or(Held::No, |(_, test)| test(self, values))
    }

    fn is_gone(&self, unit: u64) -> bool {
        self.state.units.row(UnitId::of_number(unit)).is_none()
    }

    fn dial(&self, _: u16, dial: u16) -> Option<f32> {
        let unit = self.state.units.id[self.row];
        let own = self.state.dials.get(unit).and_then(|dials| {
            let mut dials = dials.iter();
            dials.find(|(nth, known, _)| usize::from(*nth) == self.nth && *known == dial)
        });
        let of_kind = || {
            let used = self.state.kind_of(self.row).drills.get(self.nth)?;
            let set = used.dials.iter().find(|(known, _)| *known == dial);
            set.map(|(_, value)| *value)
        };
        own.map(|(_, _, value)| *value).or_else(of_kind)
    }

    fn chance(&self, nth: u32) -> f32 {
        let unit = self.state.units.id[self.row].number();
        let of = [unit, self.nth as u64, u64::from(nth)];
        rng::part_of_one(self.state.rules.seed, "drill", of)
    }

    fn ticks_per_second(&self) -> u32 {
        self.state.rules.ticks_per_second
    }
}

impl Look<'_> {
    /// The value of a sense of the game: for this unit, or else for all.
    fn own_sense(&self, number: usize) -> Value {
        let unit = self.state.units.id[self.row];
        let senses = &self.state.own_senses;
        let of_unit = senses.get((number as u16, Some(unit)));
        let value = of_unit.or_else(|| senses.get((number as u16, None)));
        value.map_or(Value::Nothing, |value| Value::Number(*value))
    }
}
