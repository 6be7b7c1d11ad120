//! Weapons.

use yarrick::combat::Weapon;

#[test]
fn a_cooldown_is_whole_ticks_and_never_none() {
    let weapon = |cooldown_s| Weapon {
        range_m: 1.0,
        damage: 1.0,
        cooldown_s,
        ..Weapon::PLAIN
    };
    for (cooldown_s, ticks) in [(1.0, 20), (0.26, 5), (0.01, 1), (f32::NAN, 1)] {
        assert_eq!(
            weapon(cooldown_s).cooldown_ticks(20),
            ticks,
            "{cooldown_s} s"
        );
    }
}
