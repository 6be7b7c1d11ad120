//! Routes along tracks: of bodies with nearly the same start and goal on a large map, only one searches.

use crate::far::{Recipe, ground, pairs, recipe};
use crate::planner::Crowd;
use proptest::prelude::*;
use rand_pcg::Pcg64Mcg;
use yarrick::ground::{Cell, ClearanceMap, Lattice};
use yarrick::route::{Planner, Route, RouteRequest, Router};

/// Bodies with nearly the same start and goal, far from each other.
struct Company(Crowd);

impl Company {
    fn on(recipe: &Recipe, count: usize) -> Option<Company> {
        let ground = ground(recipe);
        let clearance = ClearanceMap::new(&ground, 0.4);
        let apart = |(a, b): &(Cell, Cell)| a.x.abs_diff(b.x).max(a.y.abs_diff(b.y));
        let (from, to) = pairs(&clearance, recipe, 12)
            .into_iter()
            .max_by_key(apart)?;
        let mut stream = Pcg64Mcg::new(u128::from(recipe.seed ^ 11));
        let mut near = |cell: Cell, most: i32| {
            let mut off = || stream.next_u32() as i32 % (most + 1);
            let aside = Cell::new(cell.x + off(), cell.y + off());
            let found = clearance.nearest(ground.centre(aside), |one| {
                clearance.connected(one, from) && clearance.connected(one, to)
            });
            found.map_or(ground.centre(cell), |cell| ground.centre(cell))
        };
        let ways = (0..count).map(|_| (near(from, 11), near(to, 9))).collect();
        Some(Company(Crowd {
            ground,
            clearance,
            ways,
        }))
    }

    /// The routes of some, a budget at a time, and the work that they took.
    fn routes(&self, some: &[u64], budget: u32) -> (Vec<(u64, Route)>, u64) {
        let mut planner = Planner::default();
        for who in some {
            planner.request(RouteRequest::new(*who));
        }
        let (mut found, mut work) = (Vec::new(), 0);
        for _ in 0..100_000 {
            planner.begin_round(budget);
            while let Some((who, route)) = planner.next(&self.0.ground, |who| self.0.ask(who)) {
                found.push((who, route.unwrap()));
            }
            work += u64::from(planner.spent());
            if planner.waiting() == 0 {
                break;
            }
        }
        (found, work)
    }

    fn work_of(&self, some: &[u64]) -> u64 {
        self.routes(some, 5000).1
    }

    /// By how much the way by a track costs more than one of one's own, for each; the first goes its own.
    fn excesses(&self) -> Result<Vec<f64>, TestCaseError> {
        let all: Vec<u64> = (0..self.0.ways.len() as u64).collect();
        let (found, _) = self.routes(&all, 5000);
        prop_assert_eq!(found.len(), self.0.ways.len());
        let mut excesses = Vec::new();
        for (who, route) in found {
            let (from, to) = self.0.ways[who as usize];
            prop_assert_eq!((route.points[0], route.points.last()), (from, Some(&to)));
            for (leg, end) in route.points.windows(2).zip(1_u32..) {
                let is_link = route.links.iter().any(|(at, _)| *at == end);
                let clear = self.0.ground.line_is_clear(leg[0], leg[1], 0.4 - 1e-4);
                prop_assert!(is_link || clear, "{} to {}", leg[0], leg[1]);
            }
            let mut router = Router::default();
            let plain = router.find(&self.0.ground, &self.0.clearance, 0.4, from, to);
            excesses.push(f64::from(route.cost_m / plain.unwrap().cost_m) - 1.0);
        }
        Ok(excesses)
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 48, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn ways_by_tracks_can_be_walked_and_cost_little_more(recipe in recipe()) {
        if let Some(company) = Company::on(&recipe, 24) {
            for excess in company.excesses()? {
                prop_assert!(excess <= 0.1, "{} over", excess);
            }
        }
    }
}

/// A map of 480 by 420 cells, of which so many of a hundred are closed, and so many slow.
fn clutter(seed: u64, (closed, slow): (u32, u32), grain: u32) -> Recipe {
    Recipe {
        seed,
        size: (480, 420),
        lattice: Lattice::Squares,
        closed,
        slow,
        grain,
        links: 0,
    }
}

#[test]
fn ways_by_tracks_cost_hardly_more_on_the_average_and_less_work() {
    for (closed, slow, grain) in [(20, 0, 2), (25, 0, 1), (10, 30, 6)] {
        let (mut all, mut work) = (Vec::new(), (0, 0));
        for seed in 0..3 {
            let Some(company) = Company::on(&clutter(seed, (closed, slow), grain), 40) else {
                continue;
            };
            work.0 += (0..40).map(|who| company.work_of(&[who])).sum::<u64>();
            work.1 += company.work_of(&(0..40).collect::<Vec<u64>>());
            all.extend(company.excesses().unwrap());
        }
        let mean = all.iter().sum::<f64>() / all.len() as f64;
        println!(
            "{closed} {grain}: mean {mean} work {work:?} of {}",
            all.len()
        );
        assert!(
            all.len() > 70 && mean <= 0.01,
            "{mean} over at {closed} {slow} {grain}"
        );
        assert!(
            work.1 * 5 < work.0 * 4,
            "{work:?} at {closed} {slow} {grain}"
        );
    }
}
