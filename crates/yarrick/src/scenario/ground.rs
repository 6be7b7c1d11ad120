//! `[ground]`: the map as rows of characters, its legend, its heights.

use super::error::{ScenarioError, Span, one_of};
use super::table::{Context, Table};
use super::value::single_glyph;
use crate::ground::{Ground, Lattice, MAX_CELLS_A_SIDE, MAX_TERRAINS, Terrain};
use toml::de::DeValue;

/// A row of characters and where it stands.
pub(super) type Row<'a> = (&'a str, Span);

/// What stands for which terrain: characters, or colours.
pub(super) struct Legend<K = char> {
    pub(super) symbols: Vec<K>,
    pub(super) terrains: Vec<Terrain>,
}

/// Reads the map. `None` where anything about it is wrong.
pub(super) fn read(table: Table<'_>) -> Option<Ground> {
    let (context, span) = (table.context(), table.span().clone());
    let cell_m = table
        .field("cell")
        .or(1.0, |field| field.number(0.05..=100.0, "metres"));
    let lattice = table
        .field("lattice")
        .or(Lattice::default(), |field| field.choice(&Lattice::WORDS));
    let legend = table.field("legend").needed();
    let legend = legend
        .is_given()
        .then(|| table.table("legend", "the legend"))
        .flatten()
        .and_then(read_legend);
    let rows = table.field("rows").needed().lines();
    let size = rows.as_ref().and_then(|rows| measure(context, &span, rows));
    let classes = match (&legend, &rows, size) {
        (Some(legend), Some(rows), Some(_)) => read_classes(context, legend, rows),
        _ => None,
    };
    let heights = read_heights(&table, size);
    table.finish();

    let (width, height) = size?;
    let ground = Ground::new(width, height, cell_m? as f32, legend?.terrains, classes?)
        .map(|ground| ground.with_lattice(lattice.unwrap_or_default()))
        .and_then(|ground| match heights {
            Ok(Some(heights)) => ground.with_heights(heights),
            _ => Ok(ground),
        })
        .map_err(|error| context.note(ScenarioError::new(span, error.to_string())));
    ground.ok()
}

pub(super) fn read_legend(table: Table<'_>) -> Option<Legend> {
    read_keyed(table, single_glyph, "a single visible character")
}

/// A legend whose keys are read by `key`, and are what `like` says.
pub(super) fn read_keyed<K>(
    table: Table<'_>,
    key: impl Fn(&str) -> Option<K>,
    like: &str,
) -> Option<Legend<K>> {
    let read_key = key;
    let context = table.context();
    let mut legend = Legend {
        symbols: Vec::new(),
        terrains: Vec::new(),
    };
    let mut sound = true;
    for (key, at, value, span) in table.entries() {
        let Some(symbol) = read_key(key) else {
            let message = format!("a legend key is {like}, not {key:?}");
            context.note(ScenarioError::new(at, message));
            sound = false;
            continue;
        };
        let DeValue::Table(entries) = value else {
            let message = "a legend entry must be a table, such as { name = \"sand\" }";
            context.note(ScenarioError::new(span, message));
            sound = false;
            continue;
        };
        let entry = Table::new(context, span, "a legend entry", entries);
        match read_terrain(entry) {
            Some(terrain) => {
                legend.symbols.push(symbol);
                legend.terrains.push(terrain);
            }
            None => sound = false,
        }
    }
    let count = legend.terrains.len();
    if sound && !(1..=MAX_TERRAINS).contains(&count) {
        let message = format!("the legend has {count} entries; allowed is 1 to {MAX_TERRAINS}");
        context.note(ScenarioError::new(table.span().clone(), message));
        sound = false;
    }
    sound.then_some(legend)
}

fn read_terrain(table: Table<'_>) -> Option<Terrain> {
    let name = table.field("name").needed().name();
    let range = f64::from(Terrain::SLOWEST)..=f64::from(Terrain::FASTEST);
    let speed = table.field("speed").or(1.0, |field| {
        field.number(round(range), "times a unit's own speed")
    });
    let flag = |key, default| table.field(key).or(default, |field| field.flag());
    let passable = flag("passable", true);
    let blocks_sight = flag("blocks_sight", false);
    table.finish();
    Some(Terrain {
        name: name?.to_owned(),
        speed: speed? as f32,
        passable: passable?,
        blocks_sight: blocks_sight?,
    })
}

/// The same range in the decimals that a user would write: `0.1`, not its nearest `f32`.
fn round(range: core::ops::RangeInclusive<f64>) -> core::ops::RangeInclusive<f64> {
    let rounded = |x: f64| (x * 1e4).round() / 1e4;
    rounded(*range.start())..=rounded(*range.end())
}

