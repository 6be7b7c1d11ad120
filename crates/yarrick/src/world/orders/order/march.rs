//! Going to a point in formation.

use super::checks::{flaw_of_points, walkers};
use super::{Effect, OrderKind};
use crate::motion::formation::own_slots_are_sound;
use crate::world::activity::{Activity, AttackMove};
use crate::world::message::{Action, MAX_FACING, Refusal};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "march",
    keys: &[
        "point",
        "formation",
        "slots",
        "facing",
        "facing_rad",
        "abreast",
        "slowest_leads",
        "fight",
    ],
    read: |reader| {
        let (to, formation) = (reader.point(), reader.formation());
        let fight = reader.flag("fight", false);
        Some(Action::March {
            to: to?,
            formation: formation?,
            fight: fight?,
        })
    },
    write: |action, writer| {
        if let Action::March {
            to,
            formation,
            fight,
        } = action
        {
            writer.point(*to);
            writer.formation(formation);
            writer.key("fight", &fight.to_string());
        }
    },
    flaw: |_, _, action| {
        let Action::March { to, formation, .. } = action else {
            return None;
        };
        let looks = formation
            .facing
            .is_none_or(|facing| facing.abs() <= MAX_FACING);
        let rows = formation.abreast != Some(0);
        let slots = own_slots_are_sound(&formation.slots);
        flaw_of_points(&[*to])
            .or((!looks).then_some(Refusal::BadPoint))
            .or((!(rows && slots)).then_some(Refusal::BadNumber))
    },
    check: walkers,
    effect: Effect::Activities(|prepare, action| match action {
        Action::March {
            to,
            formation,
            fight: true,
        } => prepare.march_to((*to, formation), |go| Activity::AttackMove(AttackMove(go))),
        Action::March { to, formation, .. } => prepare.march_to((*to, formation), Activity::Go),
        _ => Vec::new(),
    }),
};
