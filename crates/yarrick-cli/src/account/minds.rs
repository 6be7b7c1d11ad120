//! What the drills of units do in a run, and why: for the units that were asked for.

use super::Names;
use super::words::list_of_values;
use serde::Serialize;
use std::fmt::Write as _;
use yarrick::UnitId;
use yarrick::scenario::Play;
use yarrick::world::DrillView;

/// A unit that was asked for, by its name in the scenario or by its id.
#[derive(Serialize)]
pub(crate) struct Mind {
    #[serde(skip)]
    asked: String,
    /// The unit, once it is there.
    unit: Option<UnitId>,
    name: String,
    /// The changes of state of its drills, in order of time.
    changes: Vec<Changed>,
    /// Its drills as they stood when it was last seen.
    drills: Vec<Standing>,
    /// When that was.
    seen_s: f64,
}

/// A change of state.
#[derive(Serialize)]
struct Changed {
    time_s: f64,
    drill: String,
    from: String,
    to: String,
    why: String,
    #[serde(skip_serializing_if = "Option::is_none")]
    line: Option<u32>,
    measured: Vec<f32>,
    #[serde(skip_serializing_if = "Option::is_none")]
    took: Option<String>,
}

/// A drill as it stands.
#[derive(Serialize)]
struct Standing {
    drill: String,
    state: String,
    for_s: f64,
    sleeps: bool,
    remembers: Vec<String>,
    rules: Vec<Rule>,
}

/// A rule of the state that a drill is in.
#[derive(Serialize)]
struct Rule {
    line: u32,
    text: String,
    /// Nothing where it asks about an empty memory.
    holds: Option<bool>,
    measured: Vec<f32>,
}

impl Mind {
    /// Follows the unit that is called so.
    pub(super) fn of(asked: &str) -> Mind {
        Mind {
            asked: asked.to_owned(),
            unit: None,
            name: asked.to_owned(),
            changes: Vec::new(),
            drills: Vec::new(),
            seen_s: 0.0,
        }
    }

    /// Takes down what changed in a tick.
    pub(super) fn note(&mut self, play: &Play, names: &Names) {
        let world = play.world();
        let by_id = || self.asked.parse().ok();
        let unit = self.unit.or_else(|| play.unit_named(&self.asked));
        let Some(unit) = unit
            .or_else(by_id)
            .filter(|unit| world.unit(*unit).is_some())
        else {
            return;
        };
        if self.unit.is_none() {
            self.unit = Some(unit);
            self.name = names.name(unit);
        }
        let views = world.explain(unit);
        self.seen_s = world.time_s();
        for view in &views {
            self.note_change(view, names);
        }
        self.drills = views
            .into_iter()
            .map(|view| standing(view, names))
            .collect();
    }

    fn note_change(&mut self, view: &DrillView, names: &Names) {
        let Some(change) = &view.last_change else {
            return;
        };
        let known = self.changes.iter().rev();
        let last = known.clone().find(|known| known.drill == view.drill);
        if last.is_some_and(|last| last.time_s >= change.at_s) {
            return;
        }
        self.changes.push(Changed {
            time_s: change.at_s,
            drill: view.drill.clone(),
            from: change.from.clone(),
            to: change.to.clone(),
            why: change.why.clone(),
            line: change.line,
            measured: change.measured.clone(),
            took: change.took.map(|unit| names.name(unit)),
        });
    }

    /// Whether there was such a unit.
    pub(crate) fn was_there(&self) -> bool {
        self.unit.is_some()
    }

    /// What was asked for.
    pub(crate) fn asked(&self) -> &str {
        &self.asked
    }

    /// The lines for the changes of its drills, with their times.
    pub(super) fn lines(&self) -> impl Iterator<Item = (f64, String)> {
        self.changes.iter().map(|change| {
            let mut line = format!("{}: {} goes from {}", self.name, change.drill, change.from);
            // Writing to a string cannot fail.
            let _ = write!(line, " to {}: {}", change.to, change.why);
            if let Some(at) = change.line {
                let _ = write!(line, " (line {at})");
            }
            line += &list_of_values(&change.measured);
            if let Some(took) = &change.took {
                let _ = write!(line, ", took {took}");
            }
            (change.time_s, line)
        })
    }

    /// How its drills stood when it was last seen.
    pub(super) fn write(&self, text: &mut String) -> std::fmt::Result {
        if self.drills.is_empty() {
            return writeln!(text, "{} has no drills.", self.name);
        }
        for drill in &self.drills {
            let sleeps = if drill.sleeps { ", asleep" } else { "" };
            writeln!(
                text,
                "{} at {:.2} s: {} is in {} for {:.2} s{sleeps}",
                self.name, self.seen_s, drill.drill, drill.state, drill.for_s
            )?;
            if !drill.remembers.is_empty() {
                writeln!(text, "  remembers {}", drill.remembers.join(", "))?;
            }
            for rule in &drill.rules {
                let holds = match rule.holds {
                    Some(true) => "holds",
                    Some(false) => "does not hold",
                    None => "asks about nothing",
                };
                let values = list_of_values(&rule.measured);
                writeln!(
                    text,
                    "  line {:>3}  {}: {holds}{values}",
                    rule.line, rule.text
                )?;
            }
        }
        Ok(())
    }
}

fn standing(view: DrillView, names: &Names) -> Standing {
    let rules = view.rules.into_iter().map(|rule| Rule {
        line: rule.line,
        text: rule.text,
        holds: rule.holds,
        measured: rule.measured,
    });
    Standing {
        drill: view.drill,
        state: view.state,
        for_s: view.since_s,
        sleeps: view.sleeps,
        remembers: view
            .remembers
            .into_iter()
            .map(|unit| names.name(unit))
            .collect(),
        rules: rules.collect(),
    }
}
