//! Everyday situations, a hundred random ones of each class: every order ends, and none fails where a way exists.

mod crowded;
mod gaps;
mod mixed;
mod patrols;
mod traffic;

use yarrick::geom::angle;
use yarrick::ground::Lattice;
use yarrick::motion::steering::Turning;
use yarrick::rng::Stream;
use yarrick::world::{Failure, Legs};
use yarrick::{
    Action, Change, Command, Event, Ground, Kind, KindId, Outcome, Side, SideId, Terrain, UnitId,
    Vec2, When, World, WorldSetup,
};

const OWN: SideId = SideId(0);
const FOES: SideId = SideId(1);

/// The random situations of each class.
const CASES: u64 = 100;

/// A unit at the start: the number of its kind, its side, and where it stands and looks.
#[derive(Clone, Copy)]
struct Start {
    kind: usize,
    side: SideId,
    at: Vec2,
    facing: f32,
}

/// A situation. The first units are those that are measured.
#[derive(Clone, Default)]
struct Case {
    rows: Vec<String>,
    lattice: Lattice,
    kinds: Vec<Kind>,
    units: Vec<Start>,
    movers: usize,
    /// Where units of the last kind come to stand when the others are under way.
    held: Vec<Vec2>,
    /// When, to which units, and what.
    orders: Vec<(f32, Vec<usize>, Action)>,
}

/// How the orders of the movers ended: the last outcome of each, and how long after its last order it came, in seconds.
type Ends = Vec<Option<(Outcome, f32)>>;

impl Case {
    fn open(width: usize, height: usize, kinds: Vec<Kind>) -> Case {
        Case {
            rows: vec![".".repeat(width); height],
            kinds,
            ..Case::default()
        }
    }

    fn put(&mut self, kind: usize, side: SideId, at: Vec2) {
        let facing = 0.0;
        self.units.push(Start {
            kind,
            side,
            at,
            facing,
        });
    }

    fn send(&mut self, at_s: f32, units: impl IntoIterator<Item = usize>, to: Vec2) {
        let units = units.into_iter().collect();
        self.orders.push((at_s, units, Action::move_to(to)));
    }

    /// Closes columns of the map but for some rows, counted from the top.
    fn wall(&mut self, columns: core::ops::Range<usize>, but: core::ops::Range<usize>) {
        for (y, row) in self.rows.iter_mut().enumerate() {
            if !but.contains(&y) {
                row.replace_range(columns.clone(), &"#".repeat(columns.len()));
            }
        }
    }

    fn ground(&self) -> Ground {
        let rows: Vec<&str> = self.rows.iter().map(String::as_str).collect();
        let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
        let ground = Ground::from_rows(1.0, &rows, &legend).unwrap();
        ground.with_lattice(self.lattice)
    }

    /// Plays it, with all units or with one alone, for so many seconds at most.
    fn play(&self, alone: Option<usize>, limit_s: f32) -> Ends {
        let mut world = World::new(WorldSetup {
            sides: vec![Side::new("keepers"), Side::new("tide")],
            kinds: self.kinds.clone(),
            ..WorldSetup::on(self.ground())
        })
        .unwrap();
        let mut put = |(k, start): (usize, &Start)| {
            let kind = world.kind(&self.kinds[start.kind].name).unwrap();
            let is_in = alone.is_none_or(|alone| alone == k);
            is_in.then(|| {
                world
                    .spawn(kind, start.side, start.at, start.facing)
                    .unwrap()
            })
        };
        let ids: Vec<Option<UnitId>> = self.units.iter().enumerate().map(&mut put).collect();
        let mut orders = self.orders.clone();
        let mut open: Vec<u32> = vec![0; ids.len()];
        let mut given_s: Vec<f32> = vec![0.0; ids.len()];
        let mut ends: Ends = vec![None; self.movers];
        for tick in 0..(limit_s / world.tick_s()) as u32 {
            let now_s = tick as f32 * world.tick_s();
            orders.retain(|(at_s, units, action)| {
                let is_due = *at_s <= now_s;
                if is_due {
                    submit(&mut world, &ids, (units, action), self.units[units[0]].side);
                    for k in units {
                        (open[*k], given_s[*k]) = (open[*k] + 1, now_s);
                    }
                }
                !is_due
            });
            if alone.is_none() && !self.held.is_empty() {
                let last = world.kind(&self.kinds[self.kinds.len() - 1].name).unwrap();
                come_to_hold(&mut world, (tick, last), &self.held);
            }
            for event in world.step() {
                if let Event::Ended { unit, outcome, .. } = event
                    && ids.contains(&Some(*unit))
                {
                    let k = ids.iter().position(|id| *id == Some(*unit)).unwrap();
                    open[k] -= 1;
                    if k < self.movers && open[k] == 0 {
                        ends[k] = Some((*outcome, now_s - given_s[k]));
                    }
                }
            }
            for unit in world.units() {
                let (at, radius) = (unit.position(), unit.radius());
                assert!(
                    world.ground().disc_is_clear(at, radius),
                    "{at} in closed ground"
                );
            }
            let is_over = |k: usize| ids[k].is_none() || ends[k].is_some() && open[k] == 0;
            if orders.is_empty() && (0..self.movers).all(is_over) {
                break;
            }
        }
        ends
    }
}

