//! Fighting: weapons, target choice, projectiles, damage.
//!
//! The types to know: [`Weapon`] (how far, how hard, how often), [`foremost_target`] (whom to strike), [`lead`] (where to
//! aim), [`Projectile`] (what flies, and what it hits) and [`Blow`] with [`deal`] (what comes of it).
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