/// The size of a grid of rows, in cells; every row that is longer or shorter than the first is
/// noted.
pub(super) fn measure(context: &Context<'_>, span: &Span, rows: &[Row<'_>]) -> Option<(u32, u32)> {
    let most = MAX_CELLS_A_SIDE as usize;
    let height = rows.len();
    let width = if height > most {
        rows[0].0.chars().count()
    } else {
        usual_width(rows)
    };
    if width == 0 {
        let message = "the map has no cells; it needs at least one row of one character";
        context.note(ScenarioError::new(span.clone(), message));
        return None;
    }
    if width.max(height) > most {
        let message =
            format!("the map is {width} by {height} cells; at most {most} a side are allowed");
        context.note(ScenarioError::new(span.clone(), message));
        return None;
    }
    even_rows(context, rows, width).then_some((width as u32, rows.len() as u32))
}

/// The number of characters that most rows have; of several, the one that comes first.
fn usual_width(rows: &[Row<'_>]) -> usize {
    let mut counts: Vec<(usize, usize)> = Vec::new();
    for (row, _) in rows {
        let width = row.chars().count();
        match counts.iter_mut().find(|(known, _)| *known == width) {
            Some((_, count)) => *count += 1,
            None => counts.push((width, 1)),
        }
    }
    // The last of the best, so searched from the end.
    let best = counts.iter().rev().max_by_key(|(_, count)| *count);
    best.map_or(0, |(width, _)| *width)
}

/// Whether every row has `width` characters.
fn even_rows(context: &Context<'_>, rows: &[Row<'_>], width: usize) -> bool {
    let mut even = true;
    for (row, at) in rows {
        let found = row.chars().count();
        if found != width {
            even = false;
            let message = format!("this row has {found} characters, most have {width}");
            context.note(ScenarioError::new(at.clone(), message));
        }
    }
    even
}

/// The class of each cell, from the lowest row up. A character without an entry is noted where
/// it first stands.
pub(super) fn read_classes(
    context: &Context<'_>,
    legend: &Legend,
    rows: &[Row<'_>],
) -> Option<Vec<u8>> {
    let mut unknown: Vec<char> = Vec::new();
    let mut classes = Vec::new();
    for (row, at) in rows.iter().rev() {
        for (byte, symbol) in row.char_indices() {
            match legend.symbols.iter().position(|known| *known == symbol) {
                Some(class) => classes.push(class as u8),
                None if unknown.contains(&symbol) => {}
                None => {
                    unknown.push(symbol);
                    let names: Vec<String> = legend.symbols.iter().map(char::to_string).collect();
                    let names = one_of(names.iter().map(String::as_str));
                    let message = format!("the legend has no entry for {symbol:?}; it has {names}");
                    context.note(ScenarioError::new(character(at, byte, symbol), message));
                }
            }
        }
    }
    unknown.is_empty().then_some(classes)
}

/// The heights at the cell centres, from the lowest row up, if any are given.
fn read_heights(table: &Table<'_>, size: Option<(u32, u32)>) -> Result<Option<Vec<f32>>, ()> {
    let context = table.context();
    let step_m = table
        .field("height_step")
        .or(1.0, |field| field.number(0.001..=1000.0, "metres"));
    let field = table.field("heights");
    if !field.is_given() {
        return Ok(None);
    }
    let rows = field.lines().ok_or(())?;
    let (width, height) = size.ok_or(())?;
    if rows.len() != height as usize {
        let found = rows.len();
        field.note(format!("the map has {height} rows, its heights {found}"));
        return Err(());
    }
    if !even_rows(context, &rows, width as usize) {
        return Err(());
    }
    let mut heights = Vec::with_capacity(width as usize * height as usize);
    for (row, at) in rows.iter().rev() {
        for (byte, symbol) in row.char_indices() {
            let Some(steps) = symbol.to_digit(36) else {
                let message =
                    format!("a height is a digit 0 to 9 or a letter a to z, not {symbol:?}");
                context.note(ScenarioError::new(character(at, byte, symbol), message));
                return Err(());
            };
            heights.push(steps as f32 * step_m.unwrap_or(1.0) as f32);
        }
    }
    Ok(Some(heights))
}

/// The place of one character of a row.
fn character(row: &Span, byte: usize, symbol: char) -> Span {
    let start = row.bytes.start + byte;
    Span {
        file: row.file,
        bytes: start..start + symbol.len_utf8(),
    }
}
