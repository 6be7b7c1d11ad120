//! Takes the commands of this tick: each becomes orders, or is refused with a reason.

use crate::geom::Vec2;
use crate::world::event::Event;
use crate::world::muster::{Member, muster};
use crate::world::order::{MAX_QUEUED, Order, Task};
use crate::world::queue;
use crate::world::state::{Events, Scratch, State};
use crate::world::{Action, Command, OrderNo, Refusal, UnitId, When};

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    let mut commands = core::mem::take(&mut state.commands);
    // The sides' order does not depend on whose commands arrived first; a side's own stay in
    // the order in which it gave them (the sort is stable).
    commands.sort_by_key(|command| command.side);
    for command in &commands {
        take(state, scratch, events, command);
    }
}

fn take(state: &mut State, scratch: &mut Scratch, events: &mut Events, command: &Command) {
    let side = command.side;
    if let Some(why) = flaw(state, command) {
        let unit = None;
        events.push(Event::Refused { side, unit, why });
        return;
    }
    let rows = rows_that_obey(state, events, command);
    if rows.is_empty() {
        return;
    }
    state.last_order = OrderNo(state.last_order.0.wrapping_add(1));
    events.push(Event::Ordered {
        order: state.last_order,
        side,
        units: rows.iter().map(|&row| state.units.id[row]).collect(),
        action: command.action,
        when: command.when,
    });
    let number = state.last_order;
    if let Action::Cancel { order } = command.action {
        for row in rows {
            queue::cancel(state, events, row, order, number);
        }
        return;
    }
    let tasks = tasks(state, scratch, &rows, command);
    for (row, task) in rows.into_iter().zip(tasks) {
        let order = Order { number, task };
        match command.when {
            When::Now => queue::replace(state, events, row, order),
            When::Afterwards => queue::append(state, events, row, order),
            When::First => queue::interrupt(state, events, row, order),
        }
    }
}

/// What is wrong with a command as a whole.
fn flaw(state: &State, command: &Command) -> Option<Refusal> {
    if usize::from(command.side.0) >= state.sides.len() {
        return Some(Refusal::NoSuchSide);
    }
    if command.units.is_empty() {
        return Some(Refusal::NoUnits);
    }
    match command.action {
        Action::Move { to } | Action::Patrol { to } if !to.is_finite() => Some(Refusal::NotFinite),
        _ => None,
    }
}

/// The rows of the units that take up a command, in order of id; the others are refused.
fn rows_that_obey(state: &State, events: &mut Events, command: &Command) -> Vec<usize> {
    let mut units = command.units.clone();
    units.sort_unstable();
    units.dedup();
    let mut rows = Vec::with_capacity(units.len());
    for unit in units {
        match obeys(state, command, unit) {
            Ok(row) => rows.push(row),
            Err(why) => events.push(Event::Refused {
                side: command.side,
                unit: Some(unit),
                why,
            }),
        }
    }
    rows
}

fn obeys(state: &State, command: &Command, unit: UnitId) -> Result<usize, Refusal> {
    let row = state.units.row(unit).ok_or(Refusal::NoSuchUnit)?;
    if state.units.side[row] != command.side {
        return Err(Refusal::NotYours);
    }
    let orders = &state.units.orders[row];
    if let Action::Cancel { order } = command.action {
        let known = orders.iter().any(|held| held.number == order);
        return known.then_some(row).ok_or(Refusal::NoSuchOrder);
    }
    if command.when != When::Now && orders.len() >= MAX_QUEUED {
        return Err(Refusal::QueueFull);
    }
    let moves = matches!(command.action, Action::Move { .. } | Action::Patrol { .. });
    if moves && state.kind(state.units.kind[row]).speed == 0.0 {
        return Err(Refusal::CannotMove);
    }
    Ok(row)
}

fn tasks(state: &State, scratch: &mut Scratch, rows: &[usize], command: &Command) -> Vec<Task> {
    match command.action {
        Action::Stop | Action::Cancel { .. } => vec![Task::Stop; rows.len()],
        Action::Move { to } | Action::Patrol { to } => {
            claim_places(state, scratch);
            let members: Vec<Member> = rows
                .iter()
                .map(|&row| Member {
                    row,
                    from: if command.when == When::Afterwards {
                        resting_place(state, row)
                    } else {
                        state.units.position[row]
                    },
                })
                .collect();
            let places = muster(state, scratch, &members, to);
            let task = |(member, place): (&Member, _)| match command.action {
                Action::Patrol { to } => Task::Patrol {
                    goal: to,
                    far: place,
                    home: member.from,
                    homeward: false,
                },
                _ => Task::Move { goal: to, place },
            };
            members.iter().zip(places).map(task).collect()
        }
    }
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
fn claim_places(state: &State, scratch: &mut Scratch) {
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
