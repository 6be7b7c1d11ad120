//! Long ways against cheapest ones, on random maps of every kind.

use proptest::prelude::*;
use rand_pcg::Pcg64Mcg;
use yarrick::ground::{Cell, ClearanceMap, Lattice, Link, LinkId};
use yarrick::route::{FarSearch, Router, Search};
use yarrick::scenario::Pattern;
use yarrick::{Ground, Terrain, Vec2};

/// What a map is made of.
#[derive(Clone, Debug)]
pub(crate) struct Recipe {
    pub(crate) seed: u64,
    pub(crate) size: (u32, u32),
    pub(crate) lattice: Lattice,
    /// Of a hundred patches, how many are closed, and how many are slow.
    pub(crate) closed: u32,
    pub(crate) slow: u32,
    /// How wide patches are.
    pub(crate) grain: u32,
    pub(crate) links: u32,
}

/// Whole numbers below what is asked for.
fn rolls(seed: u64) -> impl FnMut(u32) -> u32 {
    let mut stream = Pcg64Mcg::new(u128::from(seed));
    move |below| stream.next_u32() % below
}

pub(crate) fn recipe() -> impl Strategy<Value = Recipe> {
    let lattice = prop_oneof![
        3 => Just(Lattice::Squares),
        1 => Just(Lattice::Squares4),
        1 => Just(Lattice::Hexes)
    ];
    let slow = prop_oneof![Just(0_u32), 0_u32..60];
    let links = prop_oneof![3 => Just(0_u32), 1 => 1_u32..6];
    let grain = prop_oneof![Just(1_u32), 1_u32..14];
    let size = (110_u32..220, 96_u32..200);
    (any::<u64>(), size, lattice, 0_u32..36, slow, grain, links).prop_map(
        |(seed, size, lattice, closed, slow, grain, links)| Recipe {
            seed,
            size,
            lattice,
            closed,
            slow,
            grain,
            links,
        },
    )
}

pub(crate) fn ground(recipe: &Recipe) -> Ground {
    let (width, height) = recipe.size;
    let mut roll = rolls(recipe.seed);
    let across = width.div_ceil(recipe.grain);
    let patches: Vec<u8> = (0..across * height.div_ceil(recipe.grain))
        .map(|_| match roll(100) {
            kind if kind < recipe.closed => 2,
            kind if kind < recipe.closed + recipe.slow => 1,
            _ => 0,
        })
        .collect();
    let terrains = vec![
        Terrain::open("sand"),
        Terrain::open("mud").with_speed(0.4),
        Terrain::closed("dyke"),
    ];
    let patch = |k: u32| (k / width / recipe.grain) * across + k % width / recipe.grain;
    let mut classes: Vec<u8> = (0..width * height)
        .map(|k| patches[patch(k) as usize])
        .collect();
    classes[0] = 0;
    let ground = Ground::new(width, height, 1.0, terrains, classes).unwrap();
    let ground = ground.with_lattice(recipe.lattice);
    let mut cell = || Cell::new(roll(width) as i32, roll(height) as i32);
    let ends: Vec<(Cell, Cell)> = (0..recipe.links).map(|_| (cell(), cell())).collect();
    let link = |(from, to): (Cell, Cell)| Link {
        name: "ferry".to_owned(),
        from: ground.centre(from),
        to: ground.centre(to),
        cost_m: 1.0 + from.x as f32 * 0.5,
        both_ways: from.y % 2 == 0,
        gaits: Vec::new(),
    };
    let links = ends.into_iter().map(link).collect();
    ground.with_links(links).unwrap()
}

/// Pairs of cells that are far enough apart and connected.
pub(crate) fn pairs(clearance: &ClearanceMap, recipe: &Recipe, count: usize) -> Vec<(Cell, Cell)> {
    let (width, height) = recipe.size;
    let mut roll = rolls(recipe.seed ^ 7);
    let mut cell = || Cell::new(roll(width) as i32, roll(height) as i32);
    let tries = (0..200).map(|_| (cell(), cell()));
    let far = |(a, b): &(Cell, Cell)| clearance.connected(*a, *b) && is_far(*a, *b);
    tries.filter(far).take(count).collect()
}

/// Whether two cells are so far apart that the chart is used.
fn is_far(a: Cell, b: Cell) -> bool {
    a.x.abs_diff(b.x).max(a.y.abs_diff(b.y)) >= 100
}

