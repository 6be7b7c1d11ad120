//! Walking along a route.

use crate::geom::Vec2;
use crate::ground::LinkId;
use crate::motion::{Corner, way_left};
use crate::route::Shortfall;

/// How much nearer a unit must get, in metres, for its patience to begin anew.
const PROGRESS_M: f32 = 0.05;

/// A walk in progress.
#[derive(Clone, Debug)]
pub(crate) struct Go {
    bound: Bound,
    /// Where the leg to the first point begins.
    from: Vec2,
    path: Vec<Vec2>,
    next: u32,
    /// How it is off its path, if it was pushed.
    strayed: Strayed,
    /// The way from the next point to the end, in metres.
    beyond: f32,
    best_left: f32,
    delay: Delay,
    /// The points to which a link leads, over no ground.
    over_links: Vec<u32>,
    /// Whether it is under way on a link.
    afloat: bool,
    /// For how many ticks it may go on looking for its place, once it has come to where its group gathers.
    gathers: Option<u32>,
    /// Why the path ends short of the place that it was to lead to.
    short: Option<Shortfall>,
}

/// What a walk is for.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Bound {
    /// The place of the order.
    Place,
    /// Another unit: to the point, but no nearer than so many metres. The activity that began it
    /// ends it.
    Unit { to: Vec2, short_m: f32 },
}

/// How a walk is off its path.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Strayed {
    /// It is not.
    OnPath,
    /// It was pushed aside since the last corner, and sees the next point.
    Beside,
    /// It does not see the next point.
    Lost,
}

/// What a unit does about making no progress.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Patience {
    /// It keeps trying.
    Holds,
    /// It has waited for a while: another way may be better, or this may be near enough.
    Frays,
    /// It gives up.
    Ends,
}

/// How long a unit has got no nearer.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct Delay {
    /// Ticks in which it tried to get on.
    pub(crate) held_up: u32,
    /// Ticks in which it waited for its turn.
    pub(crate) waited: u32,
}

/// How much delay a unit bears, in ticks.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Bearing {
    /// Its patience frays every so many ticks.
    pub(crate) fray: u32,
    /// Held up for so long, it gives up.
    pub(crate) held_up: u32,
    /// Nor does it wait for its turn for longer than this.
    pub(crate) waited: u32,
}

impl Go {
    /// Sets out from a position along a path. `delay` is how long the unit has gone without progress
    /// on earlier paths to the same place.
    pub(crate) fn new(bound: Bound, from: Vec2, path: Vec<Vec2>, delay: Delay) -> Go {
        let mut go = Go {
            bound,
            from,
            path,
            next: 0,
            strayed: Strayed::OnPath,
            beyond: 0.0,
            best_left: f32::INFINITY,
            delay,
            over_links: Vec::new(),
            afloat: false,
            gathers: None,
            short: None,
        };
        go.pass(0);
        go.best_left = go.left(from);
        go
    }

    /// The same walk, of whose points some are led to by links. They are numbered as in the route, whose
    /// first point is where the walk begins.
    pub(crate) fn over_links(self, links: &[(u32, LinkId)]) -> Go {
        let over_links = links.iter().map(|(at, _)| at.saturating_sub(1)).collect();
        Go { over_links, ..self }
    }

    /// The same walk, which may end short of where it was to lead.
    pub(crate) fn ending_short(self, short: Option<Shortfall>) -> Go {
        Go { short, ..self }
    }

    /// Why it ends short of where it was to lead, if it does.
    pub(crate) fn short(&self) -> Option<Shortfall> {
        self.short
    }

    /// Sets out over a link, or comes off it. Gives whether it was not so already.
    pub(crate) fn set_afloat(&mut self, afloat: bool) -> bool {
        core::mem::replace(&mut self.afloat, afloat) != afloat
    }

    /// Notes that it has come to where its group gathers, and within how many ticks it should be in its place.
    pub(crate) fn gather(&mut self, within: u32) {
        self.gathers = Some(within);
    }

    /// For how many ticks it may go on looking for its place, if it has come to where its group gathers.
    pub(crate) fn gathers(&self) -> Option<u32> {
        self.gathers
    }

    /// Whether its last point is led to by a link.
    pub(crate) fn ends_on_link(&self) -> bool {
        let last = (self.path.len() as u32).checked_sub(1);
        last.is_some_and(|last| self.is_over_link(last))
    }

    /// Lets the last leg of the path lead to another point.
    pub(crate) fn end_at(&mut self, to: Vec2) {
        if let Some(last) = self.path.last_mut() {
            *last = to;
        }
        // What was left of the way to elsewhere says nothing of this one.
        self.best_left = f32::INFINITY;
        self.pass(self.next);
    }

    /// Whether the next point is led to by a link.
    pub(crate) fn is_on_link(&self) -> bool {
        self.is_over_link(self.next)
    }

    /// Whether a point of the path is led to by a link.
    pub(crate) fn is_over_link(&self, point: u32) -> bool {
        self.over_links.contains(&point)
    }

