//! Doing what fits a spot.

use super::checks::{anybody, flaw_of_spot};
use super::{Effect, OrderKind};
use crate::world::message::Action;

pub(super) const ORDER: OrderKind = OrderKind {
    word: "context",
    keys: &["point", "target", "target_id"],
    read: |reader| {
        let at = reader.spot()?;
        Some(Action::Context { at })
    },
    write: |action, writer| {
        if let Action::Context { at } = action {
            writer.spot(*at);
        }
    },
    flaw: flaw_of_spot,
    check: anybody,
    effect: Effect::WhatFits,
};
