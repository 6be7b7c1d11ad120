//! Groups that meet in narrow places.

use super::{Case, FOES, OWN, all_arrive};
use yarrick::rng::Stream;
use yarrick::{Kind, Vec2};

/// Two groups on both sides of a wall. A passage leads through it, of a width and a length in cells; the second group sets out after up
/// to `later_s` seconds.
fn two_groups(stream: &mut Stream, (width, long): (usize, usize), most: u32, later_s: f32) -> Case {
    let radius_m = stream.between(0.3, 0.42);
    let kinds = vec![Kind::walker("warden", radius_m, 2.0)];
    let mut case = Case::open(30 + long, 16, kinds);
    case.wall(15..15 + long, 7..7 + width);
    let (far, middle) = (30.0 + long as f32, 9.0 - width as f32 * 0.5);
    let counts = [
        1 + stream.below(most) as usize,
        1 + stream.below(most) as usize,
    ];
    for (side, count) in counts.into_iter().enumerate() {
        for k in 0..count {
            let (back, up) = ((k / 2) as f32, (k % 2) as f32 - 0.5);
            let x = [8.0 - back, far - 8.0 + back][side];
            case.put(0, OWN, Vec2::new(x, middle + up));
        }
    }
    case.movers = case.units.len();
    case.send(0.5, 0..counts[0], Vec2::new(far - 5.0, middle));
    let second_s = 0.5 + stream.between(0.0, later_s);
    case.send(second_s, counts[0]..case.movers, Vec2::new(5.0, middle));
    case
}

#[test]
fn two_flows_pass_one_another_in_a_corridor() {
    all_arrive("flows", 120.0, Some(2.0), |stream| {
        let size = (2 + stream.below(2) as usize, 6 + stream.below(18) as usize);
        two_groups(stream, size, 12, 2.0)
    });
}

#[test]
fn one_group_waits_for_the_other_before_a_door_for_one() {
    all_arrive("door", 120.0, Some(2.0), |stream| {
        let size = (1, 1 + stream.below(3) as usize);
        two_groups(stream, size, 6, 1.5)
    });
}

#[test]
fn one_group_comes_out_of_a_door_past_the_other_that_waits_at_its_exit() {
    all_arrive("exit", 120.0, Some(2.0), |stream| {
        let kinds = vec![Kind::walker("warden", stream.between(0.31, 0.33), 2.0)];
        let mut case = Case::open(33, 16, kinds);
        case.wall(15..18, 7..8);
        for (first, back, count) in [(8.0, -1.0, 4), (25.0, 1.0, 5)] {
            for k in 0..count {
                let (rank, file) = ((k / 2) as f32, (k % 2) as f32);
                case.put(0, OWN, Vec2::new(first + back * rank, 8.0 + file));
            }
        }
        case.movers = 9;
        case.send(0.5, 0..4, Vec2::new(28.0, 8.5));
        case.send(stream.between(0.5, 0.75), 4..9, Vec2::new(5.0, 8.5));
        case
    });
}

#[test]
fn one_group_waits_for_the_other_before_a_passage_for_one_or_backs_out_of_it() {
    all_arrive("lane", 120.0, Some(2.0), |stream| {
        let size = (1, 3 + stream.below(18) as usize);
        two_groups(stream, size, 4, 6.0)
    });
}

#[test]
fn those_with_orders_of_their_own_back_out_of_a_passage_one_behind_the_other() {
    all_arrive("own orders", 120.0, Some(2.5), |stream| {
        let radius_m = stream.between(0.255, 0.3);
        let mut case = Case::open(36, 16, vec![Kind::walker("warden", radius_m, 2.0)]);
        case.wall(16..20, 7..8);
        let comers = 2 + stream.below(2) as usize;
        for k in 0..comers {
            let x = 27.0 + k as f32 + stream.between(0.0, 0.5);
            case.put(0, OWN, Vec2::new(x, 8.0 + stream.between(0.0, 1.0)));
        }
        for k in 0..3 {
            case.put(0, OWN, Vec2::new(8.0, 7.5 + k as f32));
        }
        case.movers = comers + 3;
        case.send(0.5, comers..case.movers, Vec2::new(30.0, 8.5));
        for k in 0..comers {
            case.send(0.6 + 0.1 * k as f32, [k], Vec2::new(5.0, 8.5));
        }
        case
    });
}

#[test]
fn fast_units_overtake_slow_ones_that_go_the_same_way() {
    all_arrive("overtake", 200.0, Some(1.5), |stream| {
        let (fast_m, slow_m) = (stream.between(0.3, 0.5), stream.between(0.3, 0.6));
        let kinds = vec![
            Kind::walker("raker", fast_m, stream.between(1.5, 3.0)),
            Kind::walker("sledge", slow_m, stream.between(0.4, 1.2)),
        ];
        let mut case = Case::open(80, 20, kinds);
        case.movers = 1 + stream.below(6) as usize;
        for k in 0..case.movers {
            let back = Vec2::new((k / 3) as f32, 1.0 - (k % 3) as f32) * 2.3 * fast_m;
            case.put(0, OWN, Vec2::new(8.0, 10.0) - back);
        }
        // One behind the other, exactly in line with those that come up, or three abreast.
        let files = [1, 3][stream.below(2) as usize];
        let (count, gap) = (1 + stream.below(8) as usize, stream.between(2.1, 4.0));
        let side = [OWN, OWN, FOES][stream.below(3) as usize];
        for k in 0..count {
            let (x, y) = ((k / files) as f32 * gap, (k % files) as f32 * 2.2);
            let middle = (files - 1) as f32 * 1.1;
            let at = Vec2::new(12.0, 10.0) + Vec2::new(x, y - middle) * slow_m;
            case.put(1, side, at);
        }
        case.send(0.2, case.movers..case.units.len(), Vec2::new(75.0, 10.0));
        let to = Vec2::new(50.0, 10.0 + stream.between(-4.0, 4.0));
        case.send(0.5, 0..case.movers, to);
        case
    });
}
