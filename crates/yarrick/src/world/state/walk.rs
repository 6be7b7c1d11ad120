//! Walking along a route.

use super::digest::Digest;
use super::patience::{Pace, Patience, PatienceLimits, Verdict};
use super::place::{Claim, MoveTarget, Place};
use super::progress::{Looks, Progress, Strayed};
use super::sealed::Sealed;
use crate::geom::Vec2;
use crate::ground::LinkId;
use crate::motion::{Corner, follow, way_left};
use crate::route::Shortfall;
use serde::{Deserialize, Serialize};

/// How much nearer a unit must get, in metres, for its patience to begin anew.
const PROGRESS_M: f32 = 0.05;

/// After how many ticks without getting on, over and over, a unit looks whether one beside it had better have its place.
const LOOKS_TICKS: u32 = 8;

/// How far outside of the places a unit has come to the assembly, in its own radii.
const FORECOURT_RADII: f32 = 3.0;

/// Twentieths of a second after which a unit that does not get on counts as held up.
const HELD_UP_TICKS: u32 = 15;

/// A walk in progress: where it leads, and how far it has come.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(from = "SavedWalk")]
pub(crate) struct Walk {
    plan: Sealed<Plan>,
    progress: Progress,
    /// The next point of the path: most of the time all of it that is looked at, and it is at hand here. Where there is no
    /// next point, the last.
    #[serde(skip)]
    to: Vec2,
}

/// A walk as it is saved.
#[derive(Deserialize)]
struct SavedWalk {
    plan: Sealed<Plan>,
    progress: Progress,
}

impl From<SavedWalk> for Walk {
    fn from(SavedWalk { plan, progress }: SavedWalk) -> Walk {
        let to = plan.point(progress.next);
        Walk { plan, progress, to }
    }
}

/// Where a walk leads, and by which way.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
struct Plan {
    target: MoveTarget,
    /// Where the leg to the first point begins.
    from: Vec2,
    path: Vec<Vec2>,
    /// The points to which a link leads, over no ground.
    over_links: Vec<u32>,
    /// Why the path ends short of the place that it was to lead to.
    short: Option<Shortfall>,
    /// How many points at the beginning of the path lead round bodies that stand.
    detour: u32,
}

impl Plan {
    /// A point of the path, or its end.
    fn point(&self, nth: u32) -> Vec2 {
        let point = self.path.get(nth as usize).or(self.path.last());
        point.copied().unwrap_or(self.from)
    }
}

impl Walk {
    /// Sets out from a position along a path, with the patience left from earlier paths to the same place.
    pub(crate) fn new(target: MoveTarget, from: Vec2, path: Vec<Vec2>, patience: Patience) -> Walk {
        let mut walk = Walk {
            plan: Sealed::new(Plan {
                target,
                from,
                path,
                over_links: Vec::new(),
                short: None,
                detour: 0,
            }),
            progress: Progress {
                next: 0,
                strayed: Strayed::OnPath,
                beyond: 0.0,
                patience,
                on_link: false,
                assembles: None,
                looks: Looks::default(),
                backs_until: 0,
                waits: false,
            },
            to: from,
        };
        walk.pass(0);
        walk.progress.patience.best_m = walk.left(from);
        walk
    }

    /// The same walk, of whose points some are led to by links. They are numbered as in the route, whose
    /// first point is where the walk begins.
    pub(crate) fn over_links(mut self, links: &[(u32, LinkId)]) -> Walk {
        if !links.is_empty() {
            let over_links = links.iter().map(|(at, _)| at.saturating_sub(1));
            self.plan
                .change(|plan| plan.over_links = over_links.collect());
        }
        self
    }

    /// The same walk, which may end short of where it was to lead.
    pub(crate) fn ending_short(mut self, short: Option<Shortfall>) -> Walk {
        if short.is_some() {
            self.plan.change(|plan| plan.short = short);
        }
        self
    }

    /// Why it ends short of where it was to lead, if it does.
    pub(crate) fn short(&self) -> Option<Shortfall> {
        self.plan.short
    }

    /// Sets out over a link, or comes off it. Gives whether it was not so already.
    pub(crate) fn set_on_link(&mut self, on_link: bool) -> bool {
        core::mem::replace(&mut self.progress.on_link, on_link) != on_link
    }

