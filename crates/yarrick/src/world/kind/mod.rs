//! The kinds of unit that there are, and what they can do.

mod arms;
mod body;
mod building;
mod drill_use;
mod drills;
mod economy;
mod legs;
mod posture;
mod property;
mod senses;

pub use body::Body;
pub use building::Footprint;
pub use drill_use::DrillUse;
pub use economy::{Cost, Depot, Holding, Producer, Work};
pub use legs::Legs;
pub use posture::Posture;
pub use property::Property;
pub(crate) use property::{Number, Sort};
pub use senses::Senses;

use crate::combat::{Turret, Weapon};
use crate::geom::{Block, Vec2, angle};
use crate::ground::{ClearanceMap, GaitId, Ground};
use core::f32::consts::TAU;
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
    /// It can walk, and carries what it gathers.
    Gathers,
    /// It can walk, and builds.
    Builds,
}

impl Ability {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, Ability); 6] = [
        ("moves", Ability::Moves),
        ("strikes", Ability::Strikes),
        ("works", Ability::Works),
        ("rallies", Ability::Rallies),
        ("gathers", Ability::Gathers),
        ("builds", Ability::Builds),
    ];
}

/// A sort of unit: what it is called and for, and its components. Each is a type of its own, and most of them a kind may
/// lack: one without [`Legs`] never moves.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Kind {
    /// What it is called.
    pub name: String,
    /// The character that stands for it in pictures.
    pub glyph: char,
    /// What it is for.
    pub rank: Rank,
    /// How wide and tall it is, on which ground, and what it can suffer.
    pub body: Body,
    /// How it moves. `None` for what never does.
    pub legs: Option<Legs>,
    /// What it strikes with. `None` for what strikes nobody.
    pub weapon: Option<Weapon>,
    /// What its units do about foes while they have nothing else to do. `None` for the usual:
    /// [`Kind::usual_posture`].
    pub posture: Option<Posture>,
    /// What it notices around it. `None` for what notices nobody.
    pub senses: Option<Senses>,
    /// The box that it takes up. `None` for bodies that are round, and for kinds of rank building that cannot move and
    /// cover the square round their radius.
    pub footprint: Option<Footprint>,
    /// Whether it has a rally point, as buildings that send out units do.
    pub rallies: bool,
    /// What it takes to produce or build one.
    pub cost: Cost,
    /// How it works on deposits and sites. `None` for what does not.
    pub work: Option<Work>,
    /// What can be gathered from it. `None` for what is no deposit.
    pub holding: Option<Holding>,
    /// That it takes in what is gathered. `None` for what does not.
    pub depot: Option<Depot>,
    /// What it produces. `None` for what produces nothing.
    pub producer: Option<Producer>,
    /// The drills that it goes by, each driving other faculties.
    pub drills: Vec<DrillUse>,
}

