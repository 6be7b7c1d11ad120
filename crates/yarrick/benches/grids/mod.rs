//! Maps of each pattern, and the same as general-purpose graphs.

use petgraph::graph::{NodeIndex, UnGraph};
use yarrick::Ground;
use yarrick::ground::{Cell, ClearanceMap};
use yarrick::scenario::Pattern;

/// One map of each pattern, with its name.
pub(crate) fn maps(side: u32) -> [(&'static str, Ground); 4] {
    [
        ("random clutter, 22 %", Pattern::Random.ground(side, 1)),
        ("rooms, 16 x 16", Pattern::Rooms.ground(side, 2)),
        ("maze, corridors 2 wide", Pattern::Maze.ground(side, 4)),
        ("open with few buildings", Pattern::Open.ground(side, 3)),
    ]
}

/// The cells that a body fits into, and the steps between them at the prices given for straight and for
/// diagonal ones; for each cell of the map its node.
#[allow(dead_code, reason = "not every benchmark compares with a graph")]
pub(crate) fn graph_of(
    clearance: &ClearanceMap,
    side: i32,
    (straight, diagonal): (u64, u64),
) -> (UnGraph<Cell, u64>, Vec<Option<NodeIndex>>) {
    let mut graph = UnGraph::default();
    let cells = (0..side * side).map(|k| Cell::new(k % side, k / side));
    let nodes: Vec<Option<NodeIndex>> = cells
        .clone()
        .map(|cell| clearance.is_open(cell).then(|| graph.add_node(cell)))
        .collect();
    let node = |cell: Cell| {
        clearance
            .is_open(cell)
            .then(|| nodes[(cell.y * side + cell.x) as usize])
            .flatten()
    };
    for cell in cells {
        for (dx, dy) in [(1, 0), (0, 1), (1, 1), (-1, 1)] {
            let next = Cell::new(cell.x + dx, cell.y + dy);
            let beside = [Cell::new(next.x, cell.y), Cell::new(cell.x, next.y)];
            if let (Some(a), Some(b)) = (node(cell), node(next))
                && beside.into_iter().all(|cell| clearance.is_open(cell))
            {
                let price = if dx != 0 && dy != 0 {
                    diagonal
                } else {
                    straight
                };
                graph.add_edge(a, b, price);
            }
        }
    }
    (graph, nodes)
}
