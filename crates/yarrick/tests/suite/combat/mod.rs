//! Rooms below the world, tested alone: fighting.

mod projectile;
mod target;
mod weapon;
