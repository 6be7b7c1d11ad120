//! The round of a gatherer: to a slot at a deposit, strokes until the load is full, to a depot, and again.

use super::closing::{Closing, Distance, close_in};
use super::way_round::way_round;
use super::{Act, Activity, Behaviour, Deliver, Faculties, Next};
use crate::economy::{Load, Strokes};
use crate::geom::{Vec2, angle, canonical};
use crate::world::ids::UnitId;
use crate::world::kind::{Ability, Kind, KindId};
use crate::world::legs;
use crate::world::message::{Event, Failure, Outcome};
use crate::world::state::{Departure, MoveTarget, Patience, State, Worked};
use core::f32::consts::TAU;
use serde::{Deserialize, Serialize};
use smallvec::SmallVec;

/// Seconds without coming nearer to its slot after which a gatherer lets it go, and takes any that is free.
const GIVE_UP_S: u32 = 10;

/// Seconds without progress after which a unit on its way to wait for a slot joins the line where it is.
const STANDS_S: u32 = 2;

/// How far from those who work at a deposit others wait, in metres.
const WAITS_OFF_M: f32 = 0.6;

/// How near to its slot a gatherer works, in metres, and how far it may be pushed off it.
const AT_SLOT_M: f32 = 0.05;
const OFF_SLOT_M: f32 = 0.4;

/// Working at deposits of one kind.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Gather {
    /// Where it works now.
    deposit: UnitId,
    /// The kind of the deposit that was asked for, and where that is: others of the kind are looked for near it.
    sort: KindId,
    near: Vec2,
    phase: Phase,
    /// The strokes since the last item: kept while it is interrupted.
    strokes: Option<Strokes>,
    patience: Patience,
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
enum Phase {
    /// It decides where to go in its next tick.
    Deciding,
    /// It waits until a slot is free.
    Waiting,
    /// It is on the way to its slot.
    ToSlot { slot: u16 },
    /// It works there; the next stroke is due in a tick.
    Working { slot: u16, next: u64 },
}

impl Gather {
    /// Work at a deposit. `None` where there is no such deposit.
    pub(crate) fn at(state: &State, deposit: UnitId) -> Option<Gather> {
        let row = state.units.row(deposit)?;
        state.deposits.get(deposit)?;
        Some(Gather {
            deposit,
            sort: state.units.kind[row],
            near: state.middle(row),
            phase: Phase::Deciding,
            strokes: None,
            patience: Patience::default(),
        })
    }

    /// Sets out for a slot, or for a depot, or ends.
    fn decide(&mut self, act: &mut Act<'_>) -> Next {
        let (unit, row) = (act.state.units.id[act.row], act.row);
        self.let_go(act);
        let load = act.state.loads.get(unit).copied();
        let carries = act.state.kind_of(row).carries();
        let fits = |load: Load| {
            let resource = act
                .state
                .kind(self.sort)
                .holding
                .map(|holding| holding.resource);
            load.amount < carries && resource == Some(load.resource)
        };
        let deliver = || Next::RunFirst(Activity::Deliver(Deliver::default()));
        if load.is_some_and(|load| !fits(load)) {
            self.leave_line(act);
            return deliver();
        }
        let choice = choose(act.state, row, self);
        if choice != Choice::AllTaken {
            self.leave_line(act);
        }
        match choice {
            Choice::NothingLeft if load.is_some() => deliver(),
            Choice::NothingLeft => Next::Ended(Outcome::Failed {
                why: Failure::NothingLeft,
            }),
            Choice::AllTaken => {
                self.phase = Phase::Waiting;
                self.wait(act);
                Next::Continue
            }
            Choice::Slot(deposit, slot) => {
                if deposit != self.deposit {
                    self.strokes = None;
                }
                self.deposit = deposit;
                self.patience = Patience::default();
                self.phase = Phase::ToSlot { slot };
                Next::Continue
            }
        }
    }

