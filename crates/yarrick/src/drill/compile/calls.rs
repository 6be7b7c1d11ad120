//! Finding the word of the host that some tokens say, and the values in its slots.

use super::Compiler;
use crate::drill::error::{DrillError, likely, one_of};
use crate::drill::program::{Arg, Call, Value};
use crate::drill::syntax::{Name, Piece, Token, bytes_of};
use crate::drill::words::{Known, MAX_VALUES, Part, Slot, Vocabulary};
use core::ops::Range;

/// What sort of word is looked for.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Sought {
    Step,
    Sense,
    Test,
}

impl Sought {
    fn of(self, words: &Vocabulary) -> &[Known] {
        match self {
            Sought::Step => &words.steps,
            Sought::Sense => &words.senses,
            Sought::Test => &words.tests,
        }
    }

    fn name(self) -> &'static str {
        match self {
            Sought::Step => "step",
            Sought::Sense => "sense",
            Sought::Test => "test",
        }
    }
}

/// A token as a name, if it is a word.
pub(super) fn name_of(token: &Token) -> Option<Name> {
    match &token.what {
        Piece::Word(text) => Some(Name {
            text: text.clone(),
            bytes: token.bytes.clone(),
        }),
        _ => None,
    }
}

fn is_word(token: Option<&Token>, known: &str) -> bool {
    matches!(token.map(|token| &token.what), Some(Piece::Word(text)) if text == known)
}

fn is_comma(token: &Token) -> bool {
    matches!(token.what, Piece::Sign(","))
}

