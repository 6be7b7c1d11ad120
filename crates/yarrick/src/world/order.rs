//! Orders as units hold them, and how they end.

use super::{OrderNo, UnitId};
use crate::geom::Vec2;
use crate::route::Shortfall;
use core::fmt;
use serde::{Deserialize, Serialize};
use smallvec::SmallVec;

/// The most orders that a unit holds, the one it is carrying out included.
pub const MAX_QUEUED: usize = 64;

/// An order as one unit holds it.
#[derive(Clone, Debug, PartialEq)]
pub struct Order {
    /// Its number, shared by all units of the command.
    pub number: OrderNo,
    /// What the unit is to do.
    pub task: Task,
}

/// What one unit is to do.
#[derive(Clone, Debug, PartialEq)]
pub enum Task {
    /// Go to a place.
    Move(Errand),
    /// Go to a place, and fight on the way.
    AttackMove(Errand),
    /// Go along a beat, over and over, and fight on the way.
    Patrol(Box<Beat>),
    /// Strike a unit until it is dead.
    Attack {
        /// The unit.
        target: UnitId,
    },
    /// Walk up to a unit.
    Approach {
        /// The unit.
        target: UnitId,
        /// How far from its edge to stand, in metres from edge to edge.
        stand_off_m: f32,
        /// From which side, as the angle from where it looks in radians, if that matters.
        side: Option<f32>,
    },
    /// Keep near a unit.
    Follow {
        /// The unit.
        target: UnitId,
    },
    /// Keep near a unit, and fight off its foes.
    Guard {
        /// The unit.
        target: UnitId,
    },
    /// Stand at a place, and fight off foes that come near it.
    GuardPlace(Errand),
    /// Stand firm.
    Hold,
    /// Stand still.
    Stop,
}

/// A point that a unit was sent to, and its own place there.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Errand {
    /// The point that was asked for, in metres.
    pub goal: Vec2,
    /// The place that this unit takes up, or why it cannot go there at all.
    pub place: Result<Place, Failure>,
}

/// The way of a patrol: over and over, and to and fro or round.
#[derive(Clone, Debug, PartialEq)]
pub struct Beat {
    /// Where the unit began, and the points that it was sent to.
    pub posts: Vec<Errand>,
    /// Whether it goes round rather than to and fro.
    pub round: bool,
    /// The post that it is on the way to.
    next: u32,
    /// Whether it is on its way back.
    back: bool,
}

impl Beat {
    /// A beat that begins where the unit stands, with its first post.
    pub(crate) fn new(home: Vec2, round: bool) -> Beat {
        let place = Place {
            at: home,
            middle: home,
            spread_m: 0.0,
            facing: None,
            short: None,
        };
        Beat {
            posts: vec![Errand {
                goal: home,
                place: Ok(place),
            }],
            round,
            next: 0,
            back: false,
        }
    }

    /// The post that the unit is on the way to.
    #[must_use]
    pub fn next(&self) -> &Errand {
        &self.posts[self.next as usize]
    }

    /// Where the unit is on its beat, for the checksum.
    pub(crate) fn progress(&self) -> u32 {
        self.next << 2 | u32::from(self.back) << 1 | u32::from(self.round)
    }

    /// Goes on to the next post that can be reached. There is always one: where it began.
    pub(crate) fn turn_to_next(&mut self) {
        for _ in 0..2 * self.posts.len() {
            let last = self.posts.len() as u32 - 1;
            if self.round {
                self.next = if self.next >= last { 0 } else { self.next + 1 };
            } else {
                self.back = (self.back || self.next >= last) && self.next > 0;
                self.next = if self.back {
                    self.next - 1
                } else {
                    self.next + 1
                };
            }
            self.next = self.next.min(last);
            if self.next().place.is_ok() {
                return;
            }
        }
    }

    /// Why there is nowhere to go, if no point can be reached.
    fn hopeless(&self) -> Option<Failure> {
        let points = &self.posts[1..];
        if points.iter().any(|post| post.place.is_ok()) {
            return None;
        }
        points.iter().find_map(|post| post.place.err())
    }
}

