//! How the members of a flock behave.

use serde::{Deserialize, Serialize};

/// The most that a number of [`FlockParams`] may be.
const MOST: f32 = 10_000.0;

/// How the members of a flock see, how much each rule counts with them, and how they move.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct FlockParams {
    /// How far a member sees its like, in metres. The work for a flock grows with the square of it.
    pub view_m: f32,
    /// The whole angle in which it sees them, in radians, half of it to either side of the way it goes: a full turn
    /// sees all round.
    pub view_angle: f32,
    /// The distance that it keeps from its like, in metres; at most `view_m`.
    pub spacing_m: f32,
    /// How much keeping that distance counts: higher spreads the flock out.
    pub separation: f32,
    /// How much it counts to go where those go that it sees: higher makes the flock go one way.
    pub alignment: f32,
    /// How much it counts to keep to the middle of those that it sees: higher makes the flock close up.
    pub cohesion: f32,
    /// How much speed a pull of 1 gives within a second, in metres a second squared: higher makes all pulls work faster.
    pub eagerness: f32,
    /// The lowest and the highest speed, in metres a second. The lowest must be above zero: who does not move has no
    /// direction.
    pub speed: (f32, f32),
    /// The sharpest turn, in radians a second. Nothing makes a member turn faster than this.
    pub turn_rate: f32,
    /// The air that it flies in; `None` for a flock in the plane.
    pub air: Option<Air>,
}

/// The air that a flock flies in. Altitudes are in metres.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Air {
    /// The lowest altitude.
    pub floor_m: f32,
    /// The highest altitude.
    pub ceiling_m: f32,
    /// How far from either they begin to turn back, in metres.
    pub margin_m: f32,
    /// How fast they climb or sink at the most, in metres a second.
    pub climb: f32,
}

impl Default for FlockParams {
    /// Small waders: they see three metres round, but for a sixth of a turn behind them.
    fn default() -> FlockParams {
        FlockParams {
            view_m: 3.0,
            view_angle: core::f32::consts::TAU * 5.0 / 6.0,
            spacing_m: 1.0,
            separation: 1.5,
            alignment: 1.0,
            cohesion: 0.6,
            eagerness: 6.0,
            speed: (2.0, 5.0),
            turn_rate: core::f32::consts::PI,
            air: None,
        }
    }
}

/// What is wrong with parameters.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
pub enum FlockParamsError {
    /// A number is infinite, none at all, below the lowest that is allowed or far beyond use.
    #[error("{what} is {value}, and must be a number {allowed}")]
    OutOfRange {
        /// The field.
        what: &'static str,
        /// What was given.
        value: f32,
        /// What is allowed.
        allowed: &'static str,
    },
    /// The spacing is above what they see.
    #[error(
        "they keep {spacing_m} m apart, but see only {view_m} m: nobody keeps off what it does not see"
    )]
    SpacingBeyondView {
        /// The spacing.
        spacing_m: f32,
        /// The view.
        view_m: f32,
    },
    /// The lowest speed is above the highest.
    #[error("the lowest speed, {lowest} m/s, is above the highest, {highest} m/s")]
    SpeedsCrossed {
        /// The lowest.
        lowest: f32,
        /// The highest.
        highest: f32,
    },
    /// The air has no inside.
    #[error("the floor, at {floor_m} m, is not below the ceiling, at {ceiling_m} m")]
    NoAir {
        /// The floor.
        floor_m: f32,
        /// The ceiling.
        ceiling_m: f32,
    },
}

impl FlockParams {
    /// Checks them.
    ///
    /// # Errors
    ///
    /// [`FlockParamsError`]: the first error.
    pub fn check(&self) -> Result<(), FlockParamsError> {
        let above_zero = [
            ("view_m", self.view_m),
            ("view_angle", self.view_angle),
            ("spacing_m", self.spacing_m),
            ("eagerness", self.eagerness),
            ("the lowest speed", self.speed.0),
            ("the highest speed", self.speed.1),
            ("turn_rate", self.turn_rate),
        ];
        let weights = [
            ("separation", self.separation),
            ("alignment", self.alignment),
            ("cohesion", self.cohesion),
        ];
        above_zero
            .into_iter()
            .try_for_each(|given| above(given, false))?;
        weights
            .into_iter()
            .try_for_each(|given| above(given, true))?;
        if self.spacing_m > self.view_m {
            return Err(FlockParamsError::SpacingBeyondView {
                spacing_m: self.spacing_m,
                view_m: self.view_m,
            });
        }
        let (lowest, highest) = self.speed;
        if lowest > highest {
            return Err(FlockParamsError::SpeedsCrossed { lowest, highest });
        }
        self.air.map_or(Ok(()), |air| air.check())
    }
}

impl Air {
    fn check(&self) -> Result<(), FlockParamsError> {
        above(("climb", self.climb), true)?;
        above(("the margin of the air", self.margin_m), true)?;
        let (floor_m, ceiling_m) = (self.floor_m, self.ceiling_m);
        let is_usable = |altitude: f32| altitude.abs() <= MOST;
        if floor_m < ceiling_m && is_usable(floor_m) && is_usable(ceiling_m) {
            Ok(())
        } else {
            Err(FlockParamsError::NoAir { floor_m, ceiling_m })
        }
    }
}

fn above((what, value): (&'static str, f32), zero_is_fine: bool) -> Result<(), FlockParamsError> {
    let is_fine = value <= MOST && (value > 0.0 || zero_is_fine && value == 0.0);
    if is_fine {
        Ok(())
    } else {
        Err(FlockParamsError::OutOfRange {
            what,
            value,
            allowed: if zero_is_fine {
                "from 0 to 10000"
            } else {
                "above 0 and up to 10000"
            },
        })
    }
}
