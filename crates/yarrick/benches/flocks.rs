//! A step of a flock of 10,000, against what its members see of each other being looked up in a spatial index that is
//! built anew for it; how the cost of a member grows with their number; and two threads against one.
//!
//! `cargo bench --bench flocks`

#[path = "measure/mod.rs"]
mod measure;

use rstar::RTree;
use rstar::primitives::GeomWithData;
use std::hint::black_box;
use yarrick::motion::flock::{Flock, FlockParams};
use yarrick::rng::Stream;
use yarrick::{Threads, Vec2};

const ROUNDS: usize = 40;
const TICKS: usize = 10;
const TICK_S: f32 = 0.05;

fn main() {
    measure::head(
        "a step of 10,000",
        "all of it",
        "neighbours of a spatial index",
    );
    against_index("evenly spread", &evenly(10_000));
    against_index("clumped", &clumped(10_000));
    println!("\ncost of a member, and what a second thread gains (time on the clock)\n");
    println!(
        "{:<34} {:>12} {:>12} {:>8}",
        "", "one thread", "two", "gain"
    );
    for count in [1_000, 10_000, 100_000] {
        cost_of_one(count);
    }
}

/// About a member for each square metre.
fn evenly(count: usize) -> Vec<Vec2> {
    let side = (count as f32).sqrt();
    let mut stream = Stream::new(5, "evenly");
    let mut place = || stream.between(0.0, side);
    (0..count).map(|_| Vec2::new(place(), place())).collect()
}

/// In heaps of five hundred, four of them to the square metre.
fn clumped(count: usize) -> Vec<Vec2> {
    let mut stream = Stream::new(5, "clumped");
    let mut heap = Vec2::ZERO;
    let place = |k: usize| {
        if k.is_multiple_of(500) {
            heap = Vec2::new(stream.between(0.0, 300.0), stream.between(0.0, 300.0));
        }
        let (angle, out) = (stream.between(-3.1, 3.1), stream.unit().sqrt() * 6.3);
        heap + Vec2::new(libm::cosf(angle), libm::sinf(angle)) * out
    };
    (0..count).map(place).collect()
}

fn flock(places: &[Vec2]) -> Flock {
    let mut flock = Flock::new(FlockParams::default()).expect("sound params");
    let mut stream = Stream::new(6, "headings");
    for at in places {
        let heading = stream.between(-3.1, 3.1);
        flock.add(at.extend(0.0), heading, ()).expect("a place");
    }
    flock
}

type Leaf = GeomWithData<[f32; 2], u32>;

/// What each member sees: how many, and the sums that the three rules are made of.
fn by_index(places: &[Vec2], velocities: &[Vec2], params: &FlockParams) -> Vec<(u32, [Vec2; 3])> {
    let leaves = places.iter().enumerate();
    let leaves = leaves
        .map(|(k, at)| Leaf::new(at.to_array(), k as u32))
        .collect();
    let tree = RTree::bulk_load(leaves);
    let edge_of_view = libm::cosf(params.view_angle * 0.5);
    let look = |(k, at): (usize, &Vec2)| {
        let ahead = velocities[k].normalize();
        let mut seen = (0, [Vec2::ZERO; 3]);
        for other in tree.locate_within_distance(at.to_array(), params.view_m * params.view_m) {
            let offset = Vec2::from(*other.geom()) - *at;
            let distance = offset.length();
            if other.data as usize == k || offset.dot(ahead) < edge_of_view * distance {
                continue;
            }
            seen.0 += 1;
            seen.1[0] += velocities[other.data as usize];
            seen.1[1] += offset;
            let near = params.spacing_m / distance.max(1e-4);
            seen.1[2] -= offset * ((near * near - 1.0).max(0.0) * 0.5 / params.spacing_m);
        }
        seen
    };
    places.iter().enumerate().map(look).collect()
}

fn against_index(name: &str, places: &[Vec2]) {
    let flock = flock(places);
    let params = *flock.params();
    let velocities: Vec<Vec2> = flock
        .members()
        .map(|member| member.velocity.truncate())
        .collect();
    check(&flock, &by_index(places, &velocities, &params), &velocities);
    let (mut ours, mut theirs) = (Vec::new(), Vec::new());
    for _ in 0..ROUNDS {
        // From next to the same places each time, with warm workspace.
        let mut stepped = flock.clone();
        stepped.step(TICK_S);
        ours.push(measure::time(|| stepped.step(TICK_S)));
        theirs.push(measure::time(|| {
            black_box(by_index(places, &velocities, &params));
        }));
    }
    measure::report(name, ours, theirs);
}

/// Both see the same, and the rules come to the same.
fn check(flock: &Flock, seen: &[(u32, [Vec2; 3])], velocities: &[Vec2]) {
    let params = flock.params();
    for (k, member) in flock.members().enumerate().step_by(97) {
        assert_eq!(flock.neighbours(member.id).len(), seen[k].0 as usize);
        if seen[k].0 == 0 {
            continue;
        }
        let [velocity, offset, away] = seen[k].1;
        let count = seen[k].0 as f32;
        let change = (velocity / count - velocities[k]) / params.speed.1;
        let expected = away.clamp_length_max(1.0) * params.separation
            + change.clamp_length_max(1.0) * params.alignment
            + (offset / count / params.view_m).clamp_length_max(1.0) * params.cohesion;
        let pulls = flock.pulls(member.id).expect("a member");
        // What keeps those in one place from staying there is a thousandth or two of the pull.
        let gap = pulls.sum().distance(expected.extend(0.0));
        assert!(gap < 4e-3, "{pulls:?} {expected}");
    }
}

/// Times on the clock: the work of a second thread is not in the processor time of the first.
fn cost_of_one(count: usize) {
    let flock = flock(&evenly(count));
    // The same ticks of its life whatever its number, and as many of them in all: what members do is alike.
    let median = |threads: usize| {
        let threads = Threads::new(threads);
        let (mut times, mut bits) = (Vec::new(), 0);
        for _ in 0..(100_000 / count).max(3) {
            let mut flock = flock.clone();
            flock.step_on(&threads, TICK_S);
            times.extend((0..TICKS).map(|_| measure::clock(|| flock.step_on(&threads, TICK_S))));
            bits = flock.checksum();
        }
        times.sort_by(f64::total_cmp);
        (times[times.len() / 2] * 1e9 / count as f64, bits)
    };
    let ((one, bits), (two, same)) = (median(1), median(2));
    assert_eq!(bits, same, "two threads give the same bits");
    println!(
        "{:<34} {one:>9.1} ns {two:>9.1} ns {:>7.2}x",
        format!("{count} members"),
        one / two
    );
}
