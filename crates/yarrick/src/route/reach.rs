//! How near a body can get to a point, answered from the connected regions without a search.

use crate::geom::{Rect, Vec2};
use crate::ground::{Cell, ClearanceMap, Ground, GroundView, Region};
use serde::{Deserialize, Serialize};

/// The most work that [`reach`] takes, counted in cells that a search settles, but on maps where the goal lies in the midst of
/// closed ground with reachable cells in many directions about equally far off.
pub(super) const MOST_WORK: u32 = 6000;

/// Why a body cannot stand at the point that was asked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum Shortfall {
    /// The point lies off the map.
    #[error("the point lies off the map")]
    OffMap,
    /// The ground at the point cannot be walked on.
    #[error("the ground there is closed")]
    Closed,
    /// The ground at the point is open, but too narrow for a body of this radius.
    #[error("it is too narrow there for a body of this size")]
    TooNarrow,
    /// The point could be stood on, but no way leads to it.
    #[error("it is cut off")]
    CutOff,
    /// Others stand there already.
    #[error("others stand there")]
    Crowded,
}

/// The point nearest to a goal that a body can walk to.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Reach {
    /// Where it can go.
    pub point: Vec2,
    /// The cell of that point.
    pub cell: Cell,
    /// Why that is not the goal itself; `None` where it is, or where it only keeps the body
    /// from touching a wall beside it.
    pub short: Option<Shortfall>,
    /// Number of cells looked at to find it.
    pub settled: u32,
}

impl Reach {
    /// Whether going there brings a body from `from` nearer to `goal`, by half a cell or more.
    #[must_use]
    pub fn leads_nearer(&self, from: Vec2, goal: Vec2, cell_m: f32) -> bool {
        self.point.distance(goal) + cell_m * 0.5 <= from.distance(goal)
    }
}

/// The point nearest to `goal`, by straight distance, that a body of `radius` in `region` can walk to. Of points equally
/// near, to the millimetre, the one nearest to `from`.
/// `None` only where `goal` is not finite or the region is not one of this clearance map.
///
/// `from` is the position of the body, in its region or near it.
///
/// Takes constant time where the goal can be reached. Otherwise looks at the cells nearer to the goal than the answer. After
/// about 1,024 of them it looks at all cells that the body can reach, if they are at most 1,024; else at an index with an entry
/// for each 32 by 32 cells of the map, and at the cells of the nearest few of these squares.
#[must_use]
pub fn reach(
    ground: &Ground,
    clearance: &ClearanceMap,
    radius: f32,
    region: Region,
    (from, goal): (Vec2, Vec2),
) -> Option<Reach> {
    if !goal.is_finite() {
        return None;
    }
    let view = ground.view(clearance.gait());
    match cell_in_reach(ground, clearance, radius, region, goal) {
        Ok(cell) => {
            let is_led_to = |cell| is_led_to(clearance, region, cell);
            let (cell, point) = end_at(view, clearance, radius, (cell, goal), is_led_to);
            Some(Reach {
                point,
                cell,
                short: None,
                settled: 0,
            })
        }
        Err(short) => {
            let (cell, point, settled) =
                nearest_reached(view, clearance, region, radius, (from, goal))?;
            Some(Reach {
                point,
                cell,
                short: Some(short),
                settled,
            })
        }
    }
}

/// The cell to which a body can walk from a region that is nearest to a goal, the point there, and the number of cells
/// looked at.
fn nearest_reached(
    view: GroundView<'_>,
    clearance: &ClearanceMap,
    region: Region,
    radius: f32,
    (from, goal): (Vec2, Vec2),
) -> Option<(Cell, Vec2, u32)> {
    let ground = view.ground();
    let bounds = ground.bounds();
    let away = Away::new(bounds, goal);
    clearance.nearest_led_to(away.rim, (from, region), &mut |cell, best_m| {
        // A little inside, so that the point belongs to the cell.
        let edge = ground.outline(cell).nearest(away.goal);
        let inside = edge.lerp(ground.centre(cell), 0.02);
        if away.of(edge) > best_m {
            return None;
        }
        let is_farther = |point: Vec2| away.of(point) > best_m;
        let point = nearest_clear_unless(view, radius, (cell, inside), is_farther)?;
        Some(((away.of(point), point.distance(from)), point))
    })
}

/// How points of the map rank by their distance to a goal that may lie off it.
struct Away {
    goal: Vec2,
    /// The point of the map nearest to the goal.
    rim: Vec2,
}

impl Away {
    fn new(bounds: Rect, goal: Vec2) -> Away {
        // From farther off, distances no longer differ by what single precision can hold.
        let most = bounds.size() * 16.0;
        let goal = goal.clamp(bounds.min - most, bounds.max + most);
        let rim = bounds.nearest(goal);
        Away { goal, rim }
    }

