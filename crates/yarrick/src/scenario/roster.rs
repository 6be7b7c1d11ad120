//! `[[kind]]`: what units there are.

use super::error::{ScenarioError, Span};
use super::named::Named;
use super::table::{Context, Field, Table};
use super::ways::Gaits;
use crate::combat::Weapon;
use crate::geom::Vec2;
use crate::ground::{ClearanceMap, GaitId, Ground};
use crate::motion::steering::Turning;
use crate::world::{Kind, MAX_KINDS, Rank};

const RANKS: [(&str, Rank); 4] = [
    ("fighter", Rank::Fighter),
    ("worker", Rank::Worker),
    ("building", Rank::Building),
    ("deposit", Rank::Deposit),
];

/// A kind as a file gives it: what is not given comes from the kind it is based on.
#[derive(Clone)]
pub(super) struct Draft {
    span: Span,
    radius_span: Span,
    based_on: Option<(String, Span)>,
    glyph: Option<char>,
    rank: Option<Rank>,
    height_m: Option<f64>,
    footprint_m: Option<Vec2>,
    gait: Option<GaitId>,
    radius_m: Option<f64>,
    speed: Option<f64>,
    turn_rate_deg: Option<f64>,
    braking: Option<f64>,
    acceleration: Option<f64>,
    turning: Option<Way>,
    circle_m: Option<f64>,
    health: Option<f64>,
    notice_m: Option<f64>,
    rallies: Option<bool>,
    /// `Some(None)` for a kind that takes the weapon of its base away.
    weapon: Option<Option<Weapon>>,
    /// Whether a value was given that could not be read: it is not missing then.
    flawed: bool,
}

/// How a kind turns.
#[derive(Clone, Copy, Debug)]
pub(super) enum Way {
    Free,
    OnTheSpot,
    Driving,
}

const WAYS: [(&str, Way); 3] = [
    ("free", Way::Free),
    ("on-the-spot", Way::OnTheSpot),
    ("driving", Way::Driving),
];

pub(super) fn read_kind(drafts: &mut Named<Draft>, table: Table<'_>, gaits: &Gaits) {
    let context = table.context();
    let name = table.field("name").needed();
    let base = table.field("based_on");
    let flawed = core::cell::Cell::new(false);
    let number = |key, range, unit| {
        let field = table.field(key);
        let number = field.is_given().then(|| field.number(range, unit));
        flawed.set(flawed.get() || number == Some(None));
        number.flatten()
    };
    let (least, most) = (decimal(Kind::MIN_RADIUS_M), f64::from(Kind::MAX_RADIUS_M));
    let (glyph, rank) = (table.field("glyph"), table.field("rank"));
    let footprint = table.field("footprint");
    let gait = table.field("gait");
    let gait = gait.is_given().then(|| gaits.named_by(context, &gait));
    flawed.set(flawed.get() || gait == Some(None));
    let (rallies, weapon) = (table.field("rallies"), table.field("weapon"));
    let weapon = weapon.is_given().then(|| read_weapon(&table));
    flawed.set(flawed.get() || weapon == Some(None));
    let turning = table.field("turning");
    let draft = Draft {
        span: name.span.clone(),
        radius_span: table.field("radius").span,
        based_on: base.if_given(|base| Some((base.name()?.to_owned(), base.span.clone()))),
        glyph: glyph.if_given(Field::glyph),
        rank: rank.if_given(|rank| rank.choice(&RANKS)),
        footprint_m: footprint.if_given(|footprint| footprint.size(least..=most)),
        height_m: number("height", 0.0..=f64::from(Kind::MAX_HEIGHT_M), "metres"),
        radius_m: number("radius", least..=most, "metres"),
        speed: number("speed", 0.0..=f64::from(Kind::MAX_SPEED), "metres a second"),
        turn_rate_deg: number("turn_rate", 0.0..=3600.0, "degrees a second"),
        braking: number(
            "braking",
            0.01..=f64::from(Kind::MAX_BRAKING),
            "metres a second squared",
        ),
        acceleration: number(
            "acceleration",
            0.01..=f64::from(Kind::MAX_BRAKING),
            "metres a second squared",
        ),
        circle_m: number("circle", least..=most, "metres"),
        turning: turning.if_given(|turning| turning.choice(&WAYS)),
        health: number("health", 0.0..=f64::from(Kind::MAX_HEALTH), "points"),
        notice_m: number("notice", 0.0..=f64::from(Kind::MAX_NOTICE_M), "metres"),
        gait: gait.flatten(),
        rallies: rallies.if_given(Field::flag),
        weapon: weapon.flatten(),
        flawed: flawed.get() || (base.is_given() && base.name().is_none()),
    };
    if let Some(given) = name.name() {
        drafts.add(context, given, name.span.clone(), draft);
    }
    table.finish();
}

/// What `weapon` says: a table, or `false` for none. `None` where it is unsound.
fn read_weapon(kind: &Table<'_>) -> Option<Option<Weapon>> {
    let field = kind.field("weapon");
    if field.is_false() {
        return Some(None);
    }
    let like = "false, or a table like { range = 6, damage = 3, cooldown = 1 }";
    let table = kind.table_like("weapon", "a weapon", like)?;
    let number = |key, low: f32, high: f32, unit| {
        let range = decimal(low)..=f64::from(high);
        table.field(key).needed().number(range, unit)
    };
    let range_m = number("range", 0.0, Weapon::MAX_RANGE_M, "metres");
    let damage = number("damage", 0.0, Weapon::MAX_DAMAGE, "points");
    let (least, most) = (Weapon::MIN_COOLDOWN_S, Weapon::MAX_COOLDOWN_S);
    let cooldown_s = number("cooldown", least, most, "seconds");
    table.finish();
    Some(Some(Weapon {
        range_m: range_m? as f32,
        damage: damage? as f32,
        cooldown_s: cooldown_s? as f32,
    }))
}

