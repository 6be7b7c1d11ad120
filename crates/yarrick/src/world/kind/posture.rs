//! What a unit without orders does about foes.

use super::Kind;
use super::property::{Access, OfKind, Property, Sort};
use serde::{Deserialize, Serialize};

/// What a unit that has nothing else to do does about foes. Units with orders, and those whose arms a drill controls, do what
/// these say.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Posture {
    /// It does nothing, not even when it is attacked.
    Passive,
    /// It strikes what comes within its range, without a step.
    Hold,
    /// Likewise; and when it or a unit of its own side within its notice is hit, it goes for the attacker, and comes back
    /// afterwards.
    Defend,
    /// It goes for every foe that it notices, and stays where that leads it.
    Pursue,
}

impl Posture {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, Posture); 4] = [
        ("passive", Posture::Passive),
        ("hold", Posture::Hold),
        ("defend", Posture::Defend),
        ("pursue", Posture::Pursue),
    ];

    /// The words alone.
    pub(crate) const NAMES: [&'static str; 4] = [
        Posture::WORDS[0].0,
        Posture::WORDS[1].0,
        Posture::WORDS[2].0,
        Posture::WORDS[3].0,
    ];

    /// The word for it in scenario files.
    #[must_use]
    pub fn word(self) -> &'static str {
        Posture::WORDS[self as usize].0
    }
}

impl Kind {
    /// The posture of units of this kind, until an order changes it: what the kind says; else to defend for those that can
    /// walk and strike, and to hold for all others.
    #[must_use]
    pub fn usual_posture(&self) -> Posture {
        let can_answer = self.weapon.is_some() && self.speed() > 0.0;
        let usual = if can_answer {
            Posture::Defend
        } else {
            Posture::Hold
        };
        self.posture.unwrap_or(usual)
    }
}

pub(super) const PROPERTIES: &[Property] = &[OfKind::new(
    "posture",
    "what its units do about foes while they have nothing else to do, until an order changes it",
    "`\"defend\"` with a weapon and a speed, else `\"hold\"`",
    Sort::Word(
        Access {
            get: |kind| kind.usual_posture() as usize,
            set: |kind, at| kind.posture = Posture::WORDS.get(at).map(|(_, posture)| *posture),
        },
        &Posture::NAMES,
    ),
)];
