//! Many units at once: they end beside one another, never in walls, and every order ends.

use yarrick::motion::formation::{Form, Formation};
use yarrick::motion::steering::Turning;
use yarrick::world::{Doing, Legs};
use yarrick::{
    Action, Command, Event, Ground, Kind, Outcome, Side, SideId, Terrain, UnitId, Vec2, When,
    World, WorldSetup,
};

const KEEPERS: SideId = SideId(0);

fn world(rows: &[&str]) -> World {
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    let ground = Ground::from_rows(1.0, rows, &legend).unwrap();
    World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![
            Kind::walker("raker", 0.4, 1.6),
            Kind::walker("sledge", 0.8, 1.0),
            Kind::walker("nipper", 0.25, 3.0),
        ],
        ..WorldSetup::on(ground)
    })
    .unwrap()
}

fn spawn_block(
    world: &mut World,
    kind: &str,
    corner: Vec2,
    columns: u32,
    count: u32,
) -> Vec<UnitId> {
    let kind = world.kind(kind).unwrap();
    let spacing = world.kinds()[usize::from(kind.0)].body.radius_m * 2.4;
    (0..count)
        .map(|k| {
            let step = Vec2::new((k % columns) as f32, (k / columns) as f32);
            world
                .spawn(kind, KEEPERS, corner + step * spacing, 0.0)
                .unwrap()
        })
        .collect()
}

fn send(world: &mut World, units: &[UnitId], to: Vec2) {
    let command = Command {
        side: KEEPERS,
        units: units.to_vec(),
        action: Action::move_to(to),
        when: When::Now,
    };
    world.submit(command).unwrap();
}

/// Steps until nobody has an order, or `limit_s` is over. Checks at every tick that no unit is
/// in a wall or faster than it can be. Gives the outcomes in the order in which they came.
fn settle(world: &mut World, limit_s: f32) -> Vec<Outcome> {
    let mut outcomes = Vec::new();
    for _ in 0..(limit_s / world.tick_s()) as u32 {
        for event in world.step() {
            if let Event::Ended { outcome, .. } = event {
                outcomes.push(*outcome);
            }
        }
        for unit in world.units() {
            let (at, radius) = (unit.position(), unit.radius());
            assert!(
                world.ground().disc_is_clear(at, radius),
                "{} is in a wall",
                unit.id()
            );
            let top = unit.kind().speed() * 1.001 + 1e-3;
            assert!(unit.velocity().length() <= top, "{} is too fast", unit.id());
        }
        if world.units().all(|unit| !unit.has_orders()) {
            break;
        }
    }
    outcomes
}

/// The deepest overlap of any two units, as a part of the smaller radius.
fn worst_overlap(world: &World) -> f32 {
    let units: Vec<_> = world.units().collect();
    let mut worst = 0.0_f32;
    for (k, a) in units.iter().enumerate() {
        for b in &units[..k] {
            let gap = a.position().distance(b.position());
            let depth = a.radius() + b.radius() - gap;
            worst = worst.max(depth / a.radius().min(b.radius()));
        }
    }
    worst
}

/// Lets everybody come to rest, and checks that they stand still beside one another.
fn assert_at_rest(world: &mut World) {
    for _ in 0..(2.0 / world.tick_s()) as u32 {
        world.step();
    }
    assert!(world.units().all(|unit| unit.doing() == Doing::Standing));
    let moving = world.units().filter(|unit| unit.velocity() != Vec2::ZERO);
    assert_eq!(moving.count(), 0, "the crowd does not come to rest");
    let overlap = worst_overlap(world);
    assert!(overlap < 0.05, "two overlap by {overlap} of a radius");
}

const OPEN: [&str; 40] = ["................................................................"; 40];

/// A wall from north to south with a gap two cells wide in the middle.
fn with_a_gap() -> [&'static str; 40] {
    let mut rows = ["...............................#................................"; 40];
    rows[19] = OPEN[0];
    rows[20] = OPEN[0];
    rows
}

#[test]
fn two_hundred_sent_to_one_point_end_beside_one_another() {
    let mut world = world(&OPEN);
    let units = spawn_block(&mut world, "raker", Vec2::new(3.0, 8.0), 10, 200);
    let goal = Vec2::new(50.0, 20.0);
    send(&mut world, &units, goal);
    assert_eq!(settle(&mut world, 60.0), vec![Outcome::Done; 200]);
    assert_at_rest(&mut world);
    let farthest = world.units().map(|unit| unit.position().distance(goal));
    let farthest = farthest.fold(0.0, f32::max);
    assert!(
        farthest < 8.5,
        "one stands {farthest} m away: a disc of 200 takes 7 m"
    );
}

#[test]
fn two_groups_that_walk_through_each_other_all_arrive() {
    let mut world = world(&OPEN);
    let west = spawn_block(&mut world, "raker", Vec2::new(3.0, 15.0), 5, 50);
    let east = spawn_block(&mut world, "raker", Vec2::new(55.0, 15.0), 5, 50);
    send(&mut world, &west, Vec2::new(57.0, 20.0));
    send(&mut world, &east, Vec2::new(5.0, 20.0));
    assert_eq!(settle(&mut world, 60.0), vec![Outcome::Done; 100]);
    assert_at_rest(&mut world);
}

