//! What the legs of a unit are at.

use super::digest::Digest;
use super::patience::Patience;
use super::place::{GroupPlace, MoveTarget, Place};
use super::table::Value;
use super::walk::Walk;
use crate::geom::Vec2;
use serde::{Deserialize, Serialize};

/// What the legs of a unit are at.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) enum Locomotion {
    /// They stand.
    Standing,
    /// They wait for a route.
    AwaitingRoute {
        target: MoveTarget,
        /// The patience that is left from an earlier route.
        patience: Patience,
        /// Where the unit walks in the meantime, in metres.
        stroll_to: Option<Vec2>,
    },
    /// They walk along a route.
    Walking(Walk),
    /// They go as an activity says from tick to tick, with no route.
    Steered(Steer),
}

/// How a unit goes that an activity steers.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Steer {
    /// The velocity that it would like to have, in metres a second.
    pub(crate) wish: Vec2,
    /// Where it looks meanwhile, in radians; `None` for where it goes.
    pub(crate) looks: Option<f32>,
    /// How fast it changes its velocity, in metres a second squared; `None` for at once.
    pub(crate) acceleration: Option<f32>,
}

impl Steer {
    /// A wish that is met at once, with the eyes where it goes.
    pub(crate) const fn to(wish: Vec2) -> Steer {
        Steer {
            wish,
            looks: None,
            acceleration: None,
        }
    }
}

impl Value for Locomotion {
    #[inline]
    fn feed(&self, digest: &mut Digest) {
        match self {
            Locomotion::Walking(walk) => walk.feed(digest),
            other => digest.add(other),
        }
    }
}

impl Locomotion {
    /// What they walk to, or wait to walk to.
    pub(crate) fn target(&self) -> Option<&MoveTarget> {
        match self {
            Locomotion::Standing | Locomotion::Steered(_) => None,
            Locomotion::AwaitingRoute { target, .. } => Some(target),
            Locomotion::Walking(walk) => Some(walk.target()),
        }
    }

    /// Leads to another place of the same group, at the end of the same way.
    pub(crate) fn set_place(&mut self, place: Place) {
        match self {
            Locomotion::AwaitingRoute {
                target: MoveTarget::Place(target),
                ..
            } => target.place = place,
            Locomotion::Walking(walk) => walk.set_place(place),
            Locomotion::Standing | Locomotion::AwaitingRoute { .. } | Locomotion::Steered(_) => {}
        }
    }

    /// The place that they lead to, if it is one.
    pub(crate) fn place(&self) -> Option<&GroupPlace> {
        self.target().and_then(MoveTarget::place)
    }

    /// How long the unit has made no progress to where it is led.
    pub(crate) fn patience(&self) -> Patience {
        match self {
            Locomotion::AwaitingRoute { patience, .. } => *patience,
            Locomotion::Walking(walk) => walk.patience(),
            Locomotion::Standing | Locomotion::Steered(_) => Patience::default(),
        }
    }

    pub(crate) fn stands(&self) -> bool {
        matches!(self, Locomotion::Standing)
    }

    pub(crate) fn walk(&self) -> Option<&Walk> {
        match self {
            Locomotion::Walking(walk) => Some(walk),
            _ => None,
        }
    }
}
