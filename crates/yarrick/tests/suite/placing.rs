//! Building: verdicts on sites, reserving them, and building there.

use crate::marsh::{DYKE, KEEPERS, Marsh, RACK, RAKER, SALT, SALTHOUSE, TIDE, WARDEN, YARD, setup};
use core::f32::consts::FRAC_PI_2;
use proptest::prelude::*;
use std::collections::BTreeSet;
use yarrick::ground::{Cell, ClearanceMap, Ground, Terrain};
use yarrick::rng::Stream;
use yarrick::site::{Way, closed_ways};
use yarrick::waves::{AssaultPlan, Batch, Wave};
use yarrick::world::{AssaultSetup, Change, Entry, GoalArea, KindId, Refusal, SiteObjection};
use yarrick::{Action, Event, Outcome, UnitId, Vec2};

fn build(kind: KindId, x: f32, y: f32) -> Action {
    let at = Vec2::new(x, y);
    let facing = 0.0;
    Action::Build { kind, at, facing }
}

fn reserved(events: &[Event]) -> Vec<UnitId> {
    let reserved = events.iter().filter_map(|event| match event {
        Event::SiteReserved { site, .. } => Some(*site),
        _ => None,
    });
    reserved.collect()
}

fn refused(events: &[Event]) -> Vec<Refusal> {
    let refused = events.iter().filter_map(|event| match event {
        Event::Refused { why, .. } => Some(*why),
        _ => None,
    });
    refused.collect()
}

#[test]
fn a_building_is_paid_for_grows_stroke_by_stroke_and_then_stands() {
    let mut marsh = Marsh::open(30);
    let raker = marsh.put(RAKER, 5.0, 15.0);
    marsh.order(&[raker], build(RACK, 12.0, 15.0));
    let site = reserved(&marsh.run(0.05))[0];
    assert_eq!(marsh.salt(), 20);
    let view = marsh.world.unit(site).unwrap();
    assert_eq!((view.construction(), view.health()), (Some(0.0), 1.0));
    let under = marsh.world.ground().cell_at(Vec2::new(12.0, 15.0)).unwrap();
    let is_open = |marsh: &Marsh| {
        let ground = marsh.world.ground();
        ground.view(Default::default()).is_open(under)
    };
    assert!(is_open(&marsh), "nothing is there before the first stroke");
    let (mut last, mut grew) = (1.0, 0);
    while marsh.world.unit(site).unwrap().construction().is_some() {
        marsh.run(0.05);
        let health = marsh.world.unit(site).unwrap().health();
        assert!(health >= last);
        grew += u32::from(health > last);
        last = health;
        assert!(marsh.world.tick() < 400);
    }
    // A stroke of 0.2 s each, for 3 s.
    assert_eq!((grew, last), (15, 40.0));
    assert!(!is_open(&marsh));
    let ended = |event: &Event| matches!(event, Event::Ended { unit, outcome: Outcome::Done, .. } if *unit == raker);
    marsh.run(0.1);
    assert!(marsh.events.iter().any(ended));
    let built = |event: &Event| {
        *event
            == Event::Built {
                unit: site,
                by: raker,
            }
    };
    assert_eq!(marsh.events.iter().filter(|event| built(event)).count(), 1);
}

#[test]
fn two_builders_are_twice_as_fast_and_who_stands_inside_walks_out() {
    let mut times = Vec::new();
    for count in [1, 2] {
        let mut marsh = Marsh::open(60);
        let rakers: Vec<UnitId> = (0..count)
            .map(|k| marsh.put(RAKER, 8.0, 12.0 + k as f32))
            .collect();
        let stray = marsh.put(WARDEN, 20.0, 20.0);
        marsh.order(&rakers, build(YARD, 12.0, 15.0));
        let site = reserved(&marsh.run(0.05))[0];
        // It comes to stand on the site before work begins.
        let (unit, to, facing) = (stray, Vec2::new(12.2, 15.0), None);
        marsh
            .world
            .change(Change::Teleport { unit, to, facing })
            .unwrap();
        marsh.run(0.05);
        while marsh.world.unit(site).unwrap().construction().is_some() {
            marsh.run(0.05);
            assert!(marsh.world.tick() < 400);
        }
        times.push(marsh.world.time_s());
        marsh.run(3.0);
        let gap = marsh.world.unit(site).unwrap().block().unwrap();
        let at = marsh.world.unit(stray).unwrap().position();
        assert!(gap.distance(at) > 0.4, "{at}");
    }
    assert!(times[0] - times[1] > 2.0, "{times:?}");
}

