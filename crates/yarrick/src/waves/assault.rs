//! A plan that is being carried out: which wave it is, what is still to come, and what has become of those that came.

use super::{AssaultPlan, Batch, PlanError, Wave};
use serde::{Deserialize, Serialize};

/// A unit that is due, as its batch describes it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Arrival {
    /// The number of its wave, from 0. The caller keeps it, for [`Assault::gone`].
    pub wave: u32,
    /// The number of its batch within the wave.
    pub batch: u32,
    /// How many of its batch came before it.
    pub nth: u32,
    /// The number of its kind.
    pub kind: u16,
    /// The number of the entry where it comes in.
    pub entry: u16,
    /// The number of the goal that it makes for.
    pub goal: u16,
}

/// How a unit of a wave has left the world.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Gone {
    /// It was killed.
    Killed,
    /// It came to its goal.
    Leaked,
    /// It was taken out of the world from outside.
    Removed,
}

/// What became of the units of a wave.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Tally {
    /// How many came in.
    pub sent: u32,
    /// How many of those were killed.
    pub killed: u32,
    /// How many came to their goal.
    pub leaked: u32,
    /// How many were taken out from outside.
    pub removed: u32,
}

impl Tally {
    /// How many have left the world.
    #[must_use]
    pub fn gone(self) -> u32 {
        let both = self.killed.saturating_add(self.leaked);
        both.saturating_add(self.removed)
    }

    /// How many live.
    #[must_use]
    pub fn alive(self) -> u32 {
        self.sent.saturating_sub(self.gone())
    }
}

/// A wave that is over.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Over {
    /// Its number, from 0.
    pub wave: u32,
    /// What became of its units.
    pub tally: Tally,
}

/// What a game shows of an assault.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Progress {
    /// The number of the wave that has begun last, from 0; `None` before the first.
    pub wave: Option<u32>,
    /// How many waves there are.
    pub waves: u32,
    /// How many units of that wave are still to come.
    pub to_come: u32,
    /// How many batches have a unit that is due and finds no room.
    pub held_up: u32,
    /// What became of the units of that wave.
    pub tally: Tally,
    /// How many units of all waves have leaked.
    pub leaked: u32,
    /// In how many ticks the next wave begins; `None` while one lasts, and after the last.
    pub next_in: Option<u64>,
}

/// How far a batch has come.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
struct Sending {
    sent: u32,
    /// The tick in which the next of it is due.
    due: u64,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
enum Stage {
    /// The next wave begins in this tick.
    Lull { until: u64 },
    /// The last of the waves that have begun lasts.
    Fighting,
    /// All waves are over.
    Finished,
}

/// A plan that is being carried out.
///
/// Each tick: [`Assault::begin`], then [`Assault::send`]; [`Assault::gone`] for each unit that leaves the world; then
/// [`Assault::judge`]. Ticks must not decrease. It can be saved and goes on from there.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(try_from = "Saved")]
pub struct Assault {
    plan: AssaultPlan,
    stage: Stage,
    /// The batches of the wave that has begun last.
    sending: Vec<Sending>,
    /// One for each wave that has begun.
    tallies: Vec<Tally>,
}

impl Assault {
    /// Takes a plan up, before its first wave.
    ///
    /// # Errors
    /// The first of [`AssaultPlan::errors`].
    pub fn new(plan: AssaultPlan) -> Result<Assault, PlanError> {
        if let Some(error) = plan.errors().first() {
            return Err(*error);
        }
        let until = u64::from(plan.first_after);
        let stage = if plan.waves.is_empty() {
            Stage::Finished
        } else {
            Stage::Lull { until }
        };
        Ok(Assault {
            stage,
            sending: Vec::new(),
            tallies: Vec::with_capacity(plan.waves.len()),
            plan,
        })
    }

    /// The plan.
    #[must_use]
    pub fn plan(&self) -> &AssaultPlan {
        &self.plan
    }

    /// Begins the wave that is due, if one is. Gives its number.
    pub fn begin(&mut self, now: u64) -> Option<u32> {
        let Stage::Lull { until } = self.stage else {
            return None;
        };
        if now < until {
            return None;
        }
        let number = self.tallies.len();
        let batches = &self.plan.waves[number].batches;
        let sending = |batch: &Batch| Sending {
            sent: 0,
            due: now.saturating_add(batch.delay.into()),
        };
        self.sending.clear();
        self.sending.extend(batches.iter().map(sending));
        self.tallies.push(Tally::default());
        self.stage = Stage::Fighting;
        Some(number as u32)
    }

    /// Offers each unit that is due, batch by batch. `place` puts it into the world and gives `true`; without room it
    /// gives `false`, and the unit is offered again in the next tick. Those behind it keep their spacing.
    pub fn send(&mut self, now: u64, mut place: impl FnMut(Arrival) -> bool) {
        let begun = self.tallies.len();
        let (Stage::Fighting, Some(tally)) = (self.stage, self.tallies.last_mut()) else {
            return;
        };
        let batches = &self.plan.waves[begun - 1].batches;
        for ((batch, sending), which) in batches.iter().zip(&mut self.sending).zip(0..) {
            while sending.sent < batch.count && sending.due <= now {
                let arrival = Arrival {
                    wave: begun as u32 - 1,
                    batch: which,
                    nth: sending.sent,
                    kind: batch.kind,
                    entry: batch.entry,
                    goal: batch.goal,
                };
                if !place(arrival) {
                    break;
                }
                sending.sent += 1;
                sending.due = now.saturating_add(batch.spacing.into());
                tally.sent += 1;
            }
        }
    }

