//! Closing up: bodies on a rim move along it a little to make room for another body.
//!
//! ```text
//!   before   ─ a ── b ──── c ── d ─       nowhere is room for n
//!   after    ─ a ─ b ─ n ─ c ─ d ──       b and c have moved apart, and d with c
//! ```

use super::Rim;
use smallvec::SmallVec;

/// Maximum number of bodies that move on each side of the new body.
const MOST_MOVED: usize = 3;

/// A body on a rim.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct OnRim {
    /// How far along the rim it stands, in metres.
    pub along_m: f32,
    /// Its radius, in metres.
    pub radius_m: f32,
    /// Whether it can be moved.
    pub moves: bool,
}

/// A place on a rim for another body.
#[derive(Clone, Debug, PartialEq)]
pub struct Opening {
    /// Position of the new body along the rim, in metres.
    pub along_m: f32,
    /// The bodies that have to move: the index of each in the list, and its new position along the rim in metres.
    pub moved: SmallVec<[(usize, f32); 2 * MOST_MOVED]>,
}

impl Rim {
    /// The places for another body of a radius if up to three bodies on each side of it move along the rim, each by at most `most_m` metres;
    /// at most one place between two neighbours. The least distance between bodies is that at which they touch, times `apart`.
    ///
    /// `bodies` must be sorted by their position along the rim. Complexity: linear in their number.
    ///
    /// ```
    /// use yarrick::geom::{Block, Vec2};
    /// use yarrick::motion::{OnRim, Rim};
    ///
    /// let wall = Block { centre: Vec2::ZERO, half: Vec2::new(1.0, 9.0), facing: 0.0 };
    /// let rim = Rim::round_block(&wall, 0.5);
    /// let at = |along_m| OnRim { along_m, radius_m: 0.5, moves: true };
    /// // A fifth body fits between the second and the third if these two and the first move.
    /// let four = [1.0, 2.1, 3.6, 4.9].map(at);
    /// let openings: Vec<_> = rim.openings(&four, 0.5, (1.0, 0.6)).collect();
    /// let between = openings.iter().find(|opening| (2.1..3.6).contains(&opening.along_m)).unwrap();
    /// assert_eq!(between.moved.len(), 3);
    /// ```
    pub fn openings<'a>(
        &'a self,
        bodies: &'a [OnRim],
        radius_m: f32,
        (apart, most_m): (f32, f32),
    ) -> impl Iterator<Item = Opening> + 'a {
        let file = File {
            rim: self,
            bodies,
            apart,
            most_m,
        };
        let places = if bodies.len() > 1 { bodies.len() } else { 0 };
        (0..places).filter_map(move |number| file.opening_after(number, radius_m))
    }

    /// Length along the rim between two points at a distance of `chord_m`, in metres: exact on a disc; on a box only along a side.
    fn along_of(&self, chord_m: f32) -> f32 {
        match self.turns_with() {
            Some(radius_m) if chord_m < 2.0 * radius_m => {
                2.0 * radius_m * libm::asinf(chord_m * 0.5 / radius_m)
            }
            _ => chord_m,
        }
    }
}

/// The bodies on a rim, in order, and the limits on how they move.
#[derive(Clone, Copy)]
struct File<'a> {
    rim: &'a Rim,
    bodies: &'a [OnRim],
    apart: f32,
    most_m: f32,
}

/// The bodies that move in one direction, each with its signed distance along the rim in metres.
type Moved = SmallVec<[(usize, f32); MOST_MOVED]>;

impl File<'_> {
    /// The place between a body and the next body, with the least total movement.
    fn opening_after(&self, number: usize, radius_m: f32) -> Option<Opening> {
        let (before, after) = (number, self.beside(number, 1));
        let [to_new, from_new] =
            [before, after].map(|number| self.least_m(self.bodies[number].radius_m, radius_m));
        let lacking_m = (to_new + from_new - self.along_m(before, after)).max(0.0);
        let splits = [0.5, 0.0, 1.0].map(|part| (lacking_m * part, lacking_m * (1.0 - part)));
        let moved = splits.into_iter().filter_map(|(back_m, on_m)| {
            let mut moved = self.move_on((before, after), -back_m)?;
            moved.extend(self.move_on((after, before), on_m)?);
            let all = |moved: &Moved| moved.iter().map(|(_, by_m)| by_m.abs()).sum::<f32>();
            Some((all(&moved), back_m, moved))
        });
        let (_, back_m, moved) = moved.min_by(|a, b| a.0.total_cmp(&b.0))?;
        let length_m = self.rim.length_m();
        let end = |along_m: f32| along_m.rem_euclid(length_m);
        let ends = moved
            .iter()
            .map(|&(number, by_m)| (number, end(self.bodies[number].along_m + by_m)));
        Some(Opening {
            along_m: end(self.bodies[before].along_m - back_m + to_new),
            moved: ends.collect(),
        })
    }

    /// Moves a body along the rim, and the bodies that it would push. `None` if one of them cannot move that far, or is `until`.
    fn move_on(&self, (first, until): (usize, usize), by_m: f32) -> Option<Moved> {
        let (mut moved, mut number, mut left_m) = (Moved::new(), first, by_m.abs());
        while left_m > 0.0 {
            let may = self.bodies[number].moves && left_m <= self.most_m && number != until;
            if !may || moved.len() == MOST_MOVED {
                return None;
            }
            moved.push((number, left_m.copysign(by_m)));
            let next = self.beside(number, if by_m < 0.0 { -1 } else { 1 });
            let [a, b] = [number, next].map(|number| self.bodies[number].radius_m);
            let way_m = if by_m < 0.0 {
                self.along_m(next, number)
            } else {
                self.along_m(number, next)
            };
            left_m -= way_m - self.least_m(a, b);
            number = next;
        }
        Some(moved)
    }

    /// The index of the next body (`step` 1) or the previous one (-1).
    fn beside(&self, number: usize, step: isize) -> usize {
        let count = self.bodies.len() as isize;
        (number as isize + step).rem_euclid(count) as usize
    }

    /// Distance along the rim from one body on to another, in metres.
    fn along_m(&self, from: usize, to: usize) -> f32 {
        let way_m = self.bodies[to].along_m - self.bodies[from].along_m;
        way_m.rem_euclid(self.rim.length_m())
    }

    /// Least distance between two bodies along the rim, in metres.
    fn least_m(&self, one_m: f32, other_m: f32) -> f32 {
        self.rim.along_of((one_m + other_m) * self.apart)
    }
}
