//! Routes against the obvious: a general-purpose graph library's shortest paths, and dense
//! sampling of every step.

use petgraph::algo::dijkstra;
use petgraph::graphmap::UnGraphMap;
use proptest::prelude::*;
use yarrick::geom::Block;
use yarrick::ground::{Cell, ClearanceMap, Patch};
use yarrick::route::{
    Barrier, DIAGONAL, Goal, NoRoute, Progress, Router, STRAIGHT, Search, Shortfall,
};
use yarrick::{Ground, Terrain, Vec2};

/// How slow each terrain is, in sixteenths, worked out by hand from its speed.
const SLOWNESS: [u64; 3] = [16, 32, 12];

fn terrains() -> Vec<Terrain> {
    vec![
        Terrain::open("sand"),
        Terrain::open("mud").with_speed(0.5),
        Terrain::open("causeway").with_speed(1.3),
        Terrain::closed("dyke"),
    ]
}

/// A map of random size and terrain, and the radius of the body that walks on it.
fn map(uneven: bool) -> impl Strategy<Value = (Ground, f32)> {
    let cell = prop_oneof![
        8 => Just(0_u8),
        4 => if uneven { 1_u8..3 } else { 0_u8..1 },
        4 => Just(3_u8),
    ];
    let size = (2_u32..16, 2_u32..16);
    let radius = prop_oneof![3 => Just(0.4_f32), 1 => Just(0.65_f32), 1 => Just(1.2_f32)];
    (size, radius, proptest::collection::vec(cell, 256)).prop_map(|((w, h), radius, mut cells)| {
        cells.truncate((w * h) as usize);
        cells[0] = 0;
        (Ground::new(w, h, 1.0, terrains(), cells).unwrap(), radius)
    })
}

fn cells(ground: &Ground) -> Vec<Cell> {
    let (width, height) = (ground.width() as i32, ground.height() as i32);
    (0..width * height)
        .map(|k| Cell::new(k % width, k / width))
        .collect()
}

/// The map as a general-purpose graph, from nothing but where a disc is clear.
fn graph(ground: &Ground, radius: f32) -> UnGraphMap<(i32, i32), u64> {
    let open =
        |cell: Cell| ground.contains(cell) && ground.disc_is_clear(ground.centre(cell), radius);
    let slowness = |cell: Cell| {
        let terrain = ground.terrain(cell).unwrap();
        SLOWNESS[terrains()
            .iter()
            .position(|known| known == terrain)
            .unwrap()]
    };
    let mut graph = UnGraphMap::new();
    for cell in cells(ground).into_iter().filter(|cell| open(*cell)) {
        graph.add_node((cell.x, cell.y));
        for (dx, dy) in [(1, 0), (0, 1), (1, 1), (-1, 1)] {
            let next = Cell::new(cell.x + dx, cell.y + dy);
            let beside = [Cell::new(next.x, cell.y), Cell::new(cell.x, next.y)];
            if open(next) && beside.into_iter().all(open) {
                let per_weight = if dx != 0 && dy != 0 {
                    DIAGONAL
                } else {
                    STRAIGHT
                };
                let cost = per_weight * (slowness(cell) + slowness(next));
                graph.add_edge((cell.x, cell.y), (next.x, next.y), cost);
            }
        }
    }
    graph
}

fn assert_costs_agree(ground: &Ground, radius: f32, from: usize, to: usize) {
    let all = cells(ground);
    let (from, to) = (all[from % all.len()], all[to % all.len()]);
    let clearance = ClearanceMap::new(ground, radius);
    let graph = graph(ground, radius);
    let start = (from.x, from.y);
    let expected = graph
        .contains_node(start)
        .then(|| dijkstra(&graph, start, None, |edge| *edge.2))
        .and_then(|costs| costs.get(&(to.x, to.y)).copied());
    let (mut search, mut bit_by_bit) = (Search::default(), Search::default());
    let found = search.find(&clearance, from, to);
    assert_eq!(
        found.map(|found| found.cost),
        expected,
        "from {from:?} to {to:?}"
    );
    if bit_by_bit.begin(&clearance, from, to) {
        let left_off = loop {
            match bit_by_bit.advance(&clearance, 3) {
                Progress::UnderWay => {}
                Progress::Found(found) => break Some(found),
                Progress::NoWay => break None,
            }
        };
        assert_eq!(left_off, found);
        assert!(bit_by_bit.cells(&clearance).eq(search.cells(&clearance)));
    }
    // The cells that it names are a way, and cost what it says.
    let way: Vec<_> = search
        .cells(&clearance)
        .map(|cell| (cell.x, cell.y))
        .collect();
    let walked: Option<u64> = way
        .windows(2)
        .map(|step| graph.edge_weight(step[0], step[1]).copied())
        .sum();
    assert_eq!(walked, Some(expected.unwrap_or(0)));
}

