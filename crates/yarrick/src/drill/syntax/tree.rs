//! What a text of drills says, before it is known what the words mean.

use super::lex::Token;
use core::ops::Range;

/// A name, and where it stands.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Name {
    pub(crate) text: String,
    pub(crate) bytes: Range<usize>,
}

/// A drill as written.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct DrillTree {
    pub(crate) name: Name,
    pub(crate) based_on: Option<Name>,
    pub(crate) controls: Vec<Name>,
    pub(crate) dials: Vec<DialTree>,
    pub(crate) memories: Vec<MemoryTree>,
    pub(crate) states: Vec<StateTree>,
    pub(crate) always: Vec<RuleTree>,
    /// The states in which the rules of `always` are not looked at.
    pub(crate) except: Vec<Name>,
    /// The names of dials and memories whose lines could not be read: that they are not there is no further error.
    pub(crate) broken: Vec<String>,
}

/// A dial: its value, or the ends of its span, and what is allowed; each a token with a number.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct DialTree {
    pub(crate) name: Name,
    pub(crate) value: (Token, Option<Token>),
    pub(crate) allowed: Option<(Token, Token)>,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct MemoryTree {
    pub(crate) name: Name,
    pub(crate) sort: Name,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct StateTree {
    pub(crate) name: Name,
    pub(crate) is_start: bool,
    /// The memory as long as which it lasts, and the state after that.
    pub(crate) on: Option<(Name, Name)>,
    pub(crate) every: Option<Token>,
    pub(crate) steps: Vec<StepTree>,
    pub(crate) rules: Vec<RuleTree>,
}

/// A step, and where it stands.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct StepTree {
    pub(crate) what: StepSort,
    pub(crate) bytes: Range<usize>,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum StepSort {
    /// A word of the host, with what follows it.
    Call(Vec<Token>),
    Wait(Vec<Token>),
    Goto(Name),
    Repeat(Vec<StepTree>),
    /// A memory, and what it is set to.
    Set(Name, Vec<Token>),
}

/// A rule, and where it stands.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct RuleTree {
    pub(crate) when: CondTree,
    /// For how long that must have held: a token with a time, or the name of a dial.
    pub(crate) lasting: Option<Token>,
    pub(crate) takes: Option<Name>,
    pub(crate) to: Name,
    pub(crate) bytes: Range<usize>,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum CondTree {
    Or(Vec<CondTree>),
    And(Vec<CondTree>),
    Not(Box<CondTree>),
    /// Two values, with the sign between them.
    Compare(Vec<Token>, &'static str, Vec<Token>),
    Test(Vec<Token>),
}
