//! All tests of the crate, in one binary.

mod command;
mod crowds;
mod maps;
mod pictures;
mod tutorial;
