//! Bodies that walk, as parallel lists.

use super::Turns;
use crate::geom::Vec2;

/// What is known of bodies that walk, as parallel lists.
#[derive(Clone, Copy, Debug)]
pub struct Walkers<'a> {
    /// Their middles, in metres.
    pub at: &'a [Vec2],
    /// How they moved in the tick before, in metres a second.
    pub velocity: &'a [Vec2],
    /// How they would walk were they alone, in metres a second; zero for a body that stands.
    pub wanted: &'a [Vec2],
    /// Longest step of each in a tick, in metres.
    pub limits: &'a [f32],
    /// Their radii in metres.
    pub radii: &'a [f32],
    /// The largest of the radii.
    pub widest: f32,
    /// The highest of the speeds in `wanted`.
    pub fastest: f32,
    /// Whose turn it is.
    pub turns: Turns<'a>,
    /// Whether each has come to where its group gathers.
    pub gather: &'a [bool],
    /// How far each walks before it changes its direction anyway, in metres: what stands beyond is not met.
    pub leg_m: &'a [f32],
    /// Whether each has not got on for a while.
    pub held_up: &'a [bool],
    /// The side of each.
    pub sides: &'a [u8],
    /// The length of a tick, in seconds.
    pub tick_s: f32,
    /// The groups in which not all have the same radius, in ascending order.
    pub of_many_sizes: &'a [u64],
    /// The velocity at which each wants to go on, in metres a second. It equals `wanted`, except for a body that is held up close
    /// to a corner of its path: for that it points along the path behind the corner.
    pub bound: &'a [Vec2],
    /// Whether each backs off already: those of its group behind it back as well. Empty where nobody does.
    pub backs: &'a [bool],
    /// Whether each is waiting. A body waits if its path is blocked, if another comes through a neck ahead of it, or if it is held up
    /// behind a waiting body. Others pass a waiting body like a standing one. Empty if no body is waiting.
    pub waiting: &'a [bool],
}
