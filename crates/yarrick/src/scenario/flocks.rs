//! `[[flock]]` and `[[zone]]`: what flies over the map, and what keeps it, draws it, or drives it off.

use super::error::Diagnostic;
use super::named::Named;
use super::named::Names;
use super::table::{Field, Table};
use crate::geom::{MAX_OUTLINE_POINTS, Outline, Vec2, angle};
use crate::motion::flock::{Air, Flock, FlockParams, Zone, ZoneId, ZoneRole};
use crate::rng::Stream;
use crate::world::{Appearance, FlockId, MAX_FLOCKS, UnitId, World, WorldError};

/// The most members that a scenario gives a flock.
const MAX_COUNT: u64 = 100_000;

/// A flock at the start.
#[derive(Clone, Debug, PartialEq)]
pub struct FlockPlan {
    /// What it is called.
    pub name: String,
    /// How its members behave.
    pub params: FlockParams,
    /// How many they are.
    pub count: u32,
    /// The middle of where they begin, in metres.
    pub at: Vec2,
    /// How far from there they begin at the most, in metres; the seed says where.
    pub spread_m: f32,
    /// Where all of them head, in radians; `None` leaves it to the seed, for each its own.
    pub heading: Option<f32>,
    /// How long the shortest and the longest of them are, in metres; the seed says who.
    pub size_m: (f32, f32),
    /// How many shades there are of them.
    pub shades: u8,
}

/// A zone at the start.
#[derive(Clone, Debug, PartialEq)]
pub struct ZonePlan {
    /// What it is called.
    pub name: String,
    /// The flocks that it is for, by their numbers.
    pub flocks: Vec<u16>,
    /// The zone.
    pub zone: Zone,
    /// The unit that carries it about, by its number among those that the scenario places.
    pub carrier: Option<u32>,
}

/// How a zone changes.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum ZoneChange {
    /// It is switched on or off.
    Switch {
        /// Whether it works from now on.
        on: bool,
    },
    /// It is set down at a point, in metres.
    Move {
        /// The point.
        to: Vec2,
    },
    /// It is taken away.
    Remove,
}

/// The flocks and zones of a scenario as they are read.
pub(super) struct Flocks {
    pub(super) plans: Named<Option<FlockPlan>>,
    pub(super) zones: Named<Option<ZonePlan>>,
    /// Each flock without members: what refuses zones that make no sense.
    drafts: Vec<Option<Flock>>,
}

impl Flocks {
    pub(super) fn new() -> Flocks {
        Flocks {
            plans: Named::new("flock"),
            zones: Named::new("zone"),
            drafts: Vec::new(),
        }
    }

    pub(super) fn read_flock(&mut self, table: Table<'_>) {
        let context = table.context();
        let field = table.field("name").needed();
        let name = field.is_given().then(|| field.name()).flatten();
        let params = read_manners(&table);
        let draft = params.and_then(|params| match Flock::new(params) {
            Ok(draft) => Some(draft),
            Err(error) => {
                let span = table.span().clone();
                context.note(Diagnostic::new(span, error.to_string()));
                None
            }
        });
        let plan = read_plan(&table, name, params);
        let span = field.span.clone();
        table.finish();
        if self.plans.all.len() >= MAX_FLOCKS {
            let message = format!("a world has at most {MAX_FLOCKS} flocks");
            return context.note(Diagnostic::new(span, message));
        }
        if let Some(name) = name {
            let known = self.plans.all.len();
            self.plans.add(context, name, span, plan);
            if self.plans.all.len() > known {
                self.drafts.push(draft);
            }
        }
    }

    pub(super) fn read_zone(&mut self, table: Table<'_>, units: &Names) {
        let context = table.context();
        let field = table.field("name").needed();
        let name = field.is_given().then(|| field.name()).flatten();
        let flocks = self.named_flocks(&table);
        let carrier = table.field("unit");
        let carrier = carrier.or(None, |field| one_unit(field, &table, units).map(Some));
        let zone = read_zone(&table);
        let span = table.span().clone();
        let name_span = field.span.clone();
        table.finish();
        if let (Some(zone), Some(flocks)) = (&zone, &flocks) {
            for flock in flocks {
                if let Some(draft) = &mut self.drafts[usize::from(*flock)]
                    && let Err(error) = draft.add_zone(zone.clone())
                {
                    context.note(Diagnostic::new(span.clone(), error.to_string()));
                    break;
                }
            }
        }
        let plan = || {
            Some(ZonePlan {
                name: name?.to_owned(),
                flocks: flocks?,
                zone: zone?,
                carrier: carrier?,
            })
        };
        if let Some(name) = name {
            self.zones.add(context, name, name_span, plan());
        }
    }