    /// Notes that it has come to where its group assembles, and within how many ticks it should be in its place.
    pub(crate) fn assemble(&mut self, within: u32) {
        self.progress.assembles = Some(within);
    }

    /// For how many more ticks it may look for its place, if it has come to where its group assembles.
    pub(crate) fn assembles(&self) -> Option<u32> {
        self.progress.assembles
    }

    /// Whether its last point is led to by a link.
    pub(crate) fn ends_on_link(&self) -> bool {
        let last = (self.plan.path.len() as u32).checked_sub(1);
        last.is_some_and(|last| self.is_over_link(last))
    }

    /// Lets the last leg of the path lead to another point.
    pub(crate) fn end_at(&mut self, to: Vec2) {
        self.plan.change(|plan| {
            if let Some(last) = plan.path.last_mut() {
                *last = to;
            }
            if let MoveTarget::Place(target) = &mut plan.target {
                target.place.at = to;
            }
        });
        self.pass(self.progress.next);
        // What was left of the way to elsewhere says nothing of this one.
        self.progress.patience = self.progress.patience.on_another_way(f32::INFINITY);
    }

    /// Goes round bodies that stand in its way: from a position along some points, and then on along the path from point
    /// `rejoins` of it.
    pub(crate) fn take_detour(&mut self, from: Vec2, points: Vec<Vec2>, rejoins: u32) {
        let count = points.len() as u32;
        self.plan.change(|plan| {
            plan.from = from;
            plan.detour = count;
            plan.over_links.retain(|point| *point >= rejoins);
            for point in &mut plan.over_links {
                *point = *point - rejoins + count;
            }
            let rest = plan.path.split_off(rejoins as usize);
            plan.path = points;
            plan.path.extend(rest);
        });
        self.progress.strayed = Strayed::OnPath;
        self.pass(0);
        let left_m = self.left(from);
        self.progress.patience = self.progress.patience.on_another_way(left_m);
    }

    /// Whether it goes round bodies that stood in its way.
    pub(crate) fn is_on_detour(&self) -> bool {
        self.progress.next < self.plan.detour
    }

    /// The end of its detour, if the next point of the detour leads a unit at `at` away from that end. `None` without a detour.
    pub(crate) fn led_away_from(&self, at: Vec2) -> Option<Vec2> {
        let last = self.plan.detour.checked_sub(1)?;
        let end = *self.plan.path.get(last as usize)?;
        let leads_away = (self.to - at).dot(end - at) < 0.0;
        (self.is_on_detour() && leads_away).then_some(end)
    }

    /// Goes straight to the end of its detour.
    pub(crate) fn cut_detour(&mut self, from: Vec2) {
        self.pass(self.plan.detour.saturating_sub(1));
        let left_m = self.left(from);
        self.progress.patience = self.progress.patience.on_another_way(left_m);
    }

    /// When it looks for a way round.
    pub(crate) fn looks(&self) -> Looks {
        self.progress.looks
    }

    /// Backs off from an oncoming unit until a tick.
    pub(crate) fn back_off(&mut self, until: u64) {
        self.progress.backs_until = until;
    }

    /// Whether it backs off in a tick.
    pub(crate) fn backs_off(&self, tick: u64) -> bool {
        tick < self.progress.backs_until
    }

    /// Notes whether it stands still because its path is blocked, or because one ahead of it does so.
    pub(crate) fn set_waits(&mut self, waits: bool) {
        self.progress.waits = waits;
    }

    /// Whether it stands still because its path is blocked, or because one ahead of it does so.
    pub(crate) fn waits(&self) -> bool {
        self.progress.waits
    }

    /// Notes that nobody who stands is in its way any more.
    pub(crate) fn open_up(&mut self) {
        self.progress.looks.is_shut = false;
    }

    pub(crate) fn set_looks(&mut self, looks: Looks) {
        self.progress.looks = looks;
    }

    /// Whether the next point is led to by a link.
    pub(crate) fn is_on_link(&self) -> bool {
        self.is_over_link(self.progress.next)
    }

    /// Whether a point of the path is led to by a link.
    pub(crate) fn is_over_link(&self, point: u32) -> bool {
        self.plan.over_links.contains(&point)
    }

