//! What a game is played for: the assault, what sides own, how the game ends.

use super::game::{Decision, Ending, Entry, GoalArea, MAX_ENDINGS};
use super::state::Pose;
use super::{KindId, SideId, SiteObjection, UnitId, World, WorldError, sites};
use crate::economy::{Ledger, Stores};
use crate::geom::Vec2;
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
        let ledger = self.ledger(side).map(Ledger::owned);
        ledger.cloned().unwrap_or_default()
    }

    /// What a side owns, and the totals of where it came from and went. `None` for a side that does not exist.
    #[must_use]
    pub fn ledger(&self, side: SideId) -> Option<&Ledger> {
        self.state.ledgers.get(usize::from(side.0))
    }

    /// What is out of the world: loads of units that died or were taken out, and what lay in deposits that were.
    #[must_use]
    pub fn spilled(&self) -> &Stores {
        &self.state.spilled
    }

    /// Everything that speaks against a building of a kind for a side, at a point in metres and facing `facing` radians.
    /// Empty where it may be built, and for kinds without a footprint.
    ///
    /// Complexity: the units and buildings there and the cells under it; where it could close the last way of the assault,
    /// that of [`closed_ways`](crate::site::closed_ways).
    #[must_use]
    pub fn site_verdict(
        &self,
        side: SideId,
        kind: KindId,
        at: Vec2,
        facing: f32,
    ) -> Vec<SiteObjection> {
        if !(at.is_finite() && facing.is_finite()) {
            return vec![SiteObjection::OffTheMap];
        }
        let near = (!self.scratch.near_is_stale).then_some(&self.scratch.near);
        let pose = Pose {
            position: at,
            facing,
        };
        sites::verdict(&self.state, near, (kind, side), pose)
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