    /// Comes near to the deposit at which it waits, but leaves room for those who work there. It stands in line once it is as
    /// near as it gets: a slot is not kept for one that has a long way to go.
    fn wait(&mut self, act: &mut Act<'_>) {
        let (state, row) = (&mut *act.state, act.row);
        let Some(target) = state.units.row(self.deposit) else {
            return;
        };
        let near_m = 2.0 * state.units.radius[row] + WAITS_OFF_M;
        let distance = Distance::within(near_m, 2.0 * near_m);
        let closing = close_in(
            state,
            act.scratch,
            (row, target),
            distance,
            &mut self.patience,
        );
        let is_there = match closing {
            Closing::There | Closing::Waits { .. } => true,
            Closing::OnTheWay { stalled } => stalled > state.ticks(STANDS_S),
            // It will find out when it has a slot.
            Closing::Stranded { .. } => true,
        };
        if is_there && !self.is_in_line(state, row) {
            let unit = state.units.id[row];
            let line_up = |worked: &mut Worked| worked.slots.stand_in_line(unit);
            state.deposits.change(self.deposit, line_up);
        }
    }

    /// Whether it stands in the line of those that wait for a slot.
    fn is_in_line(&self, state: &State, row: usize) -> bool {
        let worked = state.deposits.get(self.deposit);
        worked.is_some_and(|worked| worked.slots.line().contains(&state.units.id[row]))
    }

    fn leave_line(&self, act: &mut Act<'_>) {
        if self.is_in_line(act.state, act.row) {
            let unit = act.state.units.id[act.row];
            let leave = |worked: &mut Worked| worked.slots.leave_line(unit);
            act.state.deposits.change(self.deposit, leave);
        }
    }

    /// Frees the slot that it holds.
    fn let_go(&mut self, act: &mut Act<'_>) {
        let unit = act.state.units.id[act.row];
        if matches!(self.phase, Phase::ToSlot { .. } | Phase::Working { .. }) {
            act.state
                .deposits
                .change(self.deposit, |worked| worked.slots.free(unit));
            act.state.ordered_facing.remove(unit);
        }
        act.state.units.stands_firm[act.row] = false;
        self.phase = Phase::Deciding;
    }

    /// Goes on to its slot, or stays there. Gives whether it is there.
    fn keep_to_slot(&mut self, act: &mut Act<'_>, slot: u16) -> Result<bool, Next> {
        let (state, row) = (&mut *act.state, act.row);
        let Some(target) = state.units.row(self.deposit) else {
            return Err(Next::Continue);
        };
        if self.goes_round(state, (row, target), slot) {
            return Ok(false);
        }
        let distance = at_slot(state, self.deposit, slot);
        match close_in(
            state,
            act.scratch,
            (row, target),
            distance,
            &mut self.patience,
        ) {
            Closing::There => Ok(true),
            Closing::Stranded { why } => Err(Next::Ended(Outcome::Failed { why })),
            Closing::OnTheWay { stalled } if stalled < state.ticks(GIVE_UP_S) => Ok(false),
            Closing::OnTheWay { .. } | Closing::Waits { .. } => {
                self.let_go(act);
                self.phase = Phase::Waiting;
                Err(Next::Continue)
            }
        }
    }

    /// Goes round the deposit and those who work there, if they are between the unit and its slot.
    fn goes_round(&self, state: &mut State, (row, target): (usize, usize), slot: u16) -> bool {
        if !state.units.locomotion[row].stands() && !state.thinks_now(row) {
            return false;
        }
        let from = state.units.position[row];
        let Some(point) = at_slot(state, self.deposit, slot).point(state, row, target) else {
            return false;
        };
        if from.distance(point) <= OFF_SLOT_M {
            return false;
        }
        let radius = state.units.radius[row];
        let ends = (from, point, state.units.position[target]);
        let via = way_round(ends, radius, at_work(state, (row, target), self.deposit));
        let is_open = |via: &Vec2| state.ground_view(row).line_is_clear(from, *via, radius);
        let Some(to) = via.filter(is_open) else {
            return false;
        };
        let (short_m, onward) = (0.0, None);
        let via = MoveTarget::Unit {
            to,
            short_m,
            onward,
        };
        legs::go_to(state, row, via);
        true
    }