impl Kind {
    /// All properties that scenario files give, in the order of the guide. Those that others follow from come before them.
    pub fn properties() -> impl Iterator<Item = &'static Property> + Clone {
        let parts = [
            body::PROPERTIES,
            legs::PROPERTIES,
            arms::PROPERTIES,
            posture::PROPERTIES,
            senses::PROPERTIES,
            building::PROPERTIES,
            economy::PROPERTIES,
            drills::PROPERTIES,
        ];
        parts.into_iter().flatten()
    }

    /// All properties of a weapon, in the order of the guide.
    pub fn weapon_properties() -> impl Iterator<Item = &'static Property<Weapon>> + Clone {
        arms::WEAPON.iter()
    }

    /// A fighter of `radius_m` metres and `speed` metres a second, with the usual body and legs of such a one
    /// ([`Body::of_radius`], [`Legs::of_speed`]) but no weapon yet. The first letter of its name is its glyph. With a
    /// speed of 0 it has no legs.
    ///
    /// ```
    /// use yarrick::Kind;
    /// use yarrick::motion::steering::Turning;
    /// use yarrick::world::{Body, Legs, Rank};
    ///
    /// let raker = Kind { rank: Rank::Worker, ..Kind::walker("raker", 0.35, 1.8).with_health(30.0) };
    /// let sledge = Kind::walker("sledge", 0.6, 1.4).with_legs(Legs {
    ///     acceleration: Some(2.0),
    ///     turning: Turning::Driving { circle_m: 1.5 },
    ///     ..Legs::of_speed(1.4)
    /// });
    /// assert_eq!((raker.glyph, raker.legs), ('r', Some(Legs::of_speed(1.8))));
    /// assert_eq!(sledge.body.health, Body::USUAL_HEALTH);
    /// ```
    #[must_use]
    pub fn walker(name: &str, radius_m: f32, speed: f32) -> Kind {
        Kind {
            name: name.to_owned(),
            glyph: name.chars().next().unwrap_or('?'),
            rank: Rank::Fighter,
            body: Body::of_radius(radius_m),
            legs: (speed != 0.0).then(|| Legs::of_speed(speed)),
            weapon: None,
            posture: None,
            senses: None,
            footprint: None,
            rallies: false,
            cost: Cost::default(),
            work: None,
            holding: None,
            depot: None,
            producer: None,
            drills: Vec::new(),
        }
    }

    /// A building that covers `size_m` metres along its facing and across it, does not move, and has
    /// [`Body::USUAL_HEALTH`]. Its radius is half its shorter side, if that is allowed.
    ///
    /// ```
    /// use yarrick::combat::Weapon;
    /// use yarrick::{Kind, Vec2};
    ///
    /// let salthouse = Kind { rallies: true, ..Kind::building("salthouse", Vec2::new(6.0, 4.0)) };
    /// let sling = Weapon { range_m: 7.0, damage: 4.0, ..Weapon::PLAIN };
    /// let tower = Kind::building("sling tower", Vec2::splat(2.0)).with_health(250.0).armed(sling);
    /// assert_eq!((salthouse.speed(), tower.body.radius_m, tower.notice_m()), (0.0, 1.0, 12.0));
    /// ```
    #[must_use]
    pub fn building(name: &str, size_m: Vec2) -> Kind {
        let radius_m = (size_m.min_element() * 0.5).max(Body::MIN_RADIUS_M);
        Kind {
            rank: Rank::Building,
            footprint: Some(Footprint::of_size(size_m)),
            ..Kind::walker(name, radius_m, 0.0)
        }
    }

    /// The same kind with a weapon; it notices foes a little beyond its reach.
    #[must_use]
    pub fn armed(mut self, weapon: Weapon) -> Kind {
        self.set_weapon(Some(weapon));
        self
    }

    /// The same kind with other legs.
    #[must_use]
    pub fn with_legs(self, legs: Legs) -> Kind {
        Kind {
            legs: Some(legs),
            ..self
        }
    }

    /// The same kind with another health, in points; `0` means that it cannot be harmed.
    #[must_use]
    pub fn with_health(mut self, points: f32) -> Kind {
        self.body.health = points;
        self
    }

    /// The same kind with another gait.
    #[must_use]
    pub fn with_gait(mut self, gait: GaitId) -> Kind {
        self.body.gait = gait;
        self
    }

    /// Sets the weapon, and how far a kind with it notices foes.
    fn set_weapon(&mut self, weapon: Option<Weapon>) {
        self.weapon = weapon;
        let noticing =
            |weapon: Weapon| Senses::noticing(weapon.range_m + Senses::USUAL_NOTICE_BEYOND_M);
        self.senses = weapon.map(noticing);
    }

    /// Its top speed on plain ground in metres a second; `0` without legs.
    #[must_use]
    pub fn speed(&self) -> f32 {
        self.legs.map_or(0.0, |legs| legs.speed)
    }

    /// Duration of a manoeuvre in seconds; `0` unless the kind turns only while it drives.
    pub(crate) fn manoeuvre_s(&self) -> f32 {
        self.legs.map_or(0.0, |legs| legs.manoeuvre_s())
    }

    /// How far it notices foes, in metres from edge to edge; `0` without senses.
    #[must_use]
    pub fn notice_m(&self) -> f32 {
        self.senses.map_or(0.0, |senses| senses.notice_m)
    }

    /// How its arms turn on its body, if they do: those of a building that closes ground always do.
    pub(crate) fn turret(&self) -> Option<Turret> {
        let weapon = self.weapon?;
        let all_round = || Turret {
            turn_rate: self.body.turn_rate,
            arc: TAU,
        };
        weapon
            .turret
            .or_else(|| self.closes_ground().then(all_round))
    }

    /// How fast it slows to a stop, in metres a second squared.
    pub(crate) fn braking(&self) -> f32 {
        self.legs.map_or(Legs::MAX_BRAKING, |legs| legs.braking)
    }

    /// Whether it takes time to gather speed, or has to face where it goes.
    pub(crate) fn drives(&self) -> bool {
        self.legs.is_some_and(|legs| legs.drive())
    }

    /// How much of a resource it carries; `0` for what does not gather.
    #[must_use]
    pub fn carries(&self) -> u32 {
        self.work.as_ref().map_or(0, |work| work.carries)
    }

    /// The kinds that it builds.
    #[must_use]
    pub fn builds(&self) -> &[KindId] {
        self.work.as_ref().map_or(&[], |work| &work.builds)
    }

    /// The kinds that it produces.
    #[must_use]
    pub fn produces(&self) -> &[KindId] {
        self.producer
            .as_ref()
            .map_or(&[], |producer| &producer.kinds)
    }

    /// Whether it can do something.
    #[must_use]
    pub fn can(&self, ability: Ability) -> bool {
        match ability {
            Ability::Moves => self.speed() > 0.0,
            Ability::Strikes => self.weapon.is_some(),
            Ability::Works => self.rank == Rank::Worker && self.can(Ability::Moves),
            Ability::Rallies => self.rallies,
            Ability::Gathers => self.carries() > 0 && self.can(Ability::Moves),
            Ability::Builds => !self.builds().is_empty() && self.can(Ability::Moves),
        }
    }

    /// The ground that one covers which stands at a point, for buildings with a footprint.
    pub(crate) fn footprint_at(&self, at: Vec2, facing: f32) -> Option<Block> {
        let footprint = self.footprint_or_square()?;
        let (offset, ahead) = (footprint.offset_m, angle::direction(facing));
        Some(Block {
            centre: at + ahead * offset.x + ahead.perp() * offset.y,
            half: footprint.size_m * 0.5,
            facing,
        })
    }

    /// How far its body reaches from its position, in metres.
    pub(crate) fn reach_m(&self) -> f32 {
        let corner = self.footprint_or_square().map_or(0.0, |footprint| {
            footprint.size_m.length() * 0.5 + footprint.offset_m.length()
        });
        self.body.radius_m.max(corner)
    }

    /// The box that it is, if it is one: of a building that cannot move, by default the square round its radius.
    fn footprint_or_square(&self) -> Option<Footprint> {
        let is_fixed = self.rank == Rank::Building && !self.can(Ability::Moves);
        let square = || Footprint::of_size(Vec2::splat(self.body.radius_m * 2.0));
        self.footprint.or_else(|| is_fixed.then(square))
    }

    /// Whether it closes the ground under its footprint: it stands for ever, and has one.
    pub(crate) fn closes_ground(&self) -> bool {
        self.footprint_or_square().is_some() && !self.can(Ability::Moves)
    }

    /// The radius in metres of the disc that others give way to. A building that closes ground has none beside that: a
    /// point in its middle.
    pub(crate) fn disc_m(&self) -> f32 {
        if self.closes_ground() {
            0.0
        } else {
            self.body.radius_m
        }
    }

    pub(crate) fn check(&self, ground: &Ground) -> Result<(), KindError> {
        let count = ground.gaits().len();
        if usize::from(self.body.gait.0) >= count {
            return Err(KindError::NoSuchGait {
                kind: self.name.clone(),
                gait: self.body.gait,
                count,
            });
        }
        for property in Kind::properties() {
            property.check(self)?;
        }
        let widest = ClearanceMap::max_radius_m(ground);
        if self.body.radius_m > widest {
            return Err(KindError::OutOfRange {
                kind: self.name.clone(),
                what: "radius",
                value: self.body.radius_m,
                low: Body::MIN_RADIUS_M,
                high: widest,
                unit: "metres",
            });
        }
        Ok(())
    }
}
