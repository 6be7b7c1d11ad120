//! How well a flock keeps together, and to its zones.

use crate::geom::Vec3;
use crate::motion::flock::{Flock, FlockParams, MemberId, Zone, ZoneId, ZoneRole};
use crate::world::{Appearance, FlockId, World};

/// Metres beyond the edge of a pen that count as outside: less is rounding.
const OUTSIDE_M: f32 = 1e-3;

/// Number of parts of the run that are measured by themselves.
const PARTS: usize = 5;

/// How a flock fared.
#[derive(Clone, Debug, PartialEq)]
pub struct FlockMeasured {
    /// Which flock.
    pub flock: FlockId,
    /// What it is called.
    pub name: String,
    /// How many members it has at the end.
    pub members: usize,
    /// How its members behave: what the limits are.
    pub params: FlockParams,
    /// How often a member crossed the edge of a pen that it was in, and that was not moved itself.
    pub left_pen: u64,
    /// The highest speed that any had in the plane, in metres a second.
    pub fastest: f32,
    /// The sharpest turn that any made, in radians a second.
    pub sharpest: f32,
    /// How it held together, in parts of the run of equal length.
    pub parts: Vec<FlockPart>,
    /// Its zones that are no pens.
    pub zones: Vec<ZoneMeasured>,
}

/// How a flock held together in a part of the run: means of one look a second.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct FlockPart {
    /// When the part begins and ends, in seconds.
    pub between_s: (f64, f64),
    /// See [`FlockMeasure::local_alignment`](crate::motion::flock::FlockMeasure::local_alignment).
    pub local_alignment: f32,
    /// See [`FlockMeasure::spacing_m`](crate::motion::flock::FlockMeasure::spacing_m).
    pub spacing_m: f32,
}

/// How many were in reach of a zone, its margin included: one look a second.
#[derive(Clone, Debug, PartialEq)]
pub struct ZoneMeasured {
    /// Which zone.
    pub zone: ZoneId,
    /// What it does.
    pub role: ZoneRole,
    /// When it was looked at, in seconds, and how many were in reach then; nothing while it was off.
    pub in_reach: Vec<(f64, u32)>,
}

impl ZoneMeasured {
    /// The look with the most in reach; the first of several.
    #[must_use]
    pub fn most(&self) -> Option<(f64, u32)> {
        let best = |best: (f64, u32), next: (f64, u32)| if next.1 > best.1 { next } else { best };
        self.in_reach.iter().copied().reduce(best)
    }

    /// Of the looks after a time that with the fewest in reach; the first of several.
    #[must_use]
    pub fn fewest_after(&self, time_s: f64) -> Option<(f64, u32)> {
        let least = |best: (f64, u32), next: (f64, u32)| if next.1 < best.1 { next } else { best };
        let later = self.in_reach.iter().copied();
        later.filter(|look| look.0 > time_s).reduce(least)
    }
}

/// Takes the figures of a flock.
#[derive(Clone, Debug)]
pub(super) struct FlockTaken {
    measured: FlockMeasured,
    /// The members and zones a tick ago.
    before: Vec<(MemberId, Vec3, Vec3)>,
    zones_before: Vec<(ZoneId, Zone)>,
    looks: Vec<(f64, f32, f32)>,
}

impl FlockTaken {
    pub(super) fn begin(flock: FlockId, name: &str, now: &Flock<Appearance>) -> FlockTaken {
        let measured = FlockMeasured {
            flock,
            name: name.to_owned(),
            members: now.len(),
            params: *now.params(),
            left_pen: 0,
            fastest: 0.0,
            sharpest: 0.0,
            parts: Vec::new(),
            zones: Vec::new(),
        };
        let mut taken = FlockTaken {
            measured,
            before: Vec::new(),
            zones_before: Vec::new(),
            looks: Vec::new(),
        };
        taken.remember(now);
        taken
    }

    fn remember(&mut self, now: &Flock<Appearance>) {
        self.before.clear();
        let members = now.members().map(|bird| (bird.id, bird.at, bird.velocity));
        self.before.extend(members);
        self.zones_before.clear();
        let zones = now.zones().map(|(id, zone)| (id, zone.clone()));
        self.zones_before.extend(zones);
    }

    pub(super) fn note(&mut self, world: &World, tick_s: f32) {
        let Some(now) = world.flock(self.measured.flock) else {
            return;
        };
        self.note_members(now, tick_s);
        if world
            .tick()
            .is_multiple_of(u64::from(world.ticks_per_second()))
        {
            self.look(now, world.time_s());
        }
        self.measured.members = now.len();
        self.remember(now);
    }

    fn note_members(&mut self, now: &Flock<Appearance>, tick_s: f32) {
        let pens: Vec<&Zone> = now
            .zones()
            .filter(|(id, zone)| {
                let known = self
                    .zones_before
                    .iter()
                    .any(|(was, old)| was == id && old == *zone);
                known && zone.is_on && zone.role == ZoneRole::Pen
            })
            .map(|(_, zone)| zone)
            .collect();
        let mut before = self.before.iter().peekable();
        for bird in now.members() {
            while before.next_if(|(id, _, _)| *id < bird.id).is_some() {}
            let Some((_, was, went)) = before.next_if(|(id, _, _)| *id == bird.id) else {
                continue;
            };
            let (old, new) = (went.truncate(), bird.velocity.truncate());
            let turn = libm::atan2f(old.perp_dot(new), old.dot(new)).abs() / tick_s;
            self.measured.sharpest = self.measured.sharpest.max(turn);
            self.measured.fastest = self.measured.fastest.max(new.length());
            for pen in &pens {
                let was_in = pen.edge(was.truncate()).depth_m >= 0.0;
                let is_out = pen.edge(bird.at.truncate()).depth_m < -OUTSIDE_M;
                self.measured.left_pen += u64::from(was_in && is_out);
            }
        }
    }

    fn look(&mut self, now: &Flock<Appearance>, time_s: f64) {
        let measure = now.measure();
        self.looks
            .push((time_s, measure.local_alignment, measure.spacing_m));
        for (zone, plan) in now.zones() {
            if plan.role == ZoneRole::Pen {
                continue;
            }
            let zones = &mut self.measured.zones;
            let known = zones.iter().position(|known| known.zone == zone);
            let at = known.unwrap_or_else(|| {
                zones.push(ZoneMeasured {
                    zone,
                    role: plan.role,
                    in_reach: Vec::new(),
                });
                zones.len() - 1
            });
            if plan.is_on {
                let reached = |at: Vec3| plan.edge(at.truncate()).depth_m >= -plan.margin_m;
                let count = now.members().filter(|bird| reached(bird.at)).count();
                zones[at].in_reach.push((time_s, count as u32));
            }
        }
    }

    pub(super) fn close(self) -> FlockMeasured {
        let each = self.looks.len().div_ceil(PARTS).max(1);
        let part = |looks: &[(f64, f32, f32)]| {
            let count = looks.len() as f32;
            FlockPart {
                between_s: (looks[0].0 - 1.0, looks[looks.len() - 1].0),
                local_alignment: looks.iter().map(|look| look.1).sum::<f32>() / count,
                spacing_m: looks.iter().map(|look| look.2).sum::<f32>() / count,
            }
        };
        FlockMeasured {
            parts: self.looks.chunks(each).map(part).collect(),
            ..self.measured
        }
    }
}
