//! Ways written down in few bytes.

use crate::ground::steps::offsets;

/// So many equal steps, up to 32, in a byte.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Run(u8);

impl Run {
    const MOST: u8 = 32;

    /// `count` times the same step, at least once.
    pub(super) fn new(step: u8, count: u8) -> Run {
        Run(step | (count - 1) << 3)
    }

    /// The number of the step.
    pub(super) fn step(self) -> usize {
        usize::from(self.0 & 7)
    }

    /// How often it is taken.
    pub(super) fn count(self) -> u8 {
        (self.0 >> 3) + 1
    }

    /// Adds a way whose steps are given from the last to the first.
    pub(super) fn add_back(steps: impl Iterator<Item = u8>, ways: &mut Vec<Run>) {
        let first = ways.len();
        for step in steps {
            match ways[first..].last_mut() {
                Some(run) if run.step() == usize::from(step) && run.count() < Run::MOST => {
                    *run = Run::new(step, run.count() + 1);
                }
                _ => ways.push(Run::new(step, 1)),
            }
        }
        ways[first..].reverse();
    }

    /// Goes on from an entry, and adds each one that it comes to.
    pub(super) fn follow(self, stride: usize, at: &mut u32, way: &mut Vec<u32>) {
        let offset = offsets(stride)[self.step()] as i32;
        for _ in 0..self.count() {
            *at = at.wrapping_add_signed(offset);
            way.push(*at);
        }
    }
}