    /// The flocks that a zone is for: those that are named, or all.
    fn named_flocks(&self, table: &Table<'_>) -> Option<Vec<u16>> {
        let field = table.field("flocks");
        if !field.is_given() {
            if self.plans.all.is_empty() {
                field.note("there is no flock that this zone could be for: add a [[flock]]");
            }
            return Some((0..self.plans.all.len() as u16).collect());
        }
        let context = table.context();
        let mut flocks = Vec::new();
        for (name, span) in field.names()? {
            match self.plans.position(name) {
                Some(at) => flocks.push(at as u16),
                None => context.note_unknown(&span, "flock", name, self.plans.known()),
            }
        }
        flocks.sort_unstable();
        flocks.dedup();
        Some(flocks)
    }
}

fn read_manners(table: &Table<'_>) -> Option<FlockParams> {
    let usual = FlockParams::default();
    let number = |key, usual: f32, low: f64, unit: &str| {
        let field = table.field(key);
        let value = field.or(f64::from(usual), |field| field.number(low..=10_000.0, unit));
        value.map(|value| value as f32)
    };
    let turn = |key, usual: f32, most: f64, unit: &str| {
        let field = table.field(key);
        let degrees = field.or(f64::from(usual.to_degrees()), |field| {
            field.number(0.1..=most, unit)
        });
        degrees.map(|degrees| degrees.to_radians() as f32)
    };
    let view_m = number("view", usual.view_m, 0.05, "metres");
    let view_angle = turn("view_angle", usual.view_angle, 360.0, "degrees");
    let spacing_m = number("spacing", usual.spacing_m, 0.01, "metres");
    let weight = |key, usual| number(key, usual, 0.0, "a weight");
    let separation = weight("separation", usual.separation);
    let alignment = weight("alignment", usual.alignment);
    let cohesion = weight("cohesion", usual.cohesion);
    let eagerness = number(
        "eagerness",
        usual.eagerness,
        0.01,
        "metres a second squared",
    );
    let speed = table.field("speed").or(usual.speed, |field| {
        let pair = field.pair(0.01..=1000.0, "speeds [lowest, highest]", "metres a second")?;
        Some((pair.x, pair.y))
    });
    // Asked for before anything ends here, so that its keys are known.
    let air = read_air(table);
    let turn_rate = turn("turn_rate", usual.turn_rate, 3600.0, "degrees a second");
    Some(FlockParams {
        view_m: view_m?,
        view_angle: view_angle?,
        spacing_m: spacing_m?,
        separation: separation?,
        alignment: alignment?,
        cohesion: cohesion?,
        eagerness: eagerness?,
        speed: speed?,
        turn_rate: turn_rate?,
        air: air?,
    })
}

/// The air that a flock flies in; none without `altitude`.
fn read_air(table: &Table<'_>) -> Option<Option<Air>> {
    let (altitude, margin, climb) = (
        table.field("altitude"),
        table.field("altitude_margin"),
        table.field("climb"),
    );
    if !altitude.is_given() {
        for field in [&margin, &climb] {
            if field.is_given() {
                field.note("a flock without \"altitude\" = [floor, ceiling] stays in the plane");
            }
        }
        return Some(None);
    }
    let altitude = altitude.pair(0.0..=10_000.0, "altitudes [floor, ceiling]", "metres");
    let margin_m = margin.or(1.0, |field| field.number(0.0..=10_000.0, "metres"));
    let climb = climb.or(1.0, |field| field.number(0.0..=1000.0, "metres a second"));
    let altitude = altitude?;
    Some(Some(Air {
        floor_m: altitude.x,
        ceiling_m: altitude.y,
        margin_m: margin_m? as f32,
        climb: climb? as f32,
    }))
}

fn read_plan(
    table: &Table<'_>,
    name: Option<&str>,
    params: Option<FlockParams>,
) -> Option<FlockPlan> {
    let count = table.field("count").needed();
    let count = count
        .is_given()
        .then(|| count.whole(1..=MAX_COUNT))
        .flatten();
    let at = table.field("at").needed();
    let at = at.is_given().then(|| at.point()).flatten();
    let spread_m = table
        .field("spread")
        .or(5.0, |field| field.number(0.0..=10_000.0, "metres"));
    let heading = table.field("heading").or(None, |field| {
        let degrees = field.number(-360.0..=360.0, "degrees anticlockwise from east")?;
        Some(Some(degrees.to_radians() as f32))
    });
    let size_m = table.field("size").or(Vec2::splat(0.4), |field| {
        field.pair(0.01..=100.0, "sizes [shortest, longest]", "metres")
    });
    let shades = table.field("shades").or(1, |field| field.whole(1..=4));
    let size_m = size_m?;
    Some(FlockPlan {
        name: name?.to_owned(),
        params: params?,
        count: count? as u32,
        at: at?,
        spread_m: spread_m? as f32,
        heading: heading?,
        size_m: (size_m.min_element(), size_m.max_element()),
        shades: shades? as u8,
    })
}

