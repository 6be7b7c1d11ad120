//! What the account says of the assault, of stores, and of how the game ended.

use super::{Account, plural};
use serde::Serialize;
use std::collections::BTreeMap;
use std::fmt::Write as _;
use yarrick::economy::ResourceId;
use yarrick::waves::Tally;
use yarrick::world::{Condition, Decision, Event, World};
use yarrick::{SideId, scenario::Play};

/// A wave, from its beginning to its end.
#[derive(Clone, Copy, Serialize)]
pub(super) struct WaveTale {
    /// Its number, from 1.
    wave: u32,
    began_s: f64,
    #[serde(skip_serializing_if = "Option::is_none")]
    over_s: Option<f64>,
    #[serde(flatten)]
    tally: Tally,
}

/// How the game ended.
#[derive(Clone, Serialize)]
pub(super) struct Verdict {
    side: String,
    result: String,
    why: String,
    time_s: f64,
}

/// What the account takes down of the contest.
#[derive(Default)]
pub(super) struct Contest {
    goals: Vec<String>,
    resources: Vec<String>,
    pub(super) waves: Vec<WaveTale>,
    /// How many waves the plan has.
    planned: usize,
    /// What each side owns at the end, of each resource.
    pub(super) stores: Vec<Vec<u64>>,
    pub(super) verdict: Option<Verdict>,
}

impl Contest {
    pub(super) fn begin(world: &World) -> Contest {
        Contest {
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
        let owned = |side: u8| {
            let stores = world.stores(SideId(side));
            let resources = 0..self.resources.len() as u8;
            resources
                .map(|resource| stores.of(ResourceId(resource)))
                .collect()
        };
        self.stores = (0..world.sides().len() as u8).map(owned).collect();
        self.verdict = world.decision().as_ref().map(words);
    }

    /// What each side owns at the end, by the names of resources; empty where there are none.
    pub(super) fn by_name(&self) -> Vec<BTreeMap<&str, u64>> {
        if self.resources.is_empty() {
            return Vec::new();
        }
        let names = || self.resources.iter().map(String::as_str);
        let of_side = |stores: &Vec<u64>| names().zip(stores.iter().copied()).collect();
        self.stores.iter().map(of_side).collect()
    }

    /// Amounts of resources, such as "12 salt, 3 reed".
    pub(super) fn amounts(&self, side: usize) -> Option<String> {
        let stores = self.stores.get(side)?;
        let parts = stores.iter().zip(&self.resources);
        let parts: Vec<String> = parts
            .map(|(amount, name)| format!("{amount} {name}"))
            .collect();
        (!parts.is_empty()).then(|| parts.join(", "))
    }
}

impl Account {
    /// How the game ended, in words.
    pub(super) fn verdict(&self, decision: &Decision, time_s: f64) -> Verdict {
        let ending = &decision.ending;
        let why = match ending.when {
            Condition::Falls { unit } => format!("{} is lost", self.names.name(unit)),
            other => other.to_string(),
        };
        Verdict {
            side: self.side(ending.side).to_owned(),
            result: ending.result.to_string(),
            why,
            time_s,
        }
    }

    /// What is said of an event of the assault.
    pub(super) fn contest_line(&self, event: &Event) -> Option<String> {
        match event {
            Event::WaveBegan { wave } => Some(format!("wave {} begins", wave + 1)),
            Event::WaveOver { wave, tally } => {
                let (sent, killed, leaked) = (tally.sent, tally.killed, tally.leaked);
                let others = match tally.removed {
                    0 => String::new(),
                    some => format!(", {some} taken out"),
                };
                Some(format!(
                    "wave {} is over: of {sent}, {killed} killed, {leaked} leaked{others}",
                    wave + 1
                ))
            }
            Event::Leaked { unit, goal, .. } => {
                let goal = self.contest.goals.get(usize::from(*goal));
                let goal = goal.map_or("its goal", String::as_str);
                Some(format!("{} leaks at {goal}", self.names.name(*unit)))
            }
            Event::Decided { decision } => {
                let verdict = self.verdict(decision, 0.0);
                Some(format!(
                    "{} have {}: {}",
                    verdict.side, verdict.result, verdict.why
                ))
            }
            _ => None,
        }
    }

    /// The table of waves, what sides own, and how the game ended.
    pub(super) fn write_contest(&self, text: &mut String) -> std::fmt::Result {
        let contest = &self.contest;
        if contest.planned > 0 {
            writeln!(
                text,
                "\nwave  began at   over at  sent  killed  leaked  alive"
            )?;
            for tale in &contest.waves {
                let over = tale.over_s;
                let over = over.map_or("-".to_owned(), |time_s| format!("{time_s:.2} s"));
                let (wave, began_s, tally) = (tale.wave, tale.began_s, tale.tally);
                writeln!(
                    text,
                    "{wave:>4}  {began_s:>6.2} s  {over:>8}  {:>4}  {:>6}  {:>6}  {:>5}",
                    tally.sent,
                    tally.killed,
                    tally.leaked,
                    tally.alive()
                )?;
            }
            let left = contest.planned - contest.waves.len();
            if left > 0 {
                writeln!(text, "{} to come", plural(left, "wave"))?;
            }
        }
        for (number, side) in self.head.sides.iter().enumerate() {
            if let Some(amounts) = contest.amounts(number) {
                writeln!(text, "{side} own {amounts}.")?;
            }
        }
        Ok(())
    }

    /// How the game ended, as a line.
    pub(super) fn write_verdict(&self, text: &mut String) -> std::fmt::Result {
        match &self.contest.verdict {
            Some(verdict) => writeln!(
                text,
                "{} have {} at {:.2} s: {}.",
                verdict.side, verdict.result, verdict.time_s, verdict.why
            ),
            None => Ok(()),
        }
    }
}
