//! Flocks: what they see, what pulls them, and that they stay where they are kept.

use proptest::prelude::*;
use yarrick::Threads;
use yarrick::geom::{Outline, Vec2, Vec3};
use yarrick::motion::flock::{Air, Flock, FlockError, FlockParams, Zone, ZoneRole};
use yarrick::rng::Stream;

const TICK_S: f32 = 0.05;

fn circle(radius_m: f32) -> Outline {
    Outline::Circle { radius_m }
}

fn zone(role: ZoneRole, outline: Outline, at: Vec2) -> Zone {
    Zone::new(role, outline, at)
}

fn flock(params: FlockParams, places: &[(Vec3, f32)]) -> Flock {
    let mut flock = Flock::new(params).unwrap();
    for (at, heading) in places {
        flock.add(*at, *heading, ()).unwrap();
    }
    flock
}

fn air() -> Air {
    Air {
        floor_m: 0.0,
        ceiling_m: 8.0,
        margin_m: 2.0,
        climb: 2.0,
    }
}

fn params() -> impl Strategy<Value = FlockParams> {
    let sight = (0.5_f32..6.0, 0.5_f32..6.4, 0.1_f32..1.0);
    let weights = (0.0_f32..4.0, 0.0_f32..4.0, 0.0_f32..4.0);
    let moves = (
        0.5_f32..3.0,
        1.0_f32..3.0,
        0.5_f32..6.0,
        proptest::bool::ANY,
    );
    (sight, weights, moves).prop_map(|(sight, weights, moves)| FlockParams {
        view_m: sight.0,
        view_angle: sight.1,
        spacing_m: sight.0 * sight.2,
        separation: weights.0,
        alignment: weights.1,
        cohesion: weights.2,
        speed: (moves.0, moves.0 * moves.1),
        turn_rate: moves.2,
        air: moves.3.then(air),
        ..FlockParams::default()
    })
}

/// Members in a heap, some of them in one place, and a few far away where cells come round again.
fn places() -> impl Strategy<Value = Vec<(Vec3, f32)>> {
    let place = prop_oneof![
        8 => (-12.0_f32..12.0, -12.0_f32..12.0, 0.0_f32..8.0),
        1 => Just((1.5, -2.5, 3.0)),
        1 => (-3.0_f32..3.0, -3.0_f32..3.0, 0.0_f32..8.0).prop_map(|(x, y, z)| (x * 1e4, y * 300.0, z)),
    ];
    let member =
        (place, -3.1_f32..3.1).prop_map(|((x, y, z), heading)| (Vec3::new(x, y, z), heading));
    proptest::collection::vec(member, 1..120)
}