fn submit(
    world: &mut World,
    ids: &[Option<UnitId>],
    (who, action): (&[usize], &Action),
    side: SideId,
) {
    let units: Vec<UnitId> = who.iter().filter_map(|k| ids[*k]).collect();
    order(world, (units, side), action.clone());
}

/// Gives units of a side an order, if there are any.
fn order(world: &mut World, (units, side): (Vec<UnitId>, SideId), action: Action) {
    if !units.is_empty() {
        let command = Command {
            side,
            units,
            action,
            when: When::Now,
        };
        world.submit(command).unwrap();
    }
}

/// Lets units enter the world a second after its start, and hold where they are from then on, as do all that have no orders.
fn come_to_hold(world: &mut World, (tick, kind): (u32, KindId), places: &[Vec2]) {
    if tick == 20 {
        let (side, facing) = (OWN, 0.0);
        for &at in places {
            let spawn = Change::Spawn {
                kind,
                side,
                at,
                facing,
            };
            world.change(spawn).unwrap();
        }
    }
    if tick == 21 {
        let idle = world.units().filter(|unit| !unit.has_orders());
        let idle = idle.map(|unit| unit.id()).collect();
        order(world, (idle, OWN), Action::Hold);
    }
}

/// Checks that all movers of all situations of a class arrive, and take at most so many times as long as alone.
fn all_arrive(class: &str, limit_s: f32, times: Option<f32>, make: impl Fn(&mut Stream) -> Case) {
    for seed in 0..CASES {
        let case = make(&mut Stream::new(seed, class));
        for (k, end) in case.play(None, limit_s).into_iter().enumerate() {
            let Some((Outcome::Done, took_s)) = end else {
                panic!("{class} {seed}: {k} ended with {end:?}");
            };
            if let Some(times) = times {
                let (_, alone_s) = case.play(Some(k), limit_s)[k].expect("alone it arrives");
                assert!(
                    took_s <= alone_s.max(0.5) * times,
                    "{class} {seed}: {k} took {took_s} s, alone {alone_s} s"
                );
            }
        }
    }
}

fn around(stream: &mut Stream, at: Vec2, reach_m: f32) -> Vec2 {
    let (x, y) = (
        stream.between(-reach_m, reach_m),
        stream.between(-reach_m, reach_m),
    );
    at + Vec2::new(x, y)
}

/// A block of units round a point, turned by an angle.
fn block(at: Vec2, (columns, rows): (u32, u32), step_m: f32, turn: f32) -> Vec<Vec2> {
    let (across, up) = (angle::direction(turn), angle::direction(turn).perp());
    let from_middle = |k: u32, count: u32| (k as f32 - (count - 1) as f32 * 0.5) * step_m;
    let place = |k: u32| {
        let (x, y) = (
            from_middle(k % columns, columns),
            from_middle(k / columns, rows),
        );
        at + across * x + up * y
    };
    (0..columns * rows).map(place).collect()
}

