//! Natural movement: gathering speed, braking, turning, looking elsewhere, making room and coming back.

use crate::doors::Doors as _;
use crate::flats::{Flats, KEEPERS, TIDE, move_to};
use yarrick::geom::angle;
use yarrick::ground::ClearanceMap;
use yarrick::motion::formation::{Form, Formation};
use yarrick::motion::steering::Turning;
use yarrick::rng::Stream;
use yarrick::route::Router;
use yarrick::world::{Doing, Legs};
use yarrick::{
    Action, Ground, Kind, Outcome, Side, SideId, Terrain, UnitId, Vec2, World, WorldSetup,
};

fn field(kind: Kind, rows: &[&str]) -> Flats {
    let legend = [
        ('.', Terrain::open("sand")),
        (',', Terrain::open("mud").with_speed(0.5)),
        ('#', Terrain::closed("dyke").blocking_sight()),
    ];
    let ground = Ground::from_rows(1.0, rows, &legend).unwrap();
    let world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![kind],
        ..WorldSetup::on(ground)
    });
    Flats {
        world: world.unwrap(),
        events: Vec::new(),
    }
}

/// How a unit moves tick by tick, until it has no order any more: where it is, how fast it is, where it looks.
fn track(flats: &mut Flats, unit: UnitId, seconds: u32) -> Vec<(Vec2, Vec2, f32)> {
    let mut track = Vec::new();
    for _ in 0..seconds * 20 {
        flats.run(0.05);
        let view = flats.world.unit(unit).unwrap();
        track.push((view.position(), view.velocity(), view.facing()));
        if !view.has_orders() && view.velocity() == Vec2::ZERO {
            break;
        }
    }
    track
}

#[test]
fn a_sluggish_body_gathers_speed_and_brakes_in_time() {
    let sledge = Kind::walker("sledge", 0.6, 2.0).with_legs(Legs {
        acceleration: Some(0.8),
        braking: 1.0,
        ..Legs::of_speed(2.0)
    });
    let mut flats = field(sledge, &["........................................"; 6]);
    let unit = flats.put("sledge", KEEPERS, 2.0, 3.0);
    flats.order(&[unit], move_to(35.0, 3.0));
    let track = track(&mut flats, unit, 60);
    let speeds: Vec<f32> = track
        .iter()
        .map(|(_, velocity, _)| velocity.length())
        .collect();
    for pair in speeds.windows(2) {
        let change = (pair[1] - pair[0]) / 0.05;
        // Its very last step ends where it stands.
        assert!(
            change <= 0.81 && (change >= -1.05 || pair[1] == 0.0),
            "{pair:?}"
        );
    }
    let top = speeds.iter().copied().fold(0.0, f32::max);
    let early = speeds[19];
    assert!(
        (early - 0.8).abs() < 0.1 && top > 1.99,
        "{early} after a second, {top} at most"
    );
    let end = track.last().unwrap().0;
    assert!(end.distance(Vec2::new(35.0, 3.0)) <= 0.3, "{end}");
    assert_eq!(flats.outcomes(unit), [(1, Outcome::Done)]);
}

#[test]
fn one_ordered_to_stop_brakes_first_and_mud_slows_it() {
    let sledge = Kind::walker("sledge", 0.6, 3.0).with_legs(Legs {
        acceleration: Some(2.0),
        braking: 1.0,
        ..Legs::of_speed(3.0)
    });
    let mut flats = field(
        sledge,
        &["..............................,,,,,,,,,,,,,,,,,,"; 6],
    );
    let unit = flats.put("sledge", KEEPERS, 2.0, 3.0);
    flats.order(&[unit], move_to(45.0, 3.0));
    flats.run(5.0);
    let at = flats.at(unit);
    flats.order(&[unit], Action::Stop);
    flats.run(6.0);
    let slid = flats.at(unit).distance(at);
    assert!((3.5..6.0).contains(&slid), "v²/2b is 4.5 m: {slid}");
    assert_eq!(flats.world.unit(unit).unwrap().velocity(), Vec2::ZERO);
    flats.order(&[unit], move_to(45.0, 3.0));
    flats.run_until(30.0, |world| {
        world.units().all(|unit| unit.position().x > 40.0)
    });
    let speed = flats.world.unit(unit).unwrap().velocity().length();
    assert!(speed <= 1.51, "{speed} in mud");
}