    /// The points that can be walked to from the next on before a link begins.
    pub(crate) fn up_to_link(&self) -> &[Vec2] {
        let links = self
            .plan
            .over_links
            .iter()
            .filter(|at| **at >= self.progress.next);
        let end = links.min().map_or(self.plan.path.len(), |at| *at as usize);
        &self.plan.path[..end]
    }

    /// Walks straight to a point instead, on the same legs.
    pub(crate) fn redirect(&mut self, target: MoveTarget) {
        let to = target.point();
        if self.plan.path.last() != Some(&to) {
            // What was left of the way to elsewhere says nothing of this one.
            self.progress.patience = self.progress.patience.on_another_way(f32::INFINITY);
        }
        if self.is_on_detour() && self.plan.path.last() == Some(&to) {
            return self.plan.change(|plan| plan.target = target);
        }
        self.plan.change(|plan| {
            plan.target = target;
            plan.detour = 0;
            plan.over_links.clear();
            plan.short = None;
            plan.path.clear();
            plan.path.push(to);
        });
        self.pass(0);
    }

    /// Notes how it is off its path.
    pub(crate) fn set_strayed(&mut self, strayed: Strayed) {
        self.progress.strayed = strayed;
    }

    pub(crate) fn strayed(&self) -> Strayed {
        self.progress.strayed
    }

    /// The corner that it comes to next, unless the path ends there or goes on over a link.
    pub(crate) fn corner(&self) -> Option<Corner> {
        let beyond = self.progress.next + 1;
        let to = *self.plan.path.get(beyond as usize)?;
        if self.is_over_link(beyond) {
            return None;
        }
        let (from, at) = self.leg();
        Corner::between(from, at, to)
    }

    /// The leg of the path that it is on.
    pub(crate) fn leg(&self) -> (Vec2, Vec2) {
        let next = self.progress.next as usize;
        let from = next
            .checked_sub(1)
            .map_or(self.plan.from, |last| self.plan.path[last]);
        (from, self.plan.path.get(next).copied().unwrap_or(from))
    }

    pub(crate) fn target(&self) -> &MoveTarget {
        &self.plan.target
    }

    /// Leads to another place of the same group, at the end of the same way.
    pub(crate) fn set_place(&mut self, place: Place) {
        self.plan.change(|plan| {
            if let MoveTarget::Place(target) = &mut plan.target {
                target.place = place;
            }
        });
    }

    pub(crate) fn path(&self) -> &[Vec2] {
        &self.plan.path
    }

    /// The points still to be walked to.
    pub(crate) fn ahead(&self) -> &[Vec2] {
        &self.plan.path[(self.progress.next as usize).min(self.plan.path.len())..]
    }

    pub(crate) fn next(&self) -> u32 {
        self.progress.next
    }

    /// How long it has made no progress.
    pub(crate) fn patience(&self) -> Patience {
        self.progress.patience
    }

    /// Counts the ticks in which it was held up as waited, to try on.
    pub(crate) fn forbear(&mut self) {
        self.progress.patience.forbear();
    }

    /// Ticks without progress, but for those in which it waited for its turn.
    pub(crate) fn held_up(&self) -> u32 {
        self.progress.patience.held_up
    }

    /// Whether it has not got on for so long that it looks whether one beside it had better have its place.
    pub(crate) fn is_stuck(&self) -> bool {
        let looks = self.held_up() > 0 && self.held_up().is_multiple_of(LOOKS_TICKS);
        looks && self.target().place().is_some()
    }

    /// Whether a unit has come near enough to the places of its group, and had not before.
    pub(crate) fn comes_to_assembly(&self, at: Vec2, radius: f32) -> bool {
        let target = self
            .target()
            .place()
            .filter(|target| target.claim == Claim::Trades);
        let place = target.map(|target| target.place);
        let is_near = |place: Place| {
            let reach = place.spread_m + FORECOURT_RADII * radius;
            place.spread_m > 0.0 && at.distance_squared(place.middle) <= reach * reach
        };
        self.assembles().is_none() && place.is_some_and(is_near)
    }

