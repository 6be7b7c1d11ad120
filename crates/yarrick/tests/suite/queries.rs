//! What a game asks of a world, compared with asking about everything one by one.

use crate::doors::Doors as _;
use crate::flats::{Flats, KEEPERS, TIDE};
use proptest::prelude::*;
use yarrick::geom::Rect;
use yarrick::ground::{Cell, ClearanceMap};
use yarrick::route::{NoRoute, Router, Shortfall};
use yarrick::world::{KindId, UnitView};
use yarrick::{Ground, Kind, Side, Terrain, UnitId, Vec2, World, WorldSetup};

fn sorted<'a>(units: impl Iterator<Item = UnitView<'a>>) -> Vec<UnitId> {
    let mut ids: Vec<_> = units.map(|unit| unit.id()).collect();
    ids.sort_unstable();
    ids
}

/// Flats with a wall, and some who stand about where there is room.
fn peopled(places: &[(u8, f32, f32)], steps: u32) -> Flats {
    let row = "............#...........";
    let mut rows = vec![row; 24];
    rows[20] = "........................";
    let mut flats = Flats::of(&rows);
    for (kind, x, y) in places {
        let (name, side) = [("raker", KEEPERS), ("hulk", TIDE)][usize::from(*kind % 2)];
        let kind = flats.world.kind(name).unwrap();
        let at = Vec2::new(*x, *y);
        if flats.world.nearest_free_spot(kind, at, 0.0) == Some(at) {
            flats.world.put_in(kind, side, at);
        }
    }
    flats.run(steps as f32 * flats.world.tick_s());
    flats
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 64, ..ProptestConfig::default() })]

    #[test]
    fn those_who_are_near_are_those_who_are_found_one_by_one(
        places in proptest::collection::vec((0_u8..2, 0.0_f32..24.0, 0.0_f32..24.0), 0..30),
        steps in 0_u32..3, x in -5.0_f32..30.0, y in -5.0_f32..30.0, radius in 0.0_f32..12.0,
    ) {
        let flats = peopled(&places, steps);
        let (world, at) = (&flats.world, Vec2::new(x, y));
        let near = |unit: &UnitView<'_>| unit.position().distance(at) - unit.radius() <= radius;
        prop_assert_eq!(
            sorted(world.units_within(at, radius)), sorted(world.units().filter(near))
        );
        let rect = Rect::around(at, radius);
        let inside = |unit: &UnitView<'_>| rect.contains(unit.position());
        prop_assert_eq!(sorted(world.units_in_box(rect)), sorted(world.units().filter(inside)));
    }

    #[test]
    fn the_nearest_free_spot_is_free_and_no_cell_nearer_is(
        places in proptest::collection::vec((0_u8..2, 0.0_f32..24.0, 0.0_f32..24.0), 0..60),
        x in -2.0_f32..26.0, y in -2.0_f32..26.0, within in 0.0_f32..12.0,
    ) {
        let flats = peopled(&places, 1);
        let (world, at) = (&flats.world, Vec2::new(x, y));
        let hulk = world.kind("hulk").unwrap();
        let radius = world.kinds()[usize::from(hulk.0)].body.radius_m;
        let is_free = |spot: Vec2| {
            world.ground().on_foot().disc_is_clear(spot, radius)
                && world.units().all(|unit| unit.position().distance(spot) > radius + unit.radius())
        };
        let cells = (0..24).flat_map(|y| (0..24).map(move |x| Cell::new(x, y)));
        let spots = cells.map(|cell| world.ground().centre(cell)).chain([at]);
        let free = spots.filter(|spot| spot.distance(at) <= within && is_free(*spot));
        let nearest = free.map(|spot| spot.distance(at)).min_by(f32::total_cmp);
        let found = world.nearest_free_spot(hulk, at, within);
        prop_assert_eq!(found.map(|spot| spot.distance(at)), nearest);
        prop_assert!(found.is_none_or(is_free));
    }
}

