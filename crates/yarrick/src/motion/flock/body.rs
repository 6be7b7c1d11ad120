//! A member of a flock, as it lies in memory.

use crate::geom::{Vec2, Vec3};

/// A member: half a line of the cache.
#[derive(Clone, Copy, Debug, Default)]
#[repr(align(32))]
pub(super) struct Body {
    /// Where it is in the plane, and how it moves there: `[x, y, vx, vy]`.
    pub(super) flat: [f32; 4],
    /// Its altitude, and how it climbs: `[z, vz]`.
    pub(super) upright: [f32; 2],
    /// Its row in the flock.
    pub(super) row: u32,
    /// Its cell, when last sorted.
    pub(super) cell: u32,
}

impl Body {
    pub(super) fn new(at: Vec3, velocity: Vec3, row: u32) -> Body {
        Body {
            flat: [at.x, at.y, velocity.x, velocity.y],
            upright: [at.z, velocity.z],
            row,
            cell: 0,
        }
    }

    pub(super) fn at(&self) -> Vec3 {
        Vec3::new(self.flat[0], self.flat[1], self.upright[0])
    }

    pub(super) fn velocity(&self) -> Vec3 {
        Vec3::new(self.flat[2], self.flat[3], self.upright[1])
    }

    pub(super) fn flat_at(&self) -> Vec2 {
        Vec2::new(self.flat[0], self.flat[1])
    }
}