/// Even ground from open to cluttered, wide enough for searches that look along rows of hundreds of cells.
fn wide_map() -> impl Strategy<Value = Ground> {
    let share = prop_oneof![Just(0.004), Just(0.03), Just(0.15), Just(0.3)];
    let map = (1_u32..150, 1_u32..40, share).prop_flat_map(|(width, height, share)| {
        let cell = proptest::bool::weighted(share).prop_map(|closed| if closed { 3_u8 } else { 0 });
        let cells = proptest::collection::vec(cell, (width * height) as usize);
        cells.prop_map(move |cells| Ground::new(width, height, 1.0, terrains(), cells))
    });
    map.prop_filter_map("all of it is closed", Result::ok)
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 100, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn costs_equal_a_graph_librarys_on_wide_even_ground(
        ground in wide_map(), from in 0_usize..6000, to in 0_usize..6000,
    ) {
        assert_costs_agree(&ground, 0.4, from, to);
    }
}

/// The time that a straight walk takes, by dense sampling, in seconds at 1 m/s.
fn time_of(ground: &Ground, points: &[Vec2]) -> f32 {
    let steps = 400;
    points
        .windows(2)
        .flat_map(|leg| {
            let length = leg[0].distance(leg[1]);
            (0..steps).map(move |k| {
                let at = leg[0].lerp(leg[1], (k as f32 + 0.5) / steps as f32);
                length / steps as f32 / ground.terrain_at(at).unwrap().speed
            })
        })
        .sum()
}

proptest! {
    #![proptest_config(ProptestConfig {
        cases: 1500,
        failure_persistence: None,
        ..ProptestConfig::default()
    })]

    #[test]
    fn costs_equal_a_graph_librarys_on_even_ground(
        (ground, radius) in map(false), from in 0_usize..999, to in 0_usize..999,
    ) {
        assert_costs_agree(&ground, radius, from, to);
    }

    #[test]
    fn costs_equal_a_graph_librarys_on_ground_of_several_speeds(
        (ground, radius) in map(true), from in 0_usize..999, to in 0_usize..999,
    ) {
        assert_costs_agree(&ground, radius, from, to);
    }

    #[test]
    fn a_route_is_clear_all_along_and_no_slower_than_the_cells(
        (ground, radius) in map(true),
        start in 0_usize..999, ax in -0.5_f32..0.5, ay in -0.5_f32..0.5,
        bx in -4.0_f32..20.0, by in -4.0_f32..20.0,
    ) {
        let clearance = ClearanceMap::new(&ground, radius);
        let open: Vec<Cell> = cells(&ground).into_iter().filter(|c| clearance.is_open(*c)).collect();
        let Some(cell) = open.get(start % open.len().max(1)) else {
            return Ok(());
        };
        let (middle, to) = (ground.centre(*cell), Vec2::new(bx, by));
        let beside = middle + Vec2::new(ax, ay);
        let from = if ground.disc_is_clear(beside, radius) { beside } else { middle };
        match Router::default().find(&ground, &clearance, radius, from, to) {
            Ok(route) => {
                prop_assert_eq!(route.points[0], from);
                let end = *route.points.last().unwrap();
                prop_assert!(route.short.is_some() || ground.cell_at(end) == ground.cell_at(to));
                for leg in route.points.windows(2) {
                    for k in 0..=100 {
                        let at = leg[0].lerp(leg[1], k as f32 / 100.0);
                        prop_assert!(ground.disc_is_clear(at, radius - 1e-3), "{} on {:?}", at, leg);
                    }
                }
                let mut search = Search::default();
                let ends = (ground.nearest_cell(from), ground.nearest_cell(end));
                // Where a corner keeps the body from its cell's middle, the cells are no way for it.
                let straight = ground.line_is_clear(from, ground.centre(ends.0), radius);
                if straight && search.find(&clearance, ends.0, ends.1).is_some() {
                    let mut by_cells = vec![from];
                    by_cells.extend(search.cells(&clearance).map(|cell| ground.centre(cell)));
                    by_cells.push(end);
                    let (ours, cells) = (time_of(&ground, &route.points), time_of(&ground, &by_cells));
                    prop_assert!(ours <= cells * 1.03 + 0.02, "{} s against {} s", ours, cells);
                }
            }
            Err(NoRoute::NoWay(_)) => prop_assert!(!clearance.connected(
                ground.nearest_cell(from), ground.nearest_cell(to)) || ground.cell_at(to).is_none()),
            Err(NoRoute::StartClosed) => prop_assert!(!clearance.is_open(ground.nearest_cell(from))),
            Err(other) => prop_assert!(false, "{other}"),
        }
    }

    #[test]
    fn a_goal_out_of_reach_leads_to_the_nearest_point_by_straight_distance(
        (ground, radius) in map(false), start in 0_usize..999, bx in -4.0_f32..20.0, by in -4.0_f32..20.0,
    ) {
        let clearance = ClearanceMap::new(&ground, radius);
        let open: Vec<Cell> = cells(&ground).into_iter().filter(|c| clearance.is_open(*c)).collect();
        let Some(&cell) = open.get(start % open.len().max(1)) else {
            return Ok(());
        };
        let (from, to) = (ground.centre(cell), Vec2::new(bx, by));
        // Where it can stand near the middles of cells that it can walk to.
        let mut least_m = f32::INFINITY;
        for other in open.iter().filter(|other| clearance.connected(cell, **other)) {
            let middle = ground.centre(*other);
            let outward = (to - middle).clamp(Vec2::splat(-0.48), Vec2::splat(0.48));
            for at in [middle, middle + outward * 0.5, middle + outward] {
                if ground.line_is_clear(at, middle, radius) {
                    least_m = least_m.min(at.distance(to));
                }
            }
        }
        match Router::default().find(&ground, &clearance, radius, from, to) {
            Ok(route) if route.short.is_some() => {
                let end_m = route.points.last().unwrap().distance(to);
                prop_assert!(end_m <= least_m + 0.03, "{} m away, where {} m could be", end_m, least_m);
            }
            Ok(_) => {}
            Err(why) => {
                prop_assert!(matches!(why, NoRoute::NoWay(_)));
                prop_assert!(least_m + 0.55 > from.distance(to), "{} m could be", least_m);
            }
        }
    }
}

