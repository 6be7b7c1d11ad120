//! From trees to programs: names are looked up, words of the host are found, units and faculties are checked.

mod calls;
mod conditions;
mod inherit;
mod rests;
mod steps;
mod values;

use super::error::{DrillError, likely, one_of};
use super::program::{Arg, Dial, Drill, Memory, Program, Rule, Sort, State, Value};
use super::syntax::{DialTree, DrillTree, MemoryTree, Name, Piece, RuleTree, StateTree, Token};
use super::units::Unit;
use super::words::{Faculties, Faculty, Vocabulary};
use core::ops::Range;
use inherit::with_bases;
use std::collections::BTreeSet;

/// The most drills of a text, and the most states, rules, dials and memories of each.
pub const MAX_DRILLS: usize = 256;
/// See [`MAX_DRILLS`].
pub const MAX_PARTS: usize = 256;

/// How often rules are checked in a state that does not say so, in seconds.
const USUAL_EVERY_S: f32 = 0.2;

/// Compiles the drills of a text. All that is wrong is noted.
pub(super) fn compile(
    text: &str,
    trees: Vec<DrillTree>,
    words: &Vocabulary,
    errors: &mut Vec<DrillError>,
) -> Program {
    check_drill_names(&trees, errors);
    let mut program = Program::default();
    for tree in with_bases(trees, errors) {
        let mut compiler = Compiler {
            text,
            words,
            errors,
            texts: &mut program.texts,
            scope: Scope::default(),
            drill: empty_drill(&tree),
        };
        compiler.drill(&tree);
        let drill = compiler.drill;
        program.drills.push(drill);
    }
    program
}

fn empty_drill(tree: &DrillTree) -> Drill {
    Drill {
        name: tree.name.text.clone(),
        controls: 0,
        dials: Vec::new(),
        memories: Vec::new(),
        states: Vec::new(),
        rules: Vec::new(),
        ops: Vec::new(),
        args: Vec::new(),
        start: 0,
    }
}

fn check_drill_names(trees: &[DrillTree], errors: &mut Vec<DrillError>) {
    for (at, tree) in trees.iter().enumerate() {
        note_twice(
            &tree.name,
            trees[..at].iter().map(|tree| &tree.name),
            "drill",
            errors,
        );
    }
    if let Some(tree) = trees.get(MAX_DRILLS) {
        let message = format!("at most {MAX_DRILLS} drills are allowed");
        errors.push(DrillError::new(tree.name.bytes.clone(), message));
    }
}

/// Notes a name that is used before.
fn note_twice<'a>(
    name: &Name,
    before: impl Iterator<Item = &'a Name>,
    what: &str,
    errors: &mut Vec<DrillError>,
) {
    if let Some(first) = before.into_iter().find(|other| other.text == name.text) {
        let message = format!("there is a {what} {:?} already", name.text);
        let error = DrillError::new(name.bytes.clone(), message);
        errors.push(error.with_other(first.bytes.clone(), "first"));
    }
}

/// What the names in a drill stand for.
#[derive(Default)]
struct Scope {
    states: Vec<String>,
    /// Names about which enough was said.
    broken: BTreeSet<String>,
    /// The memories that something fills.
    filled: BTreeSet<usize>,
    /// The dials and memories that were used.
    used_dials: BTreeSet<usize>,
    used_memories: BTreeSet<usize>,
}

/// Compiles one drill.
struct Compiler<'a> {
    text: &'a str,
    words: &'a Vocabulary,
    errors: &'a mut Vec<DrillError>,
    texts: &'a mut Vec<String>,
    scope: Scope,
    drill: Drill,
}

