//! Moves the shapes of units in formation on, and gives each member its slot.

use crate::geom::{Vec2, angle, canonical};
use crate::motion::formation::placed;
use crate::motion::{follow, way_left};
use crate::world::legs::{self, claim_places, places_in_formation};
use crate::world::orders::{Minds, resting_place};
use crate::world::state::{
    Guide, Locomotion, March, Marcher, Pace, PatienceLimits, Scratch, Slot, State, Verdict,
};

/// The part of the slowest one's speed at which a shape goes, so that those behind can catch up.
const PACE: f32 = 0.94;

/// A shape goes at full pace while its members are off their slots by less than so many radii, and not at all when they
/// are off by more than so many; as the fourth root of the mean fourth power, so that a few far off count.
const CLOSED_UP_RADII: f32 = 0.5;
const BROKEN_RADII: f32 = 2.8;

/// A member leaves the shape when its slot is to be closed within so many metres, and as many as it is off the middle.
const FORESIGHT_M: f32 = 2.5;

/// One that goes its own way may be behind by this part of what it is off the middle before the shape waits for it.
const DETOUR: f32 = 0.8;

/// A shape waits for its members only where at least this part of its slots have room: not in the middle of a gate.
const MOSTLY: f32 = 0.8;

/// Seconds without coming nearer to its slot after which a member is not waited for any longer.
const WAIT_S: f32 = 3.0;

/// A member that comes nearer to its slot by this much makes progress, in metres.
const CLOSER_M: f32 = 0.05;

/// A shape that has to turn by more than this stops going ahead meanwhile, in radians.
const SHARP: f32 = 1.0;

/// The most seconds for which members wait at the end until the shape looks where it should.
const TURN_S: f32 = 6.0;

pub(super) fn run(state: &mut State, minds: &Minds, scratch: &mut Scratch) {
    scratch.moves.slots.clear();
    scratch.moves.slots.resize(state.units.len(), None);
    let mut marches = core::mem::take(&mut state.marches);
    marches.retain_mut(|march| goes_on(state, minds, scratch, march));
    state.marches = marches;
}

/// Leads a march for a tick. Gives whether it goes on.
fn goes_on(state: &mut State, minds: &Minds, scratch: &mut Scratch, march: &mut March) -> bool {
    if march.members.is_empty() {
        return false;
    }
    let has_gaps = core::mem::take(&mut march.has_gaps);
    if march.guide.is_some() && has_gaps {
        close_ranks(state, minds, scratch, march);
    }
    let Some(mut guide) = march.guide.take().or_else(|| set_out(state, march)) else {
        // They still carry out an earlier order, or fight.
        return true;
    };
    let pace = pace(state, march);
    let has_ended = guide.leads_nowhere(state, march) || advance(state, march, &mut guide, pace);
    if has_ended {
        for marcher in &march.members {
            if let Some(row) = state.units.row(marcher.unit) {
                go_straight(state, march, row);
            }
        }
        return false;
    }
    for marcher in &march.members {
        if let Some(row) = under_way(state, march, marcher) {
            scratch.moves.slots[row] = Some(Slot {
                at: placed(marcher.offset, guide.at, guide.facing),
                facing: guide.facing,
                is_open: is_open(state, marcher, row, &guide),
                pace,
                remaining_m: guide.left(),
            });
        }
    }
    march.guide = Some(guide);
    true
}

fn awaits_routes(state: &State, march: &March) -> bool {
    march.members.iter().any(|member| {
        let row = state.units.row(member.unit);
        let locomotion = row.map(|row| &state.units.locomotion[row]);
        locomotion.is_some_and(|locomotion| {
            let waits = matches!(locomotion, Locomotion::AwaitingRoute { .. });
            let target = locomotion.place();
            waits && target.is_some_and(|target| target.group == march.group)
        })
    })
}

/// The row of a member that walks to its place with a march.
fn under_way(state: &State, march: &March, marcher: &Marcher) -> Option<usize> {
    let row = state.units.row(marcher.unit)?;
    let walk = state.units.locomotion[row].walk()?;
    let target = walk.target().place()?;
    (target.group == march.group && !walk.is_on_link()).then_some(row)
}

