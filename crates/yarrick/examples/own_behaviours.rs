//! Behaviours that a game adds: a lurker whose drill uses a sense and a step of this program, and a raker whose whole
//! behaviour is written in Rust, on the activities that orders and drills use, too.
//!
//! `cargo run --example own_behaviours`

use std::error::Error;
use yarrick::drill::{Gives, Unit, Value, Word, compile};
use yarrick::world::{Change, DrillUse, TooManyChanges, vocabulary};
use yarrick::{
    Action, Event, Ground, Kind, Side, SideId, Terrain, UnitId, Vec2, World, WorldSetup,
};

const KEEPERS: SideId = SideId(0);
const TIDE: SideId = SideId(1);

/// `water` is a sense and `dig` a step of this program: the library knows neither of them.
const DRILL: &str = "
drill lurker controls legs
  start state roam, every 0.5 s
    wander at 60%
    when water < 0.3 m -> hide

  state hide, every 0.5 s
    cue \"burrow\"
    dig 0.4 m
    stand
    when water > 0.6 m -> roam
";

/// The numbers of the words of this program, in the order in which it gives them to the vocabulary.
const WATER: u16 = 0;
const DIG: u16 = 0;

fn main() -> Result<(), Box<dyn Error>> {
    let mut world = flats()?;
    let [orla, lurker] = put_in(&mut world)?;
    let mut rakers = [Raker {
        unit: orla,
        mood: Mood::Idle,
    }];
    let mut holes: Vec<Hole> = Vec::new();

    for _ in 0..60 * world.ticks_per_second() {
        let time_s = world.time_s();
        let value = water_m(time_s);
        let unit = None;
        world.change(Change::SetSense {
            sense: WATER,
            unit,
            value,
        })?;
        for raker in &mut rakers {
            raker.think(&mut world)?;
        }
        // A hole that is deep enough ends the step of the drill.
        for hole in holes.extract_if(.., |hole| hole.done_s <= time_s) {
            let Hole { unit, drill, .. } = hole;
            world.change(Change::StepDone { unit, drill })?;
        }
        let events = world.step().to_vec();
        for event in &events {
            tell(&world, event);
            if let Event::Asked {
                unit,
                drill,
                step: DIG,
                values,
            } = event
                && let [Value::Number(depth_m), ..] = values[..]
            {
                let done_s = time_s + f64::from(depth_m) * 5.0;
                let (unit, drill) = (*unit, *drill);
                holes.push(Hole {
                    unit,
                    drill,
                    done_s,
                });
            }
        }
    }
    for drill in world.explain(lurker) {
        println!("the lurker is in {:?}", drill.state);
    }
    println!("checksum {:016x}", world.checksum());
    Ok(())
}

/// The water rises and falls within 40 s, in metres.
fn water_m(time_s: f64) -> f32 {
    let part = (time_s / 40.0).fract() as f32;
    1.0 - (2.0 * part - 1.0).abs()
}

/// A hole that is being dug, and when it is deep enough.
struct Hole {
    unit: UnitId,
    drill: u8,
    done_s: f64,
}

/// A behaviour in Rust: goes to and fro between two pans, and runs home when a foe comes near.
struct Raker {
    unit: UnitId,
    mood: Mood,
}

#[derive(Clone, Copy, Debug, PartialEq)]
enum Mood {
    Idle,
    Round,
    Scared,
}

const HOME: Vec2 = Vec2::new(3.0, 10.0);
const PAN: Vec2 = Vec2::new(20.0, 10.0);

impl Raker {
    fn think(&mut self, world: &mut World) -> Result<(), TooManyChanges> {
        let Some(at) = world.unit(self.unit).map(|unit| unit.position()) else {
            return Ok(());
        };
        let foe_within = |radius_m| {
            let mut near = world.units_within(at, radius_m);
            near.any(|unit| unit.side_id() == TIDE)
        };
        let mood = match self.mood {
            Mood::Idle | Mood::Round if foe_within(5.0) => Mood::Scared,
            Mood::Scared if foe_within(9.0) => Mood::Scared,
            _ => Mood::Round,
        };
        if mood == self.mood {
            return Ok(());
        }
        println!("{:6.2} s  Orla: {mood:?}", world.time_s());
        self.mood = mood;
        let points = vec![PAN];
        let round = false;
        let action = match mood {
            Mood::Scared => Action::move_to(HOME),
            _ => Action::Patrol { points, round },
        };
        let unit = self.unit;
        world.change(Change::Start { unit, action })?;
        Ok(())
    }
}

fn flats() -> Result<World, Box<dyn Error>> {
    let row = ".".repeat(30);
    let ground = Ground::from_rows(1.0, &[row.as_str(); 20], &[('.', Terrain::open("sand"))])?;
    let own_words = vec![
        Word::sense(
            "water",
            Gives::Number(Unit::Metres),
            "how high the water stands",
        ),
        Word::step("dig {m}", 1, true, "digs itself in"),
    ];
    let program = compile(DRILL, &vocabulary(&own_words)?)?;
    let drill = program.drill("lurker").ok_or("the text has it")?;
    let lurker = Kind {
        drills: vec![DrillUse::of(drill)],
        ..Kind::walker("lurker", 0.5, 1.5)
    };
    Ok(World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![Kind::walker("raker", 0.4, 1.8), lurker],
        program,
        own_words,
        seed: 6,
        ..WorldSetup::on(ground)
    })?)
}

fn put_in(world: &mut World) -> Result<[UnitId; 2], Box<dyn Error>> {
    let [raker, lurker] = ["raker", "lurker"].map(|name| world.kind(name));
    let orla = world.spawn(raker.ok_or("no raker")?, KEEPERS, HOME, 0.0)?;
    let at = Vec2::new(22.0, 12.0);
    let lurker = world.spawn(lurker.ok_or("no lurker")?, TIDE, at, 0.0)?;
    Ok([orla, lurker])
}

/// Prints what a game would show or sound.
fn tell(world: &World, event: &Event) {
    let time_s = world.time_s();
    match event {
        Event::Cue { cue, .. } => {
            let name = world.drill_text(*cue);
            println!("{time_s:6.2} s  the lurker: cue {name:?}");
        }
        Event::Asked { values, .. } => println!("{time_s:6.2} s  the lurker digs: {values:?}"),
        Event::ActivityEnded { outcome, .. } => {
            println!("{time_s:6.2} s  an activity of Orla ends: {outcome}");
        }
        _ => {}
    }
}
