//! A lively piece of the saltmarsh, and whatever a game and its players may do to it.

use proptest::prelude::*;
use yarrick::combat::{Flight, Turret, Weapon};
use yarrick::drill::{Gives, Program, Unit, Word, compile};
use yarrick::economy::{Price, ResourceId, Stores};
use yarrick::geom::{Outline, Vec3};
use yarrick::ground::{Cell, Door, DoorId, Gait, GaitId, Link, Patch};
use yarrick::motion::flock::{Flock, FlockParams, Zone, ZoneRole};
use yarrick::motion::formation::{Form, Formation};
use yarrick::motion::steering::Turning;
use yarrick::waves::{AssaultPlan, Batch, Wave};
use yarrick::world::{
    Appearance, AssaultSetup, Change, Cost, Depot, DrillUse, Entry, Finish, FlockChange, FlockId,
    GoalArea, Holding, KindId, LeakCost, Legs, OrderNo, Posture, Producer, Rank, Ticket, Work,
    vocabulary,
};
use yarrick::{
    Action, Command, Ground, Kind, Side, SideId, Spot, Terrain, UnitId, Vec2, When, World,
    WorldSetup,
};

/// The map: reed slows, creeks stop walkers, a wall with a sluice in it parts east from west.
const SIZE: usize = 40;

/// How many units the world begins with.
pub(crate) const UNITS: u32 = 48;

fn rows() -> Vec<String> {
    let symbol = |x: usize, y: usize| match (x, y) {
        (20, 17..23) => '.',
        (20, _) => '#',
        (8..12, 28..31) => '~',
        (30..34, 8..14) => ',',
        (28..33, 28) | (28, 28..33) | (32, 28..33) | (28..33, 32) => '#',
        _ => '.',
    };
    (0..SIZE)
        .rev()
        .map(|y| (0..SIZE).map(|x| symbol(x, y)).collect())
        .collect()
}

fn ground() -> Ground {
    let rows = rows();
    let rows: Vec<&str> = rows.iter().map(String::as_str).collect();
    let legend = [
        ('.', Terrain::open("sand")),
        (
            ',',
            Terrain {
                speed: 0.5,
                ..Terrain::open("reed")
            },
        ),
        ('~', Terrain::closed("creek")),
        ('#', Terrain::closed("dyke")),
    ];
    let sluice = Door {
        name: "sluice".to_owned(),
        patch: Patch::between(Cell::new(20, 17), Cell::new(20, 22)),
        shut: false,
    };
    let ferry = Link {
        name: "ferry".to_owned(),
        from: Vec2::new(18.5, 4.5),
        to: Vec2::new(22.5, 4.5),
        cost_m: 8.0,
        both_ways: true,
        gaits: Vec::new(),
    };
    let heights = (0..SIZE * SIZE).map(|k| (k % SIZE) as f32 * 0.02).collect();
    let ground = Ground::from_rows(1.0, &rows, &legend).unwrap();
    let ground = ground.with_heights(heights).unwrap();
    let gaits = vec![
        Gait::new("swimmer").at_speed("creek", 1.2),
        Gait::flying("bird"),
    ];
    let ground = ground.with_gaits(gaits).unwrap();
    let ground = ground.with_doors(vec![sluice]).unwrap();
    ground.with_links(vec![ferry]).unwrap()
}

