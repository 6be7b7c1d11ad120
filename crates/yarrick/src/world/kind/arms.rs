//! What a kind strikes with, and how far it looks for foes.

use super::Kind;
use super::property::{Access, Number, Property, Sort, Unit};
use crate::combat::Weapon;

/// A weapon as a table of scenario files.
const WEAPON: &[Number<Weapon>] = &[
    Number {
        key: "range",
        range: Unit::METRES.between(0.0, Weapon::MAX_RANGE_M),
        get: |weapon| Some(weapon.range_m.into()),
        set: |weapon, range| weapon.range_m = range as f32,
    },
    Number {
        key: "damage",
        range: Unit::POINTS.between(0.0, Weapon::MAX_DAMAGE),
        get: |weapon| Some(weapon.damage.into()),
        set: |weapon, damage| weapon.damage = damage as f32,
    },
    Number {
        key: "cooldown",
        range: Unit::SECONDS.between(Weapon::MIN_COOLDOWN_S, Weapon::MAX_COOLDOWN_S),
        get: |weapon| Some(weapon.cooldown_s.into()),
        set: |weapon, cooldown| weapon.cooldown_s = cooldown as f32,
    },
];

pub(super) const PROPERTIES: &[Property] = &[
    Property::new(
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
    ),
    Property::number(
        "how far it notices foes, from edge to edge",
        "its range and 5 m",
        Number {
            key: "notice",
            range: Unit::METRES.between(0.0, Kind::MAX_NOTICE_M),
            get: |kind| Some(kind.notice_m.into()),
            set: |kind, notice| kind.notice_m = notice as f32,
        },
    ),
];
