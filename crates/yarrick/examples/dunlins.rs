//! A flock with no world round it: dunlins over a bay, each with a plumage of its own, a mudhole that draws them, and a
//! beacon that drives them off.
//!
//! `cargo run --example dunlins`

use yarrick::geom::{Outline, Vec2, Vec3};
use yarrick::motion::flock::{Air, Flock, FlockParams, Zone, ZoneRole};
use yarrick::rng::Stream;

/// What the game wants to know of each bird, for drawing it.
#[derive(Clone, Copy, Debug)]
struct Plumage {
    shade: &'static str,
    length_m: f32,
}

const MIDDLE: Vec2 = Vec2::new(60.0, 40.0);
const MUDHOLE: Vec2 = Vec2::new(85.0, 45.0);

/// The flock in its bay, with a mudhole that draws it.
fn bay() -> Result<Flock<Plumage>, Box<dyn std::error::Error>> {
    let mut flock = Flock::new(FlockParams {
        view_m: 3.0,
        spacing_m: 1.2,
        // Between one metre above the mud and twelve.
        air: Some(Air {
            floor_m: 1.0,
            ceiling_m: 12.0,
            margin_m: 2.0,
            climb: 1.5,
        }),
        ..FlockParams::default()
    })?;
    let mut random = Stream::new(7, "dunlins");
    for k in 0..400 {
        let at = MIDDLE + Vec2::new(random.between(-20.0, 20.0), random.between(-12.0, 12.0));
        let plumage = Plumage {
            shade: ["grey", "brown", "pale"][k % 3],
            length_m: random.between(0.16, 0.2),
        };
        flock.add(
            at.extend(random.between(1.0, 12.0)),
            random.between(-3.1, 3.1),
            plumage,
        )?;
    }
    // The bay keeps them in: a turn begins twelve metres before its edge.
    let bay = Outline::Box {
        half_m: Vec2::new(60.0, 40.0),
    };
    let bay = Zone {
        margin_m: 12.0,
        ..Zone::new(ZoneRole::Pen, bay, MIDDLE)
    };
    flock.add_zone(bay)?;
    let mudhole = Zone {
        margin_m: 40.0,
        weight: 1.5,
        ..Zone::new(ZoneRole::Lure, circle(10.0), MUDHOLE)
    };
    flock.add_zone(mudhole)?;
    Ok(flock)
}

fn circle(radius_m: f32) -> Outline {
    Outline::Circle { radius_m }
}

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut flock = bay()?;
    fly(&mut flock, 30.0);
    println!("30 s: {} of 400 at the mudhole", near(&flock, MUDHOLE, 8.0));
    // A beacon is lit right beside it.
    let beacon = Zone {
        margin_m: 8.0,
        weight: 6.0,
        ..Zone::new(ZoneRole::Scare, circle(8.0), MUDHOLE)
    };
    let beacon = flock.add_zone(beacon)?;
    print_pulls(&flock)?;

    fly(&mut flock, 10.0);
    println!("40 s: {} of 400 at the mudhole", near(&flock, MUDHOLE, 8.0));
    flock.switch_zone(beacon, false)?;
    fly(&mut flock, 30.0);
    println!("70 s: {} of 400 at the mudhole", near(&flock, MUDHOLE, 8.0));
    let measure = flock.measure();
    println!(
        "each goes the way of those round it to {:.2}, and keeps {:.2} m from the next",
        measure.local_alignment, measure.spacing_m
    );
    println!("checksum {:016x}", flock.checksum());
    Ok(())
}

/// Prints the pulls on the bird that is nearest to the beacon.
fn print_pulls(flock: &Flock<Plumage>) -> Result<(), Box<dyn std::error::Error>> {
    let nearest = flock.members().min_by(|a, b| {
        let far = |at: Vec3| at.truncate().distance_squared(MUDHOLE);
        far(a.at).total_cmp(&far(b.at))
    });
    let bird = nearest.ok_or("no birds")?;
    println!(
        "a {} bird of {:.2} m is pulled",
        bird.value.shade, bird.value.length_m
    );
    let pulls = flock.pulls(bird.id).ok_or("no such bird")?;
    for (name, pull) in [
        ("off its neighbours", pulls.separation),
        ("along with them", pulls.alignment),
        ("to their middle", pulls.cohesion),
    ] {
        println!("  {name}: {:.2}", pull.length());
    }
    for (zone, pull) in &pulls.zones {
        let role = flock.zone(*zone).map_or("", |zone| zone.role.word());
        println!("  by the {role}: {:.2}", pull.length());
    }
    Ok(())
}

fn fly(flock: &mut Flock<Plumage>, seconds: f32) {
    for _ in 0..(seconds * 20.0) as u32 {
        flock.step(0.05);
    }
}

fn near(flock: &Flock<Plumage>, spot: Vec2, within_m: f32) -> usize {
    let is_near = |at: Vec3| at.truncate().distance(spot) <= within_m;
    flock.members().filter(|bird| is_near(bird.at)).count()
}
