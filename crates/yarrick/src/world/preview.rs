//! What a click would do, for the cursor; and what rally points ask of newcomers.

use super::World;
use super::ids::{SideId, UnitId};
use super::message::{Action, Aspect, Spot, Verb};
use super::orders::{aspect, fitting_verb};

/// What a click would do, for the cursor.
#[derive(Clone, Debug, PartialEq)]
pub struct Preview {
    /// What the click points at.
    pub spot: Spot,
    /// What that is to the player.
    pub aspect: Aspect,
    /// What the leading unit would do.
    pub lead: Verb,
    /// Which units would do what, by verb, each list in the order of the selection. Units that live no
    /// more, or that the side may not command, are left out.
    pub shares: Vec<(Verb, Vec<UnitId>)>,
}

impl World {
    /// What a spot is to a side; `None` where the unit lives no more.
    #[must_use]
    pub fn aspect(&self, side: SideId, spot: Spot) -> Option<Aspect> {
        aspect(&self.state, side, spot)
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
        let aspect = aspect(&self.state, side, spot)?;
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
                    let kind = self.state.kind_of(row);
                    let able = verb.makes_sense(aspect) && verb.suits(kind);
                    if able { verb } else { Verb::Nothing }
                }
                None => fitting_verb(&self.state, &self.minds.context_rules, row, side, spot)?,
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
        let spots = self.unit_at(building).rally_points().iter();
        let where_at = |unit: UnitId| self.unit(unit).map(|unit| unit.position());
        spots
            .filter_map(|&spot| {
                let verb =
                    fitting_verb(&self.state, &self.minds.context_rules, newcomer, side, spot)?;
                verb.about(spot, where_at)
            })
            .collect()
    }
}
