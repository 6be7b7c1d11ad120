//! A whole tick of 10,000 that move, give way, think and fight, against the sum of its bare kernels: the same work on
//! bare lists, by the modules that a tick uses, without orders, activities, events, or anything to explain it by.
//!
//! `cargo bench --bench kernels`

#[path = "measure/mod.rs"]
mod measure;

#[path = "hosts/mod.rs"]
mod hosts;

use hosts::{COUNT, RADIUS, SPEED, WEAPON};
use std::hint::black_box;
use xxhash_rust::xxh3::Xxh3Default;
use yarrick::combat::foremost_target;
use yarrick::geom::angle;
use yarrick::motion::{
    Bodies, Contacts, Crowd, Turns, Walkers, follow, foresee, step_between, way_left,
};
use yarrick::near::Near;
use yarrick::{Action, Ground, UnitId, Vec2, World};

fn main() {
    measure::head("a tick of 10,000", "all of it", "its bare kernels");
    stage("two hosts on the march", 100);
    stage("the first ranks have met", 160);
    stage("in the thick of it", 240);
}

/// Measures the ticks that come after so many.
fn stage(name: &str, ticks: usize) {
    let mut world = hosts::hosts(|to| Action::AttackMove { to });
    for _ in 0..ticks {
        world.step();
    }
    check(&world);
    let (mut ours, mut bare) = (Vec::new(), Vec::new());
    let mut kernels = Kernels::of(&world);
    for _ in 0..40 {
        kernels.take(&world);
        bare.push(measure::time(|| kernels.tick()));
        ours.push(measure::time(|| {
            black_box(world.step());
        }));
    }
    measure::report(name, ours, bare);
}

/// Most get to the same places: whoever turns on a foe in this tick, or is done with one, knows more than the kernels.
fn check(world: &World) {
    let mut world = world.clone();
    let mut kernels = Kernels::of(&world);
    kernels.tick();
    world.step();
    let units = world.units().zip(&kernels.settled);
    let same = units.filter(|(unit, at)| unit.position().distance(**at) < 1e-3);
    let same = same.count();
    assert!(same > COUNT * 6 / 10, "only {same} come to the same places");
}

/// What the kernels work on: the world as it is, in bare lists.
struct Kernels {
    ground: Ground,
    tick_s: f32,
    notice_m: f32,
    tick: usize,
    near: Near,
    at: Vec<Vec2>,
    velocity: Vec<Vec2>,
    facing: Vec<f32>,
    health: Vec<f32>,
    sides: Vec<u8>,
    radii: Vec<f32>,
    paths: Vec<Vec<Vec2>>,
    strikes: Vec<Option<u32>>,
    // What they work out.
    foes: Vec<Option<u32>>,
    wishes: Vec<Vec2>,
    steps: Vec<Vec2>,
    given: Vec<Vec2>,
    left: Vec<f32>,
    looks: Vec<bool>,
    settled: Vec<Vec2>,
    contacts: Contacts,
    limits: Vec<f32>,
    none: Vec<u64>,
    gather: Vec<bool>,
}

impl Kernels {
    fn of(world: &World) -> Kernels {
        let count = world.units().len();
        let mut kernels = Kernels {
            ground: world.ground().clone(),
            tick_s: world.tick_s(),
            notice_m: world
                .units()
                .next()
                .map_or(0.0, |unit| unit.kind().notice_m()),
            tick: 0,
            near: Near::default(),
            at: Vec::new(),
            velocity: Vec::new(),
            facing: Vec::new(),
            health: Vec::new(),
            sides: Vec::new(),
            radii: vec![RADIUS; count],
            paths: Vec::new(),
            strikes: Vec::new(),
            foes: vec![None; count],
            wishes: vec![Vec2::ZERO; count],
            steps: vec![Vec2::ZERO; count],
            given: vec![Vec2::ZERO; count],
            left: vec![f32::INFINITY; count],
            looks: vec![true; count],
            settled: vec![Vec2::ZERO; count],
            contacts: Contacts::default(),
            limits: vec![SPEED * world.tick_s(); count],
            none: vec![0; count],
            gather: vec![false; count],
        };
        kernels.take(world);
        kernels
    }

