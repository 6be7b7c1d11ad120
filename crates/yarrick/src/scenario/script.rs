//! `[[script]]`: what the players do, and when.

use super::entry::{GroundChange, GroupDeed, ScriptAct, ScriptLine, Scripted};
use super::error::{Diagnostic, Span};
use super::flocks::{Flocks, ZoneChange};
use super::orders;
use super::table::{Context, Field, Table};
use super::units::Cast;
use super::ways::note_off_map;
use crate::geom::Vec2;
use crate::ground::{DoorId, Ground, Patch};
use crate::motion::formation::Form;
use crate::select::{Button, GROUPS, Keys, PointerAction};
use crate::world::{Action, KindId, PlanRules, SideId, UnitId, Verb};
use core::cell::RefCell;

/// The longest that a scenario lasts, in seconds.
pub const MAX_SECONDS: f64 = 86_400.0;

/// What takes a plan back.
const NOTHING: &str = "nothing";

/// What a script is about.
pub(super) struct Stage<'a> {
    pub(super) cast: &'a Cast<'a>,
    pub(super) flocks: &'a Flocks,
    pub(super) ground: Option<&'a Ground>,
    /// When the scenario ends, in seconds.
    pub(super) end_s: Option<f64>,
    /// Where the times of entries stand that come after that.
    pub(super) late: RefCell<Vec<Span>>,
}

impl Stage<'_> {
    /// Reads one entry.
    pub(super) fn read(&self, table: Table<'_>) -> Option<Scripted> {
        let context = table.context();
        let time_s = self.read_time(&table);
        let given: Vec<&str> = KEYS
            .into_iter()
            .filter(|key| table.field(key).is_given())
            .collect();
        let side = table.field("side");
        let side = match given[..] {
            // The ground and the zones change on nobody's behalf.
            ["door" | "ground" | "zone"] if !side.is_given() => Some(0),
            _ => self.cast.sides.named_by(context, &side.needed()),
        };
        let side = side.map(|side| SideId(side as u8));
        let Some(act) = self.read_act(&table, &given) else {
            let message = format!(
                "a script entry needs one of {}, not {}",
                listed(&KEYS),
                given.len()
            );
            context.note(Diagnostic::new(table.span().clone(), message));
            return None;
        };
        if let (Some(side), Some(ScriptAct::Order { action, .. })) = (side, &act) {
            self.warn_of_own_target(&table, side, action);
        }
        let span = table.span().clone();
        table.finish();
        let source = context.source(span.file);
        Some(Scripted {
            line: ScriptLine {
                file: source.name.clone(),
                line: source.line_and_column(span.bytes.start).0,
            },
            time_s: time_s?,
            side: side?,
            act: act?,
        })
    }

    fn read_time(&self, table: &Table<'_>) -> Option<f64> {
        let time = table.field("time").needed();
        let time_s = time.number(0.0..=MAX_SECONDS, "seconds")?;
        if self.end_s.is_some_and(|end_s| time_s > end_s) {
            self.late.borrow_mut().push(time.span.clone());
        }
        Some(time_s)
    }

    /// Warns of the entries after the end of the scenario: once for all of them, at the first.
    pub(super) fn warn_of_late(self, context: &Context<'_>) {
        let late = self.late.into_inner();
        let (Some(first), Some(end_s)) = (late.first(), self.end_s) else {
            return;
        };
        let others = match late.len() - 1 {
            0 => String::new(),
            1 => "; so it does before one other entry".to_owned(),
            more => format!("; so it does before {more} other entries"),
        };
        let message = format!("the scenario ends before that, after {end_s} s{others}");
        let warning = Diagnostic::new(first.clone(), message);
        context.warn(warning.with_fix("\"duration\" in [scenario] says how long it lasts"));
    }

    /// What is to be done; `None` unless there is one key that says so.
    fn read_act(&self, table: &Table<'_>, given: &[&str]) -> Option<Option<ScriptAct>> {
        Some(match given {
            ["pointer"] => read_pointer(table),
            ["order"] => orders::read(table, &self.cast.groups, self.cast.kinds),
            ["group"] => read_group(table),
            ["intent"] => {
                let verb = table.field("intent").choice(&Verb::WORDS);
                verb.map(ScriptAct::Intent)
            }
            ["plan"] => self.read_plan(table),
            ["turn"] => {
                let turns = table.field("turn").number(-MAX_STEPS..=MAX_STEPS, "steps");
                turns.map(|by| ScriptAct::Turn(by.round() as i32))
            }
            ["door"] => read_door(table, self.ground),
            ["ground"] => read_ground(table, self.ground),
            ["zone"] => read_zone(table, self.flocks),
            ["form"] => table.field("form").choice(&forms()).map(ScriptAct::Form),
            _ => return None,
        })
    }

    /// Takes a building in hand, or gives it up.
    fn read_plan(&self, table: &Table<'_>) -> Option<ScriptAct> {
        let plan = table.field("plan");
        let usual = PlanRules::default();
        let on_cells = table.field("on_cells").or(usual.on_cells, Field::flag);
        let steps = table.field("steps").or(usual.steps_a_turn.into(), |field| {
            field.whole(0..=u64::from(u16::MAX))
        });
        let facing = table.field("facing").or(0.0, |field| {
            field.number(-360.0..=360.0, "degrees anticlockwise")
        });
        if plan.name()? == NOTHING {
            return Some(ScriptAct::Plan(None));
        }
        let kind = self.cast.kinds.named_by(table.context(), &plan)?;
        let rules = PlanRules {
            on_cells: on_cells?,
            steps_a_turn: steps? as u16,
            facing: facing?.to_radians() as f32,
        };
        Some(ScriptAct::Plan(Some((KindId(kind as u16), rules))))
    }

    /// Warns of an attack on a unit of the same side, which will be refused.
    fn warn_of_own_target(&self, table: &Table<'_>, side: SideId, action: &Action) {
        let (Action::Attack { target } | Action::Fire { target }) = action else {
            return;
        };
        let placed = (0_u32..).zip(&self.cast.placed);
        let mut targets = placed.filter(|(nth, _)| UnitId::of_nth(*nth) == *target);
        if targets.any(|(_, unit)| unit.side == side) {
            let key = if table.field("target").is_given() {
                "target"
            } else {
                "target_id"
            };
            let span = table.field(key).span;
            let message = "this unit is of the same side: the order will be refused";
            table.context().warn(Diagnostic::new(span, message));
        }
    }
}

