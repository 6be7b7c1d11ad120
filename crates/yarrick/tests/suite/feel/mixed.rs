//! Bodies of all sizes, and some that stand, on both sides of a gap.

use super::{CASES, Case, FOES, OWN, around, ended_well};
use yarrick::rng::Stream;
use yarrick::{Action, Kind, Vec2};

/// The distance between the points of the slow search, in metres.
const STEP_M: f32 = 0.1;

/// Up to three groups are sent to anywhere twice, past up to three clumps of bodies that stand.
fn on_both_sides(stream: &mut Stream) -> Case {
    let mut kind = |name| Kind::walker(name, stream.between(0.2, 1.2), stream.between(0.6, 4.0));
    let kinds = ["warden", "raker", "hulk"].map(|name| kind(name).with_health(0.0));
    let mut case = Case::open(32, 20, kinds.to_vec());
    let gap = 1 + stream.below(14) as usize;
    let long = 1 + stream.below(6) as usize;
    case.wall(15..15 + long, gap..gap + 1 + stream.below(4) as usize);
    let groups: Vec<Vec<usize>> = (0..1 + stream.below(3))
        .map(|_| put_some(&mut case, stream, OWN, 5))
        .collect();
    case.movers = case.units.len();
    for _ in 0..stream.below(4) {
        let side = [OWN, FOES][stream.below(2) as usize];
        let standing = put_some(&mut case, stream, side, 10);
        if stream.below(2) == 0 && !standing.is_empty() {
            case.orders.push((0.0, standing, Action::Hold));
        }
    }
    for group in groups.into_iter().filter(|group| !group.is_empty()) {
        for from_s in [0.0, 4.0] {
            let to = anywhere(stream);
            case.send(from_s + stream.between(0.1, 3.0), group.clone(), to);
        }
    }
    case
}

fn anywhere(stream: &mut Stream) -> Vec2 {
    Vec2::new(stream.between(0.0, 32.0), stream.between(0.0, 20.0))
}

/// Puts up to `most` units of a kind round a point, where there is room. Gives their numbers.
fn put_some(case: &mut Case, stream: &mut Stream, side: yarrick::SideId, most: u32) -> Vec<usize> {
    let (ground, middle) = (case.ground(), anywhere(stream));
    let kind = stream.below(3) as usize;
    let first = case.units.len();
    for _ in 0..1 + stream.below(most) {
        let at = around(stream, middle, 4.0);
        let radius = case.kinds[kind].body.radius_m;
        let apart = |other: usize| case.kinds[other].body.radius_m + radius;
        let is_free = |case: &Case| {
            let others = &case.units;
            others
                .iter()
                .all(|unit| unit.at.distance(at) > apart(unit.kind) * 1.02)
        };
        if ground.disc_is_clear(at, radius) && is_free(case) {
            case.put(kind, side, at);
        }
    }
    (first..case.units.len()).collect()
}

/// Whether a way leads from the start of a unit to about its last goal, past all foes and all that hold: the slow, obvious search on a grid.
fn a_way_leads(case: &Case, k: usize) -> bool {
    let start = case.units[k];
    let radius = case.kinds[start.kind].body.radius_m;
    let mine = |(_, units, _): &&(f32, Vec<usize>, Action)| units.contains(&k);
    let last = case
        .orders
        .iter()
        .filter(mine)
        .max_by(|a, b| a.0.total_cmp(&b.0));
    let Some((_, _, Action::Move { to, .. })) = last else {
        return false;
    };
    let holds = |other: usize| {
        let mut orders = case.orders.iter();
        orders.any(|(_, units, action)| units.contains(&other) && *action == Action::Hold)
    };
    let others = case.units.iter().enumerate();
    let firm: Vec<(Vec2, f32)> = others
        .filter(|(other, unit)| *other != k && (unit.side != start.side || holds(*other)))
        .map(|(_, unit)| (unit.at, case.kinds[unit.kind].body.radius_m + radius))
        .collect();
    let ground = case.ground();
    let is_free = |at: Vec2| {
        ground.disc_is_clear(at, radius)
            && firm
                .iter()
                .all(|(other, apart)| at.distance(*other) > *apart)
    };
    let mut seen = std::collections::BTreeSet::new();
    let cell = |at: Vec2| ((at.x / STEP_M) as i32, (at.y / STEP_M) as i32);
    let mut open = vec![cell(start.at)];
    while let Some((x, y)) = open.pop() {
        for next in [(x + 1, y), (x - 1, y), (x, y + 1), (x, y - 1)] {
            let at = Vec2::new(next.0 as f32, next.1 as f32) * STEP_M;
            if is_free(at) && seen.insert(next) {
                if at.distance(*to) < radius.max(0.5) {
                    return true;
                }
                open.push(next);
            }
        }
    }
    false
}

#[test]
fn bodies_of_all_sizes_come_to_an_end_past_those_that_stand() {
    for seed in 0..CASES {
        let case = on_both_sides(&mut Stream::new(seed, "mixed"));
        for (k, end) in case.play(None, 200.0).iter().enumerate() {
            let had_order = case.orders.iter().any(|(_, units, _)| units.contains(&k));
            assert!(
                end.is_some() || !had_order,
                "mixed {seed}: {k} has not ended"
            );
            let is_well = !had_order || ended_well(end);
            assert!(
                is_well || !a_way_leads(&case, k),
                "mixed {seed}: {k}: {end:?}"
            );
        }
    }
}
