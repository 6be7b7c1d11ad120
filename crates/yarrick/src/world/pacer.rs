//! From frame times to whole ticks.

/// Turns a game's frame times into whole ticks and the fraction of a tick left over.
///
/// When frames are slower than the ticks they ask for, the pacer lets the rest go instead of
/// asking for ever more: the world then runs slower than the clock, and [`Paced`] says so.
///
/// ```
/// use yarrick::world::Pacer;
///
/// let mut pacer = Pacer::new(0.05, 4);
/// let paced = pacer.frame(0.125);
/// assert_eq!(paced.ticks, 2);
/// assert!((paced.fraction - 0.5).abs() < 1e-6);
///
/// // A frame that took a second would be 20 ticks; 4 are run, the others are let go.
/// let paced = pacer.frame(1.0);
/// assert_eq!(paced.ticks, 4);
/// assert!((paced.dropped_s - 0.8).abs() < 1e-6);
/// ```
#[derive(Clone, Debug, PartialEq)]
pub struct Pacer {
    tick_s: f64,
    most_ticks: u32,
    left_s: f64,
}

/// What to do in a frame.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Paced {
    /// How many times to step the world.
    pub ticks: u32,
    /// How far the clock is into the next tick, in `[0, 1)`: for smooth positions.
    pub fraction: f32,
    /// How much time was let go because the frame was too slow, in seconds.
    pub dropped_s: f64,
}

impl Pacer {
    /// A pacer for ticks of `tick_s` seconds that asks for at most `most_ticks` of them in a
    /// frame. A tick length that is not above zero counts as 1/20 s; at least one tick a frame
    /// is allowed.
    #[must_use]
    pub fn new(tick_s: f32, most_ticks: u32) -> Pacer {
        let sound = tick_s.is_finite() && tick_s > 0.0;
        Pacer {
            tick_s: if sound { f64::from(tick_s) } else { 0.05 },
            most_ticks: most_ticks.max(1),
            left_s: 0.0,
        }
    }

    /// Takes the time since the last frame, in seconds. Times that are negative or not finite
    /// count as none.
    pub fn frame(&mut self, frame_s: f64) -> Paced {
        if frame_s.is_finite() && frame_s > 0.0 {
            self.left_s += frame_s;
        }
        // A hair of tolerance: frames of exactly a tick must not lose one to rounding.
        let due = (self.left_s / self.tick_s + 1e-9).floor();
        let ticks = due.min(f64::from(self.most_ticks));
        let dropped_s = (due - ticks) * self.tick_s;
        self.left_s = (self.left_s - due * self.tick_s).clamp(0.0, self.tick_s);
        Paced {
            ticks: ticks as u32,
            fraction: ((self.left_s / self.tick_s) as f32).min(0.999_999),
            dropped_s,
        }
    }
}
