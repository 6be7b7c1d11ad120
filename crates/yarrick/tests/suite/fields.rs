//! Goal fields against the obvious: a graph library's shortest paths, walks that follow them, and
//! fields made anew.

use crate::marsh_maps::{apply, changes, graph, map};
use petgraph::algo::dijkstra;
use petgraph::graphmap::DiGraphMap;
use petgraph::visit::{EdgeRef, Reversed};
use proptest::prelude::*;
use yarrick::ground::{Cell, ClearanceMap, GaitId};
use yarrick::route::{DIAGONAL, FieldError, GoalField, NextPoint, STRAIGHT};
use yarrick::{Ground, Terrain, Vec2};

/// What is left from each cell, by a graph library: in metres of plain ground, diagonal steps being
/// seven fifths of straight ones.
fn expected(ground: &Ground, gait: GaitId, radius: f32, goals: &[Cell]) -> Vec<Option<f64>> {
    let mut graph = graph(ground, gait, radius);
    // Diagonal steps cost a little less here, and links keep their cost.
    let is_link = |a: Cell, b: Cell| {
        let gap = ground.centre(a).distance(ground.centre(b));
        !(0.5..1.5).contains(&gap)
    };
    let mut fifths = DiGraphMap::<Cell, u64>::new();
    for (a, b, &cost) in graph.all_edges() {
        let diagonal = a.x != b.x && a.y != b.y && ground.lattice().is_square();
        let cost = if diagonal && !is_link(a, b) && cost % DIAGONAL == 0 {
            cost / DIAGONAL * 7
        } else {
            cost * 5 / STRAIGHT
        };
        fifths.add_edge(a, b, cost);
    }
    graph.clear();
    let goal = Cell::new(-1, -1);
    for &cell in goals {
        fifths.add_edge(cell, goal, 0);
    }
    let costs = dijkstra(Reversed(&fifths), goal, None, |edge| *edge.weight());
    let metres = |cell| costs.get(&cell).map(|cost| *cost as f64 / 160.0);
    ground.whole().cells().map(metres).collect()
}

fn open_cells(ground: &Ground, clearance: &ClearanceMap) -> Vec<Cell> {
    let cells = ground.whole().cells();
    cells.filter(|cell| clearance.is_open(*cell)).collect()
}

/// Some goals among the open cells, if there are any of these.
fn goals(ground: &Ground, clearance: &ClearanceMap, picks: &[usize]) -> Vec<Cell> {
    let open = open_cells(ground, clearance);
    let pick = |k: &usize| open.get(k % open.len().max(1)).copied();
    picks.iter().filter_map(pick).collect()
}

fn left(ground: &Ground, clearance: &ClearanceMap, field: &GoalField) -> Vec<Option<f32>> {
    let cells = ground.whole().cells();
    cells.map(|cell| field.left_m(clearance, cell)).collect()
}

