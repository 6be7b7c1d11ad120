//! Ticks of small games: the day on the saltmarsh, 200 gatherers, 100 towers against 1,000 creatures. The baselines are the
//! same crowds when they only walk.
//!
//! `cargo bench --bench days`

#[path = "measure/mod.rs"]
mod measure;

use std::hint::black_box;
use yarrick::combat::{Flight, Weapon};
use yarrick::economy::{ResourceId, Rhythm};
use yarrick::scenario::Scenario;
use yarrick::world::{Depot, Holding, KindId, Rank, Work};
use yarrick::{
    Action, Command, Event, Ground, Kind, Side, SideId, Terrain, UnitId, Vec2, When, World,
    WorldSetup,
};

const KEEPERS: SideId = SideId(0);
const TIDE: SideId = SideId(1);
const SALT: ResourceId = ResourceId(0);

fn main() {
    measure::head(
        "a tick of the day",
        "all stages",
        "looking at each unit once",
    );
    day();
    println!();
    measure::head("a tick of 200 gatherers", "gather", "the same patrol");
    gatherers();
    println!();
    measure::head(
        "a tick of 100 towers and 1,000 creatures",
        "they fight",
        "they do not",
    );
    towers();
}

/// The day as `yarrick demo` plays it, and each tick of it.
fn day() {
    let read = |name: &str| {
        let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../../scenarios/day/");
        std::fs::read_to_string(format!("{folder}{name}")).map_err(|error| error.to_string())
    };
    let scenario = Scenario::load("scenario.toml", &read).unwrap();
    let mut play = scenario.play(None).unwrap();
    let (mut ours, mut theirs) = (Vec::new(), Vec::new());
    while !play.is_past(scenario.duration_s) {
        ours.push(measure::time(|| {
            black_box(play.step());
        }));
        theirs.push(measure::time(|| {
            let units = play.world().units();
            black_box(
                units
                    .map(|unit| unit.position() * unit.health())
                    .sum::<Vec2>(),
            );
        }));
    }
    let worst = ours.iter().copied().fold(0.0, f64::max);
    let total: f64 = ours.iter().sum();
    let ticks = ours.len();
    measure::report(&format!("{ticks} ticks to its end"), ours, theirs);
    println!(
        "all of it {:.0} ms; the longest tick {:.2} ms",
        total * 1e3,
        worst * 1e3
    );
}

const PER_DEPOSIT: u32 = 5;
const DEPOSITS: u32 = 40;
const CARRIES: u32 = 10;
const SPEED: f32 = 2.0;
const STROKE_S: f32 = 0.5;

/// 40 deposits in rows, each with a depot of its row at the end of it, and five gatherers at each.
fn marsh() -> (World, Vec<(UnitId, Vec2, UnitId)>) {
    let rows = vec![".".repeat(150); 120];
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let ground = Ground::from_rows(1.0, &rows, &[('.', Terrain::open("sand"))]).unwrap();
    let raker = Kind {
        rank: Rank::Worker,
        work: Some(Work {
            carries: CARRIES,
            stroke_every_s: STROKE_S,
            ..Work::default()
        }),
        ..Kind::walker("raker", 0.35, SPEED)
    };
    let pan = Kind {
        rank: Rank::Deposit,
        holding: Some(Holding {
            amount: 1_000_000,
            slots: PER_DEPOSIT as u16,
            rhythm: Rhythm {
                strokes: 1,
                item_on: 1,
            },
            ..Holding::of(SALT)
        }),
        ..Kind::walker("pan", 0.9, 0.0).with_health(0.0)
    };
    let rack = Kind {
        depot: Some(Depot::default()),
        ..Kind::building("drying rack", Vec2::new(3.0, 3.0))
    };
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers")],
        kinds: vec![raker, pan, rack],
        resources: vec!["salt".to_owned()],
        ..WorldSetup::on(ground)
    })
    .unwrap();
    let [raker, pan, rack] = [0, 1, 2].map(KindId);
    let mut put = |kind, x: f32, y: f32| world.spawn(kind, KEEPERS, Vec2::new(x, y), 0.0).unwrap();
    for k in 0..6 {
        put(
            rack,
            20.0 + (k % 3) as f32 * 50.0,
            25.0 + (k / 3) as f32 * 60.0,
        );
    }
    let mut gatherers = Vec::new();
    for k in 0..DEPOSITS {
        let at = Vec2::new(10.0 + (k % 10) as f32 * 14.0, 10.0 + (k / 10) as f32 * 30.0);
        let pan = put(pan, at.x, at.y);
        for n in 0..PER_DEPOSIT {
            let from = at + Vec2::new(n as f32 - 2.0, 4.0);
            gatherers.push((put(raker, from.x, from.y), from, pan));
        }
    }
    (world, gatherers)
}

