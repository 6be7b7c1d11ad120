//! Changes of a world, as short as tests want them.

use yarrick::ground::{Cell, DoorId};
use yarrick::world::{Change, Effect, Event, KindId, Ticket};
use yarrick::{Action, Command, SideId, UnitId, Vec2, When, World};

/// What tests do to worlds besides giving commands.
pub(crate) trait Doors {
    fn hand_in(&mut self, change: Change) -> Ticket;

    /// Puts a unit in, before or after the world has begun; after, that takes a tick.
    fn put_in(&mut self, kind: KindId, side: SideId, at: Vec2) -> UnitId;

    /// Orders a unit to do something now.
    fn order(&mut self, side: SideId, unit: UnitId, action: Action);

    fn remove(&mut self, unit: UnitId) {
        self.hand_in(Change::Remove { unit });
    }

    fn block(&mut self, cells: impl IntoIterator<Item = Cell>) {
        let cells = cells.into_iter().collect();
        self.hand_in(Change::Block { cells });
    }

    fn unblock(&mut self, cells: impl IntoIterator<Item = Cell>) {
        let cells = cells.into_iter().collect();
        self.hand_in(Change::Unblock { cells });
    }

    fn set_door(&mut self, door: DoorId, shut: bool) {
        self.hand_in(Change::SetDoor { door, shut });
    }
}

impl Doors for World {
    fn order(&mut self, side: SideId, unit: UnitId, action: Action) {
        let (units, when) = (vec![unit], When::Now);
        let command = Command {
            side,
            units,
            action,
            when,
        };
        self.submit(command).unwrap();
    }

    fn put_in(&mut self, kind: KindId, side: SideId, at: Vec2) -> UnitId {
        let facing = 0.0;
        if self.tick() == 0 {
            return self.spawn(kind, side, at, facing).unwrap();
        }
        let ticket = self.hand_in(Change::Spawn {
            kind,
            side,
            at,
            facing,
        });
        let mut answers = self.step().iter();
        let spawned = answers.find_map(|event| match event {
            Event::Changed {
                ticket: answered,
                effect: Effect::Spawned { unit },
            } if *answered == ticket => Some(*unit),
            _ => None,
        });
        spawned.expect("there is room")
    }

    fn hand_in(&mut self, change: Change) -> Ticket {
        self.change(change).unwrap()
    }
}
