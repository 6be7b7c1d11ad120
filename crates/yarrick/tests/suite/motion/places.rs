//! Places round a point.

use yarrick::Vec2;
use yarrick::ground::Terrain;
use yarrick::ground::{ClearanceMap, Ground};
use yarrick::motion::places::{Flood, Gathering, share_out};
use yarrick::near::Claims;

fn flat(rows: &[&str]) -> Ground {
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    Ground::from_rows(1.0, rows, &legend).unwrap()
}

fn places(ground: &Ground, point: Vec2, radius: f32, count: usize) -> Vec<Vec2> {
    let clearance = ClearanceMap::new(ground, radius);
    let gathering = Gathering {
        ground,
        clearance: &clearance,
        claims: &Claims::default(),
        point,
        start: ground.cell_at(point).unwrap(),
        radius,
    };
    gathering.find(count, &mut Flood::default())
}

#[test]
fn places_lie_apart_and_round_the_point() {
    let ground = flat(&["...................."; 20]);
    let point = Vec2::new(10.2, 9.7);
    let found = places(&ground, point, 0.4, 61);
    assert_eq!(found.len(), 61);
    assert_eq!(found[0], point);
    for (k, a) in found.iter().enumerate() {
        assert!(a.distance(point) < 4.3, "{a} is far from {point}");
        assert!(found[..k].iter().all(|b| a.distance(*b) > 0.8));
    }
}

#[test]
fn nobody_is_sent_to_the_far_side_of_a_wall() {
    let ground = flat(&[
        "....#....",
        "....#....",
        "....#....",
        "....#....",
        ".........",
    ]);
    let found = places(&ground, Vec2::new(3.5, 3.5), 0.4, 9);
    assert_eq!(found.len(), 9);
    assert!(found.iter().all(|place| place.x < 4.0), "{found:?}");
}

#[test]
fn a_small_pocket_holds_only_so_many() {
    let ground = flat(&["..#..", "..#..", "###..", "....."]);
    let found = places(&ground, Vec2::new(1.0, 3.0), 0.45, 40);
    assert!((1..=4).contains(&found.len()), "{found:?}");
}

#[test]
fn ways_to_the_places_do_not_cross() {
    let members: Vec<Vec2> = (0..12)
        .map(|k| Vec2::new((k % 4) as f32, (k / 4) as f32))
        .collect();
    let goals: Vec<Vec2> = members
        .iter()
        .rev()
        .map(|m| *m + Vec2::new(20.0, 3.0))
        .collect();
    let given = share_out(&members, &goals);
    let mut taken: Vec<u32> = given.iter().map(|place| place.unwrap()).collect();
    for (k, member) in members.iter().enumerate() {
        let way = goals[taken[k] as usize] - *member;
        assert!(
            (way - Vec2::new(20.0, 3.0)).length() < 1e-3,
            "{member} goes {way}"
        );
    }
    taken.sort_unstable();
    taken.dedup();
    assert_eq!(taken.len(), members.len());
}

#[test]
fn too_few_places_go_to_those_with_the_shortest_way() {
    let members = [Vec2::new(9.0, 0.0), Vec2::ZERO, Vec2::new(8.0, 0.0)];
    let given = share_out(&members, &[Vec2::new(10.0, 0.0), Vec2::new(10.0, 1.0)]);
    assert!(given[0].is_some() && given[1].is_none() && given[2].is_some());
}
