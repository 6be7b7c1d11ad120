//! A step of a flock: what everybody does at once, by what is known before anybody moves.

use super::cells::Cells;
use super::heed::Sight;
use super::{Manners, Pulls, Zone, ZoneId, ZoneRole, go, heed, pulls};
use crate::geom::{Vec2, Vec3};
use core::ops::Range;
use smallvec::SmallVec;

/// The most threads on which a flock steps.
const MAX_THREADS: usize = 64;

/// A tick: what is known of it, before anybody moves.
pub(super) struct Flight<'a> {
    pub(super) manners: &'a Manners,
    pub(super) sight: Sight,
    pub(super) cells: &'a Cells,
    pub(super) zones: &'a [(ZoneId, Zone)],
    pub(super) tick_s: f32,
}

impl Flight<'_> {
    /// Works out where everybody is afterwards, by slot. Each slot is one's own: how the work is cut up changes nothing.
    pub(super) fn run(&self, threads: usize, after: &mut [(Vec3, Vec3)]) {
        let pens: SmallVec<[&Zone; 4]> = self.pens().collect();
        let cells = self.cells.len();
        if threads <= 1 {
            return self.fly(0..cells, &pens, after);
        }
        let each = cells.div_ceil(threads.min(MAX_THREADS) as u32);
        let pens = &pens;
        std::thread::scope(|scope| {
            let mut rest = after;
            for from in (0..cells).step_by(each as usize) {
                let part = from..cells.min(from + each);
                let slots = self.cells.slots(part.end - 1).end - self.cells.slots(from).start;
                let (mine, others) = core::mem::take(&mut rest).split_at_mut(slots);
                rest = others;
                scope.spawn(move || self.fly(part, pens, mine));
            }
        });
    }

    fn pens(&self) -> impl Iterator<Item = &Zone> {
        let zones = self.zones.iter().map(|(_, zone)| zone);
        zones.filter(|zone| zone.is_on && zone.role == ZoneRole::Pen)
    }

    /// Works out where the members of some cells are afterwards.
    fn fly(&self, cells: Range<u32>, pens: &[&Zone], after: &mut [(Vec3, Vec3)]) {
        let turn = go::Turn::of(self.manners, self.tick_s);
        let mut after = after.iter_mut();
        for cell in cells {
            let slots = self.cells.slots(cell);
            if slots.is_empty() {
                continue;
            }
            let runs = self.cells.runs_round(cell);
            for (slot, after) in slots.zip(&mut after) {
                let (at, velocity) = self.member(slot);
                let rules = self.rules(slot, &runs);
                let zones = self.zones.iter().map(|(_, zone)| zone.pull(at.truncate()));
                let pull = rules.of_rules() + zones.sum::<Vec2>().extend(0.0);
                *after = go::go((at, velocity), pull, (self.manners, pens), &turn);
            }
        }
    }

    fn member(&self, slot: usize) -> (Vec3, Vec3) {
        let cells = self.cells;
        (
            Vec3::new(cells.x[slot], cells.y[slot], cells.z[slot]),
            Vec3::new(cells.vx[slot], cells.vy[slot], cells.vz[slot]),
        )
    }

    /// What the three rules pull, without the zones.
    pub(super) fn rules(&self, slot: usize, runs: &[Range<usize>]) -> Pulls {
        let (at, velocity) = self.member(slot);
        let eye = self.sight.of(at, velocity);
        let seen = match self.manners.air {
            Some(_) => heed::look::<true>(self.cells, runs, &eye),
            None => heed::look::<false>(self.cells, runs, &eye),
        };
        pulls::by_rules(&seen, (self.cells.row[slot], velocity), self.manners)
    }
}
