//! One track, and the parts of fields at its ends.

use super::course::Course;
use super::lead::{Ends, Lead};
use super::part::{NewParts, Part, PartKey};
use crate::geom::Vec2;
use crate::ground::steps::{STEPS, offsets};
use crate::ground::{Chart, ClearanceMap, Ground, Tile};
use crate::route::Route;
use crate::route::planner::request::Ask;
use crate::route::turns::Way;
use serde::{Deserialize, Serialize};

/// A cost difference of at most `1 / HARDLY` is ignored. On random maps, routes along tracks then cost 0.2 % more on average
/// than routes found by a search.
const HARDLY: u64 = 32;

/// Typical work to compute a part, in settled cells.
const TYPICAL_PART: u32 = 130;

/// At most `1 / ASIDE` of the cost of a route may be for joining and leaving the track.
const ASIDE: u64 = 10;

/// A long route found for one body.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(in crate::route::planner) struct Track {
    /// The caller's number for the clearance map, and the largest radius that fits, in metres.
    pub(super) body: u16,
    pub(super) radius: f32,
    ends: (Vec2, Vec2),
    /// The work that it took to find it.
    work: u32,
    /// Its number among all that were kept, and the round in which it was used last.
    pub(super) number: u64,
    pub(super) used: u64,
    /// The parts that have been computed, in this order.
    known: Vec<PartKey>,
    #[serde(skip)]
    parts: Vec<Part>,
    #[serde(skip)]
    course: Course,
}

impl Track {
    pub(super) fn new(body: u16, radius: f32, ends: (Vec2, Vec2), work: u32) -> Track {
        Track {
            body,
            radius,
            ends,
            work,
            number: 0,
            used: 0,
            known: Vec::new(),
            parts: Vec::new(),
            course: Course::default(),
        }
    }

    pub(super) fn ends(&self) -> (Vec2, Vec2) {
        self.ends
    }

    pub(super) fn course(&self) -> &Course {
        &self.course
    }

    pub(super) fn cell_count(&self) -> usize {
        self.course.cells.len()
    }

    pub(super) fn part_count(&self) -> usize {
        self.parts.len()
    }

    /// Number of parts that the track has once all that is not saved has been computed again.
    pub(super) fn known_count(&self) -> usize {
        self.known.len()
    }

    /// The sum of the distances from its ends to the start and goal of a request, in metres.
    pub(super) fn apart_m(&self, (from, to): (Vec2, Vec2)) -> f32 {
        self.ends.0.distance(from) + self.ends.1.distance(to)
    }

    /// Stores the route. Returns whether other bodies can use it.
    pub(super) fn lay_out(
        &mut self,
        ground: &Ground,
        clearance: &ClearanceMap,
        way: (Way<'_>, &Route),
    ) -> bool {
        let course = Course::new(ground, clearance, way);
        let is_one = course.is_some();
        self.course = course.unwrap_or_default();
        is_one
    }

    /// Whether the body of a request fits: same clearance map, and no wider.
    pub(super) fn is_for(&self, ask: &Ask<'_>) -> bool {
        self.body == ask.body && self.radius >= ask.radius
    }

    /// Whether the search for this track cost at least `times` as much as a number of parts.
    pub(super) fn saves(&self, parts: u32, times: u32) -> bool {
        parts * TYPICAL_PART * times <= self.work
    }

    /// The parts that must be computed before [`Track::lead`] can answer.
    pub(super) fn missing_parts(&self, chart: &Chart, ends: &Ends, new: &NewParts) -> Vec<PartKey> {
        let both = [(ends.start.tract, false), (ends.goal.tract, true)];
        let missing = both.into_iter().flat_map(|(tract, leads_off)| {
            let beside = (!self.course.comes_through(tract)).then(|| around(chart, tract));
            let beside = beside.into_iter().flatten();
            let needed = beside.filter(|tract| self.course.comes_through(*tract));
            let needed = needed.chain([tract]);
            needed.map(move |tract| PartKey { tract, leads_off })
        });
        missing
            .filter(|key| self.part(*key, new).is_none())
            .collect()
    }

    /// A part that is known, or one of the new ones.
    fn part<'a>(&'a self, key: PartKey, new: &'a NewParts) -> Option<&'a Part> {
        let mut all = self.parts.iter().chain(new.of(self.number));
        all.find(|part| part.key == key)
    }

    /// Computes a part from what is known of the track, and from other new parts. Returns also the work; `None` if it is known, or
    /// its tract is not on the map.
    pub(super) fn compute(
        &self,
        clearance: &ClearanceMap,
        tile: &mut Tile,
        (key, new): (PartKey, &NewParts),
    ) -> Option<(Part, u32)> {
        let chart = clearance.chart()?;
        if key.tract >= chart.tract_count() || self.part(key, new).is_some() {
            return None;
        }
        let is_beside = !self.course.comes_through(key.tract);
        let seeds = if is_beside {
            self.seeds_beside(clearance, chart, (key, new))
        } else {
            self.seeds_within(key)
        };
        let corner = chart.corner(key.tract);
        Some(Part::new(clearance, tile, (key, corner), seeds, is_beside))
    }

    /// Whether a part has been computed and kept.
    pub(super) fn knows(&self, key: PartKey) -> bool {
        self.known.contains(&key)
    }

    /// Adds a part that was computed, unless it is known. Returns whether it was added.
    pub(super) fn add_part(&mut self, part: Part) -> bool {
        let is_new = !self.knows(part.key);
        if is_new {
            self.known.push(part.key);
            self.parts.push(part);
        }
        is_new
    }

    /// Computes all known parts again.
    pub(super) fn redo_parts(
        &mut self,
        clearance: &ClearanceMap,
        tile: &mut Tile,
    ) -> Result<(), &'static str> {
        self.parts.clear();
        for key in core::mem::take(&mut self.known) {
            let part = self.compute(clearance, tile, (key, &NewParts::default()));
            let (part, _) = part.ok_or("a part of a field that does not exist")?;
            self.add_part(part);
        }
        Ok(())
    }

