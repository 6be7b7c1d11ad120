//! Why a unit does what it does.

use super::senses::Look;
use super::{UnitId, World};
use crate::drill::{Change, RuleView, Value, Why};

/// A drill of a unit, as it stands.
#[derive(Clone, Debug, PartialEq)]
pub struct DrillView {
    /// The name of the drill.
    pub drill: String,
    /// The state that it is in.
    pub state: String,
    /// For how long, in seconds.
    pub since_s: f64,
    /// Whether something else drives what it controls: an order, say.
    pub sleeps: bool,
    /// The rules of the state, those for all states first, with what was measured just now.
    pub rules: Vec<RuleView>,
    /// The units in its memories.
    pub remembers: Vec<UnitId>,
    /// The last change of state.
    pub last_change: Option<ChangeView>,
}

/// A change of state of a drill.
#[derive(Clone, Debug, PartialEq)]
pub struct ChangeView {
    /// When it was, in seconds.
    pub at_s: f64,
    /// The state that was left.
    pub from: String,
    /// The state that began.
    pub to: String,
    /// Why, in words: the rule, what was gone, or the step.
    pub why: String,
    /// The line of the text, from 1, if a line said so.
    pub line: Option<u32>,
    /// What was measured for the rule, in base units.
    pub measured: Vec<f32>,
    /// The unit that the rule took.
    pub took: Option<UnitId>,
}

impl World {
    /// Which state and which rules the drills of a unit are in, and why they changed last. Empty for units without drills,
    /// and for those that are gone.
    ///
    /// Costs what the rules cost to check.
    #[must_use]
    pub fn explain(&self, unit: UnitId) -> Vec<DrillView> {
        let Some(row) = self.state.units.row(unit) else {
            return Vec::new();
        };
        let program = &self.state.derived.program;
        let machines = self.minds.drills.as_slice()[row].iter().enumerate();
        let view = |(nth, machine): (usize, &crate::drill::Machine)| {
            let drill = program.drills.get(usize::from(machine.drill()))?;
            let since = machine.since();
            let look = Look {
                state: &self.state,
                near: (!self.scratch.near_is_stale).then_some(&self.scratch.near),
                row,
                nth,
                since,
            };
            Some(DrillView {
                drill: drill.name.clone(),
                state: drill.state_name(machine.state()).to_owned(),
                since_s: self.seconds(self.state.clock.tick - since),
                sleeps: machine.sleeps(),
                rules: machine.explain(program, &look),
                remembers: machine.remembered().map(UnitId::of_number).collect(),
                last_change: machine
                    .last_change()
                    .map(|change| self.change_view(machine.drill(), change)),
            })
        };
        machines.filter_map(view).collect()
    }

    fn seconds(&self, ticks: u64) -> f64 {
        ticks as f64 / f64::from(self.state.rules.ticks_per_second)
    }

    fn change_view(&self, drill: u16, change: &Change) -> ChangeView {
        let program = &self.state.derived.program;
        let drill = program.drills.get(usize::from(drill));
        let name = |state| drill.map_or(String::new(), |drill| drill.state_name(state).to_owned());
        let (why, line, measured, took) = match change.why {
            Why::Gone => (
                "what it remembered is gone".to_owned(),
                None,
                Vec::new(),
                None,
            ),
            Why::Step { line } => ("a step said so".to_owned(), Some(line), Vec::new(), None),
            Why::Rule {
                rule,
                measured,
                took,
            } => {
                let known = drill.and_then(|drill| drill.rule(rule));
                let text = known.map_or(String::new(), |(_, text)| text.to_owned());
                let measured = measured
                    .into_iter()
                    .filter(|value| !value.is_nan())
                    .collect();
                (text, known.map(|(line, _)| line), measured, took)
            }
        };
        ChangeView {
            at_s: self.seconds(change.at),
            from: name(change.from),
            to: name(change.to),
            why,
            line,
            measured,
            took: took.map(UnitId::of_number),
        }
    }

    /// A text of the drills, by its number: the name of a cue, say. Empty for a number that there is not.
    #[must_use]
    pub fn drill_text(&self, number: u16) -> &str {
        let texts = &self.state.derived.program.texts;
        texts.get(usize::from(number)).map_or("", String::as_str)
    }

    /// What a value of a drill is, if it is a unit.
    #[must_use]
    pub fn unit_of_value(&self, value: Value) -> Option<UnitId> {
        match value {
            Value::Unit(number) => Some(UnitId::of_number(number)),
            _ => None,
        }
    }
}
