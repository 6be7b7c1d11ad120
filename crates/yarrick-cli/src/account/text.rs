//! The account as text for people.

use super::orders::{Ending, OrderTale};
use super::words::point;
use super::{Account, UnitEnd, What, plural};
use std::fmt::Write as _;
use yarrick::Vec2;
use yarrick::scenario::{ScriptLine, SelectedBy, ZoneChange};
use yarrick::world::{Effect, Event, When};

impl Account {
    /// The account for people.
    pub(crate) fn to_text(&self) -> String {
        let mut text = String::new();
        // Writing to a string cannot fail.
        let _ = self.write(&mut text);
        text
    }

    fn write(&self, text: &mut String) -> std::fmt::Result {
        let head = &self.head;
        writeln!(text, "{}", head.title)?;
        writeln!(
            text,
            "{} by {} m of ground, seed {}, {} ticks a second",
            head.width_m, head.height_m, head.seed, head.ticks_per_second
        )?;
        for (side, strength) in head.sides.iter().zip(&head.strength) {
            let strength = if strength.is_empty() {
                "no units"
            } else {
                strength
            };
            writeln!(text, "{side}: {strength}")?;
        }
        writeln!(text)?;
        for (time_s, line) in self.lines() {
            writeln!(text, "{time_s:8.2} s  {line}")?;
        }
        self.write_orders(text)?;
        self.write_contest(text)?;
        for mind in self.minds.iter().filter(|mind| mind.was_there()) {
            writeln!(text)?;
            mind.write(text)?;
        }
        if !self.minds.is_empty() {
            writeln!(text)?;
        }
        self.write_end(text)
    }

    /// What is worth a line, in order of time: selections, orders, refusals, and the end of each
    /// order.
    fn lines(&self) -> Vec<(f64, String)> {
        let mut lines: Vec<(f64, String)> = Vec::new();
        for happening in &self.happenings {
            if let Some(line) = self.line(&happening.what, happening.line.as_ref()) {
                lines.push((happening.time_s, line));
            }
        }
        for order in &self.orders {
            let last = order.endings.iter().map(|ending| ending.last_s);
            if order.open() == 0 && !order.was_done_at_once() {
                let ends = order.endings.iter().map(Ending::in_words);
                let ends = ends.collect::<Vec<_>>().join("; ");
                let line = format!("order {} has ended: {ends}", order.number);
                lines.push((last.fold(0.0, f64::max), line));
            }
        }
        lines.extend(self.minds.iter().flat_map(super::Mind::lines));
        // A stable sort: what happened in one tick keeps its order.
        lines.sort_by(|a, b| a.0.total_cmp(&b.0));
        merge_repeated(lines)
    }

    fn line(&self, what: &What, script: Option<&ScriptLine>) -> Option<String> {
        Some(match what {
            What::Selected {
                side,
                units,
                kinds,
                how,
            } => {
                let by = match how {
                    SelectedBy::Click => "with a click".to_owned(),
                    SelectedBy::Box(_) => "with a box".to_owned(),
                    SelectedBy::Group(number) => format!("as group {number}"),
                };
                let of = self.side(*side);
                match units.len() {
                    0 => format!("{of} select nobody {by}"),
                    count => format!("{of} select {count} {by}: {kinds}"),
                }
            }
            What::Grouped {
                side,
                number,
                kinds,
                ..
            } => format!("{} make group {number}: {kinds}", self.side(*side)),
            What::NotPlaced { side, kind, why } => {
                let (side, kind) = (self.side(*side), self.names.kind(*kind));
                let why = self.not_placed(why);
                format!("{side} cannot place a {kind}: {}", why.join("; "))
            }
            What::Ground {
                how,
                what,
                from,
                to,
            } => ground_line(how, what, (*from, *to)),
            What::Zone { name, change } => match change {
                ZoneChange::Switch { on: true } => format!("zone {name:?} is switched on"),
                ZoneChange::Switch { on: false } => format!("zone {name:?} is switched off"),
                ZoneChange::Move { to } => format!("zone {name:?} is set down at {}", point(*to)),
                ZoneChange::Remove => format!("zone {name:?} is taken away"),
            },
            What::Event(event) => return self.event_line(event, script),
        })
    }

