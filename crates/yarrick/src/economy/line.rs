//! What a building is making.

use super::{Ledger, Missing, Price};
use serde::{Deserialize, Serialize};
use std::collections::VecDeque;

/// The most items that a production line holds, those under way included.
pub const MAX_IN_LINE: usize = 64;

/// An item in a production line. It is paid for.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct InProduction<Item> {
    /// What is made.
    pub item: Item,
    /// What was paid for it.
    pub price: Price,
    /// How long it takes, in ticks.
    pub takes: u32,
}

/// Why an item was not queued.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum NotQueued {
    /// The line holds as many as it can.
    #[error("the production queue is full ({0} items)")]
    Full(usize),
    /// The side cannot pay for it.
    #[error(transparent)]
    NotAffordable(#[from] Missing),
}

/// A queue of items that are made one after another. An item is paid for when it is queued; what is cancelled is
/// refunded. A finished item stays in front until it is taken out: while there is no room for a new unit, the line waits.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct ProductionLine<Item> {
    items: VecDeque<InProduction<Item>>,
    /// The ticks that the first has been worked on.
    done: u32,
    limit: u16,
}

impl<Item> Default for ProductionLine<Item> {
    /// A line of at most 5 items.
    fn default() -> ProductionLine<Item> {
        ProductionLine::with_limit(5)
    }
}

impl<Item> ProductionLine<Item> {
    /// An empty line that holds at most `limit` items, and never more than [`MAX_IN_LINE`].
    #[must_use]
    pub fn with_limit(limit: u16) -> ProductionLine<Item> {
        ProductionLine {
            items: VecDeque::new(),
            done: 0,
            limit: limit.min(MAX_IN_LINE as u16),
        }
    }

    /// The items in their order. The first is the one in work.
    pub fn items(&self) -> impl ExactSizeIterator<Item = &InProduction<Item>> {
        self.items.iter()
    }

    /// Queues an item that takes some ticks, and pays for it.
    ///
    /// # Errors
    /// [`NotQueued`]; nothing is paid then.
    pub fn queue(
        &mut self,
        item: Item,
        price: &Price,
        takes: u32,
        ledger: &mut Ledger,
    ) -> Result<(), NotQueued> {
        if self.items.len() >= usize::from(self.limit) {
            return Err(NotQueued::Full(self.items.len()));
        }
        ledger.pay(price)?;
        self.items.push_back(InProduction {
            item,
            price: price.clone(),
            takes,
        });
        Ok(())
    }

    /// Takes an item out by its place, from 0, and refunds what it cost. What was done for the first is lost with it.
    /// `None` if there is no such item.
    pub fn cancel(&mut self, place: usize, ledger: &mut Ledger) -> Option<Item> {
        let cancelled = self.items.remove(place)?;
        if place == 0 {
            self.done = 0;
        }
        ledger.refund(&cancelled.price);
        Some(cancelled.item)
    }

    /// Takes all items out and refunds them: the building is lost.
    pub fn cancel_all(&mut self, ledger: &mut Ledger) {
        while self.cancel(0, ledger).is_some() {}
    }

    /// Works on the first item for a tick, unless it is finished.
    pub fn advance(&mut self) {
        if let Some(first) = self.items.front() {
            self.done = self.done.saturating_add(1).min(first.takes);
        }
    }

    /// The first item, if it is finished.
    #[must_use]
    pub fn finished(&self) -> Option<&Item> {
        let first = self.items.front()?;
        (self.done >= first.takes).then_some(&first.item)
    }

    /// Takes the first item out, if it is finished: it has come into the world. The next is worked on.
    pub fn take_finished(&mut self) -> Option<Item> {
        self.finished()?;
        self.done = 0;
        self.items.pop_front().map(|finished| finished.item)
    }

    /// How much of the first item is done, from 0 to 1; `None` if there is none.
    #[must_use]
    pub fn progress(&self) -> Option<f32> {
        let first = self.items.front()?;
        Some(if first.takes == 0 {
            1.0
        } else {
            self.done as f32 / first.takes as f32
        })
    }
}
