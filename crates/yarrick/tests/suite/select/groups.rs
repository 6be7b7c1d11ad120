//! Control groups.

use yarrick::select::{Groups, NoSuchGroup};

#[test]
fn a_group_recalled_twice_at_once_asks_to_be_shown() {
    let mut groups = Groups::default();
    groups.set(3, [7, 8]).unwrap();
    groups.add(3, [9, 7]).unwrap();
    assert_eq!(groups.recall(3, 1.0).unwrap(), (&[7, 8, 9][..], false));
    assert!(groups.recall(3, 1.2).unwrap().1);
    assert!(
        !groups.recall(3, 1.3).unwrap().1,
        "the third is a first one again"
    );
    assert!(!groups.recall(3, 9.0).unwrap().1, "too late");
    groups.recall(4, 9.1).unwrap();
    assert!(!groups.recall(3, 9.2).unwrap().1, "another came between");
    assert!(!groups.recall(3, f64::NAN).unwrap().1);
}

#[test]
fn groups_lose_their_dead_and_have_numbers_from_0_to_9() {
    let mut groups = Groups::default();
    groups.set(0, [1, 2]).unwrap();
    groups.set(9, [2, 3]).unwrap();
    groups.retain(|id| id != 2);
    assert_eq!((groups.members(0), groups.members(9)), (&[1][..], &[3][..]));
    assert_eq!(groups.set(10, [1]), Err(NoSuchGroup(10)));
    assert!(groups.members(10).is_empty());
}
