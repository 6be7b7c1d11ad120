//! The one order that fits what a click points at: which, for whom, is data.
//!
//! A rule says: on this, who can do that, does so. For each unit the first rule counts that fits
//! what is pointed at, and of which the unit is able. A unit that cannot move is never walked,
//! whatever the rules say.

use super::state::State;
use super::{Ability, Action, Kind, Rank, SideId, Spot, Stance, UnitId, World};
use crate::geom::Vec2;
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
    /// A place where something can be gathered, whoever's it is.
    Deposit,
    /// Whatever else: neutral, or not to be harmed.
    Other,
}

impl Aspect {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, Aspect); 6] = [
        ("ground", Aspect::Ground),
        ("foe", Aspect::Foe),
        ("friend", Aspect::Friend),
        ("building", Aspect::Building),
        ("deposit", Aspect::Deposit),
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
    /// Nothing, whatever later rules say.
    Nothing,
}

impl Verb {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, Verb); 9] = [
        ("attack", Verb::Attack),
        ("attack-move", Verb::AttackMove),
        ("move", Verb::Move),
        ("patrol", Verb::Patrol),
        ("approach", Verb::Approach),
        ("follow", Verb::Follow),
        ("guard", Verb::Guard),
        ("rally", Verb::Rally),
        ("nothing", Verb::Nothing),
    ];

    /// The word for it in scenario files.
    #[must_use]
    pub fn word(self) -> &'static str {
        let known = Verb::WORDS.iter().find(|(_, verb)| *verb == self);
        known.map_or("", |(word, _)| word)
    }

    /// The action, when it is done about a spot; `where_at` tells where units stand. `None` where
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
            (Verb::Follow, Spot::Unit(target)) => Action::Follow { target },
            (Verb::Guard, ward) => Action::Guard { ward },
            (Verb::Rally, to) => Action::Rally { to },
            (Verb::AttackMove, _) => Action::AttackMove { to: point? },
            (Verb::Patrol, _) => Action::Patrol {
                points: vec![point?],
                round: false,
            },
            (Verb::Move | Verb::Approach | Verb::Follow, _) => Action::Move { to: point? },
            (Verb::Attack, Spot::Ground(_)) | (Verb::Nothing, _) => return None,
        })
    }

    /// Whether units of a kind are able of it.
    fn suits(self, kind: &Kind) -> bool {
        match self {
            Verb::Attack => kind.can(Ability::Strikes),
            Verb::Rally => kind.can(Ability::Rallies),
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
    fn makes_sense(self, on: Aspect) -> bool {
        match self {
            Verb::Attack => on == Aspect::Foe,
            Verb::Guard => on != Aspect::Foe,
            _ => true,
        }
    }
}

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
    /// | building, deposit, other | moves | approach |
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
            rule(On::Building, Who::Moves, Verb::Approach),
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

/// What a click would do, for the cursor.
#[derive(Clone, Debug, PartialEq)]
pub struct Preview {
    /// What the click points at.
    pub spot: Spot,
    /// What that is to the player.
    pub aspect: Aspect,
    /// What the leading unit would do.
    pub lead: Verb,
    /// Who would do what, by verb, each list in the order of the selection. Units that live no
    /// more, or that the side may not command, are left out.
    pub shares: Vec<(Verb, Vec<UnitId>)>,
}

impl World {
    /// What a spot is to a side; `None` where the unit lives no more.
    #[must_use]
    pub fn aspect(&self, side: SideId, spot: Spot) -> Option<Aspect> {
        self.state.aspect(side, spot)
    }

    /// What an [`Action::Context`] order about a spot would make these units do, or one with a
    /// verb of its own: for the cursor. `None` where there is nothing at the spot, or none of them
    /// would obey. Changes nothing; costs a look at each unit.
    #[must_use]
    pub fn preview(
        &self,
        side: SideId,
        units: &[UnitId],
        spot: Spot,
        verb: Option<Verb>,
    ) -> Option<Preview> {
        let aspect = self.state.aspect(side, spot)?;
        let mut shares: Vec<(Verb, Vec<UnitId>)> = Vec::new();
        let mut lead = None;
        for &unit in units {
            let Some(row) = self.state.units.row(unit) else {
                continue;
            };
            if !self.may_command(side, self.state.units.side[row]) {
                continue;
            }
            let verb = match verb {
                Some(verb) => {
                    let kind = self.state.kind(self.state.units.kind[row]);
                    let able = verb.makes_sense(aspect) && verb.suits(kind);
                    if able { verb } else { Verb::Nothing }
                }
                None => self.state.fitting_verb(row, side, spot)?,
            };
            lead = lead.or(Some(verb));
            match shares.iter_mut().find(|(known, _)| *known == verb) {
                Some((_, units)) => units.push(unit),
                None => shares.push((verb, vec![unit])),
            }
        }
        Some(Preview {
            spot,
            aspect,
            lead: lead?,
            shares,
        })
    }

    /// The orders that a unit which comes out of a building gets: one for each of its rally
    /// points, the later ones queued. None where the building has no rally point, or nothing
    /// there is for the unit to do.
    #[must_use]
    pub fn rally_actions(&self, building: UnitId, newcomer: UnitId) -> Vec<Action> {
        let rows = self
            .state
            .units
            .row(building)
            .zip(self.state.units.row(newcomer));
        let Some((building, newcomer)) = rows else {
            return Vec::new();
        };
        let side = self.state.units.side[newcomer];
        let spots = self.state.units.rally[building].iter();
        let where_at = |unit: UnitId| self.unit(unit).map(|unit| unit.position());
        spots
            .filter_map(|&spot| {
                let verb = self.state.fitting_verb(newcomer, side, spot)?;
                verb.about(spot, where_at)
            })
            .collect()
    }
}

impl State {
    pub(crate) fn aspect(&self, side: SideId, spot: Spot) -> Option<Aspect> {
        let unit = match spot {
            Spot::Ground(point) => return point.is_finite().then_some(Aspect::Ground),
            Spot::Unit(unit) => unit,
        };
        let row = self.units.row(unit)?;
        let kind = self.kind(self.units.kind[row]);
        if kind.rank == Rank::Deposit {
            return Some(Aspect::Deposit);
        }
        if usize::from(side.0) >= self.sides.len() {
            return None;
        }
        Some(match self.stances.between(side, self.units.side[row]) {
            Stance::Foe if kind.health > 0.0 => Aspect::Foe,
            Stance::Own | Stance::Ally if kind.rank == Rank::Building => Aspect::Building,
            Stance::Own | Stance::Ally => Aspect::Friend,
            Stance::Foe | Stance::Neutral => Aspect::Other,
        })
    }

    /// What fits a spot for the unit in a row; `None` where there is nothing at the spot. What a
    /// unit would do to itself it does not do, but for taking its rally points away.
    pub(crate) fn fitting_verb(&self, row: usize, side: SideId, spot: Spot) -> Option<Verb> {
        let on = self.aspect(side, spot)?;
        let verb = self.context_rules.verb(on, self.kind(self.units.kind[row]));
        let itself = spot == Spot::Unit(self.units.id[row]);
        Some(if itself && verb != Verb::Rally {
            Verb::Nothing
        } else {
            verb
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::combat::Weapon;

    #[test]
    fn whoever_cannot_move_is_never_walked_whatever_the_rules_say() {
        let rules = ContextRules::default().after(Aspect::WORDS.map(|(_, on)| ContextRule {
            on,
            who: None,
            verb: Verb::Move,
        }));
        let yard = Kind {
            rallies: true,
            ..Kind::walker("yard", 1.0, 0.0)
        };
        let tower = Kind::walker("sling tower", 1.0, 0.0).armed(Weapon::WEAKEST);
        for (_, on) in Aspect::WORDS {
            assert_eq!(rules.verb(on, &yard), Verb::Rally);
            let strikes = if on == Aspect::Foe {
                Verb::Attack
            } else {
                Verb::Nothing
            };
            assert_eq!(rules.verb(on, &tower), strikes);
            assert_eq!(rules.verb(on, &Kind::walker("raker", 0.4, 1.0)), Verb::Move);
        }
    }
}
