//! Coming up to another unit, and staying as near.

use crate::geom::{Vec2, angle};
use crate::route::{footing_or_free, footing_towards, reach};
use crate::site::is_walled_off;
use crate::world::arms;
use crate::world::kind::Ability;
use crate::world::legs::{self, Gaps, walks};
use crate::world::message::Failure;
use crate::world::state::{Locomotion, MoveTarget, Pace, Patience, Scratch, State};
use smallvec::SmallVec;

/// How far from the side of a building one walks up to it, in metres.
const BEFORE_A_SIDE_M: f32 = 0.05;

/// How much nearer a unit must come, in metres, to have made progress.
const PROGRESS_M: f32 = 0.25;

/// How far the end of a route may be from where it ought to lead, for each metre that is left to
/// walk: a route across the map need not follow every step of its target.
const STALE_PART: f32 = 0.2;

/// How near to come: a unit that walks goes on to `near_m` metres from edge to edge, and one that
/// stands there stays until the gap is above `keep_m`.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Distance {
    pub(crate) near_m: f32,
    pub(crate) keep_m: f32,
    /// Whether there is no use in going where the gap stays above `keep_m`.
    pub(crate) strict: bool,
    /// On which side to stand, as the angle from where the other looks in radians, if that matters.
    pub(crate) side: Option<f32>,
    /// The middle of the assembly to which the unit goes on afterwards, if it does.
    pub(crate) onward: Option<Vec2>,
    /// Whether it is near enough only where nothing that blocks sight is between.
    pub(crate) clear_line: bool,
    /// Whether it is near enough only where no other closed ground is between: a wall, say, behind which one cannot work.
    pub(crate) beside: bool,
    /// Whether those that come up to the same unit take places of their own round it.
    pub(crate) spreads: bool,
}

/// A unit that has come no nearer for this many seconds, and is within this many of its radii of being near enough, waits where
/// it is, and looks for a place again after some seconds, or when one that is near enough becomes free.
const STALLS_S: u32 = 1;
const BESIDE_RADII: f32 = 8.0;
const LOOKS_AGAIN_S: u32 = 3;

/// Within this many radii of its place a unit waits there, if it walked, or stood there already.
const COMES_TO_RADII: f32 = 0.15;
const STAYS_AT_RADII: f32 = 1.0;

/// The same for a unit that makes room for another unit: the places are only just far enough apart.
const MOVES_TO_RADII: f32 = 0.02;

/// How far within the widest gap at which a unit is near enough its place lies, as a part of that and in metres.
const WITHIN_PART: f32 = 0.97;
const WITHIN_M: f32 = 0.004;

/// Quarters of a cell for which a clear place is searched outward from a side.
const OUTWARD_STEPS: u32 = 6;

/// Metres from the point on a side within which a unit has come there.
const ON_A_SIDE_M: f32 = 0.1;

impl Distance {
    /// Going in to `near_m`, and staying up to `keep_m`, on any side and for its own sake.
    pub(super) const fn within(near_m: f32, keep_m: f32) -> Distance {
        Distance {
            near_m,
            keep_m,
            strict: false,
            side: None,
            onward: None,
            clear_line: false,
            beside: false,
            spreads: false,
        }
    }

    /// The same distance, with a place of its own for each unit that comes up to the other.
    pub(super) const fn spread(self) -> Distance {
        Distance {
            spreads: true,
            ..self
        }
    }

    /// The point before a side of another unit at which the unit is to stand, if the side matters.
    pub(super) fn point(&self, state: &State, row: usize, target: usize) -> Option<Vec2> {
        let side = angle::wrap(self.side? + state.units.facing[target]);
        let (out, middle) = (angle::direction(side), state.units.position[target]);
        let edge = match state.block(target) {
            Some(block) => block.edge_towards(out),
            None => middle + out * state.units.radius[target],
        };
        let (radius, step_m) = (state.units.radius[row], state.ground.cell_m() * 0.25);
        let points = (0..=OUTWARD_STEPS).map(|k| {
            let gap_m = radius + self.near_m + k as f32 * step_m;
            edge + out * gap_m
        });
        // A building closes whole cells, which may reach beyond its edge.
        let is_clear = |point: &Vec2| state.ground_view(row).disc_is_clear(*point, radius);
        points.clone().find(is_clear).or(points.clone().next())
    }

    /// How far a unit is from where it is to be, in metres: from edge to edge, or from the point before a side.
    pub(super) fn short_of(&self, state: &State, row: usize, target: usize) -> f32 {
        match self.point(state, row, target) {
            Some(point) => {
                (state.units.position[row].distance(point) - ON_A_SIDE_M).max(0.0) + self.near_m
            }
            None => state.gap_m(row, target),
        }
    }
}

