//! Reading a line, token by token.

use super::lex::{Piece, Token, bytes_of};
use super::tree::{CondTree, DialTree, MemoryTree, Name, RuleTree, StateTree};
use crate::drill::error::DrillError;
use core::ops::Range;

/// Goes along the tokens of a line.
pub(super) struct Cursor<'a> {
    tokens: &'a [Token],
    at: usize,
    /// Where the line ends.
    end: usize,
}

type Read<T> = Result<T, DrillError>;

impl<'a> Cursor<'a> {
    pub(super) fn new(tokens: &'a [Token], end: usize) -> Cursor<'a> {
        Cursor { tokens, at: 0, end }
    }

    fn peek(&self) -> Option<&'a Token> {
        self.tokens.get(self.at)
    }

    fn here(&self) -> Range<usize> {
        let last = self.end.saturating_sub(1)..self.end;
        self.peek().map_or(last, |token| token.bytes.clone())
    }

    fn wanted<T>(&self, what: &str) -> Read<T> {
        let message = match self.peek() {
            Some(_) => format!("{what} is expected here"),
            None => format!("{what} is missing at the end of the line"),
        };
        Err(DrillError::new(self.here(), message))
    }

    pub(super) fn takes(&mut self, known: &str) -> bool {
        let is_it = self.peek().is_some_and(|token| is_word(token, known));
        self.at += usize::from(is_it);
        is_it
    }

    pub(super) fn takes_sign(&mut self, sign: &str) -> bool {
        let is_it = self.peek().is_some_and(|token| is_sign(token, sign));
        self.at += usize::from(is_it);
        is_it
    }

    pub(super) fn expect(&mut self, known: &str) -> Read<()> {
        if self.takes(known) {
            Ok(())
        } else {
            self.wanted(&format!("{known:?}"))
        }
    }

    pub(super) fn expect_sign(&mut self, sign: &str) -> Read<()> {
        if self.takes_sign(sign) {
            Ok(())
        } else {
            self.wanted(&format!("{sign:?}"))
        }
    }

    pub(super) fn name(&mut self, what: &str) -> Read<Name> {
        match self.peek() {
            Some(Token {
                what: Piece::Word(text),
                bytes,
            }) => {
                self.at += 1;
                Ok(Name {
                    text: text.clone(),
                    bytes: bytes.clone(),
                })
            }
            _ => self.wanted(what),
        }
    }

    fn number(&mut self, what: &str) -> Read<Token> {
        match self.peek() {
            Some(token) if matches!(token.what, Piece::Number(..)) => {
                self.at += 1;
                Ok(token.clone())
            }
            _ => self.wanted(what),
        }
    }

    /// All that is left, one token at least.
    pub(super) fn rest(&mut self, what: &str) -> Read<Vec<Token>> {
        let rest = self.tokens[self.at..].to_vec();
        if rest.is_empty() {
            return self.wanted(what);
        }
        self.at = self.tokens.len();
        Ok(rest)
    }

    pub(super) fn end(&self) -> Read<()> {
        match self.peek() {
            None => Ok(()),
            Some(_) => {
                let rest = bytes_of(&self.tokens[self.at..]);
                Err(DrillError::new(
                    rest,
                    "nothing more is expected in this line",
                ))
            }
        }
    }

    pub(super) fn dial(&mut self) -> Read<DialTree> {
        self.expect("dial")?;
        let name = self.name("the name of the dial")?;
        self.expect_sign("=")?;
        let low = self.number("a number with its unit")?;
        let high = if self.takes_sign("..") {
            Some(self.number("the other end of the span")?)
        } else {
            None
        };
        let allowed = if self.takes("in") {
            let least = self.number("the least that is allowed")?;
            self.expect_sign("..")?;
            Some((least, self.number("the most that is allowed")?))
        } else {
            None
        };
        self.end()?;
        Ok(DialTree {
            name,
            value: (low, high),
            allowed,
        })
    }

    pub(super) fn memory(&mut self) -> Read<MemoryTree> {
        self.expect("memory")?;
        let name = self.name("the name of the memory")?;
        self.expect_sign(":")?;
        let sort = self.name("what it holds")?;
        self.end()?;
        Ok(MemoryTree { name, sort })
    }

    pub(super) fn state(&mut self) -> Read<StateTree> {
        let is_start = self.takes("start");
        self.expect("state")?;
        let name = self.name("the name of the state")?;
        let on = if self.takes("on") {
            let memory = self.name("the name of a memory")?;
            self.expect_sign(",")?;
            self.expect("else")?;
            Some((memory, self.name("the name of the state after it")?))
        } else {
            None
        };
        let every = if self.takes_sign(",") {
            self.expect("every")?;
            Some(self.number("how often its rules are checked, in seconds")?)
        } else {
            None
        };
        self.end()?;
        Ok(StateTree {
            name,
            is_start,
            on,
            every,
            steps: Vec::new(),
            rules: Vec::new(),
        })
    }