    /// Whether it has not got on for a while, be it held up or waiting for its turn, given the number of ticks in a second.
    pub(crate) fn is_held_up(&self, second: u32) -> bool {
        let Patience {
            held_up, waited, ..
        } = self.progress.patience;
        held_up.saturating_add(waited) > HELD_UP_TICKS * second / 20
    }

    /// How many points are still to be walked to.
    pub(crate) fn points_left(&self) -> usize {
        let passed = self.progress.next as usize;
        self.plan.path.len().saturating_sub(passed)
    }

    /// The next point of the path; if there is none, its end.
    pub(crate) fn to(&self) -> Vec2 {
        self.to
    }

    /// The metres from a position to the next point.
    pub(crate) fn leg_left(&self, position: Vec2) -> f32 {
        match self.points_left() {
            0 => 0.0,
            _ => position.distance(self.to),
        }
    }

    /// The metres left to walk from a position.
    pub(crate) fn left(&self, position: Vec2) -> f32 {
        match self.points_left() {
            0 => 0.0,
            _ => position.distance(self.to) + self.progress.beyond,
        }
    }

    /// Where the last leg begins and ends, for one that walks on from a position.
    pub(crate) fn last_leg(&self, position: Vec2) -> (Vec2, Vec2) {
        match *self.ahead() {
            [.., before, end] => (before, end),
            _ => (position, self.to),
        }
    }

    /// Where one gets to that walks so many metres on from a position, as far as no link begins; and the next point then.
    pub(crate) fn walk_on(&self, position: Vec2, metres: f32) -> (Vec2, u32) {
        let mut next = self.progress.next;
        if self.points_left() > 0 && !self.is_on_link() {
            let mut passed = 0;
            let at = follow(
                position,
                core::slice::from_ref(&self.to),
                &mut passed,
                metres,
            );
            if passed == 0 {
                return (at, next);
            }
        }
        let at = follow(position, self.up_to_link(), &mut next, metres);
        (at, next)
    }

    /// Whether the path goes on behind the next point, and a position is within so many metres of that.
    pub(crate) fn is_near_corner(&self, position: Vec2, within_m: f32) -> bool {
        self.points_left() > 1 && position.distance(self.to) < within_m
    }

    /// The metres left to walk for one that passes the next point at a distance.
    pub(crate) fn left_by(&self, passing: Vec2) -> f32 {
        match self.ahead().get(1) {
            Some(second) => {
                passing.distance(*second) + self.progress.beyond - self.to.distance(*second)
            }
            None => self.left(passing),
        }
    }

    /// Makes `next` the next point to walk to.
    pub(crate) fn pass(&mut self, next: u32) {
        self.progress.next = next;
        self.to = self.plan.point(next);
        self.progress.beyond = match self.ahead().first() {
            Some(&point) => way_left(point, &self.plan.path, next + 1),
            None => 0.0,
        };
    }

    /// Counts a tick that ended at `position`, and in which it waited for its turn or did not. `top_m` is how far it could
    /// go in a tick.
    pub(crate) fn watch(
        &mut self,
        (position, top_m): (Vec2, f32),
        waits: bool,
        limits: PatienceLimits,
    ) -> Verdict {
        self.progress.assembles = self.progress.assembles.map(|ticks| ticks.saturating_sub(1));
        let left_m = self.left(position);
        let pace = Pace {
            least_m: PROGRESS_M,
            top_m: || top_m,
        };
        let patience = &mut self.progress.patience;
        if patience.count(left_m, pace, waits) && patience.is_fresh() {
            Verdict::Holds
        } else {
            self.progress.patience.verdict(limits)
        }
    }

    /// Adds it to a checksum: its plan by the hash of that.
    #[inline]
    pub(super) fn feed(&self, digest: &mut Digest) {
        digest.put(self.plan.hash().to_le_bytes());
        self.progress.feed(digest);
    }

    /// Whether its numbers fit each other: for what was read from a file.
    pub(crate) fn is_consistent(&self) -> bool {
        let count = self.plan.path.len() as u32;
        let points = self.plan.path.iter().chain([&self.plan.from]);
        self.progress.next <= count
            && self.plan.over_links.iter().all(|at| *at < count)
            && points.into_iter().all(|point| point.is_finite())
            // On a link there is a point that it leads to.
            && (!self.is_on_link() || self.progress.next < count)
    }
}
