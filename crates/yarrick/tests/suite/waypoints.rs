//! Waypoint graphs against a graph library's shortest paths, and what they refuse.

use petgraph::algo::dijkstra;
use petgraph::graphmap::DiGraphMap;
use proptest::prelude::*;
use yarrick::Vec2;
use yarrick::route::{Leg, Waypoint, WaypointError, Waypoints};

fn place(x: f32, y: f32) -> Waypoint {
    Waypoint {
        name: format!("{x} {y}"),
        at: Vec2::new(x, y),
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 2000, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn trips_cost_what_a_graph_librarys_do(
        places in proptest::collection::vec((0.0_f32..50.0, 0.0_f32..50.0), 1..25),
        legs in proptest::collection::vec(
            (0_u32..25, 0_u32..25, proptest::option::of(0.5_f32..40.0), any::<bool>(), 0_u8..6), 0..70),
        from in 0_u32..25, to in proptest::collection::vec(0_u32..25, 1..4),
    ) {
        let places: Vec<Waypoint> = places.into_iter().map(|(x, y)| place(x, y)).collect();
        let count = places.len() as u32;
        let mut graph = DiGraphMap::<u32, u64>::new();
        (0..count).for_each(|node| { graph.add_node(node); });
        let mut drawn = Vec::new();
        let mut closed = Vec::new();
        for (a, b, cost_m, one_way, shut) in legs {
            let (a, b) = (a % count, b % count);
            let straight = places[a as usize].at.distance(places[b as usize].at).max(0.001);
            let cost = (f64::from(cost_m.unwrap_or(straight)) * 1000.0).round() as u64;
            let cost = cost.max(1);
            if shut == 0 {
                closed.push(drawn.len() as u32);
            } else {
                for (a, b) in [(a, b), (b, a)].into_iter().take(if one_way { 1 } else { 2 }) {
                    let known = graph.edge_weight(a, b).copied().unwrap_or(u64::MAX);
                    graph.add_edge(a, b, known.min(cost));
                }
            }
            drawn.push(Leg { from: a, to: b, cost_m, one_way });
        }
        let mut waypoints = Waypoints::new(places, drawn).unwrap();
        for leg in closed {
            prop_assert!(waypoints.set_open(leg, false));
        }
        let from = from % count;
        let to: Vec<u32> = to.into_iter().map(|to| to % count).collect();
        let costs = dijkstra(&graph, from, None, |edge| *edge.2);
        let expected = to.iter().filter_map(|to| costs.get(to)).min().copied();
        let trip = waypoints.find_any(from, &to);
        prop_assert_eq!(trip.as_ref().map(|trip| trip.cost_m), expected.map(|mm| (mm as f64 / 1000.0) as f32));
        if let Some(trip) = trip {
            let steps = trip.places.windows(2);
            let walked: Option<u64> = steps.map(|s| graph.edge_weight(s[0], s[1]).copied()).sum();
            prop_assert_eq!(walked, expected);
            prop_assert_eq!(trip.places.first(), Some(&from));
            prop_assert!(to.contains(trip.places.last().unwrap()));
        }
    }
}

#[test]
fn what_is_no_graph_is_refused_with_the_reason() {
    let two = || vec![place(0.0, 0.0), place(3.0, 4.0)];
    let cost = |cost_m: f32| Leg {
        cost_m: Some(cost_m),
        ..Leg::between(0, 1)
    };
    let refused = |places: Vec<Waypoint>, legs: Vec<Leg>| Waypoints::new(places, legs).unwrap_err();
    assert_eq!(refused(vec![], vec![]), WaypointError::NoPlace);
    let reported: Vec<String> = [
        refused(vec![place(f32::NAN, 0.0)], vec![]),
        refused(two(), vec![Leg::between(0, 2)]),
        refused(two(), vec![cost(0.0)]),
        refused(two(), vec![cost(-1.0)]),
        refused(two(), vec![cost(f32::INFINITY)]),
    ]
    .iter()
    .map(ToString::to_string)
    .collect();
    insta::assert_snapshot!(reported.join("\n"));
    let mut waypoints = Waypoints::new(two(), vec![Leg::between(0, 1)]).unwrap();
    assert_eq!(waypoints.find(0, 1).unwrap().cost_m, 5.0);
    assert_eq!(waypoints.find(1, 1).unwrap().places, [1]);
    assert_eq!(waypoints.find(0, 9), None);
    assert_eq!(waypoints.find(9, 0), None);
    assert_eq!(waypoints.find_any(0, &[]), None);
    assert_eq!(waypoints.nearest(Vec2::new(2.0, 2.0)), Some(1));
    assert_eq!(waypoints.nearest(Vec2::NAN), None);
    assert!(!waypoints.set_open(7, false));
    let far = vec![place(0.0, 0.0), place(1.0, 0.0), place(3e38, 3e38)];
    let far = Waypoints::new(far, vec![Leg::between(0, 1)]).unwrap();
    assert_eq!(far.find(0, 2), None);
}
