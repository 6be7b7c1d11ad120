//! One file a subcommand.

pub(crate) mod bench;
pub(crate) mod body;
pub(crate) mod check;
pub(crate) mod demo;
pub(crate) mod draw;
pub(crate) mod film;
pub(crate) mod reveal;
pub(crate) mod route;
pub(crate) mod run;
pub(crate) mod trips;
pub(crate) mod views;
