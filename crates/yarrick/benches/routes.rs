//! One long route on a map of 512 by 512 cells, against a general-purpose graph library's A* on
//! a prebuilt graph with the same costs and the same estimate.
//!
//! `cargo bench --bench routes`

#[path = "measure/mod.rs"]
mod measure;

use petgraph::algo::astar;
use petgraph::graph::{NodeIndex, UnGraph};
use std::hint::black_box;
use yarrick::ground::{Cell, Passage};
use yarrick::rng::Stream;
use yarrick::route::{DIAGONAL, Router, STRAIGHT, Search};
use yarrick::{Ground, Terrain, Vec2};

const SIDE: i32 = 512;
const PAIRS: usize = 40;

fn main() {
    measure::head(
        "one long route, 512 x 512",
        "optimal search",
        "graph library's A*",
    );
    for (name, ground) in [
        ("random clutter, 22 %", clutter()),
        ("rooms, 16 x 16", rooms()),
        ("open with few buildings", open()),
    ] {
        compare(name, &ground);
    }
}

fn compare(name: &str, ground: &Ground) {
    let passage = Passage::new(ground, 0.4);
    let (graph, nodes) = graph_of(&passage);
    let pairs = pairs(&passage);
    let mut search = Search::default();
    let node = |cell: Cell| nodes[(cell.y * SIDE + cell.x) as usize].unwrap();
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
            .find(&passage, pair.0, pair.1)
            .map(|found| found.cost);
        assert_eq!(ours, theirs(*pair), "both must find the same cost");
    }
    measure::line(
        name,
        pairs.len(),
        |k| {
            black_box(search.find(&passage, pairs[k].0, pairs[k].1));
        },
        |k| {
            black_box(theirs(pairs[k]));
        },
    );
    let mut router = Router::default();
    measure::line(
        "  … as a route, pulled straight",
        pairs.len(),
        |k| {
            let (from, to) = (ground.centre(pairs[k].0), ground.centre(pairs[k].1));
            let _ = black_box(router.find(ground, &passage, 0.4, from, to));
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

fn graph_of(passage: &Passage) -> (UnGraph<Cell, u64>, Vec<Option<NodeIndex>>) {
    let mut graph = UnGraph::default();
    let cells = (0..SIDE * SIDE).map(|k| Cell::new(k % SIDE, k / SIDE));
    let nodes: Vec<Option<NodeIndex>> = cells
        .clone()
        .map(|cell| passage.is_open(cell).then(|| graph.add_node(cell)))
        .collect();
    let node = |cell: Cell| {
        passage
            .is_open(cell)
            .then(|| nodes[(cell.y * SIDE + cell.x) as usize])
            .flatten()
    };
    for cell in cells {
        for (dx, dy) in [(1, 0), (0, 1), (1, 1), (-1, 1)] {
            let next = Cell::new(cell.x + dx, cell.y + dy);
            let beside = [Cell::new(next.x, cell.y), Cell::new(cell.x, next.y)];
            if let (Some(a), Some(b)) = (node(cell), node(next))
                && beside.into_iter().all(|cell| passage.is_open(cell))
            {
                let per_weight = if dx != 0 && dy != 0 {
                    DIAGONAL
                } else {
                    STRAIGHT
                };
                graph.add_edge(a, b, per_weight * 32);
            }
        }
    }
    (graph, nodes)
}

/// Pairs of connected cells that lie more than half the map apart.
fn pairs(passage: &Passage) -> Vec<(Cell, Cell)> {
    let mut stream = Stream::new(5, "pairs");
    let mut cell = || {
        Cell::new(
            stream.below(SIDE as u32) as i32,
            stream.below(SIDE as u32) as i32,
        )
    };
    let mut pairs = Vec::new();
    while pairs.len() < PAIRS {
        let (a, b) = (cell(), cell());
        if a.x.abs_diff(b.x) + a.y.abs_diff(b.y) > SIDE as u32 / 2 && passage.connected(a, b) {
            pairs.push((a, b));
        }
    }
    pairs
}

fn ground(closed: impl FnMut((i32, i32)) -> bool) -> Ground {
    let cells = (0..SIDE * SIDE).map(|k| (k % SIDE, k / SIDE));
    let classes = cells.map(closed).map(u8::from).collect();
    let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
    Ground::new(SIDE as u32, SIDE as u32, 1.0, terrains, classes).unwrap()
}

fn clutter() -> Ground {
    let mut stream = Stream::new(1, "clutter");
    ground(|_| stream.below(100) < 22)
}

/// Rooms of 15 by 15 cells with a door in each wall.
fn rooms() -> Ground {
    let mut stream = Stream::new(2, "doors");
    let doors: Vec<i32> = (0..64 * 64).map(|_| stream.below(14) as i32 + 1).collect();
    let door = |x: i32, y: i32, wall: i32| {
        doors[((x / 16 * 2 + wall) * 64 % 64 * 64 + y / 16 * 2 + wall) as usize % doors.len()]
    };
    ground(|(x, y)| {
        let (in_x, in_y) = (x % 16, y % 16);
        (in_x == 0 && in_y != door(x, y, 0)) || (in_y == 0 && in_x != door(x, y, 1))
    })
}

fn open() -> Ground {
    let mut stream = Stream::new(3, "buildings");
    let buildings: Vec<Vec2> = (0..60)
        .map(|_| Vec2::new(stream.between(0.0, 500.0), stream.between(0.0, 500.0)))
        .collect();
    ground(|(x, y)| {
        buildings.iter().any(|at| {
            let (dx, dy) = (x as f32 - at.x, y as f32 - at.y);
            (0.0..8.0).contains(&dx) && (0.0..6.0).contains(&dy)
        })
    })
}
