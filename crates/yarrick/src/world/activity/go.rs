//! Walking along a route to a place.

use crate::geom::Vec2;
use crate::motion::way_left;

/// How much nearer a unit must get, in metres, for its patience to begin anew.
const PROGRESS_M: f32 = 0.05;

/// A walk in progress.
#[derive(Clone, Debug)]
pub(crate) struct Go {
    path: Vec<Vec2>,
    next: u32,
    /// The way from the next point to the end, in metres.
    beyond: f32,
    best_left: f32,
    held_up: u32,
}

/// What a unit does about making no progress.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Patience {
    /// It keeps trying.
    Holds,
    /// It has waited for a while: another way may be better, or this may be near enough.
    Frays,
    /// It gives up.
    Ends,
}

impl Go {
    /// Sets out along a path. `held_up` is how many ticks the unit has gone without progress on
    /// earlier paths to the same place.
    pub(crate) fn new(path: Vec<Vec2>, held_up: u32) -> Go {
        let mut go = Go {
            path,
            next: 0,
            beyond: 0.0,
            best_left: f32::INFINITY,
            held_up,
        };
        go.pass(0);
        go
    }

    pub(crate) fn path(&self) -> &[Vec2] {
        &self.path
    }

    /// The points still to be walked to.
    pub(crate) fn ahead(&self) -> &[Vec2] {
        &self.path[(self.next as usize).min(self.path.len())..]
    }

    pub(crate) fn next(&self) -> u32 {
        self.next
    }

    /// The least that was ever left to walk, in metres.
    pub(crate) fn best_left(&self) -> f32 {
        self.best_left
    }

    /// Ticks without progress.
    pub(crate) fn held_up(&self) -> u32 {
        self.held_up
    }

    /// The metres left to walk from a position.
    pub(crate) fn left(&self, position: Vec2) -> f32 {
        self.ahead()
            .first()
            .map_or(0.0, |point| position.distance(*point) + self.beyond)
    }

    /// Makes `next` the next point to walk to.
    pub(crate) fn pass(&mut self, next: u32) {
        self.next = next;
        self.beyond = match self.ahead().first() {
            Some(&point) => way_left(point, &self.path, next + 1),
            None => 0.0,
        };
    }

    /// Counts a tick that ended at `position`. Patience frays every `fray` ticks without
    /// progress, and ends after `end`.
    pub(crate) fn watch(&mut self, position: Vec2, fray: u32, end: u32) -> Patience {
        let left = self.left(position);
        if left < self.best_left - PROGRESS_M {
            self.best_left = left;
            self.held_up = 0;
            return Patience::Holds;
        }
        self.held_up += 1;
        if self.held_up >= end {
            Patience::Ends
        } else if self.held_up.is_multiple_of(fray.max(1)) {
            Patience::Frays
        } else {
            Patience::Holds
        }
    }
}
