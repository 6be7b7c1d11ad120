//! Random maps with everything on them, and the same maps as general-purpose graphs.

use petgraph::graphmap::DiGraphMap;
use proptest::collection::vec;
use proptest::prelude::*;
use yarrick::ground::{Cell, Door, DoorId, Gait, GaitId, Lattice, Link, Patch};
use yarrick::route::{DIAGONAL, STRAIGHT};
use yarrick::{Ground, Terrain};

pub(crate) fn terrains() -> Vec<Terrain> {
    vec![
        Terrain::open("sand"),
        Terrain::open("mud").with_speed(0.5),
        Terrain::closed("creek"),
        Terrain::closed("dyke"),
    ]
}

pub(crate) fn gaits() -> Vec<Gait> {
    vec![
        Gait::new("sledge")
            .at_speed("mud", 0.25)
            .up_to_slope(1.2)
            .with_climb(2.0),
        Gait::new("swimmer")
            .at_speed("creek", 1.0)
            .at_speed("sand", 0.4)
            .opening_doors(),
        Gait::flying("dunlin"),
    ]
}

pub(crate) fn lattice() -> impl Strategy<Value = Lattice> {
    prop_oneof![
        Just(Lattice::Squares),
        Just(Lattice::Squares4),
        Just(Lattice::Hexes)
    ]
}

/// A map with everything on it, and who goes there: gait and radius.
pub(crate) fn map() -> impl Strategy<Value = (Ground, GaitId, f32)> {
    let cell = prop_oneof![8 => Just(0_u8), 3 => Just(1_u8), 2 => Just(2_u8), 3 => Just(3_u8)];
    let radius = prop_oneof![Just(0.2_f32), Just(0.4), Just(0.65), Just(1.2)];
    let hilly = prop_oneof![Just(0.0_f32), Just(1.0)];
    let link = (
        0_u32..300,
        0_u32..300,
        0.3_f32..12.0,
        any::<bool>(),
        0_u8..4,
    );
    (
        (2_u32..14, 2_u32..14, lattice(), 0_u8..4, radius),
        vec(cell, 196),
        vec(0.0_f32..1.4, 196),
        hilly,
        vec(link, 0..4),
        vec((0_u32..300, any::<bool>()), 0..3),
    )
        .prop_map(
            |((w, h, lattice, gait, radius), mut cells, mut heights, hilly, links, doors)| {
                let count = (w * h) as usize;
                cells.truncate(count);
                heights.truncate(count);
                cells[0] = 0;
                let heights = heights.into_iter().map(|height| height * hilly).collect();
                let ground = Ground::new(w, h, 1.0, terrains(), cells).unwrap();
                let ground = ground.with_lattice(lattice).with_heights(heights).unwrap();
                let ground = ground.with_gaits(gaits()).unwrap();
                let cell = |k: u32| Cell::new((k % w) as i32, (k / w % h) as i32);
                let link = |(a, b, cost_m, both_ways, only)| Link {
                    name: "ferry".to_owned(),
                    from: ground.centre(cell(a)),
                    to: ground.centre(cell(b)),
                    cost_m,
                    both_ways,
                    gaits: [GaitId(only)].into_iter().filter(|g| g.0 != 3).collect(),
                };
                let links = links.into_iter().map(link).collect();
                let door = |(at, shut)| Door {
                    name: "sluice".to_owned(),
                    patch: Patch::between(cell(at), cell(at)),
                    shut,
                };
                let doors = doors.into_iter().map(door).collect();
                let ground = ground.with_links(links).unwrap().with_doors(doors).unwrap();
                (ground, GaitId(gait), radius)
            },
        )
}

