//! What a game is played for: the assault, what sides own, how the game ends.

use super::game::{Decision, Ending, Entry, GoalArea, MAX_ENDINGS};
use super::{SideId, UnitId, World, WorldError};
use crate::economy::Stores;
use crate::waves::{AssaultPlan, Progress, Tally};

impl World {
    /// Adds a rule by which the game ends, before the first tick.
    ///
    /// # Errors
    /// [`WorldError`] for a side that does not exist, a unit that does not, above [`MAX_ENDINGS`] of them, and after
    /// the first tick.
    pub fn add_ending(&mut self, ending: Ending) -> Result<(), WorldError> {
        self.check_not_begun()?;
        if usize::from(ending.side.0) >= self.state.rules.sides.len() {
            return Err(WorldError::NoSuchSide { side: ending.side });
        }
        if let super::Condition::Falls { unit } = ending.when
            && self.state.units.row(unit).is_none()
        {
            return Err(WorldError::NoSuchUnit { unit });
        }
        if self.state.endings.len() >= MAX_ENDINGS {
            return Err(WorldError::TooManyEndings);
        }
        self.state.endings.push(ending);
        Ok(())
    }

    /// The rules by which the game ends.
    #[must_use]
    pub fn endings(&self) -> &[Ending] {
        &self.state.endings
    }

    /// How the game has ended, if it has: then the world stands still.
    #[must_use]
    pub fn decision(&self) -> Option<Decision> {
        self.state.decision
    }

    /// What the resources are called, by their numbers.
    #[must_use]
    pub fn resources(&self) -> &[String] {
        &self.state.rules.resources
    }

    /// What a side owns; nothing for a side that does not exist.
    #[must_use]
    pub fn stores(&self, side: SideId) -> Stores {
        let stores = self.state.stores.get(usize::from(side.0));
        stores.cloned().unwrap_or_default()
    }

    /// How far the assault has come, for display; `None` without one.
    #[must_use]
    pub fn assault(&self) -> Option<Progress> {
        let running = self.state.assault.as_ref()?;
        Some(running.assault.progress(self.state.clock.tick))
    }

    /// The plan of the assault.
    #[must_use]
    pub fn assault_plan(&self) -> Option<&AssaultPlan> {
        let running = self.state.assault.as_ref()?;
        Some(running.assault.plan())
    }

    /// What became of the units of each wave that has begun.
    #[must_use]
    pub fn wave_tallies(&self) -> &[Tally] {
        let running = self.state.assault.as_ref();
        running.map_or(&[], |running| running.assault.tallies())
    }

    /// Where units of the assault come in.
    #[must_use]
    pub fn entries(&self) -> &[Entry] {
        let running = self.state.assault.as_ref();
        running.map_or(&[], |running| &running.entries)
    }

    /// What the units of the assault make for.
    #[must_use]
    pub fn goals(&self) -> &[GoalArea] {
        let running = self.state.assault.as_ref();
        running.map_or(&[], |running| &running.goals)
    }

    /// The number of the wave that a unit belongs to, from 0; `None` for units that are of no assault.
    #[must_use]
    pub fn wave_of(&self, unit: UnitId) -> Option<u32> {
        self.state.of_wave.get(unit).map(|sent| sent.wave)
    }
}
