//! Takes the commands of this tick: each becomes orders, or is refused with a reason.

use crate::geom::Vec2;
use crate::world::event::Event;
use crate::world::march::March;
use crate::world::order::{MAX_QUEUED, Order, Outcome, Task};
use crate::world::state::{Events, Scratch, State};
use crate::world::tasks::tasks;
use crate::world::{
    Action, Command, MAX_COORDINATE_M, MAX_FACING, MAX_PATROL_POINTS, MAX_STAND_OFF_M, OrderNo,
    Refusal, SideId, Spot, UnitId, Verb, When,
};
use crate::world::{queue, rally};
use std::borrow::Cow;

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    let mut commands = core::mem::take(&mut state.commands);
    // The sides' order does not depend on whose commands arrived first; a side's own stay in
    // the order in which it gave them (the sort is stable).
    commands.sort_by_key(|command| command.side);
    for command in &commands {
        take(state, scratch, events, command);
    }
}

/// Units that take up the same action, which a context order may have turned into several.
struct Share<'a> {
    verb: Option<Verb>,
    action: Cow<'a, Action>,
    rows: Vec<usize>,
}

fn take(state: &mut State, scratch: &mut Scratch, events: &mut Events, command: &Command) {
    let side = command.side;
    if let Some(why) = flaw(state, command) {
        let unit = None;
        events.push(Event::Refused { side, unit, why });
        return;
    }
    let shares = shares(state, events, command);
    if shares.is_empty() {
        return;
    }
    state.last_order = OrderNo(state.last_order.0.wrapping_add(1));
    let number = state.last_order;
    let rows = shares.iter().flat_map(|share| &share.rows);
    let mut units: Vec<UnitId> = rows.map(|&row| state.units.id[row]).collect();
    units.sort_unstable();
    let became = |share: &Share<'_>| Some((share.verb?, share.rows.len() as u32));
    events.push(Event::Ordered {
        order: number,
        side,
        units,
        action: command.action.clone(),
        when: command.when,
        became: shares.iter().filter_map(became).collect(),
    });
    for share in &shares {
        give(state, scratch, events, share, (number, command.when));
    }
}

/// Gives an order to those that take it up.
fn give(
    state: &mut State,
    scratch: &mut Scratch,
    events: &mut Events,
    share: &Share<'_>,
    (number, when): (OrderNo, When),
) {
    if let Action::Cancel { order } = *share.action {
        for &row in &share.rows {
            queue::cancel(state, events, row, order, number);
        }
        return;
    }
    if let Action::Rally { to } = *share.action {
        for &row in &share.rows {
            rally::set(state, events, row, to, when);
            queue::end_at_once(state, events, row, number, Outcome::Done);
        }
        return;
    }
    let (tasks, march) = tasks(state, scratch, &share.rows, &share.action, when);
    state.marches.extend(march.map(|march| March {
        order: number,
        ..march
    }));
    for (&row, task) in share.rows.iter().zip(tasks) {
        if let Task::Patrol(beat) = &task
            && when == When::Afterwards
            && queue::ends_with_patrol(state, row)
        {
            queue::extend_patrol(state, events, row, &beat.posts[1..], number);
            continue;
        }
        let order = Order { number, task };
        match when {
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
    match &command.action {
        Action::Move { to } | Action::AttackMove { to } => flaw_of_points(&[*to]),
        Action::March { to, formation, .. } => {
            let looks = formation
                .facing
                .is_none_or(|facing| facing.abs() <= MAX_FACING);
            flaw_of_points(&[*to]).or((!looks).then_some(Refusal::BadPoint))
        }
        Action::Patrol { points, .. } if !(1..=MAX_PATROL_POINTS).contains(&points.len()) => {
            Some(Refusal::PatrolPoints)
        }
        Action::Patrol { points, .. } => flaw_of_points(points),
        Action::Attack { target } => {
            flaw_of_target(state, *target).or_else(|| flaw_of_victim(state, command.side, *target))
        }
        Action::Guard { ward } => flaw_of_spot(state, *ward).or_else(|| match ward {
            Spot::Unit(unit) if is_foe(state, command.side, *unit) => Some(Refusal::IsAFoe),
            _ => None,
        }),
        Action::Approach {
            target,
            stand_off_m,
            side,
        } => flaw_of_target(state, *target)
            .or((!(0.0..=MAX_STAND_OFF_M).contains(stand_off_m)).then_some(Refusal::BadDistance))
            .or((!side.is_none_or(|side| side.abs() <= MAX_FACING)).then_some(Refusal::BadPoint)),
        Action::Follow { target } => flaw_of_target(state, *target),
        Action::Rally { to: spot } | Action::Context { at: spot } => flaw_of_spot(state, *spot),
        Action::Hold | Action::Stop | Action::Cancel { .. } => None,
    }
}

fn flaw_of_spot(state: &State, spot: Spot) -> Option<Refusal> {
    match spot {
        Spot::Ground(point) => flaw_of_points(&[point]),
        Spot::Unit(unit) => flaw_of_target(state, unit),
    }
}

fn flaw_of_points(points: &[Vec2]) -> Option<Refusal> {
    // What is NaN is not within any limit.
    let sound = |point: &Vec2| point.abs().max_element() <= MAX_COORDINATE_M && !point.is_nan();
    (!points.iter().all(sound)).then_some(Refusal::BadPoint)
}

fn flaw_of_target(state: &State, target: UnitId) -> Option<Refusal> {
    state
        .units
        .row(target)
        .is_none()
        .then_some(Refusal::NoSuchTarget)
}

fn flaw_of_victim(state: &State, side: SideId, target: UnitId) -> Option<Refusal> {
    let row = state.units.row(target)?;
    if !is_foe(state, side, target) {
        return Some(Refusal::NotAFoe);
    }
    let kind = state.kind(state.units.kind[row]);
    (kind.health <= 0.0).then_some(Refusal::CannotBeHarmed)
}

fn is_foe(state: &State, side: SideId, unit: UnitId) -> bool {
    let row = state.units.row(unit);
    row.is_some_and(|row| state.stances.are_foes(side, state.units.side[row]))
}

/// Who takes up what, in order of id; the others are refused.
fn shares<'a>(state: &State, events: &mut Events, command: &'a Command) -> Vec<Share<'a>> {
    let mut units = command.units.clone();
    units.sort_unstable();
    units.dedup();
    let mut shares: Vec<Share<'_>> = Vec::new();
    for unit in units {
        match obeys(state, command, unit) {
            Ok((row, verb, action)) => match shares.iter_mut().find(|share| share.verb == verb) {
                Some(share) => share.rows.push(row),
                None => shares.push(Share {
                    verb,
                    action,
                    rows: vec![row],
                }),
            },
            Err(why) => events.push(Event::Refused {
                side: command.side,
                unit: Some(unit),
                why,
            }),
        }
    }
    shares
}

