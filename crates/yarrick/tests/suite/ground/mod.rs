//! Rooms below the world, tested alone: the ground.

mod clear;
mod clearance;
mod height;
mod lattice;
mod sight;