    /// The cells of the track in a tract, each with its cost along the track.
    fn seeds_within(&self, key: PartKey) -> Vec<(u32, u64)> {
        let cost = |number: usize| {
            let gone = self.course.gone[number];
            if key.leads_off {
                gone
            } else {
                self.course.whole() - gone
            }
        };
        let cells = self.course.cells_in(key.tract);
        cells.map(|(number, cell)| (cell, cost(number))).collect()
    }

    /// The cells at the rim of a tract, with their costs by way of known parts in neighbouring tracts.
    fn seeds_beside(
        &self,
        clearance: &ClearanceMap,
        chart: &Chart,
        (key, new): (PartKey, &NewParts),
    ) -> Vec<(u32, u64)> {
        let mut seeds = Vec::new();
        for cell in chart.rim_of(clearance, key.tract) {
            let across = self.across(clearance, chart, (cell, key, new));
            let cost = across.map(|(_, cost)| cost).min();
            seeds.extend(cost.map(|cost| (cell, cost)));
        }
        seeds
    }

    /// The cells of known parts in neighbouring tracts that are one step from a cell at the rim, each with the cost by way of it.
    fn across<'a>(
        &'a self,
        clearance: &'a ClearanceMap,
        chart: &'a Chart,
        (cell, key, new): (u32, PartKey, &'a NewParts),
    ) -> impl Iterator<Item = (u32, u64)> + 'a {
        let offsets = offsets(clearance.stride());
        let steps = clearance.steps_from(cell as usize);
        let taken = (0..STEPS.len()).filter(move |step| steps & 1 << step != 0);
        taken.filter_map(move |step| {
            let next = (cell as usize).wrapping_add_signed(offsets[step]);
            let tract = chart.tract_of(next);
            let part = self.part(PartKey { tract, ..key }, new)?;
            let beside = tract != key.tract && !part.is_beside;
            let cost = beside.then(|| part.cost(next as u32)).flatten()?;
            Some((next as u32, cost + clearance.step_cost(cell as usize, step)))
        })
    }

    /// How to join and leave the track, if that is no detour.
    pub(super) fn lead(
        &self,
        clearance: &ClearanceMap,
        ends: &Ends,
        new: &NewParts,
    ) -> Option<Lead> {
        let chart = clearance.chart()?;
        let (cells, gone) = (&self.course.cells, &self.course.gone);
        let onto = self.way(
            clearance,
            chart,
            (ends.start.cell, ends.start.tract),
            (false, new),
        )?;
        let off = self.way(
            clearance,
            chart,
            (ends.goal.cell, ends.goal.tract),
            (true, new),
        )?;
        let first = cells.iter().rposition(|cell| onto.0.last() == Some(cell))?;
        let last = cells.iter().position(|cell| off.0.last() == Some(cell))?;
        if first > last {
            return None;
        }
        let aside = onto.1 - (self.course.whole() - gone[first]) + off.1 - gone[last];
        let whole = aside + gone[last] - gone[first];
        self.is_no_detour(ends.least, whole, aside).then_some(Lead {
            onto: onto.0,
            first,
            last,
            off: off.0,
        })
    }

    /// Whether a route of cost `whole`, of which `aside` is for joining and leaving the track, is accepted. Either `aside` is
    /// negligible; or `whole` hardly exceeds `least`, the cost without obstacles; or `whole / least` hardly exceeds the same
    /// ratio of the track, and `aside` is small.
    fn is_no_detour(&self, least: u64, whole: u64, aside: u64) -> bool {
        let times = |a: u64, b: u64| u128::from(a) * u128::from(b);
        let is_like_track =
            times(whole - whole / HARDLY, self.course.least) <= times(self.course.whole(), least);
        aside * HARDLY <= whole
            || whole - whole / HARDLY <= least
            || aside * ASIDE <= whole && is_like_track
    }

    /// The cells from a cell to the track, and the cost from there along the track to its end.
    fn way(
        &self,
        clearance: &ClearanceMap,
        chart: &Chart,
        (cell, tract): (u32, u32),
        (leads_off, new): (bool, &NewParts),
    ) -> Option<(Vec<u32>, u64)> {
        let key = PartKey { tract, leads_off };
        let part = self.part(key, new)?;
        let cost = part.cost(cell)?;
        let mut way = Vec::new();
        part.add_way(cell, &mut way);
        if part.is_beside {
            let rim = *way.last()?;
            let next = self.across(clearance, chart, (rim, key, new));
            let (next, _) = next.min_by_key(|(next, cost)| (*cost, *next))?;
            let tract = chart.tract_of(next as usize);
            self.part(PartKey { tract, ..key }, new)?
                .add_way(next, &mut way);
        }
        Some((way, cost))
    }
}

/// The tracts next to a tract.
fn around(chart: &Chart, tract: u32) -> impl Iterator<Item = u32> {
    STEPS
        .into_iter()
        .filter_map(move |step| chart.neighbour(tract, step))
}