    /// Grows with the distance from the goal, in metres rounded to millimetres, and is at least the distance from the rim.
    fn of(&self, point: Vec2) -> f32 {
        // |point - goal|² - |rim - goal|², as differences of squares: exact enough for goals far off.
        let axis = |point: f32, rim: f32, goal: f32| {
            let (point, rim, goal) = (f64::from(point), f64::from(rim), f64::from(goal));
            (point - rim) * (point + rim - 2.0 * goal)
        };
        let square =
            axis(point.x, self.rim.x, self.goal.x) + axis(point.y, self.rim.y, self.goal.y);
        ((square.max(0.0).sqrt() * 1000.0).round() / 1000.0) as f32
    }
}

/// The cell from which a body in `region` can walk straight to a point: the cell of the point, or if the body fits at the point but not in
/// the middle of that cell, the nearest cell in sight. An error if the body cannot reach the point.
pub(crate) fn cell_in_reach(
    ground: &Ground,
    clearance: &ClearanceMap,
    radius: f32,
    region: Region,
    point: Vec2,
) -> Result<Cell, Shortfall> {
    let cell = ground.cell_at(point).ok_or(Shortfall::OffMap)?;
    let view = ground.view(clearance.gait());
    if !view.is_open(cell) {
        return Err(Shortfall::Closed);
    }
    let is_led_to = |cell| is_led_to(clearance, region, cell);
    if clearance.is_open(cell) {
        return is_led_to(cell).then_some(cell).ok_or(Shortfall::CutOff);
    }
    cell_in_sight(view, clearance, radius, point, is_led_to).ok_or_else(|| {
        match cell_in_sight(view, clearance, radius, point, |_| true) {
            Some(_) => Shortfall::CutOff,
            None => Shortfall::TooNarrow,
        }
    })
}

/// Whether a way leads to a cell from a region.
fn is_led_to(clearance: &ClearanceMap, region: Region, cell: Cell) -> bool {
    let to = clearance.region(cell);
    to.is_some_and(|to| clearance.leads_to(region, to))
}

/// The last cell of a way to a point, and where the way ends: at the point if the body fits there and sees the middle of a cell, else at
/// the nearest point on the line to the middle of `cell`.
pub(super) fn end_at(
    view: GroundView<'_>,
    clearance: &ClearanceMap,
    radius: f32,
    (cell, point): (Cell, Vec2),
    fits: impl Fn(Cell) -> bool,
) -> (Cell, Vec2) {
    if view.line_is_clear(point, view.ground().centre(cell), radius) {
        return (cell, point);
    }
    match cell_in_sight(view, clearance, radius, point, fits) {
        Some(other) => (other, point),
        None => (cell, nearest_clear(view, radius, cell, point)),
    }
}

/// The nearest cell for which `fits` returns true and to whose middle a body can walk straight from a point. `None` also if the body does
/// not fit at the point.
pub(super) fn cell_in_sight(
    view: GroundView<'_>,
    clearance: &ClearanceMap,
    radius: f32,
    point: Vec2,
    fits: impl Fn(Cell) -> bool,
) -> Option<Cell> {
    let ground = view.ground();
    let own = ground.cell_at(point)?;
    if !view.disc_is_clear(point, radius) {
        return None;
    }
    let span = (radius / ground.cell_m()) as i32 + 2;
    let is_near = |cell: Cell| (cell.x - own.x).abs().max((cell.y - own.y).abs()) <= span;
    let is_seen = |cell| view.line_is_clear(point, ground.centre(cell), radius);
    // A cell on a diagonal is farther off than the ring on which it lies.
    let wide = 4 * span as usize + 7;
    let fits = |cell| is_near(cell) && fits(cell) && is_seen(cell);
    clearance.nearest_within(point, wide * wide, fits).ok()?
}

/// Where a body sets foot on the grid.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Footing {
    pub(crate) cell: Cell,
    /// A point to walk to first, where a corner stands between the body and the cell's middle.
    pub(super) via: Option<Vec2>,
}

