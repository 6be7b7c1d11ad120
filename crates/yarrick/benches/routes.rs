//! One long route on maps of 512 by 512 and 1024 by 1024 cells, against a general-purpose graph library's A* on
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

const PAIRS: usize = 40;

fn main() {
    for side in [512, 1024] {
        measure::head(
            &format!("one long route, {side} x {side}"),
            "optimal search",
            "graph library's A*",
        );
        for (name, ground) in [
            ("random clutter, 22 %", clutter(side)),
            ("rooms, 16 x 16", rooms(side)),
            ("maze, corridors 2 wide", maze(side)),
            ("open with few buildings", open(side)),
        ] {
            compare(name, &ground);
        }
        println!();
    }
}

fn compare(name: &str, ground: &Ground) {
    let side = ground.width() as i32;
    let passage = Passage::new(ground, 0.4);
    let (graph, nodes) = graph_of(&passage, side);
    let pairs = pairs(&passage, side);
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

fn graph_of(passage: &Passage, side: i32) -> (UnGraph<Cell, u64>, Vec<Option<NodeIndex>>) {
    let mut graph = UnGraph::default();
    let cells = (0..side * side).map(|k| Cell::new(k % side, k / side));
    let nodes: Vec<Option<NodeIndex>> = cells
        .clone()
        .map(|cell| passage.is_open(cell).then(|| graph.add_node(cell)))
        .collect();
    let node = |cell: Cell| {
        passage
            .is_open(cell)
            .then(|| nodes[(cell.y * side + cell.x) as usize])
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
fn pairs(passage: &Passage, side: i32) -> Vec<(Cell, Cell)> {
    let side = side as u32;
    let mut stream = Stream::new(5, "pairs");
    let mut cell = || Cell::new(stream.below(side) as i32, stream.below(side) as i32);
    let mut pairs = Vec::new();
    while pairs.len() < PAIRS {
        let (a, b) = (cell(), cell());
        if a.x.abs_diff(b.x) + a.y.abs_diff(b.y) > side / 2 && passage.connected(a, b) {
            pairs.push((a, b));
        }
    }
    pairs
}

fn ground(side: i32, closed: impl FnMut((i32, i32)) -> bool) -> Ground {
    let cells = (0..side * side).map(|k| (k % side, k / side));
    let classes = cells.map(closed).map(u8::from).collect();
    let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
    Ground::new(side as u32, side as u32, 1.0, terrains, classes).unwrap()
}

fn clutter(side: i32) -> Ground {
    let mut stream = Stream::new(1, "clutter");
    ground(side, |_| stream.below(100) < 22)
}

/// Rooms of 15 by 15 cells with a door in each wall.
fn rooms(side: i32) -> Ground {
    let mut stream = Stream::new(2, "doors");
    let doors: Vec<i32> = (0..64 * 64).map(|_| stream.below(14) as i32 + 1).collect();
    let door = |x: i32, y: i32, wall: i32| {
        let room = (x / 16 * 64 + y / 16) * 2 + wall;
        doors[room as usize % doors.len()]
    };
    ground(side, |(x, y)| {
        let (in_x, in_y) = (x % 16, y % 16);
        (in_x == 0 && in_y != door(x, y, 0)) || (in_y == 0 && in_x != door(x, y, 1))
    })
}

/// A maze whose corridors are two cells wide and its walls one: a random spanning tree, by
/// walking on until stuck and going back.
fn maze(side: i32) -> Ground {
    let rooms = (side - 1) / 3;
    let mut stream = Stream::new(4, "maze");
    let mut seen = vec![false; (rooms * rooms) as usize];
    let mut open = vec![false; (side * side) as usize];
    let mut dig = |x: i32, y: i32| open[(y * side + x) as usize] = true;
    let mut stack = vec![(0, 0)];
    seen[0] = true;
    while let Some(&(x, y)) = stack.last() {
        for (dx, dy) in [(0, 0), (1, 0), (0, 1), (1, 1)] {
            dig(x * 3 + 1 + dx, y * 3 + 1 + dy);
        }
        let beside = [(1, 0), (0, 1), (-1, 0), (0, -1)].map(|(dx, dy)| (x + dx, y + dy));
        let inside = |at: i32| (0..rooms).contains(&at);
        let new = beside
            .into_iter()
            .filter(|(x, y)| inside(*x) && inside(*y) && !seen[(y * rooms + x) as usize]);
        let new: Vec<(i32, i32)> = new.collect();
        if new.is_empty() {
            stack.pop();
            continue;
        }
        let (nx, ny) = new[stream.below(new.len() as u32) as usize];
        // The wall between the two.
        let wall = if nx == x {
            (x * 3 + 1, y.max(ny) * 3)
        } else {
            (x.max(nx) * 3, y * 3 + 1)
        };
        let along = if nx == x { (1, 0) } else { (0, 1) };
        dig(wall.0, wall.1);
        dig(wall.0 + along.0, wall.1 + along.1);
        seen[(ny * rooms + nx) as usize] = true;
        stack.push((nx, ny));
    }
    ground(side, |(x, y)| !open[(y * side + x) as usize])
}

fn open(side: i32) -> Ground {
    let mut stream = Stream::new(3, "buildings");
    let most = side as f32 - 12.0;
    let buildings: Vec<Vec2> = (0..side * side / 4400)
        .map(|_| Vec2::new(stream.between(0.0, most), stream.between(0.0, most)))
        .collect();
    ground(side, |(x, y)| {
        buildings.iter().any(|at| {
            let (dx, dy) = (x as f32 - at.x, y as f32 - at.y);
            (0.0..8.0).contains(&dx) && (0.0..6.0).contains(&dy)
        })
    })
}
