//! The steps that a world understands, each with its declaration: most start an activity.

use crate::drill::{Begun, Change, Faculty, Held, Host, Senses, Value, Word};
use crate::rng::Stream;
use crate::world::activity::{
    Activity, Attack, Chase, Dash, Face, Flee, Journey, KeepRange, Level, Strike, Toward, Wander,
};
use crate::world::ids::UnitId;
use crate::world::message::Event;
use crate::world::orders::Dispatch;
use crate::world::senses::{Declared, Look};
use crate::world::state::{Departure, Patience, Sway};

/// The world as the drill of one unit changes it.
pub(crate) struct DrillHost<'a, 'b> {
    pub(crate) dispatch: &'a mut Dispatch<'b>,
    pub(crate) row: usize,
    pub(crate) nth: usize,
    pub(crate) since: u64,
}

type Begin = fn(&mut DrillHost<'_, '_>, &[Value]) -> Begun;

const LEGS: u8 = Faculty::Legs as u8;
const ARMS: u8 = Faculty::Arms as u8;

/// Everything that can be done.
pub(crate) const STEPS: &[(Declared, Begin)] = &[
    (
        || {
            Word::step(
                "stand",
                LEGS,
                true,
                "stands still, until a rule says otherwise",
            )
        },
        |host, _| host.start(Activity::Face(Face { whom: None })),
    ),
    (
        || {
            let about = "goes to a place by a route; one that fails is tried again";
            Word::step("go to {place}", LEGS, true, about).with("at {%}")
        },
        |host, values| host.journey(values.first(), part(values.get(1)), None),
    ),
    (
        || {
            let about = "goes to a place, swinging from side to side about its way";
            Word::step("weave to {place}", LEGS, true, about)
                .with("width {m}")
                .with("swing {s}")
                .with("phase random")
                .with("at {%}")
        },
        |host, values| {
            let width_m = number(values.get(1)).unwrap_or(3.0).clamp(0.0, 100.0);
            let swing_s = number(values.get(2)).unwrap_or(4.0).clamp(0.1, 600.0);
            let phase = match values.get(3) {
                Some(Value::Flag) => host.look().chance(u32::MAX),
                _ => 0.0,
            };
            let sway = Sway {
                half_m: width_m * 0.5,
                ticks: swing_s * host.look().ticks_per_second() as f32,
                phase,
                since: 0,
            };
            host.journey(values.first(), part(values.get(4)), Some(sway))
        },
    ),
    (
        || Word::step("wander", LEGS, true, "goes now this way, now that").with("at {%}"),
        |host, values| {
            let unit = host.unit().number();
            let seed = host.dispatch.state.rules.seed ^ unit.wrapping_mul(0x9e37_79b9_7f4a_7c15);
            let stream = Stream::new(seed, "wander");
            let wander = Wander::new(part(values.first()), stream);
            host.start(Activity::Wander(Box::new(wander)))
        },
    ),
    (
        || {
            let about = "goes straight for a unit, without braking: with an acceleration it overshoots and comes back";
            Word::step("chase {unit}", LEGS, true, about)
                .with("acceleration {m/s2}")
                .with("top speed {m/s}")
        },
        |host, values| {
            let Some(prey) = host.other(values.first()) else {
                return Begun::Done;
            };
            host.start(Activity::Chase(Chase {
                prey,
                acceleration: number(values.get(1)).map(|most| most.clamp(0.01, 1000.0)),
                top_speed: number(values.get(2)).map(|most| most.clamp(0.0, 100.0)),
                patience: Patience::default(),
            }))
        },
    ),
    (
        || {
            Word::step(
                "flee {unit}",
                LEGS,
                true,
                "goes away from a unit, along walls",
            )
            .with("at {%}")
        },
        |host, values| {
            let Some(from) = host.other(values.first()) else {
                return Begun::Done;
            };
            let pace = part(values.get(1));
            host.start(Activity::Flee(Flee { from, pace }))
        },
    ),
    (
        || {
            let about = "comes nearer to a unit when it is far, and backs away when it is near";
            Word::step("keep between {m} and {m} of {unit}", LEGS, true, about)
                .with("facing {unit}")
        },
        |host, values| {
            let Some(of) = host.other(values.get(2)) else {
                return Begun::Done;
            };
            let near_m = number(values.first()).unwrap_or(0.0).max(0.0);
            let far_m = number(values.get(1)).unwrap_or(0.0).max(near_m);
            host.start(Activity::KeepRange(KeepRange {
                of,
                near_m,
                far_m,
                facing: matches!(values.get(3), Some(Value::Unit(_))),
                patience: Patience::default(),
            }))
        },
    ),
    (
        || {
            Word::step(
                "face {unit}",
                LEGS,
                true,
                "stands, and turns to a unit until it faces it",
            )
        },
        |host, values| {
            let Some(whom) = host.other(values.first()) else {
                return Begun::Done;
            };
            host.start(Activity::Face(Face { whom: Some(whom) }))
        },
    ),
    (
        || {
            let about = "goes for a unit and strikes it until it is dead";
            Word::step("attack {unit}", LEGS | ARMS, true, about)
        },
        |host, values| {
            let Some(target) = host.other(values.first()) else {
                return Begun::Done;
            };
            host.start(Activity::Attack(Attack::new(target)))
        },
    ),
    (
        || {
            let about =
                "strikes a unit once, as soon as it is within range and the weapon is ready";
            Word::step("strike {unit}", ARMS, true, about)
        },
        |host, values| {
            let Some(target) = host.other(values.first()) else {
                return Begun::Done;
            };
            let ready_at = 0;
            host.start(Activity::Strike(Strike { target, ready_at }))
        },
    ),
    (
        || {
            let about = "moves along one axis of the map only, to where a unit is on it";
            Word::step("go level with {unit} along {x|y}", LEGS, true, about).with("at {%}")
        },
        |host, values| {
            let Some(with) = host.other(values.first()) else {
                return Begun::Done;
            };
            host.start(Activity::Level(Level {
                with,
                along_y: values.get(1) == Some(&Value::Choice(1)),
                pace: part(values.get(2)),
            }))
        },
    ),
    (
        || {
            let about =
                "dashes straight to where a unit is now, for a time, or until it touches it";
            Word::step("dash to {unit}", LEGS, true, about)
                .with("at {%}")
                .with("for {s}")
        },
        |host, values| {
            let Some(at) = host.other(values.first()) else {
                return Begun::Done;
            };
            let seconds = number(values.get(2)).unwrap_or(0.5).clamp(0.0, 60.0);
            let ticks = (seconds * host.look().ticks_per_second() as f32).round() as u32;
            host.start(Activity::Dash(Dash {
                at,
                pace: part(values.get(1)).unwrap_or(1.0),
                ticks,
                ahead: Default::default(),
                until: 0,
            }))
        },
    ),
    (
        || Word::step("cue {text}", 0, false, "a signal for animation and sound"),
        |host, values| {
            let Some(Value::Text(cue)) = values.first().copied() else {
                return Begun::Done;
            };
            let unit = host.unit();
            host.dispatch.events.push(Event::Cue { unit, cue });
            Begun::Done
        },
    ),
    (
        || {
            let about = "leaves the world; a unit of the assault at its goal has leaked before";
            Word::step("leave", LEGS, false, about)
        },
        |host, _| {
            let departure = (host.unit(), Departure::Removed);
            host.dispatch.scratch.departures.push(departure);
            Begun::Done
        },
    ),
];

