//! The vocabulary of a world.

use super::STEPS;
use crate::drill::{BadPattern, Vocabulary, Word};
use crate::world::senses::{GROUPS, PLACES, SENSES, TESTS};

/// The words that the drills of a world understand, and those that a game adds: senses that give numbers, and steps.
///
/// The value of a sense that a game adds is set by [`Change::SetSense`](super::super::Change::SetSense). A step that a game
/// adds comes out as [`Event::Asked`](super::super::Event::Asked); one that lasts is done by
/// [`Change::StepDone`](super::super::Change::StepDone).
///
/// ```
/// use yarrick::drill::{Gives, Unit, Word, compile};
/// use yarrick::world::vocabulary;
///
/// let own = [Word::sense("water", Gives::Number(Unit::Metres), "how high the water stands")];
/// let words = vocabulary(&own)?;
/// let text = "
/// drill wader controls legs
///   start state feed
///     wander at 30%
///     when water > 0.4 m -> ashore
///   state ashore
///     go to home
///     when water < 0.2 m -> feed
/// ";
/// assert_eq!(compile(text, &words)?.drills[0].name, "wader");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
///
/// # Errors
/// [`BadPattern`] for a word of the game that makes no sense.
pub fn vocabulary(own: &[Word]) -> Result<Vocabulary, BadPattern> {
    let steps = STEPS.iter().map(|(word, _)| word());
    let senses = SENSES.iter().map(|(word, _)| word());
    let tests = TESTS.iter().map(|(word, _)| word());
    let words = steps.chain(senses).chain(tests).chain(own.iter().cloned());
    Vocabulary::new(words.collect(), &PLACES, &GROUPS)
}
