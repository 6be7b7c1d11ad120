//! Context orders of kinds that cannot carry out every order.

use yarrick::Kind;
use yarrick::combat::Weapon;
use yarrick::world::{Aspect, ContextRule, ContextRules, Verb};

#[test]
fn whoever_cannot_move_is_never_walked_whatever_the_rules_say() {
    let rules = ContextRules::default().after(Aspect::WORDS.map(|(_, on)| ContextRule {
        on,
        who: None,
        verb: Verb::Move,
    }));
    let yard = Kind {
        rallies: true,
        ..Kind::walker("yard", 1.0, 0.0)
    };
    let sling = Weapon {
        range_m: 1.0,
        damage: 1.0,
        cooldown_s: 1.0,
        ..Weapon::PLAIN
    };
    let tower = Kind::walker("sling tower", 1.0, 0.0).armed(sling);
    for (_, on) in Aspect::WORDS {
        assert_eq!(rules.verb(on, &yard), Verb::Rally);
        let strikes = if on == Aspect::Foe {
            Verb::Attack
        } else {
            Verb::Nothing
        };
        assert_eq!(rules.verb(on, &tower), strikes);
        assert_eq!(rules.verb(on, &Kind::walker("raker", 0.4, 1.0)), Verb::Move);
    }
}
