//! The planner: budgets, turns, and what it finds, against a router without a budget.

use proptest::prelude::*;
use yarrick::ground::{Cell, ClearanceMap, Patch};
use yarrick::route::{Ask, Goal, Group, NoRoute, Planner, Route, RouteRequest, Router, Standing};
use yarrick::scenario::Pattern;
use yarrick::world::Doing;
use yarrick::{
    Action, Command, Ground, Kind, Side, SideId, Threads, UnitId, Vec2, When, World, WorldSetup,
};

/// Those who want routes on a map, each from a point to a point.
pub(crate) struct Crowd {
    pub(crate) ground: Ground,
    pub(crate) clearance: ClearanceMap,
    pub(crate) ways: Vec<(Vec2, Vec2)>,
}

impl Crowd {
    fn on(ground: Ground, ways: &[(Vec2, Vec2)]) -> Crowd {
        let clearance = ClearanceMap::new(&ground, 0.4);
        Crowd {
            ground,
            clearance,
            ways: ways.to_vec(),
        }
    }

    pub(crate) fn ask(&self, who: u64) -> Option<Ask<'_>> {
        let &(from, to) = self.ways.get(who as usize)?;
        Some(Ask {
            body: 0,
            clearance: &self.clearance,
            radius: 0.4,
            from,
            goal: Goal::Point(to),
        })
    }

    /// Who is served in a round, in order.
    fn round(&self, planner: &mut Planner, budget: u32) -> Vec<u64> {
        planner.begin_round(budget);
        let mut served = Vec::new();
        while let Some((who, _)) = planner.next(&self.ground, |who| self.ask(who)) {
            served.push(who);
        }
        // A diagonal run over the map, four of them at once, cannot be divided.
        assert!(planner.spent() <= budget.max(4 * 66 + 32));
        served
    }
}

fn ticket(who: u64, side: u8, urgent: bool) -> RouteRequest {
    RouteRequest {
        side,
        urgent,
        ..RouteRequest::new(who)
    }
}