    /// Takes down that a unit of a wave has left the world. `false`, and nothing is taken down, if no unit of that wave
    /// lives.
    pub fn gone(&mut self, wave: u32, how: Gone) -> bool {
        let tally = self.tallies.get_mut(wave as usize);
        let Some(tally) = tally.filter(|tally| tally.alive() > 0) else {
            return false;
        };
        match how {
            Gone::Killed => tally.killed += 1,
            Gone::Leaked => tally.leaked += 1,
            Gone::Removed => tally.removed += 1,
        }
        true
    }

    /// Ends the wave that lasts, if it has sent all and none of it lives; the lull begins. A wave that sends nothing is
    /// over in the tick in which it begins.
    pub fn judge(&mut self, now: u64) -> Option<Over> {
        let (Stage::Fighting, Some(tally)) = (self.stage, self.tallies.last()) else {
            return None;
        };
        let wave = self.tallies.len() - 1;
        if tally.sent < self.plan.waves[wave].count() || tally.alive() > 0 {
            return None;
        }
        let is_last = self.tallies.len() == self.plan.waves.len();
        self.stage = if is_last {
            Stage::Finished
        } else {
            let until = now.saturating_add(self.plan.lull.into());
            Stage::Lull { until }
        };
        Some(Over {
            wave: wave as u32,
            tally: *tally,
        })
    }

    /// Whether all waves are over.
    #[must_use]
    pub fn is_finished(&self) -> bool {
        self.stage == Stage::Finished
    }

    /// How many units of all waves have leaked.
    #[must_use]
    pub fn leaked(&self) -> u32 {
        self.tallies.iter().map(|tally| tally.leaked).sum()
    }

    /// How far it has come: all of it but the plan.
    pub(crate) fn standing(&self) -> impl Serialize + core::fmt::Debug + '_ {
        (self.stage, &self.sending, &self.tallies)
    }

    /// What became of the units of each wave that has begun.
    #[must_use]
    pub fn tallies(&self) -> &[Tally] {
        &self.tallies
    }

    /// What a game shows of it in a tick, after [`Assault::send`].
    ///
    /// Complexity: the number of waves that have begun, and of batches of the last.
    #[must_use]
    pub fn progress(&self, now: u64) -> Progress {
        let tally = self.tallies.last().copied().unwrap_or_default();
        let batches = || {
            let begun = self.tallies.len().checked_sub(1);
            let batches = begun.map_or(&[][..], |wave| &self.plan.waves[wave].batches);
            batches.iter().zip(&self.sending)
        };
        let left = |(batch, sending): (&Batch, &Sending)| batch.count - sending.sent;
        let waits = |(batch, sending): &(&Batch, &Sending)| {
            sending.due <= now && sending.sent < batch.count
        };
        Progress {
            wave: (self.tallies.len() as u32).checked_sub(1),
            waves: self.plan.waves.len() as u32,
            to_come: batches().map(left).sum(),
            held_up: batches().filter(waits).count() as u32,
            tally,
            leaked: self.leaked(),
            next_in: match self.stage {
                Stage::Lull { until } => Some(until.saturating_sub(now)),
                Stage::Fighting | Stage::Finished => None,
            },
        }
    }
}

/// An assault as it was saved, which may have been damaged since.
#[derive(Deserialize)]
struct Saved {
    plan: AssaultPlan,
    stage: Stage,
    sending: Vec<Sending>,
    tallies: Vec<Tally>,
}

impl TryFrom<Saved> for Assault {
    type Error = &'static str;

    fn try_from(saved: Saved) -> Result<Assault, &'static str> {
        let Saved {
            plan,
            stage,
            sending,
            tallies,
        } = saved;
        let begun = tallies.len();
        let fits = match stage {
            Stage::Lull { .. } => begun < plan.waves.len(),
            Stage::Fighting => begun > 0,
            Stage::Finished => begun == plan.waves.len(),
        };
        if !fits || begun > plan.waves.len() || !plan.errors().is_empty() {
            return Err("an assault whose waves do not agree with its plan");
        }
        let counts = |(tally, wave): (&Tally, &Wave)| {
            tally.gone() <= tally.sent && tally.sent <= wave.count()
        };
        let last = plan.waves[..begun].last();
        let batches = last.map_or(&[][..], |wave| &wave.batches);
        let pairs = || batches.iter().zip(&sending);
        let sent: u64 = sending.iter().map(|sending| u64::from(sending.sent)).sum();
        let agrees = batches.len() == sending.len()
            && pairs().all(|(batch, sending)| sending.sent <= batch.count)
            && tallies
                .last()
                .is_none_or(|tally| u64::from(tally.sent) == sent);
        if !agrees || !tallies.iter().zip(&plan.waves).all(counts) {
            return Err("an assault whose units do not add up");
        }
        Ok(Assault {
            plan,
            stage,
            sending,
            tallies,
        })
    }
}