/// How slow each cell is for each gait, worked out from what the tables above say.
pub(crate) fn slowness(ground: &Ground, gait: GaitId, cell: Cell) -> Option<u64> {
    let terrain = ground.terrain(cell)?.name.as_str();
    let shut = ground
        .doors()
        .iter()
        .any(|door| door.shut && door.patch.contains(cell));
    let slope = ground.slope(cell);
    let (speed, factor) = match (gait.0, terrain) {
        (3, _) => return Some(16),
        (0, _) if shut || ground.is_blocked(cell) => return None,
        (1, _) if shut || slope > 1.2 || ground.is_blocked(cell) => return None,
        (2, _) if ground.is_blocked(cell) => return None,
        (1, "mud") => (0.25, 1.0 + 2.0 * slope),
        (1, "sand") => (1.0, 1.0 + 2.0 * slope),
        (2, "creek") => (1.0, if shut { 2.0 } else { 1.0 }),
        (2, "sand") => (0.4, if shut { 2.0 } else { 1.0 }),
        (2, "mud") => (0.5, if shut { 2.0 } else { 1.0 }),
        (0, "sand") => (1.0, 1.0),
        (0, "mud") => (0.5, 1.0),
        _ => return None,
    };
    Some((16.0_f32 / speed * factor).round().min(240.0) as u64)
}

/// The map as a general-purpose graph, from the middles of the cells and where a disc is clear.
pub(crate) fn graph(ground: &Ground, gait: GaitId, radius: f32) -> DiGraphMap<Cell, u64> {
    let view = ground.view(gait);
    let open = |cell: Cell| view.disc_is_clear(ground.centre(cell), radius);
    let mut graph = DiGraphMap::new();
    let mut add = |a: Cell, b: Cell, cost: u64| match graph.edge_weight_mut(a, b) {
        Some(known) => *known = cost.min(*known),
        None => {
            graph.add_edge(a, b, cost);
        }
    };
    let cells: Vec<Cell> = ground.whole().cells().filter(|c| open(*c)).collect();
    for &a in &cells {
        add(a, a, 0);
        for &b in &cells {
            let gap = ground.centre(a).distance(ground.centre(b));
            let per_weight = match ground.lattice() {
                _ if !(0.5..=1.5).contains(&gap) => continue,
                _ if gap < 1.1 => STRAIGHT,
                Lattice::Squares => DIAGONAL,
                _ => continue,
            };
            let beside = [Cell::new(a.x, b.y), Cell::new(b.x, a.y)];
            let passes = match per_weight {
                DIAGONAL => beside.into_iter().all(open),
                _ => view.line_is_clear(ground.centre(a), ground.centre(b), radius),
            };
            if passes {
                let both = [a, b].map(|cell| slowness(ground, gait, cell).unwrap());
                add(a, b, per_weight * (both[0] + both[1]));
            }
        }
    }
    for link in ground.links().iter().filter(|link| link.is_for(gait)) {
        let ends = [link.from, link.to].map(|end| ground.cell_at(end).unwrap());
        if ends.into_iter().all(open) {
            let cost = (f64::from(link.cost_m) * (STRAIGHT * 32) as f64) as u64;
            add(ends[0], ends[1], cost);
            if link.both_ways {
                add(ends[1], ends[0], cost);
            }
        }
    }
    graph
}

/// A change of a map: what, where, how large, and which of several.
pub(crate) type Change = (u8, (i32, i32), (i32, i32), usize);

/// Some changes, one after another.
pub(crate) fn changes() -> impl Strategy<Value = Vec<Change>> {
    let change = (
        0_u8..5,
        (0_i32..14, 0_i32..14),
        (0_i32..4, 0_i32..4),
        0_usize..4,
    );
    vec(change, 1..12)
}

/// Changes a map; gives the cells that it touched.
pub(crate) fn apply(ground: &mut Ground, (what, (x, y), (w, h), which): Change) -> Patch {
    let patch = Patch::between(Cell::new(x, y), Cell::new(x + w, y + h));
    match what {
        0 | 1 => ground.block(patch.cells()),
        2 => ground.unblock(patch.cells()),
        3 => ground.set_door(DoorId(which as u16), x > 6),
        _ => ground.set_terrain(patch.cells(), which),
    }
}