/// Who takes up what, and by which verb if it is what fits.
type Obedience<'a> = (usize, Option<Verb>, Cow<'a, Action>);

fn obeys<'a>(state: &State, command: &'a Command, unit: UnitId) -> Result<Obedience<'a>, Refusal> {
    let row = state.units.row(unit).ok_or(Refusal::NoSuchUnit)?;
    if !state
        .stances
        .may_command(command.side, state.units.side[row])
    {
        return Err(Refusal::NotYours);
    }
    let Action::Context { at } = command.action else {
        check(state, command, row, &command.action)?;
        return Ok((row, None, Cow::Borrowed(&command.action)));
    };
    let verb = state.fitting_verb(row, command.side, at);
    let verb = verb.ok_or(Refusal::NoSuchTarget)?;
    let where_at = |unit: UnitId| state.units.row(unit).map(|row| state.units.position[row]);
    let action = verb.about(at, where_at).ok_or(Refusal::NothingToDo)?;
    check(state, command, row, &action)?;
    Ok((row, Some(verb), Cow::Owned(action)))
}

/// Whether the unit in a row can take up an action.
fn check(state: &State, command: &Command, row: usize, action: &Action) -> Result<(), Refusal> {
    let kind = state.kind(state.units.kind[row]);
    let orders = &state.units.orders[row];
    let itself = state.units.id[row];
    let needs_legs = match action {
        Action::Cancel { order } => {
            let known = orders.iter().any(|held| held.number == *order);
            return known.then_some(()).ok_or(Refusal::NoSuchOrder);
        }
        Action::Rally { .. } if !kind.rallies => return Err(Refusal::CannotRally),
        Action::Rally { .. } if rally::is_full(state, row, command.when) => {
            return Err(Refusal::QueueFull);
        }
        Action::Rally { .. } => return Ok(()),
        Action::Attack { .. } if kind.weapon.is_none() => return Err(Refusal::CannotStrike),
        Action::Attack { target } if *target == itself => return Err(Refusal::Itself),
        Action::Approach { target, .. } | Action::Follow { target } if *target == itself => {
            return Err(Refusal::Itself);
        }
        Action::Guard {
            ward: Spot::Unit(ward),
        } if *ward == itself => return Err(Refusal::Itself),
        Action::Patrol { points, .. }
            if command.when == When::Afterwards
                && !queue::has_room_for_posts(state, row, points.len()) =>
        {
            return Err(Refusal::QueueFull);
        }
        Action::Attack { .. } | Action::Hold | Action::Stop | Action::Context { .. } => false,
        Action::Move { .. }
        | Action::AttackMove { .. }
        | Action::March { .. }
        | Action::Patrol { .. }
        | Action::Approach { .. }
        | Action::Follow { .. }
        | Action::Guard { .. } => true,
    };
    if command.when != When::Now && orders.len() >= MAX_QUEUED {
        return Err(Refusal::QueueFull);
    }
    if needs_legs && kind.speed == 0.0 {
        return Err(Refusal::CannotMove);
    }
    Ok(())
}
