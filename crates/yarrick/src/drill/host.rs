//! What a machine has to know of the world, and what it does to it.

use super::program::Value;
use serde::{Deserialize, Serialize};

/// Whether a test holds.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Held {
    /// It does not.
    No,
    /// It does; for a test that captures, with the unit.
    Yes(Option<u64>),
    /// Nothing is known: it asks about an empty memory. Its opposite does not hold either.
    Unknown,
}

/// What came of a step that a host has begun.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Begun {
    /// It is done.
    Done,
    /// It lasts: [`Machine::step_ended`](super::Machine::step_ended) says when it is done.
    Lasts,
}

/// What a machine has to know of the world.
pub trait Senses {
    /// The value of a sense, by its number in the vocabulary. [`Value::Nothing`] where it is about an empty memory.
    fn sense(&self, word: u16, values: &[Value]) -> Value;
    /// Whether a test holds, by its number in the vocabulary.
    fn test(&self, word: u16, values: &[Value]) -> Held;
    /// Whether a unit is gone.
    fn is_gone(&self, unit: u64) -> bool;
    /// What a dial was set to for this unit, if it was.
    fn dial(&self, drill: u16, dial: u16) -> Option<f32>;
    /// A random number from 0 to 1, the n-th that this machine draws.
    fn chance(&self, nth: u32) -> f32;
    /// How many ticks a second has.
    fn ticks_per_second(&self) -> u32;
}

/// What a machine does to the world.
pub trait Host: Senses {
    /// Begins a step, by its number in the vocabulary.
    fn begin(&mut self, word: u16, values: &[Value]) -> Begun;
    /// Ends the step that lasts.
    fn stop(&mut self);
    /// The machine has gone to another state.
    fn changed(&mut self, change: &Change);
}

/// Why a machine went to another state.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub enum Why {
    /// A rule held: its number, the values that were measured for it, and the unit that `as` took.
    Rule {
        /// The number of the rule.
        rule: u16,
        /// What was measured, in the order of the rule; those beyond the number are not a number.
        measured: [f32; 3],
        /// The unit that was captured.
        took: Option<u64>,
    },
    /// What the memory of the state held is gone.
    Gone,
    /// A step said so, in this line.
    Step {
        /// The line of the text, from 1.
        line: u32,
    },
}

/// A change of state.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Change {
    /// The tick.
    pub at: u64,
    /// The state that was left.
    pub from: u16,
    /// The state that began.
    pub to: u16,
    /// Why.
    pub why: Why,
}
