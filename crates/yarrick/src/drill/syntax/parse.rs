//! From lines of tokens to trees. Blocks are known by their indentation.

use super::cursor::{Cursor, is_word, word};
use super::lex::{Line, Token, bytes_of};
use super::tree::{DrillTree, Name, RuleTree, StateTree, StepSort, StepTree};
use crate::drill::error::{DrillError, likely, one_of};
use core::ops::Range;

/// The deepest nesting of blocks.
const MAX_DEPTH: usize = 8;

/// Reads all drills of a text. What is wrong is noted, and reading goes on with the next line.
pub(crate) fn parse(lines: &[Line], errors: &mut Vec<DrillError>) -> Vec<DrillTree> {
    let mut parser = Parser {
        lines,
        at: 0,
        errors,
    };
    let mut drills = Vec::new();
    while let Some(line) = parser.peek() {
        if line.indent > 0 || !is_word(&line.tokens[0], "drill") {
            parser.note(
                line.bytes(),
                "a drill begins at the left edge, with \"drill\"",
            );
            parser.skip_block(line.indent);
            continue;
        }
        drills.extend(parser.drill());
    }
    drills
}

struct Parser<'a, 'e> {
    lines: &'a [Line],
    at: usize,
    errors: &'e mut Vec<DrillError>,
}

