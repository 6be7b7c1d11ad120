//! How well the units of a run moved, as text or as JSON.

mod flocks;

use crate::arguments::Threads;
use crate::progress::Progress;
use serde::Serialize;
use std::fmt::Write as _;
use yarrick::scenario::{Measure, Measured, OrderMeasured, STILL_M_S, TallyMeasured};
use yarrick::world::WorldError;
use yarrick::{Scenario, UnitId};

/// The figures of a run.
pub(crate) struct Figures<'a> {
    scenario: &'a Scenario,
    seconds: f64,
    measured: Measured,
    /// What the two are called that overlapped most.
    overlapping: [String; 2],
    /// What the one is called that trembled most.
    trembling: String,
}

#[derive(Serialize)]
struct Document<'a> {
    scenario: &'a str,
    time_s: f64,
    orders: Vec<OrderEntry>,
    tallies: Vec<TallyEntry<'a>>,
    #[serde(skip_serializing_if = "Option::is_none")]
    deepest_overlap: Option<OverlapEntry>,
    inside_closed_ground: u64,
    calm: CalmEntry,
    #[serde(skip_serializing_if = "Vec::is_empty")]
    flocks: Vec<flocks::FlockEntry<'a>>,
}

#[derive(Serialize)]
struct OrderEntry {
    order: u32,
    given_s: f64,
    units: usize,
    arrived: usize,
    failed: usize,
    ended_s: Option<f64>,
    settled_s: Option<f64>,
    alone_s: f64,
    held_up_s: f64,
}

#[derive(Serialize)]
struct TallyEntry<'a> {
    name: &'a str,
    crossed: usize,
    first_s: f64,
    last_s: f64,
    per_s: f64,
    files: usize,
    ideal_per_s: f64,
    pause_s: f64,
    out_of_turn_s: f64,
}

#[derive(Serialize)]
struct CalmEntry {
    most_swayed_m: f32,
    trembling: usize,
    jostling: usize,
    dithering: usize,
}

#[derive(Serialize)]
struct OverlapEntry {
    part_of_smaller_radius: f32,
    time_s: f64,
    units: [String; 2],
    at: [f32; 2],
}

impl<'a> Figures<'a> {
    /// Plays a scenario to a time, and measures it.
    pub(crate) fn of(
        scenario: &'a Scenario,
        seed: Option<u64>,
        until_s: f64,
        threads: Threads,
    ) -> Result<Figures<'a>, WorldError> {
        let mut play = scenario.play(seed)?;
        play.set_threads(threads.count());
        let rate = f64::from(play.world().ticks_per_second());
        let mut progress = Progress::new((until_s * rate) as u64);
        let mut measure = Measure::begin(play.world(), &scenario.tallies);
        play.run_until(until_s, |world, happened| {
            measure.note(world, happened);
            progress.tick(world.tick());
        });
        progress.finish();
        let measured = measure.close();
        let name = |unit: UnitId| {
            let name = play.name_of(unit).map(str::to_owned);
            name.unwrap_or_else(|| unit.to_string())
        };
        let overlap = measured.overlap.map(|overlap| overlap.units);
        let trembled = measured.calm.trembled.map(|(_, unit, _)| name(unit));
        Ok(Figures {
            scenario,
            seconds: play.world().time_s(),
            measured,
            trembling: trembled.unwrap_or_default(),
            overlapping: overlap.map_or_else(Default::default, |(a, b)| [name(a), name(b)]),
        })
    }

    pub(crate) fn to_text(&self) -> String {
        let mut text = String::new();
        // Writing to a string cannot fail.
        let _ = self.write(&mut text);
        text
    }

    fn write(&self, text: &mut String) -> std::fmt::Result {
        writeln!(text, "{}, {:.2} s", self.scenario.title, self.seconds)?;
        for order in &self.measured.orders {
            write_order(text, order)?;
        }
        for tally in &self.measured.tallies {
            write_tally(text, tally)?;
        }
        for flock in &self.measured.flocks {
            flocks::write(text, self.scenario, flock)?;
        }
        // Where there are only flocks there is nobody to touch anybody.
        if self.measured.units == 0 {
            return Ok(());
        }
        writeln!(text)?;
        match &self.measured.overlap {
            None => writeln!(text, "no two bodies ever overlapped")?,
            Some(overlap) => writeln!(
                text,
                "deepest overlap {:.1} % of the smaller radius: {} and {} at ({:.1}, {:.1}), at {:.2} s",
                overlap.depth * 100.0,
                self.overlapping[0],
                self.overlapping[1],
                overlap.at.x,
                overlap.at.y,
                overlap.time_s,
            )?,
        }
        match self.measured.inside_closed {
            0 => writeln!(text, "nobody ever touched closed ground")?,
            count => writeln!(
                text,
                "bodies touched closed ground {count} times, counted each tick"
            )?,
        }
        self.write_calm(text)
    }

    fn write_calm(&self, text: &mut String) -> std::fmt::Result {
        let calm = self.measured.calm;
        match (calm.trembling, calm.trembled) {
            (0, _) | (_, None) => {
                writeln!(
                    text,
                    "nobody that waited moved more than 2 cm to and fro in a second"
                )?;
            }
            (count, Some((most_m, _, time_s))) => writeln!(
                text,
                "{count} moved more than 2 cm to and fro in a second while they waited; the most {:.0} cm: {}, at {time_s:.2} s",
                most_m * 100.0,
                self.trembling,
            )?,
        }
        match calm.jostling {
            0 => writeln!(text, "nobody under way was pushed to and fro on one spot")?,
            count => writeln!(text, "{count} under way were pushed to and fro on one spot")?,
        }
        match calm.dithering {
            0 => writeln!(
                text,
                "nobody turned by more than 90 degrees forth and back twice in a second"
            ),
            count => writeln!(
                text,
                "{count} turned by more than 90 degrees forth and back twice in a second"
            ),
        }
    }

    pub(crate) fn to_json(&self) -> String {
        let measured = &self.measured;
        let overlap = measured.overlap.map(|overlap| OverlapEntry {
            part_of_smaller_radius: overlap.depth,
            time_s: overlap.time_s,
            units: [overlap.units.0.to_string(), overlap.units.1.to_string()],
            at: overlap.at.to_array(),
        });
        let document = Document {
            scenario: &self.scenario.title,
            time_s: self.seconds,
            orders: measured.orders.iter().map(order_entry).collect(),
            tallies: measured.tallies.iter().map(tally_entry).collect(),
            deepest_overlap: overlap,
            inside_closed_ground: measured.inside_closed,
            calm: CalmEntry {
                most_swayed_m: measured.calm.trembled.map_or(0.0, |(most_m, ..)| most_m),
                trembling: measured.calm.trembling,
                jostling: measured.calm.jostling,
                dithering: measured.calm.dithering,
            },
            flocks: measured
                .flocks
                .iter()
                .map(|flock| flocks::entry(self.scenario, flock))
                .collect(),
        };
        // Nothing in it can fail to be written.
        let mut text = serde_json::to_string_pretty(&document).unwrap_or_default();
        text.push('\n');
        text
    }
}

