//! The account as JSON for programs: all that happened, how each order ended, and how every
//! unit stands at the end.

use super::orders::{OrderTale, Way};
use super::{Account, Head, Toll, UnitEnd, What};
use serde::Serialize;
use serde_json::Value;
use std::collections::BTreeMap;
use yarrick::motion::formation::Formation;
use yarrick::scenario::{How, ZoneChange};
use yarrick::world::{Action, Event, Failure, Outcome, Spot, Verb};

#[derive(Serialize)]
struct Document<'a> {
    scenario: &'a Head,
    happenings: Vec<Entry<'a>>,
    orders: Vec<OrderEntry<'a>>,
    tolls: &'a [Toll],
    units: &'a [UnitEnd],
    ticks: u64,
    time_s: f64,
    checksum: String,
    trail: String,
}

#[derive(Serialize)]
struct Entry<'a> {
    time_s: f64,
    #[serde(flatten)]
    what: EntryWhat<'a>,
}

#[derive(Serialize)]
#[serde(tag = "what", rename_all = "kebab-case")]
enum EntryWhat<'a> {
    Selected {
        side: &'a str,
        units: Vec<String>,
        /// Left, lower, right and upper edge in metres.
        #[serde(rename = "box", skip_serializing_if = "Option::is_none")]
        dragged: Option<[f32; 4]>,
        #[serde(skip_serializing_if = "Option::is_none")]
        group: Option<usize>,
    },
    Grouped {
        side: &'a str,
        group: usize,
        units: Vec<String>,
    },
    Zone {
        name: &'a str,
        change: &'static str,
        #[serde(skip_serializing_if = "Option::is_none")]
        to: Option<[f32; 2]>,
    },
    Ground {
        change: &'a str,
        #[serde(skip_serializing_if = "str::is_empty")]
        name: &'a str,
        from: [f32; 2],
        to: [f32; 2],
    },
    Ordered {
        order: u32,
        side: &'a str,
        units: Vec<String>,
        action: ActionEntry,
        when: String,
        #[serde(skip_serializing_if = "BTreeMap::is_empty")]
        became: Became,
    },
    Rallied {
        unit: String,
        to: Vec<SpotEntry>,
    },
    Engaged {
        unit: String,
        foe: String,
    },
    Struck {
        unit: String,
        target: String,
        damage: f32,
    },
    Died {
        unit: String,
        by: String,
    },
    Refused {
        side: &'a str,
        unit: Option<String>,
        why: String,
    },
    SetOut {
        unit: String,
        order: u32,
        length_m: f32,
    },
    Ended {
        unit: String,
        order: u32,
        #[serde(flatten)]
        outcome: OutcomeEntry,
    },
    Gone {
        unit: String,
    },
}

#[derive(Serialize)]
#[serde(rename_all = "kebab-case")]
enum ActionEntry {
    Move([f32; 2]),
    AttackMove([f32; 2]),
    March {
        to: [f32; 2],
        formation: Formation,
        fight: bool,
    },
    Patrol {
        points: Vec<[f32; 2]>,
        round: bool,
    },
    Attack(String),
    Approach(String),
    Follow(String),
    Guard(SpotEntry),
    Hold,
    Stop,
    Cancel(u32),
    Rally(SpotEntry),
    Context(SpotEntry),
}

/// How many units do what, where an order fitted itself to each.
type Became = BTreeMap<&'static str, u32>;

/// A point, or the id of a unit.
#[derive(Serialize)]
#[serde(untagged)]
enum SpotEntry {
    Ground([f32; 2]),
    Unit(String),
}

#[derive(Serialize)]
struct OutcomeEntry {
    outcome: &'static str,
    #[serde(skip_serializing_if = "Option::is_none")]
    why: Option<String>,
    /// What is the matter with the goal, where that is why it failed.
    #[serde(skip_serializing_if = "Option::is_none")]
    goal_is: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    by_m: Option<f32>,
    #[serde(skip_serializing_if = "Option::is_none")]
    by_order: Option<u32>,
}

#[derive(Serialize)]
struct OrderEntry<'a> {
    order: u32,
    side: &'a str,
    given_s: f64,
    units: usize,
    action: ActionEntry,
    when: String,
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    became: Became,
    endings: Vec<EndingEntry>,
    under_way: usize,
}

