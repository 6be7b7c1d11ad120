//! What units know of the world, as drills ask for it: senses and tests, each with its declaration.

mod answer;
mod look;
mod names;
mod words;

pub(crate) use look::Look;
pub(crate) use names::{GROUPS, PLACES};
pub(crate) use words::{Declared, SENSES, TESTS};