    pub(super) fn always(&mut self) -> Read<Vec<Name>> {
        self.expect("always")?;
        let mut except = Vec::new();
        if self.takes_sign(",") {
            self.expect("except")?;
            self.expect("in")?;
            except.push(self.name("the name of a state")?);
            while self.takes_sign(",") {
                except.push(self.name("the name of a state")?);
            }
        }
        self.end()?;
        Ok(except)
    }

    pub(super) fn rule(&mut self) -> Read<RuleTree> {
        self.expect("when")?;
        let bytes = bytes_of(self.tokens);
        let arrow = self.tokens.iter().position(|token| is_sign(token, "->"));
        let Some(arrow) = arrow else {
            self.at = self.tokens.len();
            return self.wanted("\"->\" and the name of a state");
        };
        let mut condition = &self.tokens[self.at..arrow];
        let takes = match condition {
            [
                before @ ..,
                keyword,
                Token {
                    what: Piece::Word(text),
                    bytes,
                },
            ] if is_word(keyword, "as") => {
                condition = before;
                Some(Name {
                    text: text.clone(),
                    bytes: bytes.clone(),
                })
            }
            _ => None,
        };
        let lasting = match condition {
            [before @ .., keyword, time] if is_word(keyword, "for") => {
                condition = before;
                Some(time.clone())
            }
            _ => None,
        };
        if condition.is_empty() {
            return self.wanted("a condition");
        }
        self.at = arrow + 1;
        let to = self.name("the name of a state")?;
        self.end()?;
        let when = condition_of(condition)?;
        Ok(RuleTree {
            when,
            lasting,
            takes,
            to,
            bytes,
        })
    }
}

/// Reads a condition: `or` binds least, then `and`, then `not`.
fn condition_of(tokens: &[Token]) -> Read<CondTree> {
    let parts = |word: &str| -> Read<Option<Vec<CondTree>>> {
        if !tokens.iter().any(|token| is_word(token, word)) {
            return Ok(None);
        }
        let mut parts = Vec::new();
        for part in tokens.split(|token| is_word(token, word)) {
            if part.is_empty() {
                let message = format!("a condition is missing before or after {word:?}");
                return Err(DrillError::new(bytes_of(tokens), message));
            }
            parts.push(condition_of(part)?);
        }
        Ok(Some(parts))
    };
    if let Some(parts) = parts("or")? {
        return Ok(CondTree::Or(parts));
    }
    if let Some(parts) = parts("and")? {
        return Ok(CondTree::And(parts));
    }
    if let [first, rest @ ..] = tokens
        && is_word(first, "not")
    {
        // Several of them say no more than one or none.
        let nots = 1 + rest
            .iter()
            .take_while(|token| is_word(token, "not"))
            .count();
        let inner = &tokens[nots..];
        if inner.is_empty() {
            return Err(DrillError::new(
                bytes_of(tokens),
                "a condition is missing after \"not\"",
            ));
        }
        let inner = condition_of(inner)?;
        return Ok(if nots % 2 == 1 {
            CondTree::Not(Box::new(inner))
        } else {
            inner
        });
    }
    compared_or_tested(tokens)
}

/// Reads a comparison, or a test.
fn compared_or_tested(tokens: &[Token]) -> Read<CondTree> {
    let compares = |token: &Token| match &token.what {
        Piece::Sign(sign @ ("<" | "<=" | ">" | ">=" | "=")) => Some(*sign),
        _ => None,
    };
    let sign = tokens.iter().position(|token| compares(token).is_some());
    match sign {
        Some(at) => {
            let sign = compares(&tokens[at]).unwrap_or("=");
            let (left, right) = (&tokens[..at], &tokens[at + 1..]);
            if left.is_empty() || right.is_empty() {
                let message = format!("a value is missing before or after {sign:?}");
                return Err(DrillError::new(bytes_of(tokens), message));
            }
            Ok(CondTree::Compare(left.to_vec(), sign, right.to_vec()))
        }
        None => Ok(CondTree::Test(tokens.to_vec())),
    }
}

pub(super) fn word(token: &Token) -> Option<&str> {
    match &token.what {
        Piece::Word(text) => Some(text),
        _ => None,
    }
}

pub(super) fn is_word(token: &Token, known: &str) -> bool {
    word(token) == Some(known)
}

fn is_sign(token: &Token, known: &str) -> bool {
    matches!(token.what, Piece::Sign(sign) if sign == known)
}
