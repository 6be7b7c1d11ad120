//! Maps made by a rule, from a seed: to measure on, and to try things out.

use crate::ground::{Ground, Terrain};
use crate::rng::Stream;

/// A sort of map.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Pattern {
    /// Open ground with a few buildings of 8 by 6 cells.
    Open,
    /// Random clutter: 22 of a hundred cells are closed.
    Random,
    /// Rooms of 15 by 15 cells with a door in each wall.
    Rooms,
    /// A maze whose corridors are two cells wide and its walls one.
    Maze,
}

/// A map of one cell.
const LEAST_SIDE: u32 = 1;

/// The size of a room with its walls, in cells.
const ROOM: u32 = 16;

impl Pattern {
    /// All of them, each with the word for it.
    pub const WORDS: [(&'static str, Pattern); 4] = [
        ("open", Pattern::Open),
        ("random", Pattern::Random),
        ("rooms", Pattern::Rooms),
        ("maze", Pattern::Maze),
    ];

    /// The most cells that such a map has on a side.
    pub const MOST_SIDE: u32 = 2048;

    /// A square map of cells of one metre: `.` is sand and `#` dyke. The side is brought within 1 and
    /// [`Pattern::MOST_SIDE`]. The same side and seed give the same map everywhere.
    #[must_use]
    pub fn ground(self, side: u32, seed: u64) -> Ground {
        let side = side.clamp(LEAST_SIDE, Pattern::MOST_SIDE);
        let mut closed = match self {
            Pattern::Open => open(side, seed),
            Pattern::Random => random(side, seed),
            Pattern::Rooms => rooms(side, seed),
            Pattern::Maze => maze(side, seed),
        };
        // There is always somewhere to stand.
        if closed.iter().all(|closed| *closed) {
            closed[0] = false;
        }
        let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
        let classes = closed.into_iter().map(u8::from).collect();
        match Ground::new(side, side, 1.0, terrains, classes) {
            Ok(ground) => ground,
            // Its size and its classes are as they must be.
            Err(error) => unreachable!("a pattern made a bad map: {error}"),
        }
    }
}

fn cells(side: u32) -> impl Iterator<Item = (u32, u32)> {
    (0..side).flat_map(move |y| (0..side).map(move |x| (x, y)))
}

fn open(side: u32, seed: u64) -> Vec<bool> {
    let mut stream = Stream::new(seed, "buildings");
    let mut closed = vec![false; (side * side) as usize];
    for _ in 0..u64::from(side) * u64::from(side) / 4400 {
        let (left, below) = (stream.below(side), stream.below(side));
        for (x, y) in (0..6).flat_map(|y| (0..8).map(move |x| (x, y))) {
            let (x, y) = (left + x, below + y);
            if x < side && y < side {
                closed[(y * side + x) as usize] = true;
            }
        }
    }
    closed
}

fn random(side: u32, seed: u64) -> Vec<bool> {
    let mut stream = Stream::new(seed, "clutter");
    cells(side).map(|_| stream.below(100) < 22).collect()
}

fn rooms(side: u32, seed: u64) -> Vec<bool> {
    let mut stream = Stream::new(seed, "doors");
    let across = side / ROOM + 1;
    let doors: Vec<u32> = (0..across * across * 2)
        .map(|_| stream.below(ROOM - 2) + 1)
        .collect();
    let door =
        |x: u32, y: u32, wall: u32| doors[((y / ROOM * across + x / ROOM) * 2 + wall) as usize];
    let is_closed = |(x, y): (u32, u32)| {
        let (in_x, in_y) = (x % ROOM, y % ROOM);
        (in_x == 0 && in_y != door(x, y, 0)) || (in_y == 0 && in_x != door(x, y, 1))
    };
    cells(side).map(is_closed).collect()
}

/// A random spanning tree, by walking on until stuck and going back.
fn maze(side: u32, seed: u64) -> Vec<bool> {
    let halls = (side.max(1) - 1) / 3;
    let mut stream = Stream::new(seed, "maze");
    let mut closed = vec![true; (side * side) as usize];
    if halls == 0 {
        return closed;
    }
    let mut seen = vec![false; (halls * halls) as usize];
    let mut dig = |x: u32, y: u32| closed[(y * side + x) as usize] = false;
    let mut stack = vec![(0, 0)];
    seen[0] = true;
    while let Some(&(x, y)) = stack.last() {
        for (dx, dy) in [(0, 0), (1, 0), (0, 1), (1, 1)] {
            dig(x * 3 + 1 + dx, y * 3 + 1 + dy);
        }
        let beside = [(1, 0), (0, 1), (-1, 0), (0, -1)];
        let beside = beside.map(|(dx, dy)| (x.wrapping_add_signed(dx), y.wrapping_add_signed(dy)));
        let is_new =
            |(x, y): &(u32, u32)| *x < halls && *y < halls && !seen[(y * halls + x) as usize];
        let new: Vec<(u32, u32)> = beside.into_iter().filter(is_new).collect();
        if new.is_empty() {
            stack.pop();
            continue;
        }
        let (nx, ny) = new[stream.below(new.len() as u32) as usize];
        // The wall between the two.
        let (wall, along) = if nx == x {
            ((x * 3 + 1, y.max(ny) * 3), (1, 0))
        } else {
            ((x.max(nx) * 3, y * 3 + 1), (0, 1))
        };
        dig(wall.0, wall.1);
        dig(wall.0 + along.0, wall.1 + along.1);
        seen[(ny * halls + nx) as usize] = true;
        stack.push((nx, ny));
    }
    closed
}
