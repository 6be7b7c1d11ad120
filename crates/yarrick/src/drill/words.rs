//! The words that a host understands: steps, senses and tests, each declared once.

use super::units::Unit;

/// What a word drives: bits of [`Faculty`].
pub type Faculties = u8;

/// A faculty of a unit, by its name in drills.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Faculty {
    /// `legs`
    Legs = 1,
    /// `arms`
    Arms = 2,
    /// `voice`
    Voice = 4,
}

impl Faculty {
    /// All of them, by name.
    pub const NAMES: [(&'static str, Faculty); 3] = [
        ("legs", Faculty::Legs),
        ("arms", Faculty::Arms),
        ("voice", Faculty::Voice),
    ];
}

/// A word of a host, as it is declared.
///
/// A *pattern* is what a drill says: literal words, and slots in braces. Slots are `{m}`, `{s}`, `{deg}`, `{%}`, `{m/s}`,
/// `{m/s2}`, `{points}` and `{number}` for quantities; `{unit}` for a memory that holds a unit; `{place}` for a place or a
/// memory of a point or a unit; `{who}` for a group of units; `{text}` for a text in quotes; `{a|b}` for one of some words.
#[derive(Clone, Debug, PartialEq)]
pub struct Word {
    pub(super) sort: WordSort,
    pub(super) pattern: String,
    pub(super) about: String,
    pub(super) options: Vec<String>,
}

/// What sort of word it is.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum WordSort {
    Step { needs: Faculties, lasts: bool },
    Sense { gives: Gives },
    Test { captures: bool },
}

/// What a sense gives.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Gives {
    /// A quantity.
    Number(Unit),
    /// A point.
    Point,
    /// A unit.
    Unit,
}

impl Word {
    /// A step: something to do. It needs some faculties; one that `lasts` is done when the host says so.
    #[must_use]
    pub fn step(pattern: &str, needs: Faculties, lasts: bool, about: &str) -> Word {
        Word::new(WordSort::Step { needs, lasts }, pattern, about)
    }

    /// A sense: something that can be known, and compared.
    #[must_use]
    pub fn sense(pattern: &str, gives: Gives, about: &str) -> Word {
        Word::new(WordSort::Sense { gives }, pattern, about)
    }

    /// A test: something that holds or does not. One that `captures` names a unit, which `as` takes.
    #[must_use]
    pub fn test(pattern: &str, captures: bool, about: &str) -> Word {
        Word::new(WordSort::Test { captures }, pattern, about)
    }

    fn new(sort: WordSort, pattern: &str, about: &str) -> Word {
        Word {
            sort,
            pattern: pattern.to_owned(),
            about: about.to_owned(),
            options: Vec::new(),
        }
    }

    /// The same word with an option: a pattern that may follow it after a comma, and begins with a name of its own. One
    /// without a slot is a flag.
    #[must_use]
    pub fn with(mut self, option: &str) -> Word {
        self.options.push(option.to_owned());
        self
    }

    /// What a drill says, options included.
    #[must_use]
    pub fn usage(&self) -> String {
        let mut usage = self.pattern.clone();
        for option in &self.options {
            usage = format!("{usage}[, {option}]");
        }
        usage
    }

    /// What it is.
    #[must_use]
    pub fn about(&self) -> &str {
        &self.about
    }
}

/// A part of a pattern.
#[derive(Clone, Debug, PartialEq)]
pub(super) enum Part {
    Literal(String),
    Slot(Slot),
}

/// What can stand in a slot.
#[derive(Clone, Debug, PartialEq)]
pub(super) enum Slot {
    Quantity(Unit),
    Unit,
    Place,
    Who,
    Text,
    Choice(Vec<String>),
}

/// A word as it is looked for.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Known {
    pub(super) word: Word,
    pub(super) head: Vec<Part>,
    pub(super) options: Vec<Vec<Part>>,
}

/// All words of a host.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Vocabulary {
    pub(super) steps: Vec<Known>,
    pub(super) senses: Vec<Known>,
    pub(super) tests: Vec<Known>,
    pub(super) places: Vec<String>,
    pub(super) groups: Vec<String>,
}