fn order(world: &mut World, side: SideId, unit: UnitId, action: Action) {
    let (units, when) = (vec![unit], When::Now);
    world
        .submit(Command {
            side,
            units,
            action,
            when,
        })
        .unwrap();
}

fn gatherers() {
    let (mut working, rakers) = marsh();
    let (mut walking, _) = marsh();
    for &(raker, from, target) in &rakers {
        order(&mut working, KEEPERS, raker, Action::Gather { target });
        let points = vec![from + Vec2::new(0.0, 8.0)];
        let round = false;
        order(
            &mut walking,
            KEEPERS,
            raker,
            Action::Patrol { points, round },
        );
    }
    let mut delivered = 0;
    let mut times = [Vec::new(), Vec::new()];
    // From the second minute on: all are on their rounds.
    let (warm_up, ticks) = (1200, 12_000);
    for tick in 0..warm_up + ticks {
        let ours = measure::time(|| {
            black_box(working.step());
        });
        let theirs = measure::time(|| {
            black_box(walking.step());
        });
        if tick >= warm_up {
            times[0].push(ours);
            times[1].push(theirs);
            delivered += working.last_events().iter().map(items).sum::<u32>();
        }
    }
    let [ours, theirs] = times;
    measure::report("200, 40 deposits, 6 depots", ours, theirs);
    let hours = ticks as f32 * working.tick_s() / 3600.0;
    let bound: f32 = rakers
        .iter()
        .map(|(_, _, pan)| bound_an_hour(&working, *pan))
        .sum();
    let an_hour = delivered as f32 / hours;
    println!(
        "{an_hour:.0} items an hour, {:.0} % of what strokes, distances and speed allow",
        100.0 * an_hour / bound
    );
}

fn items(event: &Event) -> u32 {
    match event {
        Event::Delivered { load, .. } => load.amount,
        _ => 0,
    }
}

/// The items that a gatherer could bring in an hour if nobody were in its way: strokes, and the straight way from edge to
/// edge and back.
fn bound_an_hour(world: &World, pan: UnitId) -> f32 {
    let pan = world.unit(pan).unwrap();
    let depots = world.units().filter(|unit| unit.kind().depot.is_some());
    let ways = depots.filter_map(|depot| {
        let gap = depot.block()?.distance(pan.position());
        Some((gap - pan.radius() - 2.0 * 0.35).max(0.0))
    });
    let way_m = ways.fold(f32::INFINITY, f32::min);
    let carries = CARRIES as f32;
    let round_s = carries * STROKE_S + 2.0 * way_m / SPEED;
    3600.0 / round_s * carries
}

/// 1,000 creatures walk past 100 towers, and back; nobody dies of it.
fn siege(damage: f32) -> World {
    let rows = vec![".".repeat(200); 120];
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let ground = Ground::from_rows(1.0, &rows, &[('.', Terrain::open("sand"))]).unwrap();
    let sling = Weapon {
        range_m: 9.0,
        damage,
        cooldown_s: 0.8,
        flight: Some(Flight {
            speed: 22.0,
            reach_m: 12.0,
        }),
        clear_line: true,
        ..Weapon::PLAIN
    };
    let tower = Kind::building("sling tower", Vec2::new(2.0, 2.0));
    let tower = if damage > 0.0 {
        tower.armed(sling)
    } else {
        tower
    };
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![
            tower,
            Kind::walker("sidler", 0.35, 1.6).with_health(1_000_000.0),
        ],
        plan_budget: u32::MAX,
        ..WorldSetup::on(ground)
    })
    .unwrap();
    let [tower, sidler] = [0, 1].map(KindId);
    for k in 0..100 {
        let at = Vec2::new(60.0 + (k % 10) as f32 * 8.0, 20.0 + (k / 10) as f32 * 8.0);
        world.spawn(tower, KEEPERS, at, 0.0).unwrap();
    }
    for k in 0..1000 {
        let at = Vec2::new(10.0 + (k % 20) as f32 * 2.0, 8.0 + (k / 20) as f32 * 2.0);
        let unit = world.spawn(sidler, TIDE, at, 0.0).unwrap();
        let points = vec![at + Vec2::new(140.0, 0.0)];
        let round = false;
        order(&mut world, TIDE, unit, Action::Patrol { points, round });
    }
    world
}

fn towers() {
    let (mut fighting, mut walking) = (siege(1.0), siege(0.0));
    for _ in 0..600 {
        fighting.step();
        walking.step();
    }
    let (mut flying, mut fired) = (0, 0);
    measure::line(
        "100 towers, 1,000 creatures",
        600,
        |_| {
            let events = fighting.step();
            fired += events
                .iter()
                .filter(|event| matches!(event, Event::Fired { .. }))
                .count();
            flying = flying.max(fighting.projectiles().len());
        },
        |_| {
            black_box(walking.step());
        },
    );
    println!("{fired} shots in these 30 s, {flying} in flight at most");
}
