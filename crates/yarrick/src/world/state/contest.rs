//! The state of what a game is played for: the assault, and which units belong to which wave.

use super::State;
use super::digest::Digest;
use super::scratch::Departure;
use super::table::{Column, Single, Visitor, plain};
use crate::economy::Ledger;
use crate::rng::Stream;
use crate::waves::{Assault, Gone};
use crate::world::game::{AssaultSetup, Ending, Entry, GoalArea, LeakCost};
use crate::world::ids::{SideId, UnitId};
use serde::{Deserialize, Serialize};

plain!(Ledger, Ending);

/// An assault that is being carried out.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(crate) struct RunningAssault {
    pub(crate) side: SideId,
    pub(crate) entries: Vec<Entry>,
    pub(crate) goals: Vec<GoalArea>,
    pub(crate) leak_cost: Option<LeakCost>,
    pub(crate) assault: Assault,
    /// Where at an entry units come in.
    pub(crate) places: Stream,
}

/// What a unit of an assault belongs to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(crate) struct Sent {
    pub(crate) wave: u32,
    /// The number of its goal.
    pub(crate) goal: u16,
}

impl RunningAssault {
    /// Begins an assault whose setup was found sound.
    pub(crate) fn begin(setup: AssaultSetup, seed: u64) -> Option<RunningAssault> {
        Some(RunningAssault {
            side: setup.side,
            entries: setup.entries,
            goals: setup.goals,
            leak_cost: setup.leak_cost,
            assault: Assault::new(setup.plan).ok()?,
            places: Stream::new(seed, "assault"),
        })
    }

    /// The setup with which it began.
    pub(crate) fn setup(&self) -> AssaultSetup {
        AssaultSetup {
            side: self.side,
            plan: self.assault.plan().clone(),
            entries: self.entries.clone(),
            goals: self.goals.clone(),
            leak_cost: self.leak_cost.clone(),
        }
    }

    /// The checksum of what never changes: worked out once.
    pub(crate) fn digest(&self) -> u64 {
        let mut digest: Digest = Digest::default();
        digest.add(&self.setup());
        digest.finish()
    }

    pub(super) fn visit(&self, known: u64, visit: &mut Visitor<'_>) {
        let RunningAssault {
            assault, places, ..
        } = self;
        let setup = Settled { of: self, known };
        visit("Assault", "setup", &setup);
        visit("Assault", "progress", &Single(&assault.standing()));
        visit("Assault", "places", &Single(places));
    }
}

impl State {
    /// A unit of the assault has left it, if it was one.
    pub(crate) fn leave_wave(&mut self, unit: UnitId, departure: Departure) {
        let sent = self.of_wave.remove(unit);
        if let (Some(sent), Some(running)) = (sent, &mut self.assault) {
            let how = match departure {
                Departure::Died => Gone::Killed,
                Departure::Removed | Departure::CalledOff => Gone::Removed,
                Departure::Leaked => Gone::Leaked,
            };
            running.assault.gone(sent.wave, how);
        }
    }
}

/// The setup of an assault as a column whose checksum is known.
struct Settled<'a> {
    of: &'a RunningAssault,
    known: u64,
}

impl Column for Settled<'_> {
    fn rows(&self) -> usize {
        1
    }

    fn feed(&self, digest: &mut Digest) {
        digest.add(&self.known);
    }

    fn bytes(&self, _: usize) -> Vec<u8> {
        Digest::bytes_of(&self.of.setup())
    }

    fn show(&self, _: usize) -> String {
        format!("{:?}", self.of.setup())
    }
}