proptest! {
    #[test]
    fn everybody_sees_whom_a_look_at_all_pairs_shows(params in params(), places in places()) {
        let flock = flock(params, &places);
        let cos = libm::cosf(params.view_angle * 0.5);
        let all: Vec<_> = flock.members().collect();
        for me in &all {
            let seen = flock.neighbours(me.id);
            for other in all.iter().filter(|other| other.id != me.id) {
                let offset = other.at - me.at;
                let distance = offset.length();
                let ahead = offset.dot(me.velocity.normalize()) - cos * distance;
                // At the very edge of what it sees rounding decides.
                if (distance - params.view_m).abs() > 1e-2 && (ahead.abs() > 1e-2 || distance == 0.0) {
                    let sees = distance <= params.view_m
                        && (ahead >= 0.0 || params.view_angle >= core::f32::consts::TAU);
                    prop_assert_eq!(seen.contains(&other.id), sees, "{} and {}", me.at, other.at);
                }
            }
        }
    }

    #[test]
    fn what_pulls_a_member_is_what_its_neighbours_come_to(params in params(), places in places()) {
        let flock = flock(params, &places);
        for me in flock.members() {
            let seen: Vec<_> = flock.neighbours(me.id).iter().map(|id| flock.member(*id).unwrap()).collect();
            let pulls = flock.pulls(me.id).unwrap();
            if seen.is_empty() {
                prop_assert_eq!(pulls.sum(), Vec3::ZERO);
                continue;
            }
            let count = seen.len() as f32;
            let mean = seen.iter().map(|other| other.velocity).sum::<Vec3>() / count;
            let middle = seen.iter().map(|other| other.at - me.at).sum::<Vec3>() / count;
            let away = seen.iter().map(|other| {
                let offset = other.at - me.at;
                let near = params.spacing_m / offset.length().max(1e-4);
                -offset * ((near * near - 1.0).max(0.0) * 0.5 / params.spacing_m)
            });
            let away: Vec3 = away.sum();
            let alignment = ((mean - me.velocity) / params.speed.1).clamp_length_max(1.0);
            let cohesion = (middle / params.view_m).clamp_length_max(1.0);
            prop_assert!(pulls.alignment.distance(alignment * params.alignment) < 1e-2);
            prop_assert!(pulls.cohesion.distance(cohesion * params.cohesion) < 1e-2);
            // Those in one place are told apart by a thousandth.
            let separation = away.clamp_length_max(1.0) * params.separation;
            prop_assert!(pulls.separation.distance(separation) < 0.02, "{:?} {}", pulls, separation);
        }
    }

    #[test]
    fn nobody_leaves_a_pen_nor_turns_or_runs_beyond_its_limits(
        params in params(), seed in 0_u64..1000, form in 0..3, facing in -3.1_f32..3.1, tick in 0.01_f32..0.12,
    ) {
        let outline = match form {
            0 => circle(14.0),
            1 => Outline::Box { half_m: Vec2::new(18.0, 11.0) },
            // A bay with a spit that reaches into it.
            _ => Outline::Polygon { points: [(-20.0, -15.0), (20.0, -15.0), (20.0, 15.0), (3.0, 15.0), (0.0, 2.0), (-3.0, 15.0), (-20.0, 15.0)]
                .map(Vec2::from).to_vec() },
        };
        let mut pen = zone(ZoneRole::Pen, outline, Vec2::new(100.0, -40.0));
        pen.facing = facing;
        let mut stream = Stream::new(seed, "members");
        let mut flock = Flock::<()>::new(params).unwrap();
        let added = flock.add_zone(pen.clone());
        prop_assume!(added.is_ok());
        while flock.len() < 40 {
            let at = pen.at + Vec2::new(stream.between(-9.0, 9.0), stream.between(-9.0, 9.0));
            // Who is put where it cannot turn any more has to stop at the edge.
            if pen.edge(at).depth_m > 2.0 * params.speed.0 / params.turn_rate.min(3.0) {
                flock.add(at.extend(4.0), stream.between(-3.1, 3.1), ()).unwrap();
            }
            prop_assume!(pen.outline.inradius_m() > 3.0 * params.speed.0 / params.turn_rate.min(3.0));
        }
        let mut before: Vec<_> = flock.members().map(|bird| (bird.at, bird.velocity)).collect();
        for _ in 0..200 {
            flock.step(tick);
            for (bird, (was, went)) in flock.members().zip(&mut before) {
                prop_assert!(bird.at.is_finite() && bird.velocity.is_finite());
                prop_assert!(pen.edge(bird.at.truncate()).depth_m >= -1e-3, "{} is out", bird.at);
                let (now, then) = (bird.velocity.truncate(), went.truncate());
                prop_assert!(now.length() <= params.speed.1 * 1.001);
                prop_assert!(now.length() >= params.speed.0 * 0.999);
                let turn = then.angle_to(now).abs();
                prop_assert!(turn <= params.turn_rate * tick + 1e-3, "{turn}");
                prop_assert!(bird.at.distance(*was) <= (params.speed.1 + 2.0) * tick * 1.001);
                if params.air.is_some() {
                    prop_assert!((-1e-3..=8.001).contains(&bird.at.z));
                }
                (*was, *went) = (bird.at, bird.velocity);
            }
        }
    }
}

proptest! {
    // Thousands of members a case.
    #![proptest_config(ProptestConfig { cases: 48, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn threads_do_not_change_a_bit(params in params(), mut places in places(), threads in 2_usize..20) {
        let threads = Threads::new(threads);
        // So many that each thread gets some.
        let mut stream = Stream::new(4, "many");
        let mut many_more = |_| (Vec3::new(stream.between(-90.0, 90.0), stream.between(-90.0, 90.0), 2.0), stream.between(-3.1, 3.1));
        places.extend((0..3000).map(&mut many_more));
        let (mut one, mut many) = (flock(params, &places), flock(params, &places));
        for _ in 0..4 {
            one.step(TICK_S);
            many.step_on(&threads, TICK_S);
            prop_assert_eq!(one.checksum(), many.checksum());
        }
    }
}

