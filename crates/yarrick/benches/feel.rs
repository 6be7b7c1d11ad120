//! How even the ticks of the everyday situations are: of each tick of each scenario in `scenarios/feel`, the least time of
//! five plays, and the longest of these against the median.
//!
//! `cargo bench --bench feel`

#[path = "measure/mod.rs"]
mod measure;

use std::hint::black_box;
use std::path::Path;
use yarrick::Vec2;
use yarrick::scenario::{Play, Scenario};

/// A tick takes as long as in the fastest of so many plays: what else the machine does shows in one of them only.
const PLAYS: usize = 5;

fn main() {
    measure::head(
        "a tick of an everyday situation",
        "all stages",
        "looking at each unit once",
    );
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../scenarios/feel");
    let files = std::fs::read_dir(folder).unwrap();
    let mut files: Vec<_> = files.map(|file| file.unwrap().path()).collect();
    files.sort();
    for file in files {
        let text = std::fs::read_to_string(&file).unwrap();
        let play = Scenario::parse(&text).ok().and_then(|scenario| {
            let play = scenario.play(None).ok()?;
            Some((scenario.duration_s, play))
        });
        // One of them is refused, as it should be.
        if let Some((duration_s, play)) = play {
            report(
                &file.file_stem().unwrap().to_string_lossy(),
                duration_s,
                &play,
            );
        }
    }
}

fn report(name: &str, duration_s: f64, begun: &Play) {
    let (mut best, mut theirs) = (Vec::new(), Vec::new());
    for _ in 0..PLAYS {
        let mut play = begun.clone();
        let mut times = Vec::new();
        while !play.is_past(duration_s) {
            times.push(measure::time(|| {
                black_box(play.step());
            }));
            theirs.push(measure::time(|| {
                let at = play.world().units().map(|unit| unit.position());
                black_box(at.sum::<Vec2>());
            }));
        }
        best = if best.is_empty() {
            times
        } else {
            best.iter().zip(times).map(|(a, b)| a.min(b)).collect()
        };
    }
    let all = best.iter().enumerate();
    let (at, longest) = all.max_by(|a, b| a.1.total_cmp(b.1)).unwrap();
    let mut sorted = best.clone();
    sorted.sort_by(f64::total_cmp);
    let times = longest / sorted[sorted.len() / 2];
    let (tick, longest_us) = (at + 1, longest * 1e6);
    measure::report(name, best, theirs);
    println!("  the longest, tick {tick}: {longest_us:.1} µs, {times:.1} times the median");
}
