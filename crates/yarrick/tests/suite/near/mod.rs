//! Rooms below the world, tested alone: what is near.

mod claims;
mod grid;
