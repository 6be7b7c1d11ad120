//! Fighting: weapons, target choice, projectiles, damage.
//!
//! The types to know: [`Weapon`] (range, damage, cooldown), [`foremost_target`] (the choice of a target), [`lead`] (the
//! point to aim at), [`Projectile`] (its flight, and its hit) and [`Blow`] with [`deal`] (damage, and deaths).
//!
//! ```
//! use yarrick::combat::{Blow, deal};
//!
//! let mut health = [10.0, 6.0];
//! let blows = [
//!     Blow { by: 0, target: 1, damage: 4.0 },
//!     Blow { by: 1, target: 0, damage: 3.0 },
//!     Blow { by: 0, target: 1, damage: 4.0 },
//! ];
//! let fallen = deal(&blows, &mut health);
//! assert_eq!(health, [7.0, 0.0]);
//! assert_eq!((fallen[0].who, fallen[0].by), (1, 0));
//! ```
//!
//! It knows nothing of sides and orders: the caller decides what may be struck.

mod blow;
mod lead;
mod projectile;
mod target;
mod weapon;

pub use blow::{Blow, Fallen, deal};
pub use lead::lead;
pub use projectile::{Flight, Flown, Projectile};
pub use target::foremost_target;
pub use weapon::{Preference, Turret, Weapon};
