//! `[[script]]`: what the players do, and when.

use super::mistake::Mistake;
use super::orders::{self, Names};
use super::roster::Named;
use super::table::Table;
use crate::geom::Vec2;
use crate::select::{Button, GROUPS, Keys, PointerAction};
use crate::world::{Action, Side, SideId, UnitId, Verb, When};

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
        /// Which pointer.
        pointer: u32,
        /// What it does.
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
    /// Chooses what the next primary click orders; [`Verb::Nothing`] takes it back.
    Intent(Verb),
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
pub(super) fn read(table: Table<'_>, sides: &Named<Side>, names: &Names) -> Option<Scripted> {
    let context = table.context();
    let time = table.field("time").needed();
    let time_s = time.number(0.0..=MAX_SECONDS, "seconds");
    let side = sides.named_by(context, &table.field("side").needed());
    let given = ["pointer", "order", "group", "intent"].map(|key| table.field(key).is_given());
    let act = match given {
        [true, false, false, false] => read_pointer(&table),
        [false, true, false, false] => orders::read(&table, names),
        [false, false, true, false] => read_group(&table),
        [false, false, false, true] => {
            let verb = table.field("intent").choice(&Verb::WORDS);
            verb.map(ScriptAct::Intent)
        }
        _ => {
            let count = given.iter().filter(|given| **given).count();
            let message = format!(
                "a script entry needs one of \"pointer\", \"order\", \"group\" and \"intent\", \
                 not {count}"
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
    let pointer = table
        .field("contact")
        .or(0, |field| field.whole(0..=u64::from(u32::MAX)));
    Some(ScriptAct::Pointer {
        pointer: pointer? as u32,
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
