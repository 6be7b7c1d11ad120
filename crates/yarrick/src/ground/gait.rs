//! Ways of going: what each class of ground, slopes, doors and buildings are to those on foot, to
//! sledges, to swimmers, to whatever flies.

use super::{GroundError, Terrain};
use serde::{Deserialize, Serialize};

/// Names a gait, by its place in the list of a map; `0` is on foot.
#[derive(
    Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize,
)]
pub struct GaitId(pub u8);

/// The most gaits that a map may have.
pub const MAX_GAITS: usize = 16;

/// How some units go over the ground: their movement class.
///
/// ```
/// use yarrick::ground::Gait;
///
/// let swimmer = Gait::new("swimmer").at_speed("creek", 1.2).at_speed("sand", 0.5);
/// let sledge = Gait::new("sledge").closed_to("reed").up_to_slope(0.3).with_climb(4.0);
/// let dunlin = Gait::flying("dunlin");
/// # let _ = (swimmer, sledge, dunlin);
/// ```
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Gait {
    /// What it is called.
    pub name: String,
    /// The speed factor on some terrains, by name; `None` where it cannot go. All others are as
    /// the terrain says.
    pub speeds: Vec<(String, Option<f32>)>,
    /// The steepest slope that it can go up or down, as metres of height for each metre of way;
    /// infinite for none. From 0 upwards; lower closes more of the hills.
    pub steepest: f32,
    /// How much a slope slows it: on a slope of 1 it takes `1 + climb` times as long. From 0, for not
    /// at all, to [`Gait::MAX_CLIMB`].
    pub climb: f32,
    /// Whether shut doors open for it, at the cost of half its speed there.
    pub opens_doors: bool,
    /// Whether it goes over everything: all ground at its own speed but that in `speeds`, shut
    /// doors, buildings and slopes.
    pub flies: bool,
}

impl Gait {
    /// The most that a slope may slow.
    pub const MAX_CLIMB: f32 = super::error::MAX_CLIMB;

    /// What on foot is called, the gait that every map begins with.
    pub const FOOT: &'static str = "foot";

    /// A gait that finds every terrain as it is, and is not slowed by slopes.
    #[must_use]
    pub fn new(name: &str) -> Gait {
        Gait {
            name: name.to_owned(),
            speeds: Vec::new(),
            steepest: f32::INFINITY,
            climb: 0.0,
            opens_doors: false,
            flies: false,
        }
    }

    /// A gait that goes over everything at its own speed.
    #[must_use]
    pub fn flying(name: &str) -> Gait {
        Gait {
            flies: true,
            ..Gait::new(name)
        }
    }

    /// The same gait, going at `speed` times its own on a terrain, which may be closed to others.
    #[must_use]
    pub fn at_speed(mut self, terrain: &str, speed: f32) -> Gait {
        self.speeds.push((terrain.to_owned(), Some(speed)));
        self
    }

    /// The same gait, unable to enter a terrain.
    #[must_use]
    pub fn closed_to(mut self, terrain: &str) -> Gait {
        self.speeds.push((terrain.to_owned(), None));
        self
    }

    /// The same gait, up to a slope of `steepest` metres of height a metre.
    #[must_use]
    pub fn up_to_slope(self, steepest: f32) -> Gait {
        Gait { steepest, ..self }
    }

    /// The same gait, slowed by slopes.
    #[must_use]
    pub fn with_climb(self, climb: f32) -> Gait {
        Gait { climb, ..self }
    }

    /// The same gait, for which doors open.
    #[must_use]
    pub fn opening_doors(self) -> Gait {
        Gait {
            opens_doors: true,
            ..self
        }
    }

    /// How fast it goes on a terrain, as a factor; `None` where it cannot.
    #[must_use]
    pub fn speed_on(&self, terrain: &Terrain) -> Option<f32> {
        // The last word counts.
        let own = self
            .speeds
            .iter()
            .rev()
            .find(|(name, _)| *name == terrain.name);
        match own {
            Some((_, speed)) => *speed,
            None if self.flies => Some(1.0),
            None => terrain.passable.then_some(terrain.speed),
        }
    }

    /// Refuses values out of range, and terrains that are not there.
    pub(super) fn check(&self, terrains: &[Terrain]) -> Result<(), GroundError> {
        for (name, speed) in &self.speeds {
            if !terrains.iter().any(|terrain| terrain.name == *name) {
                return Err(GroundError::NoSuchTerrain {
                    gait: self.name.clone(),
                    name: name.clone(),
                });
            }
            let allowed = Terrain::SLOWEST..=Terrain::FASTEST;
            if let Some(speed) = speed.filter(|speed| !allowed.contains(speed)) {
                let name = name.clone();
                return Err(GroundError::BadSpeed { name, speed });
            }
        }
        let climbs = (0.0..=Gait::MAX_CLIMB).contains(&self.climb);
        if self.steepest >= 0.0 && climbs {
            return Ok(());
        }
        Err(GroundError::BadGait {
            gait: self.name.clone(),
            steepest: self.steepest,
            climb: self.climb,
        })
    }
}