/// What the march follows from now on: the way of the member nearest to its middle, from the middle of those that go.
fn set_out(state: &State, march: &March) -> Option<Guide> {
    let waits = awaits_routes(state, march);
    let rows: Vec<(usize, Vec2)> = march
        .members
        .iter()
        .filter_map(|marcher| Some((under_way(state, march, marcher)?, marcher.offset)))
        .collect();
    if rows.is_empty() || waits {
        return None;
    }
    let inmost = rows.iter().min_by(|a, b| {
        let (a, b) = (a.1.length_squared(), b.1.length_squared());
        a.total_cmp(&b)
    });
    let inmost = inmost?.0;
    let walk = state.units.locomotion[inmost].walk()?;
    // Over links each unit goes alone.
    let mut path = walk.up_to_link().get(walk.next() as usize..)?.to_vec();
    let (view, radius) = (state.ground_view(inmost), state.units.radius[inmost]);
    let sum: Vec2 = rows.iter().map(|(row, _)| state.units.position[*row]).sum();
    let middle = sum / rows.len() as f32;
    let first = *path.first()?;
    let at = if view.line_is_clear(middle, first, radius) {
        middle
    } else {
        state.units.position[inmost]
    };
    let before_last = path.len().checked_sub(2).map_or(at, |k| path[k]);
    if let Some(last) = path.last_mut()
        && view.line_is_clear(before_last, march.middle, radius)
    {
        *last = march.middle;
    }
    Some(Guide {
        facing: angle::of(path[0] - at).unwrap_or(march.facing),
        path,
        next: 0,
        at: canonical(at),
        at_end: 0,
    })
}

/// The speed of a shape, in metres a second.
fn pace(state: &State, march: &March) -> f32 {
    let rows = || {
        let marchers = march.members.iter();
        marchers.filter_map(|marcher| Some((marcher, under_way(state, march, marcher)?)))
    };
    let speed = |row| state.top_speed(row);
    let pace = if march.formation.slowest_leads {
        rows()
            .map(|(_, row)| speed(row))
            .fold(f32::INFINITY, f32::min)
    } else {
        let out = |marcher: &Marcher| marcher.offset.length_squared();
        let inmost = rows().min_by(|a, b| out(a.0).total_cmp(&out(b.0)));
        inmost.map_or(0.0, |(_, row)| speed(row))
    };
    if pace.is_finite() { pace * PACE } else { 0.0 }
}

impl Guide {
    /// The metres left to its end.
    fn left(&self) -> f32 {
        way_left(self.at, &self.path, self.next)
    }

    /// Whether its way has been closed: it is looked at when its first member thinks.
    fn leads_nowhere(&self, state: &State, march: &March) -> bool {
        let row = march.members.iter().find_map(|m| state.units.row(m.unit));
        let (Some(row), Some(next)) = (row, self.path.get(self.next as usize)) else {
            return false;
        };
        state.thinks_now(row)
            && !state
                .ground_view(row)
                .line_is_clear(self.at, *next, LEAD_RADIUS_M)
    }
}

/// How wide the way of a guide must be, in metres: bodies see to their own.
const LEAD_RADIUS_M: f32 = 0.05;

/// Moves a guide on. Gives whether it has come to its end.
fn advance(state: &State, march: &mut March, guide: &mut Guide, pace: f32) -> bool {
    let tick_s = state.tick_s();
    let extent = march
        .members
        .iter()
        .map(|m| m.offset.length())
        .fold(0.5, f32::max);
    let closeness = closeness(state, march, guide);
    let ahead = guide
        .path
        .get(guide.next as usize)
        .map(|next| *next - guide.at);
    let wanted = match ahead.and_then(angle::of) {
        // Near the end it turns to look where it shall.
        Some(way) if guide.left() > extent => way,
        _ => march.facing,
    };
    let turn = pace / extent * tick_s;
    guide.facing = angle::turn_towards(guide.facing, wanted, turn);
    let off = angle::between(guide.facing, wanted).abs();
    let steady = if off > SHARP && guide.left() > extent {
        0.2
    } else {
        1.0
    };
    guide.at = canonical(follow(
        guide.at,
        &guide.path,
        &mut guide.next,
        pace * closeness * steady * tick_s,
    ));
    if guide.next as usize >= guide.path.len() {
        guide.at_end += 1;
    }
    let longest = TURN_S / tick_s;
    guide.at_end > 0 && (off < 0.02 || guide.at_end as f32 > longest)
}

