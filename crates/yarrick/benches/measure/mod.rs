//! Measures ours against a plain baseline in the same run: what counts is the ratio.
//!
//! Times are the thread's own processor time, since machines are shared. Rounds of the two
//! alternate, so that both meet the same weather.

use cpu_time::ThreadTime;

/// The times of some rounds, in seconds, in ascending order.
struct Times(Vec<f64>);

impl Times {
    fn mean(&self) -> f64 {
        self.0.iter().sum::<f64>() / self.0.len() as f64
    }

    fn at(&self, part: f64) -> f64 {
        self.0[((self.0.len() - 1) as f64 * part) as usize]
    }
}

/// Prints the head of the table.
pub(crate) fn head(title: &str, ours: &str, baseline: &str) {
    println!("{title}: {ours} against {baseline}\n");
    println!(
        "{:<34} {:>10} {:>10} {:>10} {:>12} {:>9}",
        "", "median", "mean", "99th", "baseline", "ratio"
    );
}

/// Measures `rounds` rounds of both and prints a line: ours, the median of the baseline, and
/// how many times ours the baseline takes (`faster`), or the baseline ours (`slower`).
#[allow(dead_code, reason = "not every benchmark measures round by round")]
pub(crate) fn line(
    name: &str,
    rounds: usize,
    mut ours: impl FnMut(usize),
    mut baseline: impl FnMut(usize),
) {
    let (mut our_times, mut their_times) = (Vec::new(), Vec::new());
    for round in 0..rounds {
        our_times.push(time(|| ours(round)));
        their_times.push(time(|| baseline(round)));
    }
    report(name, our_times, their_times);
}

/// Prints the line of times that were measured already, in seconds.
pub(crate) fn report(name: &str, mut our_times: Vec<f64>, mut their_times: Vec<f64>) {
    our_times.sort_by(f64::total_cmp);
    their_times.sort_by(f64::total_cmp);
    let (ours, theirs) = (Times(our_times), Times(their_times));
    let ratio = theirs.at(0.5) / ours.at(0.5);
    let factor = if ratio >= 1.0 {
        format!("{ratio:.1}x faster")
    } else {
        format!("{:.1}x floor", 1.0 / ratio)
    };
    println!(
        "{name:<34} {:>10} {:>10} {:>10} {:>12} {factor:>14}",
        micros(ours.at(0.5)),
        micros(ours.mean()),
        micros(ours.at(0.99)),
        micros(theirs.at(0.5)),
    );
}

fn micros(seconds: f64) -> String {
    format!("{:.1} µs", seconds * 1e6)
}

/// The processor time that some work takes, in seconds.
pub(crate) fn time(work: impl FnOnce()) -> f64 {
    let start = ThreadTime::now();
    work();
    start.elapsed().as_secs_f64()
}

/// The time on the clock that some work takes, in seconds: where several threads share it.
#[allow(dead_code, reason = "not every benchmark uses threads")]
#[allow(
    clippy::disallowed_types,
    reason = "it is the core that reads no clock"
)]
pub(crate) fn clock(work: impl FnOnce()) -> f64 {
    let start = std::time::Instant::now();
    work();
    start.elapsed().as_secs_f64()
}
