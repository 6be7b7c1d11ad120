//! Rooms below the world, tested alone: fighting.

mod target;
mod weapon;
