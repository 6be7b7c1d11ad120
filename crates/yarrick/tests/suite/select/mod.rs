//! Rooms below the world, tested alone: selections and groups.

mod groups;
mod selection;