#[test]
fn one_that_is_to_hold_afterwards_stops_at_its_place_and_one_that_goes_on_does_not_brake() {
    let sledge = || {
        Kind::walker("sledge", 0.6, 3.0).with_legs(Legs {
            acceleration: Some(2.0),
            braking: 1.0,
            ..Legs::of_speed(3.0)
        })
    };
    for (then, holds) in [(Action::Hold, true), (move_to(45.0, 3.0), false)] {
        let rows = ["................................................"; 6];
        let mut flats = field(sledge(), &rows);
        let unit = flats.put("sledge", KEEPERS, 2.0, 3.0);
        flats.order(&[unit], move_to(25.0, 3.0));
        flats.order_then(&[unit], then);
        flats.run_until(30.0, |world| world.unit(unit).unwrap().position().x > 24.8);
        let speed = flats.world.unit(unit).unwrap().velocity().length();
        assert_eq!(holds, speed < 2.0, "{speed}");
        if holds {
            flats.run(5.0);
            let off = flats.at(unit).distance(Vec2::new(25.0, 3.0));
            assert!(off < 0.3, "{off}");
        }
    }
}

#[test]
fn a_sledge_turns_only_while_it_drives_and_gets_there_round_corners_and_behind() {
    for (turning, to) in [
        (Turning::Driving { circle_m: 1.2 }, (3.0, 12.0)),
        (Turning::Driving { circle_m: 1.2 }, (27.0, 3.0)),
        (Turning::OnTheSpot, (3.0, 12.0)),
        (Turning::OnTheSpot, (27.0, 3.0)),
    ] {
        let mut sledge = Kind::walker("sledge", 0.6, 2.0).with_legs(Legs {
            acceleration: Some(2.0),
            braking: 2.0,
            turning,
            ..Legs::of_speed(2.0)
        });
        sledge.body.turn_rate = 2.0;
        let rows = [
            "..............................",
            "..............................",
            "..............................",
            "..............................",
            "............######............",
            "............######............",
            "............######............",
            "............######............",
            "............######............",
            "............######............",
            "..............................",
            "..............................",
            "..............................",
            "..............................",
            "..............................",
        ];
        let mut flats = field(sledge, &rows);
        let unit = flats.put("sledge", KEEPERS, 8.0, 12.0);
        flats.order(&[unit], move_to(to.0, to.1));
        let track = track(&mut flats, unit, 60);
        for pair in track.windows(2) {
            let (_, velocity, facing) = pair[1];
            let sideways = velocity.perp_dot(angle::direction(facing)).abs();
            assert!(sideways < 0.35, "{turning:?} slides at {sideways} m/s");
            let turned = angle::between(pair[0].2, facing).abs();
            assert!(turned <= 0.101, "{turned}");
            if let Turning::Driving { circle_m } = turning {
                let most = velocity.length().max(pair[0].1.length()) * 0.05 / circle_m;
                assert!(
                    turned <= most + 0.02,
                    "it turns by {turned} at {} m/s",
                    velocity.length()
                );
            }
        }
        assert_eq!(
            flats.outcomes(unit),
            [(1, Outcome::Done)],
            "{turning:?} to {to:?}"
        );
        assert!(flats.at(unit).distance(to.into()) < 0.3);
    }
}

#[test]
fn who_stands_makes_room_for_its_own_and_comes_back() {
    // One in the middle of a corridor that is just wide enough for two.
    let rows = [
        "####################",
        "....................",
        "....................",
        "####################",
    ];
    let mut flats = Flats::of(&rows);
    let post = Vec2::new(10.0, 2.0);
    let warden = flats.put("warden", KEEPERS, post.x, post.y);
    let facing = flats.world.unit(warden).unwrap().facing();
    let raker = flats.put("raker", KEEPERS, 4.0, 2.1);
    flats.order(&[raker], move_to(17.0, 2.0));
    flats.run(0.1);
    let mut farthest = 0.0_f32;
    flats.run_until(30.0, |world| {
        farthest = farthest.max(world.unit(warden).unwrap().position().distance(post));
        !world.unit(raker).unwrap().has_orders()
    });
    assert!(flats.at(raker).distance(Vec2::new(17.0, 2.0)) < 0.1);
    assert!(farthest > 0.1, "nobody had to make room: {farthest}");
    flats.run(6.0);
    let back = flats.at(warden);
    assert!(back.distance(post) < 0.02, "{back} is not back");
    let looks = flats.world.unit(warden).unwrap().facing();
    assert_eq!(looks, facing, "it looks where it looked");
}

