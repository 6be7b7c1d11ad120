//! Drills in a world: the words that a world understands, what units know by them, and what they do.
//!
//! A unit has a [`Machine`](crate::drill::Machine) for each drill of its kind; the stage `think` runs them. Steps start
//! the same activities that orders do.

mod look;
mod senses;
mod steps;
mod words;

pub(crate) use look::Look;
pub(crate) use senses::{SENSES, TESTS};
pub(crate) use steps::{DrillHost, STEPS};
pub use words::vocabulary;
