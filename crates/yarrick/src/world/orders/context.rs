//! The one order that fits what a click points at: which, for whom, is data.
//!
//! A rule says: on this, who can do that, does so. For each unit the first rule counts that fits
//! what is pointed at, and of which the unit is able. A unit that cannot move is never walked,
//! whatever the rules say.

use crate::world::ids::SideId;
use crate::world::kind::{Ability, Kind, Rank};
use crate::world::message::{Aspect, Spot, Verb};
use crate::world::sides::Stance;
use crate::world::state::State;
use serde::{Deserialize, Serialize};

/// A rule for the order that fits a click.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct ContextRule {
    /// What is pointed at.
    pub on: Aspect,
    /// Who it is for: those with this ability, or everybody.
    pub who: Option<Ability>,
    /// What they do.
    pub verb: Verb,
}

/// What fits which click, for whom: a list of rules, of which the first that fits counts.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct ContextRules {
    /// The rules.
    pub rules: Vec<ContextRule>,
}

impl Default for ContextRules {
    /// | on | who | does |
    /// |---|---|---|
    /// | ground | moves | move |
    /// | foe | strikes | attack |
    /// | foe | moves | move |
    /// | friend | moves | follow |
    /// | deposit | gathers | gather |
    /// | depot | gathers | deliver |
    /// | site | builds | construct |
    /// | building, depot, site, deposit, other | moves | approach |
    /// | anything | rallies | rally |
    fn default() -> ContextRules {
        use {Ability as Who, Aspect as On};
        let rule = |on, who, verb| ContextRule {
            on,
            who: Some(who),
            verb,
        };
        let mut rules = vec![
            rule(On::Ground, Who::Moves, Verb::Move),
            rule(On::Foe, Who::Strikes, Verb::Attack),
            rule(On::Foe, Who::Moves, Verb::Move),
            rule(On::Friend, Who::Moves, Verb::Follow),
            rule(On::Deposit, Who::Gathers, Verb::Gather),
            rule(On::Depot, Who::Gathers, Verb::Deliver),
            rule(On::Site, Who::Builds, Verb::Construct),
            rule(On::Building, Who::Moves, Verb::Approach),
            rule(On::Depot, Who::Moves, Verb::Approach),
            rule(On::Site, Who::Moves, Verb::Approach),
            rule(On::Deposit, Who::Moves, Verb::Approach),
            rule(On::Other, Who::Moves, Verb::Approach),
        ];
        let aspects = Aspect::WORDS.iter().map(|(_, on)| *on);
        rules.extend(aspects.map(|on| rule(on, Who::Rallies, Verb::Rally)));
        ContextRules { rules }
    }
}

impl ContextRules {
    /// These rules with others before them.
    #[must_use]
    pub fn after(self, first: impl IntoIterator<Item = ContextRule>) -> ContextRules {
        let mut rules: Vec<ContextRule> = first.into_iter().collect();
        rules.extend(self.rules);
        ContextRules { rules }
    }

    /// What a unit of a kind does about what is pointed at. `Verb::Nothing` where no rule fits.
    #[must_use]
    pub fn verb(&self, on: Aspect, kind: &Kind) -> Verb {
        let fits = |rule: &&ContextRule| {
            let meant = rule.on == on && rule.who.is_none_or(|ability| kind.can(ability));
            meant && rule.verb.makes_sense(on) && rule.verb.suits(kind)
        };
        self.rules
            .iter()
            .find(fits)
            .map_or(Verb::Nothing, |rule| rule.verb)
    }
}

/// What a spot is to a side; `None` where the unit lives no more.
pub(crate) fn aspect(state: &State, side: SideId, spot: Spot) -> Option<Aspect> {
    let unit = match spot {
        Spot::Ground(point) => return point.is_finite().then_some(Aspect::Ground),
        Spot::Unit(unit) => unit,
    };
    let row = state.units.row(unit)?;
    let kind = state.kind_of(row);
    if kind.rank == Rank::Deposit {
        return Some(Aspect::Deposit);
    }
    if usize::from(side.0) >= state.rules.sides.len() {
        return None;
    }
    let stance = state.derived.stances.between(side, state.units.side[row]);
    Some(match stance {
        Stance::Own if !state.is_complete(row) => Aspect::Site,
        Stance::Own if kind.depot.is_some() => Aspect::Depot,
        Stance::Foe if kind.body.health > 0.0 => Aspect::Foe,
        Stance::Own | Stance::Ally if kind.rank == Rank::Building => Aspect::Building,
        Stance::Own | Stance::Ally => Aspect::Friend,
        Stance::Foe | Stance::Neutral => Aspect::Other,
    })
}

/// What fits a spot for the unit in a row; `None` where there is nothing at the spot. A unit does nothing to itself,
/// but for taking its rally points away.
pub(crate) fn fitting_verb(
    state: &State,
    rules: &ContextRules,
    row: usize,
    side: SideId,
    spot: Spot,
) -> Option<Verb> {
    let on = aspect(state, side, spot)?;
    let verb = rules.verb(on, state.kind_of(row));
    let itself = spot == Spot::Unit(state.units.id[row]);
    Some(if itself && verb != Verb::Rally {
        Verb::Nothing
    } else {
        verb
    })
}
