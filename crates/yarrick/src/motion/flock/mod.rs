//! Flocks: birds, fish, swarms, that live by three rules, with nothing and nobody else in the world.
//!
//! A [`Flock`] holds its members, its [`FlockParams`] (what they see, what counts with them, how they move) and its
//! [`Zone`]s, which keep them in, draw them, or drive them off. [`Flock::step`] moves everybody on by a tick.
//!
//! ```
//! use yarrick::geom::{Outline, Vec2, Vec3};
//! use yarrick::motion::flock::{Flock, FlockParams, Zone, ZoneRole};
//!
//! // Dunlins over a bay, each with a size of its own for drawing.
//! let mut dunlins = Flock::new(FlockParams::default())?;
//! for k in 0..200 {
//!     let at = Vec3::new((k % 20) as f32, (k / 20) as f32, 0.0);
//!     dunlins.add(at, 0.7, 0.9 + 0.001 * k as f32)?;
//! }
//! let bay = Zone::new(ZoneRole::Pen, Outline::Circle { radius_m: 30.0 }, Vec2::new(10.0, 5.0));
//! dunlins.add_zone(Zone { margin_m: 8.0, ..bay })?;
//! let beacon = Zone::new(ZoneRole::Scare, Outline::Circle { radius_m: 4.0 }, Vec2::new(20.0, 5.0));
//! let beacon = dunlins.add_zone(beacon)?;
//! for _ in 0..100 {
//!     dunlins.step(0.05);
//! }
//! dunlins.switch_zone(beacon, false)?;
//! assert!(dunlins.members().all(|bird| bird.at.truncate().distance(Vec2::new(10.0, 5.0)) <= 30.0));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! The rules are those of Reynolds, "Flocks, herds, and schools" (SIGGRAPH 1987). What a rule, or a zone, pulls is a
//! direction whose length is at most its weight; the sum of them all is what a member follows, as sharply as it can
//! turn. [`Flock::pulls`] gives each by itself.
//!
//! It knows no walls and no ground: where a flock must keep off something, give it a scare or a pen.

mod bodies;
mod body;
mod cells;
mod flight;
mod go;
mod heed;
mod ids;
mod lanes;
mod measure;
mod params;
mod pulls;
mod zone;

pub use ids::{FARTHEST_M, MAX_MEMBERS, MAX_ZONES, MemberId, ZoneId};
pub use measure::FlockMeasure;
pub use params::{Air, FlockParams, FlockParamsError};
pub use pulls::Pulls;
pub use zone::{Zone, ZoneError, ZoneRole};

use crate::geom::{Vec2, Vec3, angle, is_within};
use crate::threads::Threads;
use bodies::Bodies;
use cells::Cells;
use flight::Flight;
use heed::Sight;
use serde::{Deserialize, Serialize};

/// What was not done to a flock.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
pub enum FlockError {
    /// A place or a direction is not a number, or farther out than [`FARTHEST_M`].
    #[error(
        "the place or direction of a member is not a number within {FARTHEST_M} m of the origin"
    )]
    BadPlace,
    /// It has [`MAX_MEMBERS`] members.
    #[error("a flock has at most {MAX_MEMBERS} members")]
    TooMany,
    /// There is no such zone, or no longer.
    #[error("the flock has no zone {0}")]
    NoSuchZone(ZoneId),
    /// The zone would be wrong.
    #[error(transparent)]
    Zone(#[from] ZoneError),
}

/// A member of a flock, as it is now.
#[derive(Debug, PartialEq)]
pub struct Member<'a, V> {
    /// Its number.
    pub id: MemberId,
    /// Where it is, in metres; `z` is its altitude, `0` in the plane.
    pub at: Vec3,
    /// How it moves, in metres a second.
    pub velocity: Vec3,
    /// The direction it goes, in radians.
    pub heading: f32,
    /// What the game has given it: a colour, a size.
    pub value: &'a V,
}

