//! Places round a target: those that come up to a unit spread round it, and the rest wait behind.

use crate::doors::Doors as _;
use core::f32::consts::TAU;
use proptest::prelude::*;
use yarrick::combat::Weapon;
use yarrick::geom::{Block, Vec2, angle};
use yarrick::motion::{OnRim, Rim};
use yarrick::rng::Stream;
use yarrick::world::Doing;
use yarrick::{
    Action, Command, Event, Ground, Kind, Outcome, Side, SideId, Terrain, UnitId, When, World,
    WorldSetup,
};

proptest! {
    #[test]
    fn a_rim_lies_at_one_distance_from_its_body_and_its_nearest_point_is_the_nearest(
        half in (0.0_f32..4.0, 0.0_f32..4.0), facing in -4.0_f32..4.0, off_m in 0.05_f32..3.0,
        point in (-9.0_f32..9.0, -9.0_f32..9.0), along in 0.0_f32..1.0,
    ) {
        let body = Block { centre: Vec2::new(0.5, -0.25), half: half.into(), facing };
        let rim = Rim::round_block(&body, off_m);
        let at = rim.at(along * rim.length_m());
        prop_assert!((body.distance(at) - off_m).abs() < 1e-3, "{} m off", body.distance(at));
        let point = Vec2::from(point);
        let nearest_m = rim.at(rim.nearest(point)).distance(point);
        let samples = (0..2000).map(|k| rim.at(k as f32 / 2000.0 * rim.length_m()).distance(point));
        let least_m = samples.fold(f32::INFINITY, f32::min);
        prop_assert!(nearest_m <= least_m + 1e-3, "{} m, where {} m could be", nearest_m, least_m);
    }
}

proptest! {
    #[test]
    fn those_who_close_up_stay_apart_and_move_no_farther_than_they_may(
        size in 0.5_f32..3.0, is_round in proptest::bool::ANY, most_m in 0.1_f32..1.0,
        gaps in proptest::collection::vec((0.0_f32..0.5, proptest::bool::weighted(0.8)), 2..12),
    ) {
        let body = Block { centre: Vec2::ZERO, half: Vec2::splat(size), facing: 0.3 };
        let rim = if is_round {
            Rim::round_disc(Vec2::ZERO, size, 0.5)
        } else {
            Rim::round_block(&body, 0.5)
        };
        let radius_m = 0.3;
        let mut along_m = 0.0;
        let bodies: Vec<OnRim> = gaps.iter().map(|&(gap_m, moves)| {
            along_m += 0.65 + gap_m;
            OnRim { along_m, radius_m, moves }
        }).collect();
        prop_assume!(along_m + 0.3 < rim.length_m());
        for opening in rim.openings(&bodies, radius_m, (1.0, most_m)) {
            let mut places: Vec<f32> = bodies.iter().map(|body| body.along_m).collect();
            for &(number, to) in &opening.moved {
                let way = (to - places[number]).abs();
                prop_assert!(bodies[number].moves && way.min(rim.length_m() - way) <= most_m + 1e-3);
                places[number] = to;
            }
            places.push(opening.along_m);
            places.sort_by(f32::total_cmp);
            let next = places.iter().skip(1).chain([&places[0]]);
            for (a, b) in places.iter().zip(next) {
                let along_m = (b - a).rem_euclid(rim.length_m());
                prop_assert!(along_m >= 0.6 - 1e-3, "{} m along the rim", along_m);
                prop_assert!(!is_round || rim.at(*a).distance(rim.at(*b)) >= 0.6 - 1e-3);
            }
        }
    }
}

/// A siege: units with a short weapon before a body that does not strike back.
struct Siege {
    world: World,
    units: Vec<UnitId>,
    target: UnitId,
    range_m: f32,
    failures: usize,
}

impl Siege {
    fn new(body: Kind, (radius, range_m, count): (f32, f32, usize)) -> Siege {
        let places = (0..count).map(|k| Vec2::new(2.0 + (k / 6) as f32, 12.0 + (k % 6) as f32));
        let places = places.map(|at| at * Vec2::new(2.3 * radius, 1.0));
        let row = ".".repeat(36);
        Siege::on(
            &[row.as_str(); 30],
            (body, Vec2::new(20.0, 15.0)),
            (radius, range_m),
            places,
        )
    }

