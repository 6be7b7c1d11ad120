//! A piece of the saltmarsh with an economy: rakers, pans, a salthouse, a rack, a yard.
#![allow(dead_code, reason = "each test uses a part of it")]

use crate::doors::Doors as _;
use yarrick::economy::{Price, ResourceId, Rhythm, Stores};
use yarrick::world::{Cost, Depot, Holding, KindId, Producer, Rank, Work};
use yarrick::{
    Action, Command, Event, Ground, Kind, Side, SideId, Terrain, UnitId, Vec2, When, World,
    WorldSetup,
};

pub(crate) const KEEPERS: SideId = SideId(0);
pub(crate) const TIDE: SideId = SideId(1);
pub(crate) const SALT: ResourceId = ResourceId(0);
pub(crate) const REED: ResourceId = ResourceId(1);

pub(crate) const RAKER: KindId = KindId(0);
pub(crate) const PAN: KindId = KindId(1);
pub(crate) const SALTHOUSE: KindId = KindId(2);
pub(crate) const RACK: KindId = KindId(3);
pub(crate) const YARD: KindId = KindId(4);
pub(crate) const WARDEN: KindId = KindId(5);
pub(crate) const DYKE: KindId = KindId(6);
pub(crate) const BED: KindId = KindId(7);

fn costing(kind: Kind, salt: u32, time_s: f32) -> Kind {
    let price = Price::of(&[(SALT, salt)]);
    Kind {
        cost: Cost { price, time_s },
        ..kind
    }
}

fn deposit(name: &str, resource: ResourceId, amount: u32) -> Kind {
    Kind {
        rank: Rank::Deposit,
        holding: Some(Holding {
            amount,
            slots: 3,
            rhythm: Rhythm {
                strokes: 4,
                item_on: 3,
            },
            ..Holding::of(resource)
        }),
        ..Kind::walker(name, 0.9, 0.0).with_health(0.0)
    }
}

pub(crate) fn kinds() -> Vec<Kind> {
    let raker = Kind {
        rank: Rank::Worker,
        work: Some(Work {
            carries: 5,
            stroke_every_s: 0.2,
            look_on_m: 10.0,
            builds: vec![RACK, DYKE, YARD],
        }),
        ..Kind::walker("raker", 0.35, 2.0).with_health(30.0)
    };
    let producer = |kinds| Some(Producer { kinds, limit: 3 });
    let salthouse = Kind {
        depot: Some(Depot {
            entrance: Some(0.0),
        }),
        producer: producer(vec![RAKER]),
        rallies: true,
        ..Kind::building("salthouse", Vec2::new(4.0, 3.0))
    };
    let rack = Kind {
        depot: Some(Depot::default()),
        ..Kind::building("drying rack", Vec2::new(2.0, 1.0)).with_health(40.0)
    };
    let yard = Kind {
        producer: producer(vec![WARDEN, RAKER]),
        rallies: true,
        ..Kind::building("yard", Vec2::new(3.0, 3.0))
    };
    vec![
        costing(raker, 6, 2.0),
        deposit("pan", SALT, 40),
        salthouse,
        costing(rack, 10, 3.0),
        costing(yard, 15, 5.0),
        costing(Kind::walker("warden", 0.45, 2.0), 8, 3.0),
        costing(
            Kind::building("dyke", Vec2::splat(1.0)).with_health(0.0),
            1,
            0.5,
        ),
        deposit("reed bed", REED, 30),
    ]
}

pub(crate) struct Marsh {
    pub(crate) world: World,
    pub(crate) events: Vec<Event>,
}

impl Marsh {
    /// 30 by 30 m of sand, and some salt for the keepers.
    pub(crate) fn open(salt: u32) -> Marsh {
        Marsh::of(&[&".".repeat(30) as &str; 30], salt)
    }

    /// Sand `.` and dykes `#`.
    pub(crate) fn of(rows: &[&str], salt: u32) -> Marsh {
        Marsh::new(setup(rows, salt))
    }

    pub(crate) fn new(setup: WorldSetup) -> Marsh {
        Marsh {
            world: World::new(setup).unwrap(),
            events: Vec::new(),
        }
    }

    pub(crate) fn put(&mut self, kind: KindId, x: f32, y: f32) -> UnitId {
        let at = Vec2::new(x, y);
        self.world.spawn(kind, KEEPERS, at, 0.0).unwrap()
    }

    /// Puts a unit in after the world has begun, which takes a tick.
    pub(crate) fn put_later(&mut self, kind: KindId, x: f32, y: f32) -> UnitId {
        let unit = self.world.put_in(kind, KEEPERS, Vec2::new(x, y));
        self.events.extend(self.world.last_events().to_vec());
        unit
    }

    pub(crate) fn order(&mut self, units: &[UnitId], action: Action) {
        self.order_as(KEEPERS, units, action);
    }

    pub(crate) fn order_as(&mut self, side: SideId, units: &[UnitId], action: Action) {
        let units = units.to_vec();
        let when = When::Now;
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

    pub(crate) fn salt(&self) -> u64 {
        self.world.stores(KEEPERS).of(SALT)
    }

    /// How much of a resource there is: in deposits, on the way, owned, in the price of what is not finished yet, spent for
    /// good, and spilled. It never changes.
    pub(crate) fn all_of(&self, resource: ResourceId) -> u64 {
        let (mut all, world) = (0, &self.world);
        for unit in world.units() {
            let deposit = unit
                .deposit()
                .filter(|deposit| deposit.resource == resource);
            all += deposit.map_or(0, |deposit| u64::from(deposit.left));
            let load = unit.load().filter(|load| load.resource == resource);
            all += load.map_or(0, |load| u64::from(load.amount));
        }
        for side in 0..world.sides().len() as u8 {
            let ledger = world.ledger(SideId(side)).unwrap();
            let of = |stores: &Stores| stores.of(resource);
            all += of(ledger.owned()) + of(ledger.spent()) + of(ledger.taken());
            all -= of(ledger.refunded());
        }
        all + world.spilled().of(resource)
    }
}

pub(crate) fn setup(rows: &[&str], salt: u32) -> WorldSetup {
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    let mut stores = Stores::default();
    stores.put_in(SALT, salt);
    WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: kinds(),
        resources: vec!["salt".to_owned(), "reed".to_owned()],
        stores: vec![stores],
        ..WorldSetup::on(Ground::from_rows(1.0, rows, &legend).unwrap())
    }
}