fn small_map() -> (Ground, ClearanceMap) {
    let ground = Ground::from_rows(
        1.0,
        &["...##...", "...##...", "...##.#.", "...##...", "...##..."],
        &[('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))],
    )
    .unwrap();
    let clearance = ClearanceMap::new(&ground, 0.4);
    (ground, clearance)
}

#[test]
fn a_goal_that_cannot_be_reached_leads_to_the_nearest_point_that_can() {
    let (ground, clearance) = small_map();
    let from = Vec2::new(0.5, 2.5);
    let mut router = Router::default();
    for (goal, why) in [
        (Vec2::new(7.5, 2.5), Shortfall::CutOff),
        (Vec2::new(3.5, 2.5), Shortfall::Closed),
        (Vec2::new(20.0, 2.5), Shortfall::OffMap),
    ] {
        let route = router.find(&ground, &clearance, 0.4, from, goal).unwrap();
        assert_eq!(route.short, Some(why));
        let end = *route.points.last().unwrap();
        assert!((end.x - 2.6).abs() < 0.01, "{why}: {end}");
        let rim = why == Shortfall::OffMap;
        let stands = if rim {
            Barrier::Rim
        } else {
            Barrier::Terrain(1)
        };
        assert_eq!(route.barrier, Some(stands));
    }
    let stuck = router.find(
        &ground,
        &clearance,
        0.4,
        Vec2::new(2.6, 2.5),
        Vec2::new(7.5, 2.5),
    );
    assert_eq!(stuck.unwrap_err(), NoRoute::NoWay(Shortfall::CutOff));
}

#[test]
fn points_that_are_no_places_are_refused() {
    let (ground, clearance) = small_map();
    let mut router = Router::default();
    let ok = Vec2::new(0.5, 0.5);
    for (from, to, expected) in [
        (Vec2::NAN, ok, NoRoute::NotFinite),
        (ok, Vec2::new(0.0, f32::INFINITY), NoRoute::NotFinite),
    ] {
        assert_eq!(
            router.find(&ground, &clearance, 0.4, from, to).unwrap_err(),
            expected
        );
    }
    for radius in [-0.1, f32::NAN, f32::INFINITY, 17.0] {
        let error = router
            .find(&ground, &clearance, radius, ok, ok)
            .unwrap_err();
        assert_eq!(error, NoRoute::BadRadius);
    }
    for goal in [Goal::Nearest(Vec::new()), Goal::Cells(Vec::new())] {
        let error = router
            .find_to(&ground, &clearance, 0.4, ok, &goal)
            .unwrap_err();
        assert_eq!(error, NoRoute::NoGoal);
    }
    let huge = ClearanceMap::new(&ground, 9.0);
    let error = router.find(&ground, &huge, 9.0, ok, Vec2::ONE).unwrap_err();
    assert_eq!(error, NoRoute::StartClosed);
}

#[test]
fn a_start_in_a_wall_or_off_the_map_is_left_for_the_nearest_free_place() {
    let (ground, clearance) = small_map();
    let mut router = Router::default();
    for (from, free, pushed) in [
        (Vec2::new(3.5, 0.5), Vec2::new(2.6, 0.5), 0.9),
        (Vec2::new(-9.0, 0.5), Vec2::new(0.4, 0.5), 9.4),
    ] {
        let to = Vec2::new(1.5, 0.5);
        let route = router.find(&ground, &clearance, 0.4, from, to).unwrap();
        assert!(route.points[0].distance(free) < 0.01, "{:?}", route.points);
        assert!((route.pushed_m - pushed).abs() < 0.01, "{}", route.pushed_m);
    }
}

#[test]
fn what_stands_in_between_is_named() {
    let rows = ["...w~..", "...w~..", "...w~.."];
    let legend = [
        ('.', Terrain::open("sand")),
        ('w', Terrain::closed("weir")),
        ('~', Terrain::closed("creek")),
    ];
    let ground = Ground::from_rows(1.0, &rows, &legend).unwrap();
    let barrier = |ground: &Ground, radius: f32, from: Vec2, to: Vec2| {
        let clearance = ClearanceMap::new(ground, radius);
        let route = Router::default().find(ground, &clearance, radius, from, to);
        route.unwrap().barrier
    };
    let (west, east) = (Vec2::new(0.5, 1.5), Vec2::new(6.5, 1.5));
    assert_eq!(barrier(&ground, 0.4, west, east), Some(Barrier::Terrain(1)));
    assert_eq!(barrier(&ground, 0.4, east, west), Some(Barrier::Terrain(2)));
    // A gap in the same wall is open, but not for everybody.
    let wall = "......##...";
    let rows = [wall, wall, wall, "...........", wall, wall, wall];
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    let mut ground = Ground::from_rows(1.0, &rows, &legend).unwrap();
    let (west, east) = (Vec2::new(1.5, 1.5), Vec2::new(9.5, 1.5));
    assert_eq!(barrier(&ground, 0.4, west, east), None);
    assert_eq!(barrier(&ground, 0.8, west, east), Some(Barrier::Narrow));
    ground.block([Cell::new(6, 3)]);
    assert_eq!(barrier(&ground, 0.4, west, east), Some(Barrier::Building));
}

#[test]
fn ways_lead_to_areas_sides_and_the_nearest_of_many() {
    let row = ".".repeat(20);
    let rows = [row.as_str(); 12];
    let mut ground = Ground::from_rows(1.0, &rows, &[('.', Terrain::open("sand"))]).unwrap();
    let building = Block {
        centre: Vec2::new(10.0, 6.0),
        half: Vec2::new(2.0, 1.0),
        facing: 0.0,
    };
    ground.block(Patch::between(Cell::new(8, 5), Cell::new(11, 6)).cells());
    let clearance = ClearanceMap::new(&ground, 0.4);
    let from = Vec2::new(2.5, 6.0);
    let mut router = Router::default();
    let mut end = |goal: Goal| {
        let route = router
            .find_to(&ground, &clearance, 0.4, from, &goal)
            .unwrap();
        let end = *route.points.last().unwrap();
        assert!(goal.is_met(ground.on_foot(), 0.4, end), "{goal:?}: {end}");
        assert_eq!(route.short, None);
        end
    };
    let of = Vec2::new(10.0, 10.0);
    let near = end(Goal::Within { of, metres: 3.0 });
    assert!((near.distance(of) - 3.0).abs() < 0.01, "{near}");
    let sight = end(Goal::InSight { of, range_m: 5.0 });
    assert!((sight.distance(of) - 5.0).abs() < 0.01, "{sight}");
    let points = vec![
        Vec2::new(18.0, 1.0),
        Vec2::new(4.0, 2.0),
        Vec2::new(1.0, 11.5),
    ];
    assert_eq!(end(Goal::Nearest(points)), Vec2::new(4.0, 2.0));
    let cells = vec![Cell::new(19, 0), Cell::new(7, 9), Cell::new(19, 11)];
    assert_eq!(
        ground.cell_at(end(Goal::Cells(cells))),
        Some(Cell::new(7, 9))
    );
    let beside = |side| Goal::Beside {
        building,
        gap_m: 0.5,
        side,
    };
    let any = end(beside(None));
    assert!(any.x < 8.0, "{any}");
    let front = end(beside(Some(0.0)));
    assert!(front.x > 12.0, "{front}");
}

#[test]
fn a_way_round_the_mud_is_kept_where_it_is_quicker() {
    let rows = [
        "............",
        ".,,,,,,,,,,.",
        ".,,,,,,,,,,.",
        "............",
    ];
    let legend = [
        ('.', Terrain::open("sand")),
        (',', Terrain::open("mud").with_speed(0.2)),
    ];
    let ground = Ground::from_rows(1.0, &rows, &legend).unwrap();
    let clearance = ClearanceMap::new(&ground, 0.4);
    let (from, to) = (Vec2::new(0.5, 1.5), Vec2::new(11.5, 1.5));
    let route = Router::default()
        .find(&ground, &clearance, 0.4, from, to)
        .unwrap();
    let muddy = |point: &&Vec2| ground.terrain_at(**point).unwrap().name == "mud";
    assert_eq!(
        route.points.iter().filter(muddy).count(),
        0,
        "{:?}",
        route.points
    );
    assert!(time_of(&ground, &route.points) < 14.0);
}

/// A map so large that long ways are found by its chart.
fn large_map() -> impl Strategy<Value = (Ground, f32)> {
    let cell = prop_oneof![12 => Just(0_u8), 2 => Just(1_u8), 3 => Just(3_u8)];
    let radius = prop_oneof![Just(0.4_f32), Just(0.65)];
    let size = (120_u32..150, 100_u32..120);
    (size, radius, proptest::collection::vec(cell, 150 * 120)).prop_map(
        |((w, h), radius, mut cells)| {
            cells.truncate((w * h) as usize);
            cells[0] = 0;
            (Ground::new(w, h, 1.0, terrains(), cells).unwrap(), radius)
        },
    )
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 16, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn long_routes_keep_clear_of_walls_and_do_not_depend_on_how_often_they_are_left_off(
        (mut ground, radius) in large_map(),
        ends in proptest::collection::vec((0.0_f32..40.0, 0.0_f32..100.0, 0.0_f32..100.0), 4),
        built in (20_i32..100, 20_i32..80), budget in 1_u32..5000,
    ) {
        let mut clearance = ClearanceMap::new(&ground, radius);
        // The chart is mended with the clearance map.
        let patch = Patch::between(Cell::new(built.0, built.1), Cell::new(built.0 + 6, built.1 + 4));
        let changed = ground.block(patch.cells());
        clearance.repair(&ground, changed);
        let (mut router, mut bit_by_bit) = (Router::default(), Router::default());
        for (x, from, to) in ends {
            let (from, to) = (Vec2::new(x, from), Vec2::new(x + 78.0, to));
            let found = router.find(&ground, &clearance, radius, from, to);
            let goal = Goal::Point(to);
            let mut left_off = bit_by_bit.begin(&ground, &clearance, radius, from, &goal);
            while left_off.is_none() {
                left_off = bit_by_bit.advance(&ground, &clearance, budget);
            }
            prop_assert_eq!(Some(&found), left_off.as_ref());
            let Ok(route) = found else {
                continue;
            };
            for leg in route.points.windows(2) {
                let count = (leg[0].distance(leg[1]) * 8.0) as usize + 1;
                for k in 0..=count {
                    let at = leg[0].lerp(leg[1], k as f32 / count as f32);
                    prop_assert!(ground.disc_is_clear(at, radius - 1e-3), "{at}");
                }
            }
        }
    }
}