/// Three hundred in a bay of sixty metres.
fn bay() -> (Flock, Vec2) {
    let middle = Vec2::new(30.0, 30.0);
    let mut stream = Stream::new(3, "bay");
    let mut flock = Flock::new(FlockParams::default()).unwrap();
    for _ in 0..300 {
        let at = middle + Vec2::new(stream.between(-15.0, 15.0), stream.between(-15.0, 15.0));
        flock
            .add(at.extend(0.0), stream.between(-3.1, 3.1), ())
            .unwrap();
    }
    let pen = Zone {
        margin_m: 8.0,
        ..zone(ZoneRole::Pen, circle(30.0), middle)
    };
    flock.add_zone(pen).unwrap();
    (flock, middle)
}

fn run(flock: &mut Flock, seconds: u32) {
    for _ in 0..seconds * 20 {
        flock.step(TICK_S);
    }
}

fn within(flock: &Flock, at: Vec2, radius: f32) -> usize {
    flock
        .members()
        .filter(|bird| bird.at.truncate().distance(at) <= radius)
        .count()
}

#[test]
fn a_flock_comes_to_go_one_way_and_keeps_its_distance() {
    let (mut flock, _) = bay();
    let begun = flock.measure();
    run(&mut flock, 20);
    let settled = flock.measure();
    assert!(
        settled.spacing_m > 0.5 && settled.spacing_m < 1.3,
        "{settled:?}"
    );
    assert!(begun.local_alignment < 0.3, "{begun:?}");
    assert!(settled.local_alignment > 0.9, "{settled:?}");
}

#[test]
fn a_lure_draws_a_scare_drives_off_and_the_heavier_wins() {
    let spot = Vec2::new(40.0, 30.0);
    let counts = |lure_weight: f32, scare_weight: f32| {
        let (mut flock, _) = bay();
        let lure = Zone {
            weight: lure_weight,
            margin_m: 30.0,
            ..zone(ZoneRole::Lure, circle(3.0), spot)
        };
        let scare = Zone {
            weight: scare_weight,
            margin_m: 6.0,
            ..zone(ZoneRole::Scare, circle(3.0), spot)
        };
        flock.add_zone(lure).unwrap();
        let scare = flock.add_zone(scare).unwrap();
        flock.switch_zone(scare, false).unwrap();
        run(&mut flock, 25);
        let drawn = within(&flock, spot, 9.0);
        flock.switch_zone(scare, true).unwrap();
        run(&mut flock, 8);
        let scared = within(&flock, spot, 4.0);
        flock.remove_zone(scare).unwrap();
        run(&mut flock, 25);
        (drawn, scared, within(&flock, spot, 9.0))
    };
    let (drawn, scared, back) = counts(3.0, 9.0);
    assert!(drawn > 150, "{drawn} came");
    assert!(scared < 15, "{scared} of {drawn} stayed");
    assert!(back > 150, "{back} came back");
    let (_, kept, _) = counts(9.0, 2.0);
    assert!(kept > 50, "the lure counts for more: {kept} stayed");
}

#[test]
fn one_can_see_by_how_much_each_zone_pulls() {
    let mut flock = flock(FlockParams::default(), &[(Vec3::new(5.0, 0.0, 0.0), 0.0)]);
    let bird = flock.members().next().unwrap().id;
    let lure = flock.add_zone(Zone {
        weight: 3.0,
        ..zone(ZoneRole::Lure, circle(5.0), Vec2::ZERO)
    });
    let scare = flock.add_zone(Zone {
        weight: 2.0,
        ..zone(ZoneRole::Scare, circle(5.0), Vec2::ZERO)
    });
    let (lure, scare) = (lure.unwrap(), scare.unwrap());
    let pulls = flock.pulls(bird).unwrap();
    assert_eq!(
        pulls.zones,
        [(lure, Vec2::new(-3.0, 0.0)), (scare, Vec2::new(2.0, 0.0))]
    );
    assert_eq!(pulls.sum(), Vec3::new(-1.0, 0.0, 0.0));
    flock.switch_zone(lure, false).unwrap();
    flock.move_zone(scare, Vec2::new(100.0, 0.0), 0.0).unwrap();
    assert_eq!(flock.pulls(bird).unwrap().sum(), Vec3::ZERO);
}

#[test]
fn a_pen_that_moves_away_draws_its_flock_after_it() {
    let (mut flock, middle) = bay();
    let (pen, _) = flock.zones().next().unwrap();
    run(&mut flock, 5);
    flock
        .move_zone(pen, middle + Vec2::new(80.0, 0.0), 0.0)
        .unwrap();
    run(&mut flock, 60);
    assert_eq!(within(&flock, middle + Vec2::new(80.0, 0.0), 30.0), 300);
}

