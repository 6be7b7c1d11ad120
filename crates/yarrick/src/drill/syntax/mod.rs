//! The syntax of drills: text → lines of tokens → tree.

mod cursor;
mod lex;
mod parse;
mod tree;

pub(super) use lex::{Piece, Token, bytes_of, lex};
pub(super) use parse::parse;
pub(super) use tree::{
    CondTree, DialTree, DrillTree, MemoryTree, Name, RuleTree, StateTree, StepSort, StepTree,
};
