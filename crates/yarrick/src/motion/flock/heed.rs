//! What members see of their like: the hot loop of a flock, for four at a time.

use super::FlockParams;
use super::body::Body;
use super::lanes::{Moving, Vectors};
use crate::geom::Vec3;
use core::ops::Range;
use wide::f32x4;

/// Nearer to each other than this, in square metres, two do not push each other any more.
const SAME_PLACE: f32 = 1e-8;

/// What members see of their like.
#[derive(Clone, Copy, Debug)]
pub(super) struct Seen {
    /// How many.
    pub(super) count: f32x4,
    /// The sum of their velocities.
    pub(super) velocity: Vectors,
    /// The sum of the ways to them.
    pub(super) offset: Vectors,
    /// The sum of the directions away from those that are too near: of length 0.75 at half the spacing, and longer the
    /// nearer they are.
    pub(super) away: Vectors,
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
    pub(super) fn new(params: &FlockParams) -> Sight {
        let half = params.view_angle * 0.5;
        let edge = if half < core::f32::consts::PI {
            libm::cosf(half)
        } else {
            // All round: less than the cosine of any angle, even after rounding.
            -2.0
        };
        Sight {
            view_squared: params.view_m * params.view_m,
            edge_of_view: edge * edge.abs(),
            spacing_squared: params.spacing_m * params.spacing_m,
            push: 0.5 / params.spacing_m,
        }
    }

    /// Whether one sees one who is at a point: the plain form of what [`look`] does.
    pub(super) fn sees(&self, eye: &Body, at: Vec3) -> bool {
        let ahead = Vectors::splat(eye.velocity()).directions_or(Vectors::splat(Vec3::X));
        let offset = Vectors::splat(at) - Vectors::splat(eye.at());
        let (square, dot) = (offset.dot(offset), offset.dot(ahead));
        self.mask(square, dot).any()
    }

    /// Which of those are seen that are so far off, as a square, and so far ahead.
    #[inline(always)]
    fn mask(&self, square: f32x4, ahead: f32x4) -> f32x4 {
        // The squares with their signs, in place of a root.
        let is_ahead = (ahead * ahead.abs()).simd_ge(f32x4::splat(self.edge_of_view) * square);
        square.simd_le(f32x4::splat(self.view_squared)) & is_ahead
    }
}

/// What four see of the members in some runs of slots, of which each is one itself. `AIR` is whether altitudes count.
///
/// Each lane adds up what it sees in the order of the slots: whoever looks round with it, and whoever else is in the
/// runs, its sums are the same. They are variables of their own, not fields: so they stay in registers.
pub(super) fn look<const AIR: bool>(
    bodies: &[Body],
    runs: &[Range<usize>],
    eyes: &Moving,
    sight: &Sight,
) -> Seen {
    let (eye, ahead) = (
        eyes.at,
        eyes.velocity.directions_or(Vectors::splat(Vec3::X)),
    );
    let spacing_squared = f32x4::splat(sight.spacing_squared);
    let mut count = f32x4::ZERO;
    let (mut along_x, mut along_y, mut along_z) = (f32x4::ZERO, f32x4::ZERO, f32x4::ZERO);
    let (mut to_x, mut to_y, mut to_z) = (f32x4::ZERO, f32x4::ZERO, f32x4::ZERO);
    let (mut near_x, mut near_y, mut near_z) = (f32x4::ZERO, f32x4::ZERO, f32x4::ZERO);
    for run in runs.iter().filter(|run| !run.is_empty()) {
        for other in &bodies[run.clone()] {
            let [x, y, vx, vy] = other.flat.map(f32x4::splat);
            let [z, vz] = other.upright.map(f32x4::splat);
            let (x, y, z) = (x - eye.x, y - eye.y, z - eye.z);
            let mut square = x * x + y * y;
            let mut dot = x * ahead.x + y * ahead.y;
            if AIR {
                square += z * z;
                dot += z * ahead.z;
            }
            let seen = sight.mask(square, dot);
            // Above 1 within the spacing, and longer the nearer, like 1 over the distance; 1 beyond it.
            let near = spacing_squared / square.fast_max(f32x4::splat(SAME_PLACE));
            let near = near.fast_max(f32x4::ONE);
            let (x, y, z) = (x & seen, y & seen, z & seen);
            count += f32x4::ONE & seen;
            along_x += vx & seen;
            along_y += vy & seen;
            to_x += x;
            to_y += y;
            near_x += near * x;
            near_y += near * y;
            if AIR {
                along_z += vz & seen;
                to_z += z;
                near_z += near * z;
            }
        }
    }
    let vectors = |x, y, z| Vectors { x, y, z };
    let offset = vectors(to_x, to_y, to_z);
    // It sees itself, where it is, and goes with itself: that is taken out. Those beyond the spacing are in both sums
    // of ways alike, so that nothing is left of them.
    Seen {
        count: count - f32x4::ONE,
        velocity: vectors(along_x, along_y, along_z) - eyes.velocity,
        offset,
        away: (offset - vectors(near_x, near_y, near_z)) * f32x4::splat(sight.push),
    }
}
