//! Formations: the slot of each member in a group that keeps its shape.
//!
//! ```text
//!   line        f f f f f f f        column   f f     wedge      f        block   f f f f
//!               a a a a a                     f f               f f               f f f f
//!                                             a a              f f a              f a a a
//!   ↑ ahead     f close fighters, a those     a a             a a a a             a a
//!                 that strike from afar
//! ```
//!
//! [`arranged`] gives each member its offset from the middle. A member's own place is chosen among those for bodies of
//! its rank and width, so that the ways into the formation cross little.
//!
//! ```
//! use yarrick::geom::Vec2;
//! use yarrick::motion::formation::{Form, Formation, FormationMember, arranged};
//!
//! let body = |rank| FormationMember { radius_m: 0.4, rank };
//! let from = [Vec2::ZERO, Vec2::new(0.0, 1.0), Vec2::new(0.0, 2.0)];
//! let line = Formation::new(Form::Line);
//! // A slinger, of rank 1, stands behind two wardens; they look along +x.
//! let offsets = arranged(&line, &[body(0), body(1), body(0)], &from, 0.0);
//! assert!(offsets[1].x < offsets[0].x && offsets[0].x == offsets[2].x);
//! assert!(offsets[0].y < offsets[2].y, "each on its own side");
//! ```
//!
//! It knows no ground: the world moves places on closed ground to free ground.

use super::places::share_out;
use crate::geom::{Vec2, angle};
use serde::{Deserialize, Serialize};

/// The shape of a formation.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Form {
    /// Side by side, in as few rows as there are ranks.
    Line,
    /// Two abreast, one pair behind the other.
    Column,
    /// One at the head, and a row longer by one behind each row.
    Wedge,
    /// Rows of equal length, a little wider than deep.
    Block,
    /// Like a block, but wide apart, each standing in a gap of the row before it.
    Loose,
}

impl Form {
    /// All of them, each with the word for it in scenario files.
    pub const WORDS: [(&'static str, Form); 5] = [
        ("line", Form::Line),
        ("column", Form::Column),
        ("wedge", Form::Wedge),
        ("block", Form::Block),
        ("loose", Form::Loose),
    ];

    /// The word for it in scenario files.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Form::Line => "line",
            Form::Column => "column",
            Form::Wedge => "wedge",
            Form::Block => "block",
            Form::Loose => "loose",
        }
    }
}

/// The largest number of own slots of a formation.
pub const MAX_OWN_SLOTS: usize = 1024;

/// The largest distance of an own slot from the middle of its formation, ahead and to the side, in metres.
pub const MAX_SLOT_M: f32 = 1000.0;

/// Whether there are no more own slots than [`MAX_OWN_SLOTS`], and all lie within [`MAX_SLOT_M`].
#[must_use]
pub fn own_slots_are_sound(slots: &[Vec2]) -> bool {
    let is_near = |slot: &Vec2| slot.abs().cmple(Vec2::splat(MAX_SLOT_M)).all();
    slots.len() <= MAX_OWN_SLOTS && slots.iter().all(is_near)
}

/// How a group goes and stands in formation.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Formation {
    /// The shape.
    pub form: Form,
    /// Slots of its own, as offsets from its middle in metres, `x` ahead and `y` to the left; none for those of the shape.
    /// The foremost rank takes the first of them. If there are more members than slots, the rest stand behind in the shape. At
    /// most [`MAX_OWN_SLOTS`], each within [`MAX_SLOT_M`].
    pub slots: Vec<Vec2>,
    /// Where it looks when it has come to its place, in radians; `None` for the way that it came.
    pub facing: Option<f32>,
    /// How many stand side by side at the most; `None` for what is usual for the shape. A wedge takes no notice.
    pub abreast: Option<u16>,
    /// Whether the slowest sets the pace on the way. If not, the formation goes as fast as the one in its middle, and
    /// who is slower falls behind.
    pub slowest_leads: bool,
}

impl Formation {
    /// A formation of a shape that looks the way that it came, at the pace of the slowest.
    #[must_use]
    pub fn new(form: Form) -> Formation {
        Formation {
            form,
            slots: Vec::new(),
            facing: None,
            abreast: None,
            slowest_leads: true,
        }
    }

