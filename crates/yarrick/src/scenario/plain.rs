//! Maps as plain rows of characters, and lists of starts and goals: for trying out ways on one's own
//! maps, without a scenario.
//!
//! A map may also be a picture, a pixel a cell: [`Scenario::of_pixels`].
//!
//! A map is its rows, the first being the north, a character a cell. What a character means is said by a
//! legend: a table in TOML like that of `[ground.legend]`, or [`USUAL_LEGEND`].
//!
//! A list of pairs has one a line: four numbers, apart by blanks or commas. They are the start and the
//! goal, x and y each, in metres. Blank lines count for nothing, nor does what follows a `#`.

use super::error::{Diagnostic, MAX_ERRORS, Span};
use super::errors::Diagnostics;
use super::ground::{measure, read_grid, read_keyed, read_legend};
use super::source::Source;
use super::table::{Context, Table};
use super::{MAX_FILE_BYTES, Scenario};
use crate::geom::Vec2;
use crate::ground::Ground;
use crate::world::{ContextRules, Kind, MAX_COORDINATE_M, Side, WorldSetup};
use toml::de::DeTable;

/// What characters mean where nothing else is said.
pub const USUAL_LEGEND: &str = r##"
"." = { name = "sand" }
"," = { name = "mud", speed = 0.6 }
"w" = { name = "reed", speed = 0.5, blocks_sight = true }
"=" = { name = "causeway", speed = 1.3 }
"~" = { name = "creek", passable = false }
"#" = { name = "dyke", passable = false, blocks_sight = true }
"##;

/// The most pairs that a list has.
pub const MAX_PAIRS: usize = 100_000;

impl Scenario {
    /// A scenario that is nothing but a map of cells of one metre, made from rows of characters. `name` is that of
    /// the file, for messages; `legend` the name and the text of another, if [`USUAL_LEGEND`] does not do.
    ///
    /// # Errors
    /// [`Diagnostics`] with all that is wrong with both.
    pub fn of_rows(
        name: &str,
        text: &str,
        legend: Option<(&str, &str)>,
    ) -> Result<Scenario, Diagnostics> {
        let legend = legend.unwrap_or(("the usual legend", USUAL_LEGEND));
        with_legend((name, text), legend, read_rows)
    }

    /// A scenario that is nothing but a map of cells of one metre, made from the pixels of a picture, row by
    /// row from the top. The legend says by its keys, such as `"#c6d6dc"`, what each colour means.
    ///
    /// # Errors
    /// [`Diagnostics`] with all that is wrong with both; of each colour that the legend does not name, the
    /// first pixel.
    pub fn of_pixels(
        name: &str,
        width: u32,
        pixels: &[[u8; 3]],
        legend: (&str, &str),
    ) -> Result<Scenario, Diagnostics> {
        with_legend((name, ""), legend, |context, legend| {
            read_pixels(context, legend, width, pixels)
        })
    }

    /// A scenario that is nothing but a map.
    #[must_use]
    pub fn of_ground(title: &str, ground: Ground) -> Scenario {
        Scenario {
            title: title.to_owned(),
            duration_s: 0.0,
            setup: WorldSetup {
                sides: vec![Side::new("nobody")],
                kinds: vec![Kind::walker("body", 0.4_f32.min(ground.cell_m()), 1.0)],
                context_rules: ContextRules::default(),
                ..WorldSetup::on(ground)
            },
            waypoints: None,
            tallies: Vec::new(),
            flocks: Vec::new(),
            zones: Vec::new(),
            units: Vec::new(),
            endings: Vec::new(),
            script: Vec::new(),
            warnings: Diagnostics::default(),
        }
    }
}

/// Reads a map by a legend, both with their names.
fn with_legend(
    (name, text): (&str, &str),
    (legend_name, legend): (&str, &str),
    read: impl FnOnce(&Context<'_>, Table<'_>) -> Option<Ground>,
) -> Result<Scenario, Diagnostics> {
    let source = |name: &str, text: &str| Source {
        name: name.to_owned(),
        text: text.to_owned(),
    };
    let sources = vec![source(name, text), source(legend_name, legend)];
    let mut errors = Vec::new();
    let parsed = DeTable::parse(&sources[1].text);
    if let Err(error) = &parsed {
        let bytes = error.span().unwrap_or(0..0);
        let message = error.message().trim_end().replace('\n', "; ");
        errors.push(Diagnostic::new(Span { file: 1, bytes }, message));
    }
    let context = Context::new(&sources, errors);
    let ground = parsed.as_ref().ok().and_then(|table| {
        let span = Span {
            file: 1,
            bytes: 0..0,
        };
        read(
            &context,
            Table::new(&context, span, "the legend", table.get_ref()),
        )
    });
    let (errors, _) = context.finish();
    match ground {
        Some(ground) if errors.is_empty() => Ok(Scenario::of_ground(name, ground)),
        _ => Err(Diagnostics::new(errors, sources)),
    }
}

