//! Loading a scenario: its files, as TOML, and then its parts.

use super::Scenario;
use super::drills;
use super::error::{Diagnostic, Span};
use super::errors::Diagnostics;
use super::read::read_all;
use super::source::{self, Gathered, Read, Source};
use super::table::{Context, Table};
use toml::Spanned;
use toml::de::DeTable;

impl Scenario {
    /// Reads a scenario that is a single text.
    ///
    /// # Errors
    /// [`Diagnostics`] with all that is wrong with it.
    pub fn parse(text: &str) -> Result<Scenario, Diagnostics> {
        Scenario::load("scenario.toml", &|name| {
            if name == "scenario.toml" {
                Ok(text.to_owned())
            } else {
                Err("a scenario of a single text cannot include files".to_owned())
            }
        })
    }

    /// Reads a scenario from the file called `main` and those that it includes.
    ///
    /// # Errors
    /// [`Diagnostics`] with all that is wrong with them. Files that cannot be read are among
    /// these.
    pub fn load(main: &str, read: Read<'_>) -> Result<Scenario, Diagnostics> {
        let Gathered {
            sources,
            order,
            drills,
            errors,
        } = source::gather(main, read);
        // A file of drills is no TOML.
        let text = |(file, source): (usize, &'_ Source)| {
            if drills.contains(&file) {
                String::new()
            } else {
                source.text.clone()
            }
        };
        let texts: Vec<String> = sources.iter().enumerate().map(text).collect();
        let documents: Vec<_> = texts
            .iter()
            .map(|text| DeTable::parse_recoverable(text))
            .collect();
        let context = Context::new(&sources, errors);
        for (file, (_, errors)) in documents.iter().enumerate() {
            for error in errors {
                let bytes = error.span().unwrap_or(0..0);
                let mut message = error.message().trim_end().replace('\n', "; ");
                let piece = sources[file].text.get(bytes.clone()).unwrap_or_default();
                if (1..=40).contains(&piece.len()) && !piece.contains('\n') {
                    message = format!("{message}, at {piece:?}");
                }
                context.note(Diagnostic::new(Span { file, bytes }, message));
            }
        }
        // A file that is no TOML would only raise follow-on errors.
        let scenario = if context.has_errors() {
            None
        } else {
            let tables = order
                .iter()
                .map(|&file| top(&context, file, &documents[file].0))
                .collect();
            let program = drills::read(&context, &sources, &drills);
            read_all(&context, tables, program)
        };
        let (errors, warnings) = context.finish();
        match scenario {
            Some(scenario) if errors.is_empty() => Ok(Scenario {
                warnings: Diagnostics::new(warnings, sources),
                ..scenario
            }),
            _ => Err(Diagnostics::new(errors, sources)),
        }
    }
}

fn top<'a>(context: &'a Context<'a>, file: usize, document: &'a Spanned<DeTable<'a>>) -> Table<'a> {
    let span = Span { file, bytes: 0..0 };
    Table::new(context, span, "a scenario file", document.get_ref())
}