    /// A formation with slots of its own. If there are more members than slots, the rest stand in lines behind.
    ///
    /// ```
    /// use yarrick::geom::Vec2;
    /// use yarrick::motion::formation::{Formation, FormationMember, arranged};
    ///
    /// // A horn of three: one at the tip, two wide apart behind it; a fourth comes behind them.
    /// let horn = Formation::of_slots(vec![Vec2::ZERO, Vec2::new(-2.0, 3.0), Vec2::new(-2.0, -3.0)]);
    /// let body = FormationMember { radius_m: 0.4, rank: 0 };
    /// let from = [Vec2::new(0.0, -3.0), Vec2::ZERO, Vec2::new(0.0, 3.0), Vec2::new(-4.0, 0.0)];
    /// let offsets = arranged(&horn, &[body; 4], &from, 0.0);
    /// assert_eq!(offsets[..3], [Vec2::new(-2.0, -3.0), Vec2::ZERO, Vec2::new(-2.0, 3.0)]);
    /// assert!(offsets[3].x < -2.0);
    /// ```
    #[must_use]
    pub fn of_slots(slots: Vec<Vec2>) -> Formation {
        Formation {
            slots,
            ..Formation::new(Form::Line)
        }
    }
}

/// What counts of a member when places are given.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct FormationMember {
    /// Its radius in metres.
    pub radius_m: f32,
    /// The lower, the farther in front.
    pub rank: u8,
}

/// The gap between neighbours in a row and between rows, in radii of the widest of them.
const GAP_RADII: f32 = 0.6;
const LOOSE_GAP_RADII: f32 = 3.0;

/// A line has no longer rows than this unless it is asked for.
const LONGEST_ROW: usize = 20;

/// How much wider than deep a block is.
const BLOCK_WIDTH: f32 = 1.6;

/// The offset of each member from the middle of the formation, in metres: `x` ahead, `y` to the left.
///
/// `from` are the places where the members are now, anywhere in the world, and `facing` is where the formation looks
/// while they take up their places, in radians. Costs `n log n`, and `n²` for ranks of up to 256.
#[must_use]
pub fn arranged(
    formation: &Formation,
    bodies: &[FormationMember],
    from: &[Vec2],
    facing: f32,
) -> Vec<Vec2> {
    let count = bodies.len().min(from.len());
    // The foremost rank first, within it the widest, and equal ones by number: a stable sort.
    let mut order: Vec<usize> = (0..count).collect();
    order.sort_by(|a, b| {
        let (a, b) = (&bodies[*a], &bodies[*b]);
        a.rank.cmp(&b.rank).then(b.radius_m.total_cmp(&a.radius_m))
    });
    let sorted: Vec<FormationMember> = order.iter().map(|k| bodies[*k]).collect();
    let slots = slots(formation, &sorted);
    let mut offsets = vec![Vec2::ZERO; count];
    let own: Vec<Vec2> = local(from, facing);
    let mut first = 0;
    for alike in sorted.chunk_by(|a, b| a == b) {
        let range = first..first + alike.len();
        first = range.end;
        let who = &order[range.clone()];
        let ways: Vec<Vec2> = who.iter().map(|k| own[*k]).collect();
        for (k, given) in who.iter().zip(share_out(&ways, &slots[range])) {
            // There is a place for each.
            offsets[*k] = slots[first - alike.len() + given.unwrap_or(0) as usize];
        }
    }
    offsets
}

/// Points as the formation sees them: about their own middle, `x` ahead.
fn local(from: &[Vec2], facing: f32) -> Vec<Vec2> {
    let ahead = angle::direction(facing);
    let middle = from.iter().copied().sum::<Vec2>() / from.len().max(1) as f32;
    let offset = |at: &Vec2| *at - middle;
    let seen = |at: Vec2| Vec2::new(at.dot(ahead), at.dot(ahead.perp()));
    from.iter().map(offset).map(seen).collect()
}

