//! Conditions: a short list of operations on one truth.

use super::Compiler;
use super::calls::{Sought, name_of};
use crate::drill::program::{Arg, Op, Operand, Sign, Value};
use crate::drill::syntax::{CondTree, Piece, Token, bytes_of};
use crate::drill::units::Unit;
use crate::drill::words::{Gives, WordSort};

impl Compiler<'_> {
    /// Compiles a condition. Gives whether it captures a unit whenever it holds.
    pub(super) fn condition(&mut self, tree: &CondTree) -> bool {
        match tree {
            CondTree::Or(parts) => self.chain(parts, Op::JumpIfHolds).into_iter().all(|x| x),
            CondTree::And(parts) => self.chain(parts, Op::JumpUnlessHolds).contains(&true),
            CondTree::Not(inner) => {
                self.condition(inner);
                self.drill.ops.push(Op::Not);
                false
            }
            CondTree::Compare(left, sign, right) => {
                self.compare(left, sign, right);
                false
            }
            CondTree::Test(tokens) => self.test(tokens),
        }
    }

    /// Parts that are looked at until one decides.
    fn chain(&mut self, parts: &[CondTree], jump: fn(u32) -> Op) -> Vec<bool> {
        let mut jumps = Vec::new();
        let mut captures = Vec::new();
        for (at, part) in parts.iter().enumerate() {
            captures.push(self.condition(part));
            if at + 1 < parts.len() {
                jumps.push(self.drill.ops.len());
                self.drill.ops.push(jump(0));
            }
        }
        let end = self.drill.ops.len() as u32;
        for at in jumps {
            self.drill.ops[at] = jump(end);
        }
        captures
    }

    fn compare(&mut self, left: &[Token], sign: &str, right: &[Token]) {
        let left = self.measured(left);
        let right = self.measured(right);
        let (Some((left, a, left_bytes)), Some((right, b, right_bytes))) = (left, right) else {
            return;
        };
        if a != b {
            let message = format!("{} are compared with {}", a.words(), b.words());
            self.note(left_bytes.start..right_bytes.end, message);
            return;
        }
        let sign = match sign {
            "<" => Sign::Less,
            "<=" => Sign::LessOrEqual,
            ">" => Sign::More,
            ">=" => Sign::MoreOrEqual,
            _ => Sign::Equal,
        };
        self.drill.ops.push(Op::Compare(left, sign, right));
    }

    /// A value of a comparison, with its unit and where it stands.
    fn measured(&mut self, tokens: &[Token]) -> Option<(Operand, Unit, core::ops::Range<usize>)> {
        let bytes = bytes_of(tokens);
        if let [token] = tokens {
            if let Piece::Number(value, unit) = token.what {
                let value = Value::Number(super::to_base(value, unit));
                return Some((Operand::Arg(Arg::Value(value)), unit, bytes));
            }
            if let Some(name) = name_of(token) {
                if let Some((arg, unit)) = self.dial_or_number(&name) {
                    return Some((Operand::Arg(arg), unit, bytes));
                }
                if self.word_of(tokens, Sought::Sense).is_none() {
                    self.note_no_value(&name);
                    return None;
                }
            }
        }
        let (number, call) = self.call(tokens, Sought::Sense)?;
        match self.words.senses[number].word.sort {
            WordSort::Sense {
                gives: Gives::Number(unit),
            } => Some((Operand::Sense(call), unit, bytes)),
            _ => {
                self.note(bytes, "this is not a quantity: it cannot be compared");
                None
            }
        }
    }

    fn test(&mut self, tokens: &[Token]) -> bool {
        if let [token, verb, state] = tokens
            && let Some(name) = name_of(token)
            && matches!(&verb.what, Piece::Word(text) if text == "is")
            && matches!(&state.what, Piece::Word(text) if text == "empty")
        {
            if let Some(memory) = self.memory_of(&name, None) {
                self.drill.ops.push(Op::IsEmpty(memory));
            }
            return false;
        }
        if self.word_of(tokens, Sought::Test).is_none()
            && self.word_of(tokens, Sought::Sense).is_some()
        {
            let message = "this is a value: what is it compared with?";
            self.note(bytes_of(tokens), message);
            return true;
        }
        let Some((number, call)) = self.call(tokens, Sought::Test) else {
            // What it would have captured is no further error.
            return true;
        };
        self.drill.ops.push(Op::Test(call));
        let sort = self.words.tests[number].word.sort;
        matches!(sort, WordSort::Test { captures: true })
    }
}
