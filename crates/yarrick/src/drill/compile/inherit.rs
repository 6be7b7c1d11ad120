//! `based on`: a drill takes over what it does not say itself.

use crate::drill::error::{DrillError, likely, one_of};
use crate::drill::syntax::{DrillTree, Name};

/// Each drill, completed from its bases. Unknown and circular bases are errors.
pub(super) fn with_bases(trees: Vec<DrillTree>, errors: &mut Vec<DrillError>) -> Vec<DrillTree> {
    (0..trees.len())
        .map(|at| {
            let mut full = trees[at].clone();
            let mut chain = vec![at];
            let mut last = at;
            while let Some(base) = &trees[last].based_on {
                let Some(next) = trees.iter().position(|tree| tree.name.text == base.text) else {
                    if last == at {
                        errors.push(unknown(base, &trees));
                    }
                    break;
                };
                if chain.contains(&next) {
                    if chain.iter().min() == Some(&at) {
                        let message = "drills are based on one another in a circle";
                        errors.push(DrillError::new(base.bytes.clone(), message));
                    }
                    break;
                }
                take_over(&mut full, &trees[next]);
                chain.push(next);
                last = next;
            }
            full
        })
        .collect()
}

fn unknown(base: &Name, trees: &[DrillTree]) -> DrillError {
    let known: Vec<&str> = trees.iter().map(|tree| tree.name.text.as_str()).collect();
    let message = format!(
        "there is no drill {:?}; there is {}",
        base.text,
        one_of(&known)
    );
    let error = DrillError::new(base.bytes.clone(), message);
    match likely(&base.text, known.into_iter()) {
        Some(name) => error.with_fix(format!("did you mean {name:?}?")),
        None => error,
    }
}

/// Adds what a base has and a drill does not. A state of the same name replaces that of the base.
fn take_over(drill: &mut DrillTree, base: &DrillTree) {
    if drill.controls.is_empty() {
        drill.controls.clone_from(&base.controls);
    }
    for dial in &base.dials {
        if is_new(&dial.name, drill.dials.iter().map(|dial| &dial.name)) {
            drill.dials.push(dial.clone());
        }
    }
    for memory in &base.memories {
        if is_new(
            &memory.name,
            drill.memories.iter().map(|memory| &memory.name),
        ) {
            drill.memories.push(memory.clone());
        }
    }
    let has_start = drill.states.iter().any(|state| state.is_start);
    for state in &base.states {
        if is_new(&state.name, drill.states.iter().map(|state| &state.name)) {
            let mut state = state.clone();
            state.is_start &= !has_start;
            drill.states.push(state);
        }
    }
    if drill.always.is_empty() {
        drill.always.clone_from(&base.always);
        drill.except.clone_from(&base.except);
    }
}

fn is_new<'a>(name: &Name, mut known: impl Iterator<Item = &'a Name>) -> bool {
    !known.any(|other| other.text == name.text)
}
