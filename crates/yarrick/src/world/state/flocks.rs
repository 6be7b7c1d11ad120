//! The flocks of a world: over the heads of all units, and at no player's command. Units and flocks meet in zones
//! alone: a unit can carry one about.

use super::State;
use crate::motion::flock::{Flock, ZoneId};
use crate::world::ids::{FlockId, UnitId};
use crate::world::message::{Appearance, Effect, FlockChange, Refusal};
use serde::{Deserialize, Serialize};

super::table::plain!(WorldFlock);

/// The most flocks of a world.
pub const MAX_FLOCKS: usize = 64;

/// A flock of a world.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(crate) struct WorldFlock {
    pub(crate) name: String,
    pub(crate) flock: Flock<Appearance>,
    /// The zones that units carry about.
    pub(crate) carried: Vec<(ZoneId, UnitId)>,
}

impl State {
    /// Puts a flock into the world, under a name of its own.
    pub(crate) fn add_flock(
        &mut self,
        name: &str,
        flock: Flock<Appearance>,
    ) -> Result<FlockId, Refusal> {
        let taken = self.flocks.iter().any(|known| known.name == name);
        if taken || self.flocks.len() >= MAX_FLOCKS {
            return Err(Refusal::BadFlock);
        }
        self.flocks.push(WorldFlock {
            name: name.to_owned(),
            flock,
            carried: Vec::new(),
        });
        Ok(FlockId(self.flocks.len() as u16 - 1))
    }

    /// Makes a change of a flock.
    pub(crate) fn change_flock(
        &mut self,
        id: FlockId,
        change: &FlockChange,
    ) -> Result<Effect, Refusal> {
        if let FlockChange::Add { name, params } = change {
            let flock = Flock::new(*params).map_err(|_| Refusal::BadFlock)?;
            let flock = self.add_flock(name, flock)?;
            return Ok(Effect::FlockAdded { flock });
        }
        if let FlockChange::CarryZone { unit, .. } = change
            && self.units.row(*unit).is_none()
        {
            return Err(Refusal::NoSuchUnit);
        }
        let known = self.flocks.get_mut(usize::from(id.0));
        known.ok_or(Refusal::NotInAFlock)?.change(id, change)
    }
}

impl WorldFlock {
    fn change(&mut self, id: FlockId, change: &FlockChange) -> Result<Effect, Refusal> {
        let WorldFlock { flock, carried, .. } = self;
        let bad = |_| Refusal::BadFlock;
        let made = Effect::Made;
        match change {
            FlockChange::Add { .. } => Err(Refusal::BadFlock),
            FlockChange::SetParams(params) => flock
                .set_params(*params)
                .map(|()| made)
                .map_err(|_| Refusal::BadFlock),
            FlockChange::AddMember {
                at,
                heading,
                appearance,
            } => {
                let member = flock.add(*at, *heading, *appearance).map_err(bad)?;
                Ok(Effect::MemberAdded { flock: id, member })
            }
            FlockChange::RemoveMember(member) => {
                let removed = flock.remove(*member);
                removed.map(|_| made).ok_or(Refusal::NotInAFlock)
            }
            FlockChange::AddZone(zone) => {
                let added = flock.add_zone(zone.clone());
                let zone = added.map_err(|_| Refusal::BadFlock)?;
                Ok(Effect::ZoneAdded { flock: id, zone })
            }
            FlockChange::SetZone(zone, becomes) => {
                let set = flock.set_zone(*zone, becomes.clone());
                set.map(|()| made).map_err(bad)
            }
            FlockChange::MoveZone { zone, at, facing } => {
                let known = flock.zone(*zone).ok_or(Refusal::NotInAFlock)?;
                let facing = facing.unwrap_or(known.facing);
                flock.move_zone(*zone, *at, facing).map_err(bad)?;
                carried.retain(|(carried, _)| carried != zone);
                Ok(made)
            }
            FlockChange::SwitchZone { zone, on } => {
                let switched = flock.switch_zone(*zone, *on);
                switched.map(|()| made).map_err(|_| Refusal::NotInAFlock)
            }
            FlockChange::RemoveZone(zone) => {
                carried.retain(|(carried, _)| carried != zone);
                let removed = flock.remove_zone(*zone);
                removed.map(|_| made).map_err(|_| Refusal::NotInAFlock)
            }
            FlockChange::CarryZone { zone, unit } => {
                flock.zone(*zone).ok_or(Refusal::NotInAFlock)?;
                carried.retain(|(carried, _)| carried != zone);
                carried.push((*zone, *unit));
                Ok(made)
            }
            FlockChange::SetZoneDown(zone) => {
                flock.zone(*zone).ok_or(Refusal::NotInAFlock)?;
                carried.retain(|(carried, _)| carried != zone);
                Ok(made)
            }
        }
    }
}