/// Where a unit will stand: at the goal, beside the others there, or as near as it can get.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Place {
    /// The place, in metres.
    pub at: Vec2,
    /// The point round which its group stands: the goal, or the nearest point to it that the
    /// group can reach.
    pub middle: Vec2,
    /// How far from there the places of the group lie, in metres. A unit that is held up by
    /// others within this has arrived.
    pub spread_m: f32,
    /// Where it looks when it has come there, in radians, if that matters.
    pub facing: Option<f32>,
    /// Why the group could not go to the goal itself.
    pub short: Option<Shortfall>,
}

impl Order {
    /// The point that the unit was sent to, and its place there: the one that it is on the way
    /// to, on a patrol. `None` for orders that lead to no place.
    #[must_use]
    pub fn errand(&self) -> Option<&Errand> {
        match &self.task {
            Task::Move(errand) | Task::AttackMove(errand) | Task::GuardPlace(errand) => {
                Some(errand)
            }
            Task::Patrol(beat) => Some(beat.next()),
            Task::Attack { .. }
            | Task::Approach { .. }
            | Task::Follow { .. }
            | Task::Guard { .. }
            | Task::Hold
            | Task::Stop => None,
        }
    }

    /// Where the unit goes with this order, if it leads to a place that can be reached.
    #[must_use]
    pub fn place(&self) -> Option<Place> {
        self.errand().and_then(|errand| errand.place.ok())
    }

    /// The unit that the order is about.
    #[must_use]
    pub fn target(&self) -> Option<UnitId> {
        match self.task {
            Task::Attack { target }
            | Task::Approach { target, .. }
            | Task::Follow { target }
            | Task::Guard { target } => Some(target),
            _ => None,
        }
    }

    /// Why it cannot be carried out at all.
    pub(crate) fn hopeless(&self) -> Option<Failure> {
        match &self.task {
            Task::Patrol(beat) => beat.hopeless(),
            _ => self.errand().and_then(|errand| errand.place.err()),
        }
    }
}

/// The orders of a unit, the one being carried out first. Most have one or none.
pub(crate) type Queue = SmallVec<[Order; 1]>;

/// How an order ended, for one unit. Every accepted order ends in exactly one outcome.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Outcome {
    /// The unit did what was asked.
    Done,
    /// The unit went as near as it could get.
    CameShort {
        /// Why it could not go to the point itself.
        why: Shortfall,
        /// How far from the point asked for it came to stand, in metres. In a group, that is
        /// the point round which all take up their places.
        by_m: f32,
    },
    /// Another order took its place before it was done.
    Replaced {
        /// That order.
        by: OrderNo,
    },
    /// It could not be carried out.
    Failed {
        /// Why.
        why: Failure,
    },
    /// The unit is gone.
    UnitLost,
}

/// Why an order could not be carried out.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum Failure {
    /// No way leads any nearer to the goal than where the unit stands.
    #[error("no way leads nearer: {0}")]
    NoWay(Shortfall),
    /// Others stood in the way for too long.
    #[error("others stood in the way for too long")]
    HeldUp,
    /// The unit stands where no body of its size can move.
    #[error("it stands in closed ground")]
    Stuck,
    /// The unit that the order is about left the world, and not by being struck down.
    #[error("whom it was about is gone")]
    TargetGone,
    /// The target is out of range, and the unit cannot walk.
    #[error("the target is out of range")]
    OutOfRange,
    /// The target got away: for a long time the unit came no nearer to it.
    #[error("the target got away")]
    GotAway,
}

impl fmt::Display for Outcome {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Outcome::Done => f.write_str("done"),
            Outcome::CameShort { why, by_m } => write!(f, "came {by_m:.1} m short: {why}"),
            Outcome::Replaced { by } => write!(f, "replaced by {by}"),
            Outcome::Failed { why } => write!(f, "failed: {why}"),
            Outcome::UnitLost => f.write_str("the unit is gone"),
        }
    }
}
