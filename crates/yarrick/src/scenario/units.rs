//! `[[unit]]` and `[[block]]`: who stands where at the start.

use super::error::{Diagnostic, Span};
use super::named::Named;
use super::roster::Known;
use super::table::{Context, Table};
use crate::geom::Vec2;
use crate::ground::Ground;
use crate::world::{Kind, KindId, MAX_UNITS, Side, SideId, World, WorldSetup};

/// A unit at the start.
#[derive(Clone, Debug, PartialEq)]
pub struct Placed {
    /// What it is called: its own name, or that of its block with its number in it from 0 on, such as `"rakers/3"`.
    pub name: Option<String>,
    /// Its kind.
    pub kind: KindId,
    /// Its side.
    pub side: SideId,
    /// Where it stands, in metres.
    pub at: Vec2,
    /// Where it looks, in radians.
    pub facing: f32,
    /// How far from there the seed may put it, in metres each way.
    pub scatter_m: f32,
}

/// What units are put into.
pub(super) struct Cast<'a> {
    pub(super) context: &'a Context<'a>,
    pub(super) sides: &'a Named<Side>,
    /// What is known of the kinds, the map likewise, even if something is wrong with them: units are checked all the
    /// same.
    pub(super) kinds: &'a Named<Known>,
    pub(super) ground: Option<&'a Ground>,
    pub(super) placed: Vec<Placed>,
    /// Where the places of all of these are given.
    pub(super) spans: Vec<Span>,
    /// The units that each name stands for, as a range of `placed`.
    pub(super) groups: Named<core::ops::Range<u32>>,
}

/// What a single unit and a block have in common, as far as it could be read.
struct Common {
    kind: Option<usize>,
    side: Option<usize>,
    at: Option<Vec2>,
    facing: Option<f32>,
}

impl Cast<'_> {
    pub(super) fn read_unit(&mut self, table: Table<'_>) {
        let common = self.read_common(&table);
        let span = table.field("at").span;
        let first = self.placed.len() as u32;
        self.place(&common, common.at.as_slice(), 0.0, &span);
        self.read_name(&table, first);
        table.finish();
    }

    pub(super) fn read_block(&mut self, table: Table<'_>) {
        let common = self.read_common(&table);
        let span = table.field("at").span;
        let columns = table.field("columns").needed().whole(1..=1000);
        let rows = table.field("rows").needed().whole(1..=1000);
        let radius = self.body(&common).map(|kind| kind.body.radius_m);
        let least = f64::from(radius.unwrap_or(0.0)) * 2.0;
        let spacing = table.field("spacing").or(least * 1.25, |field| {
            field.number(hundredths(least)..=1000.0, "metres, two radii or more")
        });
        let scatter = table.field("scatter");
        let loose = ((spacing.unwrap_or(least) - least) * 0.5).max(0.0);
        let scatter = scatter.or(0.0, |field| {
            field.number(
                0.0..=hundredths(loose),
                "metres, half the gap between units",
            )
        });
        let first = self.placed.len() as u32;
        if let (Some(at), Some(columns), Some(rows), Some(spacing), Some(scatter)) =
            (common.at, columns, rows, spacing, scatter)
        {
            let spacing = spacing as f32;
            let places: Vec<Vec2> = (0..columns * rows)
                .map(|k| Vec2::new((k % columns) as f32, (k / columns) as f32))
                .map(|step| at + step * spacing)
                .collect();
            self.place(&common, &places, scatter as f32, &span);
        }
        self.read_name(&table, first);
        table.finish();
    }

    /// The kind of some units, if enough is known of it to tell where they fit.
    fn body(&self, common: &Common) -> Option<&Kind> {
        let known = &self.kinds.all[common.kind?];
        known.has_body.then_some(&known.kind)
    }

    fn read_common(&self, table: &Table<'_>) -> Common {
        let kind = self
            .kinds
            .named_by(self.context, &table.field("kind").needed());
        let side = self
            .sides
            .named_by(self.context, &table.field("side").needed());
        let at = table.field("at").needed().point();
        let facing = table.field("facing").or(0.0, |field| {
            field.number(-360.0..=360.0, "degrees anticlockwise from east")
        });
        Common {
            kind,
            side,
            at,
            facing: facing.map(|degrees| degrees.to_radians() as f32),
        }
    }

    fn read_name(&mut self, table: &Table<'_>, first: u32) {
        let field = table.field("name");
        if field.is_given()
            && let Some(name) = field.name()
        {
            let units = first..self.placed.len() as u32;
            let alone = units.len() == 1;
            for (k, unit) in self.placed[first as usize..].iter_mut().enumerate() {
                unit.name = Some(if alone {
                    name.to_owned()
                } else {
                    format!("{name}/{k}")
                });
            }
            self.groups
                .add(self.context, name, field.span.clone(), units);
        }
    }

    fn place(&mut self, common: &Common, places: &[Vec2], scatter_m: f32, span: &Span) {
        if let Some(ground) = self.ground {
            let body = self.body(common);
            let fits = |place: &&Vec2| match body {
                Some(kind) if usize::from(kind.body.gait.0) < ground.gaits().len() => {
                    let view = ground.view(kind.body.gait);
                    view.disc_is_clear(**place, kind.body.radius_m)
                }
                _ => ground.bounds().contains(**place),
            };
            let astray = places.len() - places.iter().filter(fits).count();
            if let Some(place) = places.iter().find(|place| !fits(place)) {
                let message = why_no_room(ground, body, *place, (astray, places.len()));
                self.context.note(Diagnostic::new(span.clone(), message));
            }
        }
        if self.placed.len() + places.len() > MAX_UNITS {
            let message = format!("with these there are more than {MAX_UNITS} units");
            return self.context.note(Diagnostic::new(span.clone(), message));
        }
        self.spans.extend(places.iter().map(|_| span.clone()));
        // Where something is not known, that has been noted; the units count and have names all the same.
        self.placed.extend(places.iter().map(|&at| Placed {
            name: None,
            kind: KindId(common.kind.unwrap_or_default() as u16),
            side: SideId(common.side.unwrap_or_default() as u8),
            at,
            facing: common.facing.unwrap_or_default(),
            scatter_m,
        }));
    }
}

