//! The machine that runs a drill for one unit.
//!
//! It thinks when it is asked to: it looks whether a rule holds, goes to another state if so, and does steps until one
//! lasts. All that it knows of the world comes from a [`Host`].

use super::host::{Begun, Change, Held, Host, Senses, Why};
use super::program::{Arg, Call, Drill, Op, Operand, Program, Rule, Sign, Value};
use super::words::MAX_VALUES;
use serde::{Deserialize, Serialize};
use smallvec::SmallVec;

/// The most steps that a machine does in a tick. With more to do it goes on in the next.
pub const STEP_LIMIT: u32 = 64;

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
enum Doing {
    /// The next step can be begun.
    Ready,
    /// The host carries out a step that takes time.
    Lasts,
    Waits {
        until: u64,
    },
    /// The steps of the state are done.
    Done,
    /// Something else drives what it drives.
    Sleeps,
}

/// A drill under way, for one unit. It can be saved, and goes on from there.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Machine {
    pub(super) drill: u16,
    pub(super) state: u16,
    doing: Doing,
    op: u32,
    /// The tick in which the state began, and that of the next check of its rules.
    since: u64,
    next_check: u64,
    pub(super) memories: SmallVec<[Value; 2]>,
    /// How many random numbers it has drawn.
    draws: u32,
    last: Option<Change>,
    /// Since when those rules of the state have held that must hold for a time: their numbers, and ticks.
    pub(super) held: SmallVec<[(u16, u64); 1]>,
}

/// A truth that may be unknown, and the unit that made it so.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Truth {
    pub(super) holds: Option<bool>,
    took: Option<u64>,
}

const UNKNOWN: Truth = Truth {
    holds: None,
    took: None,
};

impl Truth {
    fn of(holds: bool) -> Truth {
        Truth {
            holds: Some(holds),
            took: None,
        }
    }
}

/// What was measured for a rule.
struct Measured {
    values: [f32; 3],
    count: usize,
}

impl Measured {
    const NONE: Measured = Measured {
        values: [f32::NAN; 3],
        count: 0,
    };

    fn add(&mut self, value: f32) {
        if let Some(slot) = self.values.get_mut(self.count) {
            *slot = value;
            self.count += 1;
        }
    }
}

impl Machine {
    /// A machine at the beginning of a drill. Its first check comes after a part of the interval, from 0 to 1, so that many
    /// machines do not think in the same tick.
    ///
    /// `None` where the program has no such drill.
    #[must_use]
    pub fn new(
        program: &Program,
        drill: u16,
        now: u64,
        part: f32,
        senses: &dyn Senses,
    ) -> Option<Machine> {
        let of = program.drills.get(usize::from(drill))?;
        let mut machine = Machine {
            drill,
            state: of.start,
            doing: Doing::Ready,
            op: of.states.get(usize::from(of.start))?.entry,
            since: now,
            next_check: now,
            memories: SmallVec::from_elem(Value::Nothing, of.memories.len()),
            draws: 0,
            last: None,
            held: SmallVec::new(),
        };
        let interval = machine.interval(of, senses);
        // Casts saturate.
        machine.next_check = now + (interval as f32 * part.clamp(0.0, 1.0)) as u64;
        Some(machine)
    }

    /// The number of its drill.
    #[must_use]
    pub fn drill(&self) -> u16 {
        self.drill
    }

    /// The number of its state.
    #[must_use]
    pub fn state(&self) -> u16 {
        self.state
    }

    /// The tick in which its state began.
    #[must_use]
    pub fn since(&self) -> u64 {
        self.since
    }

    /// The last change of state.
    #[must_use]
    pub fn last_change(&self) -> Option<&Change> {
        self.last.as_ref()
    }

    /// What a memory holds, by its number.
    #[must_use]
    pub fn memory(&self, number: usize) -> Value {
        self.memories.get(number).copied().unwrap_or(Value::Nothing)
    }

    /// Whether it has anything to do in a tick.
    #[must_use]
    pub fn is_due(&self, now: u64) -> bool {
        match self.doing {
            Doing::Sleeps => false,
            Doing::Ready => true,
            Doing::Waits { until } => now >= until || now >= self.next_check,
            Doing::Lasts | Doing::Done => now >= self.next_check,
        }
    }

