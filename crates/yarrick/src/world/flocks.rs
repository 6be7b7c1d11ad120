//! The flocks of a world: over everybody's heads, and nobody's to command. Units and flocks meet in zones alone: a unit
//! can carry one about.

use super::state::State;
use super::{UnitId, World, WorldError};
use crate::motion::flock::{Flock, FlockError, ZoneId};
use core::fmt;
use serde::{Deserialize, Serialize};

/// The most flocks of a world.
pub const MAX_FLOCKS: usize = 64;

/// Names a flock of a world.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct FlockId(pub u16);

impl fmt::Display for FlockId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "flock {}", self.0)
    }
}

/// What a member of a world's flock looks like: for drawing, of no matter to how it moves.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Guise {
    /// Its length in metres.
    pub size_m: f32,
    /// Which of the shades of the flock it has, from 0 on.
    pub shade: u8,
}

/// A flock of a world.
#[derive(Clone, Debug)]
pub(crate) struct Tended {
    pub(crate) name: String,
    pub(crate) flock: Flock<Guise>,
    /// The zones that units carry about.
    pub(crate) carried: Vec<(ZoneId, UnitId)>,
}

impl World {
    /// Puts a flock into the world, under a name of its own.
    ///
    /// # Errors
    /// [`WorldError::SameName`], and [`WorldError::TooManyFlocks`] where there are [`MAX_FLOCKS`].
    pub fn add_flock(&mut self, name: &str, flock: Flock<Guise>) -> Result<FlockId, WorldError> {
        let flocks = &mut self.state.flocks;
        if flocks.iter().any(|known| known.name == name) {
            let name = name.to_owned();
            return Err(WorldError::SameName { name });
        }
        if flocks.len() >= MAX_FLOCKS {
            return Err(WorldError::TooManyFlocks);
        }
        flocks.push(Tended {
            name: name.to_owned(),
            flock,
            carried: Vec::new(),
        });
        Ok(FlockId(flocks.len() as u16 - 1))
    }

    /// A flock, or `None` where there is none of this number.
    #[must_use]
    pub fn flock(&self, id: FlockId) -> Option<&Flock<Guise>> {
        let found = self.state.flocks.get(usize::from(id.0));
        found.map(|tended| &tended.flock)
    }

    /// A flock, to be changed between ticks: its members, its zones, its manners.
    pub fn flock_mut(&mut self, id: FlockId) -> Option<&mut Flock<Guise>> {
        let found = self.state.flocks.get_mut(usize::from(id.0));
        found.map(|tended| &mut tended.flock)
    }

    /// All flocks, each with its name.
    pub fn flocks(&self) -> impl ExactSizeIterator<Item = (FlockId, &str, &Flock<Guise>)> {
        let flocks = self.state.flocks.iter().enumerate();
        flocks.map(|(id, tended)| (FlockId(id as u16), tended.name.as_str(), &tended.flock))
    }

    /// Lets a unit carry a zone of a flock about from the next tick on: the zone is where the unit is, and turned as it
    /// is. When the unit leaves the world, its zones go with it. A zone that another carried changes hands.
    ///
    /// # Errors
    /// [`WorldError`] for a flock, a zone or a unit that there is none of.
    pub fn carry_zone(
        &mut self,
        flock: FlockId,
        zone: ZoneId,
        unit: UnitId,
    ) -> Result<(), WorldError> {
        if self.state.units.row(unit).is_none() {
            return Err(WorldError::NoSuchUnit { unit });
        }
        let tended = self.state.tended(flock, zone)?;
        tended.carried.retain(|(known, _)| *known != zone);
        tended.carried.push((zone, unit));
        Ok(())
    }

    /// Leaves a zone where it is, if a unit carried it.
    ///
    /// # Errors
    /// [`WorldError`] for a flock or a zone that there is none of.
    pub fn set_zone_down(&mut self, flock: FlockId, zone: ZoneId) -> Result<(), WorldError> {
        let tended = self.state.tended(flock, zone)?;
        tended.carried.retain(|(known, _)| *known != zone);
        Ok(())
    }

    /// Who carries a zone of a flock, if anybody does.
    #[must_use]
    pub fn carrier(&self, flock: FlockId, zone: ZoneId) -> Option<UnitId> {
        let tended = self.state.flocks.get(usize::from(flock.0))?;
        let found = tended.carried.iter().find(|(known, _)| *known == zone);
        found.map(|(_, unit)| *unit)
    }
}

impl State {
    /// A flock that has a zone.
    fn tended(&mut self, flock: FlockId, zone: ZoneId) -> Result<&mut Tended, WorldError> {
        let tended = self.flocks.get_mut(usize::from(flock.0));
        let tended = tended.ok_or(WorldError::NoSuchFlock { flock })?;
        match tended.flock.zone(zone) {
            Some(_) => Ok(tended),
            None => Err(WorldError::Flock(FlockError::NoSuchZone(zone))),
        }
    }
}
