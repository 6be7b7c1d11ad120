//! What a member sees of its like: the hot loop of a flock, four at a time.
//!
//! Lanes are only added, subtracted, multiplied, divided and compared, each rounded as a single number would be: the
//! bits are the same on every machine.

use super::{Cells, Manners};
use crate::geom::Vec3;
use core::ops::Range;
use wide::f32x4;

/// So many members are looked at side by side. Sums are kept apart by lane and added up at the end, always in the same
/// order.
pub(super) const LANES: usize = 4;

/// Nearer to each other than this, in square metres, two do not push each other any more.
const SAME_PLACE: f32 = 1e-8;

/// What a member sees of its like.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(super) struct Seen {
    /// How many.
    pub(super) count: f32,
    /// The sum of their velocities.
    pub(super) velocity: Vec3,
    /// The sum of the ways to them.
    pub(super) offset: Vec3,
    /// The sum of the directions away from those that are too near: of length 0.75 at half the spacing, and longer the
    /// nearer they are.
    pub(super) away: Vec3,
}

/// One who looks.
#[derive(Clone, Copy, Debug)]
pub(super) struct Eye {
    pub(super) at: Vec3,
    pub(super) velocity: Vec3,
    /// The direction in which it looks, of length 1.
    ahead: Vec3,
    sight: Sight,
}

/// How far all members of a flock see.
#[derive(Clone, Copy, Debug)]
pub(super) struct Sight {
    view_squared: f32,
    /// The square of the cosine of half the angle in which they see, with its sign.
    edge_of_view: f32,
    spacing_squared: f32,
    /// What makes of the sum of the ways from those that are too near a pull.
    push: f32,
}

impl Sight {
    pub(super) fn new(manners: &Manners) -> Sight {
        let half = manners.view_angle * 0.5;
        let edge = match half < core::f32::consts::PI {
            true => libm::cosf(half),
            // All round: below what any direction comes to, by rounding too.
            false => -2.0,
        };
        Sight {
            view_squared: manners.view_m * manners.view_m,
            edge_of_view: edge * edge.abs(),
            spacing_squared: manners.spacing_m * manners.spacing_m,
            push: 0.5 / manners.spacing_m,
        }
    }

    /// The eye of a member.
    pub(super) fn of(self, at: Vec3, velocity: Vec3) -> Eye {
        Eye {
            at,
            velocity,
            ahead: velocity.normalize_or(Vec3::X),
            sight: self,
        }
    }
}

impl Eye {
    /// Whether it sees one who is at a point: the plain form of what [`look`] does.
    pub(super) fn sees(&self, at: Vec3) -> bool {
        let offset = at - self.at;
        let square = offset.x * offset.x + offset.y * offset.y + offset.z * offset.z;
        let dot = offset.x * self.ahead.x + offset.y * self.ahead.y + offset.z * self.ahead.z;
        let is_ahead = dot * dot.abs() >= self.sight.edge_of_view * square;
        square <= self.sight.view_squared && is_ahead
    }
}

/// The numbers of the lanes.
const FIRST: f32x4 = f32x4::new([0.0, 1.0, 2.0, 3.0]);

/// What one sees of the members in some runs of slots, of which it is one itself. `AIR` is whether altitudes count.
///
/// The sums are variables of their own, not fields: so they stay in registers.
pub(super) fn look<const AIR: bool>(cells: &Cells, runs: &[Range<usize>], eye: &Eye) -> Seen {
    let [eye_x, eye_y, eye_z] = eye.at.to_array().map(f32x4::splat);
    let [ahead_x, ahead_y, ahead_z] = eye.ahead.to_array().map(f32x4::splat);
    let view_squared = f32x4::splat(eye.sight.view_squared);
    let edge_of_view = f32x4::splat(eye.sight.edge_of_view);
    let spacing_squared = f32x4::splat(eye.sight.spacing_squared);
    let mut count = f32x4::ZERO;
    let (mut along_x, mut along_y, mut along_z) = (f32x4::ZERO, f32x4::ZERO, f32x4::ZERO);
    let (mut to_x, mut to_y, mut to_z) = (f32x4::ZERO, f32x4::ZERO, f32x4::ZERO);
    let (mut off_x, mut off_y, mut off_z) = (f32x4::ZERO, f32x4::ZERO, f32x4::ZERO);
    for run in runs.iter().filter(|run| !run.is_empty()) {
        // The lists go on for some lanes beyond the last slot; the last lanes of a run belong to others.
        let slots = run.start..run.start + run.len().next_multiple_of(LANES);
        let lanes = |list| lanes(list, &slots);
        let mut left = f32x4::splat(run.len() as f32);
        let places = lanes(&cells.x).iter().zip(lanes(&cells.y));
        let velocities = lanes(&cells.vx).iter().zip(lanes(&cells.vy));
        // In the plane nobody asks for altitudes: other lists stand in for them.
        let third = match AIR {
            true => lanes(&cells.z).iter().zip(lanes(&cells.vz)),
            false => lanes(&cells.x).iter().zip(lanes(&cells.vx)),
        };
        for (((x, y), (vx, vy)), (z, vz)) in places.zip(velocities).zip(third) {
            let ours = FIRST.simd_lt(left);
            left -= f32x4::splat(LANES as f32);
            let (x, y) = (f32x4::new(*x) - eye_x, f32x4::new(*y) - eye_y);
            let z = f32x4::new(*z) - eye_z;
            let mut square = x * x + y * y;
            let mut dot = x * ahead_x + y * ahead_y;
            if AIR {
                square += z * z;
                dot += z * ahead_z;
            }
            // The squares with their signs, in place of a root.
            let is_ahead = (dot * dot.abs()).simd_ge(edge_of_view * square);
            let seen = square.simd_le(view_squared) & is_ahead & ours;
            // Longer the nearer, like 1 over the distance; zero from the spacing on.
            let near = spacing_squared / square.fast_max(f32x4::splat(SAME_PLACE)) - f32x4::ONE;
            let push = near.fast_max(f32x4::ZERO) & seen;
            count += f32x4::ONE & seen;
            along_x += f32x4::new(*vx) & seen;
            along_y += f32x4::new(*vy) & seen;
            to_x += x & seen;
            to_y += y & seen;
            off_x -= push * x;
            off_y -= push * y;
            if AIR {
                along_z += f32x4::new(*vz) & seen;
                to_z += z & seen;
                off_z -= push * z;
            }
        }
    }
    // It sees itself, where it is, and goes with itself: that is taken out.
    Seen {
        count: sum(count) - 1.0,
        velocity: Vec3::new(sum(along_x), sum(along_y), sum(along_z)) - eye.velocity,
        offset: Vec3::new(sum(to_x), sum(to_y), sum(to_z)),
        away: Vec3::new(sum(off_x), sum(off_y), sum(off_z)) * eye.sight.push,
    }
}

fn lanes<'a>(list: &'a [f32], slots: &Range<usize>) -> &'a [[f32; LANES]] {
    list[slots.clone()].as_chunks().0
}

fn sum(lanes: f32x4) -> f32 {
    lanes.to_array().iter().sum()
}
