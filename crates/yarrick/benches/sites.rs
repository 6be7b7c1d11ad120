//! Whether a building would close the last way from an entry to a goal, against working the map out anew and flooding it; and
//! a whole verdict.
//!
//! `cargo bench --bench sites`

#[path = "measure/mod.rs"]
mod measure;

use std::hint::black_box;
use yarrick::ground::{Cell, ClearanceMap, Ground, Terrain};
use yarrick::rng::Stream;
use yarrick::site::{Way, closed_ways};

const SIDE: i32 = 512;
const RADIUS_M: f32 = 0.4;

fn main() {
    measure::head(
        "would 2 by 2 cells close the way across 512 x 512?",
        "asked of the map as it is",
        "a fresh map, flooded",
    );
    for (name, closed) in [("open", 0.0), ("random clutter, 22 %", 0.22)] {
        case(name, &clutter(closed), None);
    }
    // A dyke across, with a gap as wide as the building: every question is a hard one.
    let mut walled = clutter(0.0);
    for y in (0..SIDE).filter(|y| !(200..202).contains(y)) {
        walled[(y * SIDE + SIDE / 2) as usize] = 1;
    }
    case(
        "in the only gap of a dyke",
        &walled,
        Some(Cell::new(SIDE / 2, 200)),
    );
}

fn clutter(part: f32) -> Vec<u8> {
    let mut stream = Stream::new(5, "clutter");
    let mut is_closed = || u8::from(stream.unit() < part);
    (0..SIDE * SIDE).map(|_| is_closed()).collect()
}

fn case(name: &str, classes: &[u8], site: Option<Cell>) {
    let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
    let mut classes = classes.to_vec();
    // The ends are open.
    for x in 0..SIDE {
        for y in [0, 1, 2, SIDE - 3, SIDE - 2, SIDE - 1] {
            classes[(y * SIDE + x) as usize] = 0;
        }
    }
    let side = SIDE as u32;
    let ground = Ground::new(side, side, 1.0, terrains, classes).unwrap();
    let clearance = ClearanceMap::new(&ground, RADIUS_M);
    let way = |from: Cell, to: Cell| Way {
        from: vec![from],
        to: vec![to],
    };
    let ways = [way(Cell::new(1, 1), Cell::new(SIDE - 2, SIDE - 2))];
    let mut stream = Stream::new(8, "sites");
    let mut place = || stream.between(8.0, (SIDE - 8) as f32) as i32;
    let sites: Vec<[Cell; 4]> = (0..60)
        .map(|_| site.unwrap_or(Cell::new(place(), place())))
        .map(|Cell { x, y }| {
            [(0, 0), (1, 0), (0, 1), (1, 1)].map(|(dx, dy)| Cell::new(x + dx, y + dy))
        })
        .collect();
    let fresh = |cells: &[Cell]| {
        let mut ground = ground.clone();
        ground.block(cells.iter().copied());
        let after = ClearanceMap::new(&ground, RADIUS_M);
        let was_open = reaches(&clearance, &ways[0]);
        usize::from(was_open && !reaches(&after, &ways[0]))
    };
    for cells in sites.iter().take(6) {
        let ours = closed_ways(&ground, &clearance, cells, &ways).len();
        assert_eq!(ours, fresh(cells), "{name}");
    }
    measure::line(
        name,
        sites.len(),
        |round| {
            black_box(closed_ways(&ground, &clearance, &sites[round], &ways));
        },
        |round| {
            black_box(fresh(&sites[round]));
        },
    );
}

/// A flood over the open cells, without cutting corners.
fn reaches(clearance: &ClearanceMap, way: &Way) -> bool {
    let is_open = |x: i32, y: i32| {
        (0..SIDE).contains(&x) && (0..SIDE).contains(&y) && clearance.is_open(Cell::new(x, y))
    };
    let mut known = vec![false; (SIDE * SIDE) as usize];
    let mut queue = way.from.clone();
    while let Some(Cell { x, y }) = queue.pop() {
        for (dx, dy) in [(1, 0), (-1, 0), (0, 1), (0, -1)] {
            let (x, y) = (x + dx, y + dy);
            if is_open(x, y) && !core::mem::replace(&mut known[(y * SIDE + x) as usize], true) {
                queue.push(Cell::new(x, y));
            }
        }
    }
    way.to
        .iter()
        .any(|cell| known[(cell.y * SIDE + cell.x) as usize])
}
