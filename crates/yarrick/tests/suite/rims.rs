//! Places round a target: those that come up to a unit spread round it, and the rest wait behind.

use crate::doors::Doors as _;
use proptest::prelude::*;
use yarrick::combat::Weapon;
use yarrick::geom::{Block, Vec2};
use yarrick::motion::Rim;
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
        let rows = [".".repeat(36).as_str(); 30].map(str::to_owned);
        let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
        let ground = Ground::from_rows(1.0, &rows, &[('.', Terrain::open("sand"))]).unwrap();
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
        let target = world.put_in(kinds[1], SideId(1), Vec2::new(20.0, 15.0));
        let places = (0..count).map(|k| Vec2::new(2.0 + (k / 6) as f32, 12.0 + (k % 6) as f32));
        let units: Vec<UnitId> = places
            .map(|at| world.put_in(kinds[0], SideId(0), at * Vec2::new(2.3 * radius, 1.0)))
            .collect();
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
            (
                Kind::walker("hulk", around, 0.0),
                core::f32::consts::TAU * around,
            )
        };
        let mut siege = Siege::new(body, (radius, range_m, count));
        siege.run(60.0);
        // Where a unit stands by itself, up to a body's width of the rim is lost.
        let rim_m = length_m + core::f32::consts::TAU * (radius + range_m * 0.87);
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
