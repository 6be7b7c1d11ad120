//! The assault, the economy and the end of the game as text for people.

use super::contest::Verdict;
use super::words::point;
use super::{Account, plural};
use std::fmt::Write as _;
use yarrick::economy::Missing;
use yarrick::world::{Condition, Decision, Event, NotPlaced, Refusal, SiteObjection};

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

    /// Why an order is refused, with the names of what stands in the way.
    pub(super) fn refusal(&self, why: &Refusal) -> String {
        let objection = match why {
            Refusal::NotAffordable(missing) => return self.missing(*missing),
            Refusal::Site(objection) => objection,
            other => return other.to_string(),
        };
        format!("it cannot be built there: {}", self.objection(objection))
    }

    /// Everything that kept a building in hand from being placed.
    pub(super) fn not_placed(&self, why: &NotPlaced) -> Vec<String> {
        match why {
            NotPlaced::Objections(against) => {
                let mut against: Vec<String> =
                    against.iter().map(|what| self.objection(what)).collect();
                against.dedup();
                against
            }
            NotPlaced::NoBuilder => vec!["nobody who is selected builds it".to_owned()],
        }
    }

    /// What speaks against a site, with the names of what stands in the way.
    fn objection(&self, objection: &SiteObjection) -> String {
        let named = |names: &[String], number: u16| {
            let name = names.get(usize::from(number));
            name.map_or("?", String::as_str).to_owned()
        };
        match *objection {
            SiteObjection::Overlaps { building } => {
                format!("it overlaps {}", self.names.name(building))
            }
            SiteObjection::InTheWay { unit } => format!("{} is in the way", self.names.name(unit)),
            SiteObjection::NotAffordable(missing) => self.missing(missing),
            SiteObjection::ClosesWay { entry, goal } => format!(
                "it would close the last way from {} to {}",
                named(&self.contest.entries, entry),
                named(&self.contest.goals, goal)
            ),
            ref other => other.to_string(),
        }
    }

    fn missing(&self, missing: Missing) -> String {
        let amount = self.contest.amount(missing.amount, missing.resource);
        format!("{amount} are missing")
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
            // The ledger sums them up: a line for each would bury the rest.
            Event::Delivered { .. } => None,
            Event::Spilled { unit, load } => {
                let load = self.contest.load(*load);
                Some(format!("{load} is lost with {}", self.names.name(*unit)))
            }
            Event::Produced { unit, by } => {
                let (unit, by) = (self.names.name(*unit), self.names.name(*by));
                Some(format!("{unit} comes out of {by}"))
            }
            Event::NoWayOut { by, kind } => {
                let (by, kind) = (self.names.name(*by), self.names.kind(*kind));
                Some(format!(
                    "{by} has finished a {kind}, which finds no room: it waits"
                ))
            }
            Event::SiteReserved { site, kind } => {
                let kind = self.names.kind(*kind);
                let at = self
                    .names
                    .place(*site)
                    .map_or(String::new(), |at| format!(" at {}", point(at)));
                Some(format!("a site for a {kind} is reserved{at}"))
            }
            Event::Built { unit, by } => {
                let (unit, by) = (self.names.name(*unit), self.names.name(*by));
                Some(format!("{unit} is built by {by}"))
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
                "wave  began at   over at  sent  killed  leaked  alive"
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
            if let Some(amounts) = contest.owned(number) {
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
