//! Goals that others leave no way to.

use super::{CASES, Case, FOES, OWN, around, block, ended_well};
use yarrick::rng::Stream;
use yarrick::world::Outcome;
use yarrick::{Action, Kind, Vec2};

/// Checks that all orders of the movers end well, and soon.
fn all_end(class: &str, within_s: f32, make: impl Fn(&mut Stream) -> Case) -> Vec<Outcome> {
    let mut outcomes = Vec::new();
    for seed in 0..CASES {
        let case = make(&mut Stream::new(seed, class));
        let ends = case.play(None, 120.0);
        for (k, end) in ends.iter().enumerate() {
            let is_soon = end.is_some_and(|(_, took_s)| took_s <= within_s);
            assert!(ended_well(end) && is_soon, "{class} {seed}: {k}: {end:?}");
        }
        outcomes.extend(ends.iter().flatten().map(|(outcome, _)| *outcome));
    }
    outcomes
}

/// A few that are sent into the midst of bodies that stand. Between these there may be room, but no way in.
fn into_a_block(stream: &mut Stream) -> Case {
    let radius_m = stream.between(0.3, 0.6);
    let kinds = vec![
        Kind::walker("warden", radius_m, 2.0),
        Kind::walker("hulk", stream.between(0.5, 1.1), 1.5).with_health(0.0),
    ];
    let mut case = Case::open(36, 24, kinds);
    case.movers = 1 + stream.below(5) as usize;
    for k in 0..case.movers {
        let step = Vec2::new((k / 3) as f32, (k % 3) as f32) * 2.5 * radius_m;
        case.put(0, OWN, Vec2::new(4.0, 11.0) + step);
    }
    let middle = Vec2::new(26.0, 12.0);
    let side = [OWN, FOES][stream.below(2) as usize];
    let size = (2 + stream.below(2), 2 + stream.below(2));
    for at in block(
        middle,
        size,
        stream.between(2.3, 2.7),
        stream.between(0.0, 3.0),
    ) {
        case.put(1, side, at);
    }
    if side == OWN {
        let standing = (case.movers..case.units.len()).collect();
        case.orders.push((0.0, standing, Action::Hold));
    }
    let to = around(stream, middle, 1.0);
    case.send(0.5, 0..case.movers, to);
    case
}

#[test]
fn a_few_stop_where_others_have_taken_their_places_meanwhile() {
    all_end("taken", 40.0, |stream| {
        let kinds = vec![
            Kind::walker("warden", stream.between(0.3, 0.45), 2.0),
            Kind::walker("nipper", stream.between(0.3, 0.6), 2.0),
        ];
        let mut case = Case::open(40, 24, kinds);
        case.movers = 1 + stream.below(4) as usize;
        for k in 0..case.movers {
            case.put(0, OWN, Vec2::new(8.0, 10.0 + k as f32));
        }
        let to = Vec2::new(28.0, 12.0);
        case.send(0.1, 0..case.movers, to);
        let size = (1 + stream.below(5), 1 + stream.below(5));
        let step_m = stream.between(0.95, 1.55);
        case.held = block(around(stream, to, 0.6), size, step_m, 0.0);
        case
    });
}

#[test]
fn a_unit_with_no_way_into_a_block_of_others_stops_as_near_as_it_can_get() {
    let outcomes = all_end("block", 45.0, into_a_block);
    let short = |outcome: &&Outcome| matches!(outcome, Outcome::CameShort { .. });
    let short = outcomes.iter().filter(short).count();
    assert!((10..outcomes.len()).contains(&short), "{short}");
}

#[test]
fn idle_units_in_a_dead_end_move_up_as_far_as_there_is_room() {
    all_end("dead end", 100.0, |stream| {
        let (width, long) = (1 + stream.below(3) as usize, 4 + stream.below(14) as usize);
        let radius_m = stream.between(0.25, 0.45);
        let mut case = Case::open(20 + long, 13, vec![Kind::walker("warden", radius_m, 2.0)]);
        case.wall(12..12 + long, 6..6 + width);
        case.wall(12 + long..20 + long, 0..0);
        case.movers = 1 + stream.below(4) as usize;
        for k in 0..case.movers {
            let step = Vec2::new((k / 2) as f32, (k % 2) as f32);
            case.put(0, OWN, Vec2::new(6.0, 6.0) + step);
        }
        let middle = Vec2::new(12.0 + long as f32 * 0.5, 7.0 - width as f32 * 0.5);
        let free = Vec2::new(long as f32, width as f32) * 0.5 - (radius_m + 0.01);
        let idle = 1 + stream.below((long as f32 / (2.2 * radius_m)).min(6.0) as u32);
        for _ in 0..300 {
            let off = Vec2::new(stream.between(-1.0, 1.0), stream.between(-1.0, 1.0));
            let at = middle + off * free;
            let is_free = |unit: &super::Start| unit.at.distance(at) > 2.05 * radius_m;
            if case.units.len() < case.movers + idle as usize && case.units.iter().all(is_free) {
                case.put(0, OWN, at);
            }
        }
        let deep_m = stream.between(0.0, free.x);
        case.send(0.5, 0..case.movers, middle + Vec2::X * deep_m);
        case
    });
}

#[test]
fn nobody_walks_away_from_a_goal_near_which_there_is_no_room() {
    let crowded = |stream: &mut Stream| {
        let kinds = vec![Kind::walker("warden", stream.between(0.42, 0.46), 2.0)];
        let mut case = Case::open(44, 5, kinds);
        case.wall(0..44, 1..4);
        case.movers = 1;
        // West of 20 m the passage is full of units that hold, from there to 31 m of idle ones. East of that it is empty.
        case.put(0, OWN, Vec2::new(24.5, 2.5));
        for x in 0..31 {
            for y in [1.5, 2.5, 3.5] {
                let at = Vec2::new(x as f32 + 0.5, y);
                if at != case.units[0].at {
                    case.put(0, OWN, at);
                }
            }
        }
        let holding = (1..case.units.len()).filter(|k| case.units[*k].at.x < 20.0);
        let holding = holding.collect();
        case.orders.push((0.0, holding, Action::Hold));
        case.send(0.5, [0], Vec2::new(stream.between(3.0, 8.0), 2.5));
        case
    };
    for outcome in all_end("full", 60.0, crowded) {
        let off_m = match outcome {
            Outcome::CameShort { by_m, .. } => by_m,
            _ => 0.0,
        };
        assert!(off_m <= 24.5 - 3.0 + 0.5, "{outcome:?}");
    }
}
