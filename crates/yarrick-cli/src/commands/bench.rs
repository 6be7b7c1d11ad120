//! `yarrick route --bench`: many ways over one map, with totals and percentiles.

use crate::account::plural;
use crate::arguments::Route as Asked;
use crate::commands::body::Walker;
use crate::failure::Failure;
use crate::files;
use serde::Serialize;
use std::fmt::Write as _;
use std::time::Instant;
use yarrick::ground::ClearanceMap;
use yarrick::rng::Stream;
use yarrick::route::Router;
use yarrick::{Scenario, Vec2, World};

/// What came of all pairs.
#[derive(Serialize)]
struct Report<'a> {
    map: &'a str,
    width: u32,
    height: u32,
    radius_m: f32,
    pairs: usize,
    /// Ways that lead where they should.
    found: usize,
    /// Ways that end short of it.
    came_short: usize,
    no_way: usize,
    /// The work of the searches, in settled cells: the same on every machine.
    work_cells: Spread,
    length_m: Spread,
    cost_m: Spread,
    /// Milliseconds, which are not.
    time_ms: Spread,
    /// What working out where the body fits took.
    clearance_ms: f64,
}

/// How some numbers are spread.
#[derive(Serialize)]
struct Spread {
    total: f64,
    mean: f64,
    median: f64,
    p90: f64,
    p99: f64,
    most: f64,
}

impl Spread {
    fn of(mut numbers: Vec<f64>) -> Spread {
        numbers.sort_by(f64::total_cmp);
        let last = numbers.len().saturating_sub(1);
        // The smallest number that is no less than this percentage of all.
        let at = |hundredths: usize| {
            let rank = (numbers.len() * hundredths).div_ceil(100);
            numbers.get(rank.saturating_sub(1).min(last)).copied()
        };
        let total: f64 = numbers.iter().sum();
        Spread {
            total,
            mean: total / numbers.len().max(1) as f64,
            median: at(50).unwrap_or(0.0),
            p90: at(90).unwrap_or(0.0),
            p99: at(99).unwrap_or(0.0),
            most: at(100).unwrap_or(0.0),
        }
    }
}

/// Measures the pairs that were asked for. Gives the text to print.
pub(crate) fn run(
    scenario: &Scenario,
    world: &World,
    asked: &Asked,
    body: Walker,
) -> Result<String, Failure> {
    let begun = Instant::now();
    let clearance = ClearanceMap::for_gait(world.ground(), body.gait, body.radius_m);
    let clearance_ms = begun.elapsed().as_secs_f64() * 1e3;
    let pairs = match asked.bench.iter().flatten().next() {
        Some(path) => files::load_pairs(path)?,
        None => draw_pairs(world, &clearance, asked.map.seed, asked.pairs)?,
    };
    let report = measure(scenario, world, &clearance, body, &pairs, clearance_ms);
    Ok(if asked.json {
        // All keys are texts and no number is NaN, so nothing can fail here.
        serde_json::to_string_pretty(&report).unwrap_or_default() + "\n"
    } else {
        report.to_text()
    })
}

/// How often a goal is drawn before the start itself has to do.
const TRIES: u32 = 100;

/// Pairs of free places that are connected, as the seed has it.
fn draw_pairs(
    world: &World,
    clearance: &ClearanceMap,
    seed: u64,
    count: u32,
) -> Result<Vec<(Vec2, Vec2)>, Failure> {
    let ground = world.ground();
    let cells = ground.whole().cells();
    let open: Vec<_> = cells.filter(|cell| clearance.is_open(*cell)).collect();
    if open.is_empty() {
        let why = "a body of this radius fits nowhere on this map";
        return Err(Failure::Usage(why.to_owned()));
    }
    let mut stream = Stream::new(seed, "pairs");
    let mut any = || open[stream.below(open.len() as u32) as usize];
    let mut pairs = Vec::new();
    for _ in 0..count {
        let from = any();
        let mut tries = (0..TRIES).map(|_| any());
        let to = tries.find(|to| clearance.connected(from, *to));
        pairs.push((ground.centre(from), ground.centre(to.unwrap_or(from))));
    }
    Ok(pairs)
}

fn measure<'a>(
    scenario: &'a Scenario,
    world: &World,
    clearance: &ClearanceMap,
    body: Walker,
    pairs: &[(Vec2, Vec2)],
    clearance_ms: f64,
) -> Report<'a> {
    let ground = world.ground();
    let mut router = Router::default();
    let (mut found, mut came_short, mut no_way) = (0, 0, 0);
    let (mut settled, mut lengths, mut costs, mut times) = (vec![], vec![], vec![], vec![]);
    for &(from, to) in pairs {
        let begun = Instant::now();
        let route = router.find(ground, clearance, body.radius_m, from, to);
        times.push(begun.elapsed().as_secs_f64() * 1e3);
        settled.push(f64::from(router.settled_count()));
        match route {
            Ok(route) => {
                match route.short {
                    Some(_) => came_short += 1,
                    None => found += 1,
                }
                lengths.push(f64::from(route.length_m));
                costs.push(f64::from(route.cost_m));
            }
            Err(_) => no_way += 1,
        }
    }
    Report {
        map: &scenario.title,
        width: ground.width(),
        height: ground.height(),
        radius_m: body.radius_m,
        pairs: pairs.len(),
        found,
        came_short,
        no_way,
        work_cells: Spread::of(settled),
        length_m: Spread::of(lengths),
        cost_m: Spread::of(costs),
        time_ms: Spread::of(times),
        clearance_ms,
    }
}

impl Report<'_> {
    fn to_text(&self) -> String {
        let mut text = String::new();
        // Writing to a string cannot fail.
        let _ = self.write(&mut text);
        text
    }

    fn write(&self, text: &mut String) -> std::fmt::Result {
        writeln!(text, "{}", self.map)?;
        let (width, height) = (self.width, self.height);
        let pairs = plural(self.pairs, "pair");
        let radius_m = self.radius_m;
        writeln!(
            text,
            "{width} by {height} cells, {pairs}, for a body {radius_m:.2} m in radius\n"
        )?;
        let heads = ["total", "mean", "median", "90th", "99th", "most"];
        write!(text, "{:<16}", "")?;
        for head in heads {
            write!(text, "{head:>12}")?;
        }
        writeln!(text)?;
        for (name, spread, digits) in [
            ("work, in cells", &self.work_cells, 0),
            ("length, m", &self.length_m, 1),
            ("as plain ground", &self.cost_m, 1),
            ("time, ms", &self.time_ms, 3),
        ] {
            write!(text, "{name:<16}")?;
            let Spread {
                total,
                mean,
                median,
                p90,
                p99,
                most,
            } = spread;
            for number in [total, mean, median, p90, p99, most] {
                write!(text, "{number:>12.digits$}")?;
            }
            writeln!(text)?;
        }
        let (found, short, no_way) = (self.found, self.came_short, self.no_way);
        writeln!(
            text,
            "\n{found} found, {short} came short, {no_way} led nowhere; where the body fits took {:.1} ms",
            self.clearance_ms
        )
    }
}
