//! A step of a flock: what everybody does at once, by what is known before anybody moves.

use super::bodies;
use super::body::Body;
use super::cells::{CHUNK, Cells};
use super::heed::Sight;
use super::lanes::{Moving, Vectors};
use super::pulls::RulePulls;
use super::{FlockParams, Zone, ZoneId, ZoneRole, go, heed, pulls};
use crate::geom::{Vec2, Vec3};
use crate::threads::Threads;
use smallvec::SmallVec;

/// The fewest chunks that are worth a thread.
const LEAST_CHUNKS: usize = 16;

/// A tick: what is known of it, before anybody moves.
pub(super) struct Flight<'a> {
    pub(super) params: &'a FlockParams,
    pub(super) sight: Sight,
    pub(super) cells: &'a Cells,
    pub(super) bodies: &'a [Body],
    pub(super) zones: &'a [(ZoneId, Zone)],
    pub(super) tick_s: f32,
}

impl Flight<'_> {
    /// Works out where everybody is afterwards, by slot. Each slot is one's own, and groups are the same however the
    /// work is cut up: the number of threads changes nothing.
    pub(super) fn run(&self, threads: &Threads, after: &mut [Body]) {
        let pens: SmallVec<[&Zone; 4]> = self.pens().collect();
        let parts = (CHUNK, LEAST_CHUNKS * CHUNK);
        threads.in_parts(after, parts, |from, part| self.fly(from, &pens, part));
    }

    fn pens(&self) -> impl Iterator<Item = &Zone> {
        let zones = self.zones.iter().map(|(_, zone)| zone);
        zones.filter(|zone| zone.is_on && zone.role == ZoneRole::Pen)
    }

    /// Works out where the members in the slots from some one on are afterwards.
    fn fly(&self, from: usize, pens: &[&Zone], after: &mut [Body]) {
        let turn = go::Turn::of(self.params, self.tick_s);
        let mut rest = after;
        let mut slot = from;
        while !rest.is_empty() {
            let slots = self.cells.together(self.bodies, slot);
            let bodies = &self.bodies[slots.clone()];
            let moving = bodies::moving(bodies);
            let mut pull = self.rules(bodies, &moving).sum();
            if !self.zones.is_empty() {
                pull = pull + Vectors::of(moving.at.each().map(|at| self.of_zones(at)));
            }
            let gone = go::go(&moving, pull, (self.params, pens), &turn);
            let (group, others) = core::mem::take(&mut rest).split_at_mut(slots.len());
            let gone = gone.at.each().into_iter().zip(gone.velocity.each());
            for ((after, before), (at, velocity)) in group.iter_mut().zip(bodies).zip(gone) {
                *after = Body::new(at, velocity, before.row);
            }
            (rest, slot) = (others, slots.end);
        }
    }

    /// What all zones pull one who is somewhere.
    fn of_zones(&self, at: Vec3) -> Vec3 {
        let zones = self.zones.iter().map(|(_, zone)| zone.pull(at.truncate()));
        zones.sum::<Vec2>().extend(0.0)
    }

    /// What the three rules pull some that look round together, and that move so.
    pub(super) fn rules(&self, bodies: &[Body], moving: &Moving) -> RulePulls {
        let runs = self.cells.runs_round(bodies);
        let seen = match self.params.air {
            Some(_) => heed::look::<true>(self.bodies, &runs, moving, &self.sight),
            None => heed::look::<false>(self.bodies, &runs, moving, &self.sight),
        };
        let rows = bodies::lanes(bodies).map(|body| body.row);
        pulls::by_rules(&seen, (rows, moving.velocity), self.params)
    }
}
