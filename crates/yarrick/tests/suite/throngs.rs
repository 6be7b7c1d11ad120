//! Many routes requested at once: what planning them costs, in cells.

use yarrick::ground::{Cell, ClearanceMap, Patch};
use yarrick::route::{Ask, Goal, Group, Planner, RouteRequest};
use yarrick::{
    Action, Command, Ground, Kind, Side, SideId, Terrain, UnitId, Vec2, When, World, WorldSetup,
};

const SIDE: u32 = 576;
const BUDGET: u32 = 100_000;

/// Mostly open ground: a block of 12 by 12 cells in every square of 64.
pub(crate) fn blocks(side: u32) -> Ground {
    let classes = vec![0_u8; (side * side) as usize];
    let mut ground = Ground::new(side, side, 1.0, vec![Terrain::open("sand")], classes).unwrap();
    let corners = (0..side as i32 / 64).flat_map(|x| (0..side as i32 / 64).map(move |y| (x, y)));
    ground.block(corners.flat_map(|(x, y)| {
        let first = Cell::new(x * 64 + 26, y * 64 + 26);
        Patch::between(first, Cell::new(first.x + 11, first.y + 11)).cells()
    }));
    ground
}

/// What it takes until ten groups of so many have their ways across: rounds, and cells in all.
fn across(ground: &Ground, clearance: &ClearanceMap, members: u64) -> (u32, u64) {
    let start = |who: u64| {
        let (group, member) = (who / members, who % members);
        let y = group as f32 * 57.0 + 4.5 + (member / 5) as f32;
        Vec2::new(4.5 + (member % 5) as f32, y)
    };
    let end = |who: u64| {
        let group = (who / members * 7 + 3) % 10;
        Vec2::new(SIDE as f32 - 8.5, group as f32 * 57.0 + 5.5)
    };
    let mut planner = Planner::default();
    for who in 0..members * 10 {
        planner.request(RouteRequest {
            group: Some(Group::new(0, ground.cell_at(end(who)).unwrap())),
            ..RouteRequest::new(who)
        });
    }
    let ask = |who: u64| {
        // Places side by side round the point of the group.
        let aside = Vec2::new(0.0, (who % members % 60) as f32 * 0.9);
        Some(Ask {
            body: 0,
            clearance,
            radius: 0.4,
            from: start(who),
            goal: Goal::Point(end(who) + aside),
        })
    };
    let (mut rounds, mut cells) = (0, 0);
    while planner.waiting() > 0 {
        planner.begin_round(BUDGET);
        while let Some((_, route)) = planner.next(ground, ask) {
            assert!(route.unwrap().short.is_none());
        }
        assert!(planner.spent() <= BUDGET);
        (rounds, cells) = (rounds + 1, cells + u64::from(planner.spent()));
        assert!(rounds < 1000);
    }
    (rounds, cells)
}

#[test]
fn one_more_in_each_group_costs_little_more() {
    let ground = blocks(SIDE);
    let clearance = ClearanceMap::new(&ground, 0.4);
    let costs = [22, 23, 24, 25, 26].map(|members| across(&ground, &clearance, members));
    for pair in costs.windows(2) {
        let [(before, fewer), (then, more)] = [pair[0], pair[1]];
        assert!(more * 10 <= fewer * 12, "{more} cells after {fewer}");
        assert!(then <= before + 3, "{then} rounds after {before}");
    }
}

#[test]
fn a_group_that_is_spread_wide_costs_no_more_than_a_field_of_the_whole_map() {
    let ground = blocks(SIDE);
    let clearance = ClearanceMap::new(&ground, 0.4);
    let (_, cells) = across(&ground, &clearance, 240);
    let fields = 10 * u64::from(SIDE * SIDE);
    assert!(cells <= fields, "{cells} cells where fields have {fields}");
}

/// One that asks for a route: from where to where, and with whom.
type Asked = (Vec2, Vec2, Option<Group>);

/// In how many rounds all of some are served, none of which exceeds the budget.
fn rounds_until_served(ground: &Ground, clearance: &ClearanceMap, all: &[Asked]) -> u32 {
    let mut planner = Planner::default();
    for (who, (.., group)) in (0..).zip(all) {
        planner.request(RouteRequest {
            group: *group,
            ..RouteRequest::new(who)
        });
    }
    let ask = |who: u64| {
        let (from, to, _) = all[who as usize];
        Some(Ask {
            body: 0,
            clearance,
            radius: 0.4,
            from,
            goal: Goal::Point(to),
        })
    };
    let mut rounds = 0;
    while planner.waiting() > 0 {
        planner.begin_round(BUDGET);
        while planner.next(ground, ask).is_some() {}
        assert!(planner.spent() <= BUDGET);
        rounds += 1;
        assert!(rounds < 2000);
    }
    rounds
}

