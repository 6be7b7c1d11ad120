//! Drills as they are run: states, rules and steps as short lists of operations.

use super::units::Unit;
use super::words::Faculties;
use serde::{Deserialize, Serialize};

/// A value that a drill works with. Quantities are in base units: metres, seconds, radians, parts of one for per cent.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub enum Value {
    /// None: an empty memory, or an option that was not given.
    Nothing,
    /// A quantity.
    Number(f32),
    /// An option without a value that was given.
    Flag,
    /// A unit, by the number that the host knows it by.
    Unit(u64),
    /// A point, in metres.
    Point([f32; 2]),
    /// A place of the host, by its number in the vocabulary.
    Place(u16),
    /// A group of units of the host, by its number in the vocabulary, and the text that followed it, if one did.
    Who(u16, Option<u16>),
    /// One of some words, by its place among them.
    Choice(u16),
    /// A text, by its number in [`Program::texts`].
    Text(u16),
}

/// Drills that have been compiled.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Program {
    /// The drills, in the order of the text.
    pub drills: Vec<Drill>,
    /// All texts in quotes.
    pub texts: Vec<String>,
}

impl Program {
    /// Numbers the lines of its rules otherwise: for a text that was put together from several.
    pub(crate) fn move_lines(&mut self, to: impl Fn(u32) -> u32) {
        for drill in &mut self.drills {
            for rule in &mut drill.rules {
                rule.line = to(rule.line);
            }
            for op in &mut drill.ops {
                if let Op::Goto { line, .. } = op {
                    *line = to(*line);
                }
            }
        }
    }

    /// The number of the drill of a name.
    #[must_use]
    pub fn drill(&self, name: &str) -> Option<u16> {
        let at = self.drills.iter().position(|drill| drill.name == name)?;
        Some(at as u16)
    }
}

/// A drill.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Drill {
    /// Its name.
    pub name: String,
    /// The faculties that it drives: bits of [`Faculty`](super::Faculty).
    pub controls: Faculties,
    /// Its dials.
    pub dials: Vec<Dial>,
    pub(super) memories: Vec<Memory>,
    pub(super) states: Vec<State>,
    pub(super) rules: Vec<Rule>,
    pub(super) ops: Vec<Op>,
    pub(super) args: Vec<Arg>,
    pub(super) start: u16,
}

impl Drill {
    /// The number of the dial of a name.
    #[must_use]
    pub fn dial(&self, name: &str) -> Option<u16> {
        let at = self.dials.iter().position(|dial| dial.name == name)?;
        Some(at as u16)
    }

    /// The line and the text of a rule.
    #[must_use]
    pub fn rule(&self, number: u16) -> Option<(u32, &str)> {
        let rule = self.rules.get(usize::from(number))?;
        Some((rule.line, &rule.text))
    }

    /// The name of a state.
    #[must_use]
    pub fn state_name(&self, state: u16) -> &str {
        let state = self.states.get(usize::from(state));
        state.map_or("", |state| state.name.as_str())
    }
}

/// A number that tunes a drill.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Dial {
    /// Its name.
    pub name: String,
    /// Its unit, as the text has it. The values here are in base units.
    pub unit: Unit,
    /// Its value by default; of a span the lower end.
    pub low: f32,
    /// Its value by default; of a span the upper end.
    pub high: f32,
    /// The least that is allowed.
    pub least: f32,
    /// The most that is allowed.
    pub most: f32,
}

/// What a memory holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(super) enum Sort {
    Unit,
    Point,
    Number,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(super) struct Memory {
    pub(super) name: String,
    pub(super) sort: Sort,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(super) struct State {
    pub(super) name: String,
    /// The memory as long as which it lasts, and the state after that.
    pub(super) on: Option<(u16, u16)>,
    /// How often its rules are checked, in seconds.
    pub(super) every: Arg,
    /// The operation with which its steps begin.
    pub(super) entry: u32,
    /// The numbers of its rules: those for all states first.
    pub(super) rules: Vec<u16>,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(super) struct Rule {
    /// The line of the text, from 1.
    pub(super) line: u32,
    /// What it says.
    pub(super) text: String,
    /// The operations of its condition.
    pub(super) first: u32,
    pub(super) end: u32,
    /// For how long it must have held, in seconds, at each check.
    pub(super) lasting: Option<Arg>,
    pub(super) takes: Option<u16>,
    pub(super) to: u16,
}

/// A value that is known, or where to get it.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(super) enum Arg {
    Value(Value),
    Dial(u16),
    Memory(u16),
    /// A sense that takes no values.
    Sense(u16),
}

/// A value of a comparison, or to be remembered.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(super) enum Operand {
    Arg(Arg),
    Sense(Call),
}

/// A word and its values.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(super) struct Call {
    pub(super) word: u16,
    pub(super) first: u32,
    pub(super) count: u8,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(super) enum Sign {
    Less,
    LessOrEqual,
    More,
    MoreOrEqual,
    Equal,
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(super) enum Op {
    // Steps.
    Step { call: Call, lasts: bool },
    Wait(Arg),
    Set { memory: u16, to: Operand },
    Jump(u32),
    Goto { state: u16, line: u32 },
    End,
    // Conditions: they work on one truth, which may be unknown.
    Compare(Operand, Sign, Operand),
    Test(Call),
    IsEmpty(u16),
    Not,
    JumpIfHolds(u32),
    JumpUnlessHolds(u32),
}
