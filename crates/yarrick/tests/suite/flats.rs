//! A piece of the saltmarsh to try orders on, with one of each who lives there.
#![allow(dead_code, reason = "each test uses a part of it")]

use crate::doors::Doors as _;
use yarrick::combat::Weapon;
use yarrick::world::{Failure, OrderNo, Posture, Rank, Refusal};
use yarrick::{
    Action, Command, Event, Ground, Kind, Outcome, Side, SideId, Spot, Terrain, UnitId, Vec2, When,
    World, WorldSetup,
};

pub(crate) const KEEPERS: SideId = SideId(0);
pub(crate) const TIDE: SideId = SideId(1);
/// Allies of the keepers, who let them command their units.
pub(crate) const REEDFOLK: SideId = SideId(2);
/// Allies of the keepers, who do not.
pub(crate) const DUNERS: SideId = SideId(3);
pub(crate) const NOBODY: SideId = SideId(4);

pub(crate) struct Flats {
    pub(crate) world: World,
    pub(crate) events: Vec<Event>,
}

fn weapon(range_m: f32, damage: f32, cooldown_s: f32) -> Weapon {
    Weapon {
        range_m,
        damage,
        cooldown_s,
        ..Weapon::PLAIN
    }
}

fn fighter(name: &str, radius_m: f32, speed: f32, health: f32, weapon: Weapon) -> Kind {
    Kind::walker(name, radius_m, speed)
        .with_health(health)
        .armed(weapon)
}

fn kinds() -> Vec<Kind> {
    let building = |rallies, kind: Kind| Kind {
        rank: Rank::Building,
        rallies,
        ..kind
    };
    vec![
        Kind {
            rank: Rank::Worker,
            ..Kind::walker("raker", 0.4, 1.6).with_health(30.0)
        },
        fighter("warden", 0.45, 2.0, 60.0, weapon(0.6, 6.0, 0.8)),
        fighter("slinger", 0.4, 1.8, 30.0, weapon(6.0, 3.0, 1.0)),
        fighter("nipper", 0.35, 2.6, 20.0, weapon(0.4, 2.0, 0.6)),
        fighter("hulk", 0.9, 0.8, 120.0, weapon(0.8, 12.0, 1.5)),
        // Nothing that it strikes is ever the worse for it.
        Kind::walker("pilferer", 0.35, 3.0).with_health(20.0),
        building(false, Kind::walker("sling tower", 0.8, 0.0)).armed(weapon(7.0, 4.0, 1.0)),
        building(true, Kind::walker("yard", 1.2, 0.0)),
        Kind {
            rank: Rank::Deposit,
            ..Kind::walker("pan", 0.9, 0.0).with_health(0.0)
        },
    ]
}

impl Flats {
    /// Open sand, so many metres a side.
    pub(crate) fn open(size: usize) -> Flats {
        let row = ".".repeat(size);
        Flats::of(&vec![row.as_str(); size])
    }

    /// Sand `.`, creeks `~` and dykes `#`.
    pub(crate) fn of(rows: &[&str]) -> Flats {
        let legend = [
            ('.', Terrain::open("sand")),
            ('~', Terrain::closed("creek")),
            ('#', Terrain::closed("dyke")),
        ];
        let mut sides = ["keepers", "tide", "reedfolk", "duners", "nobody"].map(Side::new);
        sides[2].shares_control_with = vec![KEEPERS];
        sides[3].allies = vec![KEEPERS];
        sides[4].neutral = true;
        let world = World::new(WorldSetup {
            sides: sides.to_vec(),
            kinds: kinds(),
            ..WorldSetup::on(Ground::from_rows(1.0, rows, &legend).unwrap())
        });
        Flats {
            world: world.unwrap(),
            events: Vec::new(),
        }
    }

    pub(crate) fn put(&mut self, kind: &str, side: SideId, x: f32, y: f32) -> UnitId {
        let kind = self.world.kind(kind).unwrap();
        self.world.put_in(kind, side, Vec2::new(x, y))
    }