#[test]
fn a_site_that_is_called_off_is_refunded_and_leaves_no_trace() {
    let mut marsh = Marsh::open(30);
    let raker = marsh.put(RAKER, 5.0, 15.0);
    let walls = marsh.world.ground().clone();
    for seconds in [0.5, 5.0] {
        marsh.order(&[raker], build(RACK, 12.0, 15.0));
        let site = reserved(&marsh.run(seconds))[0];
        assert_eq!(marsh.salt(), 20);
        marsh.order(&[site], Action::CallOff);
        let events = marsh.run(0.05);
        assert!(marsh.world.unit(site).is_none() && marsh.salt() == 30);
        let lost = |event: &Event| matches!(event, Event::Ended { unit, .. } if *unit == raker);
        assert!(events.iter().any(lost));
        for cell in 0..900 {
            let cell = Cell::new(cell % 30, cell / 30);
            let view = |ground: &Ground| ground.view(Default::default()).is_open(cell);
            assert_eq!(view(marsh.world.ground()), view(&walls));
        }
    }
    // One that was struck down is not.
    marsh.order(&[raker], build(RACK, 12.0, 15.0));
    let site = reserved(&marsh.run(0.5))[0];
    let (unit, damage, by) = (site, 1e3, None);
    marsh
        .world
        .change(Change::Harm { unit, damage, by })
        .unwrap();
    marsh.run(0.5);
    assert_eq!((marsh.salt(), marsh.all_of(SALT)), (20, 30));
}

#[test]
fn a_verdict_names_everything_and_a_command_is_refused_with_the_first() {
    let mut marsh = Marsh::of(
        &[
            "..............................",
            ".#............................",
        ],
        3,
    );
    let house = marsh.put(DYKE, 3.5, 0.5);
    let raker = marsh.put(RAKER, 2.5, 1.5);
    let at = Vec2::new(2.0, 1.0);
    let verdict = marsh.world.site_verdict(KEEPERS, YARD, at, 0.0);
    let closed = |x, y| SiteObjection::ClosedGround {
        at: Vec2::new(x, y),
    };
    let missing = verdict.iter().filter(|objection| matches!(objection, SiteObjection::NotAffordable(missing) if missing.amount == 12));
    assert_eq!(missing.count(), 1);
    assert_eq!(
        verdict[..4],
        [
            SiteObjection::OffTheMap,
            SiteObjection::Overlaps { building: house },
            // That under the building is not said again.
            closed(1.5, 0.5),
            SiteObjection::InTheWay { unit: raker },
        ][..]
    );
    marsh.order(
        &[raker],
        Action::Build {
            kind: YARD,
            at,
            facing: 0.0,
        },
    );
    marsh.order(&[raker], build(WARDEN, 5.0, 0.5));
    marsh.order(&[raker], build(KindId(77), 5.0, 0.5));
    marsh.order(&[house], build(DYKE, 6.5, 0.5));
    let events = marsh.run(0.05);
    use Refusal::{CannotBuild, NoSuchKind, Site};
    assert_eq!(
        refused(&events),
        [
            Site(SiteObjection::OffTheMap),
            CannotBuild,
            NoSuchKind,
            CannotBuild
        ]
    );
    assert_eq!(marsh.salt(), 3);
}

#[test]
fn two_sides_on_one_site_in_one_tick_never_both_win() {
    let mut setup = setup(&[&".".repeat(30) as &str; 30], 30);
    let rich = setup.stores[0].clone();
    setup.stores.push(rich);
    let mut marsh = Marsh::new(setup);
    let own = marsh.put(RAKER, 5.0, 15.0);
    let foe = marsh
        .world
        .spawn(RAKER, TIDE, Vec2::new(25.0, 15.0), 0.0)
        .unwrap();
    marsh.order_as(TIDE, &[foe], build(RACK, 15.0, 15.0));
    marsh.order(&[own], build(RACK, 15.5, 15.2));
    let events = marsh.run(0.05);
    let sites = reserved(&events);
    assert_eq!((sites.len(), marsh.salt()), (1, 20));
    assert_eq!(
        marsh.world.unit(sites[0]).unwrap().side_id(),
        KEEPERS,
        "the first side goes first"
    );
    let building = sites[0];
    assert_eq!(
        refused(&events),
        [Refusal::Site(SiteObjection::Overlaps { building })]
    );
    assert_eq!(marsh.world.stores(TIDE).of(SALT), 30);
}