fn kinds() -> Vec<Kind> {
    let weapon = |range_m, damage, cooldown_s| Weapon {
        range_m,
        damage,
        cooldown_s,
        ..Weapon::PLAIN
    };
    let sling = Weapon {
        flight: Some(Flight {
            speed: 9.0,
            reach_m: 8.0,
        }),
        turret: Some(Turret {
            turn_rate: 4.0,
            arc: 5.0,
        }),
        clear_line: true,
        ..weapon(5.0, 2.0, 0.7)
    };
    vec![
        Kind {
            rank: Rank::Worker,
            cost: costing(2, 0.6),
            work: Some(Work {
                carries: 3,
                stroke_every_s: 0.15,
                look_on_m: 20.0,
                builds: vec![KindId(6), KindId(8)],
            }),
            ..Kind::walker("raker", 0.35, 1.8).with_health(15.0)
        },
        Kind {
            cost: costing(3, 0.8),
            ..Kind::walker("warden", 0.4, 2.0)
                .with_health(40.0)
                .armed(weapon(0.5, 4.0, 0.5))
        },
        Kind::walker("slinger", 0.35, 1.9)
            .with_health(20.0)
            .armed(sling),
        Kind::walker("sledge", 0.6, 1.5).with_legs(Legs {
            acceleration: Some(2.0),
            turning: Turning::Driving { circle_m: 1.0 },
            ..Legs::of_speed(1.5)
        }),
        Kind::walker("lurker", 0.4, 2.2)
            .with_gait(GaitId(1))
            .armed(weapon(0.4, 3.0, 0.6)),
        Kind::walker("dunlin", 0.3, 4.0).with_gait(GaitId(2)),
        Kind {
            rallies: true,
            cost: costing(9, 3.0),
            depot: Some(Depot::default()),
            producer: Some(Producer {
                kinds: vec![KindId(0), KindId(1)],
                limit: 4,
            }),
            ..Kind::building("yard", Vec2::new(3.0, 2.0))
        },
        Kind {
            rank: Rank::Deposit,
            holding: Some(Holding {
                amount: 25,
                slots: 2,
                ..Holding::of(ResourceId(0))
            }),
            ..Kind::walker("pan", 0.6, 0.0).with_health(0.0)
        },
        Kind {
            cost: costing(1, 1.0),
            ..Kind::building("dyke", Vec2::splat(1.0))
        },
        Kind {
            drills: vec![DrillUse::of(0), DrillUse::of(1)],
            ..Kind::walker("sidler", 0.35, 1.8)
                .with_health(20.0)
                .armed(weapon(0.5, 2.0, 0.5))
        },
    ]
}

fn costing(salt: u32, time_s: f32) -> Cost {
    let price = Price::of(&[(ResourceId(0), salt)]);
    Cost { price, time_s }
}

/// The drills of sidlers: one for the legs, one for the arms.
const DRILLS: &str = "
drill sidler controls legs
  dial near = 5 m in 1 m .. 9 m
  dial patience = 1 s .. 2 s in 0.1 s .. 9 s
  memory prey: unit
  memory place: point
  start state come, every 0.2 s
    cue \"scuttle\"
    weave to goal, width 2 m, swing 3 s, phase random, at 80%
    when sees foe within near as prey -> chase
    when water > 0.5 m -> dig
  state chase on prey, else come, every 0.2 s
    set place = here
    chase prey, acceleration 3 m/s2, top speed 3 m/s
    when gap to prey > 12 m -> rest
    when was hit -> rest
  state rest, every 0.3 s
    wander at 30%
    when time in state > patience -> come
  state dig, every 0.2 s
    dig 0.3 m
    -> rest

drill bite controls arms
  memory mark: unit
  start state look, every 0.2 s
    when any foe within reach as mark -> strike
  state strike on mark, else look
    repeat strike mark
    when gap to mark > reach -> look
";

fn own_words() -> Vec<Word> {
    let water = Gives::Number(Unit::Metres);
    vec![
        Word::sense("water", water, "how high the water stands"),
        Word::step("dig {m}", 1, true, "digs itself in"),
    ]
}

fn program() -> Program {
    compile(DRILLS, &vocabulary(&own_words()).unwrap()).unwrap_or_else(|errors| panic!("{errors}"))
}

fn salt(amount: u32) -> Stores {
    let mut stores = Stores::default();
    stores.put_in(ResourceId(0), amount);
    stores
}

/// Lurkers and wardens of the tide that come in at two corners, and have no orders.
fn assault() -> AssaultSetup {
    let batch = |kind, entry, spacing| Batch {
        kind,
        count: 3,
        delay: 2,
        spacing,
        entry,
        goal: 0,
    };
    let entry = |name: &str, x, y| Entry {
        name: name.to_owned(),
        at: Vec2::new(x, y),
        spread_m: 2.0,
        facing: -0.5,
    };
    let wave = || Wave {
        batches: vec![batch(4, 0, 8), batch(1, 1, 0)],
    };
    AssaultSetup {
        side: SideId(1),
        plan: AssaultPlan {
            first_after: 12,
            lull: 30,
            waves: vec![wave(), wave()],
        },
        entries: vec![entry("north", 36.0, 36.0), entry("east", 36.0, 12.0)],
        goals: vec![GoalArea {
            name: "yard".to_owned(),
            at: Vec2::new(20.0, 20.0),
            radius_m: 2.5,
        }],
        leak_cost: Some(LeakCost {
            side: SideId(0),
            price: Price::of(&[(ResourceId(0), 2)]),
        }),
    }
}

