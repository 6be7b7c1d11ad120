//! How well flocks held together, as text or as JSON.

use serde::Serialize;
use std::fmt::Write as _;
use yarrick::Scenario;
use yarrick::scenario::{FlockMeasured, ZoneMeasured};

#[derive(Serialize)]
pub(super) struct FlockEntry<'a> {
    name: &'a str,
    members: usize,
    left_pen: u64,
    fastest_m_s: f32,
    speed_limit_m_s: f32,
    sharpest_turn_deg_s: f32,
    turn_limit_deg_s: f32,
    parts: Vec<PartEntry>,
    zones: Vec<ZoneEntry>,
}

#[derive(Serialize)]
struct PartEntry {
    from_s: f64,
    to_s: f64,
    local_alignment: f32,
    spacing_m: f32,
}

#[derive(Serialize)]
struct ZoneEntry {
    name: String,
    role: &'static str,
    in_reach: Vec<(f64, u32)>,
}

pub(super) fn entry<'a>(scenario: &Scenario, flock: &'a FlockMeasured) -> FlockEntry<'a> {
    let parts = flock.parts.iter().map(|part| PartEntry {
        from_s: part.between_s.0,
        to_s: part.between_s.1,
        local_alignment: part.local_alignment,
        spacing_m: part.spacing_m,
    });
    let zones = flock.zones.iter().map(|zone| ZoneEntry {
        name: name(scenario, flock, zone),
        role: zone.role.word(),
        in_reach: zone.in_reach.clone(),
    });
    FlockEntry {
        name: &flock.name,
        members: flock.members,
        left_pen: flock.left_pen,
        fastest_m_s: flock.fastest,
        speed_limit_m_s: flock.params.speed.1,
        sharpest_turn_deg_s: flock.sharpest.to_degrees(),
        turn_limit_deg_s: flock.params.turn_rate.to_degrees(),
        parts: parts.collect(),
        zones: zones.collect(),
    }
}

/// What the scenario calls a zone of a flock: they come into the flock in the order of the scenario.
fn name(scenario: &Scenario, flock: &FlockMeasured, zone: &ZoneMeasured) -> String {
    let of_flock = |plan: &&yarrick::scenario::ZonePlan| plan.flocks.contains(&flock.flock.0);
    let mut plans = scenario.zones.iter().filter(of_flock);
    let plan = plans.nth(zone.zone.number() as usize);
    plan.map_or_else(|| zone.zone.to_string(), |plan| plan.name.clone())
}

pub(super) fn write(
    text: &mut String,
    scenario: &Scenario,
    flock: &FlockMeasured,
) -> std::fmt::Result {
    writeln!(text, "\nflock {:?}: {} members", flock.name, flock.members)?;
    match flock.left_pen {
        0 => writeln!(text, "  none ever crossed the edge of a pen that it was in")?,
        count => writeln!(text, "  members left a pen that they were in {count} times")?,
    }
    writeln!(
        text,
        "  the fastest {:.2} of {:.2} m/s, the sharpest turn {:.0} of {:.0} degrees a second",
        flock.fastest,
        flock.params.speed.1,
        flock.sharpest.to_degrees(),
        flock.params.turn_rate.to_degrees(),
    )?;
    for part in &flock.parts {
        let (from, to) = part.between_s;
        writeln!(
            text,
            "  {from:>5.0} to {to:>4.0} s: each goes the way of those round it to {:.3}, and keeps {:.2} m from the next",
            part.local_alignment, part.spacing_m
        )?;
    }
    for zone in &flock.zones {
        write_zone(text, &name(scenario, flock, zone), zone)?;
    }
    Ok(())
}

fn write_zone(text: &mut String, name: &str, zone: &ZoneMeasured) -> std::fmt::Result {
    let role = zone.role.word();
    let (Some(first), Some(last)) = (zone.in_reach.first(), zone.in_reach.last()) else {
        return writeln!(text, "  {role} {name:?}: never on");
    };
    let mean = zone
        .in_reach
        .iter()
        .map(|look| f64::from(look.1))
        .sum::<f64>();
    let mean = mean / zone.in_reach.len() as f64;
    write!(
        text,
        "  {role} {name:?}, in its reach: {} at {:.0} s, {mean:.0} on average",
        first.1, first.0
    )?;
    if let Some((time_s, most)) = zone.most() {
        write!(text, ", {most} at most ({time_s:.0} s)")?;
        if let Some((time_s, least)) = zone.fewest_after(time_s) {
            write!(text, ", {least} at least after that ({time_s:.0} s)")?;
        }
    }
    writeln!(text, ", {} at the end", last.1)
}
