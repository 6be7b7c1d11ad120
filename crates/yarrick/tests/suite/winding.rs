//! A crowd whose way winds through the whole map: long to find, to look along and to pull straight.

use proptest::prelude::*;
use yarrick::ground::{Cell, ClearanceMap, Patch};
use yarrick::route::{Ask, Goal, GoalField, Group, NoRoute, Planner, Route, RouteRequest};
use yarrick::{Ground, Terrain, Threads, Vec2};

const SIDE: i32 = 192;

/// Corridors 7 cells wide, one above the other, joined at alternating ends. `teeth` stand in them from both sides.
fn corridors(teeth: bool) -> Ground {
    let is_closed = |x: i32, y: i32| {
        let (band, row) = (y / 8, y % 8);
        let opening = if band % 2 == 0 { x >= SIDE - 6 } else { x < 6 };
        let is_tooth = x % 8 == 0 && row < 4 || x % 8 == 4 && row >= 3;
        row == 7 && !opening || teeth && (8..SIDE - 8).contains(&x) && is_tooth
    };
    let cells = (0..SIDE * SIDE).map(|at| u8::from(is_closed(at % SIDE, at / SIDE)));
    let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
    Ground::new(
        SIDE as u32,
        SIDE as u32,
        1.0,
        terrains,
        cells.collect::<Vec<u8>>(),
    )
    .unwrap()
}

struct Crowd {
    ground: Ground,
    clearance: ClearanceMap,
    /// Where each stands, and how wide it is.
    bodies: Vec<(Vec2, f32)>,
    /// Where they go, in turn.
    goals: Vec<Cell>,
}

impl Crowd {
    fn goal(&self, who: u64) -> Cell {
        self.goals[who as usize % self.goals.len()]
    }

    fn to(&self, who: u64) -> Vec2 {
        self.ground.centre(self.goal(who)) - Vec2::new((who % 4) as f32, (who / 4 % 4) as f32) * 0.9
    }

    fn ask(&self, who: u64) -> Option<Ask<'_>> {
        let (from, radius) = self.bodies[who as usize];
        Some(Ask {
            body: 0,
            clearance: &self.clearance,
            radius,
            from,
            goal: Goal::Point(self.to(who)),
        })
    }

    /// What is found in each round, and its work. Saved and loaded after a number of rounds.
    fn served(&self, threads: usize, budget: u32, saved_in: usize) -> Vec<(Found, u32)> {
        let threads = Threads::new(threads);
        let mut planner = Planner::default();
        for who in 0..self.bodies.len() as u64 {
            planner.request(RouteRequest {
                group: Some(Group::new(0, self.goal(who))),
                ..RouteRequest::new(who)
            });
        }
        let mut rounds = Vec::new();
        while planner.waiting() > 0 && rounds.len() < 2000 {
            planner.begin_round(budget);
            let next = || planner.next_on(&threads, &self.ground, |who| self.ask(who));
            let found: Found = core::iter::from_fn(next).collect();
            rounds.push((found, planner.spent()));
            if rounds.len() == saved_in {
                let saved = postcard::to_stdvec(&planner).unwrap();
                planner = postcard::from_bytes(&saved).unwrap();
                let clearance = |_| Some(&self.clearance);
                let redone = planner.redo(&self.ground, |who| self.ask(who), clearance);
                assert_eq!(redone, Ok(()));
            }
        }
        assert_eq!(planner.waiting(), 0);
        rounds
    }
}

