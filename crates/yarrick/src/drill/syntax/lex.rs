//! From text to lines of tokens.

use crate::drill::error::DrillError;
use crate::drill::units::Unit;
use core::ops::Range;

/// A piece of a line.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Token {
    pub(crate) what: Piece,
    pub(crate) bytes: Range<usize>,
}

/// What a token is.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Piece {
    /// A word: small letters, digits and hyphens.
    Word(String),
    /// A number with its unit.
    Number(f32, Unit),
    /// A text in quotes.
    Text(String),
    /// `->`, `=`, `,`, `..`, `:`, `<`, `<=`, `>` or `>=`.
    Sign(&'static str),
}

/// A line that is not empty, with those that go on in it.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Line {
    /// How many columns it is indented.
    pub(crate) indent: usize,
    pub(crate) tokens: Vec<Token>,
}

impl Line {
    /// The bytes from its first token to its last.
    pub(crate) fn bytes(&self) -> Range<usize> {
        bytes_of(&self.tokens)
    }
}

/// The bytes from the first of some tokens to the last.
pub(crate) fn bytes_of(tokens: &[Token]) -> Range<usize> {
    match (tokens.first(), tokens.last()) {
        (Some(first), Some(last)) => first.bytes.start..last.bytes.end,
        _ => 0..0,
    }
}

const SIGNS: [&str; 9] = ["->", "..", "<=", ">=", "=", ",", ":", "<", ">"];

/// Splits a text into lines of tokens. What is not understood is noted.
pub(crate) fn lex(text: &str, errors: &mut Vec<DrillError>) -> Vec<Line> {
    let mut lines: Vec<Line> = Vec::new();
    let mut goes_on = false;
    let mut start = 0;
    for raw in text.split_inclusive('\n') {
        let line = raw.trim_end_matches(['\n', '\r']);
        let indent = line.len() - line.trim_start_matches([' ', '\t']).len();
        if let Some(tab) = line[..indent].find('\t') {
            let at = start + tab;
            let message = "a tab in the indentation; blocks are indented by spaces";
            errors.push(DrillError::new(at..at + 1, message));
        }
        // A tab counts as two columns, so that it is one error and no more.
        let indent = indent + line[..indent].matches('\t').count();
        let tokens = pieces(line, start, errors);
        start += raw.len();
        if tokens.is_empty() {
            continue;
        }
        let ends_open = matches!(
            tokens.last().map(|token| &token.what),
            Some(Piece::Sign(","))
        );
        match lines.last_mut() {
            Some(last) if goes_on => last.tokens.extend(tokens),
            _ => lines.push(Line { indent, tokens }),
        }
        goes_on = ends_open;
    }
    lines
}

/// The tokens of a line that begins at `start`.
fn pieces(line: &str, start: usize, errors: &mut Vec<DrillError>) -> Vec<Token> {
    let mut tokens = Vec::new();
    let mut at = 0;
    while let Some(next) = line[at..].chars().next() {
        let rest = &line[at..];
        if next.is_whitespace() {
            at += next.len_utf8();
            continue;
        }
        if next == '#' {
            break;
        }
        let Piecewise {
            what,
            length,
            error,
        } = piece(rest);
        if let Some(message) = error {
            let from = start + at;
            errors.push(DrillError::new(from..from + length, message));
        }
        let Some(what) = what else {
            at += length;
            continue;
        };
        let bytes = start + at..start + at + length;
        tokens.push(Token { what, bytes });
        at += length;
    }
    tokens
}

/// What a text begins with: a token, as far as it can be understood, and what is wrong with it.
struct Piecewise {
    what: Option<Piece>,
    length: usize,
    error: Option<String>,
}

impl Piecewise {
    fn sound(what: Piece, length: usize) -> Piecewise {
        Piecewise {
            what: Some(what),
            length,
            error: None,
        }
    }

    fn wrong(length: usize, error: impl Into<String>) -> Piecewise {
        Piecewise {
            what: None,
            length,
            error: Some(error.into()),
        }
    }

    /// The same token, of which something is wrong: what follows is read all the same.
    fn but(self, error: impl Into<String>) -> Piecewise {
        Piecewise {
            error: Some(error.into()),
            ..self
        }
    }
}

/// The token with which a text begins, and its length in bytes.
fn piece(text: &str) -> Piecewise {
    if let Some(sign) = SIGNS.into_iter().find(|sign| text.starts_with(sign)) {
        return Piecewise::sound(Piece::Sign(sign), sign.len());
    }
    let first = text.chars().next().unwrap_or(' ');
    if first == '"' {
        return match text[1..].find('"') {
            Some(length) => Piecewise::sound(Piece::Text(text[1..=length].to_owned()), length + 2),
            None => Piecewise::sound(Piece::Text(text[1..].to_owned()), text.len())
                .but("a text without an end: \" is missing"),
        };
    }
    if first.is_ascii_digit() || first == '-' {
        return number(text);
    }
    let is_of_word = |c: char| c.is_ascii_alphanumeric() || c == '-';
    // An arrow may follow a word without a space.
    let length = text.find(|c| !is_of_word(c)).unwrap_or(text.len());
    let length = text[..length].find("->").unwrap_or(length);
    if !first.is_ascii_alphabetic() || length == 0 {
        return Piecewise::wrong(first.len_utf8(), format!("{first:?} is not allowed here"));
    }
    let word = text[..length].to_ascii_lowercase();
    let is_small = word == text[..length];
    let piece = Piecewise::sound(Piece::Word(word), length);
    if is_small {
        piece
    } else {
        piece.but("words are written in small letters")
    }
}

/// A number and the unit behind it.
fn number(text: &str) -> Piecewise {
    let sign = usize::from(text.starts_with('-'));
    let digits = |from: usize| {
        let rest = &text[from..];
        rest.find(|c: char| !c.is_ascii_digit())
            .unwrap_or(rest.len())
    };
    let whole = digits(sign);
    if whole == 0 {
        return Piecewise::wrong(1, "a - without a number; \"->\" goes to a state");
    }
    let mut end = sign + whole;
    let mut error = None;
    // Two points are a range.
    if text[end..].starts_with('.') && !text[end..].starts_with("..") {
        let part = digits(end + 1);
        if part == 0 {
            error = Some("a number that ends with a point".to_owned());
        }
        end += 1 + part;
    }
    let value: f32 = text[..end].parse().unwrap_or(0.0);
    if value.abs() > MOST {
        error = Some(format!("a number above {MOST}"));
    }
    let rest = &text[end..];
    let spaces = rest.len() - rest.trim_start_matches(' ').len();
    let (unit, length) = Unit::at_start_of(&rest[spaces..]);
    let length = if unit == Unit::None {
        0
    } else {
        spaces + length
    };
    Piecewise {
        what: Some(Piece::Number(value, unit)),
        length: end + length,
        error,
    }
}

/// The largest number in a drill.
const MOST: f32 = 1_000_000.0;
