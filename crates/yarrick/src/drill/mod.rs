//! Drills: behaviours written as text.
//!
//! The types to know: [`Vocabulary`] (the words that a host understands), [`Program`] (drills that have been compiled from
//! a text by [`compile`]), [`Machine`] (a drill under way, for one unit) and [`Host`] (the world that it lives in).
//!
//! A text goes through `syntax` (text → lines of tokens → tree), `compile` (names, words, units and faculties are
//! checked), and becomes a `program`, which a `machine` runs. The language is described in `docs/design/drills.md`.
//!
//! ```
//! use yarrick::drill::{Begun, Change, Gives, Held, Host, Machine, Senses, Unit, Value, Vocabulary, Word, compile};
//!
//! // A host of one sense and two steps: a dunlin on a post.
//! let words = vec![
//!     Word::sense("tide", Gives::Number(Unit::Metres), "how high the water stands"),
//!     Word::step("sit", 0, true, "sits until something happens"),
//!     Word::step("fly off", 1, true, "flies away"),
//! ];
//! let words = Vocabulary::new(words, &[], &[])?;
//! let text = "
//! drill dunlin controls legs
//!   dial wet = 0.5 m in 0 m .. 2 m
//!   start state rest, every 1 s
//!     sit
//!     when tide > wet -> away
//!   state away
//!     fly off
//! ";
//! let program = compile(text, &words)?;
//!
//! struct Post { tide: f32, doing: Option<u16> }
//! impl Senses for Post {
//!     fn sense(&self, _: u16, _: &[Value]) -> Value { Value::Number(self.tide) }
//!     fn test(&self, _: u16, _: &[Value]) -> Held { Held::No }
//!     fn is_gone(&self, _: u64) -> bool { false }
//!     fn dial(&self, _: u16, _: u16) -> Option<f32> { None }
//!     fn chance(&self, _: u32) -> f32 { 0.5 }
//!     fn ticks_per_second(&self) -> u32 { 20 }
//! }
//! impl Host for Post {
//!     fn begin(&mut self, step: u16, _: &[Value]) -> Begun { self.doing = Some(step); Begun::Lasts }
//!     fn stop(&mut self) { self.doing = None; }
//!     fn changed(&mut self, _: &Change) {}
//! }
//!
//! let mut post = Post { tide: 0.2, doing: None };
//! let mut dunlin = Machine::new(&program, 0, 0, 0.0, &post).unwrap();
//! for now in 0..100 {
//!     post.tide += 0.01;
//!     dunlin.think(&program, now, &mut post);
//! }
//! assert_eq!(post.doing, Some(1), "it flies off");
//! let change = dunlin.last_change().unwrap();
//! // The water stood above 0.5 m after tick 30; the next check was in tick 40.
//! assert_eq!(change.at, 40);
//!
//! let wrong = compile("drill dunlin controls legs\n  start state rest\n    fly of", &words).unwrap_err();
//! assert!(wrong.to_string().contains("\"off\" is expected here"));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod compile;
mod error;
mod host;
mod machine;
mod program;
mod syntax;
mod units;
mod view;
mod words;

pub use compile::{MAX_DRILLS, MAX_PARTS};
pub use error::{DrillError, DrillErrors, MAX_DRILL_ERRORS};
pub use host::{Begun, Change, Held, Host, Senses, Why};
pub use machine::{Machine, STEP_LIMIT};
pub use program::{Dial, Drill, Program, Value};
pub use units::Unit;
pub use view::RuleView;
pub use words::{BadPattern, Faculties, Faculty, Gives, MAX_VALUES, Vocabulary, Word};

/// The largest text of drills, in bytes.
pub const MAX_TEXT_BYTES: usize = 1 << 20;

/// Compiles the drills of a text, for a host that understands some words.
///
/// # Errors
/// All that is wrong with the text, from top to bottom.
pub fn compile(text: &str, words: &Vocabulary) -> Result<Program, DrillErrors> {
    let mut errors = Vec::new();
    if text.len() > MAX_TEXT_BYTES {
        let message = format!("a text of drills has at most {MAX_TEXT_BYTES} bytes");
        errors.push(DrillError::new(0..0, message));
        return Err(DrillErrors::new(text, errors));
    }
    let lines = syntax::lex(text, &mut errors);
    let trees = syntax::parse(&lines, &mut errors);
    let program = compile::compile(text, trees, words, &mut errors);
    if errors.is_empty() {
        Ok(program)
    } else {
        Err(DrillErrors::new(text, errors))
    }
}