/// How far from the edge of a building a unit may have to stay, in metres: a footprint that lies across the borders of
/// cells closes whole cells, up to half of one beyond its edge on either axis.
pub(super) fn beside_a_building_m(state: &State) -> f32 {
    state.ground.cell_m() * core::f32::consts::FRAC_1_SQRT_2
}

/// How the coming up goes.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Closing {
    /// The unit is as near as it should be, and stands.
    There,
    /// It is on the way; `stalled` is the number of ticks for which it has come no nearer.
    OnTheWay { stalled: u32 },
    /// It stands behind others that have taken all places that are near enough, for some ticks so far.
    Waits { ticks: u32 },
    /// It is not near enough, and cannot get nearer.
    Stranded { why: Failure },
}

/// Brings a unit nearer to another, or lets it stand. `patience` counts for how long it has come no nearer.
pub(crate) fn close_in(
    state: &mut State,
    scratch: &Scratch,
    (row, target): (usize, usize),
    distance: Distance,
    patience: &mut Patience,
) -> Closing {
    let gap = distance.short_of(state, row, target);
    let stands = state.units.locomotion[row].stands();
    let spreads = distance.spreads && distance.side.is_none();
    let wanted = if stands {
        distance.keep_m
    } else {
        distance.near_m
    };
    let is_near = gap <= wanted
        && !(distance.beside && is_parted(state, (row, target), state.units.position[row]));
    if is_near
        && (!distance.clear_line || arms::has_line(state, row, target))
        && (!spreads || stays_here(state, (row, target), stands, patience))
    {
        legs::halt(state, row);
        *patience = Patience::default();
        return Closing::There;
    }
    // Where it is near enough but for the line, it goes on to where it sees the other.
    let distance = Distance {
        near_m: if is_near && !spreads {
            0.0
        } else {
            distance.near_m
        },
        ..distance
    };
    if !state.kind_of(row).can(Ability::Moves) {
        let why = Failure::OutOfRange;
        return Closing::Stranded { why };
    }
    let thinks = state.thinks_now(row) || stands && state.units.berth[row].is_none();
    if spreads && thinks {
        find_place(state, scratch, (row, target), (distance, gap), patience);
    }
    let own = spreads.then(|| legs::berth_at(state, (row, target)));
    let place = own.flatten();
    if place.is_some_and(|(at, berth)| !berth.is_near && waits_at(state, row, (at, false), stands))
    {
        legs::halt(state, row);
        return wait(patience);
    }
    if (stands || thinks)
        && let Err(why) = head_for(state, row, target, (distance, place.map(|(at, _)| at)))
    {
        legs::halt(state, row);
        return Closing::Stranded { why };
    }
    count_progress(state, row, gap, patience);
    Closing::OnTheWay {
        stalled: patience.held_up,
    }
}

/// Counts a tick of waiting for a place.
fn wait(patience: &mut Patience) -> Closing {
    patience.waited = patience.waited.saturating_add(1);
    let ticks = patience.waited;
    Closing::Waits { ticks }
}

/// Takes a place near another unit, or lets the unit wait where it is if others leave it no way to that.
fn find_place(
    state: &mut State,
    scratch: &Scratch,
    (row, target): (usize, usize),
    (distance, gap): (Distance, f32),
    patience: &mut Patience,
) {
    let is_placed = |state: &State| state.units.berth[row].is_some_and(|berth| berth.is_near);
    let was_placed = is_placed(state);
    look_for_place(state, scratch, (row, target), distance);
    if !was_placed && is_placed(state) {
        // The way to its place may be longer than that to where it waited.
        (patience.best_m, patience.held_up) = (f32::INFINITY, 0);
    }
    let stalled = patience.held_up > state.ticks(STALLS_S);
    if stalled && gap <= distance.keep_m + BESIDE_RADII * state.units.radius[row] {
        // The longer it has waited, the less often it tries.
        let ticks = state.ticks(LOOKS_AGAIN_S).max(patience.waited);
        legs::wait_here(state, (row, target), ticks);
        (patience.best_m, patience.held_up) = (f32::INFINITY, 0);
    }
}

