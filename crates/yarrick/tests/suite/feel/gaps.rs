//! Gaps between bodies that stand, and pockets that they form.

use super::{CASES, Case, FOES, OWN, around, movers_and_standers};
use yarrick::rng::Stream;
use yarrick::{Outcome, Vec2};

/// A row of foes across a hall, with one gap wide enough for a body. Gives the length of the way through it as well, in metres.
fn row_with_a_gap(stream: &mut Stream) -> (Case, f32) {
    let (own_m, their_m) = (stream.between(0.25, 0.7), stream.between(0.25, 0.7));
    let kinds = movers_and_standers(own_m, their_m);
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
    (case, start.distance(gap) + gap.distance(to))
}

/// Checks that the first unit of a case arrives, in the time in which it walks so many metres.
fn arrives_within(case: &Case, seed: u64, metres: f32) {
    let end = case.play(None, 60.0)[0];
    let Some((Outcome::Done, took_s)) = end else {
        panic!("{seed}: ended with {end:?}");
    };
    let most_s = metres / case.kinds[0].speed() + 0.5;
    assert!(took_s <= most_s, "{seed}: {took_s} s, not {most_s} s");
}

#[test]
fn one_goes_through_the_only_gap_in_a_row_of_foes() {
    for seed in 0..CASES {
        let (case, way_m) = row_with_a_gap(&mut Stream::new(seed, "row of foes"));
        arrives_within(&case, seed, 1.5 * way_m);
    }
}

/// Those that stand round a pocket across the straight way from (3, 6.5) to (21, 6.6), which can be entered from behind alone.
const ROUND_A_POCKET: [(f32, f32); 15] = [
    (17.38, 6.87),
    (15.02, 4.63),
    (16.35, 4.62),
    (14.83, 7.56),
    (17.84, 5.80),
    (19.90, 7.30),
    (13.88, 11.11),
    (16.01, 8.12),
    (5.25, 6.15),
    (6.54, 3.77),
    (13.32, 3.26),
    (12.71, 5.12),
    (12.09, 6.98),
    (11.48, 8.85),
    (10.86, 10.71),
];

/// Foes round the pocket, each a little off, on either side. Gives the length of the way past it as well, in metres.
fn pocket(stream: &mut Stream) -> (Case, f32) {
    let mut case = Case::open(25, 12, movers_and_standers(0.64, 0.57));
    case.movers = 1;
    let is_mirrored = stream.below(2) == 0;
    let on_side = |(x, y): (f32, f32)| Vec2::new(x, if is_mirrored { 12.0 - y } else { y });
    case.put(0, OWN, on_side((3.17, 6.54)));
    for at in ROUND_A_POCKET {
        case.put(1, FOES, around(stream, on_side(at), 0.03));
    }
    let way = [(3.17, 6.54), (13.3, 1.9), (18.7, 4.8), (21.1, 6.61)].map(on_side);
    case.send(0.5, [0], way[3]);
    let legs = way.windows(2).map(|leg| leg[0].distance(leg[1]));
    (case, legs.sum())
}

#[test]
fn one_passes_a_pocket_from_which_no_way_leads_on() {
    for seed in 0..CASES {
        let (case, way_m) = pocket(&mut Stream::new(seed, "pocket"));
        arrives_within(&case, seed, 1.6 * way_m);
    }
}