/// A flock. `V` is what the game wants to keep with each member: a colour, a size, or nothing.
///
/// ```
/// use yarrick::geom::Vec3;
/// use yarrick::motion::flock::{Flock, FlockParams};
///
/// let mut dunlins: Flock<&str> = Flock::new(FlockParams::default())?;
/// let first = dunlins.add(Vec3::new(0.0, 0.0, 0.0), 0.0, "grey")?;
/// let second = dunlins.add(Vec3::new(2.0, 0.5, 0.0), 1.5, "brown")?;
/// for _ in 0..200 {
///     dunlins.step(0.05);
/// }
/// // They see each other, and have come to fly the same way.
/// assert_eq!(dunlins.neighbours(first), [second]);
/// let headings: Vec<_> = dunlins.members().map(|bird| bird.velocity.normalize()).collect();
/// assert!(headings[0].dot(headings[1]) > 0.9);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct Flock<V = ()> {
    params: FlockParams,
    // Members by row, in the order of their numbers.
    id: Vec<MemberId>,
    bodies: Bodies,
    value: Vec<V>,
    zones: Vec<(ZoneId, Zone)>,
    next_member: u32,
    next_zone: u32,
    // Workspace.
    #[serde(skip)]
    cells: Cells,
}

impl<V> Flock<V> {
    /// A flock without members.
    ///
    /// # Errors
    ///
    /// [`FlockParamsError`], if something is wrong with the parameters.
    pub fn new(params: FlockParams) -> Result<Flock<V>, FlockParamsError> {
        params.check()?;
        Ok(Flock {
            params,
            id: Vec::new(),
            bodies: Bodies::default(),
            value: Vec::new(),
            zones: Vec::new(),
            next_member: 0,
            next_zone: 0,
            cells: Cells::default(),
        })
    }

    /// How its members behave.
    #[must_use]
    pub fn params(&self) -> &FlockParams {
        &self.params
    }

    /// Changes how its members behave, from the next step on.
    ///
    /// # Errors
    ///
    /// [`FlockParamsError`]; the flock is left as it was.
    pub fn set_params(&mut self, params: FlockParams) -> Result<(), FlockParamsError> {
        params.check()?;
        self.params = params;
        Ok(())
    }

    /// Adds a member that goes in a direction (radians), at its lowest speed. In the plane its altitude is `0` whatever
    /// is given; in the air it is brought between floor and ceiling.
    ///
    /// # Errors
    ///
    /// [`FlockError::BadPlace`], [`FlockError::TooMany`].
    pub fn add(&mut self, at: Vec3, heading: f32, value: V) -> Result<MemberId, FlockError> {
        if !is_within(at, FARTHEST_M) || !heading.is_finite() {
            return Err(FlockError::BadPlace);
        }
        if self.id.len() >= MAX_MEMBERS || self.next_member == u32::MAX {
            return Err(FlockError::TooMany);
        }
        let id = MemberId::of(self.next_member);
        self.next_member += 1;
        let altitude = self
            .params
            .air
            .map_or(0.0, |air| at.z.clamp(air.floor_m, air.ceiling_m));
        self.id.push(id);
        let velocity = angle::direction(heading) * self.params.speed.0;
        let at = at.truncate().extend(altitude);
        self.bodies.add(at, velocity.extend(0.0));
        self.value.push(value);
        Ok(id)
    }

    /// Takes a member out, and gives back what the game kept with it. Costs in proportion to the flock.
    pub fn remove(&mut self, id: MemberId) -> Option<V> {
        let row = self.row(id)?;
        self.id.remove(row);
        self.bodies.remove(row);
        Some(self.value.remove(row))
    }

    /// How many members it has.
    #[must_use]
    pub fn len(&self) -> usize {
        self.id.len()
    }

