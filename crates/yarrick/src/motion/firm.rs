//! Bodies that never enter one another: each takes the step nearest to the one that it wants among those
//! that leave all others where they are.
//!
//! ```text
//!          a         a body at o that wants to go to w may not pass the line before a: of all the steps
//!       ───────      on this side of it, the one to p comes nearest
//!        p   w
//!       o
//! ```
//!
//! Each other body and each wall allows the steps on one side of a line. Standing still is always among them,
//! so that there is always an answer; it lies on the wanted step, on one line, or where two of them meet.

use crate::geom::Vec2;
use crate::ground::{GroundView, SKIN_M};
use crate::motion::step_clear;
use crate::near::Near;
use smallvec::SmallVec;

/// How far a step may pass a line by rounding, in metres.
const ROUNDING_M: f32 = 1e-5;

/// How deep two may press into one another, as a part of the smaller radius: what is left of pushes that could not
/// be shared out to the last does not make a crowd lock.
const SLACK: f32 = 0.03;

/// Bodies that are deeper in one another than this, as a part of the smaller radius, were put there: until they are
/// out they do not hinder each other.
const HEAPED: f32 = 0.25;

/// Of more lines than this the rest are not looked at in pairs: a body so hemmed in hardly moves anyway.
const MOST_LINES: usize = 24;

/// A line that a step may not pass.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Limit {
    /// The direction in which the line lies, of length 1.
    pub toward: Vec2,
    /// How far away it is, in metres; never negative.
    pub room: f32,
}

impl Limit {
    fn allows(&self, step: Vec2) -> bool {
        self.toward.dot(step) <= self.room + ROUNDING_M
    }
}

/// The step nearest to `wanted` among the steps that all limits allow.
///
/// Costs in proportion to the limits where the wanted step or one along a single line is allowed, else to
/// their number to the third.
#[must_use]
pub fn nearest_step(wanted: Vec2, limits: &[Limit]) -> Vec2 {
    let allowed = |step: Vec2| limits.iter().all(|limit| limit.allows(step));
    if allowed(wanted) {
        return wanted;
    }
    let over = |limit: &Limit| limit.toward.dot(wanted) - limit.room;
    let crossed = limits.iter().filter(|limit| over(limit) > 0.0);
    let slides = crossed.map(|limit| wanted - limit.toward * over(limit));
    let along_one = nearest_to(wanted, slides.filter(|step| allowed(*step)));
    let corners = || {
        let few = &limits[..limits.len().min(MOST_LINES)];
        let pairs = few
            .iter()
            .enumerate()
            .flat_map(|(k, a)| few[..k].iter().map(move |b| (a, b)));
        let met = pairs.filter_map(|(a, b)| meeting(a, b));
        nearest_to(wanted, met.filter(|step| allowed(*step)))
    };
    along_one.or_else(corners).unwrap_or(Vec2::ZERO)
}

fn nearest_to(wanted: Vec2, steps: impl Iterator<Item = Vec2>) -> Option<Vec2> {
    steps.min_by(|a, b| {
        let (a, b) = (a.distance_squared(wanted), b.distance_squared(wanted));
        a.total_cmp(&b)
    })
}

/// Where two lines meet, unless they run alongside.
fn meeting(a: &Limit, b: &Limit) -> Option<Vec2> {
    let turn = a.toward.perp_dot(b.toward);
    let meets = turn.abs() > 1e-4;
    meets.then(|| (a.toward.perp() * b.room - b.toward.perp() * a.room) / turn)
}

/// Where all bodies are at some moment of a tick.
#[derive(Clone, Copy, Debug)]
pub struct Crowd<'a> {
    /// The middles of the bodies, in metres.
    pub at: &'a [Vec2],
    /// Their radii in metres.
    pub radii: &'a [f32],
    /// The largest of the radii.
    pub widest: f32,
    /// How far any body may have moved since the index was built, in metres.
    pub drift: f32,
}

/// Where body `who` gets to that wants to go to `wanted`, while all others stay where they are: as near to it
/// as it can without coming into another or into closed ground. Bodies that it overlaps already it may only
/// leave; bodies that are deep in one another do not hinder each other.
///
/// Costs in proportion to the bodies and closed cells near it.
#[must_use]
pub fn step_between(
    crowd: &Crowd<'_>,
    near: &Near,
    view: GroundView<'_>,
    who: u32,
    wanted: Vec2,
) -> Vec2 {
    let me = who as usize;
    let (from, radius) = (crowd.at[me], crowd.radii[me]);
    let step = wanted - from;
    let far = step.length();
    let mut limits: SmallVec<[Limit; 32]> = SmallVec::new();
    let reach = radius + crowd.widest + crowd.drift + far;
    near.within(from, reach).for_each(|other| {
        let them = other as usize;
        let gap = crowd.at[them] - from;
        let apart = radius + crowd.radii[them];
        let (near_enough, distance_squared) = (apart + far, gap.length_squared());
        if them == me || distance_squared >= near_enough * near_enough || distance_squared < 1e-8 {
            return;
        }
        let distance = distance_squared.sqrt();
        let smaller = radius.min(crowd.radii[them]);
        if distance < apart - HEAPED * smaller {
            return;
        }
        limits.push(Limit {
            toward: gap / distance,
            room: (distance - apart + SLACK * smaller).max(0.0),
        });
    });
    let bodies = limits.len();
    for wall in view.closed_cells_under(from, radius + far) {
        let gap = wall.nearest(from) - from;
        let distance = gap.length();
        if distance > 1e-4 {
            limits.push(Limit {
                toward: gap / distance,
                room: (distance - radius + SKIN_M * 0.5).max(0.0),
            });
        }
    }
    let to = from + nearest_step(step, &limits);
    let clear = step_clear(view, from, to, radius);
    // Along a wall it may slide into somebody.
    let slid = clear - from;
    let no_farther = slid.length_squared() <= far * far;
    if clear == to || no_farther && limits[..bodies].iter().all(|limit| limit.allows(slid)) {
        clear
    } else {
        from
    }
}