/// A world with units of all kinds on four sides, and a flock. Routes wait for their turn when `plan_budget` is low.
pub(crate) fn world(plan_budget: u32) -> World {
    let mut sides = ["keepers", "tide", "reedfolk", "nobody"].map(Side::new);
    sides[2].shares_control_with = vec![SideId(0)];
    sides[3].neutral = true;
    let mut world = World::new(WorldSetup {
        sides: sides.to_vec(),
        kinds: kinds(),
        seed: 11,
        plan_budget,
        resources: vec!["salt".to_owned()],
        stores: vec![salt(40), salt(20)],
        program: program(),
        own_words: own_words(),
        assault: Some(assault()),
        ..WorldSetup::on(ground())
    })
    .unwrap();
    let mut put = |kind: u16, side: u8, x: f32, y: f32| {
        let at = Vec2::new(x, y);
        world.spawn(KindId(kind), SideId(side), at, 0.3).unwrap()
    };
    // Enough of one group for a goal field that they share.
    for k in 0..26_u16 {
        put(k % 3, 0, 3.0 + f32::from(k % 7), 3.0 + f32::from(k / 7));
    }
    for k in 0..10_u16 {
        put(
            1 + k % 2,
            1,
            25.0 + f32::from(k % 5),
            20.0 + f32::from(k / 5),
        );
    }
    for k in 0..3_u16 {
        put(4, 1, 24.0 + 2.0 * f32::from(k), 35.0);
        put(3, 2, 4.0 + 2.0 * f32::from(k), 15.0);
    }
    put(5, 0, 12.0, 12.0);
    let yard = put(6, 0, 14.0, 8.0);
    put(6, 1, 35.0, 35.0);
    put(7, 3, 10.0, 20.0);
    put(9, 1, 30.0, 24.0);
    put(9, 1, 27.0, 26.0);
    let mut flock = Flock::new(FlockParams::default()).unwrap();
    for k in 0..40 {
        let at = Vec3::new(10.0 + (k % 8) as f32, 10.0 + (k / 8) as f32, 0.0);
        let appearance = Appearance {
            size_m: 0.2,
            shade: (k % 3) as u8,
        };
        flock.add(at, 0.1 * k as f32, appearance).unwrap();
    }
    let flock = world.add_flock("dunlins", flock).unwrap();
    for (role, radius_m, at) in [
        (ZoneRole::Pen, 18.0, Vec2::new(18.0, 18.0)),
        (ZoneRole::Lure, 3.0, Vec2::new(8.0, 30.0)),
        (ZoneRole::Scare, 3.0, Vec2::new(14.0, 8.0)),
    ] {
        let zone = Zone::new(role, Outline::Circle { radius_m }, at);
        let zone = world.add_zone(flock, zone).unwrap();
        if role == ZoneRole::Scare {
            world.carry_zone(flock, zone, yard).unwrap();
        }
    }
    assert_eq!(world.units().len(), UNITS as usize);
    world
}

fn point() -> impl Strategy<Value = Vec2> + Clone {
    let odd = prop_oneof![
        40 => -2.0_f32..42.0,
        1 => Just(f32::NAN),
        1 => Just(1e30_f32),
    ];
    (odd, -2.0_f32..42.0).prop_map(|(x, y)| Vec2::new(x, y))
}

fn unit() -> impl Strategy<Value = UnitId> + Clone {
    (0..UNITS + 3, 1_u32..3).prop_map(|(slot, generation)| {
        // Most are there; some have come since, and some never were.
        let generation = if slot % 5 == 0 { generation } else { 1 };
        UnitId::from_parts(slot, generation)
    })
}

fn spot() -> impl Strategy<Value = Spot> {
    prop_oneof![point().prop_map(Spot::Ground), unit().prop_map(Spot::Unit)]
}

/// A move that says how it ends; some make no sense.
fn finish() -> impl Strategy<Value = Action> {
    let facing = proptest::option::of(prop_oneof![9 => -7.0_f32..7.0, 1 => Just(f32::NAN)]);
    (point(), facing, -1.0_f32..9.0).prop_map(|(to, facing, within_m)| Action::Move {
        to,
        finish: Finish { facing, within_m },
    })
}

fn march() -> impl Strategy<Value = Action> {
    let form = (0..Form::WORDS.len()).prop_map(|k| Form::WORDS[k].1);
    let facing = proptest::option::of(-7.0_f32..7.0);
    let rest = (proptest::option::of(1_u16..9), any::<bool>(), any::<bool>());
    let slot = (-6.0_f32..6.0, -6.0_f32..6.0).prop_map(|(x, y)| Vec2::new(x, y));
    let shape = (form, proptest::collection::vec(slot, 0..4));
    (point(), shape, facing, rest).prop_map(|(to, (form, slots), facing, rest)| Action::March {
        to,
        formation: Formation {
            slots,
            form,
            facing,
            abreast: rest.0,
            slowest_leads: rest.1,
        },
        fight: rest.2,
    })
}

