//! What flies straight and hits the first thing in its path.

use crate::geom::{Rect, Vec2};
use crate::near::Near;
use serde::{Deserialize, Serialize};

/// How projectiles of a weapon fly.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Flight {
    /// Speed in metres a second, from [`Flight::MIN_SPEED`] to [`Flight::MAX_SPEED`].
    pub speed: f32,
    /// How far it flies before it is spent, in metres; at most [`Flight::MAX_REACH_M`].
    pub reach_m: f32,
}

impl Flight {
    /// The lowest speed allowed, in metres a second: a projectile is spent some day.
    pub const MIN_SPEED: f32 = 0.1;
    /// The highest speed allowed, in metres a second.
    pub const MAX_SPEED: f32 = 10_000.0;
    /// The longest flight allowed, in metres.
    pub const MAX_REACH_M: f32 = 1000.0;

    /// Whether speed and reach are within their limits.
    #[must_use]
    pub fn is_allowed(self) -> bool {
        (Flight::MIN_SPEED..=Flight::MAX_SPEED).contains(&self.speed)
            && (0.0..=Flight::MAX_REACH_M).contains(&self.reach_m)
    }
}

/// A point that flies straight at constant speed.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Projectile {
    /// Where it is, in metres.
    pub position: Vec2,
    /// Its velocity, in metres a second.
    pub velocity: Vec2,
    /// How far it still flies, in metres.
    pub left_m: f32,
}

/// What came of a tick of flight.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Flown {
    /// It flies on.
    On,
    /// It hit something, and is gone.
    Hit {
        /// The number of the thing in the index.
        number: u32,
        /// Where it hit, in metres.
        at: Vec2,
    },
    /// It came to the end of its reach, and is gone.
    Spent {
        /// Where, in metres.
        at: Vec2,
    },
    /// It left the map, and is gone.
    OffTheMap,
}

impl Projectile {
    /// A projectile that flies from a point towards another. `None` if there is no direction from the one to the other,
    /// a coordinate is not finite, or the flight is not allowed ([`Flight::is_allowed`]).
    #[must_use]
    pub fn towards(from: Vec2, to: Vec2, flight: Flight) -> Option<Projectile> {
        let velocity = (to - from).try_normalize()? * flight.speed;
        let is_sound = from.is_finite() && velocity.is_finite();
        (is_sound && flight.is_allowed()).then_some(Projectile {
            position: from,
            velocity,
            left_m: flight.reach_m,
        })
    }

    /// Flies for a tick of `tick_s` seconds, within `bounds`. It hits the first thing of `near` whose edge its path
    /// touches.
    ///
    /// `widest_m` is how far the things reach from where `near` has them, at most. `touch` is asked for a thing by its
    /// number, with where the path begins and the step: after which part of the step, from 0 to 1, the path first touches
    /// it ([`first_touch_of_disc`](crate::geom::first_touch_of_disc),
    /// [`first_touch_of_block`](crate::geom::first_touch_of_block)), and its id, by which ties are broken; `None` for what
    /// it may not hit, or misses.
    ///
    /// ```
    /// use yarrick::combat::{Flight, Flown, Projectile};
    /// use yarrick::geom::{Rect, Vec2, first_touch_of_disc};
    /// use yarrick::near::Near;
    ///
    /// let map = Rect::from_corners(Vec2::ZERO, Vec2::splat(50.0));
    /// let hulks = [Vec2::new(30.0, 10.0), Vec2::new(20.0, 10.0)];
    /// let mut near = Near::default();
    /// near.rebuild(map, 2.0, &hulks);
    ///
    /// let clay = Flight { speed: 600.0, reach_m: 40.0 };
    /// let mut shot = Projectile::towards(Vec2::new(5.0, 10.0), hulks[0], clay).unwrap();
    /// let flown = shot.fly(0.05, map, &near, 0.8, |number, from, step| {
    ///     let part = first_touch_of_disc(from, step, hulks[number as usize], 0.8)?;
    ///     Some((part, number))
    /// });
    /// assert_eq!(flown, Flown::Hit { number: 1, at: Vec2::new(19.2, 10.0) });
    /// ```
    ///
    /// Complexity: the things in the box round the tick's path.
    pub fn fly<Id: Ord>(
        &mut self,
        tick_s: f32,
        bounds: Rect,
        near: &Near,
        widest_m: f32,
        mut touch: impl FnMut(u32, Vec2, Vec2) -> Option<(f32, Id)>,
    ) -> Flown {
        let (from, (step, is_last)) = (self.position, self.step(tick_s));
        let path = Rect::from_corners(from, from + step).grown(widest_m);
        let mut first: Option<(u32, (f32, Id))> = None;
        for number in near.in_rect(path) {
            let Some(mine) = touch(number, from, step) else {
                continue;
            };
            let is_sooner = first.as_ref().is_none_or(|(_, known)| {
                // Ties by id.
                let order = mine.0.total_cmp(&known.0);
                order.then_with(|| mine.1.cmp(&known.1)).is_lt()
            });
            if is_sooner {
                first = Some((number, mine));
            }
        }
        let part = first.as_ref().map_or(1.0, |(_, (part, _))| *part);
        self.position = from + step * part;
        self.left_m = (self.left_m - step.length() * part).max(0.0);
        let at = self.position;
        match first {
            Some((number, _)) => Flown::Hit { number, at },
            None if !bounds.contains(at) => Flown::OffTheMap,
            None if is_last => Flown::Spent { at },
            None => Flown::On,
        }
    }

    /// The step of a tick, cut off at the end of its reach, and whether it ends there. What does not move, or not by a
    /// finite step, is at its end.
    fn step(&self, tick_s: f32) -> (Vec2, bool) {
        let whole = self.velocity * tick_s;
        let length = whole.length();
        if length > 0.0 && length < self.left_m {
            return (whole, false);
        }
        let step = whole * (self.left_m / length);
        (if step.is_finite() { step } else { Vec2::ZERO }, true)
    }
}
