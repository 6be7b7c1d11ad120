//! `[[script]]`: what the players do, and when.

use super::mistake::Mistake;
use super::roster::Named;
use super::table::Table;
use crate::geom::Vec2;
use crate::select::{Button, GROUPS, Keys, PointerAction};
use crate::world::{Action, NotAnId, OrderNo, Side, SideId, UnitId, When};

/// The longest that a scenario lasts, in seconds.
pub const MAX_SECONDS: f64 = 86_400.0;

/// Something that a player does.
#[derive(Clone, Debug, PartialEq)]
pub struct Scripted {
    /// When, in seconds.
    pub time_s: f64,
    /// Whose player.
    pub side: SideId,
    /// What.
    pub act: ScriptAct,
}

/// What a player does.
#[derive(Clone, Debug, PartialEq)]
pub enum ScriptAct {
    /// Something with the pointer.
    Pointer {
        /// What.
        action: PointerAction,
        /// Where, on the ground in metres.
        point: Vec2,
        /// The keys held.
        keys: Keys,
        /// Whether the game's interface took it.
        taken: bool,
    },
    /// Something with a control group.
    Group {
        /// Which, from 0 to 9.
        number: usize,
        /// What.
        deed: GroupDeed,
    },
    /// A plain command.
    Order {
        /// What is to be done.
        action: Action,
        /// By whom.
        units: Whom,
        /// What becomes of what they do already.
        when: When,
    },
}

/// Whom an order is for.
#[derive(Clone, Debug, PartialEq)]
pub enum Whom {
    /// What the side's player has selected.
    Selected,
    /// Units that the scenario placed, by their numbers.
    Placed(Vec<u32>),
    /// Units by their ids.
    Ids(Vec<UnitId>),
}

/// What a player does with a control group.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum GroupDeed {
    /// Makes it of what is selected.
    Set,
    /// Adds what is selected to it.
    Add,
    /// Selects it.
    Recall,
}

/// Reads one entry.
pub(super) fn read(
    table: Table<'_>,
    sides: &Named<Side>,
    groups: &Named<core::ops::Range<u32>>,
) -> Option<Scripted> {
    let context = table.context();
    let time = table.field("time").needed();
    let time_s = time.number(0.0..=MAX_SECONDS, "seconds");
    let side = sides.named_by(context, &table.field("side").needed());
    let given = ["pointer", "order", "group"].map(|key| table.field(key).is_given());
    let act = match given {
        [true, false, false] => read_pointer(&table),
        [false, true, false] => read_order(&table, groups),
        [false, false, true] => read_group(&table),
        _ => {
            let count = given.iter().filter(|given| **given).count();
            let message = format!(
                "a script entry needs one of \"pointer\", \"order\" and \"group\", not {count}"
            );
            context.note(Mistake::new(table.span().clone(), message));
            return None;
        }
    };
    table.finish();
    Some(Scripted {
        time_s: time_s?,
        side: SideId(side? as u8),
        act: act?,
    })
}

fn read_pointer(table: &Table<'_>) -> Option<ScriptAct> {
    #[derive(Clone, Copy)]
    enum Kind {
        Press,
        Move,
        Release,
        Cancel,
    }
    let kind = table.field("pointer").choice(&[
        ("press", Kind::Press),
        ("move", Kind::Move),
        ("release", Kind::Release),
        ("cancel", Kind::Cancel),
    ]);
    let button = table.field("button").or(Button::Primary, |field| {
        field.choice(&[
            ("primary", Button::Primary),
            ("secondary", Button::Secondary),
        ])
    });
    let point = match kind {
        Some(Kind::Cancel) => Some(Vec2::ZERO),
        _ => table.field("point").needed().point(),
    };
    let keys = read_keys(table);
    let taken = table.field("taken").or(false, |field| field.flag());
    let button = button?;
    Some(ScriptAct::Pointer {
        action: match kind? {
            Kind::Press => PointerAction::Press(button),
            Kind::Move => PointerAction::Move,
            Kind::Release => PointerAction::Release(button),
            Kind::Cancel => PointerAction::Cancel,
        },
        point: point?,
        keys: keys?,
        taken: taken?,
    })
}

fn read_group(table: &Table<'_>) -> Option<ScriptAct> {
    let number = table.field("group").whole(0..=GROUPS as u64 - 1);
    let deed = table.field("act").needed().choice(&[
        ("set", GroupDeed::Set),
        ("add", GroupDeed::Add),
        ("recall", GroupDeed::Recall),
    ]);
    Some(ScriptAct::Group {
        number: number? as usize,
        deed: deed?,
    })
}

fn read_keys(table: &Table<'_>) -> Option<Keys> {
    let field = table.field("keys");
    let mut keys = Keys::default();
    if !field.is_given() {
        return Some(keys);
    }
    for (name, span) in field.names()? {
        match name {
            "shift" => keys.shift = true,
            "control" => keys.control = true,
            "alt" => keys.alt = true,
            _ => {
                let known = ["shift", "control", "alt"].into_iter();
                table.context().note_unknown(&span, "key", name, known);
                return None;
            }
        }
    }
    Some(keys)
}

fn read_order(table: &Table<'_>, groups: &Named<core::ops::Range<u32>>) -> Option<ScriptAct> {
    #[derive(Clone, Copy)]
    enum Word {
        Move,
        Patrol,
        Stop,
        Cancel,
    }
    let word = table.field("order").choice(&[
        ("move", Word::Move),
        ("patrol", Word::Patrol),
        ("stop", Word::Stop),
        ("cancel", Word::Cancel),
    ]);
    // Asked for whatever the order, so that a misspelt order does not make them unknown keys.
    let (point, number) = (table.field("point"), table.field("number"));
    let action = match word {
        Some(Word::Move) => point.needed().point().map(|to| Action::Move { to }),
        Some(Word::Patrol) => point.needed().point().map(|to| Action::Patrol { to }),
        Some(Word::Stop) => Some(Action::Stop),
        Some(Word::Cancel) => {
            let number = number.needed().whole(1..=u64::from(u32::MAX));
            number.map(|number| Action::Cancel {
                order: OrderNo(number as u32),
            })
        }
        None => None,
    };
    let units = read_whom(table, groups);
    let when = table
        .field("when")
        .or(When::Now, |field| field.choice(&When::WORDS));
    Some(ScriptAct::Order {
        action: action?,
        units: units?,
        when: when?,
    })
}

fn read_whom(table: &Table<'_>, groups: &Named<core::ops::Range<u32>>) -> Option<Whom> {
    let (units, ids) = (table.field("units"), table.field("ids"));
    match (units.is_given(), ids.is_given()) {
        (false, false) => Some(Whom::Selected),
        (true, false) => named_units(table, groups).map(Whom::Placed),
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
        match name.parse() {
            Ok(id) => units.push(id),
            Err(NotAnId) => {
                let message = format!("{name:?} is not an id: {NotAnId}");
                table.context().note(Mistake::new(span, message));
                sound = false;
            }
        }
    }
    sound.then_some(units)
}

fn named_units(table: &Table<'_>, groups: &Named<core::ops::Range<u32>>) -> Option<Vec<u32>> {
    let mut units = Vec::new();
    let mut sound = true;
    for (name, span) in table.field("units").names()? {
        match groups.position(name) {
            Some(at) => units.extend(groups.all[at].clone()),
            None => {
                let known = groups.known();
                table
                    .context()
                    .note_unknown(&span, "unit or block called", name, known);
                sound = false;
            }
        }
    }
    sound.then_some(units)
}
