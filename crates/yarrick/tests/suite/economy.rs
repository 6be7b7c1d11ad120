//! Resources: nothing is made or lost, whatever is done with them.

use proptest::prelude::*;
use yarrick::economy::{
    Deposit, Ledger, MAX_IN_LINE, Missing, NotQueued, Price, ProductionLine, ResourceId, Rhythm,
    Slots, Stores,
};

const SALT: ResourceId = ResourceId(0);
const REED: ResourceId = ResourceId(1);

/// Something done to an economy of one pan, one raker and one yard.
#[derive(Clone, Copy, Debug)]
enum Deed {
    Rake(u32),
    HandIn,
    Queue(u32, u32),
    Cancel(usize),
    Work(u32),
    TakeOut,
    LoseYard,
}

fn deed() -> impl Strategy<Value = Deed> {
    prop_oneof![
        (0_u32..30).prop_map(Deed::Rake),
        Just(Deed::HandIn),
        (0_u32..12, 0_u32..8).prop_map(|(salt, takes)| Deed::Queue(salt, takes)),
        (0_usize..7).prop_map(Deed::Cancel),
        (0_u32..10).prop_map(Deed::Work),
        Just(Deed::TakeOut),
        Just(Deed::LoseYard),
    ]
}

fn salt_of(price: &Price) -> u64 {
    let salt = price
        .amounts()
        .iter()
        .filter(|(resource, _)| *resource == SALT);
    salt.map(|(_, amount)| u64::from(*amount)).sum()
}

proptest! {
    #[test]
    fn salt_is_neither_made_nor_lost(
        lies in 0_u32..200, deeds in proptest::collection::vec(deed(), 0..60),
    ) {
        let mut pan = Deposit { resource: SALT, left: lies };
        let (mut load, mut stores, mut yard) = (0_u32, Ledger::default(), ProductionLine::default());
        let (mut spent, mut number) = (0, 0);
        // What the line holds, as a plain list of numbers, and the ticks that are left of the first.
        let mut plain: Vec<(u32, u64, u32)> = Vec::new();
        for deed in deeds {
            match deed {
                Deed::Rake(most) => load += pan.take(most),
                Deed::HandIn => {
                    stores.hand_in(SALT, load);
                    load = 0;
                }
                Deed::Queue(salt, takes) => {
                    number += 1;
                    let (before, count) = (stores.owned().of(SALT), plain.len());
                    let queued = yard.queue(number, &Price::of(&[(SALT, salt)]), takes, &mut stores);
                    let is_paid = before >= u64::from(salt);
                    prop_assert_eq!(queued.is_ok(), count < 5 && is_paid);
                    if queued.is_ok() {
                        plain.push((number, salt.into(), takes));
                    }
                }
                Deed::Cancel(place) => {
                    let expected = (place < plain.len()).then(|| plain.remove(place).0);
                    prop_assert_eq!(yard.cancel(place, &mut stores), expected);
                }
                Deed::Work(ticks) => {
                    for _ in 0..ticks {
                        yard.advance();
                        if let Some(first) = plain.first_mut() {
                            first.2 = first.2.saturating_sub(1);
                        }
                    }
                }
                Deed::TakeOut => {
                    let is_ready = plain.first().is_some_and(|first| first.2 == 0);
                    let expected = is_ready.then(|| plain.remove(0));
                    spent += expected.map_or(0, |expected| expected.1);
                    prop_assert_eq!(yard.take_finished(), expected.map(|expected| expected.0));
                }
                Deed::LoseYard => {
                    yard.cancel_all(&mut stores);
                    plain.clear();
                }
            }
            let in_line: u64 = yard.items().map(|item| salt_of(&item.price)).sum();
            let all = u64::from(pan.left) + u64::from(load) + stores.owned().of(SALT) + in_line + spent;
            prop_assert_eq!(all, u64::from(lies), "after {:?}", deed);
            let (went_in, went_out) = (stores.handed_in().of(SALT), stores.spent().of(SALT));
            let owned = went_in + stores.refunded().of(SALT) - went_out;
            prop_assert_eq!(owned, stores.owned().of(SALT));
            let numbers: Vec<u32> = yard.items().map(|item| item.item).collect();
            prop_assert_eq!(numbers, plain.iter().map(|item| item.0).collect::<Vec<_>>());
        }
    }

    #[test]
    fn nobody_shares_a_slot_and_the_cheapest_free_one_is_taken(
        steps in proptest::collection::vec((0_u32..8, any::<bool>(), 0_usize..4), 0..40),
        costs in proptest::collection::vec(proptest::option::weighted(0.8, 0_u8..5), 4),
    ) {
        let mut slots = Slots::new(4);
        for (owner, comes, _) in steps {
            let before = slots.clone();
            if comes {
                let taken = slots.take(owner, |slot| costs[slot].map(f32::from));
                let free = (0..4).filter(|slot| before.owners()[*slot].is_none());
                let best = free.filter_map(|slot| Some((costs[slot]?, slot))).min();
                let expected = before.of(owner).or(best.map(|(_, slot)| slot));
                prop_assert_eq!(taken, expected);
            } else {
                prop_assert_eq!(slots.free(owner), before.of(owner));
                prop_assert_eq!(slots.of(owner), None);
            }
            let mut held: Vec<u32> = slots.owners().iter().flatten().copied().collect();
            let count = held.len();
            held.sort_unstable();
            held.dedup();
            prop_assert_eq!(held.len(), count, "one slot each");
        }
    }

    #[test]
    fn every_so_manyth_stroke_has_an_item(strokes in 0_u32..9, item_on in 0_u32..12, rounds in 1_u32..5) {
        let mut work = Rhythm { strokes, item_on }.begin();
        let length = strokes.max(1);
        let nth = item_on.clamp(1, length);
        for stroke in 1..=length * rounds {
            prop_assert_eq!(work.stroke(), (stroke - 1) % length + 1 == nth);
        }
    }
}

