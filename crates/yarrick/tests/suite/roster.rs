//! Kinds: their properties as scenario files give them.

use core::f32::consts::{PI, TAU};
use proptest::prelude::*;
use yarrick::combat::{Flight, Preference, Turret, Weapon};
use yarrick::economy::{Price, ResourceId, Rhythm};
use yarrick::ground::{Gait, GaitId};
use yarrick::motion::steering::Turning;
use yarrick::scenario::{Scenario, kind_entry};
use yarrick::world::{
    Body, Cost, Depot, Footprint, Holding, KindId, Legs, Posture, Producer, Property,
};
use yarrick::world::{Rank, Senses, Work};
use yarrick::{Ground, Kind, Side, Terrain, Vec2, World, WorldSetup};

/// The rows of the table in the guide follow from what the code declares.
#[test]
fn the_guide_lists_every_property_as_it_is_declared() {
    let guide = include_str!("../../../../docs/guide/scenario-files.md");
    let (_, section) = guide.split_once("## `[[kind]]`\n").unwrap();
    let (section, _) = section.split_once("\n## ").unwrap();
    let declared: Vec<String> = Kind::properties().map(row).collect();
    let rows = section.lines().filter(|line| line.starts_with("| `"));
    // Its name and its base are no properties.
    let rows: Vec<&str> = rows.skip(2).collect();
    let parts: Vec<String> = Kind::weapon_properties().map(row).collect();
    let (of_kinds, of_weapons) = rows.split_at(rows.len().saturating_sub(parts.len()));
    assert_eq!(of_kinds, declared, "docs/guide/scenario-files.md, [[kind]]");
    assert_eq!(of_weapons, parts, "docs/guide/scenario-files.md, weapon");
}

/// A property as a row of the guide.
fn row<T>(property: &Property<T>) -> String {
    let (key, about) = (property.key, property.about);
    let default = match (property.default, property.implied) {
        (Some(default), _) => default.to_owned(),
        (None, "") => "needed".to_owned(),
        (None, implied) => format!("needed; {implied}"),
    };
    format!("| `{key}` | {about} | {default} | {} |", property.allowed())
}

fn ground() -> Ground {
    let ground = Ground::from_rows(1.0, &["......"; 6], &[('.', Terrain::open("sand"))]).unwrap();
    let gaits = vec![Gait::new("swimmer"), Gait::flying("bird")];
    ground.with_gaits(gaits).unwrap()
}

fn weapon() -> impl Strategy<Value = Option<Weapon>> {
    let parts = (0.0..200.0_f32, 0.0..1e6_f32, 0.01..3600.0_f32);
    let flight = (0.1..10_000.0_f32, 0.0..1000.0_f32);
    let flight = flight.prop_map(|(speed, reach_m)| Flight { speed, reach_m });
    let turret = (0.0..99.0_f32, 0.0..TAU);
    let turret = turret.prop_map(|(turn_rate, arc)| Turret { turn_rate, arc });
    let rest = (
        proptest::option::of(flight),
        proptest::option::of(turret),
        0.0..PI,
        any::<bool>(),
        0_usize..2,
    );
    let weapon = (parts, rest).prop_map(|((range_m, damage, cooldown_s), rest)| Weapon {
        range_m,
        damage,
        cooldown_s,
        flight: rest.0,
        turret: rest.1,
        aim_within: rest.2,
        clear_line: rest.3,
        prefers: Preference::WORDS[rest.4].1,
    });
    proptest::option::of(weapon)
}

fn turning() -> impl Strategy<Value = Turning> {
    prop_oneof![
        Just(Turning::Free),
        Just(Turning::OnTheSpot),
        (0.05..50.0_f32).prop_map(|circle_m| Turning::Driving { circle_m }),
    ]
}

type Economy = (
    Cost,
    Option<Work>,
    Option<Holding>,
    Option<Depot>,
    Option<Producer>,
);

fn economy() -> impl Strategy<Value = Economy> {
    let kinds = || proptest::collection::vec(Just(KindId(0)), 0..2);
    let price = (0_u32..1_000_000, 0_u32..1_000_000);
    let price =
        price.prop_map(|(salt, reed)| Price::of(&[(ResourceId(0), salt), (ResourceId(1), reed)]));
    let cost = (price, 0.0..3600.0_f32).prop_map(|(price, time_s)| Cost { price, time_s });
    let work = (1_u32..10_000, 0.05..60.0_f32, 0.0..1000.0_f32, kinds());
    let work = work.prop_map(|(carries, stroke_every_s, look_on_m, builds)| Work {
        carries,
        stroke_every_s,
        look_on_m,
        builds,
    });
    let holding = (
        0_u8..2,
        0_u32..1_000_000,
        1_u16..64,
        1_u32..1000,
        1_u32..1000,
    );
    let holding = holding.prop_map(|(resource, amount, slots, strokes, item_on)| Holding {
        resource: ResourceId(resource),
        amount,
        slots,
        rhythm: Rhythm { strokes, item_on },
    });
    let depot = proptest::option::of(-6.0..6.0_f32).prop_map(|entrance| Depot { entrance });
    let producer = (1_u16..64).prop_map(|limit| Producer {
        kinds: vec![KindId(0)],
        limit,
    });
    (
        cost,
        proptest::option::of(work),
        proptest::option::of(holding),
        proptest::option::of(depot),
        proptest::option::of(producer),
    )
}

