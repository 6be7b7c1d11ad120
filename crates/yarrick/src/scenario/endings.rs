//! `[[ending]]`: when the game is won or lost.

use super::error::Diagnostic;
use super::script::MAX_SECONDS;
use super::table::Table;
use super::units::Cast;
use crate::world::{Condition, Ending, GameResult, SideId, UnitId};

/// The words for conditions.
#[derive(Clone, Copy, PartialEq)]
enum When {
    Falls,
    Leaks,
    WavesOver,
    Time,
}

const WHEN: [(&str, When); 4] = [
    ("falls", When::Falls),
    ("leaks", When::Leaks),
    ("waves-over", When::WavesOver),
    ("time", When::Time),
];

/// Reads an ending. `rate` is the number of ticks in a second.
pub(super) fn read(
    table: Table<'_>,
    cast: &Cast<'_>,
    (rate, has_assault): (u32, bool),
) -> Option<Ending> {
    let context = table.context();
    let side = cast.sides.named_by(context, &table.field("side").needed());
    let result = table.field("result").needed();
    let result = result
        .is_given()
        .then(|| result.choice(&[("won", GameResult::Won), ("lost", GameResult::Lost)]));
    let when = table.field("when").needed();
    let word = when.is_given().then(|| when.choice(&WHEN)).flatten();
    let condition = match word {
        Some(When::Falls) => read_unit(&table, cast).map(|unit| Condition::Falls { unit }),
        Some(When::Leaks) => {
            let most = table.field("more_than").needed();
            let most = most.is_given().then(|| most.whole(0..=1_000_000)).flatten();
            most.map(|most| Condition::Leaks {
                more_than: most as u32,
            })
        }
        Some(When::WavesOver) => Some(Condition::WavesOver),
        Some(When::Time) => {
            let after = table.field("after").needed();
            let seconds = after
                .is_given()
                .then(|| after.number(0.0..=MAX_SECONDS, "seconds"));
            seconds.flatten().map(|seconds| Condition::Time {
                tick: (seconds * f64::from(rate)).round() as u64,
            })
        }
        None => None,
    };
    if matches!(word, Some(When::Leaks | When::WavesOver)) && !has_assault {
        let message = "this ending never comes: the scenario has no [assault]";
        context.note(Diagnostic::new(when.span.clone(), message));
    }
    table.finish();
    Some(Ending {
        side: SideId(side? as u8),
        result: result.flatten()?,
        when: condition?,
    })
}

/// The single unit that an ending is about.
fn read_unit(table: &Table<'_>, cast: &Cast<'_>) -> Option<UnitId> {
    let field = table.field("unit").needed();
    if !field.is_given() {
        return None;
    }
    let at = cast.groups.named_by(table.context(), &field)?;
    let units = &cast.groups.all[at];
    if units.len() != 1 {
        field.note(format!(
            "names {} units; an ending is about one",
            units.len()
        ));
        return None;
    }
    Some(UnitId::of_nth(units.start))
}
