//! The values in the slots of a word.

use super::calls::name_of;
use super::{Compiler, Sort, to_base};
use crate::drill::error::{DrillError, one_of};
use crate::drill::program::{Arg, Value};
use crate::drill::syntax::{Name, Piece, Token, bytes_of};
use crate::drill::units::Unit;
use crate::drill::words::{Gives, Known, Part, Slot, WordSort};
use core::ops::Range;

impl Compiler<'_> {
    pub(super) fn slot_words(&self, part: &Part) -> String {
        match part {
            Part::Literal(text) => format!("{text:?}"),
            Part::Slot(Slot::Quantity(unit)) => format!("a value in {}", unit.words()),
            Part::Slot(Slot::Unit) => "a memory of a unit".to_owned(),
            Part::Slot(Slot::Place) => "a place".to_owned(),
            Part::Slot(Slot::Who) => "a group of units".to_owned(),
            Part::Slot(Slot::Text) => "a text in quotes".to_owned(),
            Part::Slot(Slot::Choice(words)) => {
                let words: Vec<&str> = words.iter().map(String::as_str).collect();
                one_of(&words)
            }
        }
    }

    /// The value in a slot. What is wrong is noted.
    pub(super) fn value(&mut self, slot: &Slot, tokens: &[Token]) -> Option<Arg> {
        let bytes = bytes_of(tokens);
        let first = tokens.first()?;
        match slot {
            Slot::Quantity(unit) => self.quantity(tokens, *unit),
            Slot::Unit => {
                let name = self.named(first, "a memory of a unit")?;
                self.memory_of(&name, Some(Sort::Unit)).map(Arg::Memory)
            }
            Slot::Place => self.place(first),
            Slot::Who => self.who(tokens, bytes),
            Slot::Text => match &first.what {
                Piece::Text(text) => Some(Arg::Value(Value::Text(self.text_number(text)))),
                _ => {
                    self.note(bytes, "a text in quotes is expected here");
                    None
                }
            },
            Slot::Choice(words) => {
                let known: Vec<&str> = words.iter().map(String::as_str).collect();
                let name = self.named(first, &one_of(&known))?;
                let at = words.iter().position(|word| *word == name.text);
                if at.is_none() {
                    self.note(bytes, format!("{} is expected here", one_of(&known)));
                }
                at.map(|at| Arg::Value(Value::Choice(at as u16)))
            }
        }
    }

    fn named(&mut self, token: &Token, what: &str) -> Option<Name> {
        let name = name_of(token);
        if name.is_none() {
            self.note(token.bytes.clone(), format!("{what} is expected here"));
        }
        name
    }

    fn text_number(&mut self, text: &str) -> u16 {
        let known = self.texts.iter().position(|known| known == text);
        known.unwrap_or_else(|| {
            self.texts.push(text.to_owned());
            self.texts.len() - 1
        }) as u16
    }

    fn place(&mut self, token: &Token) -> Option<Arg> {
        let name = self.named(token, "a place")?;
        if let Some(at) = self
            .words
            .places
            .iter()
            .position(|place| *place == name.text)
        {
            return Some(Arg::Value(Value::Place(at as u16)));
        }
        let memories = &self.drill.memories;
        let Some(at) = memories.iter().position(|known| known.name == name.text) else {
            let places = self.words.places.clone();
            let held = memories.iter().map(|memory| memory.name.clone());
            let known: Vec<String> = places.into_iter().chain(held).collect();
            let known: Vec<&str> = known.iter().map(String::as_str).collect();
            self.note_unknown(&name, "place", &known);
            return None;
        };
        if memories[at].sort == Sort::Number {
            let message = format!("{:?} holds a number, not a place", name.text);
            self.note(name.bytes, message);
            return None;
        }
        self.scope.used_memories.insert(at);
        Some(Arg::Memory(at as u16))
    }

    fn who(&mut self, tokens: &[Token], bytes: Range<usize>) -> Option<Arg> {
        let words = tokens.iter().filter_map(name_of);
        let said = words.map(|name| name.text).collect::<Vec<_>>().join(" ");
        let text = match tokens.last().map(|token| &token.what) {
            Some(Piece::Text(text)) => Some(self.text_number(text)),
            _ => None,
        };
        let at = self.words.groups.iter().position(|group| *group == said);
        if at.is_none() {
            let groups = self.words.groups.clone();
            let known: Vec<&str> = groups.iter().map(String::as_str).collect();
            let name = Name { text: said, bytes };
            self.note_unknown(&name, "group", &known);
        }
        at.map(|at| Arg::Value(Value::Who(at as u16, text)))
    }

    /// A quantity of a unit: a number, a dial, a memory of a number, or a sense without values.
    pub(super) fn quantity(&mut self, tokens: &[Token], unit: Unit) -> Option<Arg> {
        let bytes = bytes_of(tokens);
        let [token] = tokens else {
            self.note(
                bytes,
                format!("one value in {} is expected here", unit.words()),
            );
            return None;
        };
        let (arg, of) = match &token.what {
            Piece::Number(value, of) => (Arg::Value(Value::Number(to_base(*value, *of))), *of),
            Piece::Word(text) => {
                let name = Name {
                    text: text.clone(),
                    bytes: bytes.clone(),
                };
                match self.dial_or_number(&name).or_else(|| self.bare_sense(text)) {
                    Some(found) => found,
                    None => {
                        self.note_no_value(&name);
                        return None;
                    }
                }
            }
            _ => {
                self.note(
                    bytes,
                    format!("a value in {} is expected here", unit.words()),
                );
                return None;
            }
        };
        if of == unit {
            return Some(arg);
        }
        let error = DrillError::new(
            bytes,
            match of {
                Unit::None => format!("this number has no unit; {} is expected here", unit.words()),
                _ => format!(
                    "this is in {}; {} is expected here",
                    of.words(),
                    unit.words()
                ),
            },
        );
        let symbol = Unit::SYMBOLS.iter().find(|(_, known)| *known == unit);
        self.errors.push(match (&token.what, symbol, of) {
            (Piece::Number(value, _), Some((symbol, _)), Unit::None) => {
                error.with_fix(format!("{value} {symbol}"))
            }
            _ => error,
        });
        None
    }

    /// Notes a name that stands for no value.
    pub(super) fn note_no_value(&mut self, name: &Name) {
        let known = self.names_of_numbers();
        let known: Vec<&str> = known.iter().map(String::as_str).collect();
        self.note_unknown(name, "dial or sense", &known);
    }

    /// A dial, or a memory of a number, by its name.
    pub(super) fn dial_or_number(&mut self, name: &Name) -> Option<(Arg, Unit)> {
        if let Some(at) = self
            .drill
            .dials
            .iter()
            .position(|dial| dial.name == name.text)
        {
            self.scope.used_dials.insert(at);
            return Some((Arg::Dial(at as u16), self.drill.dials[at].unit));
        }
        let mut memories = self.drill.memories.iter();
        let at =
            memories.position(|memory| memory.name == name.text && memory.sort == Sort::Number)?;
        self.scope.used_memories.insert(at);
        Some((Arg::Memory(at as u16), Unit::None))
    }

    /// A sense that takes no values, by its only word.
    fn bare_sense(&self, text: &str) -> Option<(Arg, Unit)> {
        let mut senses = self.words.senses.iter();
        let is_it =
            |known: &Known| matches!(&known.head[..], [Part::Literal(only)] if only == text);
        let at = senses.position(is_it)?;
        match self.words.senses[at].word.sort {
            WordSort::Sense {
                gives: Gives::Number(unit),
            } => Some((Arg::Sense(at as u16), unit)),
            _ => None,
        }
    }

    fn names_of_numbers(&self) -> Vec<String> {
        let dials = self.drill.dials.iter().map(|dial| dial.name.clone());
        let memories = self
            .drill
            .memories
            .iter()
            .filter(|memory| memory.sort == Sort::Number);
        let senses = self
            .words
            .senses
            .iter()
            .filter_map(|known| match &known.head[..] {
                [Part::Literal(only)] => Some(only.clone()),
                _ => None,
            });
        let memories = memories.map(|memory| memory.name.clone());
        dials.chain(memories).chain(senses).collect()
    }
}