/// The places, from the front, of bodies that are sorted so: the formation's own, and rows behind them.
fn slots(formation: &Formation, sorted: &[FormationMember]) -> Vec<Vec2> {
    let own = formation.slots.len().min(sorted.len());
    let rows = slots_in_rows(formation, &sorted[own..]);
    if own == 0 {
        return centred(rows);
    }
    let mut slots = formation.slots[..own].to_vec();
    let rear = |(slot, body): (&Vec2, &FormationMember)| slot.x - body.radius_m;
    let rears = slots.iter().zip(sorted).map(rear);
    let widest = sorted[own..].iter().map(|body| body.radius_m);
    let gap = widest.fold(0.0, f32::max) * GAP_RADII;
    let front = rears.fold(f32::INFINITY, f32::min) - gap;
    slots.extend(rows.into_iter().map(|slot| slot + Vec2::new(front, 0.0)));
    slots
}

/// The places, row by row from the front, of bodies that are sorted so. The front lies at `x` zero.
fn slots_in_rows(formation: &Formation, sorted: &[FormationMember]) -> Vec<Vec2> {
    let gap_radii = match formation.form {
        Form::Loose => LOOSE_GAP_RADII,
        _ => GAP_RADII,
    };
    let mut slots = Vec::with_capacity(sorted.len());
    let mut depth = 0.0;
    let mut first = 0;
    for (nth, row) in rows(formation, sorted).into_iter().enumerate() {
        let bodies = &sorted[first..first + row];
        first += row;
        let widest = bodies.iter().map(|body| body.radius_m).fold(0.0, f32::max);
        let gap = widest * gap_radii;
        let width = bodies.iter().map(|body| 2.0 * body.radius_m).sum::<f32>()
            + gap * (row.saturating_sub(1)) as f32;
        // Each in a gap of the row before it.
        let shift = match formation.form {
            Form::Loose if nth % 2 == 1 => widest + gap * 0.5,
            _ => 0.0,
        };
        let mut left = width * 0.5 + shift;
        depth -= if nth == 0 { 0.0 } else { gap };
        for body in bodies {
            slots.push(Vec2::new(depth - widest, left - body.radius_m));
            left -= 2.0 * body.radius_m + gap;
        }
        depth -= 2.0 * widest;
    }
    slots
}

/// How many stand in each row, from the front.
fn rows(formation: &Formation, sorted: &[FormationMember]) -> Vec<usize> {
    let count = sorted.len();
    let abreast = formation.abreast.map(|abreast| usize::from(abreast.max(1)));
    let equal = |of: usize, each: usize| -> Vec<usize> {
        let full = (0..of / each).map(|_| each);
        full.chain(Some(of % each).filter(|rest| *rest > 0))
            .collect()
    };
    match formation.form {
        Form::Line => {
            let ranks = sorted.chunk_by(|a, b| a.rank == b.rank);
            let each = abreast.unwrap_or(LONGEST_ROW);
            // Rows of a rank that is too long for one are as equal as can be.
            ranks
                .flat_map(|rank| {
                    let lines = rank.len().div_ceil(each);
                    equal(rank.len(), rank.len().div_ceil(lines))
                })
                .collect()
        }
        Form::Column => equal(count, abreast.unwrap_or(if count < 4 { 1 } else { 2 })),
        Form::Wedge => {
            let mut rows = Vec::new();
            let mut left = count;
            while left > 0 {
                let row = (rows.len() + 1).min(left);
                rows.push(row);
                left -= row;
            }
            rows
        }
        Form::Block | Form::Loose => {
            let usual = (count as f32 * BLOCK_WIDTH).sqrt().ceil() as usize;
            equal(count, abreast.unwrap_or(usual).max(1))
        }
    }
}

/// The same places about their own middle.
fn centred(mut slots: Vec<Vec2>) -> Vec<Vec2> {
    let least = slots.iter().copied().fold(Vec2::INFINITY, Vec2::min);
    let most = slots.iter().copied().fold(Vec2::NEG_INFINITY, Vec2::max);
    for slot in &mut slots {
        *slot -= (least + most) * 0.5;
    }
    slots
}

/// Where a place of a formation is that has its middle at a point and looks in a direction (radians).
#[must_use]
pub fn placed(offset: Vec2, middle: Vec2, facing: f32) -> Vec2 {
    let ahead = angle::direction(facing);
    middle + ahead * offset.x + ahead.perp() * offset.y
}