/// How well a shape is closed up: `1` if its members are in their slots, `0` if it has to wait for them.
fn closeness(state: &State, march: &mut March, guide: &Guide) -> f32 {
    let wait = (WAIT_S / state.tick_s()) as u32;
    let limits = PatienceLimits {
        fray: u32::MAX,
        held_up: wait,
        waited: wait,
        in_all: u32::MAX,
    };
    let (mut sum, mut count) = (0.0, 0.0_f32);
    let (mut fitting, mut all) = (0.0, 0.0_f32);
    for k in 0..march.members.len() {
        let Some(row) = under_way(state, march, &march.members[k]) else {
            continue;
        };
        let marcher = &mut march.members[k];
        let radius = state.units.radius[row];
        let off = off_slot(state, marcher, row, guide);
        all += 1.0;
        fitting += f32::from(u8::from(fits(state, marcher, row, guide)));
        if off < radius {
            marcher.patience = Default::default();
        } else {
            let pace = Pace {
                least_m: CLOSER_M,
                top_m: || state.top_speed(row) * state.tick_s(),
            };
            marcher.patience.count(off, pace, false);
        }
        if marcher.patience.verdict(limits) != Verdict::Ends {
            let radii = off / radius;
            sum += radii * radii * radii * radii;
            count += 1.0;
        }
    }
    if fitting < all * MOSTLY {
        return 1.0;
    }
    let off = (sum / count.max(1.0)).sqrt().sqrt();
    (1.0 - (off - CLOSED_UP_RADII) / (BROKEN_RADII - CLOSED_UP_RADII)).clamp(0.0, 1.0)
}

/// How far a member is off its slot, in metres: of one that does not see it, how far it is behind on its own way.
fn off_slot(state: &State, marcher: &Marcher, row: usize, guide: &Guide) -> f32 {
    let at = state.units.position[row];
    if is_open(state, marcher, row, guide) {
        return at.distance(placed(marcher.offset, guide.at, guide.facing));
    }
    match state.units.locomotion[row].walk() {
        Some(walk) => {
            let behind = walk.left(at) - guide.left();
            (behind - DETOUR * marcher.offset.length()).max(0.0)
        }
        None => 0.0,
    }
}

/// Whether a slot hangs together with the middle of the shape, and will for a while.
fn fits(state: &State, marcher: &Marcher, row: usize, guide: &Guide) -> bool {
    let slot = placed(marcher.offset, guide.at, guide.facing);
    let from_middle = state
        .ground_view(row)
        .line_is_clear(guide.at, slot, LEAD_RADIUS_M);
    from_middle && stays_open(state, marcher, row, guide)
}

/// Whether a member can keep to its slot: it sees it, and the slot stays open for a while.
fn is_open(state: &State, marcher: &Marcher, row: usize, guide: &Guide) -> bool {
    let slot = placed(marcher.offset, guide.at, guide.facing);
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    state.ground_view(row).line_is_clear(at, slot, radius) && stays_open(state, marcher, row, guide)
}

/// Whether the ground leaves room for a slot here and for a while.
fn stays_open(state: &State, marcher: &Marcher, row: usize, guide: &Guide) -> bool {
    let (view, radius) = (state.ground_view(row), state.units.radius[row]);
    let slot = placed(marcher.offset, guide.at, guide.facing);
    let mut next = guide.next;
    let far = FORESIGHT_M + marcher.offset.y.abs();
    let later = follow(guide.at, &guide.path, &mut next, far);
    let later = placed(marcher.offset, later, guide.facing);
    view.line_is_clear(slot, later, radius)
}

/// Gives the members that are left places and slots anew, so that the gaps of those that are gone close.
fn close_ranks(state: &mut State, minds: &Minds, scratch: &mut Scratch, march: &mut March) {
    claim_places(state, scratch, |row| resting_place(state, minds, row));
    for (row, place) in places_in_formation(state, scratch, march) {
        // A unit that has set out is not stopped for it; one that has yet to begin looks up its place then.
        let locomotion = &mut state.units.locomotion[row];
        let target = locomotion.place();
        if target.is_some_and(|target| target.group == march.group) {
            locomotion.set_place(place);
        }
    }
}

/// Sends a member on to its place by the straight way, or by one that is to be found.
fn go_straight(state: &mut State, march: &March, row: usize) {
    let Some(walk) = state.units.locomotion[row].walk() else {
        return;
    };
    let target = *walk.target();
    if target
        .place()
        .is_none_or(|target| target.group != march.group)
        || walk.is_on_link()
    {
        return;
    }
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    if state
        .ground_view(row)
        .line_is_clear(at, target.point(), radius)
    {
        if let Locomotion::Walking(walk) = &mut state.units.locomotion[row] {
            walk.redirect(target);
        }
    } else {
        legs::go_to(state, row, target);
    }
}