/// A pattern that makes no sense.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("the pattern {pattern:?} makes no sense: {why}")]
pub struct BadPattern {
    /// The pattern.
    pub pattern: String,
    /// What is wrong with it.
    pub why: &'static str,
}

/// The most values that a word takes, options included.
pub const MAX_VALUES: usize = 8;

impl Vocabulary {
    /// The vocabulary of some words; of the names of places, and of groups of units.
    ///
    /// # Errors
    /// [`BadPattern`] for a pattern with a slot that there is not, without a literal word at its beginning, or with more
    /// values than [`MAX_VALUES`].
    pub fn new(
        words: Vec<Word>,
        places: &[&str],
        groups: &[&str],
    ) -> Result<Vocabulary, BadPattern> {
        let owned = |names: &[&str]| names.iter().map(|name| (*name).to_owned()).collect();
        let mut vocabulary = Vocabulary {
            places: owned(places),
            groups: owned(groups),
            ..Vocabulary::default()
        };
        for word in words {
            vocabulary.add(word)?;
        }
        Ok(vocabulary)
    }

    /// Adds a word.
    ///
    /// # Errors
    /// As [`Vocabulary::new`].
    pub fn add(&mut self, word: Word) -> Result<(), BadPattern> {
        let bad = |why| BadPattern {
            pattern: word.usage(),
            why,
        };
        let head = parts(&word.pattern).map_err(bad)?;
        let options = word.options.iter().map(|option| parts(option));
        let options = options.collect::<Result<Vec<_>, _>>().map_err(bad)?;
        let begins = |parts: &[Part]| matches!(parts.first(), Some(Part::Literal(_)));
        if !begins(&head) || !options.iter().all(|option| begins(option)) {
            return Err(bad("it begins with a slot"));
        }
        let slots = |parts: &[Part]| {
            let slots = parts.iter().filter(|part| matches!(part, Part::Slot(_)));
            slots.count()
        };
        let values = slots(&head) + options.len();
        if values > MAX_VALUES {
            return Err(bad("it takes too many values"));
        }
        if options.iter().any(|option| slots(option) > 1) {
            return Err(bad("an option has one slot at most"));
        }
        let list = match word.sort {
            WordSort::Step { .. } => &mut self.steps,
            WordSort::Sense { .. } => &mut self.senses,
            WordSort::Test { .. } => &mut self.tests,
        };
        list.push(Known {
            word,
            head,
            options,
        });
        Ok(())
    }

    /// All steps, in the order in which they were declared: their numbers are those that the machine gives to a host.
    pub fn steps(&self) -> impl Iterator<Item = &Word> {
        self.steps.iter().map(|known| &known.word)
    }

    /// All senses, likewise.
    pub fn senses(&self) -> impl Iterator<Item = &Word> {
        self.senses.iter().map(|known| &known.word)
    }

    /// All tests, likewise.
    pub fn tests(&self) -> impl Iterator<Item = &Word> {
        self.tests.iter().map(|known| &known.word)
    }
}

/// Reads a pattern.
fn parts(pattern: &str) -> Result<Vec<Part>, &'static str> {
    let part = |text: &str| {
        let Some(slot) = text
            .strip_prefix('{')
            .and_then(|text| text.strip_suffix('}'))
        else {
            let is_word = |c: char| c.is_ascii_lowercase() || c.is_ascii_digit() || c == '-';
            return if !text.is_empty() && text.chars().all(is_word) {
                Ok(Part::Literal(text.to_owned()))
            } else {
                Err("words are small letters, digits and hyphens")
            };
        };
        Ok(Part::Slot(match slot {
            "unit" => Slot::Unit,
            "place" => Slot::Place,
            "who" => Slot::Who,
            "text" => Slot::Text,
            choices if choices.contains('|') => {
                Slot::Choice(choices.split('|').map(str::to_owned).collect())
            }
            unit => Slot::Quantity(Unit::of_symbol(unit).ok_or("there is no such slot")?),
        }))
    };
    pattern.split_whitespace().map(part).collect()
}
