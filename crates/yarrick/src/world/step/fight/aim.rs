//! Aiming: a unit that aims at a foe within range points its arms there, and strikes when they do.

use crate::combat::{Blow, Flight, Projectile, Weapon, lead};
use crate::geom::{Vec2, angle, canonical};
use crate::world::arms;
use crate::world::ids::ProjectileId;
use crate::world::message::Event;
use crate::world::state::{Events, MAX_PROJECTILES, ProjectileRow, Scratch, State};

pub(super) fn run(state: &mut State, scratch: &mut Scratch, events: &mut Events) {
    for row in 0..state.units.len() {
        if let Some(aim) = state.units.aim[row]
            && (aim.on_the_move || state.units.locomotion[row].stands())
        {
            strike(state, scratch, events, row);
        }
    }
}

fn strike(state: &mut State, scratch: &mut Scratch, events: &mut Events, row: usize) -> Option<()> {
    let target = state.units.row(state.units.aim[row]?.foe)?;
    let weapon = state.kind_of(row).weapon?;
    if state.gap_m(row, target) > weapon.range_m {
        return None;
    }
    let (from, to) = (state.middle(row), state.middle(target));
    let speed = weapon.flight.map(|flight| flight.speed);
    let to = speed.map_or(to, |speed| {
        lead(from, speed, to, state.units.velocity[target])
    });
    let heading = angle::of(to - from);
    let off = heading.map_or(0.0, |heading| arms::point_at(state, row, heading));
    let is_ready = state.clock.tick >= state.units.ready_at[row] && off <= weapon.aim_within;
    if !is_ready || !arms::has_line(state, row, target) {
        return None;
    }
    let unit = state.units.id[row];
    match weapon.flight.zip(heading) {
        Some((flight, heading)) => {
            let projectile = fire(state, (row, &weapon), (flight, heading))?;
            let target = state.units.id[target];
            events.push(Event::Fired {
                unit,
                target,
                projectile,
            });
        }
        None => strike_at_once((state, scratch, events), row, target, weapon.damage),
    }
    let cooldown = weapon.cooldown_ticks(state.rules.ticks_per_second);
    state.units.ready_at[row] = state.clock.tick + cooldown;
    Some(())
}

/// Strikes a unit with a weapon that has no projectiles.
pub(super) fn strike_at_once(
    (state, scratch, events): (&State, &mut Scratch, &mut Events),
    row: usize,
    target: usize,
    damage: f32,
) {
    let by = state.units.id[row];
    events.push(Event::Struck {
        unit: by,
        target: state.units.id[target],
        damage,
        projectile: None,
    });
    scratch.blows.push(Blow {
        by,
        target: target as u32,
        damage,
    });
}

/// Fires a projectile from the edge of a unit. `None` where too many are in flight.
pub(super) fn fire(
    state: &mut State,
    (row, weapon): (usize, &Weapon),
    (flight, heading): (Flight, f32),
) -> Option<ProjectileId> {
    if state.projectiles.len() >= MAX_PROJECTILES {
        return None;
    }
    let out = angle::direction(heading);
    let from = canonical(muzzle(state, row, out));
    let flight = Projectile::towards(from, from + out, flight)?;
    Some(state.projectiles.add(ProjectileRow {
        by: state.units.id[row],
        side: state.units.side[row],
        flight,
        before: from,
        damage: weapon.damage,
        low: weapon.clear_line,
    }))
}

/// Where the projectiles of a unit begin.
pub(super) fn muzzle(state: &State, row: usize, out: Vec2) -> Vec2 {
    match state.block(row) {
        Some(block) => block.edge_towards(out),
        None => state.units.position[row] + out * state.units.radius[row],
    }
}
