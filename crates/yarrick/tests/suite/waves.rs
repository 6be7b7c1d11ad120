//! The assault, carried out tick by tick against a list of all that happened.

use proptest::prelude::*;
use yarrick::waves::{
    Arrival, Assault, AssaultPlan, Batch, Gone, MAX_UNITS_A_WAVE, MAX_WAVES, Over, PlanError,
    Tally, Wave,
};

fn batch(count: u32, delay: u32, spacing: u32) -> Batch {
    Batch {
        kind: 0,
        count,
        delay,
        spacing,
        entry: 0,
        goal: 0,
    }
}

fn plan(first_after: u32, lull: u32, waves: &[&[Batch]]) -> AssaultPlan {
    let wave = |batches: &&[Batch]| Wave {
        batches: batches.to_vec(),
    };
    AssaultPlan {
        first_after,
        lull,
        waves: waves.iter().map(wave).collect(),
    }
}

/// What happened in a run.
#[derive(Debug, Default)]
struct Log {
    begun: Vec<u64>,
    came: Vec<(u64, Arrival)>,
    /// The tick in which each unit of `came` left, and how.
    left: Vec<(u64, Gone)>,
    over: Vec<(u64, Over)>,
}

impl Log {
    /// How many units of a wave had come, and how many of those had left, by the end of a tick.
    fn of(&self, wave: u32, by: u64) -> (u32, u32) {
        let of_it = || {
            let all = self.came.iter().zip(&self.left);
            all.filter(move |((came, arrival), _)| arrival.wave == wave && *came <= by)
        };
        let left = of_it().filter(|(_, (left, _))| *left <= by);
        (of_it().count() as u32, left.count() as u32)
    }
}

/// Carries a plan out. Each unit lives for as many ticks as `lives` says in turn; in every tick that `full` holds for,
/// there is no room.
fn carried_out(plan: &AssaultPlan, lives: &[u64], full: impl Fn(u64) -> bool, ticks: u64) -> Log {
    let mut assault = Assault::new(plan.clone()).unwrap();
    let mut log = Log::default();
    for now in 0..ticks {
        // Saved and loaded in every tick.
        let bytes = postcard::to_stdvec(&assault).unwrap();
        assault = postcard::from_bytes(&bytes).unwrap();
        if let Some(wave) = assault.begin(now) {
            assert_eq!(wave as usize, log.begun.len());
            log.begun.push(now);
        }
        assault.send(now, |arrival| {
            if full(now) {
                return false;
            }
            let nth = log.came.len();
            log.came.push((now, arrival));
            let how = [Gone::Killed, Gone::Leaked, Gone::Removed][nth % 3];
            log.left.push((now + lives[nth % lives.len()], how));
            true
        });
        for ((_, arrival), (left, how)) in log.came.iter().zip(&log.left) {
            if *left == now {
                assert!(assault.gone(arrival.wave, *how));
            }
        }
        let over = assault.judge(now);
        log.over.extend(over.map(|over| (now, over)));
        for (tally, wave) in assault.tallies().iter().zip(0..) {
            let (came, left) = log.of(wave, now);
            assert_eq!((tally.sent, tally.alive()), (came, came - left));
            assert_eq!(
                tally.sent,
                tally.alive() + tally.killed + tally.leaked + tally.removed
            );
        }
        assert_eq!(assault.is_finished(), log.over.len() == plan.waves.len());
    }
    log
}

fn plans() -> impl Strategy<Value = AssaultPlan> {
    let batch = (0_u32..5, 0_u32..20, 0_u32..6).prop_map(|(n, d, s)| batch(n, d, s));
    let wave = proptest::collection::vec(batch, 0..4).prop_map(|batches| Wave { batches });
    let waves = proptest::collection::vec(wave, 0..5);
    (0_u32..20, 0_u32..20, waves).prop_map(|(first_after, lull, waves)| AssaultPlan {
        first_after,
        lull,
        waves,
    })
}

proptest! {
    #[test]
    fn no_wave_is_over_too_early_or_never(
        plan in plans(), lives in proptest::collection::vec(0_u64..30, 1..6), crowded in 1_u64..5,
    ) {
        let log = carried_out(&plan, &lives, |now| now % 5 >= crowded, 1500);
        prop_assert_eq!(log.over.len(), plan.waves.len(), "all end");
        let mut earliest = u64::from(plan.first_after);
        for ((number, wave), (end, over)) in (0_u32..).zip(&plan.waves).zip(&log.over) {
            let begun = log.begun[number as usize];
            prop_assert_eq!((begun, over.wave), (earliest, number));
            let (came, left) = log.of(number, *end);
            prop_assert_eq!((came, left), (wave.count(), wave.count()));
            // In every tick before, something was still to come or lived.
            for tick in begun..*end {
                let (came, left) = log.of(number, tick);
                prop_assert!(came < wave.count() || left < came);
            }
            // A wave without a lull after it is followed in the next tick.
            earliest = (*end + u64::from(plan.lull)).max(*end + 1);
        }
    }

    #[test]
    fn units_come_at_their_time_or_as_soon_as_there_is_room(
        plan in plans(), crowded in 1_u64..6,
    ) {
        let full = |now: u64| now % 5 >= crowded;
        let log = carried_out(&plan, &[1], full, 1500);
        for (number, wave) in (0_u32..).zip(&plan.waves) {
            for (which, batch) in (0_u32..).zip(&wave.batches) {
                let of_it = log.came.iter().filter(|(_, a)| (a.wave, a.batch) == (number, which));
                let mut due = log.begun[number as usize] + u64::from(batch.delay);
                for ((came, arrival), nth) in of_it.zip(0..) {
                    while full(due) {
                        due += 1;
                    }
                    prop_assert_eq!((*came, arrival.nth), (due, nth));
                    due += u64::from(batch.spacing);
                }
            }
        }
    }
}

