//! What a kind strikes with.

use super::Kind;
use super::property::{Access, Number, Property, Sort, Unit, number};
use crate::combat::Weapon;

/// A weapon as a table of scenario files.
const WEAPON: &[Number<Weapon>] = &[
    number!(
        "range",
        Unit::METRES.between(0.0, Weapon::MAX_RANGE_M),
        range_m
    ),
    number!(
        "damage",
        Unit::POINTS.between(0.0, Weapon::MAX_DAMAGE),
        damage
    ),
    number!(
        "cooldown",
        Unit::SECONDS.between(Weapon::MIN_COOLDOWN_S, Weapon::MAX_COOLDOWN_S),
        cooldown_s
    ),
];

pub(super) const PROPERTIES: &[Property] = &[Property::new(
    "weapon",
    "what it strikes with: `{ range = 6, damage = 3, cooldown = 1 }`, or `false` to take away that of its base",
    "none",
    Sort::Weapon(
        Access {
            get: |kind| kind.weapon,
            set: Kind::set_weapon,
        },
        WEAPON,
    ),
)];