#[test]
fn a_building_does_nothing_before_it_stands() {
    let mut marsh = Marsh::open(60);
    let raker = marsh.put(RAKER, 5.0, 15.0);
    marsh.order(&[raker], build(YARD, 12.0, 15.0));
    let site = reserved(&marsh.run(0.05))[0];
    marsh.order(&[site], Action::Produce { kind: WARDEN });
    assert_eq!(refused(&marsh.run(0.05)), [Refusal::CannotProduce]);
    marsh.run(20.0);
    marsh.order(&[site], Action::Produce { kind: WARDEN });
    marsh.order(&[site], Action::CallOff);
    assert_eq!(refused(&marsh.run(0.05)), [Refusal::NoSite]);
}

/// A marsh with a dyke across, open at one cell in the middle, and an assault from left to right.
fn besieged() -> Marsh {
    let mut rows = vec![".".repeat(30); 30];
    for (y, row) in rows.iter_mut().enumerate() {
        if y != 15 {
            row.replace_range(15..16, "#");
        }
    }
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let batch = Batch {
        kind: WARDEN.0,
        count: 1,
        delay: 0,
        spacing: 0,
        entry: 0,
        goal: 0,
    };
    let mut setup = setup(&rows, 50);
    setup.assault = Some(AssaultSetup {
        side: TIDE,
        plan: AssaultPlan {
            first_after: 9999,
            lull: 0,
            waves: vec![Wave {
                batches: vec![batch],
            }],
        },
        entries: vec![Entry {
            name: "creek".to_owned(),
            at: Vec2::new(3.0, 15.0),
            spread_m: 1.0,
            facing: 0.0,
        }],
        goals: vec![GoalArea {
            name: "pans".to_owned(),
            at: Vec2::new(27.0, 15.0),
            radius_m: 1.0,
        }],
        leak_cost: None,
    });
    Marsh::new(setup)
}

#[test]
fn the_last_way_of_an_assault_cannot_be_closed() {
    let mut marsh = besieged();
    let raker = marsh.put(RAKER, 5.0, 5.0);
    let closes = SiteObjection::ClosesWay { entry: 0, goal: 0 };
    let verdict = |marsh: &Marsh, x, y| {
        marsh
            .world
            .site_verdict(KEEPERS, DYKE, Vec2::new(x, y), FRAC_PI_2)
    };
    // Rows are given from above: the gap is at 14.5 m.
    assert_eq!(verdict(&marsh, 15.5, 14.5), [closes]);
    assert_eq!(
        verdict(&marsh, 14.5, 14.5),
        [closes],
        "a warden is wider than what is left beside it"
    );
    assert_eq!(verdict(&marsh, 12.5, 14.5), []);
    assert_eq!(
        verdict(&marsh, 27.0, 15.0),
        [],
        "the goal can be reached beside it"
    );
    marsh.order(&[raker], build(DYKE, 15.5, 14.5));
    assert_eq!(refused(&marsh.run(0.05)), [Refusal::Site(closes)]);
}

