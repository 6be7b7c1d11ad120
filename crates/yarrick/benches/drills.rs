//! Drills that think at 5 Hz: 1,000 and 10,000 in a world, against as many that do the same without a rule; and one rule, against
//! the same in plain Rust.
//!
//! `cargo bench --bench drills`

#[path = "measure/mod.rs"]
mod measure;

use std::hint::black_box;
use yarrick::drill::{
    Begun, Change, Gives, Held, Host, Machine, Program, Senses, Unit, Value, Vocabulary, Word,
    compile,
};
use yarrick::world::{DrillUse, KindId, vocabulary};
use yarrick::{Ground, Kind, Side, SideId, Terrain, Vec2, World, WorldSetup};

fn main() {
    measure::head(
        "a tick of wanderers",
        "three rules at 5 Hz",
        "without a rule",
    );
    for count in [1_000, 10_000] {
        wanderers(count);
    }
    println!();
    measure::head(
        "one check of one rule, 10,000 times",
        "by a machine",
        "plain Rust",
    );
    rule();
}

const RULES: &str = "
drill shy controls legs
  memory threat: unit
  start state roam, every 0.2 s
    wander at 40%
    when sees foe within 6 m as threat -> bolt
    when was hit as threat -> bolt
    when health < 30% and time in state > 5 s -> rest
  state bolt on threat, else roam, every 0.2 s
    flee threat
    when gap to threat > 9 m -> roam
  state rest, every 0.2 s
    stand
    when health > 50% -> roam
";

const PLAIN: &str = "
drill roamer controls legs
  start state roam
    wander at 40%
";

/// Units two to four metres apart that wander; one in fifty is a foe to the others.
fn world(count: usize, text: &str) -> World {
    let columns = (count as f32).sqrt().ceil() as usize;
    let side = columns as u32 * 4 + 8;
    let terrains = vec![Terrain::open("sand")];
    let classes = vec![0; (side * side) as usize];
    let ground = Ground::new(side, side, 1.0, terrains, classes).unwrap();
    let program = compile(text, &vocabulary(&[]).unwrap()).unwrap();
    let drills = vec![DrillUse::of(0)];
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![Kind {
            drills,
            ..Kind::walker("pilferer", 0.35, 2.0)
        }],
        program,
        ..WorldSetup::on(ground)
    })
    .unwrap();
    for k in 0..count {
        let at = Vec2::new((k % columns) as f32, (k / columns) as f32) * 4.0 + Vec2::splat(4.0);
        let side = SideId(u8::from(k % 50 == 0));
        world.spawn(KindId(0), side, at, 0.0).unwrap();
    }
    world
}

fn wanderers(count: usize) {
    let (mut thinking, mut plain) = (world(count, RULES), world(count, PLAIN));
    for _ in 0..100 {
        thinking.step();
        plain.step();
    }
    measure::line(
        &format!("{count} drills"),
        200,
        |_| {
            black_box(thinking.step());
        },
        |_| {
            black_box(plain.step());
        },
    );
}

/// A host whose one sense is a column of numbers.
struct Column {
    water: Vec<f32>,
    row: usize,
    went: usize,
}

impl Senses for Column {
    fn sense(&self, _: u16, _: &[Value]) -> Value {
        Value::Number(self.water[self.row])
    }
    fn test(&self, _: u16, _: &[Value]) -> Held {
        Held::No
    }
    fn is_gone(&self, _: u64) -> bool {
        false
    }
    fn dial(&self, _: u16, _: u16) -> Option<f32> {
        None
    }
    fn chance(&self, _: u32) -> f32 {
        0.5
    }
    fn ticks_per_second(&self) -> u32 {
        20
    }
}

impl Host for Column {
    fn begin(&mut self, _: u16, _: &[Value]) -> Begun {
        Begun::Lasts
    }
    fn stop(&mut self) {}
    fn changed(&mut self, _: &Change) {
        self.went += 1;
    }
}

const COUNT: usize = 10_000;

fn program() -> Program {
    let water = Gives::Number(Unit::Metres);
    let words = vec![
        Word::sense("water", water, "how high the water stands"),
        Word::step("sit", 0, true, "sits"),
    ];
    let text = "
drill dunlin controls legs
  dial wet = 0.9 m in 0 m .. 2 m
  start state rest, every 0.05 s
    sit
    when water > wet -> away
  state away, every 0.05 s
    sit
    when water < wet -> rest
";
    compile(text, &Vocabulary::new(words, &[], &[]).unwrap()).unwrap()
}

/// How high the water stands at a dunlin in a tick, in metres.
fn water(row: usize, now: u64) -> f32 {
    let phase = (row as u64 * 7 + now) % 100;
    phase as f32 * 0.01
}

fn rule() {
    let program = program();
    let mut column = Column {
        water: vec![0.0; COUNT],
        row: 0,
        went: 0,
    };
    let machine = |column: &Column| Machine::new(&program, 0, 0, 0.0, column).unwrap();
    let mut machines: Vec<Machine> = (0..COUNT).map(|_| machine(&column)).collect();
    let mut away = vec![false; COUNT];
    let (mut now, mut then, mut went) = (0, 0, 0);
    let mut heights = vec![0.0; COUNT];
    measure::line(
        "water > wet",
        200,
        |_| {
            now += 1;
            for row in 0..COUNT {
                column.water[row] = water(row, now);
            }
            for (row, machine) in machines.iter_mut().enumerate() {
                column.row = row;
                if machine.is_due(now) {
                    machine.think(&program, now, &mut column);
                }
            }
        },
        |_| {
            then += 1;
            for (row, height) in heights.iter_mut().enumerate() {
                *height = water(row, then);
            }
            for (height, away) in heights.iter().zip(&mut away) {
                let is_away = if *away { *height >= 0.9 } else { *height > 0.9 };
                went += usize::from(is_away != *away);
                *away = is_away;
            }
            black_box(&away);
        },
    );
    let states = machines.iter().map(|machine| machine.state() == 1);
    assert!(states.eq(away.iter().copied()), "both do the same");
    assert!(went > COUNT && column.went >= went);
}
