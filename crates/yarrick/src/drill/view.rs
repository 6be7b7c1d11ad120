//! What a machine can be asked: how the rules of its state stand.

use super::host::Senses;
use super::machine::Machine;
use super::program::Program;

impl Machine {
    /// Each rule that is looked at in its state: the line, what it says, whether it holds now (`None` where nothing is
    /// known), and what was measured.
    #[must_use]
    pub fn explain(&self, program: &Program, senses: &dyn Senses) -> Vec<RuleView> {
        let drill = program.drills.get(usize::from(self.drill));
        let state = drill.and_then(|drill| drill.states.get(usize::from(self.state)));
        let Some((drill, state)) = drill.zip(state) else {
            return Vec::new();
        };
        let mut machine = self.clone();
        let rules = state.rules.iter();
        let view = |number: &u16| {
            let rule = drill.rules.get(usize::from(*number))?;
            let (truth, measured) = machine.weigh(drill, rule, senses);
            Some(RuleView {
                line: rule.line,
                text: rule.text.clone(),
                holds: truth.holds,
                measured: measured
                    .into_iter()
                    .filter(|value| !value.is_nan())
                    .collect(),
            })
        };
        rules.filter_map(view).collect()
    }

    /// Whether it can be run with a program: for what was read from a file.
    #[must_use]
    pub fn fits(&self, program: &Program) -> bool {
        let drill = program.drills.get(usize::from(self.drill));
        drill.is_some_and(|drill| {
            usize::from(self.state) < drill.states.len()
                && self.memories.len() == drill.memories.len()
                && self.held.len() <= drill.rules.len()
        })
    }
}

/// A rule of a drill, as it stands for one unit.
#[derive(Clone, Debug, PartialEq)]
pub struct RuleView {
    /// The line of the text, from 1.
    pub line: u32,
    /// What it says.
    pub text: String,
    /// Whether its condition holds now, `for` left aside; `None` where it asks about an empty memory.
    pub holds: Option<bool>,
    /// The values that were measured for it, in base units.
    pub measured: Vec<f32>,
}
