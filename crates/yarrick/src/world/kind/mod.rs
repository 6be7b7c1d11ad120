//! The kinds of unit that there are, and what they can do.

mod arms;
mod body;
mod building;
mod legs;
mod property;

pub use property::Property;
pub(crate) use property::{Number, Sort};

use crate::combat::Weapon;
use crate::geom::{Block, Vec2, angle};
use crate::ground::{ClearanceMap, GaitId, Ground};
use crate::motion::steering::Turning;
use serde::{Deserialize, Serialize};

/// What is wrong with a kind.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum KindError {
    /// A value out of range.
    #[error("the {what} of {kind:?} is {value}; allowed is {low} to {high} ({unit})")]
    OutOfRange {
        /// The kind.
        kind: String,
        /// The key of the property.
        what: &'static str,
        /// The value, in the unit.
        value: f32,
        /// The least that is allowed.
        low: f32,
        /// The most that is allowed.
        high: f32,
        /// The unit, in words.
        unit: &'static str,
    },
    /// A gait that the map does not know.
    #[error("{kind:?} has gait number {}; the map has {count}", gait.0)]
    NoSuchGait {
        /// The kind.
        kind: String,
        /// The number of its gait.
        gait: GaitId,
        /// How many the map has.
        count: usize,
    },
}

/// Names a kind, by its place in the roster.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct KindId(pub u16);

/// The most kinds that a roster has.
pub const MAX_KINDS: usize = 1024;

/// What a kind is for: of all that a box touches, those of the foremost rank are selected.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Rank {
    /// It fights.
    Fighter,
    /// It works. Workers without orders are idle.
    Worker,
    /// It is a building.
    Building,
    /// It is a place where something can be gathered.
    Deposit,
}

impl Rank {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, Rank); 4] = [
        ("fighter", Rank::Fighter),
        ("worker", Rank::Worker),
        ("building", Rank::Building),
        ("deposit", Rank::Deposit),
    ];
}

/// Something that a kind can do.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Ability {
    /// It can walk.
    Moves,
    /// It has a weapon.
    Strikes,
    /// It is a worker that can walk.
    Works,
    /// It has a rally point: units that come out of it are sent there.
    Rallies,
}

impl Ability {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, Ability); 4] = [
        ("moves", Ability::Moves),
        ("strikes", Ability::Strikes),
        ("works", Ability::Works),
        ("rallies", Ability::Rallies),
    ];
}

/// A sort of unit.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Kind {
    /// What it is called.
    pub name: String,
    /// The character that stands for it in pictures.
    pub glyph: char,
    /// What it is for.
    pub rank: Rank,
    /// The radius of its body in metres, from [`Kind::MIN_RADIUS_M`] to
    /// [`Kind::MAX_RADIUS_M`]. A wider body keeps more room and fits through fewer gaps.
    pub radius_m: f32,
    /// Its length along its facing and its width across it in metres, for a building; from [`Kind::MIN_RADIUS_M`] to
    /// [`Kind::MAX_RADIUS_M`]. This box is what is picked, what ranges are measured to, and, if the kind cannot move,
    /// the ground that it closes: its radius plays no part there. `None` for bodies that are round, and for buildings
    /// that cover the square round their radius.
    pub footprint_m: Option<Vec2>,
    /// Where the middle of its footprint is, seen from its position: metres ahead of it and to its left, each at most
    /// [`Kind::MAX_RADIUS_M`]. A building turns about its position.
    pub footprint_offset_m: Vec2,
    /// How tall it is in metres, at most [`Kind::MAX_HEIGHT_M`]: for picking it on a screen.
    pub height_m: f32,
    /// How it goes over the ground: one of the gaits of the map.
    pub gait: GaitId,
    /// Its top speed on plain ground in metres a second, at most [`Kind::MAX_SPEED`]. `0` for
    /// what never moves.
    pub speed: f32,
    /// How fast it turns, in radians a second; at most [`Kind::MAX_TURN_RATE`].
    pub turn_rate: f32,
    /// How fast it slows to a stop, in metres a second squared; above 0 and at most
    /// [`Kind::MAX_BRAKING`]. Higher stops later and more abruptly.
    pub braking: f32,
    /// How fast it gathers speed, in metres a second squared; from 0.01 to [`Kind::MAX_BRAKING`]. `None` for one that is
    /// at full speed at once; lower is more sluggish. With it, a unit that is to stand brakes first.
    pub acceleration: Option<f32>,
    /// Whether it has to face where it goes, and turns on the spot or only while it drives.
    pub turning: Turning,
    /// What it can suffer before it dies, in points, at most [`Kind::MAX_HEALTH`]. `0` for what
    /// cannot be harmed.
    pub health: f32,
    /// What it strikes with, if it does.
    pub weapon: Option<Weapon>,
    /// How far it notices foes, in metres from its edge to theirs, at most
    /// [`Kind::MAX_NOTICE_M`]. Raised, units on an attack-move, a patrol or on guard go for foes
    /// that are farther off.
    pub notice_m: f32,
    /// Whether it has a rally point, as buildings that send out units do.
    pub rallies: bool,
}

