//! How a flock holds together, in figures.

use super::bodies::Bodies;
use super::body::Body;
use super::cells::Cells;
use super::{Flock, ZoneRole};
use crate::geom::{Outline, Vec3};
use xxhash_rust::xxh3::Xxh3Default;

/// How a flock holds together.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct FlockMeasure {
    /// The middle of all members, in metres.
    pub middle: Vec3,
    /// How far they are from the middle, as the root of the mean square, in metres.
    pub spread_m: f32,
    /// How much they go one way: `1` if all do, `0` if their directions cancel out, as where a flock goes round and
    /// round in its pen.
    pub alignment: f32,
    /// How much each goes the way of those within its view, on average: `1` if all go exactly as those round them.
    /// Those that have nobody round them do not count.
    pub local_alignment: f32,
    /// How far it is to the nearest other on average, in metres; those that see nobody do not count. `0` if there
    /// are none.
    pub spacing_m: f32,
}

pub(super) fn measure(mut bodies: Bodies, view_m: f32) -> FlockMeasure {
    let mut cells = Cells::default();
    bodies.sort(&mut cells, view_m);
    let rows = || (0..bodies.len()).map(|row| bodies.in_row(row));
    let count = bodies.len().max(1) as f32;
    let middle = rows().map(Body::at).sum::<Vec3>() / count;
    let square = rows()
        .map(|body| body.at().distance_squared(middle))
        .sum::<f32>()
        / count;
    let (mut gaps, mut agreement, mut accompanied) = (0.0, 0.0, 0.0_f32);
    let all = bodies.by_slot();
    let heading = |body: &Body| body.velocity().normalize_or_zero();
    let headings: Vec<Vec3> = all.iter().map(heading).collect();
    for (slot, me) in all.iter().enumerate() {
        let others = cells.runs_round(&all[slot..=slot]).into_iter().flatten();
        let mut nearest = f32::INFINITY;
        let mut company = Vec3::ZERO;
        for other in others.filter(|other| *other != slot) {
            let square = all[other].at().distance_squared(me.at());
            if square <= view_m * view_m {
                nearest = nearest.min(square);
                company += headings[other];
            }
        }
        if nearest.is_finite() {
            gaps += nearest.sqrt();
            agreement += company.normalize_or_zero().dot(headings[slot]);
            accompanied += 1.0;
        }
    }
    let accompanied = accompanied.max(1.0);
    FlockMeasure {
        middle,
        spread_m: square.sqrt(),
        alignment: rows().map(heading).sum::<Vec3>().length() / count,
        local_alignment: agreement / accompanied,
        spacing_m: gaps / accompanied,
    }
}

pub(super) fn checksum<V>(flock: &Flock<V>) -> u64 {
    let mut hasher = Xxh3Default::new();
    let mut word = |word: u32| hasher.update(&word.to_le_bytes());
    for (row, id) in flock.id.iter().enumerate() {
        word(id.number());
        let body = flock.bodies.in_row(row);
        let reals = body.at().to_array().into_iter();
        let reals = reals.chain(body.velocity().to_array());
        reals.map(bits).for_each(&mut word);
    }
    for (id, zone) in &flock.zones {
        let role = match zone.role {
            ZoneRole::Pen => 0,
            ZoneRole::Lure => 1,
            ZoneRole::Scare => 2,
        };
        let words = [id.number(), role, u32::from(zone.is_on)];
        let numbers = [
            zone.at.x,
            zone.at.y,
            zone.facing,
            zone.margin_m,
            zone.weight,
        ];
        let words = words.into_iter().chain(numbers.map(bits));
        words.for_each(&mut word);
        match &zone.outline {
            Outline::Circle { radius_m } => word(bits(*radius_m)),
            Outline::Box { half_m } => half_m.to_array().map(bits).into_iter().for_each(&mut word),
            Outline::Polygon { points } => {
                let reals = points.iter().flat_map(|point| point.to_array());
                reals.map(bits).for_each(&mut word);
            }
        }
    }
    hasher.digest()
}

fn bits(value: f32) -> u32 {
    (value + 0.0).to_bits()
}
