//! Dropping everything and standing still.

use super::checks::{anybody, sound};
use super::{Effect, OrderKind};
use crate::world::message::Action;

pub(super) const ORDER: OrderKind = OrderKind {
    word: "stop",
    keys: &[],
    read: |_| Some(Action::Stop),
    write: |_, _| {},
    flaw: sound,
    check: anybody,
    effect: Effect::Stop,
};
