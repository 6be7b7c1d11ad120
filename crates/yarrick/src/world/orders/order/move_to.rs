//! Going to a point.

use super::checks::{flaw_of_spot, walkers};
use super::{Effect, OrderKind};
use crate::world::activity::Activity;
use crate::world::message::{Action, Finish, MAX_FACING, MAX_STAND_OFF_M, Refusal};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "move",
    keys: &["point", "facing", "facing_rad", "within"],
    read: |reader| {
        let to = reader.point();
        let facing = reader.angle("facing", "facing_rad");
        let within_m = reader.metres("within", 0.0..=MAX_STAND_OFF_M, 0.0);
        let finish = Finish {
            facing: facing?,
            within_m: within_m?,
        };
        Some(Action::Move { to: to?, finish })
    },
    write: |action, writer| {
        if let Action::Move { to, finish } = action {
            writer.point(*to);
            if let Some(facing) = finish.facing {
                writer.key("facing_rad", &format!("{facing:?}"));
            }
            if finish.within_m > 0.0 {
                writer.key("within", &format!("{:?}", finish.within_m));
            }
        }
    },
    flaw: |state, side, action| {
        let Action::Move { finish, .. } = action else {
            return None;
        };
        let looks = finish
            .facing
            .is_none_or(|facing| facing.abs() <= MAX_FACING);
        let near = (0.0..=MAX_STAND_OFF_M).contains(&finish.within_m);
        flaw_of_spot(state, side, action)
            .or((!looks).then_some(Refusal::BadPoint))
            .or((!near).then_some(Refusal::BadDistance))
    },
    check: walkers,
    effect: Effect::Activities(|prepare, action| match action {
        Action::Move { to, finish } => prepare.go_to((*to, *finish), Activity::Go),
        _ => Vec::new(),
    }),
};
