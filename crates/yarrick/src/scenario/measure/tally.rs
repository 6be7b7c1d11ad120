//! Lines at which units are counted as they come past.

use crate::geom::Vec2;
use crate::world::{UnitId, UnitView};
use std::collections::BTreeMap;

/// A line on the map that units are counted at as they cross it: `[[tally]]`.
#[derive(Clone, Debug, PartialEq)]
pub struct TallyLine {
    /// What it is called.
    pub name: String,
    /// Where it begins, in metres.
    pub from: Vec2,
    /// Where it ends, in metres. Its length counts as the width of what is passed through.
    pub to: Vec2,
}

/// How units came past a line.
#[derive(Clone, Debug, PartialEq)]
pub struct TallyMeasured {
    /// The line.
    pub line: TallyLine,
    /// How many crossed it, each counted the first time.
    pub crossed: usize,
    /// When the first did, and the last, in seconds.
    pub between_s: (f64, f64),
    /// The longest time in which none did, from the first to the last, in seconds.
    pub pause_s: f64,
    /// The longest delay of a unit against its turn, in seconds. Turns go by when each unit would have got to the line alone: the
    /// k-th of them should cross when the k-th unit did. Units whose path did not lead over the line when they set out have no turn.
    pub out_of_turn_s: f64,
    /// How many files of them fit through side by side.
    pub files: usize,
    /// The most units that could cross in a second: in `files` files without gaps, at the mean speed and width of the units that
    /// crossed.
    pub ideal_per_s: f64,
}

impl TallyMeasured {
    /// How many crossed in a second, from the first to the last.
    #[must_use]
    pub fn per_s(&self) -> f64 {
        let (first, last) = self.between_s;
        match self.crossed {
            0 | 1 => 0.0,
            count => (count - 1) as f64 / (last - first).max(1e-9),
        }
    }
}

/// The units that crossed a line, and the units that are expected to cross it.
#[derive(Clone, Debug)]
pub(super) struct Tally {
    line: TallyLine,
    /// The time of each crossing, in seconds, and the unit that crossed.
    crossings_s: Vec<f64>,
    seen: Vec<UnitId>,
    /// When each unit whose path crosses the line would get there alone, in seconds.
    due_s: BTreeMap<UnitId, f64>,
    /// The sum of the widths of the units that crossed, in metres.
    widths: f64,
    /// The sum of their top speeds, in metres a second.
    speeds: f64,
}

impl Tally {
    pub(super) fn begin(line: &TallyLine) -> Tally {
        Tally {
            line: line.clone(),
            crossings_s: Vec::new(),
            seen: Vec::new(),
            due_s: BTreeMap::new(),
            widths: 0.0,
            speeds: 0.0,
        }
    }

    /// Notes when a unit would get to the line alone, for the first of its paths that crosses it.
    pub(super) fn expect(&mut self, unit: &UnitView<'_>, now_s: f64) {
        let speed = unit.kind().speed();
        if speed > 0.0
            && !self.due_s.contains_key(&unit.id())
            && let Some(metres) = self.metres_to(unit)
        {
            self.due_s
                .insert(unit.id(), now_s + f64::from(metres / speed));
        }
    }

    /// The length of a unit's path up to the line, in metres.
    fn metres_to(&self, unit: &UnitView<'_>) -> Option<f32> {
        let (mut at, mut metres) = (unit.position(), 0.0);
        for &point in unit.way_ahead() {
            if let Some(part) = crosses((at, point), (self.line.from, self.line.to)) {
                return Some(metres + at.distance(point) * part);
            }
            metres += at.distance(point);
            at = point;
        }
        None
    }

    /// The longest delay of a unit against its turn.
    fn out_of_turn_s(&self) -> f64 {
        let crossed = self.seen.iter().zip(&self.crossings_s);
        let mut due: Vec<(f64, f64)> = crossed
            .filter_map(|(unit, &crossed_s)| Some((*self.due_s.get(unit)?, crossed_s)))
            .collect();
        let in_turn: Vec<f64> = due.iter().map(|(_, crossed_s)| *crossed_s).collect();
        due.sort_by(|a, b| a.0.total_cmp(&b.0));
        let late = due
            .iter()
            .zip(in_turn)
            .map(|((_, crossed_s), turn_s)| crossed_s - turn_s);
        late.fold(0.0, f64::max)
    }

    pub(super) fn note(&mut self, unit: &UnitView<'_>, from: Vec2, now_s: f64) {
        let to = unit.position();
        if crosses((from, to), (self.line.from, self.line.to)).is_some()
            && !self.seen.contains(&unit.id())
        {
            self.seen.push(unit.id());
            self.crossings_s.push(now_s);
            self.widths += f64::from(unit.radius() * 2.0);
            self.speeds += f64::from(unit.kind().speed());
        }
    }

    pub(super) fn close(self) -> TallyMeasured {
        let crossed = self.crossings_s.len();
        let count = crossed.max(1) as f64;
        let (width, speed) = (self.widths / count, self.speeds / count);
        let room = f64::from(self.line.from.distance(self.line.to));
        // What was drawn as two bodies wide must not miss a file by rounding.
        let files = if width > 0.0 {
            (room / width + 1e-3) as usize
        } else {
            0
        };
        let pauses = self.crossings_s.windows(2).map(|pair| pair[1] - pair[0]);
        TallyMeasured {
            crossed,
            between_s: (
                self.crossings_s.first().copied().unwrap_or(0.0),
                self.crossings_s.last().copied().unwrap_or(0.0),
            ),
            pause_s: pauses.fold(0.0, f64::max),
            out_of_turn_s: self.out_of_turn_s(),
            files,
            ideal_per_s: if width > 0.0 {
                files as f64 * speed / width
            } else {
                0.0
            },
            line: self.line,
        }
    }
}

/// The part of a step after which it crosses a line: ending on it counts, beginning on it does not.
fn crosses((from, to): (Vec2, Vec2), (start, end): (Vec2, Vec2)) -> Option<f32> {
    let side = |point: Vec2| (end - start).perp_dot(point - start);
    let (before, after) = (side(from), side(to));
    if before == 0.0 || (before > 0.0) == (after > 0.0) {
        return None;
    }
    let part = before / (before - after);
    let at = from + (to - from) * part;
    let along = (at - start).dot(end - start);
    (0.0..=(end - start).length_squared())
        .contains(&along)
        .then_some(part)
}
