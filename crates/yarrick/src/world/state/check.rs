//! Whether a state that was read from a file makes sense: what the rest of the code takes for granted.

use super::{Locomotion, MAX_PROJECTILES, MAX_UNITS, March, MoveTarget, State, WorldFlock};
use crate::geom::{Vec2, is_within};
use crate::motion::formation::own_slots_are_sound;
use crate::world::ids::UnitId;
use crate::world::message::MAX_COORDINATE_M;

type Check = Result<(), &'static str>;

fn ensure(holds: bool, what: &'static str) -> Check {
    if holds { Ok(()) } else { Err(what) }
}

fn is_point(at: Vec2) -> bool {
    is_within(at.extend(0.0), MAX_COORDINATE_M * 4.0)
}

impl State {
    /// What is wrong with it, if anything is. `derived` must have been worked out.
    pub(crate) fn check(&self) -> Check {
        let units = &self.units;
        ensure(
            units.is_consistent(),
            "lists of units that do not fit each other",
        )?;
        ensure(units.len() <= MAX_UNITS, "more units than a world holds")?;
        (0..units.len()).try_for_each(|row| self.check_unit(row))?;
        let facings = self
            .ordered_facing
            .values()
            .all(|facing| facing.is_finite());
        ensure(facings, "a facing that is no number")?;
        let paces = self.pace.values().all(|pace| (0.0..=100.0).contains(pace));
        let sways = self.sway.values().all(|sway| {
            let numbers = [sway.half_m, sway.ticks, sway.phase];
            numbers.iter().all(|number| number.is_finite())
        });
        ensure(paces && sways, "a pace that is no number")?;
        let turned = self.arms_turned.values().all(|turned| turned.is_finite());
        ensure(turned, "arms that point nowhere")?;
        ensure(
            self.projectiles.is_consistent() && self.projectiles.len() <= MAX_PROJECTILES,
            "lists of projectiles that do not fit each other",
        )?;
        (0..self.projectiles.len()).try_for_each(|row| self.check_projectile(row))?;
        ensure(
            self.marches.is_sorted_by_key(|march| march.group),
            "marches out of order",
        )?;
        self.marches.iter().try_for_each(check_march)?;
        ensure(
            self.flocks.len() <= super::MAX_FLOCKS,
            "more flocks than a world has",
        )?;
        self.flocks.iter().try_for_each(check_flock)?;
        let clearances = self.derived.clearances.len() as u16;
        self.planner.check(self.rules.sides.len() as u8, clearances)
    }

    fn check_projectile(&self, row: usize) -> Check {
        let projectiles = &self.projectiles;
        let flight = &projectiles.flight[row];
        let side = usize::from(projectiles.side[row].0) < self.rules.sides.len();
        let points = [flight.position, flight.velocity, projectiles.before[row]];
        let numbers = [flight.left_m, projectiles.damage[row]];
        let is_sound = points.into_iter().all(is_point) && numbers.iter().all(|x| x.is_finite());
        ensure(side && is_sound, "a projectile in no place")
    }

    fn check_unit(&self, row: usize) -> Check {
        let units = &self.units;
        let kind = usize::from(units.kind[row].0);
        ensure(
            kind < self.rules.kinds.len(),
            "a unit of a kind that does not exist",
        )?;
        let side = usize::from(units.side[row].0);
        ensure(
            side < self.rules.sides.len(),
            "a unit of a side that does not exist",
        )?;
        let radius = units.radius[row] == self.kind_of(row).disc_m();
        ensure(radius, "a unit whose radius is not that of its kind")?;
        let before = &units.before[row];
        let points = [units.position[row], units.velocity[row], before.position];
        let angles = [units.facing[row], before.facing, units.health[row]];
        let back = units.return_to[row].is_none_or(|back| is_point(back.at));
        let sound = points.into_iter().all(is_point) && angles.iter().all(|x| x.is_finite());
        ensure(sound && back, "a unit in no place")?;
        match &units.locomotion[row] {
            Locomotion::Standing => Ok(()),
            Locomotion::Steered(steer) => {
                let numbers = [steer.looks, steer.acceleration];
                let is_sound = numbers.into_iter().flatten().all(f32::is_finite);
                ensure(is_point(steer.wish) && is_sound, "a walk to nowhere")
            }
            Locomotion::AwaitingRoute {
                target, stroll_to, ..
            } => {
                ensure(stroll_to.is_none_or(is_point), "a walk to nowhere")?;
                check_target(target)
            }
            Locomotion::Walking(walk) => {
                ensure(walk.is_consistent(), "a walk along no path")?;
                check_target(walk.target())
            }
        }
    }
}

fn check_target(target: &MoveTarget) -> Check {
    let is_sound = match target {
        MoveTarget::Unit {
            to,
            short_m,
            onward,
        } => is_point(*to) && short_m.is_finite() && onward.is_none_or(is_point),
        MoveTarget::Place(target) => {
            let place = &target.place;
            let points = [target.goal, place.at, place.middle];
            points.into_iter().all(is_point)
                && place.spread_m.is_finite()
                && place.facing.is_none_or(f32::is_finite)
        }
    };
    ensure(is_sound, "a walk to nowhere")
}

fn check_march(march: &March) -> Check {
    let own_slots = own_slots_are_sound(&march.formation.slots);
    let slots = own_slots && march.members.iter().all(|member| is_point(member.offset));
    let is_sound = is_point(march.middle) && march.facing.is_finite() && slots;
    ensure(is_sound, "a march to nowhere")?;
    match &march.guide {
        None => Ok(()),
        Some(guide) => {
            let path = guide.path.iter().chain([&guide.at]).all(|at| is_point(*at));
            let ends = guide.next as usize <= guide.path.len();
            ensure(
                path && ends && guide.facing.is_finite(),
                "a march along no path",
            )
        }
    }
}

fn check_flock(known: &WorldFlock) -> Check {
    let mut carriers: Vec<(_, UnitId)> = known.carried.clone();
    carriers.dedup_by_key(|(zone, _)| *zone);
    let once = carriers.len() == known.carried.len();
    ensure(
        once && known.flock.is_sound(),
        "a flock that is out of range",
    )
}
