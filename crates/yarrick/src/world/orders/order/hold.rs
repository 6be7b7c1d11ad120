//! Standing firm.

use super::checks::{anybody, sound};
use super::{Effect, OrderKind};
use crate::world::activity::{Activity, Hold};
use crate::world::message::Action;

pub(super) const ORDER: OrderKind = OrderKind {
    word: "hold",
    keys: &[],
    read: |_| Some(Action::Hold),
    write: |_, _| {},
    flaw: sound,
    check: anybody,
    effect: Effect::Activities(|prepare, _| prepare.each(|| Activity::Hold(Hold))),
};
