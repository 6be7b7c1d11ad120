//! What a saved planner that was damaged comes to: it is refused, or goes on.

use crate::planner::Crowd;
use ciborium::Value;
use proptest::prelude::*;
use yarrick::Vec2;
use yarrick::ground::ClearanceMap;
use yarrick::rng::Stream;
use yarrick::route::{Group, Planner, RouteRequest};
use yarrick::scenario::Pattern;

const SIDE: u32 = 192;
const BUDGET: u32 = 40_000;
/// Number of members of a group; and of all units: the others go nearly the same way, each for itself.
const GROUP: u64 = 40;
const ALL: u64 = 90;

struct Errands {
    crowd: Crowd,
    group: Group,
}

impl Errands {
    fn new() -> Errands {
        let ground = Pattern::Random.ground(SIDE, 4);
        let clearance = ClearanceMap::new(&ground, 0.4);
        let mut stream = Stream::new(4, "errands");
        let mut near = |x: f32, y: f32| {
            let at = Vec2::new(x + stream.between(-9.0, 9.0), y + stream.between(-9.0, 9.0));
            let cell = clearance.nearest(at, |_| true).unwrap();
            ground.centre(cell)
        };
        let mut ways: Vec<(Vec2, Vec2)> = (0..GROUP)
            .map(|k| (near(20.0 + 4.0 * k as f32, 20.0), near(170.0, 170.0)))
            .collect();
        ways.extend((GROUP..ALL).map(|k| (near(20.0, 160.0), near(100.0 + k as f32 * 0.8, 30.0))));
        let goal = clearance.nearest(Vec2::splat(170.0), |_| true).unwrap();
        let group = Group::new(0, goal);
        let crowd = Crowd {
            ground,
            clearance,
            ways,
        };
        Errands { crowd, group }
    }

    /// Serves some rounds. Gives how many were served.
    fn rounds(&self, planner: &mut Planner, count: u32) -> usize {
        let mut served = 0;
        for _ in 0..count {
            planner.begin_round(BUDGET);
            while planner
                .next(&self.crowd.ground, |who| self.crowd.ask(who))
                .is_some()
            {
                served += 1;
            }
        }
        served
    }

    /// Requests of all, served for some rounds.
    fn planner(&self, rounds: u32) -> Planner {
        let mut planner = Planner::default();
        for who in 0..ALL {
            planner.request(RouteRequest {
                group: (who < GROUP).then_some(self.group),
                ..RouteRequest::new(who)
            });
        }
        self.rounds(&mut planner, rounds);
        planner
    }

    /// A planner that was read, if all of it makes sense.
    fn restored(&self, saved: Value) -> Option<Planner> {
        let mut planner: Planner = saved.deserialized().ok()?;
        planner.check(1, 1).ok()?;
        let clearance = |body: u16| (body == 0).then_some(&self.crowd.clearance);
        let redone = planner.redo(&self.crowd.ground, |who| self.crowd.ask(who), clearance);
        redone.is_ok().then_some(planner)
    }
}

/// The values of a tree, those within others after these.
fn values(tree: &mut Value, visit: &mut impl FnMut(&mut Value)) {
    visit(tree);
    match tree {
        Value::Array(list) => list.iter_mut().for_each(|value| values(value, visit)),
        Value::Map(list) => list.iter_mut().for_each(|(key, value)| {
            // Names of fields stay as they are.
            if !key.is_text() {
                values(key, visit);
            }
            values(value, visit);
        }),
        _ => {}
    }
}

/// Damages one value of a tree in one of some ways.
fn damage(tree: &mut Value, at: proptest::sample::Index, how: u8) {
    let mut count = 0;
    values(tree, &mut |_| count += 1);
    let (at, mut k) = (at.index(count), 0);
    values(tree, &mut |value| {
        if k == at {
            match value {
                Value::Integer(number) => {
                    let known = i64::try_from(*number).unwrap_or(0);
                    let numbers = [0, 1, known + 1, known - 1, known * 2, i64::from(u32::MAX)];
                    *value = numbers[usize::from(how) % numbers.len()].into();
                }
                Value::Float(number) => *number = [-1.0, 1e9, 0.4][usize::from(how) % 3],
                Value::Bool(known) => *known = !*known,
                Value::Array(list) if how.is_multiple_of(2) => list.clear(),
                Value::Array(list) => list.truncate(list.len() / 2),
                // An option without its value; other maps are refused then.
                Value::Map(_) => *value = Value::Null,
                _ => {}
            }
        }
        k += 1;
    });
}

/// Rounds after which a planner is saved: while its field is begun, while the members go down it, and later.
const SAVED_AFTER: [u32; 5] = [1, 4, 5, 8, 14];

proptest! {
    #![proptest_config(ProptestConfig { cases: 200, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn a_damaged_planner_is_refused_or_goes_on(
        which in 0..SAVED_AFTER.len(),
        damages in proptest::collection::vec((any::<proptest::sample::Index>(), any::<u8>()), 1..4),
    ) {
        thread_local! {
            static ERRANDS: (Errands, Vec<Value>) = {
                let errands = Errands::new();
                let saved = SAVED_AFTER.map(|rounds| Value::serialized(&errands.planner(rounds)).unwrap());
                (errands, saved.to_vec())
            };
        }
        ERRANDS.with(|(errands, saved)| {
            let mut tree = saved[which].clone();
            for (at, how) in damages {
                damage(&mut tree, at, how);
            }
            if let Some(mut planner) = errands.restored(tree) {
                errands.rounds(&mut planner, 40);
            }
        });
    }
}

/// Cuts one named list of a tree to half its length, or to nothing. Gives whether there is one of that number.
fn cut(tree: &mut Value, number: usize, parts: usize) -> bool {
    let mut k = 0;
    values(tree, &mut |value| {
        let Value::Map(fields) = value else {
            return;
        };
        for (name, list) in fields {
            if let (Value::Text(_), Value::Array(list)) = (name, list) {
                if k == number {
                    list.truncate(list.len() * parts / 2);
                }
                k += 1;
            }
        }
    });
    number < k
}

#[test]
fn a_planner_without_a_part_of_one_of_its_lists_is_refused_or_goes_on() {
    let errands = Errands::new();
    for rounds in [4, 8, 14] {
        let saved = Value::serialized(&errands.planner(rounds)).unwrap();
        for parts in [0, 1] {
            let mut tree = saved.clone();
            let mut number = 0;
            while cut(&mut tree, number, parts) {
                if let Some(mut planner) =
                    errands.restored(core::mem::replace(&mut tree, saved.clone()))
                {
                    errands.rounds(&mut planner, 10);
                }
                number += 1;
            }
            assert!(number > 20, "{number}");
        }
    }
}

#[test]
fn a_planner_that_was_saved_serves_the_rest() {
    let errands = Errands::new();
    for rounds in SAVED_AFTER {
        let mut planner = errands.planner(rounds);
        let saved = Value::serialized(&planner).unwrap();
        let mut other = errands.restored(saved).unwrap();
        let left = planner.waiting();
        assert_eq!(errands.rounds(&mut other, 200), left);
        assert_eq!(errands.rounds(&mut planner, 200), left);
    }
}