#[test]
fn who_holds_or_strikes_or_is_a_foe_does_not_make_room() {
    // A corridor that those who stand close.
    let rows = ["##########", "..........", "##########"];
    let crossing = |prepare: fn(&mut Flats) -> UnitId| {
        let mut flats = Flats::of(&rows);
        let blocker = prepare(&mut flats);
        let at = flats.at(blocker);
        let raker = flats.put("raker", KEEPERS, 3.5, 1.5);
        flats.order(&[raker], move_to(9.0, 1.5));
        flats.run(1.6);
        (flats.at(blocker).distance(at), flats.at(raker).x)
    };
    let (moved, raker) = crossing(|flats| {
        let warden = flats.put("warden", KEEPERS, 5.0, 1.5);
        flats.order(&[warden], Action::Hold);
        warden
    });
    assert!(moved == 0.0 && raker < 5.0, "holding: {moved}");
    let (moved, raker) = crossing(|flats| flats.put("pilferer", TIDE, 5.0, 1.5));
    assert!(moved < 1e-3 && raker < 5.0, "a foe: {moved}");
    let (moved, raker) = crossing(|flats| {
        let warden = flats.put("warden", KEEPERS, 5.0, 1.5);
        let hulk = flats.put("pilferer", TIDE, 6.0, 1.5);
        flats.order(&[warden], Action::Attack { target: hulk });
        flats.run(0.5);
        warden
    });
    assert!(moved < 0.05 && raker < 5.0, "striking: {moved}");
}

#[test]
fn a_formation_looks_ahead_while_its_members_take_little_steps_and_at_the_end() {
    let mut flats = Flats::open(50);
    let units: Vec<UnitId> = (0..9)
        .map(|k| flats.put("warden", KEEPERS, 6.0, 10.0 + 1.2 * k as f32))
        .collect();
    let formation = Formation {
        facing: Some(-1.0),
        ..Formation::new(Form::Block)
    };
    flats.order(
        &units,
        Action::March {
            to: Vec2::new(35.0, 25.0),
            formation,
            fight: false,
        },
    );
    flats.run(50.0);
    for unit in &units {
        let view = flats.world.unit(*unit).unwrap();
        assert_eq!(view.doing(), Doing::Standing);
        assert!(
            angle::between(view.facing(), -1.0).abs() < 0.01,
            "{}",
            view.facing()
        );
    }
}

#[test]
fn what_a_unit_feels_adds_up_to_how_it_moves() {
    let mut flats = Flats::open(40);
    let mut units = Vec::new();
    for k in 0..24 {
        let (x, y) = (10.0 + (k % 4) as f32, 10.0 + (k / 4) as f32);
        units.push(flats.put(["raker", "warden"][k % 2], KEEPERS, x, y));
    }
    flats.order(&units[..12], move_to(20.0, 12.0));
    flats.order(&units[12..], move_to(5.0, 14.0));
    let mut pushed = false;
    for _ in 0..100 {
        flats.run(0.05);
        for unit in &units {
            let view = flats.world.unit(*unit).unwrap();
            let urges = flats.world.motion_breakdown(*unit).unwrap();
            assert!(urges.sum().distance(view.velocity()) < 2e-3, "{urges:?}");
            pushed |= urges.pushed != Vec2::ZERO;
        }
    }
    assert!(pushed);
    let gone = units[0];
    flats.world.remove(gone);
    flats.run(0.1);
    assert_eq!(flats.world.motion_breakdown(gone), None);
    assert!(flats.world.side("keepers") == Some(SideId(0)));
}

