//! Goal fields over whole maps, against a general-purpose graph library's Dijkstra and against touching
//! every edge once; and mending them after a small building, against making all anew.
//!
//! `cargo bench --bench fields`

#[path = "grids/mod.rs"]
mod grids;
#[path = "measure/mod.rs"]
mod measure;

use petgraph::algo::dijkstra;
use std::hint::black_box;
use yarrick::Ground;
use yarrick::ground::{Cell, ClearanceMap, Patch};
use yarrick::rng::Stream;
use yarrick::route::GoalField;

const ROUNDS: usize = 15;

fn main() {
    for side in [512, 1024] {
        let title = format!("a goal field, {side} x {side}");
        measure::head(&title, "field", "graph library's Dijkstra");
        for (name, ground) in grids::maps(side) {
            against_dijkstra(name, &ground);
        }
        println!();
        measure::head(&title, "field", "touching every edge once");
        for (name, ground) in grids::maps(side) {
            against_edges(name, &ground);
        }
        println!();
        let title = format!("after a building of 3 by 3, {side} x {side}");
        measure::head(&title, "mending", "making all anew");
        for (name, ground) in grids::maps(side) {
            mend(name, ground);
        }
        println!();
    }
}

/// The cell nearest to the middle of the map in its largest region.
fn goal(clearance: &ClearanceMap, ground: &Ground) -> Cell {
    let mut sizes = std::collections::BTreeMap::new();
    for region in ground
        .whole()
        .cells()
        .filter_map(|cell| clearance.region(cell))
    {
        *sizes.entry(region).or_insert(0) += 1;
    }
    let largest = sizes.into_iter().max_by_key(|(_, size)| *size);
    let largest = largest.map(|(region, _)| region);
    let middle = ground.bounds().max * 0.5;
    let near = clearance.nearest(middle, |cell| clearance.region(cell) == largest);
    near.expect("the region has cells")
}

fn against_dijkstra(name: &str, ground: &Ground) {
    let side = ground.width() as i32;
    let clearance = ClearanceMap::new(ground, 0.4);
    let goal = goal(&clearance, ground);
    let (graph, nodes) = grids::graph_of(&clearance, side, (5, 7));
    let node = nodes[(goal.y * side + goal.x) as usize].unwrap();
    let theirs = || dijkstra(&graph, node, None, |edge| *edge.weight());
    let field = GoalField::new(&clearance, &[goal]).unwrap();
    let costs = theirs();
    for cell in ground.whole().cells() {
        let node = nodes[(cell.y * side + cell.x) as usize];
        let cost = node
            .and_then(|node| costs.get(&node))
            .map(|cost| *cost as f32 / 5.0);
        let left = field.left_m(&clearance, cell);
        let agree = match (left, cost) {
            (Some(left), Some(cost)) => (left - cost).abs() <= 1e-4 * cost,
            (left, cost) => left.is_none() && cost.is_none(),
        };
        assert!(agree, "{name}: {left:?} against {cost:?} in {cell:?}");
    }
    let rounds = if side > 600 { 5 } else { ROUNDS };
    let ours = |_| {
        black_box(GoalField::new(&clearance, &[goal]).unwrap());
    };
    measure::line(name, rounds, ours, |_| {
        black_box(theirs());
    });
}

/// The floor: a pass over all cells that looks at each step from each, and adds up what is there.
fn against_edges(name: &str, ground: &Ground) {
    let clearance = ClearanceMap::new(ground, 0.4);
    let goal = goal(&clearance, ground);
    let side = ground.width() as usize;
    let stride = side + 2;
    let mut steps = vec![0_u8; stride * stride];
    for cell in ground
        .whole()
        .cells()
        .filter(|cell| clearance.is_open(*cell))
    {
        let around = [
            (1, 0),
            (0, 1),
            (-1, 0),
            (0, -1),
            (1, 1),
            (-1, 1),
            (-1, -1),
            (1, -1),
        ];
        let open = |dx: i32, dy: i32| clearance.is_open(Cell::new(cell.x + dx, cell.y + dy));
        for (k, (dx, dy)) in around.into_iter().enumerate() {
            if open(dx, dy) && open(dx, 0) && open(0, dy) {
                steps[(cell.y as usize + 1) * stride + cell.x as usize + 1] |= 1 << k;
            }
        }
    }
    let s = stride as isize;
    let offsets = [1, s, -1, -s, s + 1, s - 1, -s - 1, 1 - s];
    let prices = [5, 5, 5, 5, 7, 7, 7, 7];
    let mut left = vec![0_u32; steps.len()];
    let ours = |_| {
        black_box(GoalField::new(&clearance, &[goal]).unwrap());
    };
    measure::line(name, ROUNDS, ours, |_| {
        for at in 0..steps.len() {
            let mut open = steps[at];
            let mut least = u32::MAX;
            while open != 0 {
                let step = open.trailing_zeros() as usize;
                open &= open - 1;
                least = least.min(left[at.wrapping_add_signed(offsets[step])] + prices[step]);
            }
            left[at] = least / 2;
        }
        black_box(&left);
    });
}

fn mend(name: &str, mut ground: Ground) {
    let side = ground.width();
    let mut clearance = ClearanceMap::new(&ground, 0.4);
    let goal = goal(&clearance, &ground);
    let mut field = GoalField::new(&clearance, &[goal]).unwrap();
    let mut stream = Stream::new(9, "sites");
    let sites: Vec<Patch> = (0..60)
        .map(|_| {
            let at = Cell::new(stream.below(side - 3) as i32, stream.below(side - 3) as i32);
            Patch::between(at, Cell::new(at.x + 2, at.y + 2))
        })
        .filter(|patch| !patch.grown(2).contains(goal))
        .collect();
    let whole = ground.clone();
    measure::line(
        &format!("{name}: clearance"),
        sites.len(),
        |k| {
            let changed = ground.block(sites[k].cells());
            black_box(clearance.repair(&ground, changed));
        },
        |_| {
            black_box(ClearanceMap::new(&whole, 0.4));
        },
    );
    // From the beginning again, so that each field is mended after one change.
    let mut ground = whole;
    let mut clearance = ClearanceMap::new(&ground, 0.4);
    let mut ours = Vec::new();
    let mut theirs = Vec::new();
    for site in &sites {
        let changed = ground.block(site.cells());
        let touched = clearance.repair(&ground, changed).touched;
        ours.push(measure::time(|| {
            field.repair(&clearance, touched).unwrap();
        }));
        theirs.push(measure::time(|| {
            black_box(GoalField::new(&clearance, &[goal]).unwrap());
        }));
    }
    let fresh = GoalField::new(&clearance, &[goal]).unwrap();
    for cell in ground.whole().cells() {
        assert_eq!(
            field.left_m(&clearance, cell),
            fresh.left_m(&clearance, cell)
        );
    }
    measure::report(&format!("{name}: field"), ours, theirs);
}