type Found = Vec<(u64, Result<Route, NoRoute>)>;

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn a_way_through_the_whole_map_never_exceeds_a_budget(
        teeth in any::<bool>(), budget in 6000_u32..40_000, saved_in in 1_usize..40,
        starts in proptest::collection::vec((0..SIDE, 0..SIDE, any::<bool>()), 30),
    ) {
        let ground = corridors(teeth);
        // Both widths find the same cells free, but not the same lines.
        let (narrow, wide) = (0.1, 0.45);
        prop_assert_eq!(ClearanceMap::class_of(&ground, narrow), ClearanceMap::class_of(&ground, wide));
        let clearance = ClearanceMap::new(&ground, wide);
        let bodies = starts.iter().map(|(x, y, is_wide)| {
            let at = ground.centre(Cell::new(*x, *y));
            let cell = clearance.nearest(at, |_| true).unwrap();
            (ground.centre(cell), if *is_wide { wide } else { narrow })
        });
        let bodies = bodies.collect();
        let crowd = Crowd { bodies, goals: vec![Cell::new(SIDE - 3, SIDE - 3)], ground, clearance };
        let rounds = crowd.served(1, budget, 0);
        prop_assert_eq!(&crowd.served(2, budget, saved_in), &rounds);

        let field = GoalField::new(&crowd.clearance, &crowd.goals).unwrap();
        for (found, work) in rounds {
            prop_assert!(work <= budget, "{} of {}", work, budget);
            for (who, route) in found {
                let (from, radius) = crowd.bodies[who as usize];
                let route = route.unwrap();
                prop_assert_eq!([route.points[0], *route.points.last().unwrap()], [from, crowd.to(who)]);
                for leg in route.points.windows(2) {
                    prop_assert!(
                        crowd.ground.line_is_clear(leg[0], leg[1], radius - 1e-4),
                        "{who} of radius {radius} from {from}, leg {leg:?} of {} points", route.points.len()
                    );
                }
                // As short as the way of one who follows the field step by step, and the last steps.
                let least = field.left_m(&crowd.clearance, crowd.ground.cell_at(from).unwrap());
                prop_assert!(route.length_m <= least.unwrap() * 1.01 + 8.0);
            }
        }
    }
}

#[test]
fn more_groups_than_fields_do_not_hinder_each_other() {
    let ground = corridors(false);
    let clearance = ClearanceMap::new(&ground, 0.45);
    let goals: Vec<Cell> = (0..8).map(|k| Cell::new(SIDE - 10, k * 24 + 3)).collect();
    let bodies = (0..8 * 26).map(|who| (Vec2::new(9.5 + (who % 100) as f32, 1.5), 0.45));
    let bodies = bodies.collect();
    let crowd = Crowd {
        ground,
        clearance,
        bodies,
        goals,
    };
    let rounds = crowd.served(1, 30_000, 0);
    // Four groups have a field; searches serve the others. Fields that take turns would be begun anew in every round.
    assert!(rounds.len() <= 10, "{} rounds", rounds.len());
    assert_eq!(crowd.served(2, 30_000, 7), rounds);
}

#[test]
fn a_breach_that_shortens_most_ways_does_not_exceed_the_budget() {
    const BUDGET: u32 = 8000;
    let ground = corridors(false);
    let clearance = ClearanceMap::new(&ground, 0.45);
    let bodies = (0..40).map(|who| {
        (
            Vec2::new(9.5 + (who % 20) as f32, 1.5 + (who / 20) as f32),
            0.45,
        )
    });
    let mut crowd = Crowd {
        bodies: bodies.collect(),
        goals: vec![Cell::new(SIDE - 3, SIDE - 3)],
        ground,
        clearance,
    };
    let mut planner = Planner::default();
    let mut longest = Vec::new();
    for pass in 0..2 {
        for who in 0..40 {
            planner.request(RouteRequest {
                group: Some(Group::new(0, crowd.goal(who))),
                ..RouteRequest::new(who)
            });
        }
        let mut found: Found = Vec::new();
        while planner.waiting() > 0 {
            planner.begin_round(BUDGET);
            found.extend(core::iter::from_fn(|| {
                planner.next(&crowd.ground, |who| crowd.ask(who))
            }));
            assert!(planner.spent() <= BUDGET, "{}", planner.spent());
        }
        let field = GoalField::new(&crowd.clearance, &crowd.goals).unwrap();
        for (who, route) in &found {
            let from = crowd.ground.cell_at(crowd.bodies[*who as usize].0).unwrap();
            let least = field.left_m(&crowd.clearance, from).unwrap();
            assert!(route.as_ref().unwrap().length_m <= least * 1.01 + 8.0);
        }
        longest.push(
            found
                .iter()
                .map(|(_, route)| route.as_ref().unwrap().length_m)
                .fold(0.0, f32::max),
        );
        if pass == 0 {
            // What is left becomes less in four corridors, too much to be mended in one go.
            let breach = Patch::between(Cell::new(150, 31), Cell::new(152, 31));
            let changed = crowd.ground.set_terrain(breach.cells(), 0);
            let repair = crowd.clearance.repair(&crowd.ground, changed);
            planner.ground_changed(0, &crowd.clearance, &repair);
        }
    }
    assert!(longest[1] < longest[0] - 100.0, "{longest:?}");
}
