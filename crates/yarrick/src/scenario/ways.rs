//! `[[gait]]`, `[[door]]` and `[[link]]`: who goes over the ground how, and what else is on it.

use super::error::{Diagnostic, Span};
use super::named::Named;
use super::table::{Context, Field, Table};
use super::value::{as_number, describe};
use crate::ground::{
    Cell, Door, Gait, GaitId, Ground, Link, MAX_DOORS, MAX_GAITS, MAX_LINK_COST_M, MAX_LINKS,
    Patch, Terrain,
};
use toml::de::DeValue;

/// The gaits of a scenario, in the order in which the ground numbers them: on foot first.
pub(super) struct Gaits(Named<Gait>);

impl Gaits {
    pub(super) fn new() -> Gaits {
        Gaits(Named::new("gait"))
    }

    /// The gait that a field names; an unknown name is noted.
    pub(super) fn named_by(&self, context: &Context<'_>, field: &Field<'_>) -> Option<GaitId> {
        self.position(context, field.name()?, &field.span)
    }

    /// The gait of a name; one that there is none of is noted.
    fn position(&self, context: &Context<'_>, name: &str, span: &Span) -> Option<GaitId> {
        if name == Gait::FOOT {
            return Some(GaitId::default());
        }
        let others = || self.0.known().filter(|known| *known != Gait::FOOT);
        match others().position(|known| known == name) {
            Some(at) => Some(GaitId(at as u8 + 1)),
            None => {
                let known = core::iter::once(Gait::FOOT).chain(others());
                context.note_unknown(span, "gait", name, known);
                None
            }
        }
    }

    pub(super) fn read(&mut self, table: Table<'_>, ground: Option<&Ground>) {
        let context = table.context();
        let name = table.field("name").needed();
        let flag = |key| table.field(key).or(false, |field| field.flag());
        let most = f64::from(Gait::MAX_CLIMB);
        let steepest = table.field("steepest").or(f64::INFINITY, |field| {
            field.number(0.0..=1000.0, "metres of height a metre")
        });
        let climb = table.field("climb").or(0.0, |field| {
            field.number(0.0..=most, "times as long on a slope of 1")
        });
        let (opens_doors, flies) = (flag("opens_doors"), flag("flies"));
        let speeds = if table.field("on").is_given() {
            table
                .table("on", "a gait's speeds")
                .map(|on| read_speeds(on, ground))
        } else {
            Some(Vec::new())
        };
        if let Some(given) = name.name() {
            let gait = Gait {
                name: given.to_owned(),
                speeds: speeds.unwrap_or_default(),
                steepest: steepest.unwrap_or(f64::INFINITY) as f32,
                climb: climb.unwrap_or(0.0) as f32,
                opens_doors: opens_doors.unwrap_or(false),
                flies: flies.unwrap_or(false),
            };
            self.0.add(context, given, name.span.clone(), gait);
            if self.0.all.len() == MAX_GAITS {
                let most = MAX_GAITS - 1;
                name.note(format!(
                    "a map has at most {most} gaits besides {:?}",
                    Gait::FOOT
                ));
            }
        }
        table.finish();
    }

    /// The ground with these gaits.
    pub(super) fn put_on(&self, ground: Ground) -> Ground {
        // What could be wrong with them has been noted where they were read.
        let most = self.0.all.len().min(MAX_GAITS - 1);
        let with_gaits = ground.clone().with_gaits(self.0.all[..most].to_vec());
        with_gaits.unwrap_or(ground)
    }
}

/// How fast a gait is on which terrain; `false` where it cannot go.
fn read_speeds(table: Table<'_>, ground: Option<&Ground>) -> Vec<(String, Option<f32>)> {
    let context = table.context();
    let terrains = || ground.iter().flat_map(|ground| ground.terrains());
    let mut speeds = Vec::new();
    for (name, at, value, span) in table.entries() {
        if ground.is_some() && !terrains().any(|terrain| terrain.name == name) {
            let known: Vec<&str> = terrains().map(|terrain| terrain.name.as_str()).collect();
            context.note_unknown(&at, "terrain", name, known.iter().copied());
            continue;
        }
        let allowed = 0.1..=f64::from(Terrain::FASTEST);
        let speed = as_number(value).filter(|speed| allowed.contains(speed));
        match (value, speed) {
            (DeValue::Boolean(false), _) => speeds.push((name.to_owned(), None)),
            (_, Some(speed)) => speeds.push((name.to_owned(), Some(speed as f32))),
            _ => {
                let is = describe(value);
                let message = format!(
                    "a speed must be a number from 0.1 to 4 (times a unit's own speed), or false \
                     for ground that is closed, not {is}"
                );
                context.note(Diagnostic::new(span, message));
            }
        }
    }
    speeds
}