impl Compiler<'_> {
    /// The number of the word that some tokens begin to say: the one of which most literal words fit, from the first on.
    pub(super) fn word_of(&self, tokens: &[Token], sought: Sought) -> Option<usize> {
        let words = sought.of(self.words);
        let fits = words.iter().map(|known| self.literals(known, tokens));
        let best = fits.enumerate().filter(|(_, count)| *count > 0);
        // The earlier declaration wins a tie.
        best.max_by(|a, b| a.1.cmp(&b.1).then(b.0.cmp(&a.0)))
            .map(|(number, _)| number)
    }

    /// How many literal words of a pattern fit some tokens; `0` where the first does not.
    fn literals(&self, known: &Known, tokens: &[Token]) -> usize {
        let mut at = 0;
        let mut count = 0;
        for part in &known.head {
            match part {
                Part::Literal(text) if is_word(tokens.get(at), text) => {
                    at += 1;
                    count += 1;
                }
                Part::Literal(_) => return count,
                Part::Slot(slot) => match self.length_of(slot, &tokens[at.min(tokens.len())..]) {
                    0 => return count,
                    length => at += length,
                },
            }
        }
        // A word that fits wholly wins against one that fits in part.
        count * 2 + usize::from(tokens.get(at).is_none_or(is_comma))
    }

    /// How many tokens a value takes up at first sight; `0` where there is none.
    fn length_of(&self, slot: &Slot, tokens: &[Token]) -> usize {
        let group = || {
            let groups = self.words.groups.iter();
            let length = |group: &String| {
                let words: Vec<&str> = group.split(' ').collect();
                let fits = words
                    .iter()
                    .enumerate()
                    .all(|(nth, word)| is_word(tokens.get(nth), word));
                fits.then_some(words.len())
            };
            groups.filter_map(length).max()
        };
        match slot {
            Slot::Who => group().map_or(1, |length| {
                let named = matches!(
                    tokens.get(length).map(|token| &token.what),
                    Some(Piece::Text(_))
                );
                length + usize::from(named)
            }),
            _ => usize::from(!tokens.is_empty()),
        }
    }

    /// Compiles a word with its values. What is wrong is noted.
    pub(super) fn call(&mut self, tokens: &[Token], sought: Sought) -> Option<(usize, Call)> {
        let Some(number) = self.word_of(tokens, sought) else {
            self.no_such_word(tokens, sought);
            return None;
        };
        let known = sought.of(self.words)[number].clone();
        let mut args: Vec<Arg> = Vec::new();
        let at = self.head(&known, tokens, &mut args)?;
        self.options(&known, &tokens[at..], &mut args)?;
        let first = self.drill.args.len() as u32;
        let count = args.len().min(MAX_VALUES) as u8;
        self.drill.args.extend(args);
        let word = number as u16;
        Some((number, Call { word, first, count }))
    }

    fn no_such_word(&mut self, tokens: &[Token], sought: Sought) {
        let known = sought.of(self.words);
        let first = |known: &Known| match known.head.first() {
            Some(Part::Literal(text)) => Some(text.clone()),
            _ => None,
        };
        let mut names: Vec<String> = known.iter().filter_map(first).collect();
        if sought == Sought::Step {
            names.extend(["wait", "repeat", "set"].map(str::to_owned));
        }
        names.sort();
        names.dedup();
        let names: Vec<&str> = names.iter().map(String::as_str).collect();
        let Some(token) = tokens.first() else {
            return;
        };
        let what = sought.name();
        let message = match &token.what {
            Piece::Word(text) => {
                format!(
                    "there is no {what} {text:?}; they begin with {}",
                    one_of(&names)
                )
            }
            _ => format!("a {what} begins with a word: {}", one_of(&names)),
        };
        let error = DrillError::new(token.bytes.clone(), message);
        let likely = name_of(token).and_then(|name| likely(&name.text, names.iter().copied()));
        self.errors.push(match likely {
            Some(name) => error.with_fix(format!("did you mean {name:?}?")),
            None => error,
        });
    }

    /// Compiles the head of a word. Gives how many tokens it took.
    fn head(&mut self, known: &Known, tokens: &[Token], args: &mut Vec<Arg>) -> Option<usize> {
        let mut at = 0;
        for part in &known.head {
            let here = tokens.get(at);
            match part {
                Part::Literal(text) if is_word(here, text) => at += 1,
                Part::Literal(text) => {
                    self.expected(&format!("{text:?}"), tokens, at, known);
                    return None;
                }
                Part::Slot(_) if here.is_none_or(is_comma) => {
                    let what = self.slot_words(part);
                    self.expected(&what, tokens, at, known);
                    return None;
                }
                Part::Slot(slot) => {
                    let length = self.length_of(slot, &tokens[at..]).max(1);
                    let end = (at + length).min(tokens.len());
                    args.push(self.value(slot, &tokens[at..end])?);
                    at = end;
                }
            }
        }
        Some(at)
    }

    /// Compiles the options of a word: each after a comma, in any order.
    fn options(&mut self, known: &Known, tokens: &[Token], args: &mut Vec<Arg>) -> Option<()> {
        let mut given: Vec<Option<Arg>> = vec![None; known.options.len()];
        let mut at = 0;
        while at < tokens.len() {
            if !is_comma(&tokens[at]) && at == 0 && !known.options.is_empty() {
                // The first may follow without a comma: "wander at 40%".
            } else if is_comma(&tokens[at]) {
                at += 1;
            } else {
                self.expected("the end of the line", tokens, at, known);
                return None;
            }
            let rest = &tokens[at..];
            let fits = |option: &&Vec<Part>| {
                option
                    .iter()
                    .enumerate()
                    .take_while(|(_, part)| matches!(part, Part::Literal(_)))
                    .all(|(nth, part)| matches!(part, Part::Literal(text) if is_word(rest.get(nth), text)))
            };
            let found = known.options.iter().position(|option| fits(&option));
            let Some(number) = found else {
                self.no_such_option(known, rest, tokens);
                return None;
            };
            let option = &known.options[number];
            let literals = option
                .iter()
                .filter(|part| matches!(part, Part::Literal(_)))
                .count();
            if given[number].is_some() {
                let bytes = bytes_of(&rest[..literals]);
                self.note(bytes, "this is given twice");
                return None;
            }
            at += literals;
            given[number] = Some(match option.last() {
                Some(Part::Slot(slot)) => match tokens.get(at) {
                    // The dial of the same name need not be said again.
                    None => self.dial_named_so(option, bytes_of(rest), slot)?,
                    Some(token) if is_comma(token) => {
                        self.dial_named_so(option, bytes_of(&rest[..literals]), slot)?
                    }
                    Some(_) => {
                        let length = self.length_of(slot, &tokens[at..]).max(1);
                        let end = (at + length).min(tokens.len());
                        let value = self.value(slot, &tokens[at..end])?;
                        at = end;
                        value
                    }
                },
                _ => Arg::Value(Value::Flag),
            });
        }
        let nothing = Arg::Value(Value::Nothing);
        args.extend(given.into_iter().map(|arg| arg.unwrap_or(nothing)));
        Some(())
    }

    fn dial_named_so(&mut self, option: &[Part], bytes: Range<usize>, slot: &Slot) -> Option<Arg> {
        let literals = option.iter().filter_map(|part| match part {
            Part::Literal(text) => Some(text.as_str()),
            Part::Slot(_) => None,
        });
        let text = literals.collect::<Vec<_>>().join("-");
        let name = Name {
            text,
            bytes: bytes.clone(),
        };
        let Slot::Quantity(unit) = slot else {
            self.note(bytes, "a value is missing");
            return None;
        };
        match self.dial_or_number(&name) {
            Some((arg, of)) if of == *unit => Some(arg),
            Some((_, of)) => {
                let message = format!(
                    "{:?} is in {}, not in {}",
                    name.text,
                    of.words(),
                    unit.words()
                );
                self.note(bytes, message);
                None
            }
            None => {
                let message = format!(
                    "a value is missing: {}, or a dial called {:?}",
                    unit.words(),
                    name.text
                );
                self.note(bytes, message);
                None
            }
        }
    }

    fn no_such_option(&mut self, known: &Known, rest: &[Token], tokens: &[Token]) {
        let texts: Vec<String> = known.word.options.clone();
        let names: Vec<&str> = texts.iter().map(String::as_str).collect();
        let end = bytes_of(tokens).end;
        let bytes = rest
            .first()
            .map_or(end.saturating_sub(1)..end, |token| token.bytes.clone());
        let message = if names.is_empty() {
            format!("{:?} takes no options", known.word.pattern)
        } else {
            format!(
                "{:?} has the options {}",
                known.word.pattern,
                one_of(&names)
            )
        };
        let error = DrillError::new(bytes, message);
        let firsts = names.iter().filter_map(|name| name.split(' ').next());
        let likely = rest
            .first()
            .and_then(name_of)
            .and_then(|name| likely(&name.text, firsts));
        self.errors.push(match likely {
            Some(name) => error.with_fix(format!("did you mean {name:?}?")),
            None => error,
        });
    }

    fn expected(&mut self, what: &str, tokens: &[Token], at: usize, known: &Known) {
        let end = bytes_of(tokens).end;
        let bytes = tokens
            .get(at)
            .map_or(end.saturating_sub(1)..end, |token| token.bytes.clone());
        let message = if at < tokens.len() {
            format!("{what} is expected here: {}", known.word.usage())
        } else {
            format!("{what} is missing: {}", known.word.usage())
        };
        self.note(bytes, message);
    }
}
