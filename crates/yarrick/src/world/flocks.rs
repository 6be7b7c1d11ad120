//! The flocks of a world, from outside.

use super::{Appearance, FlockId, UnitId, World, WorldError};
use crate::motion::flock::{Flock, FlockError, Zone, ZoneId};

impl World {
    /// Puts a flock into a world that has not begun, under a name of its own.
    ///
    /// # Errors
    /// [`WorldError::SameName`]; [`WorldError::TooManyFlocks`] where there are [`MAX_FLOCKS`](super::MAX_FLOCKS); and after the first tick,
    /// from then on flocks come in by [`Change::Flock`](super::Change::Flock).
    pub fn add_flock(
        &mut self,
        name: &str,
        flock: Flock<Appearance>,
    ) -> Result<FlockId, WorldError> {
        self.check_not_begun()?;
        let flocks = &self.state.flocks;
        if flocks.iter().any(|known| known.name == name) {
            let name = name.to_owned();
            return Err(WorldError::SameName { name });
        }
        let added = self.state.add_flock(name, flock);
        added.map_err(|_| WorldError::TooManyFlocks)
    }

    /// Adds a zone to a flock of a world that has not begun.
    ///
    /// # Errors
    /// [`WorldError`] for a flock that does not exist or a zone that makes no sense; and after the first tick, from
    /// then on that is a [`FlockChange::AddZone`](super::FlockChange::AddZone).
    pub fn add_zone(&mut self, flock: FlockId, zone: Zone) -> Result<ZoneId, WorldError> {
        self.check_not_begun()?;
        let known = self.state.flocks.get_mut(usize::from(flock.0));
        let known = known.ok_or(WorldError::NoSuchFlock { flock })?;
        let added = known.flock.add_zone(zone);
        added.map_err(|error| WorldError::Flock(error.into()))
    }

    /// Lets a unit carry a zone of a flock in a world that has not begun: the zone is where the unit is, and turned as
    /// it is. When the unit leaves the world, its zones go with it. A zone that another carried changes hands.
    ///
    /// # Errors
    /// [`WorldError`] for a flock, a zone or a unit that does not exist; and after the first tick, from then on that
    /// is a [`FlockChange::CarryZone`](super::FlockChange::CarryZone).
    pub fn carry_zone(
        &mut self,
        flock: FlockId,
        zone: ZoneId,
        unit: UnitId,
    ) -> Result<(), WorldError> {
        self.check_not_begun()?;
        if self.state.units.row(unit).is_none() {
            return Err(WorldError::NoSuchUnit { unit });
        }
        let known = self.state.flocks.get_mut(usize::from(flock.0));
        let known = known.ok_or(WorldError::NoSuchFlock { flock })?;
        if known.flock.zone(zone).is_none() {
            return Err(WorldError::Flock(FlockError::NoSuchZone(zone)));
        }
        known.carried.retain(|(carried, _)| *carried != zone);
        known.carried.push((zone, unit));
        Ok(())
    }

    /// A flock, or `None` where there is none of this number.
    #[must_use]
    pub fn flock(&self, id: FlockId) -> Option<&Flock<Appearance>> {
        let found = self.state.flocks.get(usize::from(id.0));
        found.map(|known| &known.flock)
    }

    /// All flocks, each with its name.
    pub fn flocks(&self) -> impl ExactSizeIterator<Item = (FlockId, &str, &Flock<Appearance>)> {
        let flocks = self.state.flocks.iter().enumerate();
        flocks.map(|(id, known)| (FlockId(id as u16), known.name.as_str(), &known.flock))
    }

    /// The unit that carries a zone of a flock, if one does.
    #[must_use]
    pub fn carrier(&self, flock: FlockId, zone: ZoneId) -> Option<UnitId> {
        let known = self.state.flocks.get(usize::from(flock.0))?;
        let found = known.carried.iter().find(|(carried, _)| *carried == zone);
        found.map(|(_, unit)| *unit)
    }
}
