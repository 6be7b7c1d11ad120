//! What a side owns, and where it came from and went.

use super::{Missing, Price, ResourceId, Stores};
use serde::{Deserialize, Serialize};

/// The stores of a side, and the totals of all that went in and out since the start.
///
/// What it began with, plus what was handed in and refunded, minus what was spent and taken, is what it owns.
///
/// ```
/// use yarrick::economy::{Ledger, Price, ResourceId, Stores};
///
/// const SALT: ResourceId = ResourceId(0);
/// let mut ledger = Ledger::new(Stores::default());
/// ledger.hand_in(SALT, 20);
/// ledger.pay(&Price::of(&[(SALT, 12)]))?;
/// assert_eq!((ledger.owned().of(SALT), ledger.spent().of(SALT)), (8, 12));
/// assert!(ledger.pay(&Price::of(&[(SALT, 9)])).is_err());
/// # Ok::<(), yarrick::economy::Missing>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Ledger {
    owned: Stores,
    began_with: Stores,
    handed_in: Stores,
    spent: Stores,
    refunded: Stores,
    taken: Stores,
}

impl Ledger {
    /// A ledger that begins with some stores.
    #[must_use]
    pub fn new(stores: Stores) -> Ledger {
        Ledger {
            owned: stores.clone(),
            began_with: stores,
            ..Ledger::default()
        }
    }

    /// What the side owns now.
    #[must_use]
    pub fn owned(&self) -> &Stores {
        &self.owned
    }

    /// What it began with.
    #[must_use]
    pub fn began_with(&self) -> &Stores {
        &self.began_with
    }

    /// All that was handed in.
    #[must_use]
    pub fn handed_in(&self) -> &Stores {
        &self.handed_in
    }

    /// All that was paid.
    #[must_use]
    pub fn spent(&self) -> &Stores {
        &self.spent
    }

    /// All that was given back of that.
    #[must_use]
    pub fn refunded(&self) -> &Stores {
        &self.refunded
    }

    /// All that was taken from the side without a return.
    #[must_use]
    pub fn taken(&self) -> &Stores {
        &self.taken
    }

    /// Adds an amount that was gathered.
    ///
    /// # Panics
    /// If the resource is not below [`MAX_RESOURCES`](super::MAX_RESOURCES), here and below.
    pub fn hand_in(&mut self, resource: ResourceId, amount: u32) {
        self.owned.put_in(resource, amount);
        self.handed_in.put_in(resource, amount);
    }

    /// Pays a price, wholly or not at all.
    ///
    /// # Errors
    /// The first resource of which there is too little.
    pub fn pay(&mut self, price: &Price) -> Result<(), Missing> {
        self.owned.pay(price)?;
        self.spent.refund(price);
        Ok(())
    }

    /// Gives a price back that was paid.
    pub fn refund(&mut self, price: &Price) {
        self.owned.refund(price);
        self.refunded.refund(price);
    }

    /// Takes as much of a price as there is, without a return.
    pub fn take(&mut self, price: &Price) {
        for &(resource, amount) in price.amounts() {
            let taken = self.owned.take_out(resource, amount);
            self.taken.put_in(resource, taken);
        }
    }
}
