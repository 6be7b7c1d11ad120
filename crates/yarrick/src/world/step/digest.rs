//! The checksum of a tick: of all that decides how the world goes on.
//!
//! Values are written as little-endian bytes, row by row, so that it is the same on every
//! machine. Positions and facings hold neither NaN nor negative zeros: they were made canonical
//! where they were set.

use crate::geom::Vec2;
use crate::world::activity::{Activity, Bound};
use crate::world::march::March;
use crate::world::order::{Errand, Failure, Place, Task};
use crate::world::state::{Scratch, State};
use crate::world::{Spot, UnitId};
use xxhash_rust::xxh3::Xxh3Default;

pub(in crate::world) fn run(state: &mut State, scratch: &mut Scratch) {
    scratch.digest.clear();
    let mut digest = Digest {
        bytes: &mut scratch.digest,
        hasher: Xxh3Default::new(),
    };
    digest.number(state.tick);
    digest.number(state.seed);
    digest.word(state.last_order.0);
    for part in state.planner.fingerprint() {
        digest.number(part);
    }
    digest.ids(state.trapped.iter().copied());
    for march in &state.marches {
        digest_march(&mut digest, march);
    }
    for tended in &state.flocks {
        digest.number(tended.flock.checksum());
        for (zone, unit) in &tended.carried {
            digest.about(zone.number(), *unit);
        }
    }
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
        digest.real(units.health[row]);
        digest_fight(&mut digest, state, row);
        digest_orders(&mut digest, state, row);
        digest_activity(&mut digest, state, row);
        digest.hash_if_full();
    }
    state.checksum = digest.finish();
}

fn digest_march(digest: &mut Digest<'_>, march: &March) {
    digest.word(march.order.0);
    digest.point(march.middle);
    digest.real(march.facing);
    for marcher in &march.marchers {
        digest.about(marcher.stale, marcher.unit);
        digest.point(marcher.offset);
        digest.real(marcher.best_m);
    }
    if let Some(lead) = &march.lead {
        digest.point(lead.at);
        digest.real(lead.facing);
        digest.word(lead.next);
        digest.word(lead.at_end);
    }
}

fn digest_orders(digest: &mut Digest<'_>, state: &State, row: usize) {
    let orders = &state.units.orders[row];
    digest.word(orders.len() as u32);
    for order in orders {
        digest.word(order.number.0);
        match &order.task {
            Task::Stop => digest.word(0),
            Task::Hold => digest.word(1),
            Task::Move(errand) => digest.errand(2, errand),
            Task::AttackMove(errand) => digest.errand(3, errand),
            Task::GuardPlace(errand) => digest.errand(4, errand),
            Task::Attack { target } => digest.about(5, *target),
            Task::Approach {
                target,
                stand_off_m,
                side,
            } => {
                digest.about(6, *target);
                digest.real(*stand_off_m);
                digest.real(side.unwrap_or(-1000.0));
            }
            Task::Follow { target } => digest.about(7, *target),
            Task::Guard { target } => digest.about(8, *target),
            Task::Patrol(beat) => {
                digest.word(9);
                digest.word(beat.progress());
                digest.word(beat.posts.len() as u32);
                for post in &beat.posts {
                    digest.errand(0, post);
                }
            }
        }
    }
}

fn digest_activity(digest: &mut Digest<'_>, state: &State, row: usize) {
    let activity = &state.units.activity[row];
    if let Some(Bound::Unit { to, short_m }) = activity.bound() {
        digest.point(to);
        digest.real(short_m);
    }
    match activity {
        Activity::Stand => digest.word(0),
        Activity::AwaitRoute { delay, lead, .. } => {
            digest.word(1 | delay.held_up << 2);
            digest.word(delay.waited);
            digest.point(lead.unwrap_or(Vec2::ZERO));
        }
        Activity::Go(go) => {
            digest.word(2 | go.held_up() << 2);
            digest.word(go.delay().waited);
            digest.word(go.gathers().unwrap_or(0));
            digest.real(go.best_left());
            let bits = u32::from(go.short().is_some())
                | u32::from(go.gathers().is_some()) << 1
                | (go.strayed() as u32) << 2;
            digest.word((go.ahead().len() as u32) << 4 | bits);
            digest.point(go.leg().0);
            for link in go.links_ahead() {
                digest.word(link);
            }
            for point in go.ahead() {
                digest.point(*point);
            }
        }
    }
}

/// What most units have nothing of takes a bit, and is written only where there is something.
fn digest_fight(digest: &mut Digest<'_>, state: &State, row: usize) {
    let units = &state.units;
    // What lies in the past makes no difference any more.
    let ready = units.ready_at[row].saturating_sub(state.tick);
    let calm = units.calm_until[row].saturating_sub(state.tick);
    let bout = units.bout[row];
    // The progress of those that come up to nobody is never looked at.
    let first = units.orders[row].first();
    let comes_up = bout.is_some() || first.is_some_and(|order| order.target().is_some());
    let bits = [
        ready > 0,
        calm > 0,
        bout.is_some(),
        bout.is_some_and(|bout| bout.chases),
        comes_up,
        units.post[row].is_some(),
        units.looks[row].is_some(),
    ];
    let bits = bits.iter().fold(0, |all, &bit| all << 1 | u32::from(bit));
    let restless = u32::from(units.restless[row]);
    digest.word(bits | restless << 7 | (units.rally[row].len() as u32) << 16);
    if let Some((post, until)) = units.post[row] {
        digest.point(post);
        digest.number(until - state.tick.min(until));
    }
    if let Some(looks) = units.looks[row] {
        digest.real(looks);
    }
    if ready > 0 {
        digest.number(ready);
    }
    if calm > 0 {
        digest.number(calm);
    }
    if let Some(bout) = bout {
        digest.about(0, bout.foe);
        digest.point(bout.from);
    }
    if comes_up {
        digest.real(units.progress[row].best_m);
        digest.number(state.tick - units.progress[row].since);
    }
    for spot in &units.rally[row] {
        match spot {
            Spot::Ground(point) => {
                digest.word(0);
                digest.point(*point);
            }
            Spot::Unit(unit) => digest.about(1, *unit),
        }
    }
}

/// So many bytes are hashed at a time: few enough to stay in the nearest cache until then.
const BLOCK: usize = 8192;

/// What is hashed.
struct Digest<'a> {
    /// Bytes to be hashed next.
    bytes: &'a mut Vec<u8>,
    hasher: Xxh3Default,
}

impl Digest<'_> {
    fn hash_if_full(&mut self) {
        if self.bytes.len() >= BLOCK {
            self.hasher.update(self.bytes);
            self.bytes.clear();
        }
    }

    fn finish(mut self) -> u64 {
        self.hasher.update(self.bytes);
        self.hasher.digest()
    }

    fn number(&mut self, value: u64) {
        self.bytes.extend_from_slice(&value.to_le_bytes());
    }

    fn word(&mut self, value: u32) {
        self.bytes.extend_from_slice(&value.to_le_bytes());
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

    fn about(&mut self, what: u32, unit: UnitId) {
        let (slot, generation) = unit.parts();
        self.word(what);
        self.word(slot);
        self.word(generation);
    }

    #[inline]
    fn errand(&mut self, what: u32, errand: &Errand) {
        self.word(what);
        self.point(errand.goal);
        self.place(errand.place);
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
