//! How well a crowd moved: figures of a run, taken tick by tick.
//!
//! They are printed by `yarrick run --measure`, and can be taken of any world:
//!
//! ```
//! use yarrick::scenario::{Measure, Scenario};
//! # let text = r#"
//! # [scenario]
//! # title = "A walk"
//! # [ground]
//! # rows = ["........"]
//! # legend = { "." = { name = "sand" } }
//! # [[side]]
//! # name = "keepers"
//! # [[kind]]
//! # name = "raker"
//! # radius = 0.4
//! # speed = 1.5
//! # [[unit]]
//! # name = "Orla"
//! # kind = "raker"
//! # side = "keepers"
//! # at = [0.5, 0.5]
//! # [[tally]]
//! # name = "the middle"
//! # from = [4.0, 0.0]
//! # to = [4.0, 1.0]
//! # [[script]]
//! # time = 0.5
//! # side = "keepers"
//! # order = "move"
//! # units = ["Orla"]
//! # point = [6.5, 0.5]
//! # "#;
//! let scenario = Scenario::parse(text)?;
//! let mut play = scenario.play(None)?;
//! let mut measure = Measure::begin(play.world(), &scenario.tallies);
//! play.run_until(10.0, |world, happened| measure.note(world, happened));
//! let measured = measure.close();
//! assert_eq!(measured.tallies[0].crossed, 1);
//! assert_eq!(measured.inside_closed, 0);
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod calm;
mod flocks;
mod tally;

pub use calm::{Calm, TREMBLES_M};
pub use flocks::{FlockMeasured, FlockPart, ZoneMeasured};
pub use tally::{TallyLine, TallyMeasured};

use super::PlayEvent;
use crate::geom::Vec2;
use crate::near::Near;
use crate::world::{Event, OrderNo, Outcome, UnitId, UnitView, World};
use calm::CalmTaken;
use flocks::FlockTaken;
use std::collections::BTreeMap;
use tally::Tally;

/// What moves slower than this stands, in metres a second.
pub const STILL_M_S: f32 = 0.01;

/// A unit is held up until it has come so far, in metres.
const HELD_UP_M: f32 = 0.05;

/// The figures of a run.
#[derive(Clone, Debug, PartialEq)]
pub struct Measured {
    /// The order of each command that sent units to a place, by number.
    pub orders: Vec<OrderMeasured>,
    /// The lines, as they were given.
    pub tallies: Vec<TallyMeasured>,
    /// The deepest that two bodies overlapped, if any did.
    pub overlap: Option<Overlap>,
    /// How often a body touched closed ground, counted once a unit and tick. One on its way over a link
    /// counts, too, but no building.
    pub inside_closed: u64,
    /// How calmly units waited and turned.
    pub calm: Calm,
    /// How many units there were at most.
    pub units: usize,
    /// The flocks, by number.
    pub flocks: Vec<FlockMeasured>,
}

/// How those fared that were sent to a place by one command.
#[derive(Clone, Debug, PartialEq)]
pub struct OrderMeasured {
    /// The order.
    pub order: OrderNo,
    /// When it was given, in seconds.
    pub given_s: f64,
    /// How many were sent.
    pub units: usize,
    /// How many arrived: did what was asked, or came as near as they could.
    pub arrived: usize,
    /// How many failed, or were lost.
    pub failed: usize,
    /// When the last one ended, in seconds from the order; `None` while some are under way.
    pub ended_s: Option<f64>,
    /// When the last of them moved that moved faster than [`STILL_M_S`], in seconds from the order. `None` if
    /// one did at the very end.
    pub settled_s: Option<f64>,
    /// What the one with the longest way for its speed would have needed at top speed, in seconds.
    pub alone_s: f64,
    /// The longest that one under way did not get on, in seconds.
    pub held_up_s: f64,
}

/// Two bodies in one another.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Overlap {
    /// How deep, as a part of the smaller radius.
    pub depth: f32,
    /// When, in seconds.
    pub time_s: f64,
    /// Who.
    pub units: (UnitId, UnitId),
    /// Where, in metres.
    pub at: Vec2,
}