    /// Begins to work: it looks at the deposit, and the first stroke comes after a whole interval.
    fn begin_work(&mut self, act: &mut Act<'_>, slot: u16) {
        let (state, row) = (&mut *act.state, act.row);
        if let Some(target) = state.units.row(self.deposit)
            && let Some(facing) = angle::of(state.middle(target) - state.units.position[row])
        {
            let unit = state.units.id[row];
            state.ordered_facing.set(unit, facing);
        }
        let next = state.clock.tick + stroke_ticks(state, row);
        // Those who pass do not push it off.
        state.units.stands_firm[row] = true;
        self.phase = Phase::Working { slot, next };
    }

    /// Does a stroke. Gives whether it goes on here.
    fn stroke(&mut self, act: &mut Act<'_>, slot: u16) -> bool {
        let (state, row) = (&mut *act.state, act.row);
        let (unit, deposit) = (state.units.id[row], self.deposit);
        let next = state.clock.tick + stroke_ticks(state, row);
        self.phase = Phase::Working { slot, next };
        let holding = state.kind(self.sort).holding;
        let Some(rhythm) = holding.map(|holding| holding.rhythm) else {
            return false;
        };
        let strokes = self.strokes.get_or_insert_with(|| rhythm.begin());
        let brings = strokes.stroke();
        let taken = state.deposits.change(deposit, |worked| {
            let taken = if brings { worked.deposit.take(1) } else { 0 };
            (taken, worked.deposit)
        });
        let Some((taken, left)) = taken else {
            return false;
        };
        act.events.push(Event::Stroke {
            unit,
            at: deposit,
            item: taken > 0,
        });
        let load = state.loads.get(unit).map_or(0, |load| load.amount) + taken;
        if taken > 0 {
            let resource = left.resource;
            state.loads.set(
                unit,
                Load {
                    resource,
                    amount: load,
                },
            );
        }
        left.left > 0 && load < state.kind_of(row).carries()
    }
}

/// What a gatherer can do next.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Choice {
    /// To work at a slot of a deposit, which it holds now.
    Slot(UnitId, u16),
    /// To wait: there is something left, but no slot is free.
    AllTaken,
    NothingLeft,
}

/// Takes a slot: where it is, else at the nearest other deposit of the same kind.
fn choose(state: &mut State, row: usize, gather: &Gather) -> Choice {
    let look_on_m = state
        .kind_of(row)
        .work
        .as_ref()
        .map_or(0.0, |work| work.look_on_m);
    let mut candidates: SmallVec<[(bool, f32, UnitId); 8]> = SmallVec::new();
    for (deposit, worked) in state.deposits.iter() {
        let Some(at) = state.units.row(deposit) else {
            continue;
        };
        let far_m = state.middle(at).distance(gather.near);
        let is_meant = state.units.kind[at] == gather.sort && far_m <= look_on_m;
        if worked.deposit.left > 0 && (is_meant || deposit == gather.deposit) {
            candidates.push((deposit != gather.deposit, far_m, deposit));
        }
    }
    // Where it works already goes first; then the nearest. Ties by id.
    candidates.sort_by(|a, b| {
        let order = a.0.cmp(&b.0).then(a.1.total_cmp(&b.1));
        order.then_with(|| a.2.cmp(&b.2))
    });
    for (_, _, deposit) in &candidates {
        if let Some(slot) = take_slot(state, row, *deposit) {
            return Choice::Slot(*deposit, slot);
        }
    }
    if candidates.is_empty() {
        Choice::NothingLeft
    } else {
        Choice::AllTaken
    }
}

/// Takes the nearest free slot of a deposit at which the unit could stand.
fn take_slot(state: &mut State, row: usize, deposit: UnitId) -> Option<u16> {
    let target = state.units.row(deposit)?;
    let (unit, from) = (state.units.id[row], state.units.position[row]);
    let (view, radius) = (state.ground_view(row), state.units.radius[row]);
    let count = state.deposits.get(deposit)?.slots.owners().len() as u16;
    let cost = |slot| {
        let point = at_slot(state, deposit, slot).point(state, row, target)?;
        let is_clear = view.disc_is_clear(canonical(point), radius);
        is_clear.then(|| point.distance(from))
    };
    let costs: SmallVec<[Option<f32>; 8]> = (0..count).map(cost).collect();
    let taken = state.deposits.change(deposit, |worked| {
        worked.slots.take(unit, |slot| costs[slot])
    });
    taken.flatten().map(|slot| slot as u16)
}