#[test]
fn one_walks_up_to_a_given_side_and_stands_off_as_far_as_ordered() {
    let mut flats = Flats::open(40);
    let yard = flats.put("yard", KEEPERS, 20.0, 20.0);
    let raker = flats.put("raker", KEEPERS, 5.0, 20.0);
    let beside = |stand_off_m: f32, side: Option<f32>| Action::Approach {
        target: yard,
        stand_off_m,
        side,
    };
    // The yard looks along x: its front is on the far side.
    for (side, out) in [
        (0.0, Vec2::X),
        (core::f32::consts::FRAC_PI_2, Vec2::Y),
        (core::f32::consts::PI, -Vec2::X),
    ] {
        flats.order(&[raker], beside(1.5, Some(side)));
        flats.run(25.0);
        let expected = Vec2::splat(20.0) + out * (1.2 + 1.5 + 0.4);
        assert!(
            flats.at(raker).distance(expected) < 0.12,
            "{} is not at {expected}",
            flats.at(raker)
        );
    }
    flats.order(&[raker], beside(4.0, None));
    flats.run(0.2);
    assert!(
        (flats.gap(raker, yard) - 1.5).abs() < 0.12,
        "it is near enough already"
    );
    flats.order(&[raker], move_to(5.0, 5.0));
    flats.order_then(&[raker], beside(4.0, None));
    flats.run(40.0);
    assert!(
        (flats.gap(raker, yard) - 4.0).abs() < 0.15,
        "{}",
        flats.gap(raker, yard)
    );
    for (stand_off_m, side) in [
        (-1.0, None),
        (f32::NAN, None),
        (1e9, None),
        (1.0, Some(f32::NAN)),
    ] {
        flats.order(&[raker], beside(stand_off_m, side));
        assert_eq!(crate::flats::refusals(&flats.run(0.1)).len(), 1);
    }
}

#[test]
fn a_way_does_not_lead_past_its_end_and_back() {
    let (field, passage) = (
        "..............############..............",
        "........................................",
    );
    let rows = [
        field, field, field, field, passage, passage, field, field, field,
    ];
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    let ground = Ground::from_rows(1.0, &rows, &legend).unwrap();
    let clearance = ClearanceMap::new(&ground, 0.4);
    let mut stream = Stream::new(1, "ways");
    let mut anywhere =
        |from_m, to_m| Vec2::new(stream.between(from_m, to_m), stream.between(0.5, 8.5));
    for _ in 0..400 {
        let (from, to) = (anywhere(0.5, 13.0), anywhere(27.0, 39.5));
        let route = Router::default().find(&ground, &clearance, 0.4, from, to);
        let points = route.unwrap().points;
        let back: Vec<Vec2> = points.iter().rev().copied().collect();
        for way in [points, back] {
            let [end, corner, beyond, ..] = way[..] else {
                continue;
            };
            let (way, leg_m) = ((beyond - corner).normalize(), corner.distance(beyond));
            let beside_m = (end - corner).dot(way);
            if beside_m > 0.001 && beside_m < leg_m {
                let is_shut = !ground.line_is_clear(end, corner + way * beside_m, 0.4);
                assert!(is_shut, "{end} {corner} {beyond}");
            }
        }
    }
}

/// Bodies wider than a cell have room beside walls, at points in cells in whose middle they have none.
#[test]
fn a_wide_body_comes_to_every_point_at_which_it_has_room_and_to_which_a_way_leads() {
    let mut beside_walls = 0;
    for seed in 0..150 {
        let mut stream = Stream::new(seed, "beside walls");
        let radius = stream.between(0.3, 0.95);
        let mut rows = vec![".".repeat(26); 18];
        for _ in 0..8 + stream.below(60) {
            let (x, y) = (stream.below(26) as usize, stream.below(18) as usize);
            rows[y].replace_range(x..=x, "#");
        }
        let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
        let mut flats = field(Kind::walker("sled", radius, 2.0), &rows);
        let ground = flats.world.ground().clone();
        let clearance = ClearanceMap::new(&ground, radius);
        let mut has_room = || {
            let mut point = || Vec2::new(stream.between(0.0, 26.0), stream.between(0.0, 18.0));
            let mut points = (0..400).map(|_| point());
            points.find(|at| ground.disc_is_clear(*at, radius))
        };
        let [Some(from), Some(to)] = [has_room(), has_room()] else {
            continue;
        };
        let is_open = |at: Vec2| {
            let cell = ground.cell_at(at);
            cell.is_some_and(|cell| clearance.is_open(cell))
        };
        let sled = flats.world.kind("sled").unwrap();
        // No way may lead out of a niche.
        if !is_open(from) || flats.world.can_reach(sled, from, to).is_err() {
            continue;
        }
        let unit = flats.put("sled", KEEPERS, from.x, from.y);
        flats.order(&[unit], move_to(to.x, to.y));
        flats.run(0.1);
        flats.run_until(60.0, |world| !world.unit(unit).unwrap().has_orders());
        let off_m = flats.at(unit).distance(to);
        assert!(off_m < 1e-3, "seed {seed}: {off_m} m off {to}");
        beside_walls += u32::from(!is_open(to));
    }
    assert!(beside_walls > 5, "{beside_walls}");
}
