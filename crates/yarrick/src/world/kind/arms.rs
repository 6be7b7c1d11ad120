//! What a kind strikes with.

use super::Kind;
use super::property::{Access, Number, OfKind, OfWeapon, Property, Sort, Unit, number};
use crate::combat::{Flight, Preference, Turret, Weapon};
use core::f32::consts::TAU;

/// How much farther than its range the projectiles of a weapon fly, in metres, where a file does not say.
const USUAL_OVERSHOOT_M: f32 = 3.0;

/// The words for what a weapon prefers.
const PREFERENCES: [&str; 2] = [Preference::WORDS[0].0, Preference::WORDS[1].0];

/// A weapon as a table of scenario files.
pub(super) const WEAPON: &[Property<Weapon>] = &[
    OfWeapon::number(
        "how far it reaches, from the edge of the one body to that of the other",
        "",
        number!(
            "range",
            Unit::METRES.between(0.0, Weapon::MAX_RANGE_M),
            range_m
        ),
    )
    .needed(),
    OfWeapon::number(
        "what a hit takes from the health of its target",
        "",
        number!(
            "damage",
            Unit::POINTS.between(0.0, Weapon::MAX_DAMAGE),
            damage
        ),
    )
    .needed(),
    OfWeapon::number(
        "from one strike to the next",
        "",
        number!(
            "cooldown",
            Unit::SECONDS.between(Weapon::MIN_COOLDOWN_S, Weapon::MAX_COOLDOWN_S),
            cooldown_s
        ),
    )
    .needed(),
    OfWeapon::number(
        "the speed of its projectiles, which hit the first foe in their path",
        "no projectiles: it hits at once",
        Number {
            key: "flight_speed",
            range: Unit::METRES_A_SECOND.between(Flight::MIN_SPEED, Flight::MAX_SPEED),
            get: |weapon| Some(weapon.flight?.speed.into()),
            set: |weapon, speed| {
                let reach_m = weapon.range_m + USUAL_OVERSHOOT_M;
                weapon.flight = Some(Flight {
                    speed: speed as f32,
                    reach_m,
                });
            },
        },
    ),
    OfWeapon::number(
        "how far they fly, from the edge of the unit",
        "the range and 3 m",
        number!(
            "flight_reach",
            Unit::METRES.between(0.0, Flight::MAX_REACH_M),
            flight?.reach_m
        ),
    )
    .needing("a `flight_speed`"),
    OfWeapon::number(
        "how far from the target the arms may point for a strike; with 180 they strike in any direction",
        "10",
        Number {
            key: "aim_within",
            range: Unit::DEGREES.between(0.0, 180.0),
            get: |weapon| Some(f64::from(weapon.aim_within).to_degrees()),
            set: |weapon, degrees| weapon.aim_within = degrees.to_radians() as f32,
        },
    ),
    OfWeapon::new(
        "clear_line",
        "whether it strikes only where nothing that blocks sight is between; its projectiles end at what blocks sight",
        "`false`",
        Sort::Flag(Access {
            get: |weapon| weapon.clear_line,
            set: |weapon, clear_line| weapon.clear_line = clear_line,
        }),
    ),
    OfWeapon::number(
        "how fast the arms turn on the body",
        "they do not: the unit turns as a whole, a building all round",
        Number {
            key: "turret_rate",
            range: Unit::DEGREES_A_SECOND.between(0.0, 5729.0),
            get: |weapon| Some(f64::from(weapon.turret?.turn_rate).to_degrees()),
            set: |weapon, degrees| {
                weapon.turret = Some(Turret {
                    turn_rate: degrees.to_radians() as f32,
                    arc: TAU,
                });
            },
        },
    ),
    OfWeapon::number(
        "the sector in which they turn, half of it to either side of where the body faces",
        "360",
        Number {
            key: "turret_arc",
            range: Unit::DEGREES.between(0.0, 360.0),
            get: |weapon| Some(f64::from(weapon.turret?.arc).to_degrees()),
            set: |weapon, degrees| {
                if let Some(turret) = &mut weapon.turret {
                    turret.arc = degrees.to_radians() as f32;
                }
            },
        },
    )
    .needing("a `turret_rate`"),
    OfWeapon::new(
        "prefers",
        "which foe within range it takes; of the nearest, those that cannot strike back come last",
        "`\"nearest\"`",
        Sort::Word(
            Access {
                get: |weapon| weapon.prefers as usize,
                set: |weapon, at| {
                    let word = Preference::WORDS.get(at);
                    weapon.prefers = word.map_or_else(Preference::default, |(_, known)| *known);
                },
            },
            &PREFERENCES,
        ),
    ),
];

pub(super) const PROPERTIES: &[Property] = &[OfKind::new(
    "weapon",
    "what it strikes with: `{ range = 6, damage = 3, cooldown = 1 }` and [more](#weapon), or `false` to take away that of its base",
    "none",
    Sort::Weapon(
        Access {
            get: |kind| kind.weapon,
            set: Kind::set_weapon,
        },
        WEAPON,
    ),
)];