pub(crate) fn action() -> impl Strategy<Value = Action> {
    let points = proptest::collection::vec(point(), 0..4);
    prop_oneof![
        4 => point().prop_map(Action::move_to),
        4 => point().prop_map(|to| Action::AttackMove { to }),
        2 => (points, any::<bool>()).prop_map(|(points, round)| Action::Patrol { points, round }),
        4 => march(),
        3 => unit().prop_map(|target| Action::Attack { target }),
        2 => unit().prop_map(|target| Action::Fire { target }),
        2 => (unit(), 0.0_f32..4.0, proptest::option::of(-7.0_f32..7.0)).prop_map(
            |(target, stand_off_m, side)| Action::Approach { target, stand_off_m, side }
        ),
        2 => unit().prop_map(Action::follow),
        3 => spot().prop_map(|ward| Action::Guard { ward }),
        1 => finish(),
        1 => (unit(), -1.0_f32..9.0).prop_map(|(target, gap_m)| Action::Follow { target, gap_m }),
        1 => point().prop_map(|at| Action::AttackGround { at }),
        1 => (0_usize..4).prop_map(|k| Action::SetPosture { posture: Posture::WORDS[k].1 }),
        1 => Just(Action::Hold),
        1 => Just(Action::Stop),
        1 => (0_u32..60).prop_map(|order| Action::Cancel { order: OrderNo(order) }),
        1 => spot().prop_map(|to| Action::Rally { to }),
        2 => spot().prop_map(|at| Action::Context { at }),
        6 => work(),
    ]
}

/// Gathering, building and producing; half of it about what there is.
fn work() -> impl Strategy<Value = Action> {
    let pan = prop_oneof![Just(UnitId::from_parts(45, 1)), unit()];
    let yard = prop_oneof![Just(UnitId::from_parts(43, 1)), unit()];
    let kind = prop_oneof![
        4 => Just(KindId(8)), 1 => Just(KindId(6)), 4 => Just(KindId(0)), 1 => (0_u16..12).prop_map(KindId),
    ];
    prop_oneof![
        4 => pan.prop_map(|target| Action::Gather { target }),
        1 => yard.prop_map(|target| Action::Deliver { target }),
        3 => (kind.clone(), point(), -4.0_f32..4.0).prop_map(|(kind, at, facing)| Action::Build { kind, at, facing }),
        1 => unit().prop_map(|target| Action::Construct { target }),
        1 => Just(Action::CallOff),
        3 => kind.prop_map(|kind| Action::Produce { kind }),
        1 => (0_u16..4).prop_map(|place| Action::CancelProduction { place }),
    ]
}

fn command() -> impl Strategy<Value = Command> {
    let when = prop_oneof![Just(When::Now), Just(When::Afterwards), Just(When::First)];
    let some = proptest::collection::vec(unit(), 1..12);
    let many = Just((0..UNITS).map(|k| UnitId::from_parts(k, 1)).collect());
    let units = prop_oneof![3 => some, 1 => many];
    (0_u8..5, units, action(), when).prop_map(|(side, units, action, when)| Command {
        side: SideId(side),
        units,
        action,
        when,
    })
}

fn cells() -> impl Strategy<Value = Vec<Cell>> {
    let low = (-1_i32..40, -1_i32..40);
    (low, 0_i32..4, 0_i32..4).prop_map(|((x, y), w, h)| {
        let patch = Patch::between(Cell::new(x, y), Cell::new(x + w, y + h));
        patch.cells().collect()
    })
}

