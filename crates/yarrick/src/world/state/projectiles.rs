//! The table of projectiles in flight.

use super::handle::Handles;
use super::table::{Visitor, plain, table};
use crate::combat::Projectile;
use crate::geom::Vec2;
use crate::world::ids::{ProjectileId, SideId, UnitId};
use serde::{Deserialize, Serialize};

plain!(ProjectileId, Projectile);

table! {
    /// Every projectile in flight.
    table Projectiles of ProjectileRow by ProjectileId {
        /// The unit that fired it, which may be gone by now.
        by: UnitId,
        /// The side of that unit when it fired: it flies through friends.
        side: SideId,
        flight: Projectile,
        /// Where it was a tick ago, for smooth drawing.
        before: Vec2,
        /// What a hit takes from the health of its target, in points.
        damage: f32,
        /// Whether it ends at what blocks sight.
        low: bool,
    }
}

/// The most projectiles that are in flight in a world: beyond that, weapons wait.
pub const MAX_PROJECTILES: usize = 1 << 16;