/// A kind of those that walk, and one of those that stand in their way and cannot be killed, of these radii.
fn movers_and_standers(own_m: f32, their_m: f32) -> Vec<Kind> {
    let nipper = Kind::walker("nipper", their_m, 2.0).with_health(0.0);
    vec![Kind::walker("warden", own_m, 2.0), nipper]
}

#[test]
fn one_walks_round_those_that_stand_in_its_way() {
    all_arrive("past", 60.0, Some(1.5), |stream| {
        let (own_m, their_m) = (stream.between(0.25, 0.7), stream.between(0.25, 0.7));
        let kinds = movers_and_standers(own_m, their_m);
        let mut case = Case::open(32, 24, kinds);
        case.movers = 1 + stream.below(3) as usize;
        let spot = around(stream, Vec2::new(15.0, 12.0), 3.0);
        for k in 0..case.movers {
            let up = (k as f32 - (case.movers - 1) as f32 * 0.5) * 2.2 * own_m;
            case.put(0, OWN, Vec2::new(3.0, spot.y + up));
        }
        let size = (1 + stream.below(6), 1 + stream.below(6));
        let step_m = their_m * stream.between(2.02, 3.2);
        let side = [OWN, FOES][stream.below(2) as usize];
        for at in block(spot, size, step_m, stream.between(0.0, 3.0)) {
            case.put(1, side, at);
        }
        if side == OWN && stream.below(2) == 0 {
            let standing = (case.movers..case.units.len()).collect();
            case.orders.push((0.0, standing, Action::Hold));
        }
        let to = Vec2::new(28.0, spot.y + stream.between(-1.0, 1.0));
        case.send(0.5, 0..case.movers, to);
        case
    });
}

#[test]
fn a_few_find_their_places_among_a_parked_crowd() {
    all_arrive("parked", 120.0, None, |stream| {
        let radius_m = stream.between(0.3, 0.6);
        let mut case = Case::open(44, 40, vec![Kind::walker("warden", radius_m, 2.0)]);
        case.movers = 1 + stream.below(8) as usize;
        for k in 0..case.movers {
            let step = Vec2::new((k / 3) as f32, (k % 3) as f32) * 2.3 * radius_m;
            case.put(0, OWN, Vec2::new(4.0, 18.0) + step);
        }
        let size = (2 + stream.below(5), 2 + stream.below(6));
        let middle = Vec2::new(28.0, 20.0);
        for at in block(middle, size, radius_m * stream.between(2.05, 3.2), 0.0) {
            case.put(0, OWN, at);
        }
        let to = around(stream, middle, 1.5);
        case.send(0.5, 0..case.movers, to);
        case
    });
}

/// A wall with a gate in which somebody stands who makes no room, and one that is sent through it. `other` is a second gate.
fn held_gate(stream: &mut Stream, other: Option<usize>) -> Case {
    let kinds = vec![
        Kind::walker("warden", stream.between(0.3, 0.45), 2.0),
        Kind::walker("nipper", stream.between(0.35, 0.45), 2.0).with_health(0.0),
    ];
    let mut case = Case::open(40, 30, kinds);
    case.wall(20..21, 14..15);
    if let Some(row) = other {
        case.rows[row].replace_range(20..21, ".");
    }
    case.movers = 1;
    case.put(0, OWN, Vec2::new(8.0, 15.5));
    let side = [OWN, FOES][stream.below(2) as usize];
    case.put(1, side, Vec2::new(20.5, 15.5));
    if side == OWN {
        case.orders.push((0.0, vec![1], Action::Hold));
    }
    case.send(0.5, [0], Vec2::new(32.0, 15.5));
    case
}

