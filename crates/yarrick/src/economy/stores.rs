//! Prices, and stores that pay them.

use serde::{Deserialize, Serialize};

/// The most resources that a game has.
pub const MAX_RESOURCES: usize = 16;

/// Names a resource, by its place in the game's list; below [`MAX_RESOURCES`].
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(try_from = "u8")]
pub struct ResourceId(pub u8);

impl TryFrom<u8> for ResourceId {
    type Error = &'static str;

    fn try_from(number: u8) -> Result<ResourceId, &'static str> {
        if usize::from(number) < MAX_RESOURCES {
            Ok(ResourceId(number))
        } else {
            Err("a resource that no game has")
        }
    }
}

/// What something costs: an amount of each of some resources.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Price(Vec<(ResourceId, u32)>);

impl Price {
    /// A price of some amounts. Those of the same resource are added up, at most to `u32::MAX`; nothing costs nothing.
    #[must_use]
    pub fn of(amounts: &[(ResourceId, u32)]) -> Price {
        let mut price = Price::default();
        for (resource, amount) in amounts.iter().filter(|(_, amount)| *amount > 0) {
            match price.0.binary_search_by_key(resource, |(known, _)| *known) {
                Ok(at) => price.0[at].1 = price.0[at].1.saturating_add(*amount),
                Err(at) => price.0.insert(at, (*resource, *amount)),
            }
        }
        price
    }

    /// The amounts, in the order of the resources, each of them once and above 0.
    #[must_use]
    pub fn amounts(&self) -> &[(ResourceId, u32)] {
        &self.0
    }
}

/// A resource of which there is too little.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
#[error("{amount} of resource {} are missing", resource.0)]
pub struct Missing {
    /// The resource.
    pub resource: ResourceId,
    /// How much more of it is needed.
    pub amount: u64,
}

/// What a side owns of each resource.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Stores([u64; MAX_RESOURCES]);

impl Stores {
    /// The amount of a resource; `0` for an id that is not below [`MAX_RESOURCES`].
    #[must_use]
    pub fn of(&self, resource: ResourceId) -> u64 {
        self.0.get(usize::from(resource.0)).copied().unwrap_or(0)
    }

    /// Adds an amount of a resource.
    ///
    /// # Panics
    /// If the resource is not below [`MAX_RESOURCES`].
    pub fn put_in(&mut self, resource: ResourceId, amount: u32) {
        let known = &mut self.0[usize::from(resource.0)];
        *known = known.saturating_add(amount.into());
    }

    /// Takes out an amount of a resource, or as much as there is. Gives how much that was.
    ///
    /// # Panics
    /// If the resource is not below [`MAX_RESOURCES`].
    pub fn take_out(&mut self, resource: ResourceId, amount: u32) -> u32 {
        let known = &mut self.0[usize::from(resource.0)];
        let taken = (*known).min(amount.into());
        *known -= taken;
        taken as u32
    }

    /// All that is missing for a price, in the order of the resources.
    pub fn missing_for<'a>(&'a self, price: &'a Price) -> impl Iterator<Item = Missing> + 'a {
        price.amounts().iter().filter_map(|&(resource, amount)| {
            let amount = u64::from(amount).checked_sub(self.of(resource))?;
            (amount > 0).then_some(Missing { resource, amount })
        })
    }

    /// Pays a price, wholly or not at all.
    ///
    /// # Errors
    /// The first resource of which there is too little.
    pub fn pay(&mut self, price: &Price) -> Result<(), Missing> {
        if let Some(missing) = self.missing_for(price).next() {
            return Err(missing);
        }
        for (resource, amount) in price.amounts() {
            self.0[usize::from(resource.0)] -= u64::from(*amount);
        }
        Ok(())
    }

    /// Gives a price back that was paid.
    ///
    /// # Panics
    /// If the price has a resource that is not below [`MAX_RESOURCES`].
    pub fn refund(&mut self, price: &Price) {
        for (resource, amount) in price.amounts() {
            self.put_in(*resource, *amount);
        }
    }
}
