//! A tick: the stages, in the order in which [`run`] calls them.
//!
//! No stage knows another; they meet through the state, the workspace and the events.

mod act;
mod births;
mod clear_away;
mod come_short;
mod digest;
mod fight;
mod flocks;
mod formations;
mod free;
mod go_round;
mod hear;
mod index;
mod judge;
mod leak;
mod moving;
mod places;
mod plan;
mod press_on;
mod produce;
mod rejoin;
mod sense;
mod take;
mod think;
mod trade_places;

pub(super) use digest::run as checksum;
pub(super) use index::run as file_everybody;

use super::inbox::Inbox;
use super::orders::Minds;
use super::state::{Events, Scratch, State};
use crate::threads::Threads;

/// Advances a world by a tick, on some threads. Gives its checksum.
pub(super) fn run(
    (state, minds): (&mut State, &mut Minds),
    inbox: &mut Inbox,
    (scratch, events): (&mut Scratch, &mut Events),
    threads: &Threads,
) -> u64 {
    events.clear();
    if state.decision.is_some() {
        return checksum(state, minds, &mut scratch.digest);
    }
    if scratch.near_is_stale {
        index::run(state, scratch);
    }
    state.clock.tick += 1;
    take::run(state, minds, inbox, scratch, events);
    births::run(state, minds, scratch, events);
    press_on::run(state, minds, scratch, events);
    sense::run(state, minds, scratch);
    think::run(state, minds, scratch, events);
    act::run(state, minds, scratch, events);
    places::run(state, scratch);
    plan::run(state, scratch, events, threads);
    formations::run(state, minds, scratch);
    moving::run(state, scratch, threads);
    go_round::run(state, scratch);
    hear::run(state, minds, scratch, events);
    trade_places::run(state, scratch);
    free::run(state);
    flocks::run(state, threads);
    fight::run(state, scratch, events);
    produce::run(state);
    leak::run(state, scratch, events);
    clear_away::run(state, minds, scratch, events);
    judge::run(state, events);
    index::run(state, scratch);
    minds.refresh(&mut scratch.digest);
    digest::run(state, minds, &mut scratch.digest)
}