fn flock_change(world: &World) -> impl Strategy<Value = FlockChange> + use<> {
    let zones: Vec<_> = world.flock(FlockId(0)).unwrap().zones().collect();
    let ids: Vec<_> = zones.iter().map(|(id, _)| *id).collect();
    let members: Vec<_> = world
        .flock(FlockId(0))
        .unwrap()
        .members()
        .map(|m| m.id)
        .collect();
    let zone = proptest::sample::select(ids);
    let any_zone = (point(), 0.5_f32..6.0).prop_map(|(at, radius_m)| {
        let outline = Outline::Circle { radius_m };
        Zone::new(ZoneRole::Lure, outline, at)
    });
    let appearance = Appearance {
        size_m: 0.3,
        shade: 1,
    };
    let name = "[a-c]".prop_map(|name| FlockChange::Add {
        name,
        params: FlockParams::default(),
    });
    prop_oneof![
        name,
        Just(FlockChange::SetParams(FlockParams {
            cohesion: 0.9,
            ..FlockParams::default()
        })),
        (point(), -4.0_f32..4.0).prop_map(move |(at, heading)| FlockChange::AddMember {
            at: at.extend(0.0),
            heading,
            appearance,
        }),
        proptest::sample::select(members).prop_map(FlockChange::RemoveMember),
        any_zone.clone().prop_map(FlockChange::AddZone),
        (zone.clone(), any_zone).prop_map(|(id, zone)| FlockChange::SetZone(id, zone)),
        (zone.clone(), point()).prop_map(|(zone, at)| FlockChange::MoveZone {
            zone,
            at,
            facing: None
        }),
        (zone.clone(), any::<bool>()).prop_map(|(zone, on)| FlockChange::SwitchZone { zone, on }),
        zone.clone().prop_map(FlockChange::RemoveZone),
        (zone.clone(), unit()).prop_map(|(zone, unit)| FlockChange::CarryZone { zone, unit }),
        zone.prop_map(FlockChange::SetZoneDown),
    ]
}

/// What a game does to drills: mostly to those of the sidlers.
fn drill_change() -> impl Strategy<Value = Change> {
    let sidler =
        || prop_oneof![4 => (46_u32..48).prop_map(|slot| UnitId::from_parts(slot, 1)), 1 => unit()];
    let set_dial = (sidler(), 0_u8..3, 0_u16..3, 0.0_f32..10.0);
    prop_oneof![
        set_dial.prop_map(|(unit, drill, dial, value)| Change::SetDial {
            unit,
            drill,
            dial,
            value
        }),
        (0_u16..2, proptest::option::of(sidler()), -1.0_f32..2.0)
            .prop_map(|(sense, unit, value)| Change::SetSense { sense, unit, value }),
        (sidler(), 0_u8..3).prop_map(|(unit, drill)| Change::StepDone { unit, drill }),
    ]
}

/// Any change; commands most of the time.
pub(crate) fn change() -> impl Strategy<Value = Change> {
    let flock = flock_change(&world(1)).prop_map(|change| Change::Flock {
        flock: FlockId(0),
        change,
    });
    let spawn = (0_u16..11, 0_u8..5, point(), -4.0_f32..4.0);
    let points = prop_oneof![9 => 0.0_f32..30.0, 1 => Just(-1.0_f32), 1 => Just(f32::NAN)];
    let ticket = (1_u32..40).prop_map(|number| Ticket { side: None, number });
    prop_oneof![
        24 => command().prop_map(Change::Command),
        4 => spawn.prop_map(|(kind, side, at, facing)| Change::Spawn {
            kind: KindId(kind),
            side: SideId(side),
            at,
            facing,
        }),
        1 => unit().prop_map(|unit| Change::Remove { unit }),
        2 => (unit(), points.clone(), proptest::option::of(unit())).prop_map(|(unit, damage, by)| {
            Change::Harm { unit, damage, by }
        }),
        1 => (unit(), points.clone()).prop_map(|(unit, health)| Change::Heal { unit, health }),
        1 => (unit(), points).prop_map(|(unit, health)| Change::SetHealth { unit, health }),
        2 => (unit(), point(), proptest::option::of(-4.0_f32..4.0)).prop_map(
            |(unit, to, facing)| Change::Teleport { unit, to, facing }
        ),
        1 => (unit(), 0_u8..5).prop_map(|(unit, side)| Change::ChangeSide { unit, side: SideId(side) }),
        1 => (unit(), 0_u16..11).prop_map(|(unit, kind)| Change::ChangeKind { unit, kind: KindId(kind) }),
        3 => cells().prop_map(|cells| Change::Block { cells }),
        3 => cells().prop_map(|cells| Change::Unblock { cells }),
        2 => (0_u16..2, any::<bool>()).prop_map(|(door, shut)| Change::SetDoor { door: DoorId(door), shut }),
        1 => (cells(), 0_u8..5).prop_map(|(cells, terrain)| Change::SetTerrain { cells, terrain }),
        4 => flock,
        8 => (unit(), action()).prop_map(|(unit, action)| Change::Start { unit, action }),
        1 => (unit(), ticket).prop_map(|(unit, started)| Change::Stop { unit, started }),
        3 => drill_change(),
    ]
}

/// Changes for some ticks: none in most of them.
pub(crate) fn whims(ticks: usize) -> impl Strategy<Value = Vec<Vec<Change>>> {
    let none = Just(Vec::new());
    let some = proptest::collection::vec(change(), 1..4);
    proptest::collection::vec(prop_oneof![3 => none, 1 => some], ticks)
}