fn write_order(text: &mut String, order: &OrderMeasured) -> std::fmt::Result {
    let (units, arrived) = (order.units, order.arrived);
    write!(
        text,
        "\norder {}, given at {:.2} s: {arrived} of {units} arrived",
        order.order.0, order.given_s
    )?;
    if order.failed > 0 {
        write!(text, ", {} failed", order.failed)?;
    }
    writeln!(text)?;
    writeln!(
        text,
        "  the farthest alone would need {:.2} s",
        order.alone_s
    )?;
    let times = |took_s: f64| took_s / order.alone_s.max(1e-9);
    match order.ended_s {
        Some(took_s) => writeln!(
            text,
            "  all ended after {took_s:.2} s, {:.2} times that",
            times(took_s)
        )?,
        None => writeln!(text, "  some were still under way at the end")?,
    }
    match order.settled_s {
        Some(took_s) => writeln!(
            text,
            "  nobody moved faster than {:.0} cm/s after {took_s:.2} s, {:.2} times that",
            STILL_M_S * 100.0,
            times(took_s)
        )?,
        None => writeln!(text, "  some were still moving at the end")?,
    }
    writeln!(
        text,
        "  the longest that one under way did not get on: {:.2} s",
        order.held_up_s
    )
}

fn write_tally(text: &mut String, tally: &TallyMeasured) -> std::fmt::Result {
    let name = &tally.line.name;
    if tally.crossed == 0 {
        return writeln!(text, "\ntally {name:?}: nobody crossed it");
    }
    let (first, last) = tally.between_s;
    writeln!(
        text,
        "\ntally {name:?}: {} crossed it, from {first:.2} to {last:.2} s",
        tally.crossed
    )?;
    let (rate, ideal) = (tally.per_s(), tally.ideal_per_s);
    writeln!(
        text,
        "  {rate:.2} a second, {:.0} % of the {ideal:.2} of {} side by side, body behind body",
        rate / ideal.max(1e-9) * 100.0,
        tally.files
    )?;
    writeln!(
        text,
        "  the longest pause {:.2} s; nobody crossed more than {:.2} s later than in turn",
        tally.pause_s, tally.out_of_turn_s
    )
}

fn order_entry(order: &OrderMeasured) -> OrderEntry {
    OrderEntry {
        order: order.order.0,
        given_s: order.given_s,
        units: order.units,
        arrived: order.arrived,
        failed: order.failed,
        ended_s: order.ended_s,
        settled_s: order.settled_s,
        alone_s: order.alone_s,
        held_up_s: order.held_up_s,
    }
}

fn tally_entry(tally: &TallyMeasured) -> TallyEntry<'_> {
    TallyEntry {
        name: &tally.line.name,
        crossed: tally.crossed,
        first_s: tally.between_s.0,
        last_s: tally.between_s.1,
        per_s: tally.per_s(),
        files: tally.files,
        ideal_per_s: tally.ideal_per_s,
        pause_s: tally.pause_s,
        out_of_turn_s: tally.out_of_turn_s,
    }
}
