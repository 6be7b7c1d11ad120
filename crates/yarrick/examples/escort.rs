//! Scripting units in Rust, with no orders: a slinger walks beside a sled with its legs, and slings at a hulk with its
//! arms. The run is saved half way, gone on with from the save, recorded, and played again.
//!
//! `cargo run --example escort`

use std::error::Error;
use yarrick::combat::Weapon;
use yarrick::record::{Recorder, Recording};
use yarrick::world::{Change, Effect, Ticket};
use yarrick::{
    Action, Event, Ground, Kind, Side, SideId, Terrain, UnitId, Vec2, World, WorldSetup,
};

const KEEPERS: SideId = SideId(0);
const TIDE: SideId = SideId(1);

/// The sled goes along the track; the slinger that escorts it may strike the hulk.
struct Cast {
    sled: UnitId,
    slinger: UnitId,
    hulk: UnitId,
}

fn main() -> Result<(), Box<dyn Error>> {
    let mut world = flats()?;
    let cast = put_in(&mut world)?;
    let mut recorder = Recorder::begin("escort", &world);

    // Three activities, none of them ordered by a player. Each has a ticket.
    let mut start = |unit, action| world.change(Change::Start { unit, action });
    let to = Vec2::new(36.0, 6.0);
    let ride = start(cast.sled, Action::move_to(to))?;
    let keep_near = start(cast.slinger, Action::follow(cast.sled))?;
    let sling = start(cast.slinger, Action::Fire { target: cast.hulk })?;
    let name = |ticket: Ticket| match ticket {
        _ if ticket == ride => "the ride",
        _ if ticket == keep_near => "keeping near the sled",
        _ if ticket == sling => "slinging at the hulk",
        _ => "something else",
    };

    let mut saved = Vec::new();
    while world.tick() < 500 {
        recorder.before(&world);
        for event in world.step() {
            tell(event, name);
        }
        recorder.after(&world);
        if world.tick() == 250 {
            saved = world.save();
        }
    }

    let mut again = World::load(&saved)?;
    while again.tick() < world.tick() {
        again.step();
    }
    println!(
        "from the {} bytes saved half way, it went the same way: {}",
        saved.len(),
        again.first_difference(&world).is_none()
    );

    let recording = Recording::from_bytes(&recorder.recording().to_bytes())?;
    let mut replay = recording.replay()?;
    while replay.step()?.is_some() {}
    println!(
        "played again, it ends the same way: {}",
        replay.world().checksum() == world.checksum()
    );
    Ok(())
}

fn flats() -> Result<World, Box<dyn Error>> {
    let rows = vec![".".repeat(40); 12];
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let ground = Ground::from_rows(1.0, &rows, &[('.', Terrain::open("sand"))])?;
    let sling = Weapon {
        range_m: 7.0,
        damage: 6.0,
        cooldown_s: 1.2,
        ..Weapon::PLAIN
    };
    Ok(World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: vec![
            Kind::walker("sled", 0.6, 1.4),
            Kind {
                weapon: Some(sling),
                ..Kind::walker("slinger", 0.35, 1.8)
            },
            Kind::walker("hulk", 0.7, 1.0).with_health(30.0),
        ],
        ..WorldSetup::on(ground)
    })?)
}

fn put_in(world: &mut World) -> Result<Cast, Box<dyn Error>> {
    let mut place = |name: &str, side, x, y| -> Result<UnitId, Box<dyn Error>> {
        let kind = world.kind(name).ok_or("the kind is in the set-up")?;
        Ok(world.spawn(kind, side, Vec2::new(x, y), 0.0)?)
    };
    Ok(Cast {
        sled: place("sled", KEEPERS, 3.0, 6.0)?,
        slinger: place("slinger", KEEPERS, 2.0, 4.5)?,
        hulk: place("hulk", TIDE, 18.0, 9.0)?,
    })
}

/// Prints what the tickets of the script were answered, and who fell.
fn tell(event: &Event, name: impl Fn(Ticket) -> &'static str) {
    match event {
        Event::Changed {
            ticket,
            effect: Effect::Started { .. },
        } => println!("{} begins", name(*ticket)),
        Event::ActivityEnded {
            ticket, outcome, ..
        } => println!("{} ends: {outcome}", name(*ticket)),
        Event::ChangeRefused { ticket, why } => println!("{}: refused, {why}", name(*ticket)),
        Event::Died { .. } => println!("the hulk falls"),
        _ => {}
    }
}
