//! Walking up to a unit.

use super::checks::{flaw_of_target, walkers_to_others};
use super::{Effect, OrderKind};
use crate::world::activity::{Activity, Approach};
use crate::world::message::{Action, MAX_FACING, MAX_STAND_OFF_M, Refusal, USUAL_STAND_OFF_M};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "approach",
    keys: &["target", "target_id", "stand_off", "from_side", "side_rad"],
    read: |reader| {
        let allowed = 0.0..=MAX_STAND_OFF_M;
        let stand_off_m = reader.metres("stand_off", allowed, USUAL_STAND_OFF_M);
        let side = reader.angle("from_side", "side_rad");
        Some(Action::Approach {
            target: reader.target()?,
            stand_off_m: stand_off_m?,
            side: side?,
        })
    },
    write: |action, writer| {
        if let Action::Approach {
            target,
            stand_off_m,
            side,
        } = action
        {
            writer.target(*target);
            writer.key("stand_off", &format!("{stand_off_m:?}"));
            if let Some(side) = side {
                writer.key("side_rad", &format!("{side:?}"));
            }
        }
    },
    flaw: |state, _, action| {
        let Action::Approach {
            target,
            stand_off_m,
            side,
        } = action
        else {
            return None;
        };
        let near = (0.0..=MAX_STAND_OFF_M).contains(stand_off_m);
        let turned = side.is_none_or(|side| side.abs() <= MAX_FACING);
        flaw_of_target(state, *target)
            .or((!near).then_some(Refusal::BadDistance))
            .or((!turned).then_some(Refusal::BadPoint))
    },
    check: walkers_to_others,
    effect: Effect::Activities(|prepare, action| match action {
        Action::Approach {
            target,
            stand_off_m,
            side,
        } => prepare.each(|| Activity::Approach(Approach::new(*target, *stand_off_m, *side))),
        _ => Vec::new(),
    }),
};
