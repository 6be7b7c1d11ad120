//! What units do over many ticks. Each activity is one file.

mod go;

pub(crate) use go::{Go, Patience};

/// What a unit is at.
#[derive(Clone, Debug)]
pub(crate) enum Activity {
    /// Nothing.
    Stand,
    /// It waits for its route to be found, having been held up on an earlier one for so many
    /// ticks.
    AwaitRoute {
        /// Ticks without progress so far.
        held_up: u32,
    },
    /// It walks along a route.
    Go(Go),
}