/// A colour written as `#` and six hexadecimal digits.
fn colour(text: &str) -> Option<[u8; 3]> {
    let digits = text.strip_prefix('#').filter(|digits| digits.len() == 6)?;
    let number = u32::from_str_radix(digits, 16).ok()?;
    let [_, red, green, blue] = number.to_be_bytes();
    Some([red, green, blue])
}

fn read_pixels(
    context: &Context<'_>,
    legend: Table<'_>,
    width: u32,
    pixels: &[[u8; 3]],
) -> Option<Ground> {
    let whole = Span {
        file: 0,
        bytes: 0..0,
    };
    let legend = read_keyed(legend, colour, "a colour such as \"#c6d6dc\"")?;
    let rows: Vec<&[[u8; 3]]> = pixels.chunks(width.max(1) as usize).collect();
    let mut unknown: Vec<[u8; 3]> = Vec::new();
    let mut classes = Vec::with_capacity(pixels.len());
    for (y, row) in rows.iter().enumerate().rev() {
        for (x, pixel) in row.iter().enumerate() {
            match legend.symbols.iter().position(|known| known == pixel) {
                Some(class) => classes.push(class as u8),
                None if unknown.contains(pixel) || unknown.len() >= MAX_ERRORS => {}
                None => {
                    unknown.push(*pixel);
                    let [red, green, blue] = pixel;
                    let message = format!(
                        "the legend has no entry for \"#{red:02x}{green:02x}{blue:02x}\", the colour of \
                         the pixel in column {}, row {}",
                        x + 1,
                        y + 1
                    );
                    context.note(Diagnostic::new(whole.clone(), message));
                }
            }
        }
    }
    if !unknown.is_empty() {
        return None;
    }
    Ground::new(width, rows.len() as u32, 1.0, legend.terrains, classes)
        .map_err(|error| context.note(Diagnostic::new(whole, error.to_string())))
        .ok()
}

fn read_rows(context: &Context<'_>, legend: Table<'_>) -> Option<Ground> {
    let whole = Span {
        file: 0,
        bytes: 0..0,
    };
    let text = &context.source(0).text;
    if text.len() > MAX_FILE_BYTES {
        let message = format!("a map has at most {MAX_FILE_BYTES} bytes");
        context.note(Diagnostic::new(whole, message));
        return None;
    }
    let legend = read_legend(legend);
    let mut rows = lines(text);
    while rows.last().is_some_and(|(row, _)| row.is_empty()) {
        rows.pop();
    }
    let (width, height) = measure(context, &whole, &rows)?;
    let (terrains, classes) = read_grid(context, legend?, &rows, (width, height));
    Ground::new(width, height, 1.0, terrains, classes)
        .map_err(|error| context.note(Diagnostic::new(whole, error.to_string())))
        .ok()
}

/// The lines of a text, each with its place; `\r` before the end of a line counts for nothing.
fn lines(text: &str) -> Vec<(&str, Span)> {
    let mut start = 0;
    let mut lines = Vec::new();
    for line in text.split('\n') {
        let bytes = start..start + line.len();
        lines.push((line.trim_end_matches('\r'), Span { file: 0, bytes }));
        start += line.len() + 1;
    }
    lines
}

/// Reads a list of starts and goals, in metres. `name` is that of the file, for messages.
///
/// # Errors
/// [`Diagnostics`] with every line that is wrong, and for a list without any pair.
pub fn read_pairs(name: &str, text: &str) -> Result<Vec<(Vec2, Vec2)>, Diagnostics> {
    let sources = vec![Source {
        name: name.to_owned(),
        text: text.to_owned(),
    }];
    let mut errors = Vec::new();
    let mut pairs = Vec::new();
    for (line, span) in lines(text) {
        let line = line.split('#').next().unwrap_or_default();
        let separators = |c: char| c.is_whitespace() || c == ',';
        let words = line.split(separators).filter(|word| !word.is_empty());
        let words: Vec<&str> = words.collect();
        if words.is_empty() {
            continue;
        }
        let number = |word: &&str| {
            let number: Option<f32> = word.parse().ok();
            number.filter(|number| number.abs() <= MAX_COORDINATE_M)
        };
        let numbers: Vec<f32> = words.iter().filter_map(number).collect();
        match (words.len(), &numbers[..]) {
            (4, &[x0, y0, x1, y1]) => pairs.push((Vec2::new(x0, y0), Vec2::new(x1, y1))),
            _ => {
                let message = format!(
                    "a line has four numbers of at most {MAX_COORDINATE_M}: from x, from y, to x, to y"
                );
                errors.push(Diagnostic::new(span, message));
            }
        }
    }
    let whole = Span {
        file: 0,
        bytes: 0..0,
    };
    if pairs.is_empty() && errors.is_empty() {
        errors.push(Diagnostic::new(whole, "there is no pair in it".to_owned()));
    } else if pairs.len() > MAX_PAIRS {
        let message = format!(
            "it has {} pairs; at most {MAX_PAIRS} are allowed",
            pairs.len()
        );
        errors.push(Diagnostic::new(whole, message));
    }
    if errors.is_empty() {
        Ok(pairs)
    } else {
        Err(Diagnostics::new(errors, sources))
    }
}
