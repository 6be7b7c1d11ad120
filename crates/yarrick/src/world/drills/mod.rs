//! Drills in a world: the words that a world understands, and what units do by them.
//!
//! A unit has a [`Machine`](crate::drill::Machine) for each drill of its kind; the stage `think` runs them. Steps start
//! the same activities that orders do. What drills can know is in [`senses`](super::senses).

mod steps;
mod words;

pub(crate) use steps::{DrillHost, STEPS};
pub use words::vocabulary;
