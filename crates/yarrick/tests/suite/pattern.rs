//! Maps made of patterns.

use yarrick::ground::ClearanceMap;
use yarrick::scenario::Pattern;

#[test]
fn patterns_of_any_size_can_be_made_and_repeat() {
    for (_, pattern) in Pattern::WORDS {
        for side in [0, 1, 2, 3, 4, 5, 17, 40, 100] {
            assert_eq!(pattern.ground(side, 3), pattern.ground(side, 3));
        }
        let ground = pattern.ground(100, 3);
        let clearance = ClearanceMap::new(&ground, 0.4);
        let cells = ground.whole().cells();
        let open = cells.filter(|cell| clearance.is_open(*cell)).count();
        assert!((3_000..10_000).contains(&open), "{pattern:?}: {open}");
    }
}
