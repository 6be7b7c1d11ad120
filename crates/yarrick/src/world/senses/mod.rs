//! What units know of the world, as drills ask for it: senses and tests, each with its declaration.

mod look;
mod words;

pub(crate) use look::Look;
pub(crate) use words::{Declared, GROUPS, PLACES, SENSES, TESTS};
