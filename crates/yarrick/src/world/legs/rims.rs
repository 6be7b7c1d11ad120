//! The search for a place on the rim of a target: the gaps to try, the places that are taken, and where the unit can stand.

use super::would_step_aside;
use crate::geom::Vec2;
use crate::ground::Region;
use crate::motion::{Rim, RimPlace};
use crate::near::Near;
use crate::route::{cell_in_reach, footing_towards};
use crate::world::state::State;
use smallvec::SmallVec;

/// Distance between the places that are tried on a rim, in radii of the unit: round a standing target, and round a walking one.
const STEP_RADII: f32 = 0.25;
const COARSE_STEP_RADII: f32 = 0.8;

/// Distance kept between places, relative to the distance at which the two bodies touch.
pub(super) const APART: f32 = 1.02;

/// The gaps that a unit may keep to another, edge to edge in metres.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Gaps {
    /// The best one, and the widest at which it is near enough.
    pub(crate) best_m: f32,
    pub(crate) most_m: f32,
}

impl Gaps {
    /// The gaps at which the unit is near enough, from the best outward.
    pub(super) fn outward(self) -> impl Iterator<Item = f32> {
        let (best, most) = (self.best_m, self.most_m);
        let between = [best, (best + most) * 0.5, most - 0.01];
        between.into_iter().filter(move |gap| *gap >= best)
    }

    /// Those nearer in, for where walls leave nothing else.
    pub(super) fn inward(self) -> impl Iterator<Item = f32> {
        let best = self.best_m;
        let gaps = [0.75, 0.5, 0.25, 0.0].map(|part| best * part);
        gaps.into_iter().filter(move |gap| best - gap > 0.05)
    }
}

/// The units that have taken a place on the rim of a target, and the places.
pub(super) fn berths_of(state: &State, target: usize) -> impl Iterator<Item = (usize, Vec2)> {
    let known = state.derived.berths.get(&state.units.id[target]);
    let middle = state.middle(target);
    let rows = known.into_iter().flatten();
    rows.filter_map(move |unit| {
        let row = state.units.row(*unit)?;
        Some((row, middle + state.units.berth[row]?.offset))
    })
}

/// A search for a place for a unit on the rim of a target.
pub(super) struct Look<'a> {
    pub(super) state: &'a State,
    pub(super) row: usize,
    pub(super) target: usize,
    pub(super) radius: f32,
    /// The part of the ground in which the unit is, if its cell belongs to any.
    region: Option<Region>,
    step_m: f32,
    pub(super) taken: SmallVec<[Taken; 16]>,
}

/// A place that another unit has taken.
#[derive(Clone, Copy, Debug)]
pub(super) struct Taken {
    pub(super) row: usize,
    pub(super) at: Vec2,
    pub(super) radius: f32,
}

impl Taken {
    /// Whether a body of a radius would touch the unit at a point.
    pub(super) fn touches(&self, at: Vec2, radius: f32) -> bool {
        let apart = (self.radius + radius) * APART;
        self.at.distance_squared(at) < apart * apart
    }
}