#[test]
fn what_can_be_reached_and_how_is_answered_for_a_kind() {
    let mut flats = Flats::of(&["...#....", "...#....", "........", "...#....", "...#...."]);
    let (raker, hulk) = (
        flats.world.kind("raker").unwrap(),
        flats.world.kind("hulk").unwrap(),
    );
    let (from, to) = (Vec2::new(1.5, 1.5), Vec2::new(6.0, 3.5));
    assert_eq!(flats.world.can_reach(raker, from, to), Ok(()));
    let short = |to| flats.world.can_reach(hulk, from, to).unwrap_err();
    assert_eq!(short(to), Shortfall::CutOff, "the gap is too narrow for it");
    assert_eq!(short(Vec2::new(7.9, 0.1)), Shortfall::TooNarrow);
    assert_eq!(short(Vec2::new(3.5, 0.5)), Shortfall::Closed);
    assert_eq!(short(Vec2::new(3.5, -2.0)), Shortfall::OffMap);

    let route = flats.world.find_route(raker, from, to).unwrap();
    let clearance = ClearanceMap::new(flats.world.ground(), 0.4);
    let mut router = Router::default();
    let alone = router.find(flats.world.ground(), &clearance, 0.4, from, to);
    assert_eq!(route.points, alone.unwrap().points);

    // As the ground is now: the gap is built up.
    flats.world.block([Cell::new(3, 2)]);
    flats.run(0.05);
    let cut_off = flats.world.can_reach(raker, from, to);
    assert_eq!(cut_off, Err(Shortfall::CutOff));
    assert!(
        flats
            .world
            .find_route(raker, from, to)
            .unwrap()
            .short
            .is_some()
    );
}

#[test]
fn a_building_is_offered_a_place_for_its_whole_footprint() {
    let row = "..............";
    let ground = Ground::from_rows(1.0, &[row; 9], &[('.', Terrain::open("sand"))]).unwrap();
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![
            Kind::building("store", Vec2::new(6.0, 3.0)),
            Kind::walker("raker", 0.4, 1.5),
        ],
        ..WorldSetup::on(ground)
    })
    .unwrap();
    let (store, raker) = (world.kind("store").unwrap(), world.kind("raker").unwrap());
    let middle = Vec2::new(7.0, 4.5);
    assert_eq!(world.nearest_free_spot(store, middle, 9.0), Some(middle));
    // Beyond the radius of the store, but on its footprint.
    world.put_in(raker, KEEPERS, Vec2::new(9.5, 4.5));
    let beside = world.nearest_free_spot(store, middle, 9.0).unwrap();
    assert!(beside.x < 6.1 || (beside.y - 4.5).abs() > 1.9, "{beside}");
    world.put_in(store, KEEPERS, beside);
    let next = world.nearest_free_spot(store, middle, 9.0).unwrap();
    assert!(world.spawn(store, KEEPERS, next, 0.0).is_ok());
}

#[test]
fn questions_that_make_no_sense_have_plain_answers() {
    let flats = peopled(&[(0, 5.0, 5.0)], 1);
    let (world, middle) = (&flats.world, Vec2::new(5.0, 5.0));
    for bad in [f32::NAN, f32::INFINITY, -1.0] {
        assert_eq!(world.units_within(middle, bad).count(), 0);
        assert_eq!(world.units_within(Vec2::new(bad, 5.0), 0.1).count(), 0);
    }
    let odd = Rect {
        min: Vec2::NAN,
        max: middle,
    };
    assert_eq!(world.units_in_box(odd).count(), 0);
    let none = KindId(99);
    assert_eq!(world.nearest_free_spot(none, middle, 5.0), None);
    assert!(world.can_reach(none, middle, middle).is_err());
    let route = world.find_route(none, middle, middle);
    assert_eq!(route.unwrap_err(), NoRoute::NoSuchBody);
    let raker = world.kind("raker").unwrap();
    assert_eq!(world.nearest_free_spot(raker, Vec2::NAN, 5.0), None);
    assert_eq!(world.nearest_free_spot(raker, middle, f32::NAN), None);
    assert!(
        world
            .nearest_free_spot(raker, middle, f32::INFINITY)
            .is_some()
    );
    assert!(world.can_reach(raker, Vec2::NAN, middle).is_err());
}
