//! Keeping near a unit.

use super::checks::{flaw_of_spot, walkers_to_others};
use super::{Effect, OrderKind};
use crate::world::activity::{Activity, Follow};
use crate::world::message::{Action, MAX_STAND_OFF_M, Refusal, USUAL_FOLLOW_GAP_M};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "follow",
    keys: &["target", "target_id", "gap"],
    read: |reader| {
        let gap_m = reader.metres("gap", 0.0..=MAX_STAND_OFF_M, USUAL_FOLLOW_GAP_M);
        Some(Action::Follow {
            target: reader.target()?,
            gap_m: gap_m?,
        })
    },
    write: |action, writer| {
        if let Action::Follow { target, gap_m } = action {
            writer.target(*target);
            writer.key("gap", &format!("{gap_m:?}"));
        }
    },
    flaw: |state, side, action| {
        let Action::Follow { gap_m, .. } = action else {
            return None;
        };
        let near = (0.0..=MAX_STAND_OFF_M).contains(gap_m);
        flaw_of_spot(state, side, action).or((!near).then_some(Refusal::BadDistance))
    },
    check: walkers_to_others,
    effect: Effect::Activities(|prepare, action| match action {
        Action::Follow { target, gap_m } => {
            prepare.each(|| Activity::Follow(Follow::new(*target, *gap_m)))
        }
        _ => Vec::new(),
    }),
};
