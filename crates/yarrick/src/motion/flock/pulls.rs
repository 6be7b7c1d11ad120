//! What pulls a member, part by part.

use super::heed::Seen;
use super::{Manners, ZoneId};
use crate::geom::{Vec2, Vec3};

/// What pulls a member: each a direction, no longer than the weight of its rule or zone. A pull of 1 changes the
/// velocity by [`Manners::eagerness`] metres a second within a second.
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
    /// The sum of what the three rules pull.
    pub(super) fn of_rules(&self) -> Vec3 {
        self.separation + self.alignment + self.cohesion
    }

    /// The sum of them all: what the member follows, as sharply as it can turn.
    #[must_use]
    pub fn sum(&self) -> Vec3 {
        let zones: Vec2 = self.zones.iter().map(|(_, pull)| *pull).sum();
        self.of_rules() + zones.extend(0.0)
    }
}

/// What the three rules pull one who sees so much; `row` tells apart those in one place.
pub(super) fn by_rules(seen: &Seen, (row, velocity): (u32, Vec3), manners: &Manners) -> Pulls {
    if seen.count < 0.5 {
        return Pulls::default();
    }
    let away = seen.away + apart(row);
    let change = seen.velocity / seen.count - velocity;
    let middle = seen.offset / seen.count;
    Pulls {
        separation: away.clamp_length_max(1.0) * manners.separation,
        alignment: (change / manners.speed.1).clamp_length_max(1.0) * manners.alignment,
        cohesion: (middle / manners.view_m).clamp_length_max(1.0) * manners.cohesion,
        zones: Vec::new(),
    }
}

/// Next to nothing, but different for each row: those in one place leave it in different directions.
fn apart(row: u32) -> Vec3 {
    const SLIGHT: f32 = 1e-3 / 32_768.0;
    let mixed = row.wrapping_mul(0x9e37_79b1);
    let part = |bits: u32| (bits & 0xffff) as f32 - 32_767.5;
    Vec3::new(part(mixed >> 16), part(mixed), 0.0) * SLIGHT
}
