//! How calmly units wait and turn.

use crate::geom::{Vec2, angle};
use crate::world::{UnitId, UnitView};
use core::f32::consts::FRAC_PI_2;
use std::collections::BTreeMap;

/// The time over which movement is looked at, in seconds.
const WINDOW_S: f64 = 1.0;

/// A unit that has come no farther than this in a second is on one spot, in metres.
const WAITS_M: f32 = 0.05;

/// A unit that waits trembles if it moves more than this in a second, to and fro, in metres.
pub const TREMBLES_M: f32 = 0.02;

/// A unit dithers that turns by more than this forth and back, twice within a second, in radians.
const SHARP: f32 = FRAC_PI_2;

/// Movements within a second, each the other way than the one before, with which a unit has gone forth and back twice.
const TURNS: usize = 4;

/// How calmly the units of a run moved.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Calm {
    /// The most that a unit which waited moved to and fro within a second, in metres, which unit it was, and when, in
    /// seconds; none where none moved.
    pub trembled: Option<(f32, UnitId, f64)>,
    /// How many units moved more than 2 cm to and fro within a second while they waited.
    pub trembling: usize,
    /// How many units under way did so on one spot: others were in their way.
    pub jostling: usize,
    /// How many units turned by more than 90 degrees forth and back, twice within a second.
    pub dithering: usize,
}

/// What is known of the movement of a unit.
#[derive(Clone, Debug)]
struct Watched {
    /// Its positions in the last second, and the length of its way from one to the next, in metres.
    steps: Vec<(f64, Vec2, f32)>,
    /// When it was last under way, in seconds.
    went_s: f64,
    /// Where it looked when it had last turned sharply, and when it turned sharply lately: left or not.
    looked: f32,
    turns: Vec<(f64, bool)>,
    trembled: bool,
    jostled: bool,
    dithered: bool,
}

/// Takes how calmly units move.
#[derive(Clone, Debug, Default)]
pub(super) struct CalmTaken {
    units: BTreeMap<UnitId, Watched>,
    most: Option<(f32, UnitId, f64)>,
}

impl CalmTaken {
    /// Takes in where a unit is after a tick.
    pub(super) fn note(&mut self, unit: &UnitView<'_>, now_s: f64) {
        let (at, facing) = (unit.position(), unit.facing());
        let watched = self.units.entry(unit.id()).or_insert_with(|| Watched {
            steps: Vec::new(),
            went_s: f64::NEG_INFINITY,
            looked: facing,
            turns: Vec::new(),
            trembled: false,
            jostled: false,
            dithered: false,
        });
        if unit.is_under_way() {
            watched.went_s = now_s;
        }
        let moved_m = watched
            .steps
            .last()
            .map_or(0.0, |(_, last, _)| last.distance(at));
        watched.steps.push((now_s, at, moved_m));
        let since_s = now_s - WINDOW_S - 1e-6;
        let is_full = watched
            .steps
            .first()
            .is_some_and(|(first_s, ..)| *first_s <= now_s - WINDOW_S + 1e-6);
        watched.steps.retain(|(time_s, ..)| *time_s >= since_s);
        if is_full {
            let swayed_m = watched.swayed_m();
            let waits = watched.went_s < since_s;
            watched.trembled |= waits && swayed_m > TREMBLES_M;
            watched.jostled |= !waits && swayed_m > TREMBLES_M;
            if waits && swayed_m > self.most.map_or(0.0, |(known_m, ..)| known_m) {
                self.most = Some((swayed_m, unit.id(), now_s));
            }
        }
        watched.turn(facing, now_s);
    }

    pub(super) fn close(self) -> Calm {
        let count = |is: fn(&Watched) -> bool| self.units.values().filter(|unit| is(unit)).count();
        Calm {
            trembled: self.most,
            trembling: count(|unit| unit.trembled),
            jostling: count(|unit| unit.jostled),
            dithering: count(|unit| unit.dithered),
        }
    }
}

impl Watched {
    /// How far it moved to and fro in the last second, in metres, if it is on one spot.
    fn swayed_m(&self) -> f32 {
        let (Some(first), Some(last)) = (self.steps.first(), self.steps.last()) else {
            return 0.0;
        };
        let came_m = first.1.distance(last.1);
        let way_m: f32 = self.steps[1..].iter().map(|(.., moved_m)| moved_m).sum();
        let steps = self.steps.windows(2).map(|pair| pair[1].1 - pair[0].1);
        let steps: Vec<Vec2> = steps.filter(|step| *step != Vec2::ZERO).collect();
        let turns = steps.windows(2).filter(|pair| pair[0].dot(pair[1]) < 0.0);
        // A unit that backs off for another reverses its direction only once.
        if came_m > WAITS_M || turns.count() < TURNS - 1 {
            return 0.0;
        }
        (way_m - came_m).max(0.0)
    }

    fn turn(&mut self, facing: f32, now_s: f64) {
        let off = angle::between(self.looked, facing);
        if off.abs() <= SHARP {
            return;
        }
        self.looked = facing;
        self.turns.retain(|(time_s, _)| *time_s >= now_s - WINDOW_S);
        if self
            .turns
            .last()
            .is_some_and(|(_, left)| *left == (off > 0.0))
        {
            self.turns.clear();
        }
        self.turns.push((now_s, off > 0.0));
        self.dithered |= self.turns.len() >= TURNS;
    }
}