    /// A house of 3 by 3 m, a metre from a wall, and units on both sides of that.
    fn beside_a_wall(radius: f32, count: usize) -> Siege {
        let (open, walled) = (
            ".".repeat(36),
            format!("{}#{}", ".".repeat(22), ".".repeat(13)),
        );
        let row = |y: usize| {
            if (4..26).contains(&y) {
                walled.as_str()
            } else {
                open.as_str()
            }
        };
        let rows: Vec<&str> = (0..30).map(row).collect();
        let columns = |k: usize| [3.0, 32.0][k % 2] + (k / 8) as f32 * 1.4;
        let places = (0..count).map(|k| Vec2::new(columns(k), 10.0 + (k / 2 % 4) as f32 * 1.4));
        let house = Kind::building("hut", Vec2::splat(3.0));
        Siege::on(
            &rows,
            (house, Vec2::new(19.5, 14.5)),
            (radius, 0.45),
            places,
        )
    }

    fn on(
        rows: &[&str],
        (body, at): (Kind, Vec2),
        (radius, range_m): (f32, f32),
        places: impl Iterator<Item = Vec2>,
    ) -> Siege {
        let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
        let ground = Ground::from_rows(1.0, rows, &legend).unwrap();
        let weapon = Weapon {
            range_m,
            damage: 1.0,
            cooldown_s: 1.0,
            ..Weapon::PLAIN
        };
        let mut world = World::new(WorldSetup {
            sides: vec![Side::new("keepers"), Side::new("tide")],
            kinds: vec![
                Kind::walker("nipper", radius, 2.0).armed(weapon),
                body.with_health(1e6),
            ],
            ..WorldSetup::on(ground)
        })
        .unwrap();
        let kinds =
            ["nipper", &world.kinds()[1].name.clone()].map(|name| world.kind(name).unwrap());
        let target = world.put_in(kinds[1], SideId(1), at);
        let units = places.map(|at| world.put_in(kinds[0], SideId(0), at));
        let units: Vec<UnitId> = units.collect();
        let mut siege = Siege {
            world,
            units,
            target,
            range_m,
            failures: 0,
        };
        let action = Action::Attack { target };
        siege.order(SideId(0), siege.units.clone(), action);
        siege
    }

    fn order(&mut self, side: SideId, units: Vec<UnitId>, action: Action) {
        self.world
            .submit(Command {
                side,
                units,
                action,
                when: When::Now,
            })
            .unwrap();
    }

    fn run(&mut self, seconds: f32) {
        for _ in 0..(seconds / self.world.tick_s()) as u32 {
            let failed = |event: &&Event| {
                matches!(
                    event,
                    Event::Ended {
                        outcome: Outcome::Failed { .. },
                        ..
                    }
                )
            };
            self.failures += self.world.step().iter().filter(failed).count();
        }
    }

    fn gap_m(&self, unit: UnitId) -> f32 {
        let (unit, target) = (
            self.world.unit(unit).unwrap(),
            self.world.unit(self.target).unwrap(),
        );
        let edge_m = match target.block() {
            Some(block) => block.distance(unit.position()),
            None => unit.position().distance(target.position()) - target.radius(),
        };
        edge_m - unit.radius()
    }

    fn strikers(&self) -> usize {
        let strikes = |unit: &&UnitId| {
            let doing = self.world.unit(**unit).unwrap().doing();
            doing == Doing::Striking && self.gap_m(**unit) <= self.range_m + 1e-3
        };
        self.units.iter().filter(strikes).count()
    }
}

#[test]
fn twelve_strike_a_body_and_twenty_four_a_house() {
    let hulk = Kind::walker("hulk", 1.2, 0.0);
    let mut siege = Siege::new(hulk, (0.4, 1.0, 12));
    siege.run(25.0);
    assert_eq!((siege.strikers(), siege.failures), (12, 0));
    let hut = Kind::building("hut", Vec2::new(4.0, 3.0));
    let mut siege = Siege::new(hut, (0.4, 1.0, 24));
    siege.run(40.0);
    assert_eq!((siege.strikers(), siege.failures), (24, 0));
}

