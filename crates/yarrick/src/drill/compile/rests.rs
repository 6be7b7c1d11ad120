//! Finds loops in which no step takes time: a `repeat`, or states that lead to each other. Such a drill would never rest.

use super::Compiler;
use crate::drill::program::Op;
use crate::drill::syntax::{DrillTree, StepSort, StepTree};
use std::collections::BTreeSet;

/// Notes every `repeat` without a step that takes time, and every circle of states that lead on at once.
pub(super) fn check(tree: &DrillTree, compiler: &mut Compiler<'_>) {
    for state in &tree.states {
        repeats(&state.steps, compiler);
    }
    let count = tree.states.len();
    let mut noted: BTreeSet<usize> = BTreeSet::new();
    for start in 0..count {
        let mut at = start;
        let mut round = vec![start];
        while let Some(next) = at_once(compiler, at) {
            if next == start {
                let first = round.iter().min().copied().unwrap_or(start);
                if noted.insert(first) && first == start {
                    let names = round.iter().map(|at| tree.states[*at].name.text.as_str());
                    let names: Vec<&str> = names.collect();
                    let message = format!(
                        "this never rests: {} → {} at once, without a step that takes time",
                        names.join(" → "),
                        tree.states[start].name.text
                    );
                    compiler.note(tree.states[start].name.bytes.clone(), message);
                }
                break;
            }
            if round.contains(&next) {
                break;
            }
            round.push(next);
            at = next;
        }
    }
}

/// The state to which another leads at once: before any step that lasts.
fn at_once(compiler: &Compiler<'_>, state: usize) -> Option<usize> {
    let ops = &compiler.drill.ops;
    let mut at = compiler.drill.states.get(state)?.entry as usize;
    // Jumps lead back only, and only behind steps that take time.
    loop {
        match ops.get(at)? {
            Op::Step { lasts: false, .. } | Op::Set { .. } => at += 1,
            Op::Goto { state, .. } => return Some(usize::from(*state)),
            _ => return None,
        }
    }
}

fn repeats(steps: &[StepTree], compiler: &mut Compiler<'_>) {
    for step in steps {
        if let StepSort::Repeat(inner) = &step.what {
            repeats(inner, compiler);
            if !inner.is_empty() && !inner.iter().any(|step| takes_time(step, compiler)) {
                let message = "this never rests: no step of what is repeated takes time";
                let first = inner
                    .first()
                    .map_or(step.bytes.clone(), |step| step.bytes.clone());
                compiler.note(step.bytes.start..first.end.max(step.bytes.end), message);
            }
        }
    }
}

fn takes_time(step: &StepTree, compiler: &Compiler<'_>) -> bool {
    match &step.what {
        // Of no time at all, it would not.
        StepSort::Wait(_) => true,
        StepSort::Goto(_) => true,
        StepSort::Repeat(inner) => inner.iter().any(|step| takes_time(step, compiler)),
        StepSort::Set(..) => false,
        StepSort::Call(tokens) => compiler.lasts(tokens),
    }
}