    /// What is worth a line of the events of a world. Every sort of event is looked at here.
    fn event_line(&self, event: &Event, script: Option<&ScriptLine>) -> Option<String> {
        let asked = script.map_or_else(String::new, |line| format!(" ({line})"));
        Some(match event {
            Event::Ordered { .. } | Event::Refused { .. } => return self.order_line(event, &asked),
            Event::ChangeRefused { why, .. } => format!("a change{asked} is refused: {why}"),
            Event::Changed {
                effect: Effect::Spawned { unit },
                ..
            } => format!("{} comes in", self.names.name(*unit)),
            Event::ActivityEnded { unit, outcome, .. } => {
                let unit = self.names.name(*unit);
                format!("what {unit} did without an order has ended: {outcome}")
            }
            Event::Died { unit, by } => {
                let unit = self.names.name(*unit);
                match by {
                    Some(by) => format!("{unit} is struck down by {}", self.names.name(*by)),
                    None => format!("{unit} dies"),
                }
            }
            // Of the dead, enough is said.
            Event::Gone { unit } if !self.dead.contains(unit) && !self.leaked.contains(unit) => {
                format!("{} is gone", self.names.name(*unit))
            }
            Event::WaveBegan { .. }
            | Event::WaveOver { .. }
            | Event::Leaked { .. }
            | Event::Delivered { .. }
            | Event::Spilled { .. }
            | Event::Produced { .. }
            | Event::NoWayOut { .. }
            | Event::SiteReserved { .. }
            | Event::Built { .. }
            | Event::Decided { .. } => return self.contest_line(event),
            // What orders came to is summed up; the rest is in the JSON.
            Event::Gone { .. }
            | Event::Changed { .. }
            | Event::SetOut { .. }
            | Event::Ended { .. }
            | Event::Rallied { .. }
            | Event::Engaged { .. }
            | Event::CameIn { .. }
            | Event::Cue { .. }
            | Event::Asked { .. }
            | Event::Stroke { .. }
            | Event::Fired { .. }
            | Event::FiredAtGround { .. }
            | Event::Spent { .. }
            | Event::Struck { .. } => return None,
        })
    }

    /// What is said of an order that was given or refused.
    fn order_line(&self, event: &Event, asked: &str) -> Option<String> {
        match event {
            Event::Ordered {
                order,
                side,
                units,
                action,
                when,
                became,
                ..
            } => {
                let later = match when {
                    When::Now => "",
                    When::Afterwards => " afterwards",
                    When::First => " first",
                };
                let (side, what) = (self.side(*side), self.names.order(action, became));
                let units = plural(units.len(), "unit");
                Some(format!(
                    "{side} order {units} to {what}{later} (order {order})"
                ))
            }
            Event::Refused {
                side,
                action,
                unit,
                why,
                ..
            } => {
                let what = self.names.order(action, &[]);
                let (side, why) = (self.side(*side), self.refusal(why));
                Some(match unit {
                    Some(unit) => {
                        let unit = self.names.name(*unit);
                        format!("{unit} refuses to {what}{asked}: {why}")
                    }
                    None => format!("the order of {side} to {what}{asked} is refused: {why}"),
                })
            }
            _ => None,
        }
    }

    fn write_orders(&self, text: &mut String) -> std::fmt::Result {
        if self.orders.is_empty() {
            return writeln!(text, "No order was given.");
        }
        let whats = self.orders.iter().map(|order| order.what.chars().count());
        let width = whats.max().unwrap_or(0);
        let what = "what";
        writeln!(
            text,
            "\norder  given at  to         {what:<width$}  outcome"
        )?;
        for order in &self.orders {
            let what = &order.what;
            let mut outcomes = outcomes(order).into_iter();
            let first = outcomes.next().unwrap_or_default();
            let units = plural(order.units, "unit");
            let (number, given_s) = (order.number, order.given_s);
            writeln!(
                text,
                "{number:>5}  {given_s:>6.2} s  {units:<9}  {what:<width$}  {first}"
            )?;
            for outcome in outcomes {
                writeln!(text, "{:indent$}{outcome}", "", indent = width + 30)?;
            }
        }
        writeln!(text)
    }