#[test]
fn members_keep_their_values_and_numbers_when_others_leave() {
    let mut flock = Flock::new(FlockParams::default()).unwrap();
    let ids: Vec<_> = ["grey", "brown", "white"]
        .iter()
        .map(|colour| flock.add(Vec3::ZERO, 0.0, *colour).unwrap())
        .collect();
    assert_eq!(flock.remove(ids[1]), Some("brown"));
    assert_eq!(flock.remove(ids[1]), None);
    *flock.value_mut(ids[2]).unwrap() = "black";
    flock.step(TICK_S);
    assert_eq!(flock.member(ids[0]).unwrap().value, &"grey");
    assert_eq!(flock.member(ids[2]).unwrap().value, &"black");
    assert!(flock.member(ids[1]).is_none() && flock.pulls(ids[1]).is_none());
    let again = flock.add(Vec3::ZERO, 0.0, "new").unwrap();
    assert!(!ids.contains(&again), "numbers are not used again");
}

#[test]
fn two_in_one_place_part() {
    let mut flock = flock(FlockParams::default(), &[(Vec3::ONE, 1.0); 30]);
    run(&mut flock, 4);
    assert!(flock.measure().spacing_m > 0.3, "{:?}", flock.measure());
}

#[test]
fn what_makes_no_sense_is_refused_with_the_reason() {
    let mut said = Vec::new();
    let mut params = |change: fn(&mut FlockParams)| {
        let mut params = FlockParams::default();
        change(&mut params);
        said.push(Flock::<()>::new(params).err().unwrap().to_string());
    };
    params(|m| m.view_m = 0.0);
    params(|m| m.spacing_m = -1.0);
    params(|m| m.turn_rate = f32::NAN);
    params(|m| m.cohesion = f32::INFINITY);
    params(|m| m.spacing_m = 9.0);
    params(|m| m.speed = (5.0, 2.0));
    params(|m| m.speed = (0.0, 2.0));
    params(|m| {
        m.air = Some(Air {
            floor_m: 5.0,
            ceiling_m: 5.0,
            ..air()
        });
    });
    let (mut flock, middle) = bay();
    let mut zones = |zone: Zone| said.push(flock.add_zone(zone).err().unwrap().to_string());
    let pen = |outline| zone(ZoneRole::Pen, outline, middle);
    zones(pen(circle(0.0)));
    zones(pen(circle(-3.0)));
    zones(pen(circle(0.3)));
    zones(pen(Outline::Box {
        half_m: Vec2::new(5.0, 0.0),
    }));
    let line = [(0.0, 0.0), (9.0, 9.0), (4.0, 4.0)]
        .map(Vec2::from)
        .to_vec();
    zones(pen(Outline::Polygon { points: line }));
    zones(pen(Outline::Polygon {
        points: vec![Vec2::ZERO; 2],
    }));
    zones(Zone {
        weight: -1.0,
        ..pen(circle(9.0))
    });
    zones(Zone {
        margin_m: f32::NAN,
        ..pen(circle(9.0))
    });
    zones(Zone {
        at: Vec2::NAN,
        ..pen(circle(9.0))
    });
    zones(Zone {
        at: middle + Vec2::new(70.0, 0.0),
        ..pen(circle(30.0))
    });
    for axis in [Vec3::X, Vec3::Y, Vec3::Z] {
        let half_known = flock.add(
            Vec3::select(axis.cmpgt(Vec3::ZERO), Vec3::NAN, Vec3::ONE),
            0.0,
            (),
        );
        assert!(half_known.is_err());
    }
    let nowhere = flock.add(Vec3::NAN, 0.0, ()).unwrap_err();
    said.push(nowhere.to_string());
    insta::assert_snapshot!(said.join("\n"));
}

#[test]
fn zones_that_are_gone_are_reported_and_ticks_that_are_none_change_nothing() {
    let (mut flock, _) = bay();
    let (pen, _) = flock.zones().next().unwrap();
    let before = flock.checksum();
    for tick in [0.0, -1.0, f32::NAN, f32::INFINITY] {
        flock.step(tick);
    }
    assert_eq!(flock.checksum(), before);
    flock.remove_zone(pen).unwrap();
    assert_eq!(flock.remove_zone(pen), Err(FlockError::NoSuchZone(pen)));
    assert_eq!(
        flock.switch_zone(pen, true),
        Err(FlockError::NoSuchZone(pen))
    );
}
