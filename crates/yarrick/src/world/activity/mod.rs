//! What units do over many ticks.
//!
//! What a unit is *at* is an [`Activity`]: it stands, waits for its route, or goes. Why it does so
//! is decided each tick by the activity of its order, a file each: closing in, fighting,
//! following, guarding.

pub(crate) mod approach;
pub(crate) mod bout;
pub(crate) mod closing;
pub(crate) mod follow;
mod go;

use crate::geom::Vec2;
pub(crate) use bout::Bout;
pub(crate) use closing::Progress;
pub(crate) use go::{Bearing, Bound, Delay, Go, Patience, Strayed};

/// What a unit is at.
#[derive(Clone, Debug)]
pub(crate) enum Activity {
    /// Nothing.
    Stand,
    /// It waits for its route to be found.
    AwaitRoute {
        /// Where it is to lead.
        bound: Bound,
        /// How long it made no progress on an earlier route.
        delay: Delay,
        /// Where it walks in the meantime, in metres.
        lead: Option<Vec2>,
    },
    /// It walks along a route.
    Go(Go),
}

impl Activity {
    /// What the unit walks for, or waits to walk for.
    pub(crate) fn bound(&self) -> Option<Bound> {
        match self {
            Activity::Stand => None,
            Activity::AwaitRoute { bound, .. } => Some(*bound),
            Activity::Go(go) => Some(go.bound()),
        }
    }
}
