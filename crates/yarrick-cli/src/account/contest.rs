//! What the account says of the assault, of stores, and of how the game ended.

use serde::Serialize;
use std::collections::BTreeMap;
use yarrick::economy::{Ledger, Load, ResourceId};
use yarrick::waves::Tally;
use yarrick::world::{Decision, Event, World};
use yarrick::{SideId, scenario::Play};

/// A wave, from its beginning to its end.
#[derive(Clone, Copy, Serialize)]
pub(super) struct WaveTale {
    /// Its number, from 1.
    pub(super) wave: u32,
    pub(super) began_s: f64,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub(super) over_s: Option<f64>,
    #[serde(flatten)]
    pub(super) tally: Tally,
}

/// How the game ended.
#[derive(Clone, Serialize)]
pub(super) struct Verdict {
    pub(super) side: String,
    pub(super) result: String,
    pub(super) why: String,
    pub(super) time_s: f64,
}

/// What the account takes down of the contest.
#[derive(Default)]
pub(super) struct Contest {
    pub(super) entries: Vec<String>,
    pub(super) goals: Vec<String>,
    resources: Vec<String>,
    pub(super) waves: Vec<WaveTale>,
    /// How many waves the plan has.
    pub(super) planned: usize,
    /// What each side owns at the end.
    ledgers: Vec<Ledger>,
    pub(super) verdict: Option<Verdict>,
}

impl Contest {
    pub(super) fn begin(world: &World) -> Contest {
        Contest {
            entries: world
                .entries()
                .iter()
                .map(|entry| entry.name.clone())
                .collect(),
            goals: world.goals().iter().map(|goal| goal.name.clone()).collect(),
            resources: world.resources().to_vec(),
            planned: world.assault_plan().map_or(0, |plan| plan.waves.len()),
            ..Contest::default()
        }
    }

    pub(super) fn note(&mut self, time_s: f64, event: &Event) {
        match event {
            Event::WaveBegan { wave } => self.waves.push(WaveTale {
                wave: wave + 1,
                began_s: time_s,
                over_s: None,
                tally: Tally::default(),
            }),
            Event::WaveOver { wave, .. } => {
                if let Some(tale) = self.waves.get_mut(*wave as usize) {
                    tale.over_s = Some(time_s);
                }
            }
            _ => {}
        }
    }

    pub(super) fn close(&mut self, play: &Play, words: impl Fn(&Decision) -> Verdict) {
        let world = play.world();
        for (tale, tally) in self.waves.iter_mut().zip(world.wave_tallies()) {
            tale.tally = *tally;
        }
        let sides = 0..world.sides().len() as u8;
        let ledgers = sides.filter_map(|side| world.ledger(SideId(side)).cloned());
        self.ledgers = ledgers.collect();
        self.verdict = world.decision().as_ref().map(words);
    }

    /// What each side owns at the end, by the names of resources; empty where there are none.
    pub(super) fn by_name(&self) -> Vec<BTreeMap<String, u64>> {
        if self.resources.is_empty() {
            return Vec::new();
        }
        let of_side = |ledger: &Ledger| {
            let names = self.resources.iter().zip(0_u8..);
            let owned = names.map(|(name, number)| {
                let amount = ledger.owned().of(ResourceId(number));
                (name.clone(), amount)
            });
            owned.collect()
        };
        self.ledgers.iter().map(of_side).collect()
    }

    /// A load, such as "6 salt".
    pub(super) fn load(&self, load: Load) -> String {
        self.amount(u64::from(load.amount), load.resource)
    }

    /// An amount of a resource, such as "6 salt".
    pub(super) fn amount(&self, amount: u64, resource: ResourceId) -> String {
        let name = self.resources.get(usize::from(resource.0));
        format!("{amount} {}", name.map_or("?", String::as_str))
    }

    /// What a side owns at the end, and where it came from, such as "8 salt (began with 20, handed in 12, spent 24)".
    pub(super) fn owned(&self, side: usize) -> Option<String> {
        let ledger = self.ledgers.get(side)?;
        let of = |(name, number): (&String, u8)| {
            let id = ResourceId(number);
            let totals = [
                ("began with", ledger.began_with()),
                ("handed in", ledger.handed_in()),
                ("spent", ledger.spent()),
                ("refunded", ledger.refunded()),
                ("lost", ledger.taken()),
            ];
            let totals = totals.map(|(what, stores)| (what, stores.of(id)));
            let parts = totals.iter().filter(|(_, amount)| *amount > 0);
            let parts: Vec<String> = parts
                .map(|(what, amount)| format!("{what} {amount}"))
                .collect();
            // A resource that it never had to do with is not worth a word.
            let owned = ledger.owned().of(id);
            (!parts.is_empty()).then(|| format!("{owned} {name} ({})", parts.join(", ")))
        };
        let parts: Vec<String> = self.resources.iter().zip(0..).filter_map(of).collect();
        (!parts.is_empty()).then(|| parts.join("; "))
    }
}