/// A map of rooms, and ways across it.
fn rooms(ways: usize) -> Crowd {
    let ground = Pattern::Rooms.ground(64, 5);
    let at = |k: usize| Vec2::new(4.5 + (k % 7) as f32, 4.5);
    let ways: Vec<_> = (0..ways).map(|k| (at(k), Vec2::new(60.5, 60.5))).collect();
    Crowd::on(ground, &ways)
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 60, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn any_budget_gives_the_routes_that_a_router_finds_and_is_never_exceeded(
        budget in 40_u32..3000, seed in 0_u64..50,
        ends in proptest::collection::vec((0.5_f32..63.0, 0.5_f32..63.0), 2..12),
    ) {
        let ground = Pattern::Random.ground(64, seed);
        let ways: Vec<_> = ends.windows(2)
            .map(|pair| (Vec2::from(pair[0]), Vec2::from(pair[1])))
            .collect();
        let crowd = Crowd::on(ground, &ways);
        let mut planner = Planner::default();
        for who in 0..ways.len() as u64 {
            planner.request(ticket(who, (who % 3) as u8, who % 4 == 0));
        }
        let mut found: Vec<(u64, Result<Route, NoRoute>)> = Vec::new();
        let mut work = 0;
        for round in 1..2000 {
            planner.begin_round(budget);
            let before = found.len();
            while let Some(served) = planner.next(&crowd.ground, |who| crowd.ask(who)) {
                found.push(served);
            }
            // What it takes to find the place nearest to a goal out of reach cannot be divided; it is made
            // up for.
            let in_reach = |(_, route): &(u64, Result<Route, NoRoute>)| {
                route.as_ref().is_ok_and(|route| route.short.is_none())
            };
            let divides = found[before..].iter().all(in_reach) && planner.waiting() == 0;
            prop_assert!(!divides || planner.spent() <= budget.max(4 * 66 + 32));
            work += planner.spent();
            prop_assert!(work <= round * budget + 64 * 64);
            if planner.waiting() == 0 {
                break;
            }
        }
        found.sort_by_key(|(who, _)| *who);
        prop_assert_eq!(found.len(), ways.len());
        for (who, route) in found {
            let (from, to) = ways[who as usize];
            let plain = Router::default().find(&crowd.ground, &crowd.clearance, 0.4, from, to);
            prop_assert_eq!(route, plain);
        }
    }

    #[test]
    fn a_crowd_that_shares_a_field_goes_ways_as_short_as_searched_ones(
        seed in 0_u64..50, starts in proptest::collection::vec((0.5_f32..63.0, 0.5_f32..63.0), 40),
        goal in (8.0_f32..56.0, 8.0_f32..56.0),
    ) {
        let ground = Pattern::Random.ground(64, seed);
        let clearance = ClearanceMap::new(&ground, 0.4);
        let goal = clearance.nearest(Vec2::from(goal), |_| true).unwrap();
        let to = ground.centre(goal);
        let ways: Vec<_> = starts.iter()
            .filter_map(|start| clearance.nearest(Vec2::from(*start), |c| clearance.connected(c, goal)))
            .map(|cell| (ground.centre(cell), to))
            .collect();
        let crowd = Crowd::on(ground, &ways);
        let mut planner = Planner::default();
        for who in 0..ways.len() as u64 {
            planner.request(RouteRequest { group: Some(Group::new(0, goal)), ..RouteRequest::new(who) });
        }
        let mut both = (0.0, 0.0);
        for _ in 0..200 {
            planner.begin_round(700);
            while let Some((who, route)) = planner.next(&crowd.ground, |who| crowd.ask(who)) {
                let (from, _) = ways[who as usize];
                let plain = Router::default().find(&crowd.ground, &crowd.clearance, 0.4, from, to);
                let (route, plain) = (route.unwrap(), plain.unwrap());
                prop_assert_eq!(route.points.last(), plain.points.last());
                for leg in route.points.windows(2) {
                    prop_assert!(crowd.ground.line_is_clear(leg[0], leg[1], 0.4 - 1e-4));
                }
                prop_assert!(route.length_m <= plain.length_m * 1.1 + 0.5);
                both = (both.0 + route.length_m, both.1 + plain.length_m);
            }
            prop_assert!(planner.spent() <= 700);
        }
        prop_assert_eq!(planner.waiting(), 0);
        prop_assert!(both.0 <= both.1 * 1.02);
    }
}

#[test]
fn nobody_waits_longer_than_the_documented_bound() {
    let sides = |who: u64| [0, 0, 0, 0, 1, 0, 0, 2][(who % 8) as usize];
    for (budget, others) in [(600, 1), (1000, 1), (5000, 1), (20_000, 16), (80_000, 16)] {
        let crowd = rooms(64);
        let mut planner = Planner::default();
        (0..64).for_each(|who| planner.request(ticket(who, sides(who), false)));
        let before = |who: u64| (0..who).filter(|other| sides(*other) == sides(who)).count();
        let dearest = (0..64).map(|who| {
            let mut alone = Planner::default();
            alone.request(ticket(who, 0, false));
            crowd.round(&mut alone, 1_000_000);
            alone.spent()
        });
        let dearest = dearest.max().unwrap();
        let mut served = Vec::new();
        for round in 1..2000_u32 {
            let now = crowd.round(&mut planner, budget);
            served.extend(now.into_iter().map(|who| (who, round)));
        }
        assert_eq!(served.len(), 64);
        for (who, round) in served {
            // Where there are no tracks, a round leaves no more unused than a search takes in a step, or 128.
            let used = budget - Router::least_step(&crowd.clearance).max(128);
            // Large budgets are not used in full at first.
            let slow = if budget > 4096 { 36 } else { 0 };
            let most = (3 * (before(who) as u32 + others) * dearest).div_ceil(used) + 1 + slow;
            assert!(
                round <= most,
                "{who} in round {round}, not {most}, at {budget}"
            );
        }
    }
}

