//! The plan of an assault, and what is wrong with it.

use serde::{Deserialize, Serialize};

/// The most waves that a plan has.
pub const MAX_WAVES: usize = 1000;
/// The most batches that a wave has.
pub const MAX_BATCHES_A_WAVE: usize = 64;
/// The most units that a wave sends.
pub const MAX_UNITS_A_WAVE: u32 = 10_000;

/// Units of one kind that come in one after another at one entry.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Batch {
    /// The number of their kind.
    pub kind: u16,
    /// How many there are. A batch of none sends nothing.
    pub count: u32,
    /// From the beginning of the wave to the first of them, in ticks.
    pub delay: u32,
    /// From one of them to the next, in ticks; with 0 all come in the same tick.
    pub spacing: u32,
    /// The number of the entry where they come in.
    pub entry: u16,
    /// The number of the goal that they make for.
    pub goal: u16,
}

/// The batches of a wave. Each keeps its own time.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Wave {
    /// The batches. Those that are due in the same tick come in this order.
    pub batches: Vec<Batch>,
}

impl Wave {
    /// How many units it sends.
    #[must_use]
    pub fn count(&self) -> u32 {
        let counts = self.batches.iter().map(|batch| batch.count);
        counts.fold(0, u32::saturating_add)
    }
}

/// Waves that come one after another.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct AssaultPlan {
    /// The tick in which the first wave begins.
    pub first_after: u32,
    /// From the end of a wave to the beginning of the next, in ticks.
    pub lull: u32,
    /// The waves, in their order.
    pub waves: Vec<Wave>,
}

/// What is wrong with a plan. Waves are numbered from 1 in messages, from 0 in fields.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum PlanError {
    /// More waves than [`MAX_WAVES`].
    #[error("the assault has {count} waves; allowed are {MAX_WAVES}")]
    TooManyWaves {
        /// How many it has.
        count: usize,
    },
    /// More batches than [`MAX_BATCHES_A_WAVE`].
    #[error("wave {} has {count} batches; allowed are {MAX_BATCHES_A_WAVE}", wave + 1)]
    TooManyBatches {
        /// The wave.
        wave: usize,
        /// How many it has.
        count: usize,
    },
    /// More units than [`MAX_UNITS_A_WAVE`].
    #[error("wave {} sends {count} units; allowed are {MAX_UNITS_A_WAVE}", wave + 1)]
    TooManyUnits {
        /// The wave.
        wave: usize,
        /// How many it sends.
        count: u32,
    },
}

impl AssaultPlan {
    /// All that is wrong with the plan, from the first wave to the last.
    #[must_use]
    pub fn errors(&self) -> Vec<PlanError> {
        let mut errors = Vec::new();
        if self.waves.len() > MAX_WAVES {
            let count = self.waves.len();
            errors.push(PlanError::TooManyWaves { count });
        }
        for (number, wave) in self.waves.iter().enumerate() {
            if wave.batches.len() > MAX_BATCHES_A_WAVE {
                errors.push(PlanError::TooManyBatches {
                    wave: number,
                    count: wave.batches.len(),
                });
            }
            if wave.count() > MAX_UNITS_A_WAVE {
                errors.push(PlanError::TooManyUnits {
                    wave: number,
                    count: wave.count(),
                });
            }
        }
        errors
    }
}