/// The keys of which an entry has one.
const KEYS: [&str; 10] = [
    "pointer", "order", "group", "intent", "plan", "turn", "door", "ground", "zone", "form",
];

/// The most steps by which a plan is turned at once.
const MAX_STEPS: f64 = 1000.0;

/// Keys in quotes, the last after an "and".
fn listed(keys: &[&str]) -> String {
    let quoted: Vec<String> = keys.iter().map(|key| format!("{key:?}")).collect();
    match quoted.split_last() {
        Some((last, others)) if !others.is_empty() => format!("{} and {last}", others.join(", ")),
        _ => quoted.concat(),
    }
}

/// The words for formations, and for none.
fn forms() -> Vec<(&'static str, Option<Form>)> {
    let forms = Form::WORDS
        .into_iter()
        .map(|(word, form)| (word, Some(form)));
    forms.chain([("none", None)]).collect()
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

fn read_zone(table: &Table<'_>, flocks: &Flocks) -> Option<ScriptAct> {
    #[derive(Clone, Copy)]
    enum Act {
        On,
        Off,
        Move,
        Remove,
    }
    let zone = flocks.zones.named_by(table.context(), &table.field("zone"));
    let act = table.field("act").needed();
    let act = act.is_given().then(|| {
        act.choice(&[
            ("on", Act::On),
            ("off", Act::Off),
            ("move", Act::Move),
            ("remove", Act::Remove),
        ])
    });
    let change = match act.flatten() {
        Some(Act::Move) => {
            let point = table.field("point").needed();
            let to = point.is_given().then(|| point.point()).flatten();
            to.map(|to| ZoneChange::Move { to })
        }
        Some(Act::On) => Some(ZoneChange::Switch { on: true }),
        Some(Act::Off) => Some(ZoneChange::Switch { on: false }),
        Some(Act::Remove) => Some(ZoneChange::Remove),
        None => None,
    };
    Some(ScriptAct::Zone {
        zone: zone? as u32,
        change: change?,
    })
}

fn read_door(table: &Table<'_>, ground: Option<&Ground>) -> Option<ScriptAct> {
    let door = table.field("door");
    let shut = table
        .field("act")
        .needed()
        .choice(&[("open", false), ("shut", true)]);
    let (name, ground) = (door.name()?, ground?);
    let names = || ground.doors().iter().map(|door| door.name.as_str());
    let Some(number) = names().position(|known| known == name) else {
        let known: Vec<&str> = names().collect();
        let context = table.context();
        context.note_unknown(&door.span, "door", name, known);
        return None;
    };
    Some(ScriptAct::Ground(GroundChange::Door {
        door: DoorId(number as u16),
        shut: shut?,
    }))
}

fn read_ground(table: &Table<'_>, ground: Option<&Ground>) -> Option<ScriptAct> {
    #[derive(Clone, Copy, PartialEq)]
    enum Kind {
        Block,
        Unblock,
        Terrain,
    }
    let kind = table.field("ground").choice(&[
        ("block", Kind::Block),
        ("unblock", Kind::Unblock),
        ("terrain", Kind::Terrain),
    ]);
    let cell = |key| {
        let field = table.field(key).needed();
        let at = field.is_given().then(|| field.point()).flatten()?;
        let cell = ground?.cell_at(at);
        if let (None, Some(ground)) = (cell, ground) {
            note_off_map(table.context(), &field.span, ground);
        }
        cell
    };
    let (from, to) = (cell("from"), cell("to"));
    let terrain = match kind {
        Some(Kind::Terrain) => read_terrain(table, ground?),
        _ => Some(0),
    };
    let patch = Patch::between(from?, to?);
    Some(ScriptAct::Ground(match kind? {
        Kind::Block => GroundChange::Block(patch),
        Kind::Unblock => GroundChange::Unblock(patch),
        Kind::Terrain => GroundChange::Terrain {
            patch,
            terrain: terrain?,
        },
    }))
}

fn read_terrain(table: &Table<'_>, ground: &Ground) -> Option<u8> {
    let field = table.field("terrain").needed();
    let name = field.is_given().then(|| field.name()).flatten()?;
    let names = || {
        ground
            .terrains()
            .iter()
            .map(|terrain| terrain.name.as_str())
    };
    let found = names().position(|known| known == name);
    if found.is_none() {
        let known: Vec<&str> = names().collect();
        let context = table.context();
        context.note_unknown(&field.span, "terrain", name, known);
    }
    found.map(|terrain| terrain as u8)
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
