//! Rooms below the world, tested alone: shapes and angles.

mod angle;
mod block;
mod hexagon;
mod outline;
mod shape;
mod sweep;
