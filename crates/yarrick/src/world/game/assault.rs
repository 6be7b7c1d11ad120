//! Where an assault comes in, where it makes for, and what it costs when it gets there.

use crate::economy::Price;
use crate::geom::Vec2;
use crate::ground::Ground;
use crate::waves::{AssaultPlan, PlanError};
use crate::world::ids::SideId;
use serde::{Deserialize, Serialize};

/// The most entries, and the most goals, that an assault has.
pub const MAX_AREAS: usize = 256;

/// The largest spread of an entry and the largest radius of a goal, in metres.
pub const MAX_AREA_M: f32 = 100.0;

/// Where units of an assault come in: a disc.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Entry {
    /// What it is called.
    pub name: String,
    /// Its middle, in metres.
    pub at: Vec2,
    /// How far from there a unit may appear, in metres; at most [`MAX_AREA_M`]. Its place is random, and clear of others.
    pub spread_m: f32,
    /// Where units look when they come in, in radians.
    pub facing: f32,
}

/// What an assault makes for: a disc. A unit of it that touches its goal leaves the world, and counts as a leak.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct GoalArea {
    /// What it is called.
    pub name: String,
    /// Its middle, in metres.
    pub at: Vec2,
    /// Its radius, in metres; at most [`MAX_AREA_M`].
    pub radius_m: f32,
}

/// What each leak takes.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct LeakCost {
    /// The side that pays: as much as its stores hold.
    pub side: SideId,
    /// The amounts.
    pub price: Price,
}

/// An assault of a world, as it is set up.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct AssaultSetup {
    /// The side whose units come.
    pub side: SideId,
    /// The waves. Kinds are those of the roster, entries and goals those of the lists below, by their numbers.
    pub plan: AssaultPlan,
    /// Where units come in: 1 to [`MAX_AREAS`], with names that differ.
    pub entries: Vec<Entry>,
    /// What they make for: 1 to [`MAX_AREAS`], with names that differ.
    pub goals: Vec<GoalArea>,
    /// What each leak takes, if anything.
    pub leak_cost: Option<LeakCost>,
}

/// What is wrong with an assault.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum AssaultError {
    /// Something is wrong with the plan.
    #[error(transparent)]
    Plan(#[from] PlanError),
    /// Too few or too many entries or goals.
    #[error("an assault has 1 to {MAX_AREAS} {what}, not {count}")]
    AreaCount {
        /// Which of the two.
        what: &'static str,
        /// How many were given.
        count: usize,
    },
    /// An entry or a goal that is not on the map, or too large.
    #[error("{name:?} is not a disc on the map, of at most {MAX_AREA_M} m")]
    BadArea {
        /// Its name.
        name: String,
    },
    /// A side, a kind, an entry or a goal that does not exist.
    #[error("the assault names {what} number {number}; there are {count}")]
    NoSuch {
        /// Which of these.
        what: &'static str,
        /// The number.
        number: usize,
        /// How many there are.
        count: usize,
    },
}

impl AssaultSetup {
    /// What is wrong with it on a map, with so many sides and kinds, if anything is.
    pub(crate) fn check(
        &self,
        ground: &Ground,
        (sides, kinds): (usize, usize),
    ) -> Result<(), AssaultError> {
        if let Some(error) = self.plan.errors().first() {
            return Err((*error).into());
        }
        let (entries, goals) = (self.entries.len(), self.goals.len());
        for (what, count) in [("entries", entries), ("goals", goals)] {
            if !(1..=MAX_AREAS).contains(&count) {
                return Err(AssaultError::AreaCount { what, count });
            }
        }
        let entry = |entry: &Entry| {
            let is_sound = entry.facing.is_finite();
            let area = (entry.at, entry.spread_m);
            (entry.name.clone(), area, is_sound)
        };
        let goal = |goal: &GoalArea| (goal.name.clone(), (goal.at, goal.radius_m), true);
        let areas = self.entries.iter().map(entry);
        for (name, (at, size_m), is_sound) in areas.chain(self.goals.iter().map(goal)) {
            let is_small = (0.0..=MAX_AREA_M).contains(&size_m);
            if !(is_sound && is_small && ground.bounds().contains(at)) {
                return Err(AssaultError::BadArea { name });
            }
        }
        let known = |what, number: usize, count: usize| {
            if number < count {
                Ok(())
            } else {
                Err(AssaultError::NoSuch {
                    what,
                    number,
                    count,
                })
            }
        };
        known("side", self.side.0.into(), sides)?;
        if let Some(cost) = &self.leak_cost {
            known("side", cost.side.0.into(), sides)?;
        }
        for batch in self.plan.waves.iter().flat_map(|wave| &wave.batches) {
            known("kind", batch.kind.into(), kinds)?;
            known("entry", batch.entry.into(), entries)?;
            known("goal", batch.goal.into(), goals)?;
        }
        Ok(())
    }
}
