//! Leads those that go in formation: moves the shape on, and tells each member where in it it should be.

use crate::geom::{Vec2, angle, canonical};
use crate::motion::formation::placed;
use crate::motion::{follow, way_left};
use crate::world::activity::{Activity, Bound, Delay};
use crate::world::march::{Lead, March, Marcher, places};
use crate::world::muster::Member;
use crate::world::order::{Failure, Place, Task};
use crate::world::queue;
use crate::world::state::{Scratch, Slot, State};
use crate::world::tasks::claim_places;

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

/// Whoever has not come nearer to its slot for so many seconds is not waited for any longer.
const WAIT_S: f32 = 3.0;

/// A shape that has to turn by more than this stops going ahead meanwhile, in radians.
const SHARP: f32 = 1.0;

/// Nobody waits at the end for longer than so many seconds until the shape looks where it should.
const TURN_S: f32 = 6.0;

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch) {
    scratch.moves.slots.clear();
    scratch.moves.slots.resize(state.units.len(), None);
    let mut marches = core::mem::take(&mut state.marches);
    marches.retain_mut(|march| goes_on(state, scratch, march));
    state.marches = marches;
}

/// Leads a march for a tick. Gives whether it goes on.
fn goes_on(state: &mut State, scratch: &mut Scratch, march: &mut March) -> bool {
    let has_gaps = muster_out(state, march);
    if march.marchers.is_empty() {
        return false;
    }
    if march.lead.is_some() && has_gaps {
        close_ranks(state, scratch, march);
    }
    let Some(mut lead) = march.lead.take().or_else(|| set_out(state, march)) else {
        // They are still at what they were told before, or fight.
        return true;
    };
    let pace = pace(state, march);
    let has_ended = lead.leads_nowhere(state, march) || advance(state, march, &mut lead, pace);
    if has_ended {
        for marcher in &march.marchers {
            if let Some(row) = state.units.row(marcher.unit) {
                go_straight(state, march, row);
            }
        }
        return false;
    }
    for marcher in &march.marchers {
        if let Some(row) = under_way(state, march, marcher) {
            scratch.moves.slots[row] = Some(Slot {
                at: placed(marcher.offset, lead.at, lead.facing),
                facing: lead.facing,
                is_open: is_open(state, marcher, row, &lead),
                pace,
                left: lead.left(),
            });
        }
    }
    march.lead = Some(lead);
    true
}

/// Drops those that have the order no more. Gives whether they leave gaps: whoever is dead or was sent elsewhere does,
/// and whoever has come to its place does not.
fn muster_out(state: &State, march: &mut March) -> bool {
    let mut has_gaps = false;
    let order = march.order;
    march.marchers.retain(|marcher| {
        let orders = state
            .units
            .row(marcher.unit)
            .map(|row| &state.units.orders[row]);
        let stays = orders.is_some_and(|held| held.iter().any(|held| held.number == order));
        has_gaps |= !stays && orders.is_none_or(|held| !held.is_empty());
        stays
    });
    has_gaps
}

/// Whether a member carries out the order of a march now.
fn has_come_to(state: &State, march: &March, marcher: &Marcher) -> bool {
    let row = state.units.row(marcher.unit);
    row.is_some_and(|row| {
        let first = state.units.orders[row].first();
        first.is_some_and(|order| order.number == march.order)
    })
}

fn awaits_routes(state: &State, march: &March) -> bool {
    let is_bound = |row: usize| match state.units.activity[row] {
        Activity::AwaitRoute { bound, .. } => bound == Bound::Place,
        _ => false,
    };
    march.marchers.iter().any(|marcher| {
        let row = state.units.row(marcher.unit);
        row.is_some_and(is_bound) && has_come_to(state, march, marcher)
    })
}

/// The row of a member that walks to its place with a march.
fn under_way(state: &State, march: &March, marcher: &Marcher) -> Option<usize> {
    let row = state.units.row(marcher.unit)?;
    let walks = match &state.units.activity[row] {
        Activity::Go(go) => go.bound() == Bound::Place && !go.is_on_link(),
        _ => false,
    };
    (walks && has_come_to(state, march, marcher)).then_some(row)
}

