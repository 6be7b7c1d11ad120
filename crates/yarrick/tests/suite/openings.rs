//! Ground that opens and closes while units are under way to a place.

use crate::doors::Doors as _;
use crate::flats::{Flats, KEEPERS, attack_move, move_to, patrol};
use yarrick::ground::Cell;
use yarrick::motion::formation::{Form, Formation};
use yarrick::rng::Stream;
use yarrick::route::Shortfall;
use yarrick::scenario::Scenario;
use yarrick::world::Doing;
use yarrick::{Action, Outcome, UnitId, Vec2};

/// A wall across the map, with a gap of some cells that is blocked.
fn walled(stream: &mut Stream) -> (Flats, Vec<Cell>) {
    let (width, height) = (30, 20);
    let row = ".".repeat(width);
    let mut flats = Flats::of(&vec![row.as_str(); height]);
    let wall = 12 + stream.below(6) as i32;
    let (gap, size) = (2 + stream.below(12) as i32, 2 + stream.below(3) as i32);
    let all = (0..height as i32).map(|y| Cell::new(wall, y));
    flats.world.block(all);
    flats.run(0.1);
    (
        flats,
        (gap..gap + size).map(|y| Cell::new(wall, y)).collect(),
    )
}

fn group(flats: &mut Flats, stream: &mut Stream) -> Vec<UnitId> {
    let count = 1 + stream.below(8) as usize;
    let y = stream.between(3.0, 12.0);
    let at = |k: usize| (3.0 + (k / 3) as f32, y + (k % 3) as f32);
    (0..count)
        .map(|k| flats.put("raker", KEEPERS, at(k).0, at(k).1))
        .collect()
}

#[test]
fn whoever_was_cut_off_looks_again_when_a_gap_opens() {
    for seed in 0..100 {
        let mut stream = Stream::new(seed, "gate");
        let (mut flats, gap) = walled(&mut stream);
        let rakers = group(&mut flats, &mut stream);
        let (x, y) = (stream.between(22.0, 27.0), stream.between(4.0, 16.0));
        let form = Formation::new(Form::WORDS[stream.below(3) as usize].1);
        let to = Vec2::new(x, y);
        let march = Action::March {
            to,
            formation: form,
            fight: false,
        };
        let orders = [move_to(x, y), attack_move(x, y), march];
        flats.order(&rakers, orders[stream.below(3) as usize].clone());
        flats.run(stream.between(0.1, 2.5));
        flats.world.unblock(gap);
        flats.run(60.0);
        for raker in &rakers {
            let outcomes = flats.outcomes(*raker);
            assert!(
                matches!(outcomes[..], [(_, Outcome::Done)]),
                "seed {seed}: {outcomes:?}"
            );
        }
    }
}

#[test]
fn an_order_that_waits_is_carried_out_if_its_goal_can_be_reached_by_then() {
    let mut stream = Stream::new(3, "queue");
    let (mut flats, gap) = walled(&mut stream);
    let raker = flats.put("raker", KEEPERS, 5.0, 10.0);
    flats.order(&[raker], move_to(8.0, 10.0));
    flats.order_then(&[raker], move_to(25.0, 10.0));
    flats.run(0.5);
    flats.world.unblock(gap);
    flats.run(40.0);
    assert_eq!(flats.outcomes(raker).last().unwrap().1, Outcome::Done);
    assert!(flats.at(raker).distance(Vec2::new(25.0, 10.0)) < 0.1);
}

#[test]
fn a_goal_that_is_built_over_is_settled_round() {
    for seed in 0..100 {
        let mut stream = Stream::new(seed, "built over");
        let row = ".".repeat(30);
        let mut flats = Flats::of(&[row.as_str(); 20]);
        let rakers = group(&mut flats, &mut stream);
        let (x, y) = (stream.between(15.0, 24.0), stream.between(6.0, 14.0));
        flats.order(&rakers, move_to(x, y));
        flats.run(stream.between(0.5, 9.0));
        let early = rakers
            .iter()
            .filter(|raker| !flats.outcomes(**raker).is_empty())
            .count();
        let half = 1 + stream.below(2) as i32;
        let (cx, cy) = (x as i32, y as i32);
        let cells =
            (-half..=half).flat_map(|dx| (-half..=half).map(move |dy| Cell::new(cx + dx, cy + dy)));
        flats.world.block(cells);
        flats.run(60.0);
        for raker in rakers.iter().skip(early) {
            let outcomes = flats.outcomes(*raker);
            let is_settled = matches!(
                outcomes[..],
                [(
                    _,
                    Outcome::CameShort {
                        why: Shortfall::Closed | Shortfall::Crowded,
                        ..
                    }
                )] | [(_, Outcome::Done)]
            );
            assert!(is_settled, "seed {seed}: {outcomes:?}");
            assert!(
                flats.at(*raker).distance(Vec2::new(x, y)) < 8.0,
                "seed {seed}: {}",
                flats.at(*raker)
            );
        }
    }
}

#[test]
fn a_patrol_between_points_where_the_unit_is_stands() {
    let mut flats = Flats::open(20);
    let raker = flats.put("raker", KEEPERS, 5.0, 5.0);
    flats.order(&[raker], patrol(&[(5.0, 5.0), (5.0, 5.0)], false));
    for _ in 0..40 {
        flats.run(0.1);
        assert_eq!(flats.world.unit(raker).unwrap().doing(), Doing::Standing);
    }
    assert!(flats.outcomes(raker).is_empty());
    let to = Vec2::new(5.0, 5.0);
    assert!(flats.at(raker).distance(to) < 0.01);
}

#[test]
fn a_unit_inside_a_building_is_refused_at_its_line() {
    let text = |at: &str| {
        format!(
            r#"
            [scenario]
            title = "A hut, and a raker"
            [ground]
            rows = ["............", "............", "............", "............"]
            legend = {{ "." = {{ name = "sand" }} }}
            [[side]]
            name = "keepers"
            [[kind]]
            name = "raker"
            radius = 0.4
            speed = 1.6
            [[kind]]
            name = "hut"
            rank = "building"
            radius = 1.0
            speed = 0
            [[unit]]
            kind = "hut"
            side = "keepers"
            at = [5, 2]
            [[unit]]
            kind = "raker"
            side = "keepers"
            at = {at}"#
        )
    };
    assert!(Scenario::parse(&text("[9, 2]")).unwrap().play(None).is_ok());
    let wrong = Scenario::parse(&text("[5.5, 2]")).unwrap_err().to_string();
    assert!(
        wrong.contains("25:18") && wrong.contains("there is no room for \"raker\""),
        "{wrong}"
    );
}
