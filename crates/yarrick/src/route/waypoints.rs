//! Waypoint graphs: places and the legs between them, as a designer draws them, in place of a map of
//! cells. For tracks, canals, roads in the air; a body that leaves them is none of their business.
//!
//! ```
//! use yarrick::route::{Leg, Waypoint, Waypoints};
//! use yarrick::Vec2;
//!
//! let place = |name: &str, x: f32, y: f32| Waypoint { name: name.to_owned(), at: Vec2::new(x, y) };
//! let mut marsh = Waypoints::new(
//!     vec![place("yard", 0.0, 0.0), place("sluice", 10.0, 0.0), place("pans", 20.0, 0.0),
//!          place("bank", 10.0, 15.0)],
//!     vec![Leg::between(0, 1), Leg::between(1, 2), Leg::between(0, 3),
//!          Leg { one_way: true, ..Leg::between(3, 2) }],
//! )?;
//! let trip = marsh.find(0, 2).unwrap();
//! assert_eq!((trip.places, trip.cost_m), (vec![0, 1, 2], 20.0));
//!
//! marsh.set_open(0, false);
//! assert_eq!(marsh.find(0, 2).unwrap().places, [0, 3, 2]);
//! assert!(marsh.find(2, 3).is_none()); // the last leg leads one way
//! # Ok::<(), yarrick::route::WaypointError>(())
//! ```

use crate::geom::Vec2;
use core::cmp::Reverse;
use serde::{Deserialize, Serialize};
use std::collections::BinaryHeap;

/// The most places, and the most legs, that a graph has.
pub const MAX_WAYPOINTS: usize = 1 << 20;

/// The dearest that a leg may be, in metres.
pub const MAX_LEG_COST_M: f32 = 1_000_000.0;

/// A place.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Waypoint {
    /// What it is called.
    pub name: String,
    /// Where it is, in metres.
    pub at: Vec2,
}

/// A way from one place to another.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Leg {
    /// Where it begins, by its number in the list of places.
    pub from: u32,
    /// Where it ends.
    pub to: u32,
    /// What it costs, as metres of plain ground that take as long, above 0; `None` for the straight
    /// distance. Lower draws more units to it.
    pub cost_m: Option<f32>,
    /// Whether it leads there and not back.
    pub one_way: bool,
}

impl Leg {
    /// A leg that leads both ways and costs the straight distance.
    #[must_use]
    pub fn between(from: u32, to: u32) -> Leg {
        Leg {
            from,
            to,
            cost_m: None,
            one_way: false,
        }
    }
}

/// Why a graph was refused.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum WaypointError {
    /// There is no place.
    #[error("a waypoint graph needs at least one place")]
    NoPlace,
    /// Too many places or legs.
    #[error("there are {count} {what}; at most {MAX_WAYPOINTS} are allowed")]
    TooMany {
        /// Of what.
        what: &'static str,
        /// How many there are.
        count: usize,
    },
    /// A place that is nowhere.
    #[error("the place {name:?} lies at a point that is no finite number")]
    NotFinite {
        /// The place.
        name: String,
    },
    /// A leg from or to a place that there is none of.
    #[error("leg {leg} names place {place}; there are {count}, counted from 0")]
    NoSuchPlace {
        /// The leg, counted from 0.
        leg: usize,
        /// The place.
        place: u32,
        /// How many there are.
        count: usize,
    },
    /// A leg whose cost is out of range.
    #[error("leg {leg} costs {cost_m} m; allowed is more than 0 and at most {MAX_LEG_COST_M}")]
    BadCost {
        /// The leg, counted from 0.
        leg: usize,
        /// Its cost.
        cost_m: f32,
    },
}

/// A way over a waypoint graph.
#[derive(Clone, Debug, PartialEq)]
pub struct Trip {
    /// The places, first and last included.
    pub places: Vec<u32>,
    /// What it costs, in metres of plain ground.
    pub cost_m: f32,
    /// How many places the search settled: the work that it took.
    pub settled: u32,
}