    /// The points to which links lead, counted from the next on.
    pub(crate) fn links_ahead(&self) -> impl Iterator<Item = u32> + '_ {
        let links = self.over_links.iter();
        links.filter_map(|at| at.checked_sub(self.next))
    }

    /// The points that can be walked to from the next on before a link begins.
    pub(crate) fn up_to_link(&self) -> &[Vec2] {
        let links = self.over_links.iter().filter(|at| **at >= self.next);
        let end = links.min().map_or(self.path.len(), |at| *at as usize);
        &self.path[..end]
    }

    /// Walks straight to a point instead, on the same legs.
    pub(crate) fn redirect(&mut self, bound: Bound, to: Vec2) {
        self.bound = bound;
        if self.path.last() != Some(&to) {
            // What was left of the way to elsewhere says nothing of this one.
            self.best_left = f32::INFINITY;
        }
        self.over_links.clear();
        self.short = None;
        self.path.clear();
        self.path.push(to);
        self.pass(0);
    }

    /// Notes how it is off its path.
    pub(crate) fn set_strayed(&mut self, strayed: Strayed) {
        self.strayed = strayed;
    }

    pub(crate) fn strayed(&self) -> Strayed {
        self.strayed
    }

    /// The corner that it comes to next, unless the path ends there or goes on over a link.
    pub(crate) fn corner(&self) -> Option<Corner> {
        let (from, at) = self.leg();
        let beyond = self.next + 1;
        let to = self
            .path
            .get(beyond as usize)
            .filter(|_| !self.is_over_link(beyond))?;
        Corner::between(from, at, *to)
    }

    /// The leg of the path that it is on.
    pub(crate) fn leg(&self) -> (Vec2, Vec2) {
        let next = self.next as usize;
        let from = next
            .checked_sub(1)
            .map_or(self.from, |last| self.path[last]);
        (from, self.path.get(next).copied().unwrap_or(from))
    }

    pub(crate) fn bound(&self) -> Bound {
        self.bound
    }

    /// The metres at the end of the path that are not to be walked.
    pub(crate) fn short_m(&self) -> f32 {
        match self.bound {
            Bound::Place => 0.0,
            Bound::Unit { short_m, .. } => short_m,
        }
    }

    pub(crate) fn path(&self) -> &[Vec2] {
        &self.path
    }

    /// The points still to be walked to.
    pub(crate) fn ahead(&self) -> &[Vec2] {
        &self.path[(self.next as usize).min(self.path.len())..]
    }

    pub(crate) fn next(&self) -> u32 {
        self.next
    }

    /// The least that was ever left to walk, in metres.
    pub(crate) fn best_left(&self) -> f32 {
        self.best_left
    }

    /// How long it has made no progress.
    pub(crate) fn delay(&self) -> Delay {
        self.delay
    }

    /// Counts the ticks in which it was held up as waited, to try on.
    pub(crate) fn forbear(&mut self) {
        self.delay = Delay {
            held_up: 0,
            waited: self.delay.waited.saturating_add(self.delay.held_up),
        };
    }

    /// Ticks without progress, but for those in which it waited for its turn.
    pub(crate) fn held_up(&self) -> u32 {
        self.delay.held_up
    }

    /// The metres left to walk from a position.
    pub(crate) fn left(&self, position: Vec2) -> f32 {
        self.ahead()
            .first()
            .map_or(0.0, |point| position.distance(*point) + self.beyond)
    }

    /// The metres left to walk for one that passes the next point at a distance.
    pub(crate) fn left_by(&self, passing: Vec2) -> f32 {
        let ahead = self.ahead();
        match ahead.get(1) {
            Some(second) => passing.distance(*second) + self.beyond - ahead[0].distance(*second),
            None => self.left(passing),
        }
    }

    /// Makes `next` the next point to walk to.
    pub(crate) fn pass(&mut self, next: u32) {
        self.next = next;
        self.beyond = match self.ahead().first() {
            Some(&point) => way_left(point, &self.path, next + 1),
            None => 0.0,
        };
    }

    /// Counts a tick that ended at `position`, and in which it waited for its turn or did not.
    pub(crate) fn watch(&mut self, position: Vec2, waits: bool, bearing: Bearing) -> Patience {
        self.gathers = self.gathers.map(|ticks| ticks.saturating_sub(1));
        let left = self.left(position);
        if left < self.best_left - PROGRESS_M {
            self.best_left = left;
            self.delay = Delay::default();
            return Patience::Holds;
        }
        let delay = &mut self.delay;
        match waits {
            true => delay.waited += 1,
            false => delay.held_up += 1,
        }
        if delay.held_up >= bearing.held_up || delay.waited >= bearing.waited {
            Patience::Ends
        } else if (delay.held_up + delay.waited).is_multiple_of(bearing.fray.max(1)) {
            Patience::Frays
        } else {
            Patience::Holds
        }
    }
}