/// Takes the figures of a run.
#[derive(Clone, Debug)]
pub struct Measure {
    orders: BTreeMap<OrderNo, Taken>,
    tallies: Vec<Tally>,
    overlap: Option<Overlap>,
    inside_closed: u64,
    calm: CalmTaken,
    flocks: Vec<FlockTaken>,
    /// Where each unit was, when it moved last, and where and when it was that it got on.
    last: BTreeMap<UnitId, Last>,
    ticks_per_second: f64,
    now_s: f64,
    near: Near,
}

/// What is known of an order under way.
#[derive(Clone, Debug)]
struct Taken {
    units: Vec<UnitId>,
    measured: OrderMeasured,
    /// When the last of them ended, in seconds.
    last_end_s: f64,
    open: usize,
}

#[derive(Clone, Copy, Debug)]
struct Last {
    at: Vec2,
    moved_s: f64,
    anchor: Vec2,
    anchor_s: f64,
}

impl Measure {
    /// Begins to measure a world before its first step, or any later one.
    #[must_use]
    pub fn begin(world: &World, tallies: &[TallyLine]) -> Measure {
        let mut measure = Measure {
            orders: BTreeMap::new(),
            tallies: tallies.iter().map(Tally::begin).collect(),
            overlap: None,
            inside_closed: 0,
            calm: CalmTaken::default(),
            flocks: world
                .flocks()
                .map(|(id, name, flock)| FlockTaken::begin(id, name, flock))
                .collect(),
            last: BTreeMap::new(),
            ticks_per_second: f64::from(world.ticks_per_second()),
            now_s: world.time_s(),
            near: Near::default(),
        };
        for unit in world.units() {
            measure.begin_unit(&unit);
        }
        measure
    }

    /// Takes in what happened in a tick, and where everybody is after it. To be called after each.
    ///
    /// Costs in proportion to the units and their neighbours.
    pub fn note(&mut self, world: &World, happened: &[PlayEvent]) {
        self.now_s = world.time_s();
        for happening in happened {
            if let PlayEvent::Event(event) = happening {
                self.note_event(world, event);
            }
        }
        for unit in world.units() {
            self.note_unit(world, &unit);
        }
        self.note_overlaps(world);
        for flock in &mut self.flocks {
            flock.note(world, world.tick_s());
        }
    }

    fn note_event(&mut self, world: &World, event: &Event) {
        match event {
            Event::Ordered { order, units, .. } => {
                let measured = OrderMeasured {
                    order: *order,
                    given_s: self.now_s,
                    units: units.len(),
                    arrived: 0,
                    failed: 0,
                    ended_s: None,
                    settled_s: None,
                    alone_s: 0.0,
                    held_up_s: 0.0,
                };
                let taken = Taken {
                    units: units.clone(),
                    open: units.len(),
                    last_end_s: 0.0,
                    measured,
                };
                self.orders.insert(*order, taken);
                for unit in units {
                    if let Some(last) = self.last.get_mut(unit) {
                        last.anchor_s = self.now_s;
                    }
                }
            }
            Event::SetOut {
                unit,
                order,
                length_m,
            } => {
                let speed = world.unit(*unit).map_or(0.0, |unit| unit.kind().speed());
                self.expect_at_lines(world, *unit);
                if let Some(taken) = self.orders.get_mut(order)
                    && speed > 0.0
                {
                    let alone = f64::from(length_m / speed);
                    let measured = &mut taken.measured;
                    measured.alone_s = measured.alone_s.max(alone);
                }
            }
            Event::Ended { order, outcome, .. } => {
                let Some(taken) = self.orders.get_mut(order) else {
                    return;
                };
                match outcome {
                    Outcome::Done | Outcome::CameShort { .. } => taken.measured.arrived += 1,
                    Outcome::Failed { .. } | Outcome::UnitLost => taken.measured.failed += 1,
                    Outcome::Replaced { .. } | Outcome::Stopped => {}
                }
                taken.open = taken.open.saturating_sub(1);
                taken.last_end_s = self.now_s;
            }
            _ => {}
        }
    }