fn number(value: Option<&Value>) -> Option<f32> {
    match value {
        Some(Value::Number(number)) => Some(*number),
        _ => None,
    }
}

/// A part of a speed: from nothing to ten times as fast.
fn part(value: Option<&Value>) -> Option<f32> {
    number(value).map(|part| part.clamp(0.0, 10.0))
}

impl DrillHost<'_, '_> {
    fn look(&self) -> Look<'_> {
        Look {
            state: self.dispatch.state,
            near: Some(&self.dispatch.scratch.near),
            row: self.row,
            nth: self.nth,
            since: self.since,
        }
    }

    fn unit(&self) -> UnitId {
        self.dispatch.state.units.id[self.row]
    }

    /// The unit that is a value, if it is still there.
    fn other(&self, value: Option<&Value>) -> Option<UnitId> {
        let row = self.look().row_of(value)?;
        Some(self.dispatch.state.units.id[row])
    }

    fn start(&mut self, activity: Activity) -> Begun {
        if self
            .dispatch
            .start_drill(self.row, self.nth as u8, activity)
        {
            Begun::Lasts
        } else {
            Begun::Done
        }
    }

    fn journey(&mut self, to: Option<&Value>, pace: Option<f32>, sway: Option<Sway>) -> Begun {
        let to = match to {
            Some(Value::Unit(_)) => self.other(to).map(Toward::Unit),
            _ => self.look().point_of(to).map(Toward::Point),
        };
        let Some(to) = to else {
            // A unit without a goal stays where it is.
            return self.start(Activity::Face(Face { whom: None }));
        };
        self.start(Activity::Journey(Journey {
            to,
            pace,
            sway,
            next: 0,
        }))
    }
}

impl Senses for DrillHost<'_, '_> {
    fn sense(&self, word: u16, values: &[Value]) -> Value {
        self.look().sense(word, values)
    }

    fn test(&self, word: u16, values: &[Value]) -> Held {
        self.look().test(word, values)
    }

    fn is_gone(&self, unit: u64) -> bool {
        self.look().is_gone(unit)
    }

    fn dial(&self, drill: u16, dial: u16) -> Option<f32> {
        self.look().dial(drill, dial)
    }

    fn chance(&self, nth: u32) -> f32 {
        self.look().chance(nth)
    }

    fn ticks_per_second(&self) -> u32 {
        self.look().ticks_per_second()
    }
}

impl Host for DrillHost<'_, '_> {
    fn begin(&mut self, word: u16, values: &[Value]) -> Begun {
        if let Some((_, begin)) = STEPS.get(usize::from(word)) {
            return begin(self, values);
        }
        // A step of the game: it is for the game to do.
        let (unit, drill) = (self.unit(), self.nth as u8);
        self.dispatch.events.push(Event::Asked {
            unit,
            drill,
            step: word - STEPS.len() as u16,
            values: values.to_vec(),
        });
        Begun::Lasts
    }

    fn stop(&mut self) {
        self.dispatch.stop_drill(self.row, self.nth as u8);
    }

    fn changed(&mut self, change: &Change) {
        self.since = change.at;
    }
}