    /// Takes over how things are.
    fn take(&mut self, world: &World) {
        let rows = world.units().enumerate();
        let row_of: std::collections::BTreeMap<_, _> =
            rows.map(|(row, unit)| (unit.id(), row as u32)).collect();
        self.at = world.units().map(|unit| unit.position()).collect();
        self.velocity = world.units().map(|unit| unit.velocity()).collect();
        self.facing = world.units().map(|unit| unit.facing()).collect();
        self.health = world.units().map(|unit| unit.health()).collect();
        self.sides = world.units().map(|unit| unit.side_id().0).collect();
        self.paths = world
            .units()
            .map(|unit| unit.way_ahead().to_vec())
            .collect();
        let foes = world.units().map(|unit| unit.foe());
        let row = |foe: Option<UnitId>| row_of.get(&foe?).copied();
        self.strikes = foes.map(row).collect();
        // Of those that stand only these look round that were touched lately, which the world does not tell.
        let moves =
            |(path, velocity): (&Vec<Vec2>, &Vec2)| !path.is_empty() || *velocity != Vec2::ZERO;
        self.looks = self.paths.iter().zip(&self.velocity).map(moves).collect();
        // Nobody pushes those that stand and strike.
        let stands = |(path, foe): (&Vec<Vec2>, &Option<u32>)| path.is_empty() && foe.is_some();
        let limit = |stands: bool| if stands { 0.0 } else { SPEED * self.tick_s };
        let all = self.paths.iter().zip(&self.strikes);
        self.limits = all.map(stands).map(limit).collect();
        self.index();
    }

    fn tick(&mut self) {
        self.think();
        self.want();
        self.look_ahead();
        self.push();
        self.settle();
        self.turn_and_move();
        self.strike();
        self.index();
        black_box(self.checksum());
    }

    /// A quarter of all choose whom to turn on.
    fn think(&mut self) {
        self.tick += 1;
        for row in (self.tick % 4..self.at.len()).step_by(4) {
            let (at, side) = (self.at[row], self.sides[row]);
            let worth = |other: u32| {
                let them = other as usize;
                let gap = at.distance(self.at[them]) - 2.0 * RADIUS;
                let is_foe = self.sides[them] != side && gap <= self.notice_m;
                is_foe.then_some((u8::from(gap > WEAPON.range_m), gap, other))
            };
            let reach = self.notice_m + 2.0 * RADIUS;
            self.foes[row] = foremost_target(&self.near, at, reach, worth);
        }
    }

    fn want(&mut self) {
        for (row, path) in self.paths.iter().enumerate() {
            let at = self.at[row];
            // Who goes for a foe stops where it can strike.
            let room =
                self.strikes[row].map_or(f32::INFINITY, |foe| self.gap(row, foe) - WEAPON.range_m);
            let to = follow(at, path, &mut 0, (SPEED * self.tick_s).min(room.max(0.0)));
            self.steps[row] = if path.is_empty() { Vec2::ZERO } else { to - at };
            self.left[row] = if path.is_empty() {
                f32::INFINITY
            } else {
                way_left(at, path, 0)
            };
            self.wishes[row] = self.steps[row] / self.tick_s;
        }
    }

    fn look_ahead(&mut self) {
        let walkers = Walkers {
            at: &self.at,
            velocity: &self.velocity,
            wanted: &self.wishes,
            limits: &self.limits,
            radii: &self.radii,
            widest: RADIUS,
            fastest: SPEED,
            turns: Turns {
                remaining_m: &self.left,
                groups: &self.none,
            },
            gather: &self.gather,
            leg_m: &self.left,
            held_up: &self.gather,
            backs: &[],
            waiting: &[],
            sides: &self.sides,
            tick_s: self.tick_s,
            of_many_sizes: &[],
            bound: &self.wishes,
        };
        for row in 0..self.at.len() {
            if self.wishes[row] != Vec2::ZERO {
                let course = foresee(&walkers, &self.near, row as u32, SPEED);
                self.steps[row] = course.velocity * self.tick_s;
            }
        }
    }