#[test]
fn a_price_is_paid_wholly_or_not_at_all_and_what_is_missing_is_named() {
    let price = Price::of(&[(REED, 2), (SALT, 5), (REED, 3), (ResourceId(7), 0)]);
    assert_eq!(price.amounts(), [(SALT, 5), (REED, 5)]);
    let mut stores = Stores::default();
    stores.put_in(SALT, 9);
    stores.put_in(REED, 1);
    let missing = Missing {
        resource: REED,
        amount: 4,
    };
    assert_eq!(stores.pay(&price), Err(missing));
    assert_eq!((stores.of(SALT), stores.of(REED)), (9, 1));
    stores.put_in(REED, 4);
    assert_eq!(stores.pay(&price), Ok(()));
    assert_eq!((stores.of(SALT), stores.of(REED)), (4, 0));
    let all: Vec<u64> = stores
        .missing_for(&price)
        .map(|missing| missing.amount)
        .collect();
    assert_eq!(all, [1, 5]);
    stores.refund(&price);
    assert_eq!((stores.of(SALT), stores.of(REED)), (9, 5));
    assert_eq!(stores.of(ResourceId(200)), 0);
}

#[test]
fn a_finished_item_waits_for_room_and_the_next_is_not_begun() {
    let (mut stores, mut yard) = (Ledger::default(), ProductionLine::with_limit(2));
    let free = Price::default();
    yard.queue("raker", &free, 4, &mut stores).unwrap();
    yard.queue("warden", &free, 2, &mut stores).unwrap();
    let full = yard.queue("sledge", &free, 2, &mut stores).unwrap_err();
    assert_eq!(full, NotQueued::Full(2));
    assert_eq!(full.to_string(), "the production queue is full (2 items)");
    yard.advance();
    assert_eq!((yard.progress(), yard.finished()), (Some(0.25), None));
    for _ in 0..50 {
        yard.advance();
    }
    assert_eq!(
        (yard.progress(), yard.take_finished()),
        (Some(1.0), Some("raker"))
    );
    assert_eq!((yard.progress(), yard.take_finished()), (Some(0.0), None));
    assert_eq!(yard.items().len(), 1);
    let wide = ProductionLine::<u8>::with_limit(u16::MAX);
    let bytes = postcard::to_stdvec(&wide).unwrap();
    assert_eq!(bytes.last(), Some(&(MAX_IN_LINE as u8)));
}

#[test]
fn a_saved_resource_that_no_game_has_is_refused() {
    assert!(postcard::from_bytes::<Price>(&[1, 15, 3]).is_ok());
    assert!(postcard::from_bytes::<Price>(&[1, 16, 3]).is_err());
}