/// On 2048 by 2048 cells: 20,000 in 200 groups are served within 60 rounds; of those that go each for itself from anywhere to
/// anywhere, a tenth of 20,000 within a tenth of 800; 1,000 orders to where nobody can go are answered within 10 ticks.
#[test]
fn throngs_have_their_routes_within_the_bounds() {
    const WIDE: u32 = 2048;
    let ground = blocks(WIDE);
    let clearance = ClearanceMap::new(&ground, 0.4);
    let square = |number: u32| Vec2::new((number % 32) as f32, (number / 32) as f32) * 64.0 + 5.5;
    let member = |who: u32, apart: f32| Vec2::new((who % 10) as f32, (who / 10) as f32) * apart;
    let in_groups = (0..20_000_u32).map(|who| {
        let (group, number) = (who / 100 * 1024 / 200, who % 100);
        let flag = square(1023 - group) + 6.0;
        let cell = ground.cell_at(flag).unwrap();
        let to = flag + member(number, 1.0) - 4.5;
        (
            square(group) + member(number, 1.2),
            to,
            Some(Group::new(0, cell)),
        )
    });
    let mut seed = 3_u32;
    let mut point = || {
        let mut along = || {
            seed = seed.wrapping_mul(747_796_405).wrapping_add(2_891_336_453);
            (seed >> 8) % 31 * 64
        };
        Vec2::new(along() as f32, along() as f32) + 9.5
    };
    let alone: Vec<Asked> = (0..2000).map(|_| (point(), point(), None)).collect();
    let served = |all: Vec<Asked>| rounds_until_served(&ground, &clearance, &all);
    let rounds = [served(in_groups.collect()), served(alone)];
    assert!(rounds[0] <= 60 && rounds[1] <= 80, "{rounds:?}");
    let mut world = world_on(ground, BUDGET);
    let kind = world.kind("warden").unwrap();
    for who in 0..1000_u32 {
        let at = square(who / 100 * 102) + member(who % 100, 1.2);
        let unit = world.spawn(kind, SideId(0), at, 0.0).unwrap();
        world.submit(sent(vec![unit], square(who) + 26.0)).unwrap();
    }
    for _ in 0..10 {
        world.step();
        assert!(world.planning_work() <= BUDGET);
    }
    assert_eq!(world.waiting_for_routes(), 0);
}

fn world_on(ground: Ground, plan_budget: u32) -> World {
    World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![Kind::walker("warden", 0.4, 2.0)],
        plan_budget,
        ..WorldSetup::on(ground)
    })
    .unwrap()
}

fn sent(units: Vec<UnitId>, to: Vec2) -> Command {
    Command {
        side: SideId(0),
        units,
        action: Action::move_to(to),
        when: When::Now,
    }
}

/// With a budget that serves few of them in a tick, all set out at once, to within 60 degrees of where they go.
#[test]
fn a_throng_sets_out_towards_its_goals_within_two_ticks() {
    let mut world = world_on(blocks(SIDE), 3000);
    let kind = world.kind("warden").unwrap();
    let mut goals = Vec::new();
    for group in 0..9 {
        let corner = Vec2::new(4.5, group as f32 * 64.0 + 4.5);
        let goal = Vec2::new(
            SIDE as f32 - 12.5,
            ((group * 7 + 3) % 9) as f32 * 64.0 + 9.5,
        );
        let units = (0..100).map(|k| {
            let at = corner + Vec2::new((k % 10) as f32, (k / 10) as f32) * 1.5;
            world.spawn(kind, SideId(0), at, 0.0).unwrap()
        });
        let units: Vec<UnitId> = units.collect();
        goals.extend(units.iter().map(|unit| (*unit, goal)));
        world.submit(sent(units, goal)).unwrap();
    }
    world.step();
    world.step();
    assert!(world.waiting_for_routes() > 500);
    for (unit, goal) in goals {
        let unit = world.unit(unit).unwrap();
        let ahead = (goal - unit.position()).normalize();
        let along = unit.velocity().normalize_or_zero().dot(ahead);
        assert!(along >= 0.49, "{along} at {}", unit.position());
    }
}

/// The place nearest to a goal in the middle of a block is looked for when the order is taken.
#[test]
fn looking_for_the_nearest_place_counts_as_planning() {
    let work = |to: Vec2| {
        let mut world = world_on(blocks(SIDE), BUDGET);
        let kind = world.kind("warden").unwrap();
        let unit = world.spawn(kind, SideId(0), Vec2::new(20.5, 31.5), 0.0);
        world.submit(sent(vec![unit.unwrap()], to)).unwrap();
        world.step();
        assert_eq!(world.waiting_for_routes(), 0);
        let work = world.planning_work();
        world.step();
        assert_eq!(world.planning_work(), 0);
        work
    };
    let (beside, within) = (Vec2::new(24.5, 31.5), Vec2::new(31.5, 31.5));
    let (beside, within) = (work(beside), work(within));
    assert!(within >= beside + 20, "{within} for {beside}");
}
