//! The checksum of a tick: of all that decides how the world goes on.
//!
//! Values are written as little-endian bytes, row by row, so that it is the same on every
//! machine. Positions and facings hold neither NaN nor negative zeros: they were made canonical
//! where they were set.

use crate::geom::Vec2;
use crate::world::UnitId;
use crate::world::activity::Activity;
use crate::world::order::{Failure, Place, Task};
use crate::world::state::{Scratch, State};
use xxhash_rust::xxh3::xxh3_64;

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch) {
    let bytes = &mut scratch.digest;
    bytes.clear();
    let mut digest = Digest(bytes);
    digest.number(state.tick);
    digest.number(state.seed);
    digest.word(state.last_order.0);
    digest.ids(state.waiting.iter().copied());
    let units = &state.units;
    // Which ids come next depends on those that are free.
    digest.ids(units.free_ids());
    digest.word(units.len() as u32);
    for row in 0..units.len() {
        let (slot, generation) = units.id[row].parts();
        digest.word(slot);
        digest.word(generation);
        digest.word(u32::from(units.kind[row].0) << 16 | u32::from(units.side[row].0));
        digest.point(units.position[row]);
        digest.point(units.velocity[row]);
        digest.real(units.facing[row]);
        digest.word(u32::from(units.restless[row]));
        digest_orders(&mut digest, state, row);
    }
    state.checksum = xxh3_64(&scratch.digest);
}

fn digest_orders(digest: &mut Digest<'_>, state: &State, row: usize) {
    let orders = &state.units.orders[row];
    digest.word(orders.len() as u32);
    for order in orders {
        digest.word(order.number.0);
        match order.task {
            Task::Stop => digest.word(0),
            Task::Move { goal, place } => {
                digest.word(1);
                digest.point(goal);
                digest.place(place);
            }
            Task::Patrol {
                goal,
                far,
                home,
                homeward,
            } => {
                digest.word(2 + u32::from(homeward));
                digest.point(goal);
                digest.place(far);
                digest.point(home);
            }
        }
    }
    match &state.units.activity[row] {
        Activity::Stand => digest.word(0),
        Activity::AwaitRoute { held_up } => digest.word(1 | held_up << 2),
        Activity::Go(go) => {
            digest.word(2 | go.held_up() << 2);
            digest.real(go.best_left());
            digest.word(go.ahead().len() as u32);
            for point in go.ahead() {
                digest.point(*point);
            }
        }
    }
}

/// Bytes to be hashed.
struct Digest<'a>(&'a mut Vec<u8>);

impl Digest<'_> {
    fn number(&mut self, value: u64) {
        self.0.extend_from_slice(&value.to_le_bytes());
    }

    fn word(&mut self, value: u32) {
        self.0.extend_from_slice(&value.to_le_bytes());
    }

    fn real(&mut self, value: f32) {
        self.word(value.to_bits());
    }

    fn ids(&mut self, ids: impl Iterator<Item = UnitId>) {
        let mut count = 0;
        for (slot, generation) in ids.map(UnitId::parts) {
            self.word(slot);
            self.word(generation);
            count += 1;
        }
        self.word(count);
    }

    /// A failure shows in the outcome at once, so that there is none is enough here.
    fn place(&mut self, place: Result<Place, Failure>) {
        let Ok(place) = place else {
            return self.word(0);
        };
        self.word(1 + u32::from(place.short.is_some()));
        self.point(place.at);
        self.point(place.middle);
        self.real(place.spread_m);
    }

    fn point(&mut self, value: Vec2) {
        // One copy rather than two: this is most of what is hashed.
        let bits = u64::from(value.y.to_bits()) << 32 | u64::from(value.x.to_bits());
        self.number(bits);
    }
}
