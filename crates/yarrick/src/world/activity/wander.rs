//! Wandering about: now this way, now that.

use super::steering::open_heading;
use super::{Act, Behaviour, Faculties, Next};
use crate::geom::angle;
use crate::rng::Stream;
use crate::world::legs;
use crate::world::state::Steer;
use serde::{Deserialize, Serialize};

/// How far it turns at most from one look to the next, in radians.
const TURN: f32 = 0.7;

/// Wandering about at a part of one's speed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Wander {
    pub(crate) pace: Option<f32>,
    heading: f32,
    stream: Stream,
}

impl Wander {
    pub(crate) fn new(pace: Option<f32>, stream: Stream) -> Wander {
        Wander {
            pace,
            heading: 0.0,
            stream,
        }
    }
}

impl Behaviour for Wander {
    fn needs(&self) -> Faculties {
        Faculties::LEGS
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.heading = act.state.units.facing[act.row];
        self.go_on(act);
        Next::Continue
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        if act.state.thinks_now(act.row) {
            self.go_on(act);
        }
        Next::Continue
    }
}

impl Wander {
    fn go_on(&mut self, act: &mut Act<'_>) {
        let (state, row) = (&mut *act.state, act.row);
        let turned = self.heading + self.stream.between(-TURN, TURN);
        self.heading = angle::wrap(open_heading(state, row, turned));
        let speed = state.top_speed(row) * self.pace.unwrap_or(1.0);
        let wish = angle::direction(self.heading) * speed;
        legs::steer(state, row, Steer::to(wish));
    }
}
