//! How orders are read from scenario files, and written: what the readers of those offer.

use crate::geom::Vec2;
use crate::motion::formation::Formation;
use crate::world::ids::{OrderNo, UnitId};
use crate::world::kind::KindId;
use crate::world::message::Spot;
use core::ops::RangeInclusive;

/// Reads the keys of an order. Where one is missing or wrong, the reader notes the error and gives `None`.
pub trait OrderReader {
    /// The point under `"point"`, in metres.
    fn point(&self) -> Option<Vec2>;
    /// The points under `"points"`, or the one under `"point"`; at most `most`.
    fn points(&self, most: usize) -> Option<Vec<Vec2>>;
    /// The unit under `"target"` or `"target_id"`.
    fn target(&self) -> Option<UnitId>;
    /// The point or the unit that the order is about.
    fn spot(&self) -> Option<Spot>;
    /// A flag, `usual` where it is not given.
    fn flag(&self, key: &'static str, usual: bool) -> Option<bool>;
    /// A length in metres, `usual` where it is not given.
    fn metres(&self, key: &'static str, allowed: RangeInclusive<f32>, usual: f32) -> Option<f32>;
    /// One of some words, by its place among them.
    fn word(&self, key: &'static str, allowed: &'static [&'static str]) -> Option<usize>;
    /// An angle, under one key in degrees or under another in radians, if it is given.
    fn angle(&self, degrees: &'static str, radians: &'static str) -> Option<Option<f32>>;
    /// A formation.
    fn formation(&self) -> Option<Formation>;
    /// The number of an order.
    fn number(&self) -> Option<OrderNo>;
    /// The kind under `"kind"`.
    fn kind(&self) -> Option<KindId>;
    /// The place in a queue under `"place"`, from 0.
    fn place(&self) -> Option<u16>;
}

/// Writes the keys of an order, so that they are read back as the very same values.
pub trait OrderWriter {
    /// Writes a key with its value in TOML.
    fn key(&mut self, key: &str, value: &str);

    /// Writes a kind.
    fn kind(&mut self, kind: KindId);

    /// Writes a point.
    fn point(&mut self, point: Vec2) {
        self.key("point", &coordinates(point));
    }

    /// Writes points.
    fn points(&mut self, points: &[Vec2]) {
        let points: Vec<String> = points.iter().map(|point| coordinates(*point)).collect();
        self.key("points", &format!("[{}]", points.join(", ")));
    }

    /// Writes the unit that the order is about.
    fn target(&mut self, unit: UnitId) {
        self.key("target_id", &format!("\"{unit}\""));
    }

    /// Writes what the order is about.
    fn spot(&mut self, spot: Spot) {
        match spot {
            Spot::Ground(point) => self.point(point),
            Spot::Unit(unit) => self.target(unit),
        }
    }

    /// Writes a formation.
    fn formation(&mut self, formation: &Formation) {
        self.key("formation", &format!("\"{}\"", formation.form.word()));
        if !formation.slots.is_empty() {
            let slots: Vec<String> = formation.slots.iter().map(|at| coordinates(*at)).collect();
            self.key("slots", &format!("[{}]", slots.join(", ")));
        }
        if let Some(facing) = formation.facing {
            // In radians it comes back as the very same number.
            self.key("facing_rad", &format!("{facing:?}"));
        }
        if let Some(abreast) = formation.abreast {
            self.key("abreast", &abreast.max(1).to_string());
        }
        self.key("slowest_leads", &formation.slowest_leads.to_string());
    }
}

/// A point, with as many digits as it takes to read the very same numbers back.
fn coordinates(point: Vec2) -> String {
    format!("[{:?}, {:?}]", point.x, point.y)
}
