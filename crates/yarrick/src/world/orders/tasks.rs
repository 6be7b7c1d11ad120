//! From what was commanded to what each unit is to do: its own place, its own beat.

use super::march::{March, form_up};
use super::muster::{Member, muster};
use super::order::{Beat, Errand, Order, Task};
use super::state::{Scratch, State};
use super::{Action, Spot, When};
use crate::geom::{Vec2, canonical};

/// The tasks of those that take up an action, in the order of `rows`.
///
/// Actions that are no task of a unit (to cancel, to rally, what a context comes to) are dealt
/// with before; as tasks they come to a stop.
pub(crate) fn tasks(
    state: &State,
    scratch: &mut Scratch,
    rows: &[usize],
    action: &Action,
    when: When,
) -> (Vec<Task>, Option<March>) {
    let mut errands = |to: Vec2, task: fn(Errand) -> Task| {
        let members = members(state, rows, when);
        let errands = gather(state, scratch, &members, to);
        errands.into_iter().map(task).collect()
    };
    let tasks = match action {
        Action::Move { to } => errands(*to, Task::Move),
        Action::March {
            to,
            formation,
            fight,
        } => {
            let members = members(state, rows, when);
            let (errands, march) = form_up(state, scratch, &members, (*to, formation));
            let task = if *fight { Task::AttackMove } else { Task::Move };
            return (errands.into_iter().map(task).collect(), Some(march));
        }
        Action::AttackMove { to } => errands(*to, Task::AttackMove),
        Action::Guard {
            ward: Spot::Ground(to),
        } => errands(*to, Task::GuardPlace),
        Action::Patrol { points, round } => patrols(state, scratch, rows, when, (points, *round)),
        Action::Attack { target } => vec![Task::Attack { target: *target }; rows.len()],
        Action::Approach {
            target,
            stand_off_m,
            side,
        } => {
            let task = Task::Approach {
                target: *target,
                stand_off_m: *stand_off_m,
                side: *side,
            };
            vec![task; rows.len()]
        }
        Action::Follow { target } => vec![Task::Follow { target: *target }; rows.len()],
        Action::Guard {
            ward: Spot::Unit(target),
        } => vec![Task::Guard { target: *target }; rows.len()],
        Action::Hold => vec![Task::Hold; rows.len()],
        Action::Stop | Action::Cancel { .. } | Action::Rally { .. } | Action::Context { .. } => {
            vec![Task::Stop; rows.len()]
        }
    };
    (tasks, None)
}

/// The units that an order is for, and where each will set out from.
pub(super) fn members(state: &State, rows: &[usize], when: When) -> Vec<Member> {
    let from = |row| match when {
        When::Afterwards => resting_place(state, row),
        When::Now | When::First => state.units.position[row],
    };
    let member = |&row| Member {
        row,
        from: from(row),
    };
    rows.iter().map(member).collect()
}

fn gather(state: &State, scratch: &mut Scratch, members: &[Member], goal: Vec2) -> Vec<Errand> {
    claim_places(state, scratch);
    let places = muster(state, scratch, members, goal).into_iter();
    let goal = canonical(goal);
    places.map(|place| Errand { goal, place }).collect()
}

fn patrols(
    state: &State,
    scratch: &mut Scratch,
    rows: &[usize],
    when: When,
    (points, round): (&[Vec2], bool),
) -> Vec<Task> {
    let members = members(state, rows, when);
    let mut beats: Vec<Beat> = members
        .iter()
        .map(|member| Beat::new(member.from, round))
        .collect();
    for &point in points {
        let errands = gather(state, scratch, &members, point);
        for (beat, errand) in beats.iter_mut().zip(errands) {
            beat.posts.push(errand);
        }
    }
    let task = |mut beat: Beat| {
        beat.turn_to_next();
        Task::Patrol(Box::new(beat))
    };
    beats.into_iter().map(task).collect()
}

/// Where a unit will stand when all its orders are done.
fn resting_place(state: &State, row: usize) -> Vec2 {
    let orders = state.units.orders[row].iter().rev();
    orders
        .filter_map(Order::place)
        .next()
        .map_or(state.units.position[row], |place| place.at)
}

/// Claims the resting places of all units, once in a tick that has moves.
pub(super) fn claim_places(state: &State, scratch: &mut Scratch) {
    if scratch.claims_of == state.tick {
        return;
    }
    scratch.claims_of = state.tick;
    let cell_m = state.widest * 2.0;
    scratch.claims.clear(state.ground.bounds(), cell_m);
    for row in 0..state.units.len() {
        let place = resting_place(state, row);
        let radius = state.units.radius[row];
        scratch.claims.put(row as u32, place, radius);
    }
}
