//! The target of each of 1,000 towers among 10,000 creatures, by the index, against looking at all pairs; projectiles among
//! them, likewise; and a tick in which as many fight, against one in which they only walk.
//!
//! `cargo bench --bench targets`

#[path = "measure/mod.rs"]
mod measure;

#[path = "hosts/mod.rs"]
mod hosts;

use std::cell::RefCell;
use std::hint::black_box;
use yarrick::combat::{Flight, Flown, Projectile, foremost_target};
use yarrick::geom::first_touch_of_disc;
use yarrick::near::Near;
use yarrick::rng::Stream;
use yarrick::{Action, Rect, Vec2};

const TOWERS: usize = 1_000;
const CREATURES: usize = 10_000;
const SIDE_M: f32 = 400.0;

fn main() {
    measure::head("targets of 1,000 among 10,000", "by the index", "all pairs");
    for range in [6.0, 12.0, 40.0] {
        towers(range);
    }
    println!();
    measure::head(
        "a tick of projectiles among 10,000",
        "by the index",
        "all pairs",
    );
    for count in [1_000, 5_000] {
        projectiles(count);
    }
    println!();
    measure::head("a tick of 10,000", "attack-move, two sides", "plain move");
    fight();
}

fn scattered(name: &str, count: usize) -> Vec<Vec2> {
    let mut stream = Stream::new(9, name);
    let mut place = || stream.between(1.0, SIDE_M - 1.0);
    (0..count).map(|_| Vec2::new(place(), place())).collect()
}

fn towers(range: f32) {
    let towers = scattered("towers", TOWERS);
    let creatures = scattered("creatures", CREATURES);
    let bounds = Rect::from_corners(Vec2::ZERO, Vec2::splat(SIDE_M));
    let worth = |at: Vec2, number: u32| {
        let gap = creatures[number as usize].distance(at);
        (gap <= range).then_some((0, gap, number))
    };
    // The index is built anew, as it is in each tick.
    let near = RefCell::new(Near::default());
    let by_index = || -> Vec<Option<u32>> {
        let mut near = near.borrow_mut();
        near.rebuild(bounds, range.max(2.0), &creatures);
        let target = |&at: &Vec2| foremost_target(&near, at, range, |number| worth(at, number));
        towers.iter().map(target).collect()
    };
    let by_pairs = || -> Vec<Option<u32>> {
        let target = |&at: &Vec2| {
            let all = (0..CREATURES as u32).filter_map(|number| worth(at, number));
            let first = all.min_by(|a, b| a.1.total_cmp(&b.1).then(a.2.cmp(&b.2)));
            first.map(|(_, _, number)| number)
        };
        towers.iter().map(target).collect()
    };
    assert_eq!(by_index(), by_pairs());
    measure::line(
        &format!("range {range} m"),
        30,
        |_| drop(black_box(by_index())),
        |_| drop(black_box(by_pairs())),
    );
}

/// Projectiles fly for a tick, each up to the first body in its path. The index is that of the tick, which bodies share.
fn projectiles(count: usize) {
    const RADIUS_M: f32 = 0.4;
    let bodies = scattered("creatures", CREATURES);
    let bounds = Rect::from_corners(Vec2::ZERO, Vec2::splat(SIDE_M));
    let flight = Flight {
        speed: 25.0,
        reach_m: 12.0,
    };
    let (from, to) = (scattered("from", count), scattered("to", count));
    let ends = from.iter().zip(&to);
    let shots: Vec<Projectile> = ends
        .map(|(from, to)| Projectile::towards(*from, *to, flight).unwrap())
        .collect();
    let mut near = Near::default();
    near.rebuild(bounds, 2.0, &bodies);
    let touch = |number: u32, from: Vec2, step: Vec2| {
        let part = first_touch_of_disc(from, step, bodies[number as usize], RADIUS_M)?;
        Some((part, number))
    };
    let by_index = || -> Vec<Flown> {
        let flown = |shot: &Projectile| shot.clone().fly(0.05, bounds, &near, RADIUS_M, touch);
        shots.iter().map(flown).collect()
    };
    let by_pairs = || -> Vec<Option<u32>> {
        let hit = |shot: &Projectile| {
            let step = shot.velocity * 0.05;
            let all = 0..CREATURES as u32;
            let touched = all.filter_map(|number| touch(number, shot.position, step));
            let first = touched.min_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
            first.map(|(_, number)| number)
        };
        shots.iter().map(hit).collect()
    };
    let hits = by_index().into_iter().map(|flown| match flown {
        Flown::Hit { number, .. } => Some(number),
        Flown::On | Flown::Spent { .. } | Flown::OffTheMap => None,
    });
    assert_eq!(hits.collect::<Vec<_>>(), by_pairs());
    measure::line(
        &format!("{count} in flight"),
        30,
        |_| drop(black_box(by_index())),
        |_| drop(black_box(by_pairs())),
    );
}

/// Two hosts of 5,000 in loose order walk through each other; those of one world fight.
fn fight() {
    let mut fighting = hosts::hosts(|to| Action::AttackMove { to });
    let mut walking = hosts::hosts(Action::move_to);
    // Up to where they meet, and the fight is under way.
    for _ in 0..160 {
        fighting.step();
        walking.step();
    }
    let at_war = fighting.units().filter(|unit| unit.foe().is_some()).count();
    assert!(at_war > 1000, "{at_war} fight");
    measure::line(
        &format!("{at_war} of them in a fight"),
        60,
        |_| {
            black_box(fighting.step());
        },
        |_| {
            black_box(walking.step());
        },
    );
}
