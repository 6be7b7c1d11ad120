//! Steps.

use super::calls::Sought;
use super::{Compiler, Sort, number_of, word};
use crate::drill::program::{Arg, Op, Operand, Value};
use crate::drill::syntax::{StepSort, StepTree, Token, bytes_of};
use crate::drill::units::Unit;
use crate::drill::words::{Faculties, Faculty, Gives, WordSort};

impl Compiler<'_> {
    /// Compiles steps, one after another.
    pub(super) fn steps(&mut self, steps: &[StepTree]) {
        for (at, step) in steps.iter().enumerate() {
            self.step(step);
            let is_last = at + 1 == steps.len();
            if matches!(step.what, StepSort::Goto(_) | StepSort::Repeat(_)) && !is_last {
                let message = "this is never come to: the step above does not end";
                let bytes = steps[at + 1].bytes.clone();
                self.note(bytes, message);
            }
        }
    }

    fn step(&mut self, step: &StepTree) {
        match &step.what {
            StepSort::Goto(name) => {
                let state = self.state_of(name).unwrap_or(0);
                let line = self.line_of(step.bytes.start);
                self.drill.ops.push(Op::Goto { state, line });
            }
            StepSort::Wait(tokens) => {
                let arg = self.quantity(tokens, Unit::Seconds);
                if let Some(Arg::Value(Value::Number(seconds))) = arg
                    && seconds < 0.0
                {
                    self.note(bytes_of(tokens), "a time is 0 s or more");
                }
                let arg = arg.unwrap_or(Arg::Value(Value::Nothing));
                self.drill.ops.push(Op::Wait(arg));
            }
            StepSort::Repeat(inner) => {
                let start = self.drill.ops.len() as u32;
                self.steps(inner);
                self.drill.ops.push(Op::Jump(start));
            }
            StepSort::Set(name, tokens) => {
                let Some(memory) = self.memory_of(name, None) else {
                    return;
                };
                self.scope.filled.insert(usize::from(memory));
                if let Some(to) = self.set_to(usize::from(memory), tokens) {
                    self.drill.ops.push(Op::Set { memory, to });
                }
            }
            StepSort::Call(tokens) => self.call_step(tokens),
        }
    }

    fn call_step(&mut self, tokens: &[Token]) {
        let Some((number, call)) = self.call(tokens, Sought::Step) else {
            return;
        };
        let WordSort::Step { needs, lasts } = self.words.steps[number].word.sort else {
            return;
        };
        let missing = needs & !self.drill.controls;
        if missing != 0 {
            let message = format!(
                "this step needs {}, which the drill does not control",
                names_of(missing)
            );
            self.note(bytes_of(tokens), message);
        }
        self.drill.ops.push(Op::Step { call, lasts });
    }

    /// Whether a step takes time, as far as it is known.
    pub(super) fn lasts(&self, tokens: &[Token]) -> bool {
        let found = self.word_of(tokens, Sought::Step);
        found.is_none_or(|number| {
            let sort = self.words.steps[number].word.sort;
            matches!(sort, WordSort::Step { lasts: true, .. })
        })
    }

    /// What a memory is set to: a sense, another memory, or a quantity, of its sort.
    fn set_to(&mut self, memory: usize, tokens: &[Token]) -> Option<Operand> {
        let sort = self.drill.memories[memory].sort;
        if let [token] = tokens
            && let Some(name) = super::calls::name_of(token)
            && self
                .drill
                .memories
                .iter()
                .any(|known| known.name == name.text)
        {
            let other = self.memory_of(&name, Some(sort))?;
            return Some(Operand::Arg(Arg::Memory(other)));
        }
        if self.word_of(tokens, Sought::Sense).is_some() {
            let (number, call) = self.call(tokens, Sought::Sense)?;
            let WordSort::Sense { gives } = self.words.senses[number].word.sort else {
                return None;
            };
            let fits = matches!(
                (gives, sort),
                (Gives::Number(_), Sort::Number)
                    | (Gives::Point, Sort::Point)
                    | (Gives::Unit, Sort::Unit)
            );
            if !fits {
                let message = format!("this does not give a {}", word(sort));
                self.note(bytes_of(tokens), message);
                return None;
            }
            return Some(Operand::Sense(call));
        }
        if sort == Sort::Number
            && let [token] = tokens
            && let (value, unit) = number_of(token)
        {
            let value = super::to_base(value, unit);
            return Some(Operand::Arg(Arg::Value(Value::Number(value))));
        }
        let message = format!("a memory of a {} cannot be set to this", word(sort));
        self.note(bytes_of(tokens), message);
        None
    }
}

/// The names of faculties: "legs and arms".
fn names_of(faculties: Faculties) -> String {
    let known = Faculty::NAMES.iter();
    let names = known.filter(|(_, faculty)| faculties & *faculty as Faculties != 0);
    let names: Vec<&str> = names.map(|(name, _)| *name).collect();
    names.join(" and ")
}
