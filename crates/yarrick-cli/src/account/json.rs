//! The account as JSON for programs: all that happened, how each order ended, and how every
//! unit stands at the end.

use super::contest::{Verdict, WaveTale};
use super::orders::{OrderTale, Way};
use super::{Account, Head, Losses, Mind, UnitEnd, What};
use serde::Serialize;
use serde_json::Value;
use std::collections::BTreeMap;
use yarrick::scenario::{SelectedBy, ZoneChange};
use yarrick::world::{Action, Event, Verb};

#[derive(Serialize)]
struct Document<'a> {
    scenario: &'a Head,
    events: Vec<Entry<'a>>,
    orders: Vec<OrderEntry<'a>>,
    tolls: &'a [Losses],
    #[serde(skip_serializing_if = "<[WaveTale]>::is_empty")]
    waves: &'a [WaveTale],
    /// What each side owns at the end, by resource.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    stores: Vec<BTreeMap<String, u64>>,
    #[serde(skip_serializing_if = "Option::is_none")]
    verdict: Option<&'a Verdict>,
    units: &'a [UnitEnd],
    /// What the drills of the units that were asked for did, and why.
    #[serde(skip_serializing_if = "<[Mind]>::is_empty")]
    minds: &'a [Mind],
    ticks: u64,
    time_s: f64,
    checksum: String,
    trail: String,
}

#[derive(Serialize)]
struct Entry<'a> {
    time_s: f64,
    /// Where in the script that stands which this answers.
    #[serde(skip_serializing_if = "Option::is_none")]
    line: Option<String>,
    #[serde(flatten)]
    what: Either<'a>,
}

/// Something that a player did, or an event of the world in its own form.
#[derive(Serialize)]
#[serde(untagged)]
enum Either<'a> {
    Play(EntryWhat<'a>),
    World(&'a Event),
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
    NotPlaced {
        side: &'a str,
        kind: &'a str,
        why: Vec<String>,
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
}

/// How many units do what, where an order fitted itself to each.
type Became = BTreeMap<&'static str, u32>;

#[derive(Serialize)]
struct OrderEntry<'a> {
    order: u32,
    side: &'a str,
    given_s: f64,
    units: usize,
    action: &'a Action,
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
            events: self
                .happenings
                .iter()
                .map(|happening| Entry {
                    time_s: happening.time_s,
                    line: happening.line.as_ref().map(ToString::to_string),
                    what: self.entry(&happening.what),
                })
                .collect(),
            orders: self
                .orders
                .iter()
                .map(|order| self.order_entry(order))
                .collect(),
            tolls: &self.tolls,
            waves: &self.contest.waves,
            stores: self.contest.by_name(),
            verdict: self.contest.verdict.as_ref(),
            units: &end.units,
            minds: &self.minds,
            ticks: end.ticks,
            time_s: end.time_s,
            checksum: format!("{:016x}", end.checksum),
            trail: format!("{:016x}", end.trail),
        };
        let json = serde_json::to_string_pretty(&document);
        // All keys are texts and no number is NaN, so nothing can fail here.
        json.unwrap_or_default() + "\n"
    }

    fn entry<'a>(&'a self, what: &'a What) -> Either<'a> {
        Either::Play(match what {
            What::Selected {
                side, units, how, ..
            } => EntryWhat::Selected {
                side: self.side(*side),
                units: units.iter().map(ToString::to_string).collect(),
                dragged: match how {
                    SelectedBy::Box(rect) => rect.map(|r| [r.min.x, r.min.y, r.max.x, r.max.y]),
                    SelectedBy::Click | SelectedBy::Group(_) => None,
                },
                group: match how {
                    SelectedBy::Group(number) => Some(*number),
                    SelectedBy::Click | SelectedBy::Box(_) => None,
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
            What::NotPlaced { side, kind, why } => EntryWhat::NotPlaced {
                side: self.side(*side),
                kind: self.names.kind(*kind),
                why: self.not_placed(why),
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
            What::Event(event) => return Either::World(event),
        })
    }

    fn order_entry<'a>(&'a self, order: &'a OrderTale) -> OrderEntry<'a> {
        OrderEntry {
            order: order.number,
            side: self.side(order.side),
            given_s: order.given_s,
            units: order.units,
            action: &order.action,
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
                        Way::Stopped => ("stopped", None),
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

fn became_entry(became: &[(Verb, u32)]) -> Became {
    let entry = |(verb, count): &(Verb, u32)| (verb.word(), *count);
    became.iter().map(entry).collect()
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