    /// The units in its memories, by the numbers that the host knows them by.
    pub fn remembered(&self) -> impl Iterator<Item = u64> + '_ {
        self.memories.iter().filter_map(|value| match value {
            Value::Unit(unit) => Some(*unit),
            _ => None,
        })
    }

    /// Lets it check its rules in the next tick, whenever they would be due: something that it remembers is gone, say.
    pub fn look_again(&mut self, now: u64) {
        self.next_check = self.next_check.min(now + 1);
    }

    /// Whether a step lasts that the host does.
    #[must_use]
    pub fn lasts(&self) -> bool {
        self.doing == Doing::Lasts
    }

    /// Whether it sleeps.
    #[must_use]
    pub fn sleeps(&self) -> bool {
        self.doing == Doing::Sleeps
    }

    /// The step that lasted is done: the next is begun when it thinks again.
    pub fn step_ended(&mut self) {
        if self.doing == Doing::Lasts {
            self.doing = Doing::Ready;
        }
    }

    /// Lets it sleep: something else drives what it drives. The host has ended what lasted.
    pub fn sleep(&mut self) {
        self.doing = Doing::Sleeps;
    }

    /// Lets it go on, at the first step of its state.
    pub fn wake(&mut self, program: &Program, now: u64) {
        let drill = program.drills.get(usize::from(self.drill));
        let state = drill.and_then(|drill| drill.states.get(usize::from(self.state)));
        if let Some(state) = state.filter(|_| self.doing == Doing::Sleeps) {
            (self.doing, self.op, self.since) = (Doing::Ready, state.entry, now);
            self.held.clear();
        }
    }

    /// Thinks: at most one change of state, and steps until one lasts.
    pub fn think(&mut self, program: &Program, now: u64, host: &mut dyn Host) {
        let Some(drill) = program.drills.get(usize::from(self.drill)) else {
            return;
        };
        if self.doing == Doing::Sleeps {
            return;
        }
        self.forget_the_gone(host);
        let Some(state) = drill.states.get(usize::from(self.state)) else {
            return;
        };
        let mut has_changed = false;
        if let Some((memory, after)) = state.on
            && self.memory(usize::from(memory)) == Value::Nothing
        {
            self.change(drill, (now, after, Why::Gone), host);
            has_changed = true;
        } else if now >= self.next_check {
            self.next_check = now + self.interval(drill, host);
            let rules = state.rules.iter();
            let found = rules.copied().find_map(|number| {
                let rule = drill.rules.get(usize::from(number))?;
                let (truth, measured) = self.weigh(drill, rule, host);
                let holds = truth.holds == Some(true);
                let holds = self.has_lasted(drill, (number, rule), (holds, now), host);
                holds.then_some((number, rule, truth.took, measured))
            });
            if let Some((number, rule, took, measured)) = found {
                if let (Some(memory), Some(unit)) = (rule.takes, took)
                    && let Some(slot) = self.memories.get_mut(usize::from(memory))
                {
                    *slot = Value::Unit(unit);
                }
                let why = Why::Rule {
                    rule: number,
                    measured,
                    took: rule.takes.and(took),
                };
                self.change(drill, (now, rule.to, why), host);
                has_changed = true;
            }
        }
        self.go_on(drill, now, has_changed, host);
    }

    /// Whether a rule that holds, or does not, has done so for as long as it says.
    fn has_lasted(
        &mut self,
        drill: &Drill,
        (rule_no, rule): (u16, &Rule),
        (holds, now): (bool, u64),
        senses: &dyn Senses,
    ) -> bool {
        let Some(lasting) = rule.lasting else {
            return holds;
        };
        let known = self.held.iter().position(|(known, _)| *known == rule_no);
        match (holds, known) {
            (false, Some(at)) => {
                self.held.swap_remove(at);
                false
            }
            (false, None) => false,
            (true, _) => {
                let since = known.map_or(now, |at| self.held[at].1);
                if known.is_none() {
                    self.held.push((rule_no, now));
                }
                let seconds = number(self.value(drill, lasting, senses)).unwrap_or(0.0);
                let ticks = (seconds * senses.ticks_per_second() as f32 + 0.5) as u64;
                now.saturating_sub(since) >= ticks
            }
        }
    }

    fn forget_the_gone(&mut self, host: &dyn Senses) {
        for memory in &mut self.memories {
            if let Value::Unit(unit) = *memory
                && host.is_gone(unit)
            {
                *memory = Value::Nothing;
            }
        }
    }

    fn change(&mut self, drill: &Drill, (at, to, why): (u64, u16, Why), host: &mut dyn Host) {
        let Some(state) = drill.states.get(usize::from(to)) else {
            return;
        };
        if self.doing == Doing::Lasts {
            host.stop();
        }
        let change = Change {
            at,
            from: self.state,
            to,
            why,
        };
        (self.state, self.doing, self.op, self.since) = (to, Doing::Ready, state.entry, at);
        self.held.clear();
        self.next_check = at + self.interval(drill, host);
        self.last = Some(change);
        host.changed(&change);
    }

    /// How many ticks there are between two checks of the rules, one at least.
    fn interval(&mut self, drill: &Drill, senses: &dyn Senses) -> u64 {
        let state = drill.states.get(usize::from(self.state));
        let every = state.map_or(Value::Nothing, |state| {
            self.value(drill, state.every, senses)
        });
        let seconds = number(every).unwrap_or(0.0);
        ((seconds * senses.ticks_per_second() as f32 + 0.5) as u64).max(1)
    }

    /// Does steps until one lasts, or all are done.
    fn go_on(&mut self, drill: &Drill, now: u64, mut has_changed: bool, host: &mut dyn Host) {
        if let Doing::Waits { until } = self.doing
            && now >= until
        {
            self.doing = Doing::Ready;
        }
        for _ in 0..STEP_LIMIT {
            if self.doing != Doing::Ready {
                return;
            }
            let Some(op) = drill.ops.get(self.op as usize).copied() else {
                self.doing = Doing::Done;
                return;
            };
            self.op += 1;
            match op {
                Op::Step { call, lasts } => {
                    let (values, count) = self.values(drill, call, host);
                    let begun = host.begin(call.word, &values[..count]);
                    if lasts && begun == Begun::Lasts {
                        self.doing = Doing::Lasts;
                    }
                }
                Op::Wait(arg) => {
                    let seconds = number(self.value(drill, arg, host)).unwrap_or(0.0);
                    let ticks = (seconds * host.ticks_per_second() as f32 + 0.5) as u64;
                    self.doing = Doing::Waits { until: now + ticks };
                    if ticks == 0 {
                        self.doing = Doing::Ready;
                    }
                }
                Op::Set { memory, to } => {
                    let value = self.operand(drill, to, host);
                    if let Some(slot) = self.memories.get_mut(usize::from(memory)) {
                        *slot = value;
                    }
                }
                Op::Jump(to) => self.op = to,
                Op::Goto { state, line } if !has_changed => {
                    self.change(drill, (now, state, Why::Step { line }), host);
                    has_changed = true;
                }
                Op::Goto { .. } => {
                    // One change a tick: it goes there in the next.
                    self.op -= 1;
                    return;
                }
                _ => self.doing = Doing::Done,
            }
        }
    }

    /// Whether the condition of a rule holds, and what was measured for it.
    pub(super) fn weigh(
        &mut self,
        drill: &Drill,
        rule: &Rule,
        senses: &dyn Senses,
    ) -> (Truth, [f32; 3]) {
        let mut truth = UNKNOWN;
        let mut measured = Measured::NONE;
        let mut at = rule.first;
        // Jumps lead forward only.
        while at < rule.end {
            let Some(op) = drill.ops.get(at as usize).copied() else {
                break;
            };
            at += 1;
            match op {
                Op::Compare(left, sign, right) => {
                    let left = number(self.operand(drill, left, senses));
                    let right = number(self.operand(drill, right, senses));
                    measured.add(left.unwrap_or(f32::NAN));
                    let both = left.zip(right);
                    truth = both.map_or(UNKNOWN, |(left, right)| {
                        Truth::of(match sign {
                            Sign::Less => left < right,
                            Sign::LessOrEqual => left <= right,
                            Sign::More => left > right,
                            Sign::MoreOrEqual => left >= right,
                            Sign::Equal => left == right,
                        })
                    });
                }
                Op::Test(call) => {
                    let (values, count) = self.values(drill, call, senses);
                    truth = match senses.test(call.word, &values[..count]) {
                        Held::No => Truth::of(false),
                        Held::Unknown => UNKNOWN,
                        Held::Yes(took) => Truth {
                            holds: Some(true),
                            took: took.or(truth.took),
                        },
                    };
                }
                Op::IsEmpty(memory) => {
                    truth = Truth::of(self.memory(usize::from(memory)) == Value::Nothing);
                }
                Op::Not => truth.holds = truth.holds.map(|holds| !holds),
                Op::JumpIfHolds(to) if truth.holds == Some(true) => at = to.max(at),
                Op::JumpUnlessHolds(to) if truth.holds != Some(true) => at = to.max(at),
                _ => {}
            }
        }
        (truth, measured.values)
    }

    fn values(
        &mut self,
        drill: &Drill,
        call: Call,
        senses: &dyn Senses,
    ) -> ([Value; MAX_VALUES], usize) {
        let mut values = [Value::Nothing; MAX_VALUES];
        let count = usize::from(call.count).min(MAX_VALUES);
        for (nth, value) in values.iter_mut().take(count).enumerate() {
            let arg = drill.args.get(call.first as usize + nth).copied();
            *value = arg.map_or(Value::Nothing, |arg| self.value(drill, arg, senses));
        }
        (values, count)
    }

    fn operand(&mut self, drill: &Drill, operand: Operand, senses: &dyn Senses) -> Value {
        match operand {
            Operand::Arg(arg) => self.value(drill, arg, senses),
            Operand::Sense(call) => {
                let (values, count) = self.values(drill, call, senses);
                senses.sense(call.word, &values[..count])
            }
        }
    }

    fn value(&mut self, drill: &Drill, arg: Arg, senses: &dyn Senses) -> Value {
        match arg {
            Arg::Value(value) => value,
            Arg::Memory(number) => self.memory(usize::from(number)),
            Arg::Sense(word) => senses.sense(word, &[]),
            Arg::Dial(number) => {
                let Some(dial) = drill.dials.get(usize::from(number)) else {
                    return Value::Nothing;
                };
                if let Some(set) = senses.dial(self.drill, number) {
                    return Value::Number(set.clamp(dial.least, dial.most));
                }
                if dial.low == dial.high {
                    return Value::Number(dial.low);
                }
                self.draws = self.draws.wrapping_add(1);
                let part = senses.chance(self.draws);
                Value::Number(dial.low + (dial.high - dial.low) * part)
            }
        }
    }
}

fn number(value: Value) -> Option<f32> {
    match value {
        Value::Number(number) => Some(number),
        _ => None,
    }
}
