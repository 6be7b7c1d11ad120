//! The course of a track: its cells, and the route over them pulled straight.

use super::index::set_bits;
use crate::geom::Vec2;
use crate::ground::steps::{STEPS, offsets};
use crate::ground::{Chart, ClearanceMap, Ground, LinkId};
use crate::route::Route;
use crate::route::turns::Way;

/// The course of a track.
#[derive(Clone, Debug, Default)]
pub(super) struct Course {
    /// The cells of the track, as entries, and the cost from the first cell to each.
    pub(super) cells: Vec<u32>,
    pub(super) gone: Vec<u64>,
    /// The cost without obstacles, a lower bound.
    pub(super) least: u64,
    /// The corners of the route pulled straight, without its ends.
    pub(super) corners: Vec<Corner>,
    /// The ends of the route, if the first leg ends at the first corner and the last leg begins at the last corner.
    ends: Option<(Vec2, Vec2)>,
    /// The tracts that it passes through, sorted by number, each with the range of its cells in the tract: the index of the first
    /// cell, and of the first cell after the range. A tract that it enters twice has two entries.
    tracts: Vec<(u32, usize, usize)>,
    /// The tracts that it passes through, and those next to them, by number.
    near: Vec<u32>,
}

/// A corner of a track, in the middle of one of its cells.
#[derive(Clone, Copy, Debug)]
pub(super) struct Corner {
    pub(super) point: Vec2,
    /// The index of the cell.
    pub(super) at: usize,
    /// The link that leads here.
    pub(super) link: Option<LinkId>,
    /// The sign of the turn here: positive to the left.
    pub(super) bend: f32,
}

/// The sign of a turn, positive to the left: twice the area of the triangle.
pub(super) fn bend(before: Vec2, at: Vec2, after: Vec2) -> f32 {
    (at - before).perp_dot(after - at)
}