impl Compiler<'_> {
    fn note(&mut self, bytes: Range<usize>, message: impl Into<String>) {
        self.errors.push(DrillError::new(bytes, message));
    }

    /// Notes a name that is not among some others.
    fn note_unknown(&mut self, name: &Name, what: &str, known: &[&str]) {
        if !self.scope.broken.insert(name.text.clone()) {
            return;
        }
        let message = if known.is_empty() {
            format!("there is no {what} {:?}: the drill has none", name.text)
        } else {
            format!(
                "there is no {what} {:?}; there is {}",
                name.text,
                one_of(known)
            )
        };
        let error = DrillError::new(name.bytes.clone(), message);
        let likely = likely(&name.text, known.iter().copied());
        self.errors.push(match likely {
            Some(likely) => error.with_fix(format!("did you mean {likely:?}?")),
            None => error,
        });
    }

    fn drill(&mut self, tree: &DrillTree) {
        self.scope.broken = tree.broken.iter().cloned().collect();
        self.faculties(tree);
        for (at, dial) in tree.dials.iter().enumerate() {
            let before = tree.dials[..at].iter().map(|dial| &dial.name);
            note_twice(&dial.name, before, "dial", self.errors);
            self.dial(dial);
        }
        for (at, memory) in tree.memories.iter().enumerate() {
            let memories = tree.memories[..at].iter().map(|memory| &memory.name);
            note_twice(&memory.name, memories, "memory", self.errors);
            let dials = tree.dials.iter().map(|dial| &dial.name);
            note_twice(&memory.name, dials, "dial", self.errors);
            self.memory(memory);
        }
        self.scope.states = tree
            .states
            .iter()
            .map(|state| state.name.text.clone())
            .collect();
        self.check_counts(tree);
        self.start(tree);
        for (at, state) in tree.states.iter().enumerate() {
            let before = tree.states[..at].iter().map(|state| &state.name);
            note_twice(&state.name, before, "state", self.errors);
        }
        let always: Vec<u16> = tree.always.iter().map(|rule| self.rule(rule)).collect();
        let except: Vec<Option<u16>> = tree.except.iter().map(|name| self.state_of(name)).collect();
        for (number, state) in (0_u16..).zip(&tree.states) {
            let excepted = except.contains(&Some(number));
            let before = if excepted { &[][..] } else { &always };
            let state = self.state(state, before);
            self.drill.states.push(state);
        }
        rests::check(tree, self);
        self.check_use(tree);
    }

    fn check_counts(&mut self, tree: &DrillTree) {
        let rules = tree.states.iter().map(|state| state.rules.len());
        let counts = [
            ("states", tree.states.len()),
            ("rules", rules.sum::<usize>() + tree.always.len()),
            ("dials", tree.dials.len()),
            ("memories", tree.memories.len()),
        ];
        for (what, count) in counts {
            if count > MAX_PARTS {
                let message = format!("a drill has at most {MAX_PARTS} {what}, not {count}");
                self.note(tree.name.bytes.clone(), message);
            }
        }
    }

    fn faculties(&mut self, tree: &DrillTree) {
        let mut controls: Faculties = 0;
        for name in &tree.controls {
            let known = Faculty::NAMES.iter().find(|(known, _)| *known == name.text);
            match known {
                Some((_, faculty)) => controls |= *faculty as Faculties,
                None => {
                    let names = Faculty::NAMES.map(|(name, _)| name);
                    self.note_unknown(name, "faculty", &names);
                    // What its steps need is no further error.
                    controls = Faculties::MAX;
                }
            }
        }
        if tree.controls.is_empty() {
            let message = "it is not said what the drill controls: legs, arms or voice";
            let error = DrillError::new(tree.name.bytes.clone(), message);
            let fix = format!("drill {} controls legs", tree.name.text);
            self.errors.push(error.with_fix(fix));
            // What its steps need is no further error.
            controls = Faculties::MAX;
        }
        self.drill.controls = controls;
    }

    fn start(&mut self, tree: &DrillTree) {
        let mut starts = tree
            .states
            .iter()
            .enumerate()
            .filter(|(_, state)| state.is_start);
        let Some((number, first)) = starts.next() else {
            let message = if tree.states.is_empty() {
                "a drill needs at least one state"
            } else {
                "one of the states has to be the \"start state\""
            };
            return self.note(tree.name.bytes.clone(), message);
        };
        self.drill.start = number as u16;
        for (_, state) in starts {
            let error = DrillError::new(state.name.bytes.clone(), "a second start state");
            self.errors
                .push(error.with_other(first.name.bytes.clone(), "the first is"));
        }
    }

    fn dial(&mut self, tree: &DialTree) {
        let (low, unit) = number_of(&tree.value.0);
        let mut ends = vec![(low, &tree.value.0)];
        let mut high = low;
        if let Some(token) = &tree.value.1 {
            let (value, other) = number_of(token);
            self.same_unit((&tree.name, token), other, unit);
            if value < low {
                self.note(
                    token.bytes.clone(),
                    "a span goes from the lower to the upper end",
                );
            }
            high = value;
            ends.push((value, token));
        }
        let (mut least, mut most) = (f32::NEG_INFINITY, f32::INFINITY);
        if let Some((from, to)) = &tree.allowed {
            for token in [from, to] {
                let (_, other) = number_of(token);
                self.same_unit((&tree.name, token), other, unit);
            }
            (least, most) = (number_of(from).0, number_of(to).0);
            if most < least {
                let message = "the least that is allowed comes first";
                self.note(from.bytes.start..to.bytes.end, message);
            } else if let Some((_, token)) = ends
                .iter()
                .find(|(value, _)| !(least..=most).contains(value))
            {
                let message = "the default is outside of what is allowed";
                let error = DrillError::new(token.bytes.clone(), message);
                let other = from.bytes.start..to.bytes.end;
                self.errors
                    .push(error.with_other(other, "what is allowed is"));
            }
        }
        let base = |value: f32| to_base(value, unit);
        self.drill.dials.push(Dial {
            name: tree.name.text.clone(),
            unit,
            low: base(low),
            high: base(high),
            least: base(least),
            most: base(most),
        });
    }

    /// Notes it where a part of a dial has another unit than the rest. What uses the dial is no further error.
    fn same_unit(&mut self, (name, token): (&Name, &Token), unit: Unit, wanted: Unit) {
        if unit != wanted && self.scope.broken.insert(name.text.clone()) {
            let message = format!(
                "this is in {}, but the dial is in {}",
                unit.words(),
                wanted.words()
            );
            self.note(token.bytes.clone(), message);
        }
    }

    fn memory(&mut self, tree: &MemoryTree) {
        const SORTS: [(&str, Sort); 3] = [
            ("unit", Sort::Unit),
            ("point", Sort::Point),
            ("number", Sort::Number),
        ];
        let sort = SORTS.iter().find(|(name, _)| *name == tree.sort.text);
        if sort.is_none() {
            let names = SORTS.map(|(name, _)| name);
            self.note_unknown(&tree.sort, "sort of memory", &names);
        }
        self.drill.memories.push(Memory {
            name: tree.name.text.clone(),
            sort: sort.map_or(Sort::Unit, |(_, sort)| *sort),
        });
    }

    /// The number of a state; an unknown one is noted.
    fn state_of(&mut self, name: &Name) -> Option<u16> {
        let at = self
            .scope
            .states
            .iter()
            .position(|known| *known == name.text);
        if at.is_none() {
            let states = self.scope.states.clone();
            let known: Vec<&str> = states.iter().map(String::as_str).collect();
            self.note_unknown(name, "state", &known);
        }
        at.map(|at| at as u16)
    }

    /// The number of a memory; an unknown one, and one of another sort, is noted.
    fn memory_of(&mut self, name: &Name, sort: Option<Sort>) -> Option<u16> {
        let memories = &self.drill.memories;
        let Some(at) = memories.iter().position(|known| known.name == name.text) else {
            let names: Vec<String> = memories.iter().map(|known| known.name.clone()).collect();
            let known: Vec<&str> = names.iter().map(String::as_str).collect();
            self.note_unknown(name, "memory", &known);
            return None;
        };
        self.scope.used_memories.insert(at);
        let held = memories[at].sort;
        if let Some(sort) = sort.filter(|sort| *sort != held) {
            let message = format!(
                "{:?} holds a {}, not a {}",
                name.text,
                word(held),
                word(sort)
            );
            self.note(name.bytes.clone(), message);
            return None;
        }
        Some(at as u16)
    }

    fn rule(&mut self, tree: &RuleTree) -> u16 {
        let first = self.drill.ops.len() as u32;
        let captures = self.condition(&tree.when);
        let end = self.drill.ops.len() as u32;
        let takes = tree.takes.as_ref().and_then(|name| {
            let memory = self.memory_of(name, Some(Sort::Unit));
            self.scope.filled.extend(memory.map(usize::from));
            if !captures {
                let message = "the condition names no unit that \"as\" could take";
                self.note(name.bytes.clone(), message);
            }
            memory
        });
        let lasting = tree.lasting.as_ref().and_then(|time| {
            let arg = self.quantity(core::slice::from_ref(time), Unit::Seconds);
            if let Some(Arg::Value(Value::Number(seconds))) = arg
                && seconds <= 0.0
            {
                self.note(time.bytes.clone(), "a condition lasts for more than 0 s");
            }
            arg
        });
        let to = self.state_of(&tree.to).unwrap_or(0);
        self.drill.rules.push(Rule {
            line: self.line_of(tree.bytes.start),
            text: self.text[tree.bytes.clone()].to_owned(),
            first,
            end,
            lasting,
            takes,
            to,
        });
        (self.drill.rules.len() - 1) as u16
    }

    fn line_of(&self, at: usize) -> u32 {
        (self.text[..at].matches('\n').count() + 1) as u32
    }

    fn state(&mut self, tree: &StateTree, always: &[u16]) -> State {
        let on = tree.on.as_ref().and_then(|(memory, after)| {
            let memory = self.memory_of(memory, Some(Sort::Unit));
            let after = self.state_of(after);
            memory.zip(after)
        });
        let every = tree.every.as_ref().map_or(USUAL_EVERY_S, |token| {
            let (value, unit) = number_of(token);
            if unit != Unit::Seconds || !(0.0..=600.0).contains(&value) {
                self.note(
                    token.bytes.clone(),
                    "an interval is in seconds, from 0 s to 600 s",
                );
            }
            value
        });
        let entry = self.drill.ops.len() as u32;
        self.steps(&tree.steps);
        self.drill.ops.push(super::program::Op::End);
        let own = tree.rules.iter().map(|rule| self.rule(rule));
        let own: Vec<u16> = own.collect();
        State {
            name: tree.name.text.clone(),
            on,
            every: Arg::Value(Value::Number(every)),
            entry,
            rules: always.iter().copied().chain(own).collect(),
        }
    }

    /// Notes dials and memories that nothing uses: most likely a slip.
    fn check_use(&mut self, tree: &DrillTree) {
        // What a base has need not all be used; and where something is wrong, that may be why.
        if tree.based_on.is_some() || !self.errors.is_empty() {
            return;
        }
        for (at, dial) in tree.dials.iter().enumerate() {
            if !self.scope.used_dials.contains(&at) {
                let message = format!("nothing uses the dial {:?}", dial.name.text);
                self.note(dial.name.bytes.clone(), message);
            }
        }
        for (at, memory) in tree.memories.iter().enumerate() {
            let name = &memory.name.text;
            let message = if !self.scope.used_memories.contains(&at) {
                format!("nothing uses the memory {name:?}")
            } else if !self.scope.filled.contains(&at) {
                format!(
                    "nothing fills the memory {name:?}: a rule does by \"as {name}\", a step by \"set {name} =\""
                )
            } else {
                continue;
            };
            self.note(memory.name.bytes.clone(), message);
        }
    }
}

fn word(sort: Sort) -> &'static str {
    match sort {
        Sort::Unit => "unit",
        Sort::Point => "point",
        Sort::Number => "number",
    }
}

/// The value and the unit of a token that the parser found to be a number.
fn number_of(token: &Token) -> (f32, Unit) {
    match token.what {
        Piece::Number(value, unit) => (value, unit),
        _ => (0.0, Unit::None),
    }
}

/// A quantity in base units.
fn to_base(value: f32, unit: Unit) -> f32 {
    unit.to_base(value)
}
