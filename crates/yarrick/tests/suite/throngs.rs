//! Many routes requested at once: what planning them costs, in cells.

use yarrick::ground::{Cell, ClearanceMap, Patch};
use yarrick::route::{Ask, Goal, Group, Planner, RouteRequest};
use yarrick::{Ground, Terrain, Vec2};

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
