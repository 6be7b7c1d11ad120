//! The plain orders of a script: what is to be done, and by whom.

use super::entry::{Recipients, ScriptAct};
use super::error::{Diagnostic, Span};
use super::named::{Named, Names};
use super::roster::Known;
use super::table::{Field, Table};
use crate::geom::Vec2;
use crate::motion::formation::{Form, Formation, MAX_OWN_SLOTS, MAX_SLOT_M, own_slots_are_sound};
use crate::world::{KindId, NotAnId, ORDERS, OrderKind, OrderNo, OrderReader, Spot, UnitId, When};
use core::ops::RangeInclusive;

pub(super) fn read(table: &Table<'_>, names: &Names, kinds: &Named<Known>) -> Option<ScriptAct> {
    let words: Vec<(&str, &OrderKind)> = ORDERS.iter().map(|kind| (kind.word, *kind)).collect();
    let kind = table.field("order").choice(&words);
    let fields = Fields {
        table,
        names,
        kinds,
    };
    let action = kind.and_then(|kind| (kind.read)(&fields));
    // Asked for whatever the order, so that a misspelt order does not make them unknown keys.
    for key in ORDERS.iter().flat_map(|kind| kind.keys) {
        let field = table.field(key);
        let is_used = kind.is_none_or(|kind| kind.keys.contains(key));
        if field.is_given() && !is_used {
            warn_of_unused(table, &field, key);
        }
    }
    let units = whom(table, names);
    let when = table
        .field("when")
        .or(When::Now, |field| field.choice(&When::WORDS));
    Some(ScriptAct::Order {
        action: action?,
        units: units?,
        when: when?,
    })
}

fn warn_of_unused(table: &Table<'_>, field: &Field<'_>, key: &str) {
    let order = table.field("order");
    let word = order.name().unwrap_or_default();
    let message = format!("{word:?} has no use for {key:?}");
    let warning = Diagnostic::new(field.span.clone(), message);
    table.context().warn(warning);
}

/// The keys that say what an order is about.
struct Fields<'a> {
    table: &'a Table<'a>,
    names: &'a Names,
    kinds: &'a Named<Known>,
}

impl OrderReader for Fields<'_> {
    fn point(&self) -> Option<Vec2> {
        let point = self.table.field("point");
        point.note_missing();
        point.point()
    }

    fn points(&self, most: usize) -> Option<Vec<Vec2>> {
        let (point, points) = (self.table.field("point"), self.table.field("points"));
        if !points.is_given() {
            return self.point().map(|point| vec![point]);
        }
        if point.is_given() {
            points.note("a patrol has a \"point\" or \"points\", not both");
        }
        points.points(1..=most)
    }

    fn target(&self) -> Option<UnitId> {
        let (target, target_id) = (self.table.field("target"), self.table.field("target_id"));
        match (target.is_given(), target_id.is_given()) {
            (true, false) => {
                let units = self.names.named_by(self.table.context(), &target)?;
                let units = self.names.all[units].clone();
                // One of which nothing could be read has been noted where it stands.
                if units.is_empty() {
                    return None;
                }
                if units.len() != 1 {
                    let count = units.len();
                    let message = format!("this names {count} units; a target is a single one");
                    target.note(message);
                    return None;
                }
                Some(UnitId::of_nth(units.start))
            }
            (false, true) => {
                let name = target_id.name()?;
                id(self.table, name, &target_id.span)
            }
            (false, false) => {
                target.note_missing();
                None
            }
            (true, true) => {
                target_id.note("an order has a \"target\" or a \"target_id\", not both");
                None
            }
        }
    }

    fn spot(&self) -> Option<Spot> {
        let point = self.table.field("point");
        let target_id = self.table.field("target_id");
        let targeted = self.table.field("target").is_given() || target_id.is_given();
        if targeted && point.is_given() {
            point.note("an order is about a \"point\" or a target, not both");
            return None;
        }
        if targeted {
            return self.target().map(Spot::Unit);
        }
        if !point.is_given() {
            point.note("this order needs a \"point\" or a \"target\"");
        }
        point.point().map(Spot::Ground)
    }

    fn flag(&self, key: &'static str, usual: bool) -> Option<bool> {
        self.table.field(key).or(usual, |field| field.flag())
    }

    fn metres(&self, key: &'static str, allowed: RangeInclusive<f32>, usual: f32) -> Option<f32> {
        let allowed = f64::from(*allowed.start())..=f64::from(*allowed.end());
        let field = self.table.field(key);
        let given = field.is_given().then(|| field.number(allowed, "metres"));
        given.map_or(Some(usual), |given| given.map(|metres| metres as f32))
    }

    fn angle(&self, degrees: &'static str, radians: &'static str) -> Option<Option<f32>> {
        let fields = (self.table.field(degrees), self.table.field(radians));
        angle(&fields, degrees)
    }

    fn word(&self, key: &'static str, allowed: &'static [&'static str]) -> Option<usize> {
        let word = self.table.field(key);
        word.note_missing();
        let choices: Vec<(&str, usize)> = allowed.iter().copied().zip(0..).collect();
        word.is_given().then(|| word.choice(&choices)).flatten()
    }

    fn formation(&self) -> Option<Formation> {
        let (form, slots) = (self.table.field("formation"), self.table.field("slots"));
        let form = match (form.is_given(), slots.is_given()) {
            (false, true) => Some(Form::Line),
            (true, _) => form.choice(&Form::WORDS),
            (false, false) => {
                form.note("this order needs a \"formation\", or \"slots\" of its own");
                None
            }
        };
        let slots = slots.or(Vec::new(), |field| {
            let slots = field.points(1..=MAX_OWN_SLOTS)?;
            if own_slots_are_sound(&slots) {
                return Some(slots);
            }
            let within = format!("slots lie within {MAX_SLOT_M} metres of the middle");
            field.note(format!("{within}, ahead [x] and to the left [y]"));
            None
        });
        let facing = self.angle("facing", "facing_rad");
        let abreast = self.table.field("abreast").or(None, |field| {
            let abreast = field.whole(1..=u64::from(u16::MAX))?;
            Some(Some(abreast as u16))
        });
        let slowest_leads = self.flag("slowest_leads", true);
        Some(Formation {
            form: form?,
            slots: slots?,
            facing: facing?,
            abreast: abreast?,
            slowest_leads: slowest_leads?,
        })
    }

    fn kind(&self) -> Option<KindId> {
        let kind = self.table.field("kind");
        kind.note_missing();
        let kind = kind.is_given().then_some(kind)?;
        let at = self.kinds.named_by(self.table.context(), &kind)?;
        Some(KindId(at as u16))
    }

    fn place(&self) -> Option<u16> {
        let place = self.table.field("place");
        place.note_missing();
        let place = place
            .is_given()
            .then(|| place.whole(0..=u64::from(u16::MAX)));
        place.flatten().map(|place| place as u16)
    }

    fn number(&self) -> Option<OrderNo> {
        let number = self.table.field("number");
        number.note_missing();
        let number = number.whole(1..=u64::from(u32::MAX))?;
        Some(OrderNo(number as u32))
    }
}

