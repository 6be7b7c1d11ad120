//! Placing a building, against clipped polygons and plain scans.

use core::f32::consts::{FRAC_PI_2, TAU};
use proptest::prelude::*;
use yarrick::geom::{Block, angle};
use yarrick::ground::{Cell, GaitId, Lattice};
use yarrick::site::{Objection, cells_under, objections, snapped, turned};
use yarrick::{Ground, Terrain, Vec2};

const SIDE: i32 = 12;

fn ground(closed: &[bool]) -> Ground {
    let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
    let classes = closed.iter().map(|closed| u8::from(*closed)).collect();
    Ground::new(SIDE as u32, SIDE as u32, 1.0, terrains, classes).unwrap()
}

fn block() -> impl Strategy<Value = Block> {
    let half = (0.2_f32..3.0, 0.2_f32..3.0);
    (-1.0_f32..13.0, -1.0_f32..13.0, half, -7.0_f32..7.0).prop_map(|(x, y, half, facing)| Block {
        centre: Vec2::new(x, y),
        half: half.into(),
        facing,
    })
}

/// The area that two boxes share: one clipped by each side of the other.
pub(crate) fn shared_area(a: &Block, b: &Block) -> f32 {
    let mut polygon = a.corners().to_vec();
    let corners = b.corners();
    for k in 0..4 {
        let (from, side) = (corners[k], corners[(k + 1) % 4] - corners[k]);
        let inside = |at: Vec2| side.perp_dot(at - from);
        let mut clipped = Vec::new();
        for (at, next) in polygon.iter().zip(polygon.iter().cycle().skip(1)) {
            let (here, there) = (inside(*at), inside(*next));
            if here >= 0.0 {
                clipped.push(*at);
            }
            if (here >= 0.0) != (there >= 0.0) {
                clipped.push(at.lerp(*next, here / (here - there)));
            }
        }
        polygon = clipped;
    }
    let next = polygon.iter().cycle().skip(1);
    let twice: f32 = polygon.iter().zip(next).map(|(a, b)| a.perp_dot(*b)).sum();
    twice * 0.5
}

proptest! {
    #[test]
    fn every_objection_is_named_and_none_is_made_up(
        plan in block(), others in proptest::collection::vec(block(), 0..6),
        bodies in proptest::collection::vec((0.0_f32..12.0, 0.0_f32..12.0, 0.1_f32..1.5), 0..12),
        mut closed in proptest::collection::vec(proptest::bool::weighted(0.1), 144),
    ) {
        closed[0] = false;
        let ground = ground(&closed);
        let buildings = others.iter().enumerate().map(|(k, other)| (k, *other));
        let bodies: Vec<_> = bodies.iter().enumerate()
            .map(|(k, (x, y, radius))| (100 + k, Vec2::new(*x, *y), *radius)).collect();
        let found: Vec<Objection<usize>> =
            objections(ground.view(GaitId::default()), plan, buildings, bodies.clone()).collect();

        let on_map = plan.corners().iter().all(|at| ground.bounds().contains(*at));
        prop_assert_eq!(found.contains(&Objection::OffTheMap), !on_map);
        for (building, other) in others.iter().enumerate() {
            let overlaps = found.contains(&Objection::Overlaps { building });
            let area = shared_area(&plan, other);
            // Boxes that overlap by less than a millimetre stand wall to wall.
            if area > 0.02 {
                prop_assert!(overlaps, "{area} shared");
            } else if area < 1e-6 {
                prop_assert!(!overlaps, "{area} shared");
            }
        }
        for cell in (0..SIDE * SIDE).map(|k| Cell::new(k % SIDE, k / SIDE)) {
            let at = ground.centre(cell);
            let named = found.contains(&Objection::ClosedGround { at });
            let covered = cells_under(&ground, &plan).any(|known| known == cell);
            prop_assert_eq!(named, covered && !ground.is_open(cell));
            prop_assert!(covered || plan.distance(at) > 0.0);
        }
        for (body, at, radius) in bodies {
            let touches = plan.distance(at) < radius;
            prop_assert_eq!(found.contains(&Objection::InTheWay { body }), touches);
        }
    }

    #[test]
    fn a_snapped_footprint_lies_on_whole_cells_near_the_pointer(
        x in 0.0_f32..24.0, y in 0.0_f32..24.0, columns in 1_i32..5, rows in 1_i32..5, quarters in -4_i32..5,
    ) {
        let sand = vec![Terrain::open("sand")];
        let ground = Ground::new(12, 12, 2.0, sand, vec![0; 144]).unwrap();
        let size_m = Vec2::new(columns as f32, rows as f32) * 2.0;
        let facing = quarters as f32 * FRAC_PI_2;
        let along_x = if quarters % 2 == 0 { size_m } else { Vec2::new(size_m.y, size_m.x) };
        let at = Vec2::new(x, y);
        let centre = snapped(&ground, size_m, facing, at);
        // At the rim it stays on the map.
        let at = at.clamp(along_x * 0.5, Vec2::splat(24.0) - along_x * 0.5);
        prop_assert!((centre - at).abs().max_element() <= 1.0 + 1e-4);
        let block = Block { centre, half: size_m * 0.5, facing };
        for corner in block.corners() {
            let cells = corner / 2.0;
            prop_assert!((cells - cells.round()).abs().max_element() < 1e-4, "{corner}");
        }
    }
}

#[test]
fn a_plan_on_hexes_lies_on_a_cell_and_one_off_the_map_on_its_rim() {
    let ground = ground(&[false; 144]).with_lattice(Lattice::Hexes);
    let centre = snapped(&ground, Vec2::splat(2.0), 0.3, Vec2::new(4.3, 5.1));
    assert_eq!(
        centre,
        ground.centre(ground.cell_at(Vec2::new(4.3, 5.1)).unwrap())
    );
    let squares = self::ground(&[false; 144]);
    for at in [Vec2::splat(-50.0), Vec2::splat(f32::NEG_INFINITY)] {
        assert_eq!(snapped(&squares, Vec2::ONE, 0.0, at), Vec2::splat(0.5));
    }
    assert!(snapped(&squares, Vec2::NAN, f32::NAN, Vec2::NAN).is_finite());
}

#[test]
fn a_plan_turns_by_whole_steps() {
    for by in -20..20 {
        let facing = turned(0.0, by, 8);
        assert!(
            (angle::wrap(facing - by as f32 * TAU / 8.0)).abs() < 1e-4,
            "{by}"
        );
        assert_eq!(turned(facing, -by, 8), 0.0);
    }
    assert_eq!(turned(0.3, 1, 0), 0.3);
    assert!(turned(f32::NAN, i32::MAX, u16::MAX).is_finite());
}
