//! A queue of requests for routes, served on two threads, against one thread; and what two threads that share nothing gain on this
//! machine: two planners, each with half of the requests on a thread of its own, against one after the other.
//!
//! Times are those of rounds, each a tick's worth. The two that are compared take turns round by round, so that both meet the same
//! machine however busy it is: over some milliseconds its speed varies little.
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
const RUNS: usize = 5;

fn main() {
    measure::head(
        &format!("{REQUESTS} requests in line, {SIDE} x {SIDE}, a round"),
        "two threads",
        "one, by the clock",
    );
    let (pool, one) = (Threads::new(2), Threads::default());
    for (name, ground) in grids::maps(SIDE) {
        let clearance = ClearanceMap::new(&ground, 0.4);
        let queue = Queue {
            ground: &ground,
            clearance: &clearance,
            ways: ways(&ground, &clearance),
        };
        // Within the pool, as a game would step its worlds there.
        let (shared, apart) = pool.run(|| {
            let shared = both(
                || queue.planners(1),
                |planners| queue.round(&pool, &mut planners[0]),
                |planners| queue.round(&one, &mut planners[0]),
            );
            let apart = both(
                || queue.planners(2),
                |planners| {
                    let (first, second) = planners.split_at_mut(1);
                    rayon::join(
                        || queue.round(&one, &mut first[0]),
                        || queue.round(&one, &mut second[0]),
                    );
                },
                |planners| {
                    planners
                        .iter_mut()
                        .for_each(|planner| queue.round(&one, planner));
                },
            );
            (shared, apart)
        });
        report(name, shared);
        report("  … two planners side by side", apart);
    }
}

/// The times of rounds on two threads and on one.
type Rounds = (Vec<f64>, Vec<f64>);

/// Serves the same queue in two ways, round by round in turns.
fn both(
    planners: impl Fn() -> Vec<Planner>,
    on_two: impl Fn(&mut [Planner]),
    on_one: impl Fn(&mut [Planner]),
) -> Rounds {
    let (mut ours, mut theirs) = (Vec::new(), Vec::new());
    for _ in 0..RUNS {
        let (mut two, mut one) = (planners(), planners());
        let waits = |planners: &[Planner]| planners.iter().any(|planner| planner.waiting() > 0);
        while waits(&two) || waits(&one) {
            ours.push(measure::clock(|| on_two(&mut two)));
            theirs.push(measure::clock(|| on_one(&mut one)));
        }
    }
    (ours, theirs)
}

fn report(name: &str, (ours, theirs): Rounds) {
    let [two_s, one_s] = [&ours, &theirs].map(|times| times.iter().sum::<f64>());
    measure::report(name, ours, theirs);
    println!(
        "  all rounds: {:.1} ms on two threads, {:.1} ms on one, {:.2} times as fast",
        two_s * 1e3 / RUNS as f64,
        one_s * 1e3 / RUNS as f64,
        one_s / two_s
    );
}

struct Queue<'a> {
    ground: &'a Ground,
    clearance: &'a ClearanceMap,
    ways: Vec<(Vec2, Vec2)>,
}

impl Queue<'_> {
    /// Planners that share the requests.
    fn planners(&self, count: u64) -> Vec<Planner> {
        let mut planners = Vec::new();
        for k in 0..count {
            let mut planner = Planner::default();
            let whose = (0..REQUESTS).filter(|who| who % count == k);
            whose.for_each(|who| planner.request(RouteRequest::new(who)));
            planners.push(planner);
        }
        planners
    }

    /// Serves as many requests as the default budget of a world suffices for.
    fn round(&self, threads: &Threads, planner: &mut Planner) {
        let ask = |who: u64| {
            let (from, to) = self.ways[who as usize];
            Some(Ask {
                body: 0,
                clearance: self.clearance,
                radius: 0.4,
                from,
                goal: Goal::Point(to),
            })
        };
        planner.begin_round(BUDGET);
        while let Some(served) = planner.next_on(threads, self.ground, ask) {
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
