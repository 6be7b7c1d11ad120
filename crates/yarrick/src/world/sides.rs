//! Sides, and how they stand to one another.

use super::ids::SideId;
use serde::{Deserialize, Serialize};

/// The most sides that a world has.
pub const MAX_SIDES: usize = 16;

/// Who owns units and gives commands.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Side {
    /// What it is called.
    pub name: String,
    /// Whether it is nobody's foe: for creatures and things that belong to no player.
    pub neutral: bool,
    /// Its allies. It is enough if one of two names the other.
    pub allies: Vec<SideId>,
    /// The sides that may command its units besides itself. They are its allies, too.
    pub shares_control_with: Vec<SideId>,
}

impl Side {
    /// A side called `name`, without allies.
    #[must_use]
    pub fn new(name: &str) -> Side {
        Side {
            name: name.to_owned(),
            neutral: false,
            allies: Vec::new(),
            shares_control_with: Vec::new(),
        }
    }
}

/// How a side stands to another.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Stance {
    /// It is the same side.
    Own,
    /// They are allies.
    Ally,
    /// One of them at least is neutral.
    Neutral,
    /// They fight each other.
    Foe,
}

/// How all sides stand to one another: a bit a side.
#[derive(Clone, Debug, Default)]
pub(crate) struct Stances {
    allies: [u16; MAX_SIDES],
    foes: [u16; MAX_SIDES],
    /// Who may command the units of each.
    masters: [u16; MAX_SIDES],
}

impl Stances {
    /// # Errors
    /// The side that another names, and that does not exist.
    pub(crate) fn new(sides: &[Side]) -> Result<Stances, SideId> {
        let mut stances = Stances::default();
        for (number, side) in sides.iter().enumerate() {
            stances.masters[number] |= 1 << number;
            let sharing = &side.shares_control_with;
            for &other in side.allies.iter().chain(sharing) {
                if usize::from(other.0) >= sides.len() {
                    return Err(other);
                }
                stances.allies[number] |= 1 << other.0;
                stances.allies[usize::from(other.0)] |= 1 << number;
            }
            for &other in sharing {
                stances.masters[number] |= 1 << other.0;
            }
        }
        for (a, side) in sides.iter().enumerate() {
            for (b, other) in sides.iter().enumerate() {
                let peace = a == b || side.neutral || other.neutral;
                if !peace && stances.allies[a] >> b & 1 == 0 {
                    stances.foes[a] |= 1 << b;
                }
            }
        }
        Ok(stances)
    }

    pub(crate) fn are_foes(&self, a: SideId, b: SideId) -> bool {
        self.foes[usize::from(a.0)] >> b.0 & 1 == 1
    }

    /// Whether one of some sides is a foe to one of others; a bit a side.
    pub(crate) fn some_are_foes(&self, some: u16, others: u16) -> bool {
        let mut foes = self.foes.iter().enumerate();
        foes.any(|(side, foes)| some >> side & 1 == 1 && foes & others != 0)
    }

    /// Whether `side` may command the units of `owner`.
    pub(crate) fn may_command(&self, side: SideId, owner: SideId) -> bool {
        self.masters[usize::from(owner.0)] >> side.0 & 1 == 1
    }

    pub(crate) fn between(&self, a: SideId, b: SideId) -> Stance {
        if a == b {
            Stance::Own
        } else if self.allies[usize::from(a.0)] >> b.0 & 1 == 1 {
            Stance::Ally
        } else if self.are_foes(a, b) {
            Stance::Foe
        } else {
            Stance::Neutral
        }
    }
}