/// The cell from which a body that stands at `from` begins its way: its own, if it can walk to its
/// middle straight or with a step aside, or else the nearest other. `None` where it stands in
/// closed ground.
pub(crate) fn footing(
    ground: &Ground,
    clearance: &ClearanceMap,
    radius: f32,
    from: Vec2,
) -> Option<Footing> {
    let own = ground.cell_at(from)?;
    let view = ground.view(clearance.gait());
    if !view.disc_is_clear(from, radius) {
        return None;
    }
    let in_sight = |at: Vec2, cell| view.line_is_clear(at, ground.centre(cell), radius);
    let nearest_from = |at: Vec2| cell_in_sight(view, clearance, radius, at, |_| true);
    let own_from = |at: Vec2| (clearance.is_open(own) && in_sight(at, own)).then_some(own);
    let aside = || {
        let vias = steps_aside(ground.cell_m()).map(|step| from + step);
        vias.filter(|via| view.line_is_clear(from, *via, radius))
    };
    let by_way_of = |via: Option<Vec2>| move |cell| Footing { cell, via };
    // Its own cell goes before all others, even with a step aside: another that is in sight may
    // belong to another part of the ground.
    own_from(from)
        .map(by_way_of(None))
        .or_else(|| aside().find_map(|at| own_from(at).map(by_way_of(Some(at)))))
        .or_else(|| nearest_from(from).map(by_way_of(None)))
        .or_else(|| aside().find_map(|at| nearest_from(at).map(by_way_of(Some(at)))))
}

/// The free place for a body that is nearest to a point, or nearly so: the middle of a cell, or a point
/// on the way there.
pub(crate) fn nearest_free(
    view: GroundView<'_>,
    clearance: &ClearanceMap,
    radius: f32,
    from: Vec2,
) -> Option<Vec2> {
    let cell = clearance.nearest(from, |_| true)?;
    Some(nearest_clear(view, radius, cell, from))
}

/// Where a body sets foot on the grid, or would after it has walked out of closed ground.
pub(crate) fn footing_or_free(
    ground: &Ground,
    clearance: &ClearanceMap,
    radius: f32,
    from: Vec2,
) -> Option<Footing> {
    footing(ground, clearance, radius, from).or_else(|| {
        let free = nearest_free(ground.view(clearance.gait()), clearance, radius, from)?;
        footing(ground, clearance, radius, free)
    })
}

/// The same for a way to a goal: if several regions are in sight, as beside walls and in diagonal gaps, a cell of a region that leads to
/// the goal.
pub(crate) fn footing_towards(
    ground: &Ground,
    clearance: &ClearanceMap,
    radius: f32,
    (from, goal): (Vec2, Vec2),
) -> Option<Footing> {
    let first = footing_or_free(ground, clearance, radius, from)?;
    let leads_there = |cell| {
        let region = clearance.region(cell);
        let reaches = |region| cell_in_reach(ground, clearance, radius, region, goal).is_ok();
        region.is_some_and(reaches)
    };
    if leads_there(first.cell) {
        return Some(first);
    }
    let view = ground.view(clearance.gait());
    let other = cell_in_sight(view, clearance, radius, from, leads_there);
    Some(other.map_or(first, |cell| Footing { cell, via: None }))
}

/// Short steps in eight directions, the shortest first.
fn steps_aside(cell_m: f32) -> impl Iterator<Item = Vec2> {
    const DIRECTIONS: [Vec2; 8] = [
        Vec2::new(1.0, 0.0),
        Vec2::new(0.7, 0.7),
        Vec2::new(0.0, 1.0),
        Vec2::new(-0.7, 0.7),
        Vec2::new(-1.0, 0.0),
        Vec2::new(-0.7, -0.7),
        Vec2::new(0.0, -1.0),
        Vec2::new(0.7, -0.7),
    ];
    [0.05, 0.15, 0.3, 0.5]
        .into_iter()
        .flat_map(move |length| DIRECTIONS.map(|direction| direction * length * cell_m))
}

/// The point nearest to `wanted`, on the line from it to the middle of its open cell, that can
/// be walked to from there.
pub(super) fn nearest_clear(view: GroundView<'_>, radius: f32, cell: Cell, wanted: Vec2) -> Vec2 {
    let found = nearest_clear_unless(view, radius, (cell, wanted), |_| false);
    found.unwrap_or(view.ground().centre(cell))
}

/// The same, given up as soon as it is known to lie beyond a point of the line for which `is_too_far` returns true.
fn nearest_clear_unless(
    view: GroundView<'_>,
    radius: f32,
    (cell, wanted): (Cell, Vec2),
    is_too_far: impl Fn(Vec2) -> bool,
) -> Option<Vec2> {
    let centre = view.ground().centre(cell);
    if view.line_is_clear(wanted, centre, radius) {
        return Some(wanted);
    }
    // What is clear up to a point is clear up to any before it, so halving finds the edge.
    let (mut blocked, mut clear) = (0.0_f32, 1.0_f32);
    for _ in 0..10 {
        let middle = (blocked + clear) * 0.5;
        if view.line_is_clear(wanted.lerp(centre, middle), centre, radius) {
            clear = middle;
        } else {
            blocked = middle;
            if is_too_far(wanted.lerp(centre, blocked)) {
                return None;
            }
        }
    }
    Some(wanted.lerp(centre, clear))
}
