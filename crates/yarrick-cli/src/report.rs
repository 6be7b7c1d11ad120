//! Errors and warnings about scenario files, each shown in its line.

use annotate_snippets::renderer::{AnsiColor, DecorStyle, Style};
use annotate_snippets::{AnnotationKind, Group, Level, Renderer, Snippet};

use std::fmt::Write as _;
use std::ops::Range;
use std::path::Path;
use yarrick::scenario::{Diagnostic, Diagnostics, Source, Span};

/// Columns of a line that are shown on either side of an error, at most.
const CONTEXT: usize = 60;

/// All errors as coloured text. The caller removes the colours if the output is not a terminal.
pub(crate) fn errors(folder: &Path, errors: &Diagnostics) -> String {
    let text = render(folder, errors, &Level::ERROR);
    let count = errors.count();
    let plural = if count == 1 { "" } else { "s" };
    format!("{text}{count} error{plural}; nothing was loaded.")
}

/// All warnings as coloured text.
pub(crate) fn warnings(folder: &Path, warnings: &Diagnostics) -> String {
    render(folder, warnings, &Level::WARNING)
}

fn render(folder: &Path, diagnostics: &Diagnostics, level: &Level<'static>) -> String {
    let accent = Style::new()
        .bold()
        .fg_color(Some(AnsiColor::Magenta.into()));
    let caution = Style::new().bold().fg_color(Some(AnsiColor::Yellow.into()));
    let quiet = Style::new().fg_color(Some(AnsiColor::Cyan.into()));
    let renderer = Renderer::styled()
        .decor_style(DecorStyle::Ascii)
        .error(accent)
        .warning(caution)
        .help(Style::new().bold())
        .line_num(quiet)
        .context(quiet);
    let mut text = String::new();
    for one in diagnostics.list() {
        let shown = render_one((&renderer, level), folder, diagnostics, one);
        let _ = writeln!(text, "{shown}\n");
    }
    let more = diagnostics.count() - diagnostics.list().len();
    if more > 0 {
        let _ = writeln!(text, "{more} more are not shown.");
    }
    text
}

fn render_one(
    (renderer, level): (&Renderer, &Level<'static>),
    folder: &Path,
    all: &Diagnostics,
    one: &Diagnostic,
) -> String {
    let places = [
        Some((&one.span, "")),
        one.other.as_ref().map(|(s, w)| (s, w.as_str())),
    ];
    let group = level.clone().primary_title(one.message.as_str());
    let mut report: Vec<Group<'_>> = Vec::new();
    let mut elements = Vec::new();
    for (k, (span, label)) in places.into_iter().flatten().enumerate() {
        let source = &all.sources()[span.file];
        let path = folder.join(&source.name).display().to_string();
        let excerpt = Excerpt::of(source, span);
        let kind = if k == 0 {
            AnnotationKind::Primary
        } else {
            AnnotationKind::Context
        };
        let mark = kind.span(excerpt.mark.clone());
        let mark = if label.is_empty() {
            mark
        } else {
            mark.label(label.to_owned())
        };
        let snippet = Snippet::source(excerpt.text)
            .line_start(excerpt.line)
            .path(path)
            .annotation(mark);
        elements.push(snippet);
    }
    let mut titled = group.elements(elements);
    if let Some(fix) = &one.fix {
        titled = titled.element(Level::HELP.with_name("likely fix").message(fix.as_str()));
    }
    report.push(titled);
    renderer.render(&report)
}

/// The line of an error, cut where it is very long.
struct Excerpt {
    text: String,
    line: usize,
    mark: Range<usize>,
}

impl Excerpt {
    fn of(source: &Source, span: &Span) -> Excerpt {
        let text = source.text.as_str();
        let floor = |at: usize| {
            (0..=at.min(text.len()))
                .rev()
                .find(|k| text.is_char_boundary(*k))
        };
        let start = floor(span.bytes.start).unwrap_or(0);
        let end = floor(span.bytes.end.max(start)).unwrap_or(start);
        let line_start = text[..start].rfind('\n').map_or(0, |at| at + 1);
        let line_end = text[start..].find('\n').map_or(text.len(), |at| start + at);
        let (line, _) = source.line_and_column(start);
        let end = end.clamp(start, line_end);
        // Cut lines keep their columns: only what comes after is left out.
        let shown_end = floor((end.max(start) + CONTEXT * 2).min(line_end)).unwrap_or(line_end);
        Excerpt {
            text: text[line_start..shown_end.max(end)].to_owned(),
            line,
            mark: start - line_start..end - line_start,
        }
    }
}