#[test]
fn one_takes_the_next_gate_where_somebody_stands_in_this_one() {
    for seed in 0..CASES {
        let mut stream = Stream::new(seed, "gates");
        let other = [stream.below(13), 16 + stream.below(13)][stream.below(2) as usize];
        let case = held_gate(&mut stream, Some(other as usize));
        let mut shut = case.clone();
        shut.rows[14].replace_range(20..21, "#");
        let ends = [case.play(None, 60.0), shut.play(Some(0), 60.0)];
        let [Some((Outcome::Done, took_s)), Some((_, least_s))] = [&ends[0][0], &ends[1][0]] else {
            panic!("gates {seed}: {ends:?}");
        };
        assert!(
            *took_s <= least_s * 1.3,
            "gates {seed}: {took_s} s, not {least_s} s"
        );
    }
}

#[test]
fn whoever_finds_the_only_gate_held_waits_and_then_says_so() {
    for seed in 0..CASES / 4 {
        let case = held_gate(&mut Stream::new(seed, "gates"), None);
        let Some((Outcome::Failed { why }, took_s)) = case.play(None, 120.0)[0] else {
            panic!("gate {seed}: no failure");
        };
        assert!(
            why == Failure::HeldUp && took_s < 90.0,
            "gate {seed}: {why:?} {took_s}"
        );
    }
}

#[test]
fn carts_that_cannot_turn_freely_get_to_points_beside_them() {
    all_arrive("hops", 60.0, None, |stream| {
        let (radius_m, speed) = (stream.between(0.5, 1.2), stream.between(0.8, 3.0));
        let circle_m = radius_m * stream.between(1.0, 3.5);
        let turning = [Turning::OnTheSpot, Turning::Driving { circle_m }];
        let mut cart = Kind::walker("sledge", radius_m, speed).with_legs(Legs {
            turning: turning[usize::from(stream.below(4) > 0)],
            acceleration: (stream.below(2) == 0).then_some(1.5),
            ..Legs::of_speed(speed)
        });
        cart.body.turn_rate = stream.between(1.0, 4.0);
        let mut case = Case::open(40, 40, vec![cart]);
        case.movers = 1;
        case.put(0, OWN, Vec2::splat(20.0));
        let off = angle::direction(stream.between(-3.1, 3.1)) * stream.between(0.3, 5.0);
        case.send(0.0, [0], Vec2::splat(20.0) + off);
        case
    });
}

#[test]
fn idle_units_make_room_for_a_cart_in_a_corridor() {
    all_arrive("corridor", 180.0, Some(1.6), |stream| {
        let mode = stream.below(3) as usize;
        let radius_m = [0.9, 0.9, 1.2][mode];
        let circle_m = radius_m * 2.0;
        let turning = [
            Turning::OnTheSpot,
            Turning::Driving { circle_m },
            Turning::Free,
        ][mode];
        let cart = Kind::walker("sledge", radius_m, 1.2).with_legs(Legs {
            turning,
            ..Legs::of_speed(1.2)
        });
        let mut case = Case::open(44, 15, vec![cart, Kind::walker("raker", 0.4, 2.0)]);
        case.wall(10..34, 6..9);
        case.movers = 1;
        case.put(0, OWN, Vec2::new(4.0, 7.5));
        for k in 0..1 + stream.below(6) {
            let x = 11.0 + 3.8 * k as f32 + stream.between(0.0, 2.9);
            case.put(1, OWN, Vec2::new(x, stream.between(6.45, 8.55)));
        }
        case.send(0.5, [0], Vec2::new(39.0, 7.5));
        case
    });
}

#[test]
fn single_orders_to_one_point_settle_as_one_group() {
    all_arrive("singles", 100.0, None, |stream| {
        let radius_m = stream.between(0.3, 0.5);
        let mut case = Case::open(70, 60, vec![Kind::walker("warden", radius_m, 2.0)]);
        case.movers = [1, 2, 3, 5, 10, 20, 50, 100][stream.below(8) as usize];
        let step_m = radius_m * stream.between(2.1, 3.5);
        for k in 0..case.movers {
            let step = Vec2::new((k % 10) as f32, (k / 10) as f32) * step_m;
            case.put(0, OWN, Vec2::new(5.0, 10.0) + step);
        }
        let to = around(stream, Vec2::new(45.0, 30.0), 10.0);
        (0..case.movers).for_each(|k| case.send(0.5, [k], to));
        case
    });
}