/// What the march follows from now on: the way of the member nearest to its middle, from the middle of those that go.
fn set_out(state: &State, march: &March) -> Option<Lead> {
    let waits = awaits_routes(state, march);
    let rows: Vec<(usize, Vec2)> = march
        .marchers
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
    let guide = inmost?.0;
    let Activity::Go(go) = &state.units.activity[guide] else {
        return None;
    };
    // Over links everybody goes alone.
    let mut path = go.up_to_link().get(go.next() as usize..)?.to_vec();
    let (going, radius) = (state.going(guide), state.units.radius[guide]);
    let sum: Vec2 = rows.iter().map(|(row, _)| state.units.position[*row]).sum();
    let middle = sum / rows.len() as f32;
    let first = *path.first()?;
    let at = match going.line_is_clear(middle, first, radius) {
        true => middle,
        false => state.units.position[guide],
    };
    let before_last = path.len().checked_sub(2).map_or(at, |k| path[k]);
    if let Some(last) = path.last_mut()
        && going.line_is_clear(before_last, march.middle, radius)
    {
        *last = march.middle;
    }
    Some(Lead {
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
        let marchers = march.marchers.iter();
        marchers.filter_map(|marcher| Some((marcher, under_way(state, march, marcher)?)))
    };
    let speed = |row| state.top_speed(row);
    let pace = match march.formation.slowest_leads {
        true => rows()
            .map(|(_, row)| speed(row))
            .fold(f32::INFINITY, f32::min),
        false => {
            let out = |marcher: &Marcher| marcher.offset.length_squared();
            let inmost = rows().min_by(|a, b| out(a.0).total_cmp(&out(b.0)));
            inmost.map_or(0.0, |(_, row)| speed(row))
        }
    };
    if pace.is_finite() { pace * PACE } else { 0.0 }
}

impl Lead {
    /// The metres left to its end.
    fn left(&self) -> f32 {
        way_left(self.at, &self.path, self.next)
    }

    /// Whether its way has been closed: it is looked at when its first member thinks.
    fn leads_nowhere(&self, state: &State, march: &March) -> bool {
        let row = march.marchers.iter().find_map(|m| state.units.row(m.unit));
        let (Some(row), Some(next)) = (row, self.path.get(self.next as usize)) else {
            return false;
        };
        state.thinks_now(row)
            && !state
                .going(row)
                .line_is_clear(self.at, *next, LEAD_RADIUS_M)
    }
}

/// How wide the way of a lead must be, in metres: bodies see to their own.
const LEAD_RADIUS_M: f32 = 0.05;

/// Moves a lead on. Gives whether it has come to its end.
fn advance(state: &State, march: &mut March, lead: &mut Lead, pace: f32) -> bool {
    let tick_s = state.tick_s();
    let extent = march
        .marchers
        .iter()
        .map(|m| m.offset.length())
        .fold(0.5, f32::max);
    let closeness = closeness(state, march, lead);
    let ahead = lead
        .path
        .get(lead.next as usize)
        .map(|next| *next - lead.at);
    let wanted = match ahead.and_then(angle::of) {
        // Near the end it turns to look where it shall.
        Some(way) if lead.left() > extent => way,
        _ => march.facing,
    };
    let turn = pace / extent * tick_s;
    lead.facing = angle::turn_towards(lead.facing, wanted, turn);
    let off = angle::between(lead.facing, wanted).abs();
    let steady = if off > SHARP && lead.left() > extent {
        0.2
    } else {
        1.0
    };
    lead.at = canonical(follow(
        lead.at,
        &lead.path,
        &mut lead.next,
        pace * closeness * steady * tick_s,
    ));
    if lead.next as usize >= lead.path.len() {
        lead.at_end += 1;
    }
    let longest = TURN_S / tick_s;
    lead.at_end > 0 && (off < 0.02 || lead.at_end as f32 > longest)
}

/// How well a shape is closed up: `1` if its members are in their slots, `0` if it has to wait for them.
fn closeness(state: &State, march: &mut March, lead: &Lead) -> f32 {
    let patience = (WAIT_S / state.tick_s()) as u32;
    let (mut sum, mut count) = (0.0, 0.0_f32);
    let (mut fitting, mut all) = (0.0, 0.0_f32);
    for k in 0..march.marchers.len() {
        let Some(row) = under_way(state, march, &march.marchers[k]) else {
            continue;
        };
        let marcher = &mut march.marchers[k];
        let radius = state.units.radius[row];
        let off = off_slot(state, marcher, row, lead);
        all += 1.0;
        fitting += f32::from(u8::from(fits(state, marcher, row, lead)));
        if off < radius {
            (marcher.best_m, marcher.stale) = (f32::INFINITY, 0);
        } else if off < marcher.best_m - 0.05 {
            (marcher.best_m, marcher.stale) = (off, 0);
        } else {
            marcher.stale = marcher.stale.saturating_add(1);
        }
        if marcher.stale < patience {
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
fn off_slot(state: &State, marcher: &Marcher, row: usize, lead: &Lead) -> f32 {
    let at = state.units.position[row];
    if is_open(state, marcher, row, lead) {
        return at.distance(placed(marcher.offset, lead.at, lead.facing));
    }
    match &state.units.activity[row] {
        Activity::Go(go) => (go.left(at) - lead.left() - DETOUR * marcher.offset.length()).max(0.0),
        _ => 0.0,
    }
}

/// Whether a slot hangs together with the middle of the shape, and will for a while.
fn fits(state: &State, marcher: &Marcher, row: usize, lead: &Lead) -> bool {
    let slot = placed(marcher.offset, lead.at, lead.facing);
    let from_middle = state.going(row).line_is_clear(lead.at, slot, LEAD_RADIUS_M);
    from_middle && stays_open(state, marcher, row, lead)
}

/// Whether a member can keep to its slot: it sees it, and the slot stays open for a while.
fn is_open(state: &State, marcher: &Marcher, row: usize, lead: &Lead) -> bool {
    let slot = placed(marcher.offset, lead.at, lead.facing);
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    state.going(row).line_is_clear(at, slot, radius) && stays_open(state, marcher, row, lead)
}

/// Whether the ground leaves room for a slot here and for a while.
fn stays_open(state: &State, marcher: &Marcher, row: usize, lead: &Lead) -> bool {
    let (going, radius) = (state.going(row), state.units.radius[row]);
    let slot = placed(marcher.offset, lead.at, lead.facing);
    let mut next = lead.next;
    let far = FORESIGHT_M + marcher.offset.y.abs();
    let later = follow(lead.at, &lead.path, &mut next, far);
    let later = placed(marcher.offset, later, lead.facing);
    going.line_is_clear(slot, later, radius)
}

/// Gives those that are left places and slots anew, so that the gaps of those that are gone close.
fn close_ranks(state: &mut State, scratch: &mut Scratch, march: &mut March) {
    let row = |marcher: &Marcher| state.units.row(marcher.unit);
    let members: Vec<Member> = march
        .marchers
        .iter()
        .filter_map(row)
        .map(|row| Member {
            row,
            from: state.units.position[row],
        })
        .collect();
    let facing = march.lead.as_ref().map_or(march.facing, |lead| lead.facing);
    let offsets = state.arranged(&march.formation, &members, facing);
    claim_places(state, scratch);
    let stands: Vec<(Member, Vec2)> = members.into_iter().zip(offsets).collect();
    let goal = march.middle;
    let places = places(state, scratch, &stands, (goal, march.middle, march.facing));
    for ((marcher, (member, offset)), place) in march.marchers.iter_mut().zip(stands).zip(places) {
        *marcher = Marcher::new(marcher.unit, offset);
        give_place(state, march.order, member.row, place);
    }
}

/// Gives a unit another place for an order that it has, however far back in its queue.
fn give_place(
    state: &mut State,
    number: crate::world::OrderNo,
    row: usize,
    place: Result<Place, Failure>,
) {
    let order = state.units.orders[row]
        .iter_mut()
        .find(|order| order.number == number);
    // Whoever has set out is not stopped for it.
    if let Some(order) = order
        && let Task::Move(errand) | Task::AttackMove(errand) = &mut order.task
        && place.is_ok()
    {
        errand.place = place;
    }
}

/// Sends a member on to its place by the straight way, or by one that is to be found.
fn go_straight(state: &mut State, march: &March, row: usize) {
    let marcher = Marcher::new(state.units.id[row], Vec2::ZERO);
    if under_way(state, march, &marcher).is_none() {
        return;
    }
    let first = state.units.orders[row].first();
    let Some(place) = first.and_then(|order| order.place()) else {
        return;
    };
    let (at, radius) = (state.units.position[row], state.units.radius[row]);
    if state.going(row).line_is_clear(at, place.at, radius) {
        if let Activity::Go(go) = &mut state.units.activity[row] {
            go.redirect(Bound::Place, place.at);
        }
    } else {
        queue::await_route(state, row, Bound::Place, Delay::default());
    }
}