/// The angle that is given in degrees or in radians, in radians, if it is given at all. Radians come back as the very
/// same number when a script is written down and read again.
fn angle((degrees, radians): &(Field<'_>, Field<'_>), key: &str) -> Option<Option<f32>> {
    match (degrees.is_given(), radians.is_given()) {
        (true, true) => {
            radians.note(format!("it is given as \"{key}\" already, in degrees"));
            None
        }
        (true, false) => {
            let angle = degrees.number(-360.0..=360.0, "degrees anticlockwise")?;
            Some(Some(angle.to_radians() as f32))
        }
        (false, _) => radians.or(None, |field| {
            let angle = field.number(-100.0..=100.0, "radians anticlockwise")?;
            Some(Some(angle as f32))
        }),
    }
}

fn whom(table: &Table<'_>, names: &Names) -> Option<Recipients> {
    let (units, ids) = (table.field("units"), table.field("ids"));
    match (units.is_given(), ids.is_given()) {
        (false, false) => Some(Recipients::Selected),
        (true, false) => named_units(table, names).map(Recipients::Placed),
        (false, true) => units_by_id(table).map(Recipients::Ids),
        (true, true) => {
            ids.note("an order is for \"units\" or for \"ids\", not for both");
            None
        }
    }
}

fn units_by_id(table: &Table<'_>) -> Option<Vec<UnitId>> {
    let mut units = Vec::new();
    let mut sound = true;
    for (name, span) in table.field("ids").names()? {
        match id(table, name, &span) {
            Some(id) => units.push(id),
            None => sound = false,
        }
    }
    sound.then_some(units)
}

fn id(table: &Table<'_>, name: &str, span: &Span) -> Option<UnitId> {
    let parsed = name.parse();
    if parsed.is_err() {
        let message = format!("{name:?} is not an id: {NotAnId}");
        table.context().note(Diagnostic::new(span.clone(), message));
    }
    parsed.ok()
}

fn named_units(table: &Table<'_>, names: &Names) -> Option<Vec<u32>> {
    let mut units = Vec::new();
    let mut sound = true;
    for (name, span) in table.field("units").names()? {
        match names.position(name) {
            Some(at) => units.extend(names.all[at].clone()),
            None => {
                let known = names.known();
                table
                    .context()
                    .note_unknown(&span, "unit or block called", name, known);
                sound = false;
            }
        }
    }
    sound.then_some(units)
}