#[test]
fn as_many_strike_as_there_is_room_for_and_the_rest_wait() {
    for seed in 0..100 {
        let mut stream = Stream::new(seed, "siege");
        let (radius, range_m) = (stream.between(0.3, 0.6), stream.between(0.5, 1.5));
        let count = 2 + stream.below(26) as usize;
        let is_house = stream.below(2) == 0;
        let size = Vec2::new(stream.between(1.5, 5.0), stream.between(1.5, 5.0));
        let around = stream.between(0.4, 1.6);
        let (body, length_m) = if is_house {
            (Kind::building("hut", size), 2.0 * (size.x + size.y))
        } else {
            (Kind::walker("hulk", around, 0.0), TAU * around)
        };
        let mut siege = Siege::new(body, (radius, range_m, count));
        siege.run(60.0);
        // Where a unit stands by itself, up to a body's width of the rim is lost.
        let rim_m = length_m + TAU * (radius + range_m * 0.87);
        let room = (rim_m / (2.0 * radius * 1.04) * 0.75) as usize;
        assert!(
            siege.strikers() >= count.min(room),
            "seed {seed}: {} of {count}, room {room}",
            siege.strikers()
        );
        assert_eq!(siege.failures, 0, "seed {seed}");
    }
}

#[test]
fn those_that_wait_move_up_when_a_place_becomes_free() {
    let mut siege = Siege::new(Kind::walker("hulk", 0.4, 0.0), (0.5, 0.5, 14));
    siege.run(30.0);
    let full = siege.strikers();
    assert!(full < 14, "{full}");
    let doing = |unit: &UnitId| siege.world.unit(*unit).unwrap().doing();
    let waiting = siege
        .units
        .iter()
        .filter(|unit| doing(unit) == Doing::Waiting);
    assert_eq!(waiting.count(), 14 - full);
    let striking: Vec<UnitId> = siege
        .units
        .iter()
        .copied()
        .filter(|unit| siege.gap_m(*unit) <= 0.5)
        .take(3)
        .collect();
    siege.order(
        SideId(0),
        striking.clone(),
        Action::move_to(Vec2::new(3.0, 3.0)),
    );
    siege.run(25.0);
    assert!(
        siege.strikers() + 1 >= full,
        "{} of {full}",
        siege.strikers()
    );
}

#[test]
fn a_target_that_walks_is_struck_from_all_sides_once_it_stands() {
    let mut siege = Siege::new(Kind::walker("hulk", 1.0, 1.0), (0.4, 1.0, 10));
    siege.order(
        SideId(1),
        vec![siege.target],
        Action::move_to(Vec2::new(28.0, 20.0)),
    );
    siege.run(40.0);
    assert_eq!((siege.strikers(), siege.failures), (10, 0));
}

/// Six stand evenly on a rim that holds eight: a seventh finds room only if they close up.
#[test]
fn those_who_stand_on_a_rim_close_up_for_one_more() {
    let row = ".".repeat(36);
    for seed in 0..20 {
        let turn = Stream::new(seed, "close up").between(0.0, 6.0);
        let middle = Vec2::new(20.0, 15.0);
        let on_rim = |k: u32| middle + angle::direction(turn + k as f32 * TAU / 6.0) * 1.085;
        let places = (0..6).map(on_rim).chain([Vec2::new(8.0, 15.0)]);
        let hulk = Kind::walker("hulk", 0.4, 0.0);
        let mut siege = Siege::on(&[row.as_str(); 30], (hulk, middle), (0.4, 0.3), places);
        siege.run(4.0);
        assert_eq!(siege.strikers(), 6, "seed {seed}");
        siege.run(20.0);
        assert_eq!((siege.strikers(), siege.failures), (7, 0), "seed {seed}");
    }
}

/// The sides of a house are full where a wide body has room, also those in whose cells it has none in the middle; and those who wait do
/// so on the side of a wall on which the house is.
#[test]
fn wide_bodies_strike_a_house_beside_a_wall_from_all_sides_that_are_free() {
    for seed in 0..12 {
        let mut stream = Stream::new(seed, "beside a wall");
        let radius = stream.between(0.5, 0.62);
        let mut siege = Siege::beside_a_wall(radius, 16);
        siege.run(60.0);
        // The house measures 3 by 3 m; on its fourth side is a gap of half a metre, and then the wall.
        let room = ((3.0 * 3.0 + 2.0 * radius) / (2.0 * radius * 1.04)) as usize;
        assert!(
            siege.strikers() >= room,
            "seed {seed}: {} of {room}",
            siege.strikers()
        );
        let behind = siege
            .units
            .iter()
            .filter(|unit| siege.world.unit(**unit).unwrap().position().x > 22.5);
        assert_eq!(behind.count(), 0, "seed {seed}");
    }
}
