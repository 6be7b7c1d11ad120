//! Going from post to post, over and over, and fighting foes that are noticed on the way.

use super::{Act, Activity, Behaviour, Engage, Faculties, Go, Next};
use crate::world::arms::Alertness;
use crate::world::legs;
use crate::world::message::{Failure, Outcome};
use crate::world::state::{Claim, Destination, GroupNo, Place, Report, State};
use serde::{Deserialize, Serialize};

/// A post at most this many radii away is where the unit is.
const HERE_RADII: f32 = 0.5;

/// The way of a patrol: over and over, and to and fro or round.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PatrolRoute {
    /// Where the unit began, and the points that it was sent to.
    pub posts: Vec<Destination>,
    /// Whether it goes round rather than to and fro.
    pub round: bool,
}

/// Walking a patrol route.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Patrol {
    group: GroupNo,
    route: PatrolRoute,
    /// The post that it is on the way to.
    next: u32,
    /// Whether it is on its way back.
    back: bool,
}

impl Patrol {
    /// A patrol that has not begun: it is on the way to its first post that can be reached.
    pub(crate) fn new(group: GroupNo, route: PatrolRoute) -> Patrol {
        let mut patrol = Patrol {
            group,
            route,
            next: 0,
            back: false,
        };
        patrol.turn_to_next();
        patrol
    }

    /// Where it goes.
    pub(crate) fn route(&self) -> &PatrolRoute {
        &self.route
    }

    /// Adds posts.
    pub(crate) fn extend(&mut self, posts: &[Destination]) {
        self.route.posts.extend_from_slice(posts);
    }

    /// The post that the unit is on the way to.
    pub(crate) fn post(&self) -> &Destination {
        &self.route.posts[self.next as usize]
    }

    /// Whether it names a post that there is: for what was read from a file.
    pub(crate) fn is_consistent(&self) -> bool {
        (self.next as usize) < self.route.posts.len()
    }

    /// Goes on to the next post that can be reached. There is always one: where it began.
    fn turn_to_next(&mut self) {
        let last = self.route.posts.len() as u32 - 1;
        for _ in 0..2 * self.route.posts.len() {
            if self.route.round {
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
            if self.post().place.is_ok() {
                return;
            }
        }
    }

    /// Why there is nowhere to go, if no point can be reached.
    fn hopeless(&self) -> Option<Failure> {
        let points = &self.route.posts[1..];
        if points.iter().any(|post| post.place.is_ok()) {
            return None;
        }
        points.iter().find_map(|post| post.place.err())
    }

    /// Sends the unit to its next post, or lets it stand where all posts that it can reach are where it is.
    fn set_out(&self, act: &mut Act<'_>) -> Next {
        let (at, radius) = (
            act.state.units.position[act.row],
            act.state.units.radius[act.row],
        );
        let places = self.route.posts.iter().filter_map(|post| post.place.ok());
        let is_here = |place: Place| place.at.distance(at) <= radius * HERE_RADII;
        if places.into_iter().all(is_here) {
            legs::halt(act.state, act.row);
            return Next::Continue;
        }
        self.leg().send(act, Claim::Passes)
    }

    fn leg(&self) -> Go {
        Go {
            group: self.group.on_leg(self.leg_no()),
            destination: *self.post(),
        }
    }

    /// Which leg of its way it is on: to a post on the way out, or to the same post on the way back.
    fn leg_no(&self) -> u16 {
        // There are at most some dozens of posts.
        (2 * self.next + u32::from(self.back)) as u16
    }
}

impl Behaviour for Patrol {
    fn needs(&self) -> Faculties {
        Faculties::BOTH
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        match self.hopeless() {
            Some(why) => Next::Ended(Outcome::Failed { why }),
            None => self.set_out(act),
        }
    }

    fn only_waits(&self) -> bool {
        true
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        match act.sighting.take() {
            Some(sighting) => {
                let engage = Engage::near_itself(act, sighting).on_the_way_to(self.place());
                Next::RunFirst(Activity::Engage(engage))
            }
            None => Next::Continue,
        }
    }

    fn heard(&mut self, act: &mut Act<'_>, report: Report) -> Next {
        if let Report::NoWay(why) = report {
            return Next::Ended(Outcome::Failed { why });
        }
        // A post where others stand in the way is left for the next one.
        self.turn_to_next();
        self.set_out(act)
    }

    fn resumed(&mut self, act: &mut Act<'_>) -> Next {
        match act.state.units.locomotion[act.row].place() {
            Some(_) => Next::Continue,
            None => self.set_out(act),
        }
    }

    fn alertness(&self, _: &State) -> Alertness {
        Alertness::AroundItself
    }

    fn place(&self) -> Option<Place> {
        self.post().place.ok()
    }
}