/// Places and the legs between them.
#[derive(Clone, Debug)]
pub struct Waypoints {
    places: Vec<Waypoint>,
    legs: Vec<Leg>,
    open: Vec<bool>,
    /// For each place where its arcs begin in `arcs`, and where the last one's end.
    first: Vec<u32>,
    arcs: Vec<Arc>,
    /// What a metre as the crow flies costs at the least, over all legs, in millimetres.
    least_per_m: f64,
}

/// A leg as seen from a place.
#[derive(Clone, Copy, Debug)]
struct Arc {
    from: u32,
    to: u32,
    leg: u32,
    /// In millimetres: whole numbers, so that equal ways tie.
    cost: u64,
}

impl Waypoints {
    /// A graph of some places and legs, all of these open.
    ///
    /// # Errors
    /// [`WaypointError`] for no place, too many, numbers that are none, and places that are not there.
    pub fn new(places: Vec<Waypoint>, legs: Vec<Leg>) -> Result<Waypoints, WaypointError> {
        check_places(&places)?;
        if legs.len() > MAX_WAYPOINTS {
            let (what, count) = ("legs", legs.len());
            return Err(WaypointError::TooMany { what, count });
        }
        let mut arcs = Vec::with_capacity(legs.len() * 2);
        let mut least_per_m = f64::INFINITY;
        for (number, leg) in legs.iter().enumerate() {
            let cost = cost_of(&places, number, leg)?;
            let [from, to] = [leg.from, leg.to].map(|place| places[place as usize].at);
            let straight = f64::from(from.distance(to));
            if straight > 0.0 {
                least_per_m = least_per_m.min(cost as f64 / straight);
            }
            let arc = Arc {
                from: leg.from,
                to: leg.to,
                leg: number as u32,
                cost,
            };
            arcs.push(arc);
            if !leg.one_way {
                let (from, to) = (leg.to, leg.from);
                arcs.push(Arc { from, to, ..arc });
            }
        }
        // Ties by number of the leg.
        arcs.sort_by_key(|arc| (arc.from, arc.leg));
        let before = |place: u32| arcs.partition_point(|arc| arc.from < place) as u32;
        let first = (0..=places.len() as u32).map(before).collect();
        Ok(Waypoints {
            open: vec![true; legs.len()],
            places,
            legs,
            first,
            arcs,
            least_per_m: if least_per_m.is_finite() {
                least_per_m
            } else {
                0.0
            },
        })
    }

    /// The places.
    #[must_use]
    pub fn places(&self) -> &[Waypoint] {
        &self.places
    }

    /// The legs.
    #[must_use]
    pub fn legs(&self) -> &[Leg] {
        &self.legs
    }

    /// Opens or closes a leg, by its number. Gives whether there is such a leg. Costs nothing: the next
    /// search knows.
    pub fn set_open(&mut self, leg: u32, open: bool) -> bool {
        let known = self.open.get_mut(leg as usize);
        known.map(|known| *known = open).is_some()
    }

    /// The place nearest to a point as the crow flies; ties go to the lower number. `None` where the point
    /// is not finite. Looks at all places.
    #[must_use]
    pub fn nearest(&self, point: Vec2) -> Option<u32> {
        if !point.is_finite() {
            return None;
        }
        let distance = |place: &Waypoint| place.at.distance_squared(point);
        let places = self.places.iter().enumerate();
        let nearest = places.min_by(|(_, a), (_, b)| distance(a).total_cmp(&distance(b)));
        nearest.map(|(number, _)| number as u32)
    }

    /// A cheapest way between two places, by their numbers; `None` where there is none.
    ///
    /// Hart, Nilsson and Raphael (1968). Costs in proportion to the places settled, times the logarithm
    /// of those under way.
    #[must_use]
    pub fn find(&self, from: u32, to: u32) -> Option<Trip> {
        self.find_any(from, &[to])
    }