fn resources() -> Vec<String> {
    vec!["salt".to_owned(), "reed".to_owned()]
}

fn kind() -> impl Strategy<Value = Kind> {
    let side = 0.05..50.0_f32;
    let body = (
        "[a-z\"\\\\]{1,12}",
        "[!-~]",
        0.05..3.0_f32,
        0.0..100.0_f32,
        0.0..62.0_f32,
        0.0..1e6_f32,
        0_u8..3,
    );
    let legs = (
        0.01..100.0_f32,
        0.01..1000.0_f32,
        proptest::option::of(0.01..1000.0_f32),
        turning(),
    );
    let legs = legs.prop_map(|(speed, braking, acceleration, turning)| Legs {
        speed,
        braking,
        acceleration,
        turning,
    });
    let rest = (
        0_usize..4,
        proptest::option::of((side.clone(), side)),
        weapon(),
        proptest::option::of(0.1..200.0_f32),
        any::<bool>(),
        economy(),
    );
    (body, proptest::option::of(legs), rest).prop_map(|(body, legs, rest)| Kind {
        name: body.0,
        glyph: body.1.chars().next().unwrap(),
        body: Body {
            radius_m: body.2,
            height_m: body.3,
            turn_rate: body.4,
            health: body.5,
            gait: GaitId(body.6),
        },
        legs,
        rank: Rank::WORDS[rest.0].1,
        footprint: rest.1.map(|(x, y)| Footprint {
            size_m: Vec2::new(x, y),
            offset_m: Vec2::new(-x, y),
        }),
        weapon: rest.2,
        posture: Some(Posture::WORDS[rest.0].1),
        senses: rest.3.map(Senses::noticing),
        rallies: rest.4,
        cost: rest.5.0,
        work: rest.5.1,
        holding: rest.5.2,
        depot: rest.5.3,
        producer: rest.5.4,
        drills: Vec::new(),
    })
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 200, failure_persistence: None, ..ProptestConfig::default() })]

    /// Written, read again, and inherited by a kind that says nothing itself.
    #[test]
    fn a_kind_that_is_written_is_read_as_the_same(kind in kind()) {
        let start = "[scenario]\ntitle = \"kinds\"\n[ground]\nrows = [\"...\"]\n[ground.legend]\n\".\" = { name = \"sand\" }\n\
            [[gait]]\nname = \"swimmer\"\n[[gait]]\nname = \"bird\"\nflies = true\n[[side]]\nname = \"keepers\"\n\
            [[resource]]\nname = \"salt\"\n[[resource]]\nname = \"reed\"\n";
        let setup = WorldSetup {
            kinds: vec![Kind::walker("an heir", 0.4, 1.0), kind.clone()],
            resources: resources(),
            ..WorldSetup::on(ground())
        };
        let entry = kind_entry(&kind, &setup);
        let quoted = entry.lines().nth(1).unwrap().replace("name =", "based_on =");
        let heir = format!("[[kind]]\nname = \"an heir\"\n{quoted}\n");
        let scenario = Scenario::parse(&format!("{start}{heir}{entry}"));
        let scenario = scenario.unwrap_or_else(|errors| panic!("{errors}\n{entry}"));
        let play = scenario.play(None).unwrap();
        let kinds = play.world().kinds();
        prop_assert_eq!(&kinds[1], &kind);
        let heir = Kind { name: kind.name.clone(), ..kinds[0].clone() };
        prop_assert_eq!(&heir, &kind);
    }

    /// A world takes every kind that a file can give, and refuses one beyond a limit with the unit of it.
    #[test]
    fn a_world_takes_what_is_in_range(kind in kind(), factor in 1.01..1e9_f32) {
        let world = |kind: &Kind| {
            World::new(WorldSetup {
                sides: vec![Side::new("keepers")],
                kinds: vec![kind.clone()],
                resources: resources(),
                ..WorldSetup::on(ground())
            })
        };
        prop_assert!(world(&kind).is_ok());
        let too_fast = kind.with_legs(Legs::of_speed(100.0 * factor));
        let error = world(&too_fast).err().map(|error| error.to_string()).unwrap_or_default();
        prop_assert!(error.ends_with("allowed is 0 to 100 (metres a second)"), "{}", error);
    }
}