#[test]
fn a_wave_of_nothing_is_over_at_once_and_one_to_come_is_not() {
    let log = carried_out(
        &plan(3, 10, &[&[], &[batch(0, 50, 1)], &[batch(1, 7, 0)]]),
        &[0],
        |_| false,
        60,
    );
    let ends: Vec<u64> = log.over.iter().map(|(tick, _)| *tick).collect();
    assert_eq!(log.begun, [3, 13, 23]);
    assert_eq!(
        ends,
        [3, 13, 30],
        "the last when its one unit has come and gone"
    );
}

#[test]
fn an_assault_without_waves_is_finished() {
    let assault = Assault::new(AssaultPlan::default()).unwrap();
    assert!(assault.is_finished());
    assert_eq!(assault.progress(0).wave, None);
}

#[test]
fn progress_is_what_a_game_shows() {
    let mut assault = Assault::new(plan(10, 40, &[&[batch(3, 0, 5)], &[]])).unwrap();
    assert_eq!(assault.progress(4).next_in, Some(6));
    assault.begin(10);
    assault.send(10, |_| true);
    assault.send(15, |_| false);
    let shown = assault.progress(15);
    assert_eq!(
        (shown.wave, shown.waves, shown.to_come, shown.held_up),
        (Some(0), 2, 2, 1)
    );
    assert_eq!((shown.tally.alive(), shown.next_in), (1, None));
    assault.send(16, |_| true);
    assault.send(21, |_| true);
    for how in [Gone::Leaked, Gone::Leaked, Gone::Killed] {
        assert!(assault.gone(0, how));
    }
    assert!(!assault.gone(0, Gone::Killed), "nobody is left");
    assert!(!assault.gone(1, Gone::Killed), "it has not begun");
    let tally = Tally {
        sent: 3,
        killed: 1,
        leaked: 2,
        removed: 0,
    };
    assert_eq!(assault.judge(30), Some(Over { wave: 0, tally }));
    assert_eq!(assault.judge(31), None, "it ends once");
    let shown = assault.progress(31);
    assert_eq!((shown.next_in, shown.leaked), (Some(39), 2));
}

#[test]
fn all_that_is_wrong_with_a_plan_is_said() {
    let many = batch(MAX_UNITS_A_WAVE, 0, 0);
    let mut wrong = plan(
        0,
        0,
        &[&[many, batch(u32::MAX, 0, 0)], &[batch(1, 0, 0); 65]],
    );
    wrong.waves.resize(MAX_WAVES + 1, Wave::default());
    let said: Vec<String> = wrong.errors().iter().map(ToString::to_string).collect();
    assert_eq!(
        said,
        [
            "the assault has 1001 waves; allowed are 1000",
            "wave 1 sends 4294967295 units; allowed are 10000",
            "wave 2 has 65 batches; allowed are 64",
        ]
    );
    let count = MAX_WAVES + 1;
    assert_eq!(Assault::new(wrong), Err(PlanError::TooManyWaves { count }));
}

#[test]
fn times_beyond_all_bounds_do_no_harm() {
    let mut assault =
        Assault::new(plan(u32::MAX, u32::MAX, &[&[batch(2, u32::MAX, u32::MAX)]])).unwrap();
    assert_eq!(assault.begin(u64::MAX), Some(0));
    let mut came = 0;
    assault.send(u64::MAX, |_| {
        came += 1;
        true
    });
    assert_eq!(came, 2);
}

proptest! {
    #[test]
    fn a_saved_assault_with_damaged_bytes_is_refused_or_goes_on_without_harm(
        plan in plans(), ticks in 0_u64..60,
        damage in proptest::collection::vec((0_usize..999, any::<u8>()), 1..4),
    ) {
        let mut assault = Assault::new(plan).unwrap();
        let run = |assault: &mut Assault, ticks: core::ops::Range<u64>| {
            for now in ticks {
                assault.begin(now);
                assault.send(now, |_| now % 3 > 0);
                assault.gone(now as u32 % 5, Gone::Killed);
                assault.judge(now);
                let shown = assault.progress(now);
                assert!(shown.tally.gone() <= shown.tally.sent);
            }
        };
        run(&mut assault, 0..ticks);
        let mut bytes = postcard::to_stdvec(&assault).unwrap();
        let length = bytes.len();
        for (at, value) in damage {
            bytes[at % length] = value;
        }
        if let Ok(mut damaged) = postcard::from_bytes::<Assault>(&bytes) {
            prop_assert!(damaged.plan().errors().is_empty());
            run(&mut damaged, ticks..ticks + 60);
        }
    }
}

#[test]
fn an_assault_that_does_not_add_up_is_refused() {
    let mut assault = Assault::new(plan(0, 5, &[&[batch(2, 0, 1)], &[]])).unwrap();
    assault.begin(0);
    assault.send(0, |_| true);
    let sound = postcard::to_stdvec(&assault).unwrap();
    // The last four bytes are the tally: sent, killed, leaked, removed.
    assert!(sound.ends_with(&[1, 0, 0, 0]));
    for (from_end, value) in [(4, 2), (3, 2), (2, 2), (1, 2)] {
        let mut damaged = sound.clone();
        damaged[sound.len() - from_end] = value;
        assert!(
            postcard::from_bytes::<Assault>(&damaged).is_err(),
            "{from_end}"
        );
    }
}
