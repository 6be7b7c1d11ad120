//! A queue of requests for routes, served on two threads, against one thread; and what two threads that share nothing gain on this
//! machine: two planners, each with half of the requests on a thread of its own, against one after the other.
//!
//! `cargo bench --bench queue`

#[path = "grids/mod.rs"]
mod grids;
#[path = "measure/mod.rs"]
mod measure;

use std::hint::black_box;
use yarrick::ground::ClearanceMap;
use yarrick::rng::Stream;
use yarrick::route::{Ask, Goal, Planner, RouteRequest};
use yarrick::{Ground, Threads, Vec2};

const SIDE: u32 = 512;
const REQUESTS: u64 = 2000;
const BUDGET: u32 = 100_000;
const ROUNDS: usize = 5;

fn main() {
    measure::head(
        &format!("{REQUESTS} requests in line, {SIDE} x {SIDE}"),
        "two threads",
        "one, by the clock",
    );
    for (name, ground) in grids::maps(SIDE) {
        let clearance = ClearanceMap::new(&ground, 0.4);
        let ways = ways(&ground, &clearance);
        let pool = Threads::new(2);
        let map = (&ground, &clearance);
        let (mut ours, mut theirs) = (Vec::new(), Vec::new());
        let (mut apart, mut in_turn) = (Vec::new(), Vec::new());
        let halves: Vec<_> = ways.chunks(ways.len() / 2).collect();
        let alone = |half: &[_]| serve(&Threads::default(), map, half);
        for _ in 0..ROUNDS {
            let on = |threads: &Threads| measure::clock(|| serve(threads, map, &ways));
            // Within the pool, as a game would step its worlds there.
            ours.push(pool.run(|| on(&pool)));
            theirs.push(on(&Threads::default()));
            apart.push(measure::clock(|| {
                std::thread::scope(|scope| {
                    for half in &halves {
                        scope.spawn(|| alone(half));
                    }
                });
            }));
            in_turn.push(measure::clock(|| {
                halves.iter().for_each(|half| alone(half));
            }));
        }
        measure::report(name, ours, theirs);
        measure::report("  … two planners side by side", apart, in_turn);
    }
}

/// Serves all requests, at the default budget of a world.
fn serve(threads: &Threads, (ground, clearance): (&Ground, &ClearanceMap), ways: &[(Vec2, Vec2)]) {
    let mut planner = Planner::default();
    (0..ways.len() as u64).for_each(|who| planner.request(RouteRequest::new(who)));
    let ask = |who: u64| {
        let (from, to) = ways[who as usize];
        Some(Ask {
            body: 0,
            clearance,
            radius: 0.4,
            from,
            goal: Goal::Point(to),
        })
    };
    while planner.waiting() > 0 {
        planner.begin_round(BUDGET);
        while let Some(served) = planner.next_on(threads, ground, ask) {
            let _ = black_box(served);
        }
    }
}

/// From anywhere to anywhere.
fn ways(ground: &Ground, clearance: &ClearanceMap) -> Vec<(Vec2, Vec2)> {
    let mut stream = Stream::new(9, "ways");
    let mut point = || {
        let at = Vec2::new(stream.below(SIDE) as f32, stream.below(SIDE) as f32);
        let cell = clearance.nearest(at, |_| true);
        cell.map_or(at, |cell| ground.centre(cell))
    };
    (0..REQUESTS).map(|_| (point(), point())).collect()
}
