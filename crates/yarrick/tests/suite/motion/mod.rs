//! Rooms below the world, tested alone: movement of bodies.

mod contact;
mod corner;
mod detour;
mod firm;
mod follow;
mod foresee;
mod places;
mod walls;
