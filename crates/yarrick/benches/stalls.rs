//! Ticks that must not stall: of orders that cannot be carried out, and of many orders at once, against the median tick of
//! the same play. Of each tick the least time of three plays counts: a shared machine stands still for some milliseconds now and
//! then.
//!
//! `cargo bench --bench stalls`

#[path = "measure/mod.rs"]
mod measure;

#[path = "plays/mod.rs"]
mod plays;

use std::hint::black_box;
use yarrick::World;

/// What is played: a name, by what it is chosen on the command line; the world; for how many ticks; and what is ordered.
struct Play {
    name: String,
    world: Box<dyn Fn() -> World>,
    ticks: u32,
    order: Box<dyn Fn(&mut World)>,
    /// What happens in each tick, by its number.
    each: fn(&mut World, u32),
}

impl Play {
    fn new(
        name: impl Into<String>,
        ticks: u32,
        world: impl Fn() -> World + 'static,
        order: impl Fn(&mut World) + 'static,
    ) -> Play {
        Play {
            name: name.into(),
            world: Box::new(world),
            ticks,
            order: Box::new(order),
            each: |_, _| {},
        }
    }
}

fn main() {
    let only: Vec<String> = std::env::args().skip(1).collect();
    let wanted = |name: &str| {
        let mut words = only.iter().filter(|word| !word.starts_with('-')).peekable();
        words.peek().is_none() || words.any(|word| name.contains(word.as_str()))
    };
    measure::head("the longest tick", "after an order", "the median tick");
    let soaks = [400, 3000].map(|count| Play {
        each: plays::soak,
        ..Play::new(
            format!("soak of 10 minutes, {count}, 1024²"),
            12_000,
            move || plays::soaked(count),
            |_| {},
        )
    });
    let all = small_plays().into_iter().chain(throngs()).chain(soaks);
    all.filter(|one| wanted(&one.name))
        .for_each(|one| play(&one));
}

/// Out of reach, and groups of few and of many.
fn small_plays() -> Vec<Play> {
    let mut all = Vec::new();
    for side in [512, 1024, 2048] {
        all.push(Play::new(
            format!("1 in a courtyard, {side}²"),
            60,
            move || plays::courtyard(side, 1),
            move |world| plays::send(world, side, true),
        ));
    }
    all.push(Play::new(
        "30 in a courtyard, 512²",
        60,
        || plays::courtyard(512, 30),
        |world| plays::send(world, 512, false),
    ));
    all.push(Play::new(
        "30 are closed in, 512²",
        60,
        || plays::on_the_way(512),
        plays::close_in,
    ));
    all.push(Play::new(
        "1 beside a river, 2048²",
        60,
        || plays::river(2048),
        |world| plays::send(world, 2048, true),
    ));
    for (count, all_over) in [(30, false), (200, true)] {
        all.push(Play::new(
            format!("{count} on a winding way, 1024²"),
            200,
            move || plays::winding(1024, (count, all_over)),
            |world| plays::send_winding(world, 1024),
        ));
    }
    for members in [23, 24] {
        all.push(Play::new(
            format!("10 groups of {members}, 1024²"),
            200,
            move || plays::groups(1024, (10, members)),
            move |world| plays::send_groups(world, 1024, members),
        ));
    }
    all
}

/// Many orders at once, on a map of 2048 by 2048 cells.
fn throngs() -> Vec<Play> {
    vec![
        Play::new(
            "1,000 to closed places, 2048²",
            60,
            || plays::throng(10),
            plays::send_into_blocks,
        ),
        Play::new(
            "20,000 in 200 groups, 2048²",
            200,
            || plays::throng(200),
            |world| plays::send_throng(world, true),
        ),
        Play::new(
            "20,000 each for itself, 2048²",
            1000,
            || plays::throng(200),
            |world| plays::send_throng(world, false),
        ),
        Play::new(
            "100,000 in 1,000 groups, 2048²",
            100,
            || plays::throng(1000),
            |world| plays::send_throng(world, true),
        ),
    ]
}

/// Plays of the same.
const PLAYS: usize = 3;

/// Prints the longest tick against the median, and until when units waited.
fn play(play: &Play) {
    let (mut times, told) = once(play);
    for _ in 1..PLAYS {
        let again = once(play).0;
        times = times.iter().zip(again).map(|(a, b)| a.min(b)).collect();
    }
    let longest = times.iter().copied().fold(0.0, f64::max);
    let first = times[0] * 1e3;
    measure::report(&play.name, vec![longest], times);
    println!("  tick of the order {first:.1} ms; {told}");
}

/// Steps a world by some ticks after an order. Gives what each took, and what was counted.
fn once(play: &Play) -> (Vec<f64>, String) {
    let mut world = (play.world)();
    for _ in 0..10 {
        world.step();
    }
    (play.order)(&mut world);
    let (mut times, mut work, mut waits) = (Vec::new(), (0, 0_u64), 0);
    for tick in 1..=play.ticks {
        (play.each)(&mut world, tick);
        times.push(measure::time(|| {
            black_box(world.step());
        }));
        let spent = world.planning_work();
        work = (work.0.max(spent), work.1 + u64::from(spent));
        if world.waiting_for_routes() > 0 {
            waits = tick;
        }
    }
    let (most, all) = work;
    let waiting = world.waiting_for_routes();
    let told = format!(
        "{all} cells, {most} in a tick at the most; nobody waits after tick {waits}, at the end {waiting}"
    );
    (times, told)
}
