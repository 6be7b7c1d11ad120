//! `[[tally]]`: lines at which units are counted.

use super::error::Diagnostic;
use super::measure::TallyLine;
use super::table::Table;
use super::ways::note_off_map;
use crate::ground::Ground;

/// The shortest that a line may be, in metres.
const SHORTEST_M: f32 = 0.05;

/// Reads one line.
pub(super) fn read(table: Table<'_>, ground: Option<&Ground>) -> Option<TallyLine> {
    let context = table.context();
    let name = table.field("name").needed().name();
    let ends = ["from", "to"].map(|key| {
        let field = table.field(key).needed();
        let point = field.is_given().then(|| field.point()).flatten();
        if let (Some(point), Some(ground)) = (point, ground)
            && !ground.bounds().contains(point)
        {
            note_off_map(context, &field.span, ground);
        }
        point
    });
    let span = table.span().clone();
    table.finish();
    let (Some(name), [Some(from), Some(to)]) = (name, ends) else {
        return None;
    };
    if from.distance(to) < SHORTEST_M {
        let message = format!("this line is too short to be crossed: {SHORTEST_M} m or more");
        context.note(Diagnostic::new(span, message));
    }
    Some(TallyLine {
        name: name.to_owned(),
        from,
        to,
    })
}
