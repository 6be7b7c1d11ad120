//! Where a group can stand that was sent to one point, and which member goes to which place.
//!
//! Places lie on a triangular lattice round the point, the densest packing of discs, and only
//! where one gets to from the point by a short walk: nobody is sent to the far side of a wall.
//!
//! ```text
//!      o   o   o
//!    o   o   o   o        o  a place, two radii and a little from the next
//!      o   X   o          X  the point itself
//!    o   o   o   o
//! ```

use crate::geom::Vec2;
use crate::ground::{Cell, ClearanceMap, Ground};
use crate::near::Claims;
use std::collections::VecDeque;

/// The gap left between neighbours, as a part of their radius.
const GAP: f32 = 0.12;

/// How many cells the flood may look at besides those that the group covers.
const SPARE_CELLS: usize = 4096;

/// A search for places: what is the same for all members.
#[derive(Clone, Copy, Debug)]
pub struct Gathering<'a> {
    /// The map.
    pub ground: &'a Ground,
    /// The map as the members find it.
    pub clearance: &'a ClearanceMap,
    /// Places that others hold, or go to.
    pub claims: &'a Claims,
    /// The point that the group was sent to.
    pub point: Vec2,
    /// An open cell of the clearance map from which a member gets straight to the point: that of the point, or one beside it.
    pub start: Cell,
    /// The radius of the widest member, in metres.
    pub radius: f32,
}

/// The workspace of the flood, reused between searches.
#[derive(Clone, Debug, Default)]
pub struct Flood {
    /// In which run each entry was seen, a page at a time: most floods see little of a large map.
    seen: Vec<Vec<u32>>,
    run: u32,
    frontier: VecDeque<Cell>,
}

/// Entries in a page of the workspace.
const PAGE: usize = 4096;

impl Gathering<'_> {
    /// Up to `count` free places, nearest to the point first. Fewer where the ground round the
    /// point holds no more.
    ///
    /// Costs in proportion to the ground that the group and those already there cover.
    #[must_use]
    pub fn find(&self, count: usize, flood: &mut Flood) -> Vec<Vec2> {
        let spacing = self.radius * (2.0 + GAP);
        let cells_each = spacing * spacing / self.ground.cell_m() / self.ground.cell_m();
        let budget = SPARE_CELLS + (16.0 * cells_each * count as f32) as usize;
        // The flood grows as a diamond; this many more contain the disc of the nearest ones.
        let enough = count + count / 3 + 7;
        let mut places = Vec::with_capacity(enough.min(4096));
        flood.start(self.clearance, self.start);
        // No flood comes to a cell in whose middle there is no room.
        let comes_there = self.ground.cell_at(self.point) == Some(self.start);
        if !comes_there && self.is_free(self.point) {
            places.push(self.point);
        }
        for _ in 0..budget {
            let Some(cell) = flood.next(self.clearance) else {
                break;
            };
            self.collect(cell, spacing, &mut places);
            if places.len() >= enough || (count == 1 && places.first() == Some(&self.point)) {
                break;
            }
        }
        let distance = |place: &Vec2| place.distance_squared(self.point);
        // A stable sort: places as far as each other keep the order of the flood.
        places.sort_by(|a, b| distance(a).total_cmp(&distance(b)));
        places.truncate(count);
        places
    }

    /// Adds the free lattice places that lie in the cell.
    fn collect(&self, cell: Cell, spacing: f32, places: &mut Vec<Vec2>) {
        let rect = self.ground.cell_rect(cell);
        let row_height = spacing * 0.866_025_4;
        let (low, high) = (rect.min - self.point, rect.max - self.point);
        let rows = (low.y / row_height).ceil() as i32..;
        for row in rows.take_while(|row| *row as f32 * row_height < high.y) {
            let shift = if row.rem_euclid(2) == 1 { 0.5 } else { 0.0 };
            let columns = (low.x / spacing - shift).ceil() as i32..;
            let across = |column: i32| (column as f32 + shift) * spacing;
            for column in columns.take_while(|column| across(*column) < high.x) {
                let place = self.point + Vec2::new(across(column), row as f32 * row_height);
                if self.ground.cell_at(place) == Some(cell) && self.is_free(place) {
                    places.push(place);
                }
            }
        }
    }

    /// Whether a member can stand at a place, and nobody else claims it.
    fn is_free(&self, place: Vec2) -> bool {
        let view = self.ground.view(self.clearance.gait());
        self.claims.is_free(place, self.radius) && view.disc_is_clear(place, self.radius)
    }
}