/// The cells from which a flood on the bare rules comes to some cells, at first sight: no corner is cut, and a cell counts
/// where the fresh clearance map has it open.
fn flood(clearance: &ClearanceMap, from: &[Cell], (width, height): (i32, i32)) -> BTreeSet<Cell> {
    let open = |x, y| {
        (0..width).contains(&x) && (0..height).contains(&y) && clearance.is_open(Cell::new(x, y))
    };
    let mut known: BTreeSet<Cell> = from
        .iter()
        .copied()
        .filter(|cell| open(cell.x, cell.y))
        .collect();
    let mut queue: Vec<Cell> = known.iter().copied().collect();
    while let Some(Cell { x, y }) = queue.pop() {
        for (dx, dy) in [
            (1, 0),
            (-1, 0),
            (0, 1),
            (0, -1),
            (1, 1),
            (1, -1),
            (-1, 1),
            (-1, -1),
        ] {
            let is_straight = open(x + dx, y) && open(x, y + dy);
            if open(x + dx, y + dy) && is_straight && known.insert(Cell::new(x + dx, y + dy)) {
                queue.push(Cell::new(x + dx, y + dy));
            }
        }
    }
    known
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 400, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn a_way_counts_as_closed_exactly_where_a_fresh_flood_finds_none(
        closed in proptest::collection::vec(0.0_f32..1.0, 14 * 14), dense in 0.05_f32..0.45,
        radius in prop_oneof![Just(0.3_f32), Just(0.8), Just(1.4)],
        corner in (0_i32..13, 0_i32..13), size in (1_i32..5, 1_i32..5),
        ends in proptest::collection::vec((0_i32..14, 0_i32..14), 4),
    ) {
        let rows: Vec<String> = closed.chunks(14).map(|row| {
            row.iter().map(|x| if *x < dense { '#' } else { '.' }).collect()
        }).collect();
        let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
        let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
        let mut ground = Ground::from_rows(1.0, &rows, &legend).unwrap();
        let clearance = ClearanceMap::new(&ground, radius);
        let cells: Vec<Cell> = (0..size.0 * size.1)
            .map(|k| Cell::new(corner.0 + k % size.0, corner.1 + k / size.0))
            .filter(|cell| cell.x < 14 && cell.y < 14)
            .collect();
        let cell = |k: usize| Cell::new(ends[k].0, ends[k].1);
        let ways = [
            Way { from: vec![cell(0)], to: vec![cell(1)] },
            Way { from: vec![cell(2), cell(0)], to: vec![cell(3), cell(1)] },
        ];
        let said = closed_ways(&ground, &clearance, &cells, &ways);
        let reaches = |clearance: &ClearanceMap, way: &Way| {
            let known = flood(clearance, &way.from, (14, 14));
            way.to.iter().any(|cell| known.contains(cell))
        };
        let before: Vec<bool> = ways.iter().map(|way| reaches(&clearance, way)).collect();
        ground.block(cells.iter().copied());
        let fresh = ClearanceMap::new(&ground, radius);
        let expected: Vec<usize> = (0..2).filter(|k| before[*k] && !reaches(&fresh, &ways[*k])).collect();
        prop_assert_eq!(said, expected);
    }

    /// What a verdict says of an overlap is what two convex polygons say.
    #[test]
    fn overlaps_in_a_verdict_are_those_of_the_polygons(
        x in 8.0_f32..22.0, y in 8.0_f32..22.0, facing in -3.2_f32..3.2,
        there in -3.2_f32..3.2,
    ) {
        let mut marsh = Marsh::open(99);
        let house = marsh.world.spawn(SALTHOUSE, KEEPERS, Vec2::new(15.0, 15.0), there).unwrap();
        let verdict = marsh.world.site_verdict(KEEPERS, YARD, Vec2::new(x, y), facing);
        let said = verdict.contains(&SiteObjection::Overlaps { building: house });
        let mine = yarrick::geom::Block { centre: Vec2::new(x, y), half: Vec2::splat(1.5), facing };
        let other = marsh.world.unit(house).unwrap().block().unwrap();
        // Within 5 mm of touching, either is right: two may stand wall to wall.
        let grown_by = |mm: f32| yarrick::geom::Block { half: mine.half + Vec2::splat(mm * 1e-3), ..mine };
        let [less, more] = [-5.0, 5.0].map(|mm| crate::site::shared_area(&grown_by(mm), &other) > 0.0);
        prop_assume!(less == more);
        prop_assert_eq!(said, less);
    }
}

/// On ground with closed cells here and there, sites on whole cells: wherever a building may stand and can be walked to, it
/// stands within the minute.
#[test]
fn what_may_be_built_gets_built() {
    let mut built = 0;
    for seed in 0..60 {
        let mut stream = Stream::new(seed, "sites");
        let mut cell = || if stream.unit() < 0.08 { '#' } else { '.' };
        let rows: Vec<String> = (0..24).map(|_| (0..24).map(|_| cell()).collect()).collect();
        let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
        let mut marsh = Marsh::of(&rows, 99);
        let mut place = || Vec2::new(stream.between(1.0, 23.0), stream.between(1.0, 23.0));
        let from = place();
        let Ok(raker) = marsh.world.spawn(RAKER, KEEPERS, from, 0.0) else {
            continue;
        };
        let size_m = marsh.world.kinds()[usize::from(YARD.0)]
            .footprint
            .unwrap()
            .size_m;
        let at = yarrick::site::snapped(marsh.world.ground(), size_m, 0.0, place());
        let reach = marsh.world.can_reach(RAKER, from, at);
        if !marsh.world.site_verdict(KEEPERS, YARD, at, 0.0).is_empty() || reach.is_err() {
            continue;
        }
        marsh.order(&[raker], build(YARD, at.x, at.y));
        let events = marsh.run(60.0);
        let stands = events
            .iter()
            .any(|event| matches!(event, Event::Built { .. }));
        assert!(stands, "seed {seed}: from {from} at {at}");
        built += 1;
    }
    assert!(built > 5, "{built}");
}