    /// Whether it has none.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.id.is_empty()
    }

    /// A member, if it is still in the flock.
    #[must_use]
    pub fn member(&self, id: MemberId) -> Option<Member<'_, V>> {
        Some(self.in_row(self.row(id)?))
    }

    /// What the game keeps with a member.
    pub fn value_mut(&mut self, id: MemberId) -> Option<&mut V> {
        let row = self.row(id)?;
        Some(&mut self.value[row])
    }

    /// All members, in the order in which they came.
    pub fn members(&self) -> impl ExactSizeIterator<Item = Member<'_, V>> {
        (0..self.id.len()).map(|row| self.in_row(row))
    }

    fn row(&self, id: MemberId) -> Option<usize> {
        self.id.binary_search(&id).ok()
    }

    fn in_row(&self, row: usize) -> Member<'_, V> {
        let body = self.bodies.in_row(row);
        Member {
            id: self.id[row],
            at: body.at(),
            velocity: body.velocity(),
            heading: go::heading(body.velocity()),
            value: &self.value[row],
        }
    }

    /// Adds a zone, which works from the next step on.
    ///
    /// # Errors
    ///
    /// [`ZoneError`]: it has no inside, its pen leaves no room to turn, or lies apart from another that is on.
    pub fn add_zone(&mut self, zone: Zone) -> Result<ZoneId, ZoneError> {
        zone.check(&self.params)?;
        if self.zones.len() >= MAX_ZONES || self.next_zone == u32::MAX {
            return Err(ZoneError::TooMany);
        }
        if self.zones.iter().any(|(_, other)| lie_apart(&zone, other)) {
            return Err(ZoneError::Apart);
        }
        let id = ZoneId::of(self.next_zone);
        self.next_zone += 1;
        self.zones.push((id, zone));
        Ok(id)
    }

    /// Takes a zone away.
    ///
    /// # Errors
    ///
    /// [`FlockError::NoSuchZone`].
    pub fn remove_zone(&mut self, id: ZoneId) -> Result<Zone, FlockError> {
        let at = self.zones.iter().position(|(known, _)| *known == id);
        at.map(|at| self.zones.remove(at).1)
            .ok_or(FlockError::NoSuchZone(id))
    }

    /// Changes a zone: moves it, turns it, gives it another weight, form or role.
    ///
    /// Pens that are moved apart from each other are not refused: each pulls by its weight, and nobody who is in one
    /// leaves it. Members that a pen has left behind are pulled back into it.
    ///
    /// # Errors
    ///
    /// [`FlockError`]; the zone is left as it was.
    pub fn set_zone(&mut self, id: ZoneId, zone: Zone) -> Result<(), FlockError> {
        zone.check(&self.params)?;
        *self.zone_mut(id)? = zone;
        Ok(())
    }

    /// Moves and turns a zone (metres, radians): what it is attached to has moved.
    ///
    /// # Errors
    ///
    /// [`FlockError`]; the zone is left as it was.
    pub fn move_zone(&mut self, id: ZoneId, at: Vec2, facing: f32) -> Result<(), FlockError> {
        if !(at.is_finite() && facing.is_finite()) {
            return Err(FlockError::Zone(ZoneError::NotFinite));
        }
        let zone = self.zone_mut(id)?;
        (zone.at, zone.facing) = (at, facing);
        Ok(())
    }

    /// Switches a zone on or off.
    ///
    /// # Errors
    ///
    /// [`FlockError::NoSuchZone`].
    pub fn switch_zone(&mut self, id: ZoneId, is_on: bool) -> Result<(), FlockError> {
        self.zone_mut(id)?.is_on = is_on;
        Ok(())
    }

    /// A zone, if it is still there.
    #[must_use]
    pub fn zone(&self, id: ZoneId) -> Option<&Zone> {
        let found = self.zones.iter().find(|(known, _)| *known == id);
        found.map(|(_, zone)| zone)
    }

    /// All zones, in the order in which they came.
    pub fn zones(&self) -> impl ExactSizeIterator<Item = (ZoneId, &Zone)> {
        self.zones.iter().map(|(id, zone)| (*id, zone))
    }

    fn zone_mut(&mut self, id: ZoneId) -> Result<&mut Zone, FlockError> {
        let found = self.zones.iter_mut().find(|(known, _)| *known == id);
        found
            .map(|(_, zone)| zone)
            .ok_or(FlockError::NoSuchZone(id))
    }

    /// Moves all members on by a tick of `tick_s` seconds; not at all if that is not above zero.
    ///
    /// Costs in proportion to the members and to how many each of them sees.
    pub fn step(&mut self, tick_s: f32) {
        self.step_on(&Threads::default(), tick_s);
    }

    /// Like [`step`](Flock::step), on a pool of threads; the outcome is the same to the last bit whatever their number.
    /// A further thread takes part for every thousand members or so.
    pub fn step_on(&mut self, threads: &Threads, tick_s: f32) {
        if !(tick_s > 0.0 && tick_s.is_finite()) || self.is_empty() {
            return;
        }
        self.bodies.sort(&mut self.cells, self.params.view_m);
        let (params, cells, zones) = (&self.params, &self.cells, &self.zones);
        self.bodies.change(|bodies, after| {
            let sight = Sight::new(params);
            let flight = Flight {
                params,
                sight,
                cells,
                bodies,
                zones,
                tick_s,
            };
            flight.run(threads, after);
        });
    }

    /// Whom a member sees, in the order in which they came. Costs in proportion to the flock.
    #[must_use]
    pub fn neighbours(&self, id: MemberId) -> Vec<MemberId> {
        let Some(row) = self.row(id) else {
            return Vec::new();
        };
        let sight = Sight::new(&self.params);
        let (cells, bodies) = self.by_cell();
        let (slot, all) = (bodies.slot_of(row), bodies.by_slot());
        let slots = cells.runs_round(&all[slot..=slot]).into_iter().flatten();
        let others = slots.filter(|other| *other != slot);
        let seen = others.filter(|other| sight.sees(&all[slot], all[*other].at()));
        let mut ids: Vec<MemberId> = seen.map(|other| self.id[all[other].row as usize]).collect();
        ids.sort_unstable();
        ids
    }

    /// Everybody in the order of cells as they are now.
    fn by_cell(&self) -> (Cells, Bodies) {
        let (mut cells, mut bodies) = (Cells::default(), self.bodies.clone());
        bodies.sort(&mut cells, self.params.view_m);
        (cells, bodies)
    }

    /// What pulls a member now, rule by rule and zone by zone: what the next step will follow. Costs in proportion to
    /// the flock.
    #[must_use]
    pub fn pulls(&self, id: MemberId) -> Option<Pulls> {
        let row = self.row(id)?;
        let (cells, bodies) = self.by_cell();
        let flight = Flight {
            params: &self.params,
            sight: Sight::new(&self.params),
            cells: &cells,
            bodies: bodies.by_slot(),
            zones: &self.zones,
            tick_s: 1.0,
        };
        let body = bodies.in_row(row);
        let alone = core::slice::from_ref(body);
        let mut pulls = flight.rules(alone, &bodies::moving(alone)).first();
        let at = body.flat_at();
        let zones = self.zones.iter();
        pulls.zones = zones.map(|(id, zone)| (*id, zone.pull(at))).collect();
        Some(pulls)
    }

    /// How the flock holds together.
    #[must_use]
    pub fn measure(&self) -> FlockMeasure {
        measure::measure(self.bodies.clone(), self.params.view_m)
    }

    /// Whether its numbers could have come about: for what was read from a file.
    pub(crate) fn is_sound(&self) -> bool {
        let count = self.id.len();
        let below = |next: u32, last: Option<u32>| last.is_none_or(|last| last < next);
        let zones = &self.zones;
        let bounded = |body: &body::Body| {
            let places = is_within(body.at(), FARTHEST_M);
            places && body.velocity().is_finite()
        };
        self.params.check().is_ok()
            && self.bodies.len() == count
            && self.value.len() == count
            && count <= MAX_MEMBERS
            && zones.len() <= MAX_ZONES
            && self.id.is_sorted_by(|a, b| a < b)
            && zones.is_sorted_by(|a, b| a.0 < b.0)
            && below(self.next_member, self.id.last().map(|id| id.number()))
            && below(self.next_zone, zones.last().map(|(id, _)| id.number()))
            && zones
                .iter()
                .all(|(_, zone)| zone.check(&self.params).is_ok())
            && self.bodies.by_slot().iter().all(bounded)
    }

    /// A number that is equal for two flocks that are the same to the last bit: members and zones, without what the game
    /// keeps with them.
    #[must_use]
    pub fn checksum(&self) -> u64 {
        measure::checksum(self)
    }
}

/// Whether nobody could be in two pens that are on: their circles do not meet.
fn lie_apart(a: &Zone, b: &Zone) -> bool {
    let is_pen = |zone: &Zone| zone.role == ZoneRole::Pen && zone.is_on;
    let ((a_at, a_reach), (b_at, b_reach)) = (a.holds(), b.holds());
    is_pen(a) && is_pen(b) && a_at.distance(b_at) >= a_reach + b_reach
}
