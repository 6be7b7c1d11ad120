//! The stages of a tick, in the order in which [`World::step`](super::World::step) calls them.
//! None knows another; they meet through the state and the events.

pub(super) mod act;
mod arrivals;
pub(super) mod clear_away;
pub(super) mod digest;
mod drive;
pub(super) mod flocks;
pub(super) mod free;
mod give_way;
pub(super) mod index;
pub(super) mod march;
pub(super) mod moving;
pub(super) mod notice;
pub(super) mod plan;
pub(super) mod strike;
pub(super) mod take;
mod trade_places;
mod want;
