//! All tests of the crate, in one binary.

mod film;
mod legend;
