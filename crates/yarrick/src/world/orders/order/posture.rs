//! Changing what units do about foes while they have nothing else to do.

use super::checks::{anybody, sound};
use super::{Effect, OrderKind};
use crate::world::kind::Posture;
use crate::world::message::{Action, Outcome};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "posture",
    keys: &["posture"],
    read: |reader| {
        let at = reader.word("posture", &Posture::NAMES)?;
        let posture = Posture::WORDS[at].1;
        Some(Action::SetPosture { posture })
    },
    write: |action, writer| {
        if let Action::SetPosture { posture } = action {
            writer.key("posture", &format!("\"{}\"", posture.word()));
        }
    },
    flaw: sound,
    check: anybody,
    effect: Effect::AtOnce(|dispatch, taken, action| {
        if let Action::SetPosture { posture } = action {
            dispatch.set_posture(taken.row, *posture);
            dispatch.end_at_once(taken.row, taken.number, Outcome::Done);
        }
    }),
};
