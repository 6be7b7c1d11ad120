//! Progress of long runs: on a terminal, and only after a second.

use indicatif::{ProgressBar, ProgressDrawTarget, ProgressStyle};
use std::time::{Duration, Instant};

/// How long a run stays silent.
const PATIENCE: Duration = Duration::from_secs(1);

/// Shows how far a run has come. In a pipe it shows nothing.
pub(crate) struct Progress {
    began: Instant,
    ticks: u64,
    bar: Option<ProgressBar>,
}

impl Progress {
    /// For a run of `ticks` ticks.
    pub(crate) fn new(ticks: u64) -> Progress {
        Progress {
            began: Instant::now(),
            ticks,
            bar: None,
        }
    }

    /// Counts a tick.
    pub(crate) fn tick(&mut self, tick: u64) {
        if let Some(bar) = &self.bar {
            bar.set_position(tick);
        } else if tick.is_multiple_of(16) && self.began.elapsed() > PATIENCE {
            // The target is hidden by itself where the standard error is no terminal.
            let bar = ProgressBar::with_draw_target(Some(self.ticks), ProgressDrawTarget::stderr());
            let template = "tick {pos} of {len}, {elapsed} gone, {eta} to go {wide_bar}";
            if let Ok(style) = ProgressStyle::with_template(template) {
                bar.set_style(style.progress_chars("=>."));
            }
            self.bar = Some(bar);
        }
    }

    /// Takes the bar away.
    pub(crate) fn finish(self) {
        if let Some(bar) = self.bar {
            bar.finish_and_clear();
        }
    }
}