/// Where others stand at the slots of a deposit.
fn at_work(
    state: &State,
    (row, target): (usize, usize),
    deposit: UnitId,
) -> impl Iterator<Item = Vec2> {
    let slots = state
        .deposits
        .get(deposit)
        .map(|worked| worked.slots.owners());
    let others = slots.unwrap_or_default().iter().zip(0..);
    others.filter_map(move |(owner, slot)| {
        let other = state.units.row((*owner)?)?;
        let point = at_slot(state, deposit, slot).point(state, row, target)?;
        let is_there = state.units.position[other].distance(point) <= OFF_SLOT_M;
        (other != row && is_there).then_some(point)
    })
}

/// Where a slot of a deposit is: slots are spread evenly round it.
fn at_slot(state: &State, deposit: UnitId, slot: u16) -> Distance {
    let worked = state.deposits.get(deposit);
    let count = worked.map_or(1, |worked| worked.slots.owners().len().max(1));
    Distance {
        strict: true,
        side: Some(TAU * f32::from(slot) / count as f32),
        ..Distance::within(AT_SLOT_M, OFF_SLOT_M)
    }
}

/// The ticks from one stroke of a unit to the next, one at least.
pub(super) fn stroke_ticks(state: &State, row: usize) -> u64 {
    let work = state.kind_of(row).work.as_ref();
    let seconds = work.map_or(0.0, |work| work.stroke_every_s);
    // Casts saturate.
    ((seconds * state.rules.ticks_per_second as f32 + 0.5) as u64).max(1)
}

impl Behaviour for Gather {
    fn needs(&self) -> Faculties {
        Faculties::BOTH
    }

    fn start(&mut self, act: &mut Act<'_>) -> Next {
        self.phase = Phase::Deciding;
        self.decide(act)
    }

    fn advance(&mut self, act: &mut Act<'_>) -> Next {
        match self.phase {
            Phase::Deciding => self.decide(act),
            Phase::Waiting if act.state.thinks_now(act.row) => self.decide(act),
            Phase::Waiting => {
                self.wait(act);
                Next::Continue
            }
            Phase::ToSlot { slot } => {
                match self.keep_to_slot(act, slot) {
                    Ok(true) => self.begin_work(act, slot),
                    Ok(false) => {}
                    Err(next) => return next,
                }
                // What it makes for may have been emptied meanwhile.
                let worked = act.state.deposits.get(self.deposit);
                if worked.is_none_or(|worked| worked.deposit.left == 0) {
                    return self.decide(act);
                }
                Next::Continue
            }
            Phase::Working { slot, next } => {
                match self.keep_to_slot(act, slot) {
                    Ok(true) => {}
                    Ok(false) => {
                        act.state.units.stands_firm[act.row] = false;
                        self.phase = Phase::ToSlot { slot };
                        return Next::Continue;
                    }
                    Err(next) => return next,
                }
                if act.state.clock.tick < next || self.stroke(act, slot) {
                    return Next::Continue;
                }
                self.decide(act)
            }
        }
    }

    fn resumed(&mut self, act: &mut Act<'_>) -> Next {
        let unit = act.state.units.id[act.row];
        if act.state.loads.get(unit).is_some() {
            // It could not hand in what it carries: there is no depot to which it can get, or others stood in the way for
            // too long.
            let why = if act.state.has_depot(act.row) {
                Failure::HeldUp
            } else {
                Failure::NoDepot
            };
            return Next::Ended(Outcome::Failed { why });
        }
        self.decide(act)
    }

    fn target(&self) -> Option<UnitId> {
        Some(self.deposit)
    }

    fn target_gone(&mut self, act: &mut Act<'_>, _: Departure) -> Next {
        // Another of the same kind is looked for.
        let unit = act.state.units.id[act.row];
        act.state.ordered_facing.remove(unit);
        act.state.units.stands_firm[act.row] = false;
        self.phase = Phase::Deciding;
        Next::Continue
    }

    fn is_possible_for(&self, kind: &Kind) -> bool {
        kind.can(Ability::Gathers)
    }

    fn stop(&mut self, act: &mut Act<'_>) {
        self.let_go(act);
        self.leave_line(act);
    }
}