fn read_zone(table: &Table<'_>) -> Option<Zone> {
    let role = table.field("role").needed();
    let role = role
        .is_given()
        .then(|| role.choice(&ZoneRole::WORDS))
        .flatten();
    let outline = read_outline(table);
    let number = |key, usual, most, unit: &str| {
        let field = table.field(key);
        field.or(usual, |field| field.number(0.0..=most, unit))
    };
    let usual = Zone::new(ZoneRole::Pen, Outline::Circle { radius_m: 1.0 }, Vec2::ZERO);
    let margin_m = number("margin", f64::from(usual.margin_m), 10_000.0, "metres");
    let weight = number("weight", f64::from(usual.weight), 10_000.0, "a weight");
    let facing = table.field("facing").or(0.0, |field| {
        field.number(-360.0..=360.0, "degrees anticlockwise from east")
    });
    let is_on = table.field("on").or(true, |field| field.flag());
    let at = table.field("at");
    // The points of a polygon are those of the map unless it is put elsewhere; a carried zone is where its unit is.
    if !table.field("unit").is_given() && !table.field("polygon").is_given() {
        at.note_missing();
    }
    let at = at.or(Vec2::ZERO, |field| field.point());
    Some(Zone {
        role: role?,
        outline: outline?,
        at: at?,
        facing: facing?.to_radians() as f32,
        margin_m: margin_m? as f32,
        weight: weight? as f32,
        is_on: is_on?,
    })
}

fn read_outline(table: &Table<'_>) -> Option<Outline> {
    let (circle, oblong, polygon) = (
        table.field("circle"),
        table.field("box"),
        table.field("polygon"),
    );
    match [&circle, &oblong, &polygon].map(Field::is_given) {
        [true, false, false] => {
            let radius = circle.number(0.01..=100_000.0, "metres, the radius")?;
            let radius_m = radius as f32;
            Some(Outline::Circle { radius_m })
        }
        [false, true, false] => {
            let half_m = oblong.size(0.01..=100_000.0)? * 0.5;
            Some(Outline::Box { half_m })
        }
        [false, false, true] => {
            let points = polygon.points(3..=MAX_OUTLINE_POINTS)?;
            Some(Outline::Polygon { points })
        }
        given => {
            let count = given.iter().filter(|given| **given).count();
            let message =
                format!("a zone needs one of \"circle\", \"box\" and \"polygon\", not {count}");
            let span = table.span().clone();
            table.context().note(Diagnostic::new(span, message));
            None
        }
    }
}

/// The number of the single unit that a field names.
fn one_unit(field: &Field<'_>, table: &Table<'_>, units: &Names) -> Option<u32> {
    let at = units.named_by(table.context(), field)?;
    let named = units.all[at].clone();
    if named.len() != 1 {
        let count = named.len();
        field.note(format!(
            "this names {count} units; a zone is carried by a single one"
        ));
        return None;
    }
    Some(named.start)
}

/// How each zone of a scenario is called in its world: in each flock that it is for.
pub(super) type Handles = Vec<Vec<(FlockId, ZoneId)>>;

/// Puts the flocks and zones of a scenario into its world.
pub(super) fn put_in(
    world: &mut World,
    flocks: &[FlockPlan],
    zones: &[ZonePlan],
    placed: &[UnitId],
) -> Result<Handles, WorldError> {
    for plan in flocks {
        let flock = scattered(plan, world.seed())?;
        world.add_flock(&plan.name, flock)?;
    }
    let mut handles = Vec::with_capacity(zones.len());
    for plan in zones {
        let mut known = Vec::new();
        for flock in plan.flocks.iter().map(|flock| FlockId(*flock)) {
            let mut zone = plan.zone.clone();
            let carrier = plan.carrier.and_then(|unit| placed.get(unit as usize));
            if let Some(unit) = carrier.and_then(|unit| world.unit(*unit)) {
                (zone.at, zone.facing) = (unit.position(), unit.facing());
            }
            let zone = world.add_zone(flock, zone)?;
            if let Some(unit) = carrier {
                world.carry_zone(flock, zone, *unit)?;
            }
            known.push((flock, zone));
        }
        handles.push(known);
    }
    Ok(handles)
}

/// A flock as the seed scatters it.
fn scattered(plan: &FlockPlan, seed: u64) -> Result<Flock<Appearance>, WorldError> {
    use core::f32::consts::PI;
    let mut stream = Stream::new(seed, &format!("flock {}", plan.name));
    let mut flock = Flock::new(plan.params)?;
    let (floor, ceiling) = plan
        .params
        .air
        .map_or((0.0, 0.0), |air| (air.floor_m, air.ceiling_m));
    for _ in 0..plan.count {
        let out = stream.unit().sqrt() * plan.spread_m;
        let at = plan.at + angle::direction(stream.between(-PI, PI)) * out;
        let altitude = stream.between(floor, ceiling);
        let own = stream.between(-PI, PI);
        let appearance = Appearance {
            size_m: stream.between(plan.size_m.0, plan.size_m.1),
            shade: stream.below(plan.shades.into()) as u8,
        };
        flock.add(at.extend(altitude), plan.heading.unwrap_or(own), appearance)?;
    }
    Ok(flock)
}
