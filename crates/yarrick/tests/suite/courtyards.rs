//! Bodies in small closed places on large maps: that a goal is out of reach is found out by a look at the place, not at the
//! map.

use proptest::collection;
use proptest::prelude::*;
use yarrick::geom::Block;
use yarrick::ground::{Cell, ClearanceMap, Lattice, Patch, Region};
use yarrick::route::{Barrier, Goal, NoRoute, Router, Shortfall, reach};
use yarrick::{Ground, Terrain, Vec2};

const RADIUS: f32 = 0.4;

/// A map of open sand with a courtyard of 3 by 3 cells in one corner, walled by a building.
fn courtyard(side: u32) -> (Ground, ClearanceMap) {
    let terrains = vec![Terrain::open("sand"), Terrain::closed("creek")];
    let mut classes = vec![0_u8; (side * side) as usize];
    // A pond far off.
    let pond = (side - 4) * side + side - 4;
    classes[pond as usize] = 1;
    let mut ground = Ground::new(side, side, 1.0, terrains, classes).unwrap();
    let inner = Patch::between(Cell::new(11, 11), Cell::new(13, 13));
    let outer = Patch::between(Cell::new(10, 10), Cell::new(14, 14));
    ground.block(outer.cells().filter(|cell| !inner.contains(*cell)));
    let clearance = ClearanceMap::new(&ground, RADIUS);
    (ground, clearance)
}

fn region_at(ground: &Ground, clearance: &ClearanceMap, at: Vec2) -> Region {
    clearance.region(ground.cell_at(at).unwrap()).unwrap()
}

#[test]
fn from_a_courtyard_the_nearest_point_is_found_by_a_look_at_the_courtyard() {
    let from = Vec2::new(12.5, 12.5);
    for side in [64, 1024] {
        let (ground, clearance) = courtyard(side);
        let region = region_at(&ground, &clearance, from);
        let far = side as f32 - 0.5;
        for goal in [Vec2::splat(far), Vec2::new(far, 12.5), Vec2::splat(1e30)] {
            let found = reach(&ground, &clearance, RADIUS, region, (from, goal)).unwrap();
            assert!(found.settled < 60, "{} cells of {side}²", found.settled);
            // The corner of the courtyard that is nearest, a body's width off its walls.
            assert!((found.point.x - 13.6).abs() < 0.02, "{:?}", found.point);
            let y = if goal.y == 12.5 { 12.5 } else { 13.6 };
            assert!((found.point.y - y).abs() < 0.02, "{:?}", found.point);
        }
    }
}

#[test]
fn a_point_that_the_body_is_nowhere_near_costs_more_but_gives_the_same() {
    let (ground, clearance) = courtyard(64);
    let region = region_at(&ground, &clearance, Vec2::new(12.5, 12.5));
    let goal = Vec2::splat(60.5);
    let answers = [Vec2::new(12.5, 12.5), Vec2::new(2.5, 62.5)].map(|from| {
        let found = reach(&ground, &clearance, RADIUS, region, (from, goal));
        found.unwrap().point
    });
    assert_eq!(answers[0], answers[1]);
}

#[test]
fn a_region_of_another_map_leads_nowhere() {
    let (ground, clearance) = courtyard(64);
    // On an island map each cell is a region of its own.
    let rows: Vec<String> = (0..16).map(|_| ".#".repeat(8) + "#").collect();
    let rows = rows.iter().flat_map(|row| [row.clone(), "#".repeat(17)]);
    let rows: Vec<String> = rows.collect();
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let legend = [
        ('.', Terrain::open("sand")),
        ('#', Terrain::closed("creek")),
    ];
    let islands = Ground::from_rows(1.0, &rows, &legend).unwrap();
    let others = ClearanceMap::new(&islands, RADIUS);
    let from = Vec2::new(14.5, 1.5);
    let region = region_at(&islands, &others, from);
    let found = reach(
        &ground,
        &clearance,
        RADIUS,
        region,
        (from, Vec2::splat(60.5)),
    );
    assert_eq!(found, None);
}

#[test]
fn what_stands_round_a_courtyard_is_found_from_within() {
    let mut router = Router::default();
    let from = Vec2::new(11.5, 11.5);
    let far = Vec2::splat(1023.5);
    let (ground, clearance) = courtyard(1024);
    let route = router.find(&ground, &clearance, RADIUS, from, far).unwrap();
    assert_eq!(route.short, Some(Shortfall::CutOff));
    assert_eq!(route.barrier, Some(Barrier::Building));
    assert!(route.settled < 20_000, "{}", route.settled);
    // A goal in closed ground, on the other side of the map: it is the courtyard that stands in the way.
    let pond = Vec2::splat(1020.5);
    let route = router
        .find(&ground, &clearance, RADIUS, from, pond)
        .unwrap();
    assert_eq!(route.short, Some(Shortfall::Closed));
    assert_eq!(route.barrier, Some(Barrier::Building));
    assert!(route.settled < 20_000, "{}", route.settled);
    // Where it stands in the nearest place already, that is the answer, and found as soon.
    let corner = *route.points.last().unwrap();
    let none = router.find(&ground, &clearance, RADIUS, corner, far);
    assert_eq!(none.unwrap_err(), NoRoute::NoWay(Shortfall::CutOff));
    assert!(router.settled_count() < 20_000);
}