/// What is served in a round, in order, and the work.
type Round = (Vec<(u64, Result<Route, NoRoute>)>, u32);

/// All that a planner serves on some threads, round by round.
fn served_on(threads: usize, crowd: &Crowd, (budget, saved_in): (u32, u32)) -> Vec<Round> {
    let threads = Threads::new(threads);
    let mut planner = Planner::default();
    for who in 0..crowd.ways.len() as u64 {
        planner.request(ticket(who, (who % 2) as u8, who % 9 == 0));
    }
    let mut rounds = Vec::new();
    while planner.waiting() > 0 && rounds.len() < 5000 {
        planner.begin_round(budget);
        let mut found = Vec::new();
        while let Some(served) = planner.next_on(&threads, &crowd.ground, |who| crowd.ask(who)) {
            found.push(served);
        }
        rounds.push((found, planner.spent()));
        if rounds.len() as u32 == saved_in {
            let text = postcard::to_stdvec(&planner).unwrap();
            planner = postcard::from_bytes(&text).unwrap();
            let clearance = |_| Some(&crowd.clearance);
            let redone = planner.redo(&crowd.ground, |who| crowd.ask(who), clearance);
            assert_eq!(redone, Ok(()));
        }
    }
    assert_eq!(planner.waiting(), 0);
    rounds
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 40, failure_persistence: None, ..ProptestConfig::default() })]

    /// Some go from anywhere to anywhere, and others nearly the same way as the first of them.
    #[test]
    fn any_number_of_threads_finds_the_same_in_the_same_rounds(
        seed in 0_u64..50, budget in prop_oneof![500_u32..9000, Just(40_000), Just(60_000), Just(100_000)], saved_in in 1_u32..8,
        pattern in prop_oneof![Just(Pattern::Random), Just(Pattern::Rooms), Just(Pattern::Open)],
        ends in proptest::collection::vec((0.5_f32..191.0, 0.5_f32..191.0), 60),
        aside in proptest::collection::vec((-9.0_f32..9.0, -9.0_f32..9.0), 40),
    ) {
        let ground = pattern.ground(192, seed);
        let mut ways: Vec<_> = ends.windows(2)
            .map(|pair| (Vec2::from(pair[0]), Vec2::from(pair[1])))
            .collect();
        let (from, to) = ways[0];
        ways.extend(aside.windows(2).map(|pair| (from + Vec2::from(pair[0]), to + Vec2::from(pair[1]))));
        let crowd = Crowd::on(ground, &ways);
        let one = served_on(1, &crowd, (budget, 0));
        let within = one.iter().all(|(_, work)| *work <= budget);
        prop_assert!(budget < 36_000 || within);
        prop_assert_eq!(&served_on(2, &crowd, (budget, 0)), &one);
        prop_assert_eq!(&served_on(5, &crowd, (budget, saved_in)), &one);
    }
}

#[test]
fn sides_take_turns_by_work_and_the_urgent_go_first() {
    let crowd = rooms(12);
    let mut planner = Planner::default();
    for who in 0..8 {
        planner.request(ticket(who, 0, false));
    }
    for who in 8..11 {
        planner.request(ticket(who, 1, false));
    }
    planner.request(ticket(11, 0, true));
    assert_eq!(planner.standing(7), Some(Standing::Waiting { before: 7 }));
    // A little work is spread over a few rounds.
    let rounds = (0..4).flat_map(|_| crowd.round(&mut planner, 1_000_000));
    let served: Vec<u64> = rounds.collect();
    assert_eq!(served[0], 11);
    // All ways take about the same work, so the sides alternate until one has nobody left.
    let mut sides = served[1..7].iter().map(|who| u8::from(*who >= 8));
    assert_eq!(
        sides.by_ref().filter(|side| *side == 1).count(),
        3,
        "{served:?}"
    );
    assert_eq!(served.len(), 12);
    assert_eq!(planner.standing(7), None);
}

