//! Resources: prices and stores, deposits with their slots, loads, and production lines. Plain values.
//!
//! The types to know: [`Stores`] (an amount of each resource), [`Ledger`] (what a side owns, and where it went), [`Price`], [`Deposit`] (where a resource lies), [`Slots`] (who works
//! where) and [`ProductionLine`] (what a building is making).
//!
//! ```
//! use yarrick::economy::{Deposit, Ledger, Price, ProductionLine, ResourceId, Rhythm};
//!
//! const SALT: ResourceId = ResourceId(0);
//! let mut pan = Deposit { resource: SALT, left: 100 };
//! let mut ledger = Ledger::default();
//!
//! // An item on the third of every four strokes.
//! let (mut rhythm, mut load) = (Rhythm { strokes: 4, item_on: 3 }.begin(), 0);
//! for _ in 0..40 {
//!     if rhythm.stroke() {
//!         load += pan.take(1);
//!     }
//! }
//! ledger.hand_in(SALT, load);
//! assert_eq!((ledger.owned().of(SALT), pan.left), (10, 90));
//!
//! // A raker costs 6 and takes 60 ticks; there is salt for one.
//! let mut yard = ProductionLine::default();
//! let price = Price::of(&[(SALT, 6)]);
//! assert!(yard.queue("raker", &price, 60, &mut ledger).is_ok());
//! assert!(yard.queue("raker", &price, 60, &mut ledger).is_err());
//! for _ in 0..60 {
//!     yard.advance();
//! }
//! assert_eq!(yard.finished(), Some(&"raker"));
//! ```
//!
//! It knows no units: who works, who carries and where a new unit finds room is for the caller to say. Nothing is made or
//! lost here: what is taken from a deposit, put into stores, paid and refunded adds up.

mod deposit;
mod ledger;
mod line;
mod stores;

pub use deposit::{Deposit, Load, Rhythm, Slots, Strokes};
pub use ledger::Ledger;
pub use line::{InProduction, MAX_IN_LINE, NotQueued, ProductionLine};
pub use stores::{MAX_RESOURCES, Missing, Price, ResourceId, Stores};
