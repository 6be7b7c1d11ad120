//! The state of work: what lies in deposits and who works there, what is carried, what is produced and built.

use super::State;
use crate::economy::{Deposit, Load, Price, ProductionLine, Slots};
use crate::world::ids::UnitId;
use crate::world::kind::KindId;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// A deposit, and who works there.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(crate) struct Worked {
    pub(crate) deposit: Deposit,
    pub(crate) slots: Slots<UnitId>,
}

/// What a building produces.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(crate) struct Production {
    pub(crate) line: ProductionLine<KindId>,
    /// Whether what is finished found no room yet.
    pub(crate) is_held_up: bool,
}

/// A building that does not stand yet.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(crate) struct Construction {
    /// What was paid for it.
    pub(crate) price: Price,
    /// The ticks of work that were done, and that it takes.
    pub(crate) done: u32,
    pub(crate) takes: u32,
    /// Whether work has begun: then it closes the ground.
    pub(crate) has_begun: bool,
}

impl State {
    /// Forgets what the game has set for a unit that leaves.
    pub(crate) fn forget_senses(&mut self, unit: UnitId) {
        for sense in 0..self.rules.own_words.0 {
            self.own_senses.remove((sense, Some(unit)));
        }
    }

    /// Whether the unit in a row stands: buildings under construction do nothing yet.
    pub(crate) fn is_complete(&self, row: usize) -> bool {
        self.constructions.get(self.units.id[row]).is_none()
    }

    /// Whether the unit in a row closes the ground under it.
    pub(crate) fn closes_ground(&self, row: usize) -> bool {
        let construction = self.constructions.get(self.units.id[row]);
        self.kind_of(row).closes_ground()
            && construction.is_none_or(|construction| construction.has_begun)
    }

    /// Sets up what a unit that has come into the world has in the economy.
    pub(crate) fn begin_work(&mut self, unit: UnitId) {
        let Some(row) = self.units.row(unit) else {
            return;
        };
        let kind = self.kind_of(row);
        let worked = kind.holding.map(|holding| Worked {
            deposit: Deposit {
                resource: holding.resource,
                left: holding.amount,
            },
            slots: Slots::new(holding.slots),
        });
        let production = kind.producer.as_ref().map(|producer| Production {
            line: ProductionLine::with_limit(producer.limit),
            is_held_up: false,
        });
        if let Some(worked) = worked {
            self.deposits.set(unit, worked);
        }
        if let Some(production) = production {
            self.productions.set(unit, production);
        }
        self.file_building(unit);
    }

    /// Clears away what a unit that leaves had in the economy: what was paid for and is not finished is refunded, what it
    /// carries is spilled. A building that was under construction gives back what it cost only if it was `cancelled`.
    pub(crate) fn end_work(&mut self, unit: UnitId, cancelled: bool) -> Option<Load> {
        let side = self.units.row(unit).map(|row| self.units.side[row]);
        let ledger = side.and_then(|side| self.ledgers.get_mut(usize::from(side.0)));
        if let (Some(mut production), Some(ledger)) = (self.productions.remove(unit), ledger) {
            production.line.cancel_all(ledger);
        }
        let ledger = side.and_then(|side| self.ledgers.get_mut(usize::from(side.0)));
        if let (Some(construction), Some(ledger)) = (self.constructions.remove(unit), ledger)
            && cancelled
        {
            ledger.refund(&construction.price);
        }
        if let Some(worked) = self.deposits.remove(unit) {
            // What lies in a deposit that leaves the world is out of it.
            let Deposit { resource, left } = worked.deposit;
            self.spilled.put_in(resource, left);
        }
        file(&mut self.derived.buildings, unit, false);
        file(&mut self.derived.depots, unit, false);
        let load = self.loads.remove(unit);
        if let Some(load) = load {
            self.spilled.put_in(load.resource, load.amount);
        }
        load
    }

    /// Puts right what a unit has in the economy when it has become another kind: it keeps what that kind has, too.
    pub(crate) fn rework(&mut self, unit: UnitId) {
        let Some(row) = self.units.row(unit) else {
            return;
        };
        let kind = self.kind_of(row).clone();
        if kind.carries() == 0
            && let Some(load) = self.loads.remove(unit)
        {
            self.spilled.put_in(load.resource, load.amount);
        }
        let resource = kind.holding.map(|holding| holding.resource);
        let held = self.deposits.get(unit).map(|worked| worked.deposit);
        if let Some(held) = held.filter(|held| resource != Some(held.resource)) {
            self.deposits.remove(unit);
            self.spilled.put_in(held.resource, held.left);
        }
        let side = usize::from(self.units.side[row].0);
        if kind.producer.is_none()
            && let (Some(mut production), Some(ledger)) =
                (self.productions.remove(unit), self.ledgers.get_mut(side))
        {
            production.line.cancel_all(ledger);
        }
        if self.deposits.get(unit).is_some() || self.productions.get(unit).is_some() {
            self.file_building(unit);
        } else {
            self.begin_work(unit);
        }
    }

    /// Whether the side of the unit in a row has a depot.
    pub(crate) fn has_depot(&self, row: usize) -> bool {
        let side = self.units.side[row];
        let mut rows = self
            .derived
            .depots
            .iter()
            .filter_map(|depot| self.units.row(*depot));
        rows.any(|depot| self.units.side[depot] == side)
    }

    /// Files all places on the rims of units anew, after loading.
    pub(crate) fn file_berths(&mut self) {
        for row in 0..self.units.len() {
            self.file_berth(row);
        }
    }

    /// Notes the place that a unit has taken on the rim of another.
    pub(crate) fn file_berth(&mut self, row: usize) {
        if let Some(berth) = self.units.berth[row] {
            let unit = self.units.id[row];
            self.derived
                .berths
                .entry(berth.target)
                .or_default()
                .push(unit);
        }
    }

    /// Files all buildings anew, after loading.
    pub(crate) fn file_buildings(&mut self) {
        for row in 0..self.units.len() {
            self.file_building(self.units.id[row]);
        }
    }

    /// Files a unit among the buildings and the depots, if it is one; else takes it out.
    pub(crate) fn file_building(&mut self, unit: UnitId) {
        let row = self.units.row(unit);
        let is_building = row.is_some_and(|row| self.kind_of(row).closes_ground());
        let is_depot =
            row.is_some_and(|row| self.kind_of(row).depot.is_some() && self.is_complete(row));
        file(&mut self.derived.buildings, unit, is_building);
        file(&mut self.derived.depots, unit, is_depot);
    }
}

fn file(set: &mut BTreeSet<UnitId>, unit: UnitId, belongs: bool) {
    if belongs {
        set.insert(unit);
    } else {
        set.remove(&unit);
    }
}
