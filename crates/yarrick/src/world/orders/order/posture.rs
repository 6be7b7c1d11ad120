//! Changing what units do about foes while they have nothing else to do.

use super::checks::{anybody, sound};
use super::{Effect, OrderKind};
use crate::world::kind::Posture;
use crate::world::message::{Action, Outcome};

const WORDS: [&str; 4] = [
    Posture::WORDS[0].0,
    Posture::WORDS[1].0,
    Posture::WORDS[2].0,
    Posture::WORDS[3].0,
];

pub(super) const ORDER: OrderKind = OrderKind {
    word: "posture",
    keys: &["posture"],
    read: |reader| {
        let at = reader.word("posture", &WORDS)?;
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