/// A limit as a user would write it.
fn decimal(limit: f32) -> f64 {
    (f64::from(limit) * 1e4).round() / 1e4
}

/// Makes kinds of the drafts: `None` for one that is unsound, with all that is wrong noted.
pub(super) fn finish_kinds(
    drafts: &Named<Draft>,
    context: &Context<'_>,
    ground: Option<&Ground>,
    main: usize,
) -> Named<Option<Kind>> {
    drafts.check_count(context, main, MAX_KINDS);
    let mut kinds = Named::new("kind");
    for (at, draft) in drafts.all.iter().enumerate() {
        let (name, span) = &drafts.names[at];
        let kind = filled_in(drafts, context, at).and_then(|full| full.finish(context, name));
        let widest = ground.map_or(f32::MAX, |g| g.cell_m() * ClearanceMap::MAX_RADIUS_CELLS);
        if let Some(radius_m) = draft.radius_m.filter(|radius| *radius as f32 > widest) {
            let message = format!(
                "{name:?} has a radius of {radius_m} m; on cells of this size {widest} m are allowed"
            );
            context.note(ScenarioError::new(draft.radius_span.clone(), message));
        }
        kinds.add(context, name, span.clone(), kind);
    }
    kinds
}

/// The draft with what it lacks taken from the kinds that it is based on.
fn filled_in(drafts: &Named<Draft>, context: &Context<'_>, at: usize) -> Option<Draft> {
    let mut full = drafts.all[at].clone();
    let mut chain = vec![at];
    let mut last = at;
    while let Some((base, span)) = &drafts.all[last].based_on {
        let Some(next) = drafts.position(base) else {
            // Told once, at the kind that names it.
            if last == at {
                context.note_unknown(span, "kind", base, drafts.known());
            }
            return None;
        };
        if let Some(start) = chain.iter().position(|known| *known == next) {
            // Told once for the whole circle, at its first member.
            if chain[start..].iter().min() == Some(&at) && start == 0 {
                let names = chain.iter().map(|k| drafts.names[*k].0.as_str());
                let round = names.collect::<Vec<_>>().join(" → ");
                let message =
                    format!("kinds are based on one another in a circle: {round} → {base}");
                context.note(ScenarioError::new(span.clone(), message));
            }
            return None;
        }
        let from = &drafts.all[next];
        full.glyph = full.glyph.or(from.glyph);
        full.rank = full.rank.or(from.rank);
        full.height_m = full.height_m.or(from.height_m);
        full.footprint_m = full.footprint_m.or(from.footprint_m);
        full.gait = full.gait.or(from.gait);
        full.radius_m = full.radius_m.or(from.radius_m);
        full.speed = full.speed.or(from.speed);
        full.turn_rate_deg = full.turn_rate_deg.or(from.turn_rate_deg);
        full.braking = full.braking.or(from.braking);
        full.acceleration = full.acceleration.or(from.acceleration);
        full.turning = full.turning.or(from.turning);
        full.circle_m = full.circle_m.or(from.circle_m);
        full.health = full.health.or(from.health);
        full.notice_m = full.notice_m.or(from.notice_m);
        full.rallies = full.rallies.or(from.rallies);
        full.weapon = full.weapon.or(from.weapon);
        full.flawed |= from.flawed;
        chain.push(next);
        last = next;
    }
    Some(full)
}

impl Draft {
    fn finish(self, context: &Context<'_>, name: &str) -> Option<Kind> {
        for (key, missing) in [
            ("radius", self.radius_m.is_none()),
            ("speed", self.speed.is_none()),
        ] {
            if missing && !self.flawed {
                let message = format!(
                    "{name:?} needs the key {key:?}, of its own or of a kind it is based on"
                );
                context.note(ScenarioError::new(self.span.clone(), message));
            }
        }
        let mut plain = Kind::walker(name, self.radius_m? as f32, self.speed? as f32);
        if let Some(Some(weapon)) = self.weapon {
            plain = plain.armed(weapon);
        }
        let rank = self.rank.unwrap_or(plain.rank);
        // Deposits are used up, not struck down.
        let health = if rank == Rank::Deposit {
            0.0
        } else {
            plain.health
        };
        (!self.flawed).then(|| Kind {
            glyph: self.glyph.unwrap_or(plain.glyph),
            rank,
            health: self.health.map_or(health, |health| health as f32),
            notice_m: self.notice_m.map_or(plain.notice_m, |notice| notice as f32),
            rallies: self.rallies.unwrap_or(rank == Rank::Building),
            footprint_m: self.footprint_m,
            gait: self.gait.unwrap_or(plain.gait),
            height_m: self.height_m.map_or(plain.height_m, |height| height as f32),
            turn_rate: self
                .turn_rate_deg
                .map_or(plain.turn_rate, |degrees| degrees.to_radians() as f32),
            braking: self.braking.map_or(plain.braking, |braking| braking as f32),
            acceleration: self.acceleration.map(|acceleration| acceleration as f32),
            turning: match self.turning.unwrap_or(Way::Free) {
                Way::Free => Turning::Free,
                Way::OnTheSpot => Turning::OnTheSpot,
                Way::Driving => Turning::Driving {
                    circle_m: self
                        .circle_m
                        .map_or(plain.radius_m * 2.0, |circle| circle as f32),
                },
            },
            ..plain
        })
    }
}
