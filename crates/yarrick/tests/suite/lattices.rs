//! Every kind of map against the obvious: squares, squares left by their sides, and hexes, with gaits,
//! slopes, doors, links and bodies of several widths; and maps that change against fresh ones.

use crate::marsh_maps::{apply, changes, graph, map};
use petgraph::algo::dijkstra;
use proptest::prelude::*;
use yarrick::geom::segment_point_distance_squared;
use yarrick::ground::{Cell, ClearanceMap, Door, Gait, GaitId, GroundError, Link, LinkId, Patch};
use yarrick::route::{Router, Search, round_corners};
use yarrick::{Ground, Terrain, Vec2};

fn assert_costs_agree(ground: &Ground, gait: GaitId, radius: f32, ends: (usize, usize)) {
    let cells: Vec<Cell> = ground.whole().cells().collect();
    let (from, to) = (cells[ends.0 % cells.len()], cells[ends.1 % cells.len()]);
    let clearance = ClearanceMap::for_gait(ground, gait, radius);
    let graph = graph(ground, gait, radius);
    let expected = graph
        .contains_node(from)
        .then(|| dijkstra(&graph, from, None, |edge| *edge.2))
        .and_then(|costs| costs.get(&to).copied());
    let mut search = Search::default();
    let found = search.find(&clearance, from, to);
    assert_eq!(found.map(|found| found.cost), expected);
    assert_eq!(clearance.connected(from, to), expected.is_some());
    // The cells that it names are a way, and cost what it says.
    let way: Vec<Cell> = search.cells(&clearance).collect();
    let steps = way.windows(2);
    let walked: Option<u64> = steps.map(|s| graph.edge_weight(s[0], s[1]).copied()).sum();
    assert_eq!(walked, Some(expected.unwrap_or(0)));
}

/// Whether each point of a route's legs, links left out, keeps the body clear of closed ground.
fn assert_route_is_clear(ground: &Ground, gait: GaitId, radius: f32, ends: (usize, usize)) {
    let clearance = ClearanceMap::for_gait(ground, gait, radius);
    let open: Vec<Cell> = ground
        .whole()
        .cells()
        .filter(|c| clearance.is_open(*c))
        .collect();
    if open.is_empty() {
        return;
    }
    let [from, to] = [ends.0, ends.1].map(|k| ground.centre(open[k % open.len()]));
    let Ok(route) = Router::default().find(ground, &clearance, radius, from, to) else {
        return;
    };
    let view = ground.view(gait);
    assert_legs_are_clear(ground, gait, radius, (&route.points, &route.links));
    let most_m = 0.7;
    let (points, links) = round_corners(view, radius, &route.points, &route.links, most_m);
    assert_legs_are_clear(ground, gait, radius, (&points, &links));
    assert_eq!(links.len(), route.links.len());
    for point in points {
        let legs = route.points.windows(2);
        let apart = legs.map(|leg| segment_point_distance_squared(leg[0], leg[1], point));
        let apart = apart.fold(f32::INFINITY, f32::min).sqrt();
        assert!(apart <= most_m + 1e-4, "{point} is {apart} m off");
    }
}

fn assert_legs_are_clear(
    ground: &Ground,
    gait: GaitId,
    radius: f32,
    (points, links): (&[Vec2], &[(u32, LinkId)]),
) {
    for (k, leg) in points.windows(2).enumerate() {
        if links.iter().any(|(at, _)| *at as usize == k + 1) {
            continue;
        }
        for t in 0..=200 {
            let at = leg[0].lerp(leg[1], t as f32 / 200.0);
            let clear = ground.view(gait).disc_is_clear(at, radius - 1e-3);
            assert!(clear, "{at} on {leg:?} of {points:?}");
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig {
        cases: 1000,
        failure_persistence: None,
        ..ProptestConfig::default()
    })]

    #[test]
    fn costs_equal_a_graph_librarys_on_every_kind_of_map(
        (ground, gait, radius) in map(), from in 0_usize..999, to in 0_usize..999,
    ) {
        assert_costs_agree(&ground, gait, radius, (from, to));
        assert_route_is_clear(&ground, gait, radius, (from, to));
    }

    #[test]
    fn a_map_that_changed_gives_the_answers_of_a_fresh_one(
        (mut ground, gait, radius) in map(),
        changes in changes(),
        from in 0_usize..999, to in 0_usize..999,
    ) {
        let mut clearance = ClearanceMap::for_gait(&ground, gait, radius);
        for change in changes {
            let changed = apply(&mut ground, change);
            clearance.repair(&ground, changed);
            let fresh = ClearanceMap::for_gait(&ground, gait, radius);
            assert_passages_agree(&ground, &clearance, &fresh, (from, to));
        }
    }
}

