//! What pulls a member, part by part.

use super::heed::Seen;
use super::lanes::{LANES, Vectors};
use super::{FlockParams, ZoneId};
use crate::geom::{Vec2, Vec3};
use wide::f32x4;

/// What pulls a member: each a direction, no longer than the weight of its rule or zone. A pull of 1 changes the
/// velocity by [`FlockParams::eagerness`] metres a second within a second.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Pulls {
    /// Away from those that are too near.
    pub separation: Vec3,
    /// To go where the others go.
    pub alignment: Vec3,
    /// To the middle of the others.
    pub cohesion: Vec3,
    /// Each zone of the flock: zero for those that are off, or do not reach it.
    pub zones: Vec<(ZoneId, Vec2)>,
}

impl Pulls {
    /// The sum of them all: what the member follows, as sharply as it can turn.
    #[must_use]
    pub fn sum(&self) -> Vec3 {
        let zones: Vec2 = self.zones.iter().map(|(_, pull)| *pull).sum();
        self.separation + self.alignment + self.cohesion + zones.extend(0.0)
    }
}

/// What the three rules pull four members.
#[derive(Clone, Copy, Debug)]
pub(super) struct RulePulls {
    pub(super) separation: Vectors,
    pub(super) alignment: Vectors,
    pub(super) cohesion: Vectors,
}

impl RulePulls {
    pub(super) fn sum(&self) -> Vectors {
        self.separation + self.alignment + self.cohesion
    }

    /// Those of the first of the four, without zones.
    pub(super) fn first(&self) -> Pulls {
        let first = |pulls: Vectors| pulls.each()[0];
        Pulls {
            separation: first(self.separation),
            alignment: first(self.alignment),
            cohesion: first(self.cohesion),
            zones: Vec::new(),
        }
    }
}

/// What the three rules pull those who see so much and move so; nothing, if they see nobody. The rows tell apart those
/// in one place.
pub(super) fn by_rules(
    seen: &Seen,
    (rows, velocity): ([u32; LANES], Vectors),
    params: &FlockParams,
) -> RulePulls {
    let one = f32x4::ONE;
    let sees_any = seen.count.simd_gt(f32x4::splat(0.5));
    let share = one / seen.count.fast_max(one);
    let weighed = |pull: Vectors, weight: f32| {
        let pull = pull.at_most_one() * f32x4::splat(weight);
        pull.or(sees_any, Vectors::default())
    };
    let change = seen.velocity * share - velocity;
    RulePulls {
        separation: weighed(seen.away + apart(rows), params.separation),
        alignment: weighed(
            change * f32x4::splat(1.0 / params.speed.1),
            params.alignment,
        ),
        cohesion: weighed(
            seen.offset * (share * f32x4::splat(1.0 / params.view_m)),
            params.cohesion,
        ),
    }
}

/// Next to nothing, but different for each row: those in one place leave it in different directions.
fn apart(rows: [u32; LANES]) -> Vectors {
    const SLIGHT: f32 = 1e-3 / 32_768.0;
    let part = |shift: u32| {
        let parts = rows.map(|row| {
            let mixed = row.wrapping_mul(0x9e37_79b1);
            (mixed >> shift & 0xffff) as f32 - 32_767.5
        });
        f32x4::new(parts) * f32x4::splat(SLIGHT)
    };
    Vectors {
        x: part(16),
        y: part(0),
        z: f32x4::ZERO,
    }
}
