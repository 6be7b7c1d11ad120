//! One tick with 1,000 and with 10,000 moving units, against a bare loop that moves as many
//! points along straight lines and does nothing else: the floor.
//!
//! `cargo bench --bench ticks`

#[path = "measure/mod.rs"]
mod measure;

use std::hint::black_box;
use yarrick::{
    Action, Command, Ground, Kind, Side, SideId, Terrain, UnitId, Vec2, When, World, WorldSetup,
};

const KEEPERS: SideId = SideId(0);
const SPEED: f32 = 1.0;

fn main() {
    measure::head("one tick", "all stages", "bare loop over positions");
    for count in [1_000, 10_000] {
        spread(count);
    }
    for count in [1_000, 10_000] {
        crossing(count);
    }
    println!(
        "\ncost of a unit at equal density, and what a second thread gains (time on the clock)\n"
    );
    println!(
        "{:<34} {:>12} {:>12} {:>8}",
        "", "one thread", "two", "gain"
    );
    growth();
}

const ROUNDS: usize = 5;
const TICKS: usize = 41;

/// A tick of units that meet and give way, for each of them, on one thread and on two. The numbers take turns, so that
/// all meet the same weather.
fn growth() {
    let worlds = [1_000, 10_000, 100_000].map(|count| {
        let mut world = world(count);
        // Not far: planning is measured elsewhere.
        send_across(&mut world, count, 20.0);
        for _ in 0..20 {
            world.step();
        }
        (count, world)
    });
    let mut times = worlds.each_ref().map(|_| [Vec::new(), Vec::new()]);
    for _ in 0..ROUNDS {
        for ((_, world), times) in worlds.iter().zip(&mut times) {
            let bits = [0, 1].map(|k| ticks(world, k + 1, &mut times[k]));
            assert_eq!(bits[0], bits[1], "two threads give the same bits");
        }
    }
    for ((count, _), times) in worlds.iter().zip(times) {
        let [one, two] = times.map(|mut times| {
            times.sort_by(f64::total_cmp);
            times[times.len() / 2] * 1e9 / *count as f64
        });
        println!(
            "{:<34} {one:>9.0} ns {two:>9.0} ns {:>7.2}x",
            format!("{count} units, crossing"),
            one / two
        );
    }
}

/// Adds the times of the ticks that follow on some threads. Gives the checksum at the end.
fn ticks(world: &World, threads: usize, times: &mut Vec<f64>) -> u64 {
    let mut world = world.clone();
    world.set_threads(threads);
    let step = |_| {
        measure::clock(|| {
            black_box(world.step());
        })
    };
    times.extend((0..TICKS).map(step));
    world.checksum()
}

fn world(count: usize) -> World {
    let rows = columns(count);
    let (width, height) = (rows * 2 + 300, rows * 2 + 4);
    let classes = vec![0_u8; width * height];
    let terrains = vec![Terrain::open("sand")];
    let ground = Ground::new(width as u32, height as u32, 1.0, terrains, classes).unwrap();
    World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("raker", 0.4, SPEED)],
        plan_budget: u32::MAX,
        ..WorldSetup::on(ground)
    })
    .unwrap()
}

fn columns(count: usize) -> usize {
    (count as f32).sqrt().ceil() as usize
}

/// Puts units two metres apart, in as many rows as columns, with room to all sides that they walk to.
fn fill(world: &mut World, count: usize) -> Vec<UnitId> {
    let columns = columns(count);
    let raker = world.kind("raker").unwrap();
    (0..count)
        .map(|k| Vec2::new((k % columns) as f32, (k / columns) as f32) * 2.0 + Vec2::new(32.0, 2.0))
        .map(|at| world.spawn(raker, KEEPERS, at, 0.0).unwrap())
        .collect()
}

fn send(world: &mut World, unit: UnitId, to: Vec2) {
    let command = Command {
        side: KEEPERS,
        units: vec![unit],
        action: Action::move_to(to),
        when: When::Now,
    };
    world.submit(command).unwrap();
}

/// The floor: every point one step along its line.
struct Bare {
    positions: Vec<Vec2>,
    velocities: Vec<Vec2>,
}

impl Bare {
    fn step(&mut self, tick_s: f32) {
        for (position, velocity) in self.positions.iter_mut().zip(&self.velocities) {
            *position += *velocity * tick_s;
        }
        black_box(&self.positions);
    }
}

/// All walk side by side to the east, two metres from one another.
fn spread(count: usize) {
    let mut world = world(count);
    let units = fill(&mut world, count);
    let starts: Vec<Vec2> = world.units().map(|unit| unit.position()).collect();
    for (unit, start) in units.iter().zip(&starts) {
        send(&mut world, *unit, *start + Vec2::new(250.0, 0.0));
    }
    let mut bare = Bare {
        positions: starts,
        velocities: vec![Vec2::new(SPEED, 0.0); count],
    };
    let tick_s = world.tick_s();
    for _ in 0..20 {
        world.step();
        bare.step(tick_s);
    }
    for (unit, expected) in world.units().zip(&bare.positions) {
        let gap = unit.position().distance(*expected);
        assert!(
            gap < 0.01,
            "both must come to the same place, not {gap} m apart"
        );
    }
    let name = format!("{count} units, side by side");
    measure::line(
        &name,
        300,
        |_| {
            black_box(world.step());
        },
        |_| bare.step(tick_s),
    );
}

/// Puts units in and sends every other column west, the rest east, so many metres at the most. Gives where they begin.
fn send_across(world: &mut World, count: usize, most_m: f32) -> Vec<Vec2> {
    let units = fill(world, count);
    let starts: Vec<Vec2> = world.units().map(|unit| unit.position()).collect();
    let far = world.ground().bounds().max.x - 2.0;
    for (k, (unit, start)) in units.iter().zip(&starts).enumerate() {
        // Those of a column go one way, whatever the number of columns.
        let way = if (k % columns(count)).is_multiple_of(2) {
            most_m
        } else {
            -most_m
        };
        let x = (start.x + way).clamp(2.0, far);
        send(world, *unit, Vec2::new(x, start.y));
        // A tick takes so many commands and no more.
        if k % 50_000 == 49_999 {
            world.step();
        }
    }
    starts
}

/// Every other column walks west: they meet, and give way.
fn crossing(count: usize) {
    let mut world = world(count);
    let starts = send_across(&mut world, count, f32::INFINITY);
    let mut bare = Bare {
        velocities: vec![Vec2::new(SPEED, 0.0); count],
        positions: starts,
    };
    let tick_s = world.tick_s();
    for _ in 0..20 {
        world.step();
    }
    let name = format!("{count} units, crossing");
    measure::line(
        &name,
        300,
        |_| {
            black_box(world.step());
        },
        |_| bare.step(tick_s),
    );
}