impl Course {
    /// The course of a route; `None` if other bodies cannot use it.
    pub(super) fn new(
        ground: &Ground,
        clearance: &ClearanceMap,
        (way, route): (Way<'_>, &Route),
    ) -> Option<Course> {
        let chart = clearance.chart()?;
        let cells = way.nodes.to_vec();
        let (gone, tracts) = costs_and_tracts(clearance, chart, way);
        let corners = corners(ground, clearance, &cells, route);
        let (first, last) = (route.points.first()?, route.points.last()?);
        let is_whole = corners.len() + 2 == route.points.len();
        let [start, .., end] = cells[..] else {
            return None;
        };
        Some(Course {
            least: clearance.least_between(start as usize, end as usize),
            gone,
            ends: is_whole.then_some((*first, *last)),
            cells,
            corners,
            near: tracts_near(chart, &tracts),
            tracts,
        })
    }

    /// The cost of the whole track.
    pub(super) fn whole(&self) -> u64 {
        self.gone.last().copied().unwrap_or(0)
    }

    pub(super) fn comes_through(&self, tract: u32) -> bool {
        let first = self.tracts.partition_point(|(known, ..)| *known < tract);
        self.tracts
            .get(first)
            .is_some_and(|(known, ..)| *known == tract)
    }

    /// The tracts that it passes through, and those next to them, each once.
    pub(super) fn near(&self) -> &[u32] {
        &self.near
    }

    /// The cells in a tract, each with its index.
    pub(super) fn cells_in(&self, tract: u32) -> impl Iterator<Item = (usize, u32)> {
        let first = self.tracts.partition_point(|(known, ..)| *known < tract);
        let here = self.tracts[first..].iter();
        let here = here.take_while(move |(known, ..)| *known == tract);
        here.flat_map(|(_, first, end)| (*first..*end).map(|at| (at, self.cells[at])))
    }

    /// The last corner before a cell, or the start of the track.
    pub(super) fn before(&self, cell: usize) -> Option<Vec2> {
        let before = self.corners.iter().rev().find(|corner| corner.at < cell);
        let first = self.ends.map(|ends| ends.0);
        before.map(|corner| corner.point).or(first)
    }

    /// The first corner after a cell, or the end of the track. `None` if a link leads there.
    pub(super) fn after(&self, cell: usize) -> Option<Vec2> {
        let after = self.corners.iter().find(|corner| corner.at > cell);
        let last = self.ends.map(|ends| ends.1);
        let after = after.map(|corner| corner.link.is_none().then_some(corner.point));
        after.unwrap_or(last)
    }
}

/// Some tracts and those next to them, each once, by number.
fn tracts_near(chart: &Chart, tracts: &[(u32, usize, usize)]) -> Vec<u32> {
    let mut near = vec![0_u64; chart.tract_count().div_ceil(64) as usize];
    for (tract, ..) in tracts {
        let around = STEPS
            .into_iter()
            .filter_map(|step| chart.neighbour(*tract, step));
        for tract in around.chain([*tract]) {
            near[tract as usize / 64] |= 1 << (tract % 64);
        }
    }
    set_bits(near.into_iter())
        .map(|tract| tract as u32)
        .collect()
}

/// The corners of a route that are centres of its cells.
fn corners(ground: &Ground, clearance: &ClearanceMap, cells: &[u32], route: &Route) -> Vec<Corner> {
    let mut corners = Vec::new();
    let mut links = route.links.iter().peekable();
    let mut from = 0;
    for (around, number) in route.points.windows(3).zip(1_u32..) {
        let point = around[1];
        let link = links.next_if(|(at, _)| *at == number);
        let here = ground.nearest_cell(point);
        let here = clearance
            .node(here)
            .filter(|_| ground.centre(here) == point);
        let is_here = |cell: &u32| Some(*cell as usize) == here;
        if let Some(found) = cells[from..].iter().position(is_here) {
            from += found;
            corners.push(Corner {
                point,
                at: from,
                link: link.map(|(_, link)| *link),
                bend: bend(around[0], point, around[2]),
            });
        }
    }
    corners
}

/// The cost from the first cell of a way to each, and the tracts that it passes through, sorted, each with the index of the first
/// cell there and of the first after them.
fn costs_and_tracts(
    clearance: &ClearanceMap,
    chart: &Chart,
    way: Way<'_>,
) -> (Vec<u64>, Vec<(u32, usize, usize)>) {
    let offsets = offsets(clearance.stride());
    let mut links = way.links.iter().peekable();
    // Most steps are like the one before.
    let (mut last, mut step) = (0, None);
    let mut place = way
        .nodes
        .first()
        .map_or((0, 0), |node| clearance.place(*node as usize));
    let mut cost = 0;
    let mut costs = Vec::with_capacity(way.nodes.len());
    costs.push(cost);
    let mut here = (chart.tract_at(place), 0, 1);
    let mut tracts = Vec::new();
    for (pair, number) in way.nodes.windows(2).zip(1_usize..) {
        let [from, to] = [pair[0] as usize, pair[1] as usize];
        let offset = to as isize - from as isize;
        if offset != last {
            last = offset;
            step = offsets.iter().position(|known| *known == offset);
        }
        let link = links.next_if(|(at, _)| *at as usize == number);
        match (link, step) {
            (None, Some(step)) => {
                cost += clearance.step_cost(from, step);
                place = (place.0 + STEPS[step].0, place.1 + STEPS[step].1);
            }
            (link, _) => {
                let mut hops = clearance.hops_from(from).map(|(_, hop)| hop);
                let hop = link.and_then(|(_, link)| hops.find(|hop| hop.link == link.0));
                cost += hop.map_or(0, |hop| hop.cost);
                place = clearance.place(to);
            }
        }
        costs.push(cost);
        let tract = chart.tract_at(place);
        if tract != here.0 {
            tracts.push(here);
            here = (tract, number, number);
        }
        here.2 = number + 1;
    }
    tracts.push(here);
    tracts.sort_unstable();
    (costs, tracts)
}