/// Counts a tick on the way to another unit.
fn count_progress(state: &State, row: usize, gap: f32, patience: &mut Patience) {
    let pace = Pace {
        least_m: PROGRESS_M,
        top_m: || state.top_speed(row) * state.tick_s(),
    };
    match &state.units.locomotion[row] {
        // On the way round a wall it comes no nearer as the crow flies.
        Locomotion::Walking(walk) => {
            let left = walk.left(state.units.position[row]);
            patience.count(left.max(gap), pace, false);
        }
        // The planner has not come to it yet.
        Locomotion::AwaitingRoute { .. } => {}
        Locomotion::Standing | Locomotion::Steered(_) => {
            patience.count(gap, pace, false);
        }
    }
}

/// Whether a unit that is near enough to another stays where it is, in a place that no other has taken. It takes that.
fn stays_here(
    state: &mut State,
    (row, target): (usize, usize),
    stands: bool,
    patience: &Patience,
) -> bool {
    let at = state.units.position[row];
    let own = legs::berth_at(state, (row, target));
    let is_at_own = own.is_some_and(|(at, berth)| waits_at(state, row, (at, berth.moved), stands));
    if is_at_own {
        legs::note_at_berth(state, row);
        return true;
    }
    let stalled = patience.held_up > state.ticks(STALLS_S);
    match own {
        // It makes room for another unit.
        Some((_, berth)) if berth.moved && !stalled => return false,
        // The target has moved a little.
        Some(_) if stands => legs::shift_berth(state, (row, target)),
        _ if stands || legs::is_unclaimed(state, (row, target), at) => {
            legs::take_place_here(state, (row, target));
        }
        _ => return false,
    }
    true
}

/// Whether a place near a unit that walks is hardly farther than the nearest one would be.
fn is_on_the_way(state: &State, (row, target): (usize, usize), at: Vec2) -> bool {
    let (from, middle) = (state.units.position[row], state.middle(target));
    let straight_m = from.distance(middle) - at.distance(middle);
    from.distance(at) <= straight_m + state.units.radius[row]
}

/// Whether a unit has come to a place, or is there still. `moved`: the place was moved to make room for another unit.
fn waits_at(state: &State, row: usize, (at, moved): (Vec2, bool), stands: bool) -> bool {
    let radii = match (moved, stands) {
        (true, _) => MOVES_TO_RADII,
        (false, true) => STAYS_AT_RADII,
        (false, false) => COMES_TO_RADII,
    };
    state.units.position[row].distance(at) <= radii * state.units.radius[row]
}

/// Takes a place near another unit, unless the unit has one that still is as good.
fn look_for_place(
    state: &mut State,
    scratch: &Scratch,
    (row, target): (usize, usize),
    distance: Distance,
) {
    let suits = |state: &State, at: Vec2| {
        let is_parted = distance.beside && is_parted(state, (row, target), at);
        !is_parted && (!distance.clear_line || arms::has_line_from(state, (row, target), at))
    };
    let is_still_good = |(at, is_near): (Vec2, bool)| {
        let radius = state.units.radius[row];
        // At the edge of what is near enough it would fall behind one that walks.
        let most_m = if walks(state, target) {
            distance.near_m
        } else {
            distance.keep_m
        };
        is_near
            && state.gap_from(at, radius, target) <= most_m
            && (!walks(state, target) || is_on_the_way(state, (row, target), at))
            && state.ground_view(row).disc_is_clear(at, radius)
            && suits(state, at)
    };
    let own = legs::berth_at(state, (row, target));
    if own.is_some_and(|(_, berth)| state.clock.tick < berth.looks_from) {
        return;
    }
    let own = own.map(|(at, berth)| (at, berth.is_near));
    if own.is_some_and(is_still_good) {
        return legs::trade_berth(state, (row, target));
    }
    let gaps = Gaps {
        best_m: distance.near_m * WITHIN_PART - WITHIN_M,
        most_m: distance.keep_m,
    };
    legs::take_berth(state, &scratch.near, (row, target), gaps, &suits);
}

/// Why a unit came no nearer to a target for so long.
pub(crate) fn why_no_nearer(state: &State, target: usize) -> Failure {
    if walks(state, target) {
        Failure::GotAway
    } else {
        Failure::HeldUp
    }
}

/// The point before the side of a building that is nearest to a body, as far off as its radius.
fn side_of(state: &State, target: usize, from: Vec2, radius: f32) -> Option<Vec2> {
    let block = state.block(target)?;
    let edge = block.nearest(from);
    let way_out = (from - edge).try_normalize()?;
    Some(edge + way_out * (radius + BEFORE_A_SIDE_M))
}

/// Whether a unit at a point would be parted from a building by closed ground.
pub(super) fn is_parted(state: &State, (row, target): (usize, usize), from: Vec2) -> bool {
    let block = state.block(target);
    block.is_some_and(|block| is_walled_off(state.ground_view(row), &block, from))
}