impl<'a> Parser<'a, '_> {
    fn peek(&self) -> Option<&'a Line> {
        self.lines.get(self.at)
    }

    fn note(&mut self, bytes: Range<usize>, message: impl Into<String>) {
        self.errors.push(DrillError::new(bytes, message));
    }

    /// Goes past a line and all that is indented under it.
    fn skip_block(&mut self, indent: usize) {
        self.at += 1;
        while self.peek().is_some_and(|line| line.indent > indent) {
            self.at += 1;
        }
    }

    /// The lines of the block under a line: those indented more, all by as much. Each is read by `read`, which goes past it.
    fn block(&mut self, under: usize, depth: usize, mut read: impl FnMut(&mut Self, &'a Line)) {
        let Some(indent) = self.peek().map(|line| line.indent) else {
            return;
        };
        if indent <= under {
            return;
        }
        while let Some(line) = self.peek().filter(|line| line.indent > under) {
            if line.indent != indent {
                let message = format!(
                    "indented by {} columns; the other lines of this block by {indent}",
                    line.indent
                );
                self.note(line.bytes(), message);
                self.skip_block(line.indent);
            } else if depth > MAX_DEPTH {
                self.note(
                    line.bytes(),
                    format!("blocks are nested more than {MAX_DEPTH} deep"),
                );
                self.skip_block(under);
            } else {
                let before = self.at;
                read(self, line);
                // Whatever a reader does, reading goes on.
                self.at = self.at.max(before + 1);
            }
        }
    }

    fn drill(&mut self) -> Option<DrillTree> {
        let line = self.peek()?;
        self.at += 1;
        let mut cursor = Cursor::new(&line.tokens[1..], line.bytes().end);
        let header = (|| {
            let name = cursor.name("the name of the drill")?;
            let based_on = if cursor.takes("based") {
                cursor.expect("on")?;
                Some(cursor.name("the name of the drill that it is based on")?)
            } else {
                None
            };
            let mut controls = Vec::new();
            if cursor.takes("controls") {
                controls.push(cursor.name("a faculty")?);
                while cursor.takes_sign(",") {
                    controls.push(cursor.name("a faculty")?);
                }
            }
            cursor.end()?;
            Ok((name, based_on, controls))
        })();
        let header = match header {
            Ok(header) => Some(header),
            Err(error) => {
                self.errors.push(error);
                None
            }
        };
        let (name, based_on, controls) = header.unwrap_or_else(|| {
            let nameless = Name {
                text: String::new(),
                bytes: line.bytes(),
            };
            (nameless, None, Vec::new())
        });
        let mut drill = DrillTree {
            name,
            based_on,
            controls,
            dials: Vec::new(),
            memories: Vec::new(),
            states: Vec::new(),
            always: Vec::new(),
            except: Vec::new(),
            broken: Vec::new(),
        };
        self.block(line.indent, 1, |parser, line| parser.part(&mut drill, line));
        // One without a sound header has no name to be known by.
        (!drill.name.text.is_empty()).then_some(drill)
    }

    /// Reads a part of a drill.
    fn part(&mut self, drill: &mut DrillTree, line: &'a Line) {
        let end = line.bytes().end;
        let mut cursor = Cursor::new(&line.tokens, end);
        let read = match word(&line.tokens[0]) {
            Some("dial") => cursor.dial().map(|dial| drill.dials.push(dial)),
            Some("memory") => cursor.memory().map(|memory| drill.memories.push(memory)),
            Some("start" | "state") => {
                let header = cursor.state();
                self.at += 1;
                return match header {
                    Ok(mut state) => {
                        self.block(line.indent, 2, |parser, line| {
                            parser.line_of_state(&mut state, line);
                        });
                        drill.states.push(state);
                    }
                    Err(error) => {
                        self.errors.push(error);
                        self.at -= 1;
                        self.skip_block(line.indent);
                    }
                };
            }
            Some("always") => {
                match cursor.always() {
                    Ok(except) => drill.except.extend(except),
                    Err(error) => self.errors.push(error),
                }
                self.at += 1;
                return self.block(line.indent, 2, |parser, line| {
                    parser.rule_into(&mut drill.always, line);
                });
            }
            other => {
                let known = ["dial", "memory", "state", "start state", "always"];
                let message = format!("a drill has {} here", one_of(&known));
                let error = DrillError::new(line.tokens[0].bytes.clone(), message);
                let likely = other.and_then(|other| likely(other, known.into_iter()));
                Err(match likely {
                    Some(name) => error.with_fix(format!("did you mean {name:?}?")),
                    None => error,
                })
            }
        };
        if let Err(error) = read {
            self.errors.push(error);
            let name = line.tokens.get(1).and_then(word);
            drill.broken.extend(name.map(str::to_owned));
            return self.skip_block(line.indent);
        }
        self.at += 1;
        self.no_block(line);
    }

    /// Notes it where something is indented under a line that has no block.
    fn no_block(&mut self, line: &Line) {
        if let Some(next) = self.peek().filter(|next| next.indent > line.indent) {
            self.note(next.bytes(), "nothing is indented under the line above");
            let indent = line.indent;
            self.at -= 1;
            self.skip_block(indent);
        }
    }

    fn line_of_state(&mut self, state: &mut StateTree, line: &'a Line) {
        if is_word(&line.tokens[0], "when") {
            return self.rule_into(&mut state.rules, line);
        }
        let step = self.step(line, 3);
        state.steps.extend(step);
    }

    fn rule_into(&mut self, rules: &mut Vec<RuleTree>, line: &'a Line) {
        match Cursor::new(&line.tokens, line.bytes().end).rule() {
            Ok(rule) => rules.push(rule),
            Err(error) => self.errors.push(error),
        }
        self.at += 1;
        self.no_block(line);
    }

    /// Reads a step, and the block under it.
    fn step(&mut self, line: &'a Line, depth: usize) -> Option<StepTree> {
        self.at += 1;
        let end = line.bytes().end;
        if !is_word(&line.tokens[0], "repeat") {
            let step = step(&line.tokens, end);
            self.no_block(line);
            return self.sound(step);
        }
        let mut steps = Vec::new();
        if line.tokens.len() > 1 {
            let only = step(&line.tokens[1..], end);
            steps.extend(self.sound(only));
            self.no_block(line);
        } else {
            self.block(line.indent, depth, |parser, line| {
                if is_word(&line.tokens[0], "when") {
                    let message = "a rule belongs to a state, not into a block of steps";
                    parser.note(line.bytes(), message);
                    return parser.skip_block(line.indent);
                }
                let step = parser.step(line, depth + 1);
                steps.extend(step);
            });
            if steps.is_empty() {
                self.note(line.bytes(), "there is nothing to repeat");
            }
        }
        Some(StepTree {
            what: StepSort::Repeat(steps),
            bytes: line.bytes(),
        })
    }

    fn sound<T>(&mut self, read: Result<T, DrillError>) -> Option<T> {
        read.map_err(|error| self.errors.push(error)).ok()
    }
}

fn step(tokens: &[Token], end: usize) -> Result<StepTree, DrillError> {
    let mut cursor = Cursor::new(tokens, end);
    let what = if cursor.takes_sign("->") {
        let to = cursor.name("the name of a state")?;
        cursor.end()?;
        StepSort::Goto(to)
    } else if cursor.takes("wait") {
        StepSort::Wait(cursor.rest("how long")?)
    } else if cursor.takes("set") {
        let memory = cursor.name("the name of a memory")?;
        cursor.expect_sign("=")?;
        StepSort::Set(memory, cursor.rest("what it is set to")?)
    } else {
        StepSort::Call(tokens.to_vec())
    };
    Ok(StepTree {
        what,
        bytes: bytes_of(tokens),
    })
}
