//! What a click can point at, and what a unit can do about it.

use super::command::{Action, Spot};
use crate::geom::Vec2;
use crate::world::ids::UnitId;
use crate::world::kind::{Ability, Kind};
use serde::{Deserialize, Serialize};

/// What a click can mean to those who are to act on it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Aspect {
    /// Open ground.
    Ground,
    /// A unit or building of a foe that can be harmed.
    Foe,
    /// A unit of one's own side or an ally.
    Friend,
    /// A building of one's own side or an ally.
    Building,
    /// A place where something can be gathered, of any side.
    Deposit,
    /// A building of one's own side that takes in what is gathered.
    Depot,
    /// A building of one's own side that does not stand yet.
    Site,
    /// Anything else: neutral, or something that cannot be harmed.
    Other,
}

impl Aspect {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, Aspect); 8] = [
        ("ground", Aspect::Ground),
        ("foe", Aspect::Foe),
        ("friend", Aspect::Friend),
        ("building", Aspect::Building),
        ("deposit", Aspect::Deposit),
        ("depot", Aspect::Depot),
        ("site", Aspect::Site),
        ("other", Aspect::Other),
    ];
}

/// What a unit is to do about a spot: an [`Action`] that lacks only the spot.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Verb {
    /// [`Action::Attack`]; on open ground it is no order.
    Attack,
    /// [`Action::AttackMove`], to where the unit stands that is pointed at.
    AttackMove,
    /// [`Action::Move`], to where the unit stands that is pointed at.
    Move,
    /// [`Action::Patrol`], to where the unit stands that is pointed at.
    Patrol,
    /// [`Action::Approach`]; a move on open ground.
    Approach,
    /// [`Action::Follow`]; a move on open ground.
    Follow,
    /// [`Action::Guard`].
    Guard,
    /// [`Action::Rally`].
    Rally,
    /// [`Action::Gather`].
    Gather,
    /// [`Action::Deliver`].
    Deliver,
    /// [`Action::Construct`].
    Construct,
    /// Nothing, whatever later rules say.
    Nothing,
}

impl Verb {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, Verb); 12] = [
        ("attack", Verb::Attack),
        ("attack-move", Verb::AttackMove),
        ("move", Verb::Move),
        ("patrol", Verb::Patrol),
        ("approach", Verb::Approach),
        ("follow", Verb::Follow),
        ("guard", Verb::Guard),
        ("rally", Verb::Rally),
        ("gather", Verb::Gather),
        ("deliver", Verb::Deliver),
        ("construct", Verb::Construct),
        ("nothing", Verb::Nothing),
    ];

    /// The word for it in scenario files.
    #[must_use]
    pub fn word(self) -> &'static str {
        let known = Verb::WORDS.iter().find(|(_, verb)| *verb == self);
        known.map_or("", |(word, _)| word)
    }

    /// The action, when it is done about a spot; `where_at` gives the position of a unit. `None` where
    /// it makes no sense there: nobody attacks the ground.
    #[must_use]
    pub fn about(self, spot: Spot, where_at: impl Fn(UnitId) -> Option<Vec2>) -> Option<Action> {
        let point = match spot {
            Spot::Ground(point) => Some(point),
            Spot::Unit(unit) => where_at(unit),
        };
        Some(match (self, spot) {
            (Verb::Attack, Spot::Unit(target)) => Action::Attack { target },
            (Verb::Approach, Spot::Unit(target)) => Action::approach(target),
            (Verb::Follow, Spot::Unit(target)) => Action::follow(target),
            (Verb::Gather, Spot::Unit(target)) => Action::Gather { target },
            (Verb::Deliver, Spot::Unit(target)) => Action::Deliver { target },
            (Verb::Construct, Spot::Unit(target)) => Action::Construct { target },
            (Verb::Guard, ward) => Action::Guard { ward },
            (Verb::Rally, to) => Action::Rally { to },
            (Verb::AttackMove, _) => Action::AttackMove { to: point? },
            (Verb::Patrol, _) => Action::Patrol {
                points: vec![point?],
                round: false,
            },
            (Verb::Move | Verb::Approach | Verb::Follow, _) => Action::move_to(point?),
            (Verb::Attack | Verb::Gather | Verb::Deliver | Verb::Construct, Spot::Ground(_))
            | (Verb::Nothing, _) => return None,
        })
    }

    /// Whether units of a kind are able of it.
    pub(crate) fn suits(self, kind: &Kind) -> bool {
        match self {
            Verb::Attack => kind.can(Ability::Strikes),
            Verb::Rally => kind.can(Ability::Rallies),
            Verb::Gather | Verb::Deliver => kind.can(Ability::Gathers),
            Verb::Construct => kind.can(Ability::Builds),
            Verb::Nothing => true,
            Verb::AttackMove
            | Verb::Move
            | Verb::Patrol
            | Verb::Approach
            | Verb::Follow
            | Verb::Guard => kind.can(Ability::Moves),
        }
    }

    /// Whether it can be done about such a thing: only foes are attacked, and never guarded.
    pub(crate) fn makes_sense(self, on: Aspect) -> bool {
        match self {
            Verb::Attack => on == Aspect::Foe,
            Verb::Guard => on != Aspect::Foe,
            Verb::Gather => on == Aspect::Deposit,
            Verb::Deliver => on == Aspect::Depot,
            Verb::Construct => on == Aspect::Site,
            _ => true,
        }
    }
}