/// The nearest place round a building to which a unit can get, of two or three on each side.
fn open_side(state: &State, row: usize, target: usize) -> Option<Vec2> {
    let block = state.block(target)?;
    let (from, radius) = (state.units.position[row], state.units.radius[row]);
    let clearance = state.clearance(row);
    let footing = footing_or_free(&state.ground, clearance, radius, from)?;
    let region = clearance.region(footing.cell)?;
    let along = angle::direction(block.facing);
    let is_clear = |at: &Vec2| state.ground_view(row).disc_is_clear(*at, radius);
    let nearest = side_of(state, target, from, radius).filter(is_clear);
    let parts = [-0.8_f32, 0.0, 0.8];
    let sides = [(1.0_f32, 0.0_f32), (-1.0, 0.0), (0.0, 1.0), (0.0, -1.0)];
    let places = sides.iter().flat_map(|&(ahead, left)| {
        parts.map(|part| {
            let out = along * ahead + along.perp() * left;
            let beside = along * (block.half.x * part * left.abs())
                + along.perp() * (block.half.y * part * ahead.abs());
            let edge = out * (block.half.x * ahead.abs() + block.half.y * left.abs());
            (block.centre + beside + edge, out)
        })
    });
    let step_m = state.ground.cell_m() * 0.25;
    let clear = |(edge, out): (Vec2, Vec2)| {
        let steps = (0..4).map(|k| edge + out * (radius + BEFORE_A_SIDE_M + k as f32 * step_m));
        steps.into_iter().find(is_clear)
    };
    let all = nearest.into_iter().chain(places.filter_map(clear));
    let mut all: SmallVec<[Vec2; 16]> = all.collect();
    all.sort_by(|a, b| a.distance(from).total_cmp(&b.distance(from)));
    all.into_iter().find(|to| {
        let reach = reach(&state.ground, clearance, radius, region, (from, *to));
        reach.is_some_and(|reach| reach.short.is_none())
    })
}

/// Sets a unit's legs towards another: straight if nothing is between, else by a route.
fn head_for(
    state: &mut State,
    row: usize,
    target: usize,
    (distance, place): (Distance, Option<Vec2>),
) -> Result<(), Failure> {
    let (from, middle) = (state.units.position[row], state.units.position[target]);
    let radius = state.units.radius[row];
    let point = distance.point(state, row, target);
    // A building is walked up to from the side from which the unit comes, not to its middle.
    let open_side = || {
        let is_asked = distance.beside && state.block(target).is_some();
        is_asked.then(|| open_side(state, row, target)).flatten()
    };
    let spot = point.or(place).or_else(open_side);
    let to = spot
        .or_else(|| side_of(state, target, from, radius))
        .unwrap_or(middle);
    // What the gap leaves out of the way from middle to middle.
    let bodies = (from.distance(to) - state.gap_m(row, target)).max(0.0);
    // A unit that slowed down behind one that walks off would never come up to it.
    let short_m = if walks(state, target) || spot.is_some() {
        0.0
    } else {
        distance.near_m + bodies
    };
    let towards = |to, short_m| MoveTarget::Unit {
        to,
        short_m,
        onward: distance.onward,
    };
    if state.ground_view(row).line_is_clear(from, to, radius) {
        legs::go_to(state, row, towards(to, short_m));
        return Ok(());
    }
    let clearance = state.clearance(row);
    let footing = footing_towards(&state.ground, clearance, radius, (from, to));
    let footing = footing.ok_or(Failure::Stuck)?;
    let region = clearance.region(footing.cell).ok_or(Failure::Stuck)?;
    let reach =
        reach(&state.ground, clearance, radius, region, (from, to)).ok_or(Failure::Stuck)?;
    if let Some(why) = reach.short {
        let near_enough =
            point.is_none() && state.gap_from(reach.point, radius, target) <= distance.keep_m;
        let nearer = reach.leads_nearer(from, to, state.ground.cell_m());
        if !near_enough && (distance.strict || !nearer) {
            return Err(Failure::NoWay(why));
        }
    }
    let end = match state.units.locomotion[row].target() {
        Some(MoveTarget::Unit { to, .. }) => Some(*to),
        _ => None,
    };
    let way_is_stale = |end: Vec2| end.distance(reach.point) > from.distance(to) * STALE_PART;
    if end.is_none_or(way_is_stale) {
        let short_m = if reach.short.is_none() { short_m } else { 0.0 };
        legs::go_by_route(state, row, towards(reach.point, short_m));
    }
    Ok(())
}
