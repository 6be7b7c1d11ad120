//! Places round a unit for those that come up to it, by reservation: no two take the same, and each takes the nearest that is
//! free when it looks.

use super::would_step_aside;
use crate::geom::Vec2;
use crate::motion::{Rim, RimPlace};
use crate::near::Near;
use crate::route::cell_in_reach;
use crate::world::state::{Berth, State};
use smallvec::SmallVec;

/// How far apart places are looked at on a rim, in radii of the unit: round a unit that stands, and round one that walks.
const STEP_RADII: f32 = 0.25;
const COARSE_STEP_RADII: f32 = 0.8;

/// Distance kept between places, relative to the distance at which the two bodies touch.
const APART: f32 = 1.02;

/// How many ranks wait behind those that are near enough.
const RANKS: u32 = 5;

/// Distance between the ranks that wait, in radii of the unit.
const RANK_RADII: f32 = 2.2;

/// How much farther a place may be for a unit to take it rather than one in the next rank, for each metre that the rank lies
/// off the distance that is best: among places that are near enough, and among those behind.
const OFF_COST: f32 = 2.0;
const BEHIND_COST: f32 = 4.0;

/// The gaps that a unit may keep to another, edge to edge in metres.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Gaps {
    /// The best one, and the widest at which it is near enough.
    pub(crate) best_m: f32,
    pub(crate) most_m: f32,
}

impl Gaps {
    /// The gaps at which the unit is near enough, from the best outward.
    fn outward(self) -> impl Iterator<Item = f32> {
        let (best, most) = (self.best_m, self.most_m);
        let between = [best, (best + most) * 0.5, most - 0.01];
        between.into_iter().filter(move |gap| *gap >= best)
    }

    /// Those nearer in, for where walls leave nothing else.
    fn inward(self) -> impl Iterator<Item = f32> {
        let best = self.best_m;
        let gaps = [0.75, 0.5, 0.25, 0.0].map(|part| best * part);
        gaps.into_iter().filter(move |gap| best - gap > 0.05)
    }
}

/// Takes a place for a unit on the rim of another: the nearest that is free at one of the gaps, or one behind those where it
/// waits; it keeps the one where it waits already. `None` where there is none, or none that `suits`.
pub(crate) fn take_berth(
    state: &mut State,
    near: &Near,
    (row, target): (usize, usize),
    gaps: Gaps,
    suits: &dyn Fn(&State, Vec2) -> bool,
) -> Option<Berth> {
    let own = berth_at(state, (row, target)).filter(|(_, berth)| !berth.is_near);
    unfile(state, row);
    let look = Look::new(state, near, (row, target), gaps);
    let from = state.units.position[row];
    let at_gap = |gap_m: f32, most_m: f32| look.nearest(from, (gap_m, most_m), suits);
    let within = |gap_m: f32| Some(at_gap(gap_m, f32::INFINITY)?.at);
    let best = look.cheapest(gaps, gaps.outward(), (OFF_COST, &at_gap));
    let best = best.or_else(|| gaps.inward().find_map(within));
    // It waits for a place that is taken, but not for one to which it has no way.
    let all_are_taken = || {
        let free = Look {
            taken: SmallVec::new(),
            ..look
        };
        let mut gaps = gaps.outward().chain(gaps.inward());
        gaps.any(|gap_m| {
            let anywhere = (gap_m, f32::INFINITY);
            free.nearest(from, anywhere, suits).is_some()
        })
    };
    let waits = || {
        let step_m = RANK_RADII * state.units.radius[row];
        let ranks = (1..=RANKS).map(|rank| gaps.most_m + rank as f32 * step_m);
        look.cheapest(gaps, ranks, (BEHIND_COST, &at_gap))
    };
    let (is_near, at) = match best {
        Some(at) => (true, at),
        None => match own {
            Some((at, _)) => (false, at),
            None if all_are_taken() => (false, waits()?),
            None => return None,
        },
    };
    Some(reserve(state, (row, target), (at, is_near)))
}

/// Notes that the place that a unit has taken is where it is now.
pub(crate) fn shift_berth(state: &mut State, (row, target): (usize, usize)) {
    let offset = state.units.position[row] - state.middle(target);
    if let Some(berth) = &mut state.units.berth[row] {
        (berth.offset, berth.is_near) = (offset, true);
    }
}

/// Takes the place where a unit is: it is near enough there.
pub(crate) fn take_place_here(state: &mut State, (row, target): (usize, usize)) {
    unfile(state, row);
    reserve(state, (row, target), (state.units.position[row], true));
}

/// Lets a unit wait where it is for some ticks before it looks for a place again: others leave it no way to the one that it
/// had.
pub(crate) fn wait_here(state: &mut State, (row, target): (usize, usize), ticks: u32) {
    take_place_here(state, (row, target));
    if let Some(berth) = &mut state.units.berth[row] {
        berth.is_near = false;
        berth.looks_from = state.clock.tick + u64::from(ticks);
    }
}

fn reserve(state: &mut State, (row, target): (usize, usize), (at, is_near): (Vec2, bool)) -> Berth {
    // It looks again in a second, or when a place becomes free.
    let waits = if is_near { 0 } else { state.ticks(1) };
    let berth = Berth {
        target: state.units.id[target],
        offset: at - state.middle(target),
        is_near,
        looks_from: state.clock.tick + u64::from(waits),
    };
    state.units.berth[row] = Some(berth);
    state.file_berth(row);
    berth
}