    fn write_end(&self, text: &mut String) -> std::fmt::Result {
        let end = &self.end;
        let count = |doing| end.units.iter().filter(|unit| unit.doing == doing).count();
        let (stand, wait) = (count("standing"), count("awaiting-route"));
        let go = end.units.iter().filter(|unit| unit.walks()).count();
        let some = |doing, words: &str| match count(doing) {
            0 => String::new(),
            some => format!(", {some} {words}"),
        };
        let (strike, others) = (
            some("striking", "strike"),
            some("waiting", "wait for others"),
        );
        writeln!(
            text,
            "At {:.2} s: {stand} stand, {go} walk, {wait} wait for a route{others}{strike}.",
            end.time_s
        )?;
        if self.tolls.iter().any(|toll| toll.blows > 0) {
            let sides = self.head.sides.iter().zip(&self.tolls);
            for (side, toll) in sides.filter(|(_, toll)| toll.blows + toll.fallen > 0) {
                let (fallen, all) = (toll.fallen, toll.began_with + toll.came_in);
                let blows = plural(toll.blows, "blow");
                let shots = match (toll.fired, toll.hits) {
                    (0, _) => String::new(),
                    (fired, hits) => format!(" ({fired} fired, {hits} of them hit)"),
                };
                writeln!(
                    text,
                    "{side} struck {blows}{shots} and lost {fallen} of {all}."
                )?;
            }
        }
        let first = |is: fn(&UnitEnd) -> bool| end.units.iter().find(|unit| is(unit));
        let walking = first(UnitEnd::walks).map(|unit| ("walking", unit));
        let waiting = first(UnitEnd::waits).map(|unit| ("waiting for others", unit));
        if let Some((still, unit)) = walking.or(waiting) {
            let (called, at) = (&unit.called, point(unit.at.into()));
            writeln!(text, "Still {still}, among others: {called} at {at}.")?;
        }
        self.write_verdict(text)?;
        writeln!(
            text,
            "checksum {:016x} after {} ticks, trail {:016x}",
            end.checksum, end.ticks, end.trail
        )
    }
}

/// The ways in which an order ended, a line each, and for how many it has not.
fn outcomes(order: &OrderTale) -> Vec<String> {
    let mut outcomes: Vec<String> = order
        .endings
        .iter()
        .map(|ending| {
            let (first, last) = (ending.first_s, ending.last_s);
            let when = if first == last {
                format!("at {first:.2} s")
            } else {
                format!("{first:.2} to {last:.2} s")
            };
            format!("{}, {when}", ending.in_words())
        })
        .collect();
    if order.open() > 0 {
        outcomes.push(format!("{} under way", order.open()));
    }
    outcomes
}

/// Events that repeat within a tick become one line, with their number.
fn merge_repeated(lines: Vec<(f64, String)>) -> Vec<(f64, String)> {
    let mut merged: Vec<(f64, String, usize)> = Vec::new();
    for (time_s, line) in lines {
        match merged.last_mut() {
            Some((at, known, count)) if *at == time_s && *known == line => *count += 1,
            _ => merged.push((time_s, line, 1)),
        }
    }
    merged
        .into_iter()
        .map(|(time_s, line, count)| match count {
            1 => (time_s, line),
            _ => (time_s, format!("{line} ({count} times)")),
        })
        .collect()
}

fn ground_line(how: &str, what: &str, (from, to): (Vec2, Vec2)) -> String {
    let area = format!("{} to {}", point(from), point(to));
    match how {
        "turned" => format!("the ground from {area} turns to {what}"),
        "shut" | "opened" => format!("the {what} is {how}"),
        _ => format!("the ground from {area} is {how}"),
    }
}
