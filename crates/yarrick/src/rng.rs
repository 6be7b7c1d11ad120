//! Random numbers that repeat: independent streams drawn from one seed by name.
//!
//! A stream's numbers depend on the seed and its name alone. Drawing more numbers in one
//! place never changes what another place sees, and a new use of random numbers in a later version
//! leaves the old ones as they were.
//!
//! ```
//! use yarrick::rng::Stream;
//!
//! let mut scatter = Stream::new(7, "scatter");
//! let first = scatter.between(-1.0, 1.0);
//! assert_eq!(first, Stream::new(7, "scatter").between(-1.0, 1.0));
//! assert_ne!(first, Stream::new(8, "scatter").between(-1.0, 1.0));
//! ```

use rand_core::Rng as _;
use rand_pcg::Pcg64Mcg;
use serde::{Deserialize, Serialize};
use xxhash_rust::xxh3::{xxh3_64, xxh3_64_with_seed, xxh3_128_with_seed};

/// A number in `[0, 1)` that depends on nothing but a seed, a name and three numbers: one of 2²⁴ evenly spaced ones.
///
/// For those that draw a few numbers each: a million units need no million streams.
#[must_use]
pub fn part_of_one(seed: u64, name: &str, of: [u64; 3]) -> f32 {
    let mut bytes = [0; 24];
    for (slot, number) in bytes.chunks_exact_mut(8).zip(of) {
        slot.copy_from_slice(&number.to_le_bytes());
    }
    let hash = xxh3_64_with_seed(&bytes, seed ^ xxh3_64(name.as_bytes()));
    (hash >> 40) as f32 * (1.0 / 16_777_216.0)
}

/// One stream of random numbers (PCG, O'Neill 2014: `Pcg64Mcg`, whose output is documented as
/// portable). Serialisable, so that a snapshot continues where it stopped.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Stream(Pcg64Mcg);

impl Stream {
    /// The stream called `name` under `seed`.
    #[must_use]
    pub fn new(seed: u64, name: &str) -> Stream {
        Stream(Pcg64Mcg::new(xxh3_128_with_seed(name.as_bytes(), seed)))
    }

    /// A number in `[0, 1)`, one of 2²⁴ evenly spaced ones.
    pub fn unit(&mut self) -> f32 {
        (self.0.next_u32() >> 8) as f32 * (1.0 / 16_777_216.0)
    }

    /// A number in `[low, high)`. Where `high` is not above `low`, gives `low`.
    pub fn between(&mut self, low: f32, high: f32) -> f32 {
        low + (high - low).max(0.0) * self.unit()
    }

    /// A whole number below `bound`, every one equally likely; `0` where `bound` is 0.
    pub fn below(&mut self, bound: u32) -> u32 {
        // Multiply and reject (Lemire 2019), so that no value is favoured.
        if bound == 0 {
            return 0;
        }
        let reject_below = bound.wrapping_neg() % bound;
        loop {
            let product = u64::from(self.0.next_u32()) * u64::from(bound);
            if product as u32 >= reject_below {
                return (product >> 32) as u32;
            }
        }
    }
}
