//! `drills = ["creatures.drill"]`: the behaviours of a scenario, in files of their own; and by which of them kinds go.

use super::error::{Diagnostic, Span};
use super::source::Source;
use super::table::{Context, Field, Table};
use super::value::as_number;
use crate::drill::{DrillError, DrillErrors, Program, compile};
use crate::world::{DrillUse, Kind, vocabulary};

/// Compiles the drills of some sources as one text. `None` where they are unsound, which is noted.
pub(super) fn read(context: &Context<'_>, sources: &[Source], files: &[usize]) -> Option<Program> {
    let words = vocabulary(&[]).ok()?;
    let mut text = String::new();
    // Where each file begins: in bytes, and in lines.
    let mut starts: Vec<(usize, u32, usize)> = Vec::new();
    for file in files {
        let line = text.matches('\n').count() as u32;
        starts.push((text.len(), line, *file));
        text.push_str(&sources[*file].text);
        text.push('\n');
    }
    match compile(&text, &words) {
        Ok(mut program) => {
            program.move_lines(|line| {
                let before = starts.iter().rev().find(|(_, first, _)| *first < line);
                line - before.map_or(0, |(_, first, _)| *first)
            });
            Some(program)
        }
        Err(errors) => {
            note_all(context, &errors, &starts);
            None
        }
    }
}

fn note_all(context: &Context<'_>, errors: &DrillErrors, starts: &[(usize, u32, usize)]) {
    let span = |bytes: &core::ops::Range<usize>| {
        let start = starts
            .iter()
            .rev()
            .find(|(start, _, _)| *start <= bytes.start);
        let (start, _, file) = start.copied().unwrap_or_default();
        Span {
            file,
            bytes: bytes.start - start..bytes.end - start,
        }
    };
    for error in errors.list() {
        let DrillError {
            bytes,
            message,
            fix,
            other,
        } = error;
        let mut diagnostic = Diagnostic::new(span(bytes), message.clone());
        if let Some(fix) = fix {
            diagnostic = diagnostic.with_fix(fix.clone());
        }
        if let Some((bytes, what)) = other {
            diagnostic = diagnostic.with_other(span(bytes), *what);
        }
        context.note(diagnostic);
    }
}

/// A dial that a kind sets: its name, the number, and where it stands. Which drills it belongs to, a base may say.
pub(super) type DialGiven = (String, f32, Span);

/// The drills that a kind names.
pub(super) fn read_drills(
    table: &Table<'_>,
    field: &Field<'_>,
    program: Option<&Program>,
) -> Option<Vec<DrillUse>> {
    let names = field.names()?;
    // Where the drills themselves are unsound, that has been noted.
    let program = program?;
    let mut used: Vec<DrillUse> = Vec::new();
    let mut is_sound = true;
    for (name, span) in names {
        let Some(number) = program.drill(name) else {
            let known = program.drills.iter().map(|drill| drill.name.as_str());
            let context = table.context();
            if program.drills.is_empty() {
                let message = "the scenario has no drills: \"drills\" at its top names their files";
                context.note(Diagnostic::new(span, message));
            } else {
                context.note_unknown(&span, "drill", name, known);
            }
            is_sound = false;
            continue;
        };
        let drill = &program.drills[usize::from(number)];
        let clash = used
            .iter()
            .map(|used| &program.drills[usize::from(used.drill)]);
        let mut clash = clash.filter(|other| other.controls & drill.controls != 0);
        if let Some(other) = clash.next() {
            let message = format!(
                "{:?} and {:?} control the same faculty; a kind goes by one drill for each",
                other.name, drill.name
            );
            table.context().note(Diagnostic::new(span, message));
            is_sound = false;
            continue;
        }
        used.push(DrillUse::of(number));
    }
    is_sound.then_some(used)
}

/// A table of dials, by name.
pub(super) fn read_dials(table: &Table<'_>, key: &'static str) -> Option<Vec<DialGiven>> {
    let dials = table.table_like(key, "dials", "a table of dials, like { width = 4 }")?;
    let mut is_sound = true;
    let mut given = Vec::new();
    for (name, _, value, span) in dials.entries() {
        match as_number(value) {
            Some(value) => given.push((name.to_owned(), value as f32, span)),
            None => {
                is_sound = false;
                let message = format!("{name:?} must be a number, in the unit of the dial");
                table.context().note(Diagnostic::new(span, message));
            }
        }
    }
    is_sound.then_some(given)
}

/// Sets the dials of the drills of a kind. What does not fit is noted where the kind itself gives it.
pub(super) fn set_dials(
    mut kind: Kind,
    (context, program): (&Context<'_>, Option<&Program>),
    (own, dials): (&[DialGiven], &[DialGiven]),
) -> Kind {
    let Some(program) = program else {
        return kind;
    };
    for (name, value, span) in dials {
        let is_own = own.iter().any(|(_, _, known)| known == span);
        let mut is_known = false;
        for used in &mut kind.drills {
            let drill = &program.drills[usize::from(used.drill)];
            let Some(number) = drill.dial(name) else {
                continue;
            };
            is_known = true;
            let dial = &drill.dials[usize::from(number)];
            let base = dial.unit.to_base(*value);
            if (dial.least..=dial.most).contains(&base) {
                used.dials.push((number, base));
            } else if is_own {
                let [least, most] = [dial.least, dial.most].map(|end| dial.unit.of_base(end));
                let unit = dial.unit.words();
                let message = format!("{name:?} must be from {least} to {most}, in {unit}");
                context.note(Diagnostic::new(span.clone(), message));
            }
        }
        if !is_known && is_own {
            let drills = kind.drills.iter();
            let drills = drills.map(|used| &program.drills[usize::from(used.drill)]);
            let known: Vec<&str> = drills
                .flat_map(|drill| drill.dials.iter().map(|dial| dial.name.as_str()))
                .collect();
            if known.is_empty() {
                let message = format!("no drill of this kind has a dial {name:?}");
                context.note(Diagnostic::new(span.clone(), message));
            } else {
                context.note_unknown(span, "dial", name, known);
            }
        }
    }
    kind
}