/// Gives up the place that a unit has taken, if it has. If it was near enough there, those that wait look again.
pub(crate) fn leave_berth(state: &mut State, row: usize) {
    let Some(berth) = unfile(state, row).filter(|berth| berth.is_near) else {
        return;
    };
    let waiting = state.derived.berths.get(&berth.target);
    for unit in waiting.into_iter().flatten() {
        let other = state.units.row(*unit);
        if let Some(berth) = other.and_then(|other| state.units.berth[other].as_mut()) {
            berth.looks_from = 0;
        }
    }
}

/// Takes a unit out of its place.
fn unfile(state: &mut State, row: usize) -> Option<Berth> {
    let berth = state.units.berth[row].take()?;
    let unit = state.units.id[row];
    let berths = &mut state.derived.berths;
    if let Some(known) = berths.get_mut(&berth.target) {
        known.retain(|other| *other != unit);
        if known.is_empty() {
            berths.remove(&berth.target);
        }
    }
    Some(berth)
}

/// The place that a unit has taken on the rim of another.
pub(crate) fn berth_at(state: &State, (row, target): (usize, usize)) -> Option<(Vec2, Berth)> {
    let berth = state.units.berth[row].filter(|berth| berth.target == state.units.id[target])?;
    Some((state.middle(target) + berth.offset, berth))
}

/// Whether no other unit that comes up to a target has taken a place that a unit would touch at a point.
pub(crate) fn is_unclaimed(state: &State, (row, target): (usize, usize), at: Vec2) -> bool {
    let radius = state.units.radius[row];
    let mut others = berths_of(state, target).filter(|(other, _)| *other != row);
    others.all(|(other, place)| {
        let apart = radius + state.units.radius[other];
        place.distance_squared(at) >= apart * apart
    })
}

/// Trades the place of a unit for that of another with the same body, where that shortens the ways of both together.
pub(crate) fn trade_berth(state: &mut State, (row, target): (usize, usize)) {
    let Some((mine_at, mine)) = berth_at(state, (row, target)) else {
        return;
    };
    let from = state.units.position[row];
    let radius = state.units.radius[row];
    let saves = |(other, theirs_at): (usize, Vec2)| {
        let theirs = state.units.berth[other]?;
        let units = &state.units;
        let alike = units.radius[other] == radius && units.kind[other] == units.kind[row];
        if other == row || !alike || units.locomotion[other].stands() {
            return None;
        }
        let at = units.position[other];
        // Squares keep the longest way short, as well as the sum.
        let now = from.distance_squared(mine_at) + at.distance_squared(theirs_at);
        let then = from.distance_squared(theirs_at) + at.distance_squared(mine_at);
        (then < now * 0.95 - 0.01).then_some((now - then, other, theirs))
    };
    let all = berths_of(state, target).filter_map(saves);
    let best = all.max_by(|a, b| a.0.total_cmp(&b.0).then(b.1.cmp(&a.1)));
    if let Some((_, other, theirs)) = best {
        state.units.berth[row] = Some(theirs);
        state.units.berth[other] = Some(mine);
    }
}

/// The units that have taken a place on the rim of a target, and the places.
fn berths_of(state: &State, target: usize) -> impl Iterator<Item = (usize, Vec2)> {
    let known = state.derived.berths.get(&state.units.id[target]);
    let middle = state.middle(target);
    let rows = known.into_iter().flatten();
    rows.filter_map(move |unit| {
        let row = state.units.row(*unit)?;
        Some((row, middle + state.units.berth[row]?.offset))
    })
}

/// What a unit has to keep clear of that looks for a place.
struct Look<'a> {
    state: &'a State,
    row: usize,
    target: usize,
    radius: f32,
    step_m: f32,
    taken: SmallVec<[(Vec2, f32); 16]>,
}

impl Look<'_> {
    fn new<'a>(
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
        let mut taken: SmallVec<[(Vec2, f32); 16]> = berths_of(state, target)
            .map(|(other, at)| (at, units.radius[other]))
            .collect();
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
        taken.extend(others.map(|other| (units.position[other], units.radius[other])));
        Look {
            state,
            row,
            target,
            radius,
            step_m: steps * radius.max(0.05),
            taken,
        }
    }

    /// The place of least cost at any of several gaps. The cost is the length of the way to it, plus `off_cost` for each
    /// metre between its gap and the best one.
    fn cheapest(
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

    /// The nearest free place at a gap, with a way of at most some metres.
    fn nearest(
        &self,
        from: Vec2,
        (gap_m, most_m): (f32, f32),
        suits: &dyn Fn(&State, Vec2) -> bool,
    ) -> Option<RimPlace> {
        let state = self.state;
        let off_m = self.radius + gap_m;
        let rim = match state.block(self.target) {
            Some(block) => Rim::round_block(&block, off_m),
            None => {
                let radius = state.units.radius[self.target];
                Rim::round_disc(state.units.position[self.target], radius, off_m)
            }
        };
        // Most places are taken by the unit that takes the one before on the same side, so that is checked first.
        let mut lasts = [0, 0];
        rim.nearest_place(from, self.step_m, most_m, |at| {
            let takes = |(place, radius): &(Vec2, f32)| {
                let apart = (self.radius + radius) * APART;
                place.distance_squared(at) < apart * apart
            };
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

    /// Whether the unit can stand at a place, and walk there.
    fn can_stand(&self, at: Vec2) -> bool {
        let (state, row) = (self.state, self.row);
        let clearance = state.clearance(row);
        let here = state.ground.cell_at(state.units.position[row]);
        let region = here.and_then(|cell| clearance.region(cell));
        // A unit beside a wall may stand in a cell that is none of its map; then only the ground at the place counts.
        let reached =
            region.is_none_or(|region| cell_in_reach(&state.ground, clearance, region, at).is_ok());
        reached && state.ground_view(row).disc_is_clear(at, self.radius)
    }
}