    pub(crate) fn order(&mut self, units: &[UnitId], action: Action) {
        self.command(KEEPERS, units, action, When::Now);
    }

    /// A unit of the tide that answers no attacks.
    pub(crate) fn holds_still(&mut self, unit: UnitId) {
        let posture = Posture::Hold;
        self.command(TIDE, &[unit], Action::SetPosture { posture }, When::Now);
    }

    pub(crate) fn order_then(&mut self, units: &[UnitId], action: Action) {
        self.command(KEEPERS, units, action, When::Afterwards);
    }

    pub(crate) fn command(&mut self, side: SideId, units: &[UnitId], action: Action, when: When) {
        let units = units.to_vec();
        let command = Command {
            side,
            units,
            action,
            when,
        };
        self.world.submit(command).unwrap();
    }

    /// Steps for so many seconds, and gives what happened; all of it is kept in `events`.
    pub(crate) fn run(&mut self, seconds: f32) -> Vec<Event> {
        let from = self.events.len();
        for _ in 0..(seconds / self.world.tick_s()).round() as u32 {
            self.events.extend(self.world.step().to_vec());
        }
        self.events[from..].to_vec()
    }

    /// Steps until `done`, at most so many seconds; gives how many it took.
    pub(crate) fn run_until(&mut self, seconds: f32, mut done: impl FnMut(&World) -> bool) -> f32 {
        let ticks = (seconds / self.world.tick_s()).round() as u32;
        for tick in 0..ticks {
            if done(&self.world) {
                return tick as f32 * self.world.tick_s();
            }
            self.events.extend(self.world.step().to_vec());
        }
        panic!("not within {seconds} s");
    }

    pub(crate) fn at(&self, unit: UnitId) -> Vec2 {
        self.world.unit(unit).expect("it lives").position()
    }

    pub(crate) fn lives(&self, unit: UnitId) -> bool {
        self.world.unit(unit).is_some()
    }

    pub(crate) fn health(&self, unit: UnitId) -> f32 {
        self.world.unit(unit).map_or(0.0, |unit| unit.health())
    }

    /// The metres between the edge of a round body and that of another or of a building.
    pub(crate) fn gap(&self, a: UnitId, b: UnitId) -> f32 {
        let (a, b) = (self.world.unit(a).unwrap(), self.world.unit(b).unwrap());
        let from_middle = match b.block() {
            Some(block) => block.distance(a.position()),
            None => a.position().distance(b.position()) - b.radius(),
        };
        from_middle - a.radius()
    }

    /// How the orders of a unit have ended so far.
    pub(crate) fn outcomes(&self, of: UnitId) -> Vec<(u32, Outcome)> {
        let ended = self.events.iter().filter_map(|event| match event {
            Event::Ended {
                unit,
                order,
                outcome,
                ..
            } if *unit == of => Some((order.0, *outcome)),
            _ => None,
        });
        ended.collect()
    }
}

pub(crate) fn move_to(x: f32, y: f32) -> Action {
    let to = Vec2::new(x, y);
    Action::move_to(to)
}

pub(crate) fn attack_move(x: f32, y: f32) -> Action {
    let to = Vec2::new(x, y);
    Action::AttackMove { to }
}

pub(crate) fn patrol(points: &[(f32, f32)], round: bool) -> Action {
    let points = points.iter().map(|&point| point.into()).collect();
    Action::Patrol { points, round }
}

pub(crate) fn ground(x: f32, y: f32) -> Spot {
    Spot::Ground(Vec2::new(x, y))
}

pub(crate) fn failed(why: Failure) -> Outcome {
    Outcome::Failed { why }
}

pub(crate) fn cancel(order: u32) -> Action {
    let order = OrderNo(order);
    Action::Cancel { order }
}

pub(crate) fn refusals(events: &[Event]) -> Vec<Refusal> {
    let refused = events.iter().filter_map(|event| match event {
        Event::Refused { why, .. } => Some(*why),
        _ => None,
    });
    refused.collect()
}