/// Who is sent elsewhere, alone, before it is served: the field of the place where it was to go with many
/// others is of no use to it.
#[test]
fn whoever_asks_anew_while_it_waits_leaves_its_group() {
    let crowd = rooms(40);
    let goal = crowd.ground.cell_at(crowd.ways[0].1).unwrap();
    let group = Some(Group::new(0, goal));
    for leave in [false, true] {
        let mut planner = Planner::default();
        for who in 0..40 {
            planner.request(RouteRequest {
                group,
                ..RouteRequest::new(who)
            });
        }
        // Before its turn, and when it is being served.
        for _ in 0..2 {
            for who in 0..40 {
                let group = group.filter(|_| !leave);
                planner.request(RouteRequest {
                    group,
                    ..RouteRequest::new(who)
                });
            }
            assert!(crowd.round(&mut planner, 40).is_empty());
            let in_group = matches!(planner.standing(0), Some(Standing::WithItsGroup { .. }));
            assert_eq!(in_group, !leave);
        }
        assert_eq!(planner.waiting(), 40);
    }
}

#[test]
fn even_a_budget_of_one_serves_everybody_in_the_end() {
    let crowd = rooms(30);
    let goal = crowd.ground.cell_at(crowd.ways[0].1).unwrap();
    for group in [None, Some(Group::new(0, goal))] {
        let mut planner = Planner::default();
        for who in 0..30 {
            planner.request(RouteRequest {
                group,
                ..RouteRequest::new(who)
            });
        }
        let rounds = (0..200_000).take_while(|_| {
            crowd.round(&mut planner, 1);
            planner.waiting() > 0
        });
        assert!(rounds.count() < 150_000);
    }
}

#[test]
fn a_search_goes_on_over_rounds_and_can_be_cancelled() {
    let crowd = rooms(3);
    let mut planner = Planner::default();
    for who in 0..3 {
        planner.request(RouteRequest::new(who));
        planner.request(RouteRequest::new(who));
    }
    assert_eq!(planner.waiting(), 3);
    assert!(crowd.round(&mut planner, 200).is_empty());
    assert!(matches!(
        planner.standing(0),
        Some(Standing::UnderWay { settled: 1.. })
    ));
    assert!(planner.cancel(0));
    assert!(planner.cancel(2));
    assert!(!planner.cancel(2));
    assert_eq!(planner.standing(0), None);
    // One that has become urgent goes before all others.
    planner.request(RouteRequest::new(0));
    planner.request(ticket(0, 0, true));
    let served = crowd.round(&mut planner, 1_000_000);
    assert_eq!(served, [0, 1]);
    assert_eq!(planner.waiting(), 0);
}

#[test]
fn whoever_wants_nothing_any_more_costs_nothing_and_a_goal_may_move() {
    let mut crowd = rooms(2);
    let mut planner = Planner::default();
    planner.request(RouteRequest::new(99));
    planner.request(RouteRequest::new(1));
    assert!(crowd.round(&mut planner, 60).is_empty());
    crowd.ways[1].1 = Vec2::new(30.5, 4.5);
    let mut last = None;
    for _ in 0..1000 {
        planner.begin_round(60);
        if let Some((who, route)) = planner.next(&crowd.ground, |who| crowd.ask(who)) {
            assert_eq!(who, 1);
            last = route.unwrap().points.last().copied();
        }
    }
    assert_eq!(last, Some(Vec2::new(30.5, 4.5)));
    let mut planner = Planner::default();
    planner.request(RouteRequest::new(99));
    planner.begin_round(1000);
    assert!(planner.next(&crowd.ground, |who| crowd.ask(who)).is_none());
    assert_eq!((planner.spent(), planner.waiting()), (0, 0));
}

