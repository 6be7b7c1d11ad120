//! Four members side by side: their places, velocities and pulls by lane.
//!
//! Lanes are only added, subtracted, multiplied, divided, compared and rooted, each rounded as a single number would
//! be: the bits are the same on every machine, and whoever is in the other lanes.

use crate::geom::Vec3;
use core::ops::{Add, Mul, Sub};
use wide::f32x4;

/// So many members are looked after side by side.
pub(super) const LANES: usize = 4;

/// A vector for each lane. In the plane `z` is zero.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Vectors {
    pub(super) x: f32x4,
    pub(super) y: f32x4,
    pub(super) z: f32x4,
}

impl Vectors {
    pub(super) fn splat(vector: Vec3) -> Vectors {
        let [x, y, z] = vector.to_array().map(f32x4::splat);
        Vectors { x, y, z }
    }

    /// One for each lane.
    pub(super) fn of(vectors: [Vec3; LANES]) -> Vectors {
        Vectors {
            x: f32x4::new(vectors.map(|vector| vector.x)),
            y: f32x4::new(vectors.map(|vector| vector.y)),
            z: f32x4::new(vectors.map(|vector| vector.z)),
        }
    }

    /// The vector of each lane.
    pub(super) fn each(self) -> [Vec3; LANES] {
        let (x, y, z) = (self.x.to_array(), self.y.to_array(), self.z.to_array());
        core::array::from_fn(|lane| Vec3::new(x[lane], y[lane], z[lane]))
    }

    pub(super) fn dot(self, other: Vectors) -> f32x4 {
        self.x * other.x + self.y * other.y + self.z * other.z
    }

    pub(super) fn length(self) -> f32x4 {
        self.dot(self).sqrt()
    }

    /// These where the mask is set, the others elsewhere.
    pub(super) fn or(self, mask: f32x4, others: Vectors) -> Vectors {
        Vectors {
            x: mask.bitselect(self.x, others.x),
            y: mask.bitselect(self.y, others.y),
            z: mask.bitselect(self.z, others.z),
        }
    }

    /// Those that are longer than 1 made as long as that.
    pub(super) fn at_most_one(self) -> Vectors {
        let square = self.dot(self);
        let are_short = square.simd_le(f32x4::ONE);
        self * are_short.bitselect(f32x4::ONE, f32x4::ONE / square.sqrt())
    }

    /// Their directions, of length 1; others where there is none.
    pub(super) fn directions_or(self, others: Vectors) -> Vectors {
        let length = self.length();
        let has_one = length.simd_gt(f32x4::ZERO);
        (self * (f32x4::ONE / length)).or(has_one, others)
    }

    /// What of them lies in the plane.
    pub(super) fn flat(self) -> Vectors {
        Vectors {
            z: f32x4::ZERO,
            ..self
        }
    }

    /// Turned anticlockwise in the plane, by angles with these cosines and sines.
    pub(super) fn turned(self, cos: f32x4, sin: f32x4) -> Vectors {
        Vectors {
            x: self.x * cos - self.y * sin,
            y: self.y * cos + self.x * sin,
            z: self.z,
        }
    }
}

/// Where members are, and how they move.
#[derive(Clone, Copy, Debug)]
pub(super) struct Moving {
    pub(super) at: Vectors,
    pub(super) velocity: Vectors,
}

impl Add for Vectors {
    type Output = Vectors;

    fn add(self, other: Vectors) -> Vectors {
        Vectors {
            x: self.x + other.x,
            y: self.y + other.y,
            z: self.z + other.z,
        }
    }
}

impl Sub for Vectors {
    type Output = Vectors;

    fn sub(self, other: Vectors) -> Vectors {
        Vectors {
            x: self.x - other.x,
            y: self.y - other.y,
            z: self.z - other.z,
        }
    }
}

impl Mul<f32x4> for Vectors {
    type Output = Vectors;

    fn mul(self, by: f32x4) -> Vectors {
        Vectors {
            x: self.x * by,
            y: self.y * by,
            z: self.z * by,
        }
    }
}
