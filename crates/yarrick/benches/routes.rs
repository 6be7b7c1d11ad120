//! One long route on maps of 512 by 512 and 1024 by 1024 cells, against a general-purpose graph library's A* on
//! a prebuilt graph with the same costs and the same estimate.
//!
//! `cargo bench --bench routes`

#[path = "grids/mod.rs"]
mod grids;
#[path = "measure/mod.rs"]
mod measure;

use petgraph::algo::astar;
use std::hint::black_box;
use yarrick::Ground;
use yarrick::ground::{Cell, ClearanceMap};
use yarrick::rng::Stream;
use yarrick::route::{DIAGONAL, FarSearch, Router, STRAIGHT, Search};

const PAIRS: usize = 40;

fn main() {
    for side in [512, 1024] {
        measure::head(
            &format!("one long route, {side} x {side}"),
            "optimal search",
            "graph library's A*",
        );
        for (name, ground) in grids::maps(side) {
            compare(name, &ground);
        }
        println!();
    }
}

fn compare(name: &str, ground: &Ground) {
    let side = ground.width() as i32;
    let clearance = ClearanceMap::new(ground, 0.4);
    let (graph, nodes) = grids::graph_of(&clearance, side, (STRAIGHT * 32, DIAGONAL * 32));
    let pairs = pairs(&clearance, side);
    let mut search = Search::default();
    let node = |cell: Cell| nodes[(cell.y * side + cell.x) as usize].unwrap();
    let theirs = |pair: (Cell, Cell)| {
        let (from, to) = pair;
        let found = astar(
            &graph,
            node(from),
            |at| at == node(to),
            |edge| *edge.weight(),
            |at| estimate(graph[at], to),
        );
        found.map(|(cost, _)| cost)
    };
    for pair in &pairs {
        let ours = search
            .find(&clearance, pair.0, pair.1)
            .map(|found| found.cost);
        assert_eq!(ours, theirs(*pair), "both must find the same cost");
    }
    measure::line(
        name,
        pairs.len(),
        |k| {
            black_box(search.find(&clearance, pairs[k].0, pairs[k].1));
        },
        |k| {
            black_box(theirs(pairs[k]));
        },
    );
    let mut far = FarSearch::default();
    let is_far = |pair: &&(Cell, Cell)| far.find(&clearance, pair.0, pair.1).is_some();
    let long: Vec<(Cell, Cell)> = pairs.iter().filter(is_far).copied().collect();
    if !long.is_empty() {
        measure::line(
            "  … by the chart",
            long.len(),
            |k| {
                black_box(far.find(&clearance, long[k].0, long[k].1));
            },
            |k| {
                black_box(theirs(long[k]));
            },
        );
    }
    let mut router = Router::default();
    measure::line(
        "  … as a route, pulled straight",
        pairs.len(),
        |k| {
            let (from, to) = (ground.centre(pairs[k].0), ground.centre(pairs[k].1));
            let _ = black_box(router.find(ground, &clearance, 0.4, from, to));
        },
        |k| {
            black_box(theirs(pairs[k]));
        },
    );
}

fn estimate(a: Cell, b: Cell) -> u64 {
    let (dx, dy) = (u64::from(a.x.abs_diff(b.x)), u64::from(a.y.abs_diff(b.y)));
    (STRAIGHT * (dx.max(dy) - dx.min(dy)) + DIAGONAL * dx.min(dy)) * 32
}

/// Pairs of connected cells that lie more than half the map apart.
fn pairs(clearance: &ClearanceMap, side: i32) -> Vec<(Cell, Cell)> {
    let side = side as u32;
    let mut stream = Stream::new(5, "pairs");
    let mut cell = || Cell::new(stream.below(side) as i32, stream.below(side) as i32);
    let mut pairs = Vec::new();
    while pairs.len() < PAIRS {
        let (a, b) = (cell(), cell());
        if a.x.abs_diff(b.x) + a.y.abs_diff(b.y) > side / 2 && clearance.connected(a, b) {
            pairs.push((a, b));
        }
    }
    pairs
}