#[test]
fn a_hundred_find_their_way_through_a_narrow_gap() {
    let mut world = world(&with_a_gap());
    let units = spawn_block(&mut world, "raker", Vec2::new(3.0, 15.0), 10, 100);
    send(&mut world, &units, Vec2::new(50.0, 20.0));
    assert_eq!(settle(&mut world, 90.0), vec![Outcome::Done; 100]);
    assert_at_rest(&mut world);
}

#[test]
fn bodies_of_three_sizes_share_one_goal() {
    let mut world = world(&OPEN);
    let mut units = spawn_block(&mut world, "raker", Vec2::new(3.0, 5.0), 10, 40);
    units.extend(spawn_block(
        &mut world,
        "sledge",
        Vec2::new(15.0, 5.0),
        4,
        12,
    ));
    units.extend(spawn_block(
        &mut world,
        "nipper",
        Vec2::new(3.0, 30.0),
        20,
        60,
    ));
    send(&mut world, &units, Vec2::new(50.0, 20.0));
    assert_eq!(settle(&mut world, 90.0), vec![Outcome::Done; 112]);
    assert_at_rest(&mut world);
}

#[test]
fn a_body_too_wide_for_a_gap_stays_on_its_side_and_says_why() {
    let mut rows = with_a_gap();
    rows[19] = rows[0];
    let mut world = world(&rows);
    let units = spawn_block(&mut world, "sledge", Vec2::new(5.0, 20.0), 1, 1);
    send(&mut world, &units, Vec2::new(50.0, 20.0));
    let outcomes = settle(&mut world, 90.0);
    let [Outcome::CameShort { why, by_m }] = outcomes[..] else {
        panic!("{outcomes:?}");
    };
    assert_eq!(why, yarrick::route::Shortfall::CutOff);
    assert!((19.0..21.0).contains(&by_m), "{by_m}");
}

#[test]
fn units_put_into_one_spot_get_out_of_one_another() {
    let mut world = world(&OPEN);
    let raker = world.kind("raker").unwrap();
    for _ in 0..30 {
        world
            .spawn(raker, KEEPERS, Vec2::new(20.0, 20.0), 0.0)
            .unwrap();
    }
    for _ in 0..200 {
        world.step();
    }
    assert_at_rest(&mut world);
}

mod any {
    use super::*;
    use proptest::prelude::*;

    /// A body somewhere, of a kind, that is sent somewhere, alone or in formation.
    type Body = (u8, (f32, f32), (f32, f32), bool);

    fn bodies() -> impl Strategy<Value = Vec<Body>> {
        let place = || (0.5_f32..19.5, 0.5_f32..11.5);
        proptest::collection::vec((0_u8..4, place(), place(), any::<bool>()), 2..70)
    }

    fn kinds() -> Vec<Kind> {
        let free = |name: &str, radius, speed| Kind::walker(name, radius, speed);
        vec![
            free("raker", 0.4, 1.6),
            free("nipper", 0.25, 3.0),
            free("warden", 0.45, 2.0).with_legs(Legs {
                acceleration: Some(2.0),
                ..Legs::of_speed(2.0)
            }),
            free("sledge", 0.6, 1.5).with_legs(Legs {
                acceleration: Some(1.5),
                turning: Turning::Driving { circle_m: 1.0 },
                ..Legs::of_speed(1.5)
            }),
        ]
    }

    proptest! {
        // Each a crowd for eight seconds.
        #![proptest_config(ProptestConfig { cases: 128, failure_persistence: None, ..ProptestConfig::default() })]

        #[test]
        fn random_crowds_stay_out_of_walls_within_their_speeds_and_are_numbers(
            cells in proptest::collection::vec(proptest::bool::weighted(0.12), 240), bodies in bodies(),
            threads in 1_usize..4,
        ) {
            let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
            let classes = cells.iter().map(|closed| u8::from(*closed)).collect();
            let ground = Ground::new(20, 12, 1.0, terrains, classes).unwrap();
            let setup = WorldSetup { sides: vec![Side::new("keepers")], kinds: kinds(), ..WorldSetup::on(ground) };
            let mut world = World::new(setup).unwrap();
            world.set_threads(threads);
            for (k, (kind, at, to, marches)) in bodies.iter().enumerate() {
                let kind = yarrick::world::KindId(u16::from(*kind));
                let Ok(unit) = world.spawn(kind, KEEPERS, Vec2::from(*at), k as f32) else {
                    continue;
                };
                let to = Vec2::from(*to);
                let formation = Formation::new(Form::WORDS[k % 5].1);
                let action = match marches {
                    true => Action::March { to, formation, fight: false },
                    false => Action::move_to(to),
                };
                world.submit(Command { side: KEEPERS, units: vec![unit], action, when: When::Now }).unwrap();
            }
            for _ in 0..160 {
                world.step();
                for unit in world.units() {
                    let (at, velocity) = (unit.position(), unit.velocity());
                    prop_assert!(at.is_finite() && velocity.is_finite() && unit.facing().is_finite());
                    prop_assert!(world.ground().disc_is_clear(at, unit.radius()), "{} at {at}", unit.id());
                    prop_assert!(velocity.length() <= unit.kind().speed() * 1.001 + 1e-3, "{velocity}");
                    let before = world.pose(unit.id(), 0.0).unwrap().position;
                    prop_assert!(world.ground().line_is_clear(before, at, unit.radius() * 0.5), "through a wall");
                }
            }
        }
    }
}
