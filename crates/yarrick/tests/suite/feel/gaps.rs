//! Gaps between those that stand, and pockets among them.

use super::{CASES, Case, FOES, OWN, all_arrive, around};
use yarrick::geom::angle;
use yarrick::rng::Stream;
use yarrick::{Kind, Outcome, Vec2};

/// A row of foes across a hall, with one gap for a body. Gives the middle of the gap as well.
fn row_with_a_gap(stream: &mut Stream) -> (Case, Vec2) {
    let (own_m, their_m) = (stream.between(0.25, 0.7), stream.between(0.25, 0.7));
    let kinds = vec![
        Kind::walker("warden", own_m, 2.0),
        Kind::walker("nipper", their_m, 2.0).with_health(0.0),
    ];
    let mut case = Case::open(24, 8 + stream.below(6) as usize, kinds);
    let height_m = case.rows.len() as f32;
    case.movers = 1;
    let start = Vec2::new(3.0, stream.between(1.0, height_m - 1.0));
    case.put(0, OWN, start);
    let closed_m = 2.0 * their_m + own_m * stream.between(0.0, 1.6);
    let open_m = 2.0 * (own_m + their_m) * 1.02 + own_m * stream.between(0.15, 0.6);
    let mut at = Vec2::new(12.0, their_m + 0.01);
    let count = 2 + ((height_m - 2.0 * at.y - open_m) / closed_m) as u32;
    let gap_at = 1 + stream.below(count - 1);
    let mut gap = at;
    for k in 1..=count {
        case.put(1, FOES, at);
        let next = at + Vec2::Y * if k == gap_at { open_m } else { closed_m };
        if k == gap_at {
            gap = at.midpoint(next);
        }
        at = next;
    }
    let to = Vec2::new(20.0, stream.between(1.0, height_m - 1.0));
    case.send(0.5, [0], to);
    (case, gap)
}

#[test]
fn one_goes_through_the_only_gap_in_a_row_of_foes() {
    for seed in 0..CASES {
        let mut stream = Stream::new(seed, "row of foes");
        let (case, gap) = row_with_a_gap(&mut stream);
        let end = case.play(None, 60.0)[0];
        let Some((Outcome::Done, took_s)) = end else {
            panic!("{seed}: ended with {end:?}");
        };
        let from = case.units[0].at;
        let yarrick::Action::Move { to, .. } = case.orders[0].2 else {
            panic!("it is sent to a point");
        };
        let by_the_gap_s = (from.distance(gap) + gap.distance(to)) / 2.0;
        assert!(
            took_s <= 1.5 * by_the_gap_s + 0.5,
            "{seed}: {took_s} s, {by_the_gap_s} s by the gap"
        );
    }
}

#[test]
fn one_passes_a_pocket_that_opens_towards_its_goal() {
    all_arrive("pocket", 60.0, Some(1.8), |stream| {
        let (own_m, their_m) = (stream.between(0.3, 0.5), stream.between(0.3, 0.6));
        let kinds = vec![
            Kind::walker("warden", own_m, 2.0),
            Kind::walker("nipper", their_m, 2.0).with_health(0.0),
        ];
        let mut case = Case::open(34, 20, kinds);
        case.movers = 1;
        let middle = around(stream, Vec2::new(14.0, 10.0), 1.0);
        case.put(0, OWN, Vec2::new(4.0, middle.y + stream.between(-1.0, 1.0)));
        let pocket_m = stream.between(2.5, 4.0);
        let step = (2.0 * their_m + own_m) / pocket_m;
        let opens = stream.between(0.5, 0.8);
        let mut turn = opens;
        while turn < core::f32::consts::TAU - opens {
            case.put(1, FOES, middle + angle::direction(turn) * pocket_m);
            turn += step;
        }
        let to = Vec2::new(30.0, middle.y + stream.between(-1.0, 1.0));
        case.send(0.5, [0], to);
        case
    });
}