/// Puts the units into a world in the order of the file, as a play does, and reports each unit that has no room. A building
/// closes the ground for the units after it.
pub(super) fn check_entries(
    context: &Context<'_>,
    setup: &WorldSetup,
    units: &[Placed],
    spans: &[Span],
) {
    let closes_ground = |unit: &Placed| {
        let kind = setup.kinds.get(usize::from(unit.kind.0));
        kind.is_some_and(Kind::closes_ground)
    };
    if context.has_errors() || !units.iter().any(closes_ground) {
        return;
    }
    let Ok(mut world) = World::new(setup.clone()) else {
        return;
    };
    let mut noted: Option<&Span> = None;
    for (unit, span) in units.iter().zip(spans) {
        let entered = world.spawn(unit.kind, unit.side, unit.at, unit.facing);
        if let Err(why) = entered
            && noted != Some(span)
        {
            let message = format!("{why}; units enter in the order of the file");
            context.note(Diagnostic::new(span.clone(), message));
            noted = Some(span);
        }
    }
}

/// Why a body does not fit in a place: the first of `astray` out of `count`.
fn why_no_room(
    ground: &Ground,
    kind: Option<&Kind>,
    place: Vec2,
    (astray, count): (usize, usize),
) -> String {
    let size = ground.bounds().max;
    let why = match ground.terrain_at(place) {
        None => format!("off the map, which is {} by {} m", size.x, size.y),
        Some(terrain) if !terrain.passable => format!("in {}, which is closed", terrain.name),
        Some(_) => {
            let radius = kind.map_or(0.0, |kind| kind.body.radius_m);
            format!("too near to closed ground or the rim for its radius of {radius} m")
        }
    };
    let of_a_block = match count {
        1 => String::new(),
        _ => format!("{astray} of these {count} units do not fit; the first, "),
    };
    let name = kind.map_or("this unit".to_owned(), |kind| format!("{:?}", kind.name));
    let (x, y) = (place.x, place.y);
    let comma = if count == 1 { "" } else { "," };
    format!("{of_a_block}{name} at ({x}, {y}){comma} is {why}")
}

/// Rounded to what a user would write.
fn hundredths(value: f64) -> f64 {
    (value * 100.0).round() / 100.0
}