impl Look<'_> {
    pub(super) fn new<'a>(
        state: &'a State,
        near: &Near,
        (row, target): (usize, usize),
        gaps: Gaps,
    ) -> Look<'a> {
        let units = &state.units;
        let radius = units.radius[row];
        let is_coarse = !units.locomotion[target].stands();
        let steps = if is_coarse {
            COARSE_STEP_RADII
        } else {
            STEP_RADII
        };
        let taken_by = |(row, at): (usize, Vec2)| Taken {
            row,
            at,
            radius: units.radius[row],
        };
        let mut taken: SmallVec<[Taken; 16]> = berths_of(state, target).map(taken_by).collect();
        // Those that stand there for another reason, and would not make room.
        let body_m = state.kind_of(target).reach_m();
        let reach = body_m + gaps.most_m + 2.0 * radius + state.derived.widest;
        let stands_here = |other: usize| {
            other != row
                && other != target
                && units.radius[other] > 0.0
                && units.locomotion[other].stands()
                && units.berth[other].is_none_or(|berth| berth.target != units.id[target])
                && (units.side[other] != units.side[row] || !would_step_aside(state, other))
        };
        let others = near.within(state.middle(target), reach);
        let others = others.map(|other| other as usize);
        let others = others.filter(|other| *other < units.len() && stands_here(*other));
        taken.extend(others.map(|other| taken_by((other, units.position[other]))));
        let own = state.ground.cell_at(units.position[row]);
        Look {
            state,
            row,
            target,
            radius,
            region: own.and_then(|cell| state.clearance(row).region(cell)),
            step_m: steps * radius.max(0.05),
            taken,
        }
    }

    /// The same search with all places free.
    pub(super) fn of_free_rims(&self) -> Look<'_> {
        Look {
            taken: SmallVec::new(),
            ..*self
        }
    }

    /// The place of least cost at any of several gaps. The cost is the length of the way to it, plus `off_cost` for each
    /// metre between its gap and the best one.
    pub(super) fn cheapest(
        &self,
        gaps: Gaps,
        among: impl Iterator<Item = f32>,
        (off_cost, at_gap): (f32, &dyn Fn(f32, f32) -> Option<RimPlace>),
    ) -> Option<Vec2> {
        let now_m = self.state.gap_m(self.row, self.target);
        let (mut least, mut best) = (f32::INFINITY, None);
        for gap_m in among {
            let off = off_cost * (gap_m - gaps.best_m).abs();
            // No way is shorter than the straight one to the rim.
            if (now_m - gap_m).abs() + off >= least {
                continue;
            }
            let found = at_gap(gap_m, least - off);
            if let Some(place) = found.filter(|place| place.way_m + off < least) {
                (least, best) = (place.way_m + off, Some(place.at));
            }
        }
        best
    }

    /// The places at a gap.
    pub(super) fn rim(&self, gap_m: f32) -> Rim {
        let (state, off_m) = (self.state, self.radius + gap_m);
        match state.block(self.target) {
            Some(block) => Rim::round_block(&block, off_m),
            None => {
                let radius = state.units.radius[self.target];
                Rim::round_disc(state.units.position[self.target], radius, off_m)
            }
        }
    }

    /// The nearest free place at a gap, with a way of at most some metres.
    pub(super) fn nearest(
        &self,
        from: Vec2,
        (gap_m, most_m): (f32, f32),
        suits: &dyn Fn(&State, Vec2) -> bool,
    ) -> Option<RimPlace> {
        let state = self.state;
        let rim = self.rim(gap_m);
        // Most places are taken by the unit that takes the one before on the same side, so that is checked first.
        let mut lasts = [0, 0];
        rim.nearest_place(from, self.step_m, most_m, |at| {
            let takes = |taken: &Taken| taken.touches(at, self.radius);
            lasts.swap(0, 1);
            if self.taken.get(lasts[0]).is_some_and(takes) {
                return false;
            }
            if let Some(taker) = self.taken.iter().position(takes) {
                lasts[0] = taker;
                return false;
            }
            self.can_stand(at) && suits(state, at)
        })
    }

    /// Whether no closed ground lies between a place and the nearest point at a gap from the target.
    pub(super) fn is_beside(&self, at: Vec2, gap_m: f32) -> bool {
        let (state, target) = (self.state, self.target);
        let (middle, body_m) = (state.units.position[target], state.units.radius[target]);
        let edge = match state.block(target) {
            Some(block) => block.nearest(at),
            None => middle + (at - middle).clamp_length_max(body_m),
        };
        let near = edge + (at - edge).clamp_length_max(self.radius + gap_m);
        state.ground_view(self.row).line_is_clear(at, near, 0.0)
    }

    /// Whether the unit can stand at a place, and walk there.
    pub(super) fn can_stand(&self, at: Vec2) -> bool {
        let (state, row) = (self.state, self.row);
        let clearance = state.clearance(row);
        let (ground, from) = (&state.ground, state.units.position[row]);
        let reaches = |region| cell_in_reach(ground, clearance, self.radius, region, at).is_ok();
        let from_elsewhere = || {
            let footing = footing_towards(ground, clearance, self.radius, (from, at));
            footing.and_then(|footing| clearance.region(footing.cell))
        };
        state.ground_view(row).disc_is_clear(at, self.radius)
            && (self.region.is_some_and(reaches) || from_elsewhere().is_some_and(reaches))
    }
}