/// The sum of the costs of the cheapest ways from each cell of a way to the next, if each is a step or a link.
fn cost_of(
    (ground, clearance): (&Ground, &ClearanceMap),
    cells: &[Cell],
    links: &[(u32, LinkId)],
) -> Option<u64> {
    let mut search = Search::default();
    let step = |(pair, end): (&[Cell], u32)| {
        let reach = ground.centre(pair[0]).distance(ground.centre(pair[1]));
        let is_link = links.iter().any(|(at, _)| *at == end);
        let found = search.find(clearance, pair[0], pair[1])?;
        (is_link || reach < 1.5).then_some(found.cost)
    };
    cells.windows(2).zip(1_u32..).map(step).sum()
}

/// The part by which the ways found cost more than the cheapest ones.
fn excesses(recipe: &Recipe) -> Result<Vec<f64>, TestCaseError> {
    let ground = ground(recipe);
    let clearance = ClearanceMap::new(&ground, 0.4);
    let (mut far, mut search) = (FarSearch::default(), Search::default());
    let mut excesses = Vec::new();
    for (from, to) in pairs(&clearance, recipe, 12) {
        let begun = far.begin(&clearance, from, &[to]);
        if !begun {
            continue;
        }
        // Left off and gone on with, over and over.
        let found = loop {
            if let Some(found) = far.advance(&clearance, 7) {
                break found;
            }
        };
        prop_assert!(found);
        let cells: Vec<Cell> = far.cells(&clearance).collect();
        prop_assert_eq!((cells.first(), cells.last()), (Some(&from), Some(&to)));
        let walked = cost_of((&ground, &clearance), &cells, far.links());
        let cost = far.find(&clearance, from, to).unwrap().cost;
        prop_assert!(far.cells(&clearance).eq(cells), "the same in one go");
        prop_assert!(
            walked.is_some_and(|walked| walked <= cost && cost as f64 <= walked as f64 * 1.001)
        );
        let least = search.find(&clearance, from, to).unwrap().cost;
        let excess = cost as f64 / least as f64 - 1.0;
        prop_assert!(excess >= 0.0);
        excesses.push(excess);
    }
    Ok(excesses)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(32))]
    #[test]
    fn long_ways_can_be_walked_and_cost_little_more_than_cheapest_ones(recipe in recipe()) {
        for excess in excesses(&recipe)? {
            prop_assert!(excess <= 0.1, "{} over", excess);
        }
    }
}

#[test]
fn long_ways_cost_hardly_more_on_the_average() {
    for (closed, slow, grain) in [(10, 0, 1), (22, 0, 1), (35, 0, 1), (20, 30, 6), (22, 40, 1)] {
        let recipe = |seed| Recipe {
            seed,
            size: (180, 150),
            lattice: Lattice::Squares,
            closed,
            slow,
            grain,
            links: 0,
        };
        let all: Vec<f64> = (0..3)
            .flat_map(|seed| excesses(&recipe(seed)).unwrap())
            .collect();
        let mean = all.iter().sum::<f64>() / all.len() as f64;
        assert!(
            all.len() > 20 && mean <= 0.015,
            "{mean} over at {closed} {slow} {grain}"
        );
    }
}

/// Neither the turns that are not looked at nor the looks that are left out cost much.
#[test]
fn hardly_a_corner_can_be_left_out() {
    let mut router = Router::default();
    for pattern in [Pattern::Maze, Pattern::Rooms, Pattern::Random] {
        let (mut corners, mut spare) = (0, 0);
        for seed in 0..8 {
            let ground = pattern.ground(96, seed);
            let clearance = ClearanceMap::new(&ground, 0.4);
            for k in 0..12_i32 {
                let (from, to) = (Vec2::new(3.5, 7.5 * k as f32), Vec2::new(92.5, 90.5));
                let Ok(route) = router.find(&ground, &clearance, 0.4, from, to) else {
                    continue;
                };
                for around in route.points.windows(3) {
                    corners += 1;
                    spare += u32::from(ground.line_is_clear(around[0], around[2], 0.4));
                }
            }
        }
        assert!(
            corners > 500 && spare * 50 <= corners,
            "{pattern:?}: {spare} of {corners}"
        );
    }
}
