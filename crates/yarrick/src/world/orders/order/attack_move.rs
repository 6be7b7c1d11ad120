//! Going to a point, and fighting on the way.

use super::checks::{flaw_of_spot, walkers};
use super::{Effect, OrderKind};
use crate::world::activity::{Activity, AttackMove};
use crate::world::message::{Action, Finish};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "attack-move",
    keys: &["point"],
    read: |reader| {
        let to = reader.point()?;
        Some(Action::AttackMove { to })
    },
    write: |action, writer| {
        if let Action::AttackMove { to } = action {
            writer.point(*to);
        }
    },
    flaw: flaw_of_spot,
    check: walkers,
    effect: Effect::Activities(|prepare, action| match action {
        Action::AttackMove { to } => prepare.go_to((*to, Finish::default()), |go| {
            Activity::AttackMove(AttackMove(go))
        }),
        _ => Vec::new(),
    }),
};