#[derive(Serialize)]
struct EndingEntry {
    outcome: &'static str,
    #[serde(skip_serializing_if = "Option::is_none")]
    why: Option<String>,
    units: usize,
    first_s: f64,
    last_s: f64,
    #[serde(skip_serializing_if = "Option::is_none")]
    short_m: Option<(f32, f32)>,
}

impl Account {
    /// The account for programs, with a line end.
    pub(crate) fn to_json(&self) -> String {
        let end = &self.end;
        let document = Document {
            scenario: &self.head,
            happenings: self
                .happenings
                .iter()
                .filter_map(|told| {
                    let what = self.entry(&told.what)?;
                    let time_s = told.time_s;
                    Some(Entry { time_s, what })
                })
                .collect(),
            orders: self
                .orders
                .iter()
                .map(|order| self.order_entry(order))
                .collect(),
            tolls: &self.tolls,
            units: &end.units,
            ticks: end.ticks,
            time_s: end.time_s,
            checksum: format!("{:016x}", end.checksum),
            trail: format!("{:016x}", end.trail),
        };
        let json = serde_json::to_string_pretty(&document);
        // All keys are texts and no number is NaN, so nothing can fail here.
        json.unwrap_or_default() + "\n"
    }

    fn entry<'a>(&'a self, what: &'a What) -> Option<EntryWhat<'a>> {
        Some(match what {
            What::Selected {
                side, units, how, ..
            } => EntryWhat::Selected {
                side: self.side(*side),
                units: units.iter().map(ToString::to_string).collect(),
                dragged: match how {
                    How::Box(rect) => rect.map(|r| [r.min.x, r.min.y, r.max.x, r.max.y]),
                    How::Click | How::Group(_) => None,
                },
                group: match how {
                    How::Group(number) => Some(*number),
                    How::Click | How::Box(_) => None,
                },
            },
            What::Grouped {
                side,
                number,
                units,
                ..
            } => EntryWhat::Grouped {
                side: self.side(*side),
                group: *number,
                units: units.iter().map(ToString::to_string).collect(),
            },
            What::Ground {
                how,
                what,
                from,
                to,
            } => EntryWhat::Ground {
                change: how,
                name: what,
                from: from.to_array(),
                to: to.to_array(),
            },
            What::Zone { name, change } => EntryWhat::Zone {
                name,
                change: match change {
                    ZoneChange::Switch { on: true } => "on",
                    ZoneChange::Switch { on: false } => "off",
                    ZoneChange::Move { .. } => "moved",
                    ZoneChange::Remove => "removed",
                },
                to: match change {
                    ZoneChange::Move { to } => Some(to.to_array()),
                    _ => None,
                },
            },
            What::Refused { side, unit, why } => EntryWhat::Refused {
                side: self.side(*side),
                unit: unit.map(|unit| unit.to_string()),
                why: code(why),
            },
            What::Event(event) => self.event_entry(event)?,
        })
    }

    fn event_entry(&self, event: &Event) -> Option<EntryWhat<'_>> {
        Some(match event {
            Event::Ordered {
                order,
                side,
                units,
                action,
                when,
                became,
            } => EntryWhat::Ordered {
                order: order.0,
                side: self.side(*side),
                units: units.iter().map(ToString::to_string).collect(),
                action: action_entry(action),
                when: code(when),
                became: became
                    .iter()
                    .map(|(verb, count)| (verb.word(), *count))
                    .collect(),
            },
            Event::SetOut {
                unit,
                order,
                length_m,
            } => EntryWhat::SetOut {
                unit: unit.to_string(),
                order: order.0,
                length_m: *length_m,
            },
            Event::Ended {
                unit,
                order,
                outcome,
            } => EntryWhat::Ended {
                unit: unit.to_string(),
                order: order.0,
                outcome: outcome_entry(*outcome),
            },
            Event::Gone { unit } => EntryWhat::Gone {
                unit: unit.to_string(),
            },
            event => fight_entry(event)?,
        })
    }

    fn order_entry(&self, order: &OrderTale) -> OrderEntry<'_> {
        OrderEntry {
            order: order.number,
            side: self.side(order.side),
            given_s: order.given_s,
            units: order.units,
            action: action_entry(&order.action),
            when: code(&order.when),
            became: became_entry(&order.became),
            endings: order
                .endings
                .iter()
                .map(|ending| {
                    let (outcome, why) = match &ending.way {
                        Way::Done => ("done", None),
                        Way::CameShort(why) => ("came-short", Some(why.clone())),
                        Way::Replaced(by) => ("replaced", Some(format!("by order {by}"))),
                        Way::Failed(why) => ("failed", Some(why.clone())),
                        Way::UnitLost => ("unit-lost", None),
                    };
                    EndingEntry {
                        outcome,
                        why,
                        units: ending.units,
                        first_s: ending.first_s,
                        last_s: ending.last_s,
                        short_m: ending.short_m,
                    }
                })
                .collect(),
            under_way: order.open(),
        }
    }
}