/// Columns and rows of cells.
type Places = Vec<(u32, u32)>;

/// A map with a river from top to bottom, of the columns from `x` on, and clutter on both banks; and what changes then.
fn river() -> impl Strategy<Value = (Lattice, u32, u32, Places, Places)> {
    let lattice = prop_oneof![
        2 => Just(Lattice::Squares),
        1 => Just(Lattice::Squares4),
        1 => Just(Lattice::Hexes),
    ];
    let places = || collection::vec((0_u32..150, 0_u32..90), 0..120);
    (lattice, 5_u32..40, 45_u32..100, places(), places())
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn over_a_wide_river_the_nearest_point_is_the_one_that_a_look_at_all_cells_finds(
        (lattice, x, wide, clutter, later) in river(), y in 0_u32..90, from_y in 1_u32..89,
    ) {
        let classes = (0..90 * 150).map(|k| u8::from((x..x + wide).contains(&(k % 150))));
        let terrains = vec![Terrain::open("sand"), Terrain::closed("river")];
        let ground = Ground::new(150, 90, 1.0, terrains, classes.collect::<Vec<u8>>());
        let mut ground = ground.unwrap().with_lattice(lattice);
        let cell = |(x, y): (u32, u32)| Cell::new(x as i32, y as i32);
        let start = Cell::new(1, from_y as i32);
        let from = ground.centre(start);
        let stands = |at: &Cell| *at != start && ground.centre(*at).distance(from) > 2.0;
        let clutter: Vec<Cell> = clutter.into_iter().map(cell).filter(stands).collect();
        let later: Vec<Cell> = later.into_iter().map(cell).filter(stands).collect();
        ground.block(clutter.iter().copied());
        let mut clearance = ClearanceMap::new(&ground, RADIUS);
        let goal = ground.centre(Cell::new(149, y as i32));
        for round in 0..3 {
            let region = clearance.region(start).unwrap();
            let found = reach(&ground, &clearance, RADIUS, region, (from, goal)).unwrap();
            let whole = Patch::between(Cell::new(0, 0), Cell::new(149, 89)).cells();
            let reached = whole.filter(|cell| clearance.connected(start, *cell));
            let nearest = reached.map(|cell| ground.outline(cell).nearest(goal).distance(goal));
            let least_m = nearest.fold(f32::INFINITY, f32::min);
            // A body keeps its distance from walls.
            let off_m = found.point.distance(goal) - least_m;
            prop_assert!((-0.01..0.75).contains(&off_m), "{off_m} m farther than {least_m} m");
            prop_assert!(found.settled < 30_000, "{}", found.settled);
            // Mended, the map gives the same answer as one that is made anew.
            let fresh = ClearanceMap::new(&ground, RADIUS);
            let anew = reach(&ground, &fresh, RADIUS, fresh.region(start).unwrap(), (from, goal));
            prop_assert_eq!(Some(found.point), anew.map(|anew| anew.point));
            let patch = match round {
                0 => ground.block(later.iter().copied()),
                _ => ground.unblock(later.iter().copied()),
            };
            clearance.repair(&ground, patch);
        }
    }
}

/// Of wide areas only parts are looked at for where a way may end; here the middle is closed.
#[test]
fn ways_lead_to_areas_wider_than_is_looked_at_and_beside_large_buildings() {
    let (side, of) = (160, Vec2::new(100.0, 80.0));
    let classes = vec![0_u8; side * side];
    let terrains = vec![Terrain::open("sand")];
    let mut ground = Ground::new(side as u32, side as u32, 1.0, terrains, classes).unwrap();
    ground.block(Patch::between(Cell::new(65, 50), Cell::new(134, 109)).cells());
    let clearance = ClearanceMap::new(&ground, 0.4);
    let building = Block {
        centre: of,
        half: Vec2::new(35.0, 30.0),
        facing: 0.0,
    };
    let goals = [
        Goal::Within { of, metres: 45.0 },
        Goal::InSight { of, range_m: 45.0 },
        Goal::Beside {
            building,
            gap_m: 0.5,
            side: None,
        },
    ];
    let from = Vec2::new(2.5, 81.0);
    for goal in goals {
        let route = Router::default().find_to(&ground, &clearance, 0.4, from, &goal);
        let route = route.unwrap();
        let end = *route.points.last().unwrap();
        assert!(goal.is_met(ground.on_foot(), 0.4, end), "{goal:?}: {end}");
        assert_eq!(route.short, None, "{goal:?}");
        assert!(end.x > 54.0 && route.length_m < 70.0, "{goal:?}: {end}");
    }
    let range_m = 1e30;
    let everywhere = Goal::InSight { of, range_m };
    let route = Router::default().find_to(&ground, &clearance, 0.4, from, &everywhere);
    assert_eq!(route.unwrap().length_m, 0.0);
}