proptest! {
    #![proptest_config(ProptestConfig {
        cases: 600,
        failure_persistence: None,
        ..ProptestConfig::default()
    })]

    #[test]
    fn what_is_left_equals_a_graph_librarys_shortest_paths(
        (ground, gait, radius) in map(), picks in proptest::collection::vec(0_usize..999, 1..4),
    ) {
        let clearance = ClearanceMap::for_gait(&ground, gait, radius);
        let goals = goals(&ground, &clearance, &picks);
        if goals.is_empty() {
            return Ok(());
        }
        let field = GoalField::new(&clearance, &goals).unwrap();
        let expected = expected(&ground, gait, radius, &goals);
        for ((cell, left), expected) in
            ground.whole().cells().zip(left(&ground, &clearance, &field)).zip(expected)
        {
            let agree = match (left, expected) {
                (Some(left), Some(expected)) => {
                    (f64::from(left) - expected).abs() <= 1e-4 * expected + 0.03
                }
                (left, expected) => left.is_none() == expected.is_none(),
            };
            prop_assert!(agree, "{:?}: {:?} against {:?}", cell, left, expected);
        }
    }

    #[test]
    fn whoever_walks_from_point_to_point_arrives_and_touches_nothing(
        (ground, gait, radius) in map(), from in 0_usize..999, pick in 0_usize..999,
    ) {
        // Whoever walks cannot follow a heading over a link.
        let ground = ground.with_links(Vec::new()).unwrap();
        let clearance = ClearanceMap::for_gait(&ground, gait, radius);
        let goals = goals(&ground, &clearance, &[pick, from]);
        if goals.is_empty() {
            return Ok(());
        }
        let mut field = GoalField::new(&clearance, &goals[..1]).unwrap();
        let mut at = ground.centre(goals[1]);
        let Some(left_m) = field.left_m(&clearance, goals[1]) else {
            return Ok(());
        };
        let length = left_m * 4.0 + 4.0;
        for _ in 0..(length / 0.1) as usize {
            let point = match field.next_point(&ground, &clearance, radius, at) {
                NextPoint::To(point) => point,
                NextPoint::Arrived => break,
                NextPoint::Unreachable => panic!("a goal is {left_m} m away"),
            };
            let to = at + (point - at).clamp_length_max(0.1);
            prop_assert!(
                ground.view(gait).line_is_clear(at, to, radius - 2e-3), "{} to {}", at, to
            );
            at = to;
        }
        prop_assert_eq!(ground.cell_at(at), Some(goals[0]));
    }

    #[test]
    fn a_field_that_was_repaired_equals_one_made_anew(
        (mut ground, gait, radius) in map(),
        changes in changes(),
        picks in proptest::collection::vec(0_usize..999, 1..3),
    ) {
        let mut clearance = ClearanceMap::for_gait(&ground, gait, radius);
        let goals = goals(&ground, &clearance, &picks);
        if goals.is_empty() {
            return Ok(());
        }
        let mut field = GoalField::new(&clearance, &goals).unwrap();
        for change in changes {
            let changed = apply(&mut ground, change);
            let touched = clearance.repair(&ground, changed).touched;
            let repaired = field.repair(&clearance, touched);
            let fresh = GoalField::new(&clearance, &goals);
            prop_assert_eq!(repaired.err(), fresh.as_ref().err().copied());
            let Ok(mut fresh) = fresh else {
                return Ok(());
            };
            prop_assert_eq!(left(&ground, &clearance, &field), left(&ground, &clearance, &fresh));
            for cell in open_cells(&ground, &clearance) {
                let at = ground.centre(cell);
                let headings = [&mut field, &mut fresh]
                    .map(|field| field.heading(&ground, &clearance, radius, at));
                prop_assert_eq!(headings[0], headings[1], "{:?}", cell);
            }
        }
    }
}

/// On open ground one heads for the goal as the crow flies, and the heading does not jump from one
/// cell to the next.
#[test]
fn headings_are_smooth_on_open_ground() {
    let row = ".".repeat(60);
    let ground =
        Ground::from_rows(1.0, &[row.as_str(); 60], &[('.', Terrain::open("sand"))]).unwrap();
    let clearance = ClearanceMap::new(&ground, 0.4);
    let goal = Cell::new(50, 33);
    let mut field = GoalField::new(&clearance, &[goal]).unwrap();
    let mut last: Option<Vec2> = None;
    for k in 0..400 {
        let at = Vec2::new(3.0 + 0.1 * k as f32, 7.3);
        let heading = field.heading(&ground, &clearance, 0.4, at).unwrap();
        let straight = (ground.centre(goal) - at).normalize();
        assert!(heading.dot(straight) > 0.9999, "{at}: {heading}");
        if let Some(last) = last {
            assert!(heading.dot(last) > 0.999, "{at}: {last} to {heading}");
        }
        last = Some(heading);
    }
}

#[test]
fn a_field_can_be_left_off_and_gone_on_with() {
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    let ground = Ground::from_rows(1.0, &["....#...", "..#.#.#.", "..#...#."], &legend).unwrap();
    let clearance = ClearanceMap::new(&ground, 0.4);
    let (goal, far) = (Cell::new(0, 0), Cell::new(7, 0));
    let whole = GoalField::new(&clearance, &[goal]).unwrap();
    let mut field = GoalField::begin(&clearance, &[goal]).unwrap();
    assert!(!field.knows(&clearance, far));
    let mut rounds = 0;
    while !field.is_done() {
        field.advance(&clearance, 2);
        rounds += 1;
    }
    assert!(rounds > 5);
    assert_eq!(
        left(&ground, &clearance, &field),
        left(&ground, &clearance, &whole)
    );
    let closed = Cell::new(4, 1);
    assert_eq!(
        GoalField::new(&clearance, &[]).unwrap_err(),
        FieldError::NoGoal
    );
    for cell in [closed, Cell::new(-1, 0), Cell::new(0, 99)] {
        let error = GoalField::new(&clearance, &[goal, cell]).unwrap_err();
        assert_eq!(error, FieldError::GoalClosed { cell });
    }
}
