//! Patrols: members that meet one another, and posts on which others stand.

use super::{Case, OWN, around, block, come_to_hold, order};
use yarrick::rng::Stream;
use yarrick::{Action, Kind, Side, Vec2, World, WorldSetup};

/// How often units crossed a line across the way of a patrol in a minute, each, and the longest that one stood still, in seconds.
struct Minute {
    crossed: Vec<u32>,
    stood_s: f32,
}

/// Sends units at some places to patrol between these and a post. Others come to hold some places when they are under way.
fn patrol(kind: &Kind, starts: &[Vec2], post: Vec2, held: &[Vec2]) -> Minute {
    let ground = Case::open(60, 24, Vec::new()).ground();
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![kind.clone()],
        ..WorldSetup::on(ground)
    })
    .unwrap();
    let kind = world.kind(&kind.name).unwrap();
    let put = |at: &Vec2| world.spawn(kind, OWN, *at, 0.0).unwrap();
    let units: Vec<_> = starts.iter().map(put).collect();
    let points = vec![post];
    let action = Action::Patrol {
        points,
        round: false,
    };
    order(&mut world, (units.clone(), OWN), action);
    let line = 0.5 * (starts[0].x + post.x);
    let (mut last, mut still) = (starts.to_vec(), vec![0; units.len()]);
    let (mut crossed, mut longest) = (vec![0; units.len()], 0);
    for tick in 0..60 * 20 {
        world.step();
        come_to_hold(&mut world, (tick, kind), held);
        for (k, unit) in units.iter().enumerate() {
            let at = world.unit(*unit).unwrap().position();
            crossed[k] += u32::from((at.x < line) != (last[k].x < line));
            let stands = at.distance(last[k]) < 0.02;
            still[k] = if stands { still[k] + 1 } else { 0 };
            (last[k], longest) = (at, longest.max(still[k]));
        }
    }
    let stood_s = longest as f32 * world.tick_s();
    Minute { crossed, stood_s }
}

#[test]
fn those_who_have_turned_back_pass_those_who_still_come() {
    for seed in 0..30 {
        let mut stream = Stream::new(seed, "patrols");
        let kind = Kind::walker("warden", stream.between(0.3, 0.45), 2.0);
        let (from, long) = (stream.between(8.0, 12.0), stream.between(10.0, 30.0));
        let count = 2 + stream.below(30);
        let mut place = |k: u32| {
            let back = (k / 4) as f32 + stream.between(-0.1, 0.1);
            Vec2::new(from - back, 10.5 + (k % 4) as f32)
        };
        let starts: Vec<Vec2> = (0..count).map(&mut place).collect();
        let post = Vec2::new(from + long, 12.0);
        let alone = patrol(&kind, &starts[..1], post, &[]).crossed[0];
        let all = patrol(&kind, &starts, post, &[]);
        let least = all.crossed.iter().min().unwrap();
        assert!(
            2 * least >= alone && all.stood_s < 2.0,
            "{seed}: {count} crossed {:?} times, one alone {alone}; one stood for {} s",
            all.crossed,
            all.stood_s
        );
    }
}

#[test]
fn a_post_on_which_others_stand_is_left_for_the_next_beside_them() {
    for seed in 0..30 {
        let mut stream = Stream::new(seed, "taken posts");
        let kind = Kind::walker("warden", stream.between(0.3, 0.45), 2.0);
        let (start, post) = (Vec2::new(10.0, 12.0), Vec2::new(24.0, 12.0));
        let size = (1 + stream.below(5), 1 + stream.below(5));
        let step_m = stream.between(0.9, 1.4);
        let parked = block(around(&mut stream, post, 0.3), size, step_m, 0.0);
        let alone = patrol(&kind, &[start], post, &[]);
        let beside = patrol(&kind, &[start], post, &parked);
        let enough = beside.crossed[0] + 1 >= alone.crossed[0];
        assert!(
            enough && beside.stood_s < 2.0,
            "{seed}: crossed {:?} times, alone {:?}; stood for {} s",
            beside.crossed,
            alone.crossed,
            beside.stood_s
        );
    }
}
