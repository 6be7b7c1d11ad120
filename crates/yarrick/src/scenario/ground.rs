//! `[ground]`: the map as rows of characters, its legend, its heights.

use super::error::{Diagnostic, Span, one_of};
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

/// Reads the map. Where something is wrong with it, a map on which everything else can be checked all the same: rows are
/// as long as most of them, and what could not be read is open. `None` if there is not enough for that.
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
    let grid = match (legend, &rows, size) {
        (Some(legend), Some(rows), Some(size)) => Some(read_grid(context, legend, rows, size)),
        _ => None,
    };
    let heights = read_heights(&table, size);
    table.finish();

    let ((width, height), (terrains, classes)) = size.zip(grid)?;
    let ground = Ground::new(width, height, cell_m? as f32, terrains, classes)
        .map(|ground| ground.with_lattice(lattice.unwrap_or_default()))
        .and_then(|ground| match heights {
            Ok(Some(heights)) => ground.with_heights(heights),
            _ => Ok(ground),
        })
        .map_err(|error| context.note(Diagnostic::new(span, error.to_string())));
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
    let mut dropped = false;
    for (key, at, value, span) in table.entries() {
        let Some(symbol) = read_key(key) else {
            dropped = true;
            let message = format!("a legend key is {like}, not {key:?}");
            context.note(Diagnostic::new(at, message));
            continue;
        };
        legend.symbols.push(symbol);
        legend
            .terrains
            .push(if let DeValue::Table(entries) = value {
                read_terrain(key, Table::new(context, span, "a legend entry", entries))
            } else {
                let message = "a legend entry must be a table, such as { name = \"sand\" }";
                context.note(Diagnostic::new(span, message));
                unreadable(key)
            });
    }
    let count = legend.terrains.len();
    let fits = (1..=MAX_TERRAINS).contains(&count);
    if !fits && !dropped {
        let message = format!("the legend has {count} entries; allowed is 1 to {MAX_TERRAINS}");
        context.note(Diagnostic::new(table.span().clone(), message));
    }
    fits.then_some(legend)
}

/// Stands for a terrain of which nothing could be read: that is an error, and everything else is checked as if it were
/// open.
fn unreadable(symbol: &str) -> Terrain {
    Terrain::open(&format!("unreadable {symbol:?}"))
}

/// The terrain of a symbol; what could not be read of it is as usual.
fn read_terrain(symbol: &str, table: Table<'_>) -> Terrain {
    let name = table.field("name").needed().name();
    let range = f64::from(Terrain::SLOWEST)..=f64::from(Terrain::FASTEST);
    let speed = table.field("speed").or(1.0, |field| {
        field.number(round(range), "times a unit's own speed")
    });
    let flag = |key, default| table.field(key).or(default, |field| field.flag());
    let passable = flag("passable", true);
    let blocks_sight = flag("blocks_sight", false);
    table.finish();
    let unreadable = unreadable(symbol);
    Terrain {
        name: name.map_or(unreadable.name, str::to_owned),
        speed: speed.unwrap_or(1.0) as f32,
        passable: passable.unwrap_or(true),
        blocks_sight: blocks_sight.unwrap_or(false),
    }
}

/// The same range in the decimals that a user would write: `0.1`, not its nearest `f32`.
fn round(range: core::ops::RangeInclusive<f64>) -> core::ops::RangeInclusive<f64> {
    let rounded = |x: f64| (x * 1e4).round() / 1e4;
    rounded(*range.start())..=rounded(*range.end())
}

/// The size of a grid of rows, in cells: as wide as most of them. Every row that is longer or shorter is noted.
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
        context.note(Diagnostic::new(span.clone(), message));
        return None;
    }
    if width.max(height) > most {
        let message =
            format!("the map is {width} by {height} cells; at most {most} a side are allowed");
        context.note(Diagnostic::new(span.clone(), message));
        return None;
    }
    even_rows(context, rows, width);
    Some((width as u32, rows.len() as u32))
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
            context.note(Diagnostic::new(at.clone(), message));
        }
    }
    even
}

/// The terrains of a map, and which of them each cell is, from the lowest row up. A character without an entry is noted
/// where it first stands; cells that could not be read are open.
pub(super) fn read_grid(
    context: &Context<'_>,
    legend: Legend,
    rows: &[Row<'_>],
    (width, height): (u32, u32),
) -> (Vec<Terrain>, Vec<u8>) {
    let Legend {
        symbols,
        mut terrains,
    } = legend;
    let nothing = terrains.len().min(MAX_TERRAINS - 1) as u8;
    let mut unknown: Vec<char> = Vec::new();
    let mut classes = Vec::with_capacity(width as usize * height as usize);
    for (row, at) in rows.iter().rev() {
        let end = classes.len() + width as usize;
        for (byte, symbol) in row.char_indices() {
            let class = symbols.iter().position(|known| *known == symbol);
            classes.push(class.map_or(nothing, |class| class as u8));
            if class.is_none() && !unknown.contains(&symbol) {
                unknown.push(symbol);
                let names: Vec<String> = symbols.iter().map(char::to_string).collect();
                let names = one_of(&names.iter().map(String::as_str).collect::<Vec<_>>());
                let message = format!("the legend has no entry for {symbol:?}; it has {names}");
                context.note(Diagnostic::new(character(at, byte, symbol), message));
            }
        }
        classes.resize(end, nothing);
    }
    if usize::from(nothing) == terrains.len() && classes.contains(&nothing) {
        terrains.push(unreadable("cells"));
    }
    (terrains, classes)
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
                context.note(Diagnostic::new(character(at, byte, symbol), message));
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