/// The doors and links of a scenario.
pub(super) struct Fixtures {
    doors: Named<Door>,
    links: Named<Link>,
}

impl Fixtures {
    pub(super) fn new() -> Fixtures {
        Fixtures {
            doors: Named::new("door"),
            links: Named::new("link"),
        }
    }

    pub(super) fn read_door(&mut self, table: Table<'_>, ground: Option<&Ground>) {
        let context = table.context();
        let name = table.field("name").needed();
        let (from, to) = (table.field("from").needed(), table.field("to").needed());
        let shut = table.field("shut").or(true, |field| field.flag());
        let cell = |field: &Field<'_>| {
            let at = field.is_given().then(|| field.point()).flatten()?;
            let ground = ground?;
            let cell = ground.cell_at(at);
            if cell.is_none() {
                note_off_map(context, &field.span, ground);
            }
            cell
        };
        let ends = (cell(&from), cell(&to));
        if let Some(given) = name.name() {
            let (patch, shut) = match ends {
                (Some(a), Some(b)) => (Patch::between(a, b), shut.unwrap_or(true)),
                // Somewhere, and out of the way: scripts may name it all the same.
                _ => (Patch::between(Cell::new(0, 0), Cell::new(0, 0)), false),
            };
            let door = Door {
                name: given.to_owned(),
                patch,
                shut,
            };
            self.doors.add(context, given, name.span.clone(), door);
            if self.doors.all.len() == MAX_DOORS + 1 {
                name.note(format!("a map has at most {MAX_DOORS} doors"));
            }
        }
        table.finish();
    }

    pub(super) fn read_link(&mut self, table: Table<'_>, ground: Option<&Ground>, gaits: &Gaits) {
        let context = table.context();
        let name = table.field("name").needed();
        let point = |key| {
            let field = table.field(key).needed();
            let at = field.is_given().then(|| field.point()).flatten();
            if let (Some(at), Some(ground)) = (at, ground)
                && ground.cell_at(at).is_none()
            {
                note_off_map(context, &field.span, ground);
                return None;
            }
            at
        };
        let (from, to) = (point("from"), point("to"));
        let most = f64::from(MAX_LINK_COST_M);
        let straight = from
            .zip(to)
            .map_or(1.0, |(a, b)| f64::from(a.distance(b)).max(0.01));
        let cost = table
            .field("cost")
            .or(straight, |field| field.number(0.01..=most, "metres"));
        let both_ways = table.field("both_ways").or(true, |field| field.flag());
        let users = table.field("gaits");
        let users = if users.is_given() {
            users.names().unwrap_or_default()
        } else {
            Vec::new()
        };
        let users = users
            .iter()
            .filter_map(|(user, span)| gaits.position(context, user, span));
        let users = users.collect();
        if let (Some(given), Some(from), Some(to)) = (name.name(), from, to) {
            let link = Link {
                name: given.to_owned(),
                from,
                to,
                cost_m: cost.unwrap_or(straight) as f32,
                both_ways: both_ways.unwrap_or(true),
                gaits: users,
            };
            self.links.add(context, given, name.span.clone(), link);
            if self.links.all.len() == MAX_LINKS + 1 {
                name.note(format!("a map has at most {MAX_LINKS} links"));
            }
        }
        table.finish();
    }

    /// The ground with these doors and links.
    pub(super) fn put_on(self, ground: Ground) -> Ground {
        // What could be wrong with them has been noted where they were read.
        let with_doors = ground.clone().with_doors(self.doors.all);
        let ground = with_doors.unwrap_or(ground);
        ground.clone().with_links(self.links.all).unwrap_or(ground)
    }
}

pub(super) fn note_off_map(context: &Context<'_>, span: &Span, ground: &Ground) {
    let size = ground.bounds().max;
    let message = format!("this lies off the map, which is {} by {} m", size.x, size.y);
    context.note(Diagnostic::new(span.clone(), message));
}
