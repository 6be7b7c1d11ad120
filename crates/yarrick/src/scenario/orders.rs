//! The plain orders of a script: what is to be done, and by whom.

use super::mistake::{Mistake, Span};
use super::roster::Named;
use super::script::{ScriptAct, Whom};
use super::table::{Field, Table};
use crate::geom::Vec2;
use crate::motion::formation::{Form, Formation};
use crate::world::{
    Action, MAX_PATROL_POINTS, MAX_STAND_OFF_M, NotAnId, OrderNo, Spot, USUAL_STAND_OFF_M, UnitId,
    When,
};
use core::ops::Range;

/// The names of units and blocks, each with the numbers of its units.
pub(super) type Names = Named<Range<u32>>;

#[derive(Clone, Copy)]
enum Word {
    Move,
    AttackMove,
    March,
    Patrol,
    Attack,
    Approach,
    Follow,
    Guard,
    Hold,
    Stop,
    Cancel,
    Rally,
    Context,
}

const WORDS: [(&str, Word); 13] = [
    ("move", Word::Move),
    ("attack-move", Word::AttackMove),
    ("march", Word::March),
    ("patrol", Word::Patrol),
    ("attack", Word::Attack),
    ("approach", Word::Approach),
    ("follow", Word::Follow),
    ("guard", Word::Guard),
    ("hold", Word::Hold),
    ("stop", Word::Stop),
    ("cancel", Word::Cancel),
    ("rally", Word::Rally),
    ("context", Word::Context),
];

pub(super) fn read(table: &Table<'_>, names: &Names) -> Option<ScriptAct> {
    let word = table.field("order").choice(&WORDS);
    // Asked for whatever the order, so that a misspelt order does not make them unknown keys.
    let fields = Fields {
        table,
        names,
        point: table.field("point"),
        points: table.field("points"),
        round: table.field("round"),
        target: table.field("target"),
        target_id: table.field("target_id"),
        number: table.field("number"),
        formation: table.field("formation"),
        facing: (table.field("facing"), table.field("facing_rad")),
        abreast: table.field("abreast"),
        slowest_leads: table.field("slowest_leads"),
        fight: table.field("fight"),
        stand_off: table.field("stand_off"),
        side: (table.field("from_side"), table.field("side_rad")),
    };
    let action = word.and_then(|word| fields.action(word));
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

/// The keys that say what an order is about.
struct Fields<'a> {
    table: &'a Table<'a>,
    names: &'a Names,
    point: Field<'a>,
    points: Field<'a>,
    round: Field<'a>,
    target: Field<'a>,
    target_id: Field<'a>,
    number: Field<'a>,
    formation: Field<'a>,
    /// In degrees and in radians.
    facing: (Field<'a>, Field<'a>),
    abreast: Field<'a>,
    slowest_leads: Field<'a>,
    fight: Field<'a>,
    stand_off: Field<'a>,
    /// In degrees and in radians.
    side: (Field<'a>, Field<'a>),
}

impl Fields<'_> {
    fn action(&self, word: Word) -> Option<Action> {
        Some(match word {
            Word::Move => Action::Move { to: self.point()? },
            Word::AttackMove => Action::AttackMove { to: self.point()? },
            Word::March => self.march()?,
            Word::Patrol => self.patrol()?,
            Word::Attack => Action::Attack {
                target: self.target()?,
            },
            Word::Approach => self.approach()?,
            Word::Follow => Action::Follow {
                target: self.target()?,
            },
            Word::Guard => Action::Guard { ward: self.spot()? },
            Word::Rally => Action::Rally { to: self.spot()? },
            Word::Context => Action::Context { at: self.spot()? },
            Word::Hold => Action::Hold,
            Word::Stop => Action::Stop,
            Word::Cancel => {
                self.number.note_missing();
                let number = self.number.whole(1..=u64::from(u32::MAX))?;
                let order = OrderNo(number as u32);
                Action::Cancel { order }
            }
        })
    }

    fn point(&self) -> Option<Vec2> {
        self.point.note_missing();
        self.point.point()
    }

    fn approach(&self) -> Option<Action> {
        let stand_off = self.stand_off.or(f64::from(USUAL_STAND_OFF_M), |field| {
            field.number(0.0..=f64::from(MAX_STAND_OFF_M), "metres")
        });
        let side = angle(&self.side, "from_side");
        Some(Action::Approach {
            target: self.target()?,
            stand_off_m: stand_off? as f32,
            side: side?,
        })
    }

    fn march(&self) -> Option<Action> {
        self.formation.note_missing();
        let form = self
            .formation
            .is_given()
            .then(|| self.formation.choice(&Form::WORDS));
        let facing = angle(&self.facing, "facing");
        let abreast = self.abreast.or(None, |field| {
            let abreast = field.whole(1..=u64::from(u16::MAX))?;
            Some(Some(abreast as u16))
        });
        let slowest_leads = self.slowest_leads.or(true, |field| field.flag());
        let fight = self.fight.or(false, |field| field.flag());
        Some(Action::March {
            to: self.point()?,
            formation: Formation {
                form: form??,
                facing: facing?,
                abreast: abreast?,
                slowest_leads: slowest_leads?,
            },
            fight: fight?,
        })
    }

    fn patrol(&self) -> Option<Action> {
        let points = if self.points.is_given() {
            if self.point.is_given() {
                self.points
                    .note("a patrol has a \"point\" or \"points\", not both");
            }
            self.points.points(1..=MAX_PATROL_POINTS)
        } else {
            self.point().map(|point| vec![point])
        };
        let round = if self.round.is_given() {
            self.round.flag()
        } else {
            Some(false)
        };
        Some(Action::Patrol {
            points: points?,
            round: round?,
        })
    }

    /// The unit that the order is about.
    fn target(&self) -> Option<UnitId> {
        match (self.target.is_given(), self.target_id.is_given()) {
            (true, false) => {
                let units = self.names.named_by(self.table.context(), &self.target)?;
                let units = self.names.all[units].clone();
                if units.len() != 1 {
                    let count = units.len();
                    let message = format!("this names {count} units; a target is a single one");
                    self.target.note(message);
                    return None;
                }
                Some(UnitId::of_nth(units.start))
            }
            (false, true) => {
                let name = self.target_id.name()?;
                id(self.table, name, &self.target_id.span)
            }
            (false, false) => {
                self.target.note_missing();
                None
            }
            (true, true) => {
                self.target_id
                    .note("an order has a \"target\" or a \"target_id\", not both");
                None
            }
        }
    }

    /// The point or the unit that the order is about.
    fn spot(&self) -> Option<Spot> {
        let targeted = self.target.is_given() || self.target_id.is_given();
        if targeted && self.point.is_given() {
            self.point
                .note("an order is about a \"point\" or a target, not both");
            return None;
        }
        if targeted {
            return self.target().map(Spot::Unit);
        }
        if !self.point.is_given() {
            self.point
                .note("this order needs a \"point\" or a \"target\"");
        }
        self.point.point().map(Spot::Ground)
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

fn whom(table: &Table<'_>, names: &Names) -> Option<Whom> {
    let (units, ids) = (table.field("units"), table.field("ids"));
    match (units.is_given(), ids.is_given()) {
        (false, false) => Some(Whom::Selected),
        (true, false) => named_units(table, names).map(Whom::Placed),
        (false, true) => units_by_id(table).map(Whom::Ids),
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
        table.context().note(Mistake::new(span.clone(), message));
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