/// What has to do with fighting, and with rally points.
fn fight_entry(event: &Event) -> Option<EntryWhat<'static>> {
    Some(match event {
        Event::Rallied { unit, to } => EntryWhat::Rallied {
            unit: unit.to_string(),
            to: to.iter().map(|spot| spot_entry(*spot)).collect(),
        },
        Event::Engaged { unit, foe } => EntryWhat::Engaged {
            unit: unit.to_string(),
            foe: foe.to_string(),
        },
        Event::Struck {
            unit,
            target,
            damage,
        } => EntryWhat::Struck {
            unit: unit.to_string(),
            target: target.to_string(),
            damage: *damage,
        },
        Event::Died { unit, by } => EntryWhat::Died {
            unit: unit.to_string(),
            by: by.to_string(),
        },
        _ => return None,
    })
}

fn action_entry(action: &Action) -> ActionEntry {
    match action {
        Action::Move { to } => ActionEntry::Move(to.to_array()),
        Action::AttackMove { to } => ActionEntry::AttackMove(to.to_array()),
        Action::March {
            to,
            formation,
            fight,
        } => ActionEntry::March {
            to: to.to_array(),
            formation: *formation,
            fight: *fight,
        },
        Action::Patrol { points, round } => ActionEntry::Patrol {
            points: points.iter().map(|point| point.to_array()).collect(),
            round: *round,
        },
        Action::Attack { target } => ActionEntry::Attack(target.to_string()),
        Action::Approach { target, .. } => ActionEntry::Approach(target.to_string()),
        Action::Follow { target } => ActionEntry::Follow(target.to_string()),
        Action::Guard { ward } => ActionEntry::Guard(spot_entry(*ward)),
        Action::Hold => ActionEntry::Hold,
        Action::Stop => ActionEntry::Stop,
        Action::Cancel { order } => ActionEntry::Cancel(order.0),
        Action::Rally { to } => ActionEntry::Rally(spot_entry(*to)),
        Action::Context { at } => ActionEntry::Context(spot_entry(*at)),
    }
}

fn became_entry(became: &[(Verb, u32)]) -> Became {
    let entry = |(verb, count): &(Verb, u32)| (verb.word(), *count);
    became.iter().map(entry).collect()
}

fn spot_entry(spot: Spot) -> SpotEntry {
    match spot {
        Spot::Ground(point) => SpotEntry::Ground(point.to_array()),
        Spot::Unit(unit) => SpotEntry::Unit(unit.to_string()),
    }
}

fn outcome_entry(outcome: Outcome) -> OutcomeEntry {
    let plain = |outcome| OutcomeEntry {
        outcome,
        why: None,
        goal_is: None,
        by_m: None,
        by_order: None,
    };
    match outcome {
        Outcome::CameShort { why, by_m } => OutcomeEntry {
            why: Some(code(&why)),
            by_m: Some(by_m),
            ..plain("came-short")
        },
        Outcome::Replaced { by } => OutcomeEntry {
            by_order: Some(by.0),
            ..plain("replaced")
        },
        Outcome::Failed { why } => OutcomeEntry {
            why: Some(code(&why)),
            goal_is: match why {
                Failure::NoWay(short) => Some(code(&short)),
                _ => None,
            },
            ..plain("failed")
        },
        Outcome::UnitLost => plain("unit-lost"),
        Outcome::Done => plain("done"),
    }
}

/// The name of a reason, as the library itself writes it: `cut-off`, say.
pub(crate) fn code(reason: &impl Serialize) -> String {
    match serde_json::to_value(reason) {
        Ok(Value::String(name)) => name,
        // A reason that carries another is a table with its name as the only key.
        Ok(Value::Object(table)) => table.keys().next().cloned().unwrap_or_default(),
        _ => String::new(),
    }
}