    fn expect_at_lines(&mut self, world: &World, unit: UnitId) {
        let Some(unit) = world.unit(unit) else {
            return;
        };
        for tally in &mut self.tallies {
            tally.expect(&unit, self.now_s);
        }
    }

    fn begin_unit(&mut self, unit: &UnitView<'_>) -> Last {
        let at = unit.position();
        *self.last.entry(unit.id()).or_insert(Last {
            at,
            moved_s: self.now_s,
            anchor: at,
            anchor_s: self.now_s,
        })
    }

    fn note_unit(&mut self, world: &World, unit: &UnitView<'_>) {
        let mut last = self.begin_unit(unit);
        let (at, now_s) = (unit.position(), self.now_s);
        self.calm.note(unit, now_s);
        let view = world.ground().view(unit.kind().body.gait);
        // A building stands in the cells that it closes.
        if unit.block().is_none() && !view.disc_is_clear(at, unit.radius()) {
            self.inside_closed += 1;
        }
        for tally in &mut self.tallies {
            tally.note(unit, last.at, now_s);
        }
        if unit.velocity().length() > STILL_M_S {
            last.moved_s = now_s;
        }
        last.at = at;
        let under_way = unit.is_under_way();
        if !under_way || at.distance(last.anchor) > HELD_UP_M {
            (last.anchor, last.anchor_s) = (at, now_s);
        } else if let Some(order) = unit.orders().next()
            && let Some(taken) = self.orders.get_mut(&order.number())
        {
            let held_up = now_s - last.anchor_s.max(taken.measured.given_s);
            taken.measured.held_up_s = taken.measured.held_up_s.max(held_up);
        }
        self.last.insert(unit.id(), last);
    }

    fn note_overlaps(&mut self, world: &World) {
        let units: Vec<UnitView<'_>> = world.units().collect();
        let positions: Vec<Vec2> = units.iter().map(UnitView::position).collect();
        let widest = units.iter().map(UnitView::radius).fold(0.0, f32::max);
        self.near
            .rebuild(world.ground().bounds(), 2.0 * widest, &positions);
        for (k, unit) in units.iter().enumerate() {
            let reach = unit.radius() + widest;
            for other in self.near.within(positions[k], reach) {
                let them = &units[other as usize];
                let apart = unit.radius() + them.radius();
                let smaller = unit.radius().min(them.radius());
                let depth = (apart - positions[k].distance(them.position())) / smaller;
                if (other as usize) < k && depth > self.overlap.map_or(0.0, |known| known.depth) {
                    self.overlap = Some(Overlap {
                        depth,
                        time_s: self.now_s,
                        units: (them.id(), unit.id()),
                        at: (positions[k] + them.position()) * 0.5,
                    });
                }
            }
        }
    }

    /// The figures so far.
    #[must_use]
    pub fn close(self) -> Measured {
        let tick_s = 1.0 / self.ticks_per_second;
        let order = |taken: Taken| {
            let moved = taken.units.iter().filter_map(|unit| self.last.get(unit));
            let moved_s = moved.map(|last| last.moved_s).fold(0.0, f64::max);
            let given_s = taken.measured.given_s;
            let still = moved_s < self.now_s - tick_s * 0.5;
            OrderMeasured {
                ended_s: (taken.open == 0).then_some(taken.last_end_s - given_s),
                settled_s: still.then_some((moved_s - given_s).max(0.0)),
                ..taken.measured
            }
        };
        let sent = |taken: &Taken| taken.measured.alone_s > 0.0;
        let orders = self.orders.into_values().filter(sent);
        Measured {
            orders: orders.map(order).collect(),
            tallies: self.tallies.into_iter().map(Tally::close).collect(),
            overlap: self.overlap,
            inside_closed: self.inside_closed,
            calm: self.calm.close(),
            units: self.last.len(),
            flocks: self.flocks.into_iter().map(FlockTaken::close).collect(),
        }
    }
}