/// Whether two clearance maps are open in the same cells, hang together in the same way, and lead from one
/// cell to another at the same cost and with the same work.
fn assert_passages_agree(
    ground: &Ground,
    a: &ClearanceMap,
    b: &ClearanceMap,
    ends: (usize, usize),
) {
    let cells: Vec<Cell> = ground.whole().cells().collect();
    let mut names = Vec::new();
    for &cell in &cells {
        assert_eq!(a.is_open(cell), b.is_open(cell), "{cell:?}");
        let pair = (a.region(cell), b.region(cell));
        assert_eq!(pair.0.is_some(), pair.1.is_some());
        match names.iter().find(|(x, y)| *x == pair.0 || *y == pair.1) {
            Some(known) => assert_eq!(*known, pair, "{cell:?}"),
            None => names.push(pair),
        }
    }
    let ends = (cells[ends.0 % cells.len()], cells[ends.1 % cells.len()]);
    let mut search = Search::default();
    let first = search.find(a, ends.0, ends.1);
    let way: Vec<Cell> = search.cells(a).collect();
    assert_eq!(search.find(b, ends.0, ends.1), first);
    assert!(search.cells(b).eq(way));
}

#[test]
fn a_drop_leads_down_and_not_back() {
    let drop = |both_ways| Link {
        name: "drop".to_owned(),
        from: Vec2::new(1.5, 0.5),
        to: Vec2::new(4.5, 0.5),
        cost_m: 2.0,
        both_ways,
        gaits: Vec::new(),
    };
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    let ground = Ground::from_rows(1.0, &["..##.."], &legend).unwrap();
    let ground = ground.with_links(vec![drop(false)]).unwrap();
    let clearance = ClearanceMap::new(&ground, 0.3);
    let (west, east) = (Vec2::new(0.5, 0.5), Vec2::new(5.5, 0.5));
    let mut router = Router::default();
    let route = router.find(&ground, &clearance, 0.3, west, east).unwrap();
    assert_eq!(route.points.len(), 4);
    assert_eq!(route.links, [(2, LinkId(0))]);
    assert_eq!(route.cost_m, 4.0);
    let back = router.find(&ground, &clearance, 0.3, east, west).unwrap();
    let end = back.points.last().unwrap();
    assert!(end.distance(Vec2::new(4.3, 0.5)) < 0.002, "{end}");
    let ground = ground.with_links(vec![drop(true)]).unwrap();
    let clearance = ClearanceMap::new(&ground, 0.3);
    let back = router.find(&ground, &clearance, 0.3, east, west).unwrap();
    assert!(back.short.is_none());
}

#[test]
fn what_a_map_cannot_have_is_refused_by_name() {
    let ground = || Ground::from_rows(1.0, &["..", ".."], &[('.', Terrain::open("sand"))]).unwrap();
    let gait = |gait: Gait| ground().with_gaits(vec![gait]).unwrap_err();
    let link = |to: Vec2, cost_m: f32| {
        let link = Link {
            name: "ferry".to_owned(),
            from: Vec2::ONE,
            to,
            cost_m,
            both_ways: true,
            gaits: Vec::new(),
        };
        ground().with_links(vec![link]).unwrap_err()
    };
    let door = Door {
        name: "sluice".to_owned(),
        patch: Patch::between(Cell::new(1, 1), Cell::new(2, 1)),
        shut: true,
    };
    let errors: Vec<GroundError> = vec![
        gait(Gait::new("sledge").closed_to("reeds")),
        gait(Gait::new("sledge").at_speed("sand", 9.0)),
        gait(Gait::new("sledge").with_climb(f32::NAN)),
        gait(Gait::new("sledge").up_to_slope(-1.0)),
        ground()
            .with_gaits(vec![Gait::new("sledge"), Gait::new("sledge")])
            .unwrap_err(),
        ground()
            .with_gaits((0..20).map(|k| Gait::new(&k.to_string())).collect())
            .unwrap_err(),
        link(Vec2::new(5.0, 1.0), 1.0),
        link(Vec2::NAN, 1.0),
        link(Vec2::ONE, 0.0),
        link(Vec2::ONE, f32::INFINITY),
        ground().with_doors(vec![door]).unwrap_err(),
    ];
    let reported: Vec<String> = errors.iter().map(ToString::to_string).collect();
    insta::assert_snapshot!(reported.join("\n"));
}
