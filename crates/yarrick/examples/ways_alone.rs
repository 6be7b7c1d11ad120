//! The route room in somebody else's game loop, with no world round it: a way for one, a field for many,
//! a sluice that is shut under way, and who goes over what.
//!
//! `cargo run --example ways_alone`

use yarrick::ground::{Cell, ClearanceMap, Door, DoorId, Gait, GaitId, Patch};
use yarrick::route::{
    Ask, Goal, GoalField, NextPoint, Planner, Route, RouteRequest, Router, round_corners,
};
use yarrick::{Ground, Terrain, Vec2};

const FLATS: [&str; 9] = [
    "............",
    "..wwww......",
    "~~~~~~~.~~~~",
    "~~~~~~~.~~~~",
    "............",
    "..####......",
    "..#..#......",
    "..#.........",
    "............",
];

const RADIUS_M: f32 = 0.35;

type Answer<T = ()> = Result<T, Box<dyn std::error::Error>>;

fn flats() -> Answer<Ground> {
    let ground = Ground::from_rows(
        1.0, // metres a cell
        &FLATS,
        &[
            ('.', Terrain::open("sand")),
            ('w', Terrain::open("reed").with_speed(0.5)),
            ('~', Terrain::closed("creek")),
            ('#', Terrain::closed("dyke")),
        ],
    )?
    .with_gaits(vec![
        Gait::new("sledge").closed_to("reed"),
        Gait::new("swimmer").at_speed("creek", 1.0),
    ])?
    .with_doors(vec![Door {
        name: "sluice".to_owned(),
        patch: Patch::between(Cell::new(7, 5), Cell::new(7, 6)),
        shut: false,
    }])?;
    Ok(ground)
}

fn main() -> Answer {
    let mut ground = flats()?;
    let (pen, yard) = (Vec2::new(3.5, 1.5), Vec2::new(2.5, 8.5));

    // One way each: on foot, by sledge, swimming.
    let mut router = Router::default();
    for gait in [0, 1, 2].map(GaitId) {
        let clearance = ClearanceMap::for_gait(&ground, gait, RADIUS_M);
        let route = router.find(&ground, &clearance, RADIUS_M, pen, yard)?;
        let name = &ground.gaits()[usize::from(gait.0)].name;
        println!("{name}: {}", described(&route));
    }

    // The same on foot with the corners rounded, for walking that looks natural.
    let mut clearance = ClearanceMap::new(&ground, RADIUS_M);
    let route = router.find(&ground, &clearance, RADIUS_M, pen, yard)?;
    let (curve, _) = round_corners(ground.on_foot(), RADIUS_M, &route.points, &[], 0.3);
    println!(
        "rounded: {} points instead of {}",
        curve.len(),
        route.points.len()
    );

    follow_a_field(&mut ground, &mut clearance, [pen, yard])?;
    plan_within_a_budget(&ground, &clearance, [pen, yard])?;

    // What cannot be reached is answered with the reason.
    let changed = ground.set_door(DoorId(0), true);
    clearance.repair(&ground, changed);
    let route = router.find(&ground, &clearance, RADIUS_M, pen, yard)?;
    if let (Some(why), Some(barrier)) = (route.short, route.barrier) {
        println!("shut: {why}, behind {barrier:?}; {}", described(&route));
    }
    Ok(())
}

/// Many to one goal: a field, computed once, and a step along it for each unit in every frame.
fn follow_a_field(
    ground: &mut Ground,
    clearance: &mut ClearanceMap,
    [pen, yard]: [Vec2; 2],
) -> Answer {
    let goal = ground.cell_at(yard).ok_or("the yard is on the map")?;
    let mut field = GoalField::new(clearance, &[goal])?;
    let mut rakers = [pen, Vec2::new(9.5, 0.5), Vec2::new(11.5, 4.5)];
    let (mut frames, mut halted) = (0, 0);
    while rakers.iter().any(|at| ground.cell_at(*at) != Some(goal)) {
        let mut standing = 0;
        for at in &mut rakers {
            match field.next_point(ground, clearance, RADIUS_M, *at) {
                NextPoint::To(point) => *at += (point - *at).clamp_length_max(0.1),
                // The sluice is shut: it may open again.
                NextPoint::Arrived | NextPoint::Unreachable => standing += 1,
            }
        }
        frames += 1;
        halted += u32::from(standing == rakers.len());
        // The ground changes: only what the sluice touches is worked out anew.
        if frames == 20 || frames == 80 {
            let changed = ground.set_door(DoorId(0), frames == 20);
            let touched = clearance.repair(ground, changed).touched;
            field.repair(clearance, touched)?;
        }
    }
    println!("field: all home after {frames} frames, {halted} of them before the shut sluice");
    Ok(())
}

/// Requests within a budget: at most 200 cells a frame, for any number of requests.
fn plan_within_a_budget(
    ground: &Ground,
    clearance: &ClearanceMap,
    [pen, yard]: [Vec2; 2],
) -> Answer {
    let mut planner = Planner::default();
    for who in 0..5 {
        planner.request(RouteRequest::new(who));
    }
    let ask = |who: u64| {
        Some(Ask {
            body: 0,
            clearance,
            radius: RADIUS_M,
            from: pen,
            goal: Goal::Within {
                of: yard,
                metres: who as f32 * 0.5,
            },
        })
    };
    let mut frame = 0;
    while planner.waiting() > 0 {
        frame += 1;
        planner.begin_round(200);
        while let Some((who, route)) = planner.next(ground, ask) {
            println!("frame {frame}: {who} goes {:.1} m", route?.length_m);
        }
    }
    Ok(())
}

fn described(route: &Route) -> String {
    let points = route
        .points
        .iter()
        .map(|at| format!("({:.1}, {:.1})", at.x, at.y));
    let points: Vec<String> = points.collect();
    format!("{:.1} m by {}", route.length_m, points.join(" "))
}