    /// A cheapest way from a place to any of some others, in one search.
    #[must_use]
    pub fn find_any(&self, from: u32, to: &[u32]) -> Option<Trip> {
        let count = self.places.len();
        let is_place = |place: &u32| (*place as usize) < count;
        let goals: Vec<u32> = to.iter().copied().filter(is_place).collect();
        if goals.is_empty() || !is_place(&from) {
            return None;
        }
        let mut costs = vec![u64::MAX; count];
        let mut parents = vec![u32::MAX; count];
        let mut open = BinaryHeap::new();
        let mut settled = 0;
        costs[from as usize] = 0;
        open.push(Reverse((self.left(from, &goals), 0, from)));
        while let Some(Reverse((_, cost, at))) = open.pop() {
            if cost > costs[at as usize] {
                continue;
            }
            settled += 1;
            if goals.contains(&at) {
                return Some(Trip {
                    places: way_back(&parents, at),
                    cost_m: (cost as f64 / 1000.0) as f32,
                    settled,
                });
            }
            let arcs = self.first[at as usize] as usize..self.first[at as usize + 1] as usize;
            for arc in &self.arcs[arcs] {
                let total = cost + arc.cost;
                if self.open[arc.leg as usize] && total < costs[arc.to as usize] {
                    costs[arc.to as usize] = total;
                    parents[arc.to as usize] = at;
                    // What lies immeasurably far is looked at last.
                    let whole = total.saturating_add(self.left(arc.to, &goals));
                    open.push(Reverse((whole, total, arc.to)));
                }
            }
        }
        None
    }

    /// The least that is left from a place to any of some others, in millimetres.
    fn left(&self, from: u32, goals: &[u32]) -> u64 {
        let at = self.places[from as usize].at;
        let straight = |goal: &u32| at.distance(self.places[*goal as usize].at);
        let nearest = goals.iter().map(straight).fold(f32::INFINITY, f32::min);
        // A little less, so that rounding never makes it too much.
        (f64::from(nearest) * self.least_per_m * 0.999_99) as u64
    }
}

fn check_places(places: &[Waypoint]) -> Result<(), WaypointError> {
    if places.is_empty() {
        return Err(WaypointError::NoPlace);
    }
    if places.len() > MAX_WAYPOINTS {
        let (what, count) = ("places", places.len());
        return Err(WaypointError::TooMany { what, count });
    }
    match places.iter().find(|place| !place.at.is_finite()) {
        Some(place) => Err(WaypointError::NotFinite {
            name: place.name.clone(),
        }),
        None => Ok(()),
    }
}

/// What a leg costs, in millimetres.
fn cost_of(places: &[Waypoint], number: usize, leg: &Leg) -> Result<u64, WaypointError> {
    let count = places.len();
    for place in [leg.from, leg.to] {
        if place as usize >= count {
            let leg = number;
            return Err(WaypointError::NoSuchPlace { leg, place, count });
        }
    }
    let [from, to] = [leg.from, leg.to].map(|place| places[place as usize].at);
    // Two places at one point are a millimetre apart.
    let cost_m = leg.cost_m.unwrap_or_else(|| from.distance(to).max(0.001));
    if cost_m > 0.0 && cost_m <= MAX_LEG_COST_M {
        Ok(((f64::from(cost_m) * 1000.0).round() as u64).max(1))
    } else {
        Err(WaypointError::BadCost {
            leg: number,
            cost_m,
        })
    }
}

/// The places on the way to one, from the first.
fn way_back(parents: &[u32], to: u32) -> Vec<u32> {
    let parent = |at: &u32| Some(parents[*at as usize]).filter(|parent| *parent != u32::MAX);
    let mut way: Vec<u32> = core::iter::successors(Some(to), parent).collect();
    way.reverse();
    way
}
