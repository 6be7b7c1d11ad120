//! Groups that meet in narrow places.

use super::{Case, OWN, all_arrive};
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
fn one_group_waits_for_the_other_before_a_passage_for_one_or_backs_out_of_it() {
    all_arrive("lane", 120.0, Some(2.0), |stream| {
        let size = (1, 3 + stream.below(18) as usize);
        two_groups(stream, size, 4, 6.0)
    });
}