impl Kind {
    /// The smallest radius allowed, in metres.
    pub const MIN_RADIUS_M: f32 = 0.05;
    /// The largest radius allowed, in metres.
    pub const MAX_RADIUS_M: f32 = 50.0;
    /// The greatest height allowed, in metres.
    pub const MAX_HEIGHT_M: f32 = 100.0;
    /// The highest speed allowed, in metres a second.
    pub const MAX_SPEED: f32 = 100.0;
    /// The highest turn rate allowed, in radians a second: ten turns.
    pub const MAX_TURN_RATE: f32 = 62.831_855;
    /// The hardest braking allowed, in metres a second squared.
    pub const MAX_BRAKING: f32 = 1000.0;
    /// The most health allowed, in points.
    pub const MAX_HEALTH: f32 = 1_000_000.0;
    /// The farthest that a kind may notice foes, in metres.
    pub const MAX_NOTICE_M: f32 = 200.0;
    /// The health of a kind of which no more is known, in points.
    pub const USUAL_HEALTH: f32 = 100.0;
    /// How much farther than its weapon reaches a kind of which no more is known notices foes,
    /// in metres.
    pub const USUAL_NOTICE_BEYOND_M: f32 = 5.0;

    /// All properties that scenario files give, in the order of the guide. Those that others follow from come before them.
    pub fn properties() -> impl Iterator<Item = &'static Property> + Clone {
        let parts = [
            body::PROPERTIES,
            legs::PROPERTIES,
            arms::PROPERTIES,
            building::PROPERTIES,
        ];
        parts.into_iter().flatten()
    }

    /// A fighter of `radius_m` metres and `speed` metres a second that turns once a second,
    /// stops within half a second, is four radii tall, and has [`Kind::USUAL_HEALTH`] but no
    /// weapon yet. The first letter of its name is its glyph.
    ///
    /// ```
    /// use yarrick::Kind;
    /// use yarrick::motion::steering::Turning;
    /// use yarrick::world::Rank;
    ///
    /// let raker = Kind { rank: Rank::Worker, ..Kind::walker("raker", 0.35, 1.8) };
    /// let sledge = Kind {
    ///     acceleration: Some(2.0),
    ///     turning: Turning::Driving { circle_m: 1.5 },
    ///     ..Kind::walker("sledge", 0.6, 1.4)
    /// };
    /// assert_eq!((raker.glyph, raker.braking), ('r', 3.6));
    /// assert_eq!(sledge.health, Kind::USUAL_HEALTH);
    /// ```
    #[must_use]
    pub fn walker(name: &str, radius_m: f32, speed: f32) -> Kind {
        let mut kind = Kind {
            name: name.to_owned(),
            glyph: name.chars().next().unwrap_or('?'),
            rank: Rank::Fighter,
            radius_m: 0.0,
            footprint_m: None,
            footprint_offset_m: Vec2::ZERO,
            height_m: 0.0,
            gait: GaitId::default(),
            speed: 0.0,
            turn_rate: core::f32::consts::TAU,
            braking: 0.0,
            acceleration: None,
            turning: Turning::Free,
            health: Kind::USUAL_HEALTH,
            weapon: None,
            notice_m: 0.0,
            rallies: false,
        };
        kind.set_radius(radius_m);
        kind.set_speed(speed);
        kind
    }

    /// A building that covers `size_m` metres along its facing and across it, does not move, and has
    /// [`Kind::USUAL_HEALTH`]. Its radius is half its shorter side, if that is allowed.
    ///
    /// ```
    /// use yarrick::combat::Weapon;
    /// use yarrick::{Kind, Vec2};
    ///
    /// let salthouse = Kind { rallies: true, ..Kind::building("salthouse", Vec2::new(6.0, 4.0)) };
    /// let sling = Weapon { range_m: 7.0, damage: 4.0, cooldown_s: 1.0 };
    /// let tower = Kind { health: 250.0, ..Kind::building("sling tower", Vec2::splat(2.0)).armed(sling) };
    /// assert_eq!((salthouse.speed, tower.radius_m, tower.notice_m), (0.0, 1.0, 12.0));
    /// ```
    #[must_use]
    pub fn building(name: &str, size_m: Vec2) -> Kind {
        let radius_m = (size_m.min_element() * 0.5).max(Kind::MIN_RADIUS_M);
        Kind {
            rank: Rank::Building,
            footprint_m: Some(size_m),
            ..Kind::walker(name, radius_m, 0.0)
        }
    }

    /// The same kind with a weapon; it notices foes a little beyond its reach.
    #[must_use]
    pub fn armed(self, weapon: Weapon) -> Kind {
        let mut kind = self;
        kind.set_weapon(Some(weapon));
        kind
    }

    /// Sets the weapon, and how far a kind with it notices foes.
    fn set_weapon(&mut self, weapon: Option<Weapon>) {
        self.weapon = weapon;
        self.notice_m = weapon.map_or(0.0, |weapon| weapon.range_m + Kind::USUAL_NOTICE_BEYOND_M);
    }

    /// Sets the radius, and how tall a body of that radius is.
    fn set_radius(&mut self, radius_m: f32) {
        self.radius_m = radius_m;
        self.height_m = radius_m * 4.0;
    }

    /// Sets the speed, and how fast one of that speed slows to a stop.
    fn set_speed(&mut self, speed: f32) {
        self.speed = speed;
        self.braking = (speed * 2.0).clamp(0.1, Kind::MAX_BRAKING);
    }

    /// Whether it takes time to gather speed, or has to face where it goes.
    pub(crate) fn drives(&self) -> bool {
        self.acceleration.is_some() || self.turning != Turning::Free
    }

    /// Whether it can do something.
    #[must_use]
    pub fn can(&self, ability: Ability) -> bool {
        match ability {
            Ability::Moves => self.speed > 0.0,
            Ability::Strikes => self.weapon.is_some(),
            Ability::Works => self.rank == Rank::Worker && self.speed > 0.0,
            Ability::Rallies => self.rallies,
        }
    }

    /// The ground that one covers which stands at a point, for buildings with a footprint.
    pub(crate) fn footprint_at(&self, at: Vec2, facing: f32) -> Option<Block> {
        let size = self.footprint()?;
        let ahead = angle::direction(facing);
        let offset = self.footprint_offset_m;
        Some(Block {
            centre: at + ahead * offset.x + ahead.perp() * offset.y,
            half: size * 0.5,
            facing,
        })
    }

    /// How far its body reaches from its middle, in metres.
    pub(crate) fn reach_m(&self) -> f32 {
        let offset = self.footprint_offset_m.length();
        let corner = self
            .footprint_m
            .map_or(0.0, |size| size.length() * 0.5 + offset);
        self.radius_m.max(corner)
    }

    /// Its length and width in metres, if it is a box: of a building that cannot move, by default the square round its
    /// radius.
    fn footprint(&self) -> Option<Vec2> {
        let is_building = self.rank == Rank::Building && self.speed == 0.0;
        let square = || is_building.then(|| Vec2::splat(self.radius_m * 2.0));
        self.footprint_m.or_else(square)
    }

    /// Whether it closes the ground under its footprint: it stands for ever, and has one.
    pub(crate) fn closes_ground(&self) -> bool {
        self.footprint().is_some() && self.speed == 0.0
    }

    /// The radius in metres of the disc that others give way to. A building that closes ground has none beside that: a
    /// point in its middle.
    pub(crate) fn disc_m(&self) -> f32 {
        if self.closes_ground() {
            0.0
        } else {
            self.radius_m
        }
    }

    pub(crate) fn check(&self, ground: &Ground) -> Result<(), KindError> {
        let count = ground.gaits().len();
        if usize::from(self.gait.0) >= count {
            return Err(KindError::NoSuchGait {
                kind: self.name.clone(),
                gait: self.gait,
                count,
            });
        }
        for property in Kind::properties() {
            property.check(self)?;
        }
        let widest = ClearanceMap::MAX_RADIUS_CELLS * ground.cell_m();
        if self.radius_m > widest {
            return Err(KindError::OutOfRange {
                kind: self.name.clone(),
                what: "radius",
                value: self.radius_m,
                low: Kind::MIN_RADIUS_M,
                high: widest,
                unit: "metres",
            });
        }
        Ok(())
    }
}
