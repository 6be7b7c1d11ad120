//! The stages of a tick, in the order in which [`World::step`](super::World::step) calls them.
//! None knows another; they meet through the state, the workspace and the events.

pub(super) mod act;
pub(super) mod clear_away;
pub(super) mod digest;
pub(super) mod flocks;
pub(super) mod formations;
pub(super) mod free;
pub(super) mod hear;
pub(super) mod index;
pub(super) mod moving;
pub(super) mod plan;
pub(super) mod sense;
pub(super) mod strike;
pub(super) mod take;
pub(super) mod trade_places;
