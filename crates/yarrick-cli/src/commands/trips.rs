//! `yarrick route --by-places`: ways over the places and legs that are drawn on a map.

use crate::account::plural;
use crate::arguments::Route as Asked;
use crate::commands::draw::write_sheet;
use crate::failure::Failure;
use serde::Serialize;
use std::fmt::Write as _;
use yarrick::route::{Trip, Waypoints};
use yarrick::{Scenario, Vec2, World};
use yarrick_draw::{Overlay, Scene};

/// A way over places, and which it was to be.
struct Found<'a> {
    waypoints: &'a Waypoints,
    from: u32,
    to: u32,
    trip: Option<Trip>,
}

#[derive(Serialize)]
struct Document<'a> {
    scenario: &'a str,
    from: &'a str,
    to: &'a str,
    found: bool,
    places: Vec<&'a str>,
    cost_m: Option<f32>,
    settled: u32,
}

/// Finds the ways, and draws them if asked. Gives the text to print.
pub(crate) fn run(
    scenario: &Scenario,
    world: &World,
    asked: &Asked,
    from: Vec2,
) -> Result<String, Failure> {
    let Some(waypoints) = &scenario.waypoints else {
        let why = "there are no places on this map: a scenario has them as [[place]] and [[leg]]";
        return Err(Failure::Usage(why.to_owned()));
    };
    let mut from = nearest(waypoints, from)?;
    let mut all = Vec::new();
    for &to in &asked.to {
        let to = nearest(waypoints, to)?;
        let trip = waypoints.find(from, to);
        let start = core::mem::replace(&mut from, to);
        all.push(Found {
            waypoints,
            from: start,
            to,
            trip,
        });
    }
    if let Some(output) = &asked.output {
        let trips = all.iter().filter_map(|found| found.trip.as_ref());
        let trip: Vec<u32> = trips.flat_map(|trip| trip.places.iter().copied()).collect();
        let scene = Scene {
            overlay: Some(Overlay::Places {
                waypoints,
                trip: &trip,
            }),
            ..Scene::of(&scenario.title, world)
        };
        write_sheet(&scene.draw(asked.size), output)?;
    }
    if asked.json {
        Ok(to_json(&scenario.title, &all))
    } else {
        Ok(format!("{}\n{}", scenario.title, to_text(&all)))
    }
}

fn nearest(waypoints: &Waypoints, point: Vec2) -> Result<u32, Failure> {
    let off = || Failure::Usage(format!("({}, {}) is no point", point.x, point.y));
    waypoints.nearest(point).ok_or_else(off)
}

impl Found<'_> {
    fn name(&self, place: u32) -> &str {
        &self.waypoints.places()[place as usize].name
    }
}

fn to_text(all: &[Found<'_>]) -> String {
    let text = |found: &Found<'_>| {
        let mut text = String::new();
        // Writing to a string cannot fail.
        let _ = write(&mut text, found);
        text
    };
    let texts: Vec<String> = all.iter().map(text).collect();
    let text = texts.join("\n");
    if all.len() < 2 {
        return text;
    }
    let trips = || all.iter().filter_map(|found| found.trip.as_ref());
    let legs: usize = trips().map(|trip| trip.places.len() - 1).sum();
    let cost: f32 = trips().map(|trip| trip.cost_m).sum();
    let legs = plural(legs, "leg");
    format!("{text}\nAltogether {legs}; takes as long as {cost:.2} m of plain ground.\n")
}

fn write(text: &mut String, found: &Found<'_>) -> std::fmt::Result {
    let (from, to) = (found.name(found.from), found.name(found.to));
    writeln!(text, "from {from} to {to}\n")?;
    let Some(trip) = &found.trip else {
        return writeln!(text, "No way: no legs lead there.");
    };
    for (k, place) in trip.places.iter().enumerate() {
        let at = found.waypoints.places()[*place as usize].at;
        let name = found.name(*place);
        writeln!(text, "{:>4}  {name:<20} ({:.2}, {:.2})", k + 1, at.x, at.y)?;
    }
    let legs = plural(trip.places.len() - 1, "leg");
    let cost = trip.cost_m;
    writeln!(
        text,
        "\n{legs}; takes as long as {cost:.2} m of plain ground"
    )?;
    let settled = plural(trip.settled as usize, "place");
    writeln!(text, "The search settled {settled}.")
}

fn to_json(title: &str, all: &[Found<'_>]) -> String {
    let document = |found: &'_ Found<'_>| {
        let trip = found.trip.as_ref();
        let places = trip.map_or(&[][..], |trip| &trip.places);
        let document = Document {
            scenario: title,
            from: found.name(found.from),
            to: found.name(found.to),
            found: trip.is_some(),
            places: places.iter().map(|place| found.name(*place)).collect(),
            cost_m: trip.map(|trip| trip.cost_m),
            settled: trip.map_or(0, |trip| trip.settled),
        };
        // All keys are texts and no number is NaN, so nothing can fail here.
        serde_json::to_string_pretty(&document).unwrap_or_default()
    };
    let texts: Vec<String> = all.iter().map(document).collect();
    match &texts[..] {
        [only] => format!("{only}\n"),
        _ => format!("[{}]\n", texts.join(",\n")),
    }
}