#[test]
fn a_column_gets_through_a_gap() {
    all_arrive("column", 150.0, None, |stream| {
        let radius_m = stream.between(0.3, 0.5);
        let mut case = Case::open(130, 30, vec![Kind::walker("warden", radius_m, 2.0)]);
        let wide = 2 + stream.below(2) as usize;
        case.wall(100..101, 14..14 + wide);
        case.movers = 20 + stream.below(50) as usize;
        let files = 1 + stream.below(5) as usize;
        for k in 0..case.movers {
            let (back, up) = ((k / files) as f32, (k % files) as f32);
            let step = Vec2::new(-back, up) * 2.2 * radius_m;
            case.put(0, OWN, Vec2::new(92.0, 8.0) + step);
        }
        case.send(
            0.0,
            0..case.movers,
            around(stream, Vec2::new(115.0, 15.0), 8.0),
        );
        case
    });
}

#[test]
fn one_that_gathers_speed_stays_on_the_map_at_its_rim() {
    for seed in 0..CASES {
        let mut stream = Stream::new(seed, "rim");
        let speed = stream.between(1.0, 4.0);
        let kind = Kind::walker("warden", stream.between(0.3, 0.8), speed).with_legs(Legs {
            acceleration: Some(stream.between(0.5, 3.0)),
            ..Legs::of_speed(speed)
        });
        let mut case = Case::open(20, 14, vec![kind]);
        case.lattice = [Lattice::Hexes, Lattice::Squares][usize::from(stream.below(3) == 0)];
        case.movers = 1;
        case.put(0, OWN, around(&mut stream, Vec2::new(9.5, 6.0), 4.0));
        for k in 0..5 {
            let to = Vec2::new(stream.between(-1.0, 21.0), stream.between(-1.0, 14.0));
            case.send(k as f32 * 4.0, [0], to);
        }
        let ends = case.play(None, 60.0);
        assert!(ends.iter().all(ended_well), "rim {seed}: {ends:?}");
    }
}

/// Whether an order ended, and others were not the reason if it failed.
fn ended_well(end: &Option<(Outcome, f32)>) -> bool {
    match end {
        Some((Outcome::Failed { why }, _)) => matches!(why, Failure::NoWay(_)),
        Some((outcome, _)) => matches!(outcome, Outcome::Done | Outcome::CameShort { .. }),
        None => false,
    }
}

#[test]
fn walkers_in_clutter_come_to_an_end_one_order_after_another() {
    for seed in 0..CASES {
        let mut stream = Stream::new(seed, "clutter");
        let radius_m = stream.between(0.3, 0.48);
        let kind = Kind::walker("warden", radius_m, stream.between(1.0, 4.0));
        let mut case = Case::open(24, 16, vec![kind]);
        case.lattice = [Lattice::Hexes, Lattice::Squares][usize::from(stream.below(4) > 0)];
        for _ in 0..3 + stream.below(30) {
            let (x, y) = (stream.below(24) as usize, stream.below(16) as usize);
            case.rows[y].replace_range(x..=x, "#");
        }
        let ground = case.ground();
        let point = |stream: &mut Stream| around(stream, Vec2::new(12.0, 6.5), 6.0);
        let most = 2 + stream.below(9) as usize;
        for _ in 0..200 {
            let at = point(&mut stream);
            let is_free = |unit: &Start| unit.at.distance(at) > 2.0 * radius_m;
            if case.units.len() < most
                && ground.disc_is_clear(at, radius_m)
                && case.units.iter().all(is_free)
            {
                case.put(0, OWN, at);
            }
        }
        case.movers = case.units.len();
        if case.movers == 0 {
            continue;
        }
        case.send(0.0, 0..case.movers, point(&mut stream));
        let later_s = stream.between(0.5, 20.0);
        case.send(later_s, 0..case.movers, point(&mut stream));
        let ends = case.play(None, 200.0);
        assert!(ends.iter().all(ended_well), "clutter {seed}: {ends:?}");
    }
}