#[test]
fn a_search_under_way_takes_in_that_the_ground_has_changed() {
    let mut crowd = rooms(1);
    let mut planner = Planner::default();
    planner.request(RouteRequest::new(0));
    assert!(crowd.round(&mut planner, 60).is_empty());
    // The rooms round the goal lose a door or two; there is always another way.
    let patch = Patch::between(Cell::new(20, 12), Cell::new(30, 22));
    let changed = crowd.ground.block(patch.cells());
    let repair = crowd.clearance.repair(&crowd.ground, changed);
    planner.ground_changed(0, &crowd.clearance, &repair);
    let route = loop {
        planner.begin_round(60);
        if let Some((_, route)) = planner.next(&crowd.ground, |who| crowd.ask(who)) {
            break route;
        }
    };
    let (from, to) = crowd.ways[0];
    let plain = Router::default().find(&crowd.ground, &crowd.clearance, 0.4, from, to);
    assert_eq!(route, plain);
}

/// A thousand units, ordered across a map of 1024 by 1024 cells in one tick.
fn march(pattern: Pattern) {
    let ground = pattern.ground(1024, 11);
    let kind = Kind::walker("raker", 0.4, 1.6);
    let setup = WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![kind.clone()],
        ..WorldSetup::on(ground)
    };
    let budget = setup.plan_budget;
    let mut world = World::new(setup).unwrap();
    let clearance = ClearanceMap::new(world.ground(), 0.4);
    let goal = clearance
        .nearest(Vec2::new(1000.0, 1000.0), |_| true)
        .unwrap();
    let goal = (0..20)
        .filter_map(|k| clearance.nearest(Vec2::new(1000.0 - k as f32, 990.0), |_| true))
        .find(|cell| clearance.connected(*cell, near_start(&clearance)))
        .unwrap_or(goal);
    let mut units: Vec<UnitId> = Vec::new();
    let columns = world
        .ground()
        .whole()
        .cells()
        .filter(|cell| cell.x < 120 && cell.y < 120);
    let cells: Vec<Cell> = columns
        .filter(|cell| cell.x % 2 == 0 && cell.y % 2 == 0 && clearance.connected(*cell, goal))
        .take(1000)
        .collect();
    for cell in cells {
        let at = world.ground().centre(cell);
        let kind = world.kind("raker").unwrap();
        units.push(world.spawn(kind, SideId(0), at, 0.0).unwrap());
    }
    assert_eq!(units.len(), 1000);
    let to = world.ground().centre(goal);
    let command = Command {
        side: SideId(0),
        units: units.clone(),
        action: Action::move_to(to),
        when: When::Now,
    };
    world.submit(command).unwrap();
    let view = |world: &World| {
        let units = world.units().filter(|unit| unit.doing() == Doing::Going);
        units.count()
    };
    let mut ticks = 0;
    let before: Vec<Vec2> = units
        .iter()
        .map(|id| world.unit(*id).unwrap().position())
        .collect();
    while view(&world) < units.len() {
        world.step();
        ticks += 1;
        assert!(world.planning_work() <= budget);
        assert!(
            ticks <= 20,
            "{} of {} after {ticks} ticks",
            view(&world),
            units.len()
        );
        if ticks == 3 {
            // Those that wait have set out meanwhile.
            let moved = units
                .iter()
                .zip(&before)
                .filter(|(id, at)| world.unit(**id).unwrap().position().distance(**at) > 0.02);
            assert!(moved.count() > 500);
        }
    }
    for unit in world.units() {
        assert!(unit.way_ahead().last().unwrap().distance(to) < 60.0);
        assert_eq!(unit.route_standing(), None);
    }
}

fn near_start(clearance: &ClearanceMap) -> Cell {
    clearance.nearest(Vec2::new(40.0, 40.0), |_| true).unwrap()
}

#[test]
fn a_thousand_cross_a_large_map_of_rooms_within_twenty_ticks() {
    march(Pattern::Rooms);
}

#[test]
fn a_thousand_cross_a_large_map_of_clutter_within_twenty_ticks() {
    march(Pattern::Random);
}

#[test]
fn a_thousand_cross_a_large_open_map_within_twenty_ticks() {
    march(Pattern::Open);
}