    fn push(&mut self) {
        self.contacts.clear(self.at.len());
        let sides = &self.sides;
        let bodies = Bodies {
            at: &self.at,
            steps: &self.steps,
            radii: &self.radii,
            widest: RADIUS,
            limits: &self.limits,
            farthest: SPEED * self.tick_s,
            turns: Turns {
                remaining_m: &self.left,
                groups: &self.none,
            },
            sides,
            oncoming: &self.gather,
        };
        for row in 0..self.at.len() {
            if self.looks[row] {
                self.contacts
                    .find(&bodies, &self.near, row as u32, &self.looks);
                self.contacts
                    .find_walls(&bodies, self.ground.on_foot(), row as u32);
            }
        }
        self.given.clone_from(&self.steps);
        self.contacts.solve(&mut self.given, |_, _| {});
        for (given, limit) in self.given.iter_mut().zip(&self.limits) {
            *given = given.clamp_length_max(*limit);
        }
    }

    fn settle(&mut self) {
        self.settled.clone_from(&self.at);
        let mut order = Vec::new();
        for row in 0..self.at.len() {
            if self.given[row] != Vec2::ZERO && self.contacts.meets_any(row as u32) {
                order.push(row as u32);
            } else {
                self.settled[row] += self.given[row];
            }
        }
        order.sort_unstable_by(|a, b| {
            let left = |row: u32| self.left[row as usize];
            left(*a).total_cmp(&left(*b)).then(a.cmp(b))
        });
        for _ in 0..3 {
            for &row in &order {
                let me = row as usize;
                let wanted = self.at[me] + self.given[me];
                if self.settled[me] != wanted {
                    let crowd = Crowd {
                        at: &self.settled,
                        radii: &self.radii,
                        widest: RADIUS,
                        drift: 2.0 * SPEED * self.tick_s,
                    };
                    let view = self.ground.on_foot();
                    self.settled[me] = step_between(&crowd, &self.near, view, row, wanted);
                }
            }
            order.reverse();
        }
    }

    fn turn_and_move(&mut self) {
        for row in 0..self.at.len() {
            let step = self.settled[row] - self.at[row];
            if let Some(heading) = angle::of(step) {
                self.facing[row] = angle::turn_towards(self.facing[row], heading, 0.3);
            }
            self.velocity[row] = step / self.tick_s;
            self.at[row] = self.settled[row];
        }
    }

    fn strike(&mut self) {
        for row in 0..self.at.len() {
            let Some(foe) = self.strikes[row] else {
                continue;
            };
            if self.gap(row, foe) <= WEAPON.range_m && (row + self.tick).is_multiple_of(20) {
                self.health[foe as usize] -= WEAPON.damage;
            }
        }
    }

    fn gap(&self, row: usize, foe: u32) -> f32 {
        self.at[row].distance(self.at[foe as usize]) - 2.0 * RADIUS
    }

    fn index(&mut self) {
        self.near
            .rebuild(self.ground.bounds(), 2.0 * RADIUS, &self.at);
    }

    fn checksum(&self) -> u64 {
        let mut hasher = Xxh3Default::new();
        for row in 0..self.at.len() {
            let (at, velocity) = (self.at[row], self.velocity[row]);
            let reals = [
                at.x,
                at.y,
                velocity.x,
                velocity.y,
                self.facing[row],
                self.health[row],
            ];
            hasher.update(&reals.map(f32::to_le_bytes).concat());
        }
        hasher.digest()
    }
}