impl Flood {
    fn start(&mut self, clearance: &ClearanceMap, start: Cell) {
        let pages = clearance.weights().len().div_ceil(PAGE);
        if self.seen.len() != pages || self.run == u32::MAX {
            self.seen.clear();
            self.seen.resize(pages, Vec::new());
            self.run = 0;
        }
        self.run += 1;
        self.frontier.clear();
        self.reach(clearance, start);
    }

    /// The next open cell, nearest on foot first.
    fn next(&mut self, clearance: &ClearanceMap) -> Option<Cell> {
        let cell = self.frontier.pop_front()?;
        for beside in clearance.lattice().beside(cell) {
            self.reach(clearance, beside);
        }
        Some(cell)
    }

    fn reach(&mut self, clearance: &ClearanceMap, cell: Cell) {
        if let Some(node) = clearance.node(cell)
            && clearance.weights()[node] > 0
        {
            let page = &mut self.seen[node / PAGE];
            if page.is_empty() {
                page.resize(PAGE, 0);
            }
            if core::mem::replace(&mut page[node % PAGE], self.run) != self.run {
                self.frontier.push_back(cell);
            }
        }
    }
}

/// Shares `places` out among members that stand at `members`, so that ways are short and cross
/// little: the answer gives the number of the place of each member, in the order of `members`.
/// Where there are fewer places than members, the last ones get none.
///
/// Members and places are sorted into ranks along the way and within these from side to side;
/// then pairs swap while that shortens the sum of squared ways. Costs `n log n`, and `n²` for
/// groups of up to 256.
#[must_use]
pub fn share_out(members: &[Vec2], places: &[Vec2]) -> Vec<Option<u32>> {
    let count = members.len().min(places.len());
    let mut given = vec![None; members.len()];
    if count == 0 {
        return given;
    }
    let heading = (mean(places) - mean(members)).normalize_or(Vec2::X);
    // Where places are short, those with the shortest way get one.
    let chosen = nearest_to(members, mean(places), count);
    let ranked_members = in_ranks(members, chosen, heading);
    let ranked_places = in_ranks(places, (0..count as u32).collect(), heading);
    for (member, place) in ranked_members.iter().zip(&ranked_places) {
        given[*member as usize] = Some(*place);
    }
    if count <= 256 {
        swap_crossings(members, places, &ranked_members, &mut given);
    }
    given
}

fn nearest_to(members: &[Vec2], goal: Vec2, count: usize) -> Vec<u32> {
    let mut chosen: Vec<u32> = (0..members.len() as u32).collect();
    if count < members.len() {
        let distance = |k: &u32| members[*k as usize].distance_squared(goal);
        chosen.sort_by(|a, b| distance(a).total_cmp(&distance(b)));
        chosen.truncate(count);
        chosen.sort_unstable();
    }
    chosen
}

/// Sorts into ranks of equal size, the foremost first, and each rank from left to right.
fn in_ranks(points: &[Vec2], mut chosen: Vec<u32>, heading: Vec2) -> Vec<u32> {
    let ahead = |k: &u32| points[*k as usize].dot(heading);
    let aside = |k: &u32| points[*k as usize].dot(heading.perp());
    let rank = (chosen.len() as f32).sqrt().ceil() as usize;
    // Stable sorts: ties by number.
    chosen.sort_by(|a, b| ahead(b).total_cmp(&ahead(a)));
    for members in chosen.chunks_mut(rank.max(1)) {
        members.sort_by(|a, b| aside(b).total_cmp(&aside(a)));
    }
    chosen
}

/// Swaps the places of two members while that shortens the sum of their squared ways. Two
/// straight ways that cross always gain by it.
fn swap_crossings(members: &[Vec2], places: &[Vec2], order: &[u32], given: &mut [Option<u32>]) {
    const ROUNDS: usize = 8;
    let cost = |member: u32, place: Option<u32>| {
        place.map_or(0.0, |place| {
            members[member as usize].distance_squared(places[place as usize])
        })
    };
    for _ in 0..ROUNDS {
        let mut swapped = false;
        for (k, &a) in order.iter().enumerate() {
            for &b in &order[k + 1..] {
                let (mine, theirs) = (given[a as usize], given[b as usize]);
                let now = cost(a, mine) + cost(b, theirs);
                if cost(a, theirs) + cost(b, mine) < now * 0.9999 {
                    given.swap(a as usize, b as usize);
                    swapped = true;
                }
            }
        }
        if !swapped {
            break;
        }
    }
}

fn mean(points: &[Vec2]) -> Vec2 {
    let sum: Vec2 = points.iter().copied().sum();
    sum / points.len().max(1) as f32
}
