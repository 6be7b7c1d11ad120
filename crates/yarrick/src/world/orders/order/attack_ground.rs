//! Striking a point of the ground.

use super::checks::{fighters, flaw_of_spot};
use super::{Effect, OrderKind};
use crate::geom::canonical;
use crate::world::activity::{Activity, AttackGround};
use crate::world::message::Action;

pub(super) const ORDER: OrderKind = OrderKind {
    word: "attack-ground",
    keys: &["point"],
    read: |reader| {
        let at = reader.point()?;
        Some(Action::AttackGround { at })
    },
    write: |action, writer| {
        if let Action::AttackGround { at } = action {
            writer.point(*at);
        }
    },
    flaw: flaw_of_spot,
    check: fighters,
    effect: Effect::Activities(|prepare, action| match action {
        Action::AttackGround { at } => {
            prepare.each(|| Activity::AttackGround(AttackGround::new(canonical(*at))))
        }
        _ => Vec::new(),
    }),
};
