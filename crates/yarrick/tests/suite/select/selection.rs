//! Selections against a plain list.

use proptest::prelude::*;
use yarrick::select::Selection;

#[test]
fn the_first_selected_leads_until_it_is_taken_away() {
    let mut selection = Selection::default();
    selection.replace([5, 2, 9, 2]);
    selection.add([1, 5]);
    assert_eq!(
        (selection.ids(), selection.lead()),
        (&[5, 2, 9, 1][..], Some(5))
    );
    selection.toggle(5);
    selection.toggle(7);
    assert_eq!(
        (selection.ids(), selection.lead()),
        (&[2, 9, 1, 7][..], Some(2))
    );
}

proptest! {
    #[test]
    fn a_selection_never_repeats_nor_exceeds_its_limit(
        deeds in proptest::collection::vec(
            (0_u8..4, proptest::collection::vec(0_u32..20, 0..12)), 0..20),
        most in 0_usize..15,
    ) {
        let mut selection = Selection::with_limit(most);
        let mut plain: Vec<u32> = Vec::new();
        for (deed, ids) in deeds {
            match deed {
                0 => { selection.replace(ids.clone()); plain.clear(); }
                1 => selection.add(ids.clone()),
                2 => { selection.take_away(ids.clone()); plain.retain(|id| !ids.contains(id)); }
                _ => {
                    let id = ids.first().copied().unwrap_or(3);
                    selection.toggle(id);
                    match plain.iter().position(|known| *known == id) {
                        Some(at) => { plain.remove(at); }
                        None if plain.len() < most => plain.push(id),
                        None => {}
                    }
                }
            }
            if deed < 2 {
                for id in ids {
                    if !plain.contains(&id) && plain.len() < most { plain.push(id); }
                }
            }
            prop_assert_eq!(selection.ids(), &plain[..]);
            prop_assert!((0..20).all(|id| selection.contains(id) == plain.contains(&id)));
        }
    }
}
