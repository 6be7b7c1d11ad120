//! Fields that groups share: worked out by and by, kept while they are of use, at most a few.

use super::budget::{Budget, KEPT_ROUNDS};
use super::request::{Ask, Group};
use crate::ground::{Cell, ClearanceMap, Ground, Patch};
use crate::route::descent::Slope;
use crate::route::leaps::Leaps;
use crate::route::work::{BEGUN_A_CELL, SPREAD_A_CELL};
use crate::route::{Goal, GoalField, reach};
use serde::{Deserialize, Serialize};

/// The most fields that are kept.
const MOST: usize = 4;

/// Maximum number of cells that are looked at to mend a field. One of which more has changed is begun anew.
const MOST_MENDED: u32 = 2000;

/// Work of a cell that is mended, in settled cells.
const MENDED_CELLS: u32 = 2;

/// A way down the field of a group, by the first legs of earlier routes.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(super) struct Down {
    pub(super) group: Group,
    /// The number of these legs.
    pub(super) leaps: usize,
}

/// What came of asking for a route.
pub(super) enum Served {
    /// The field of its group leads there.
    ByField(Down),
    /// The budget did not suffice.
    UnderWay,
    /// Fields are of no use here.
    NotHere,
}

/// The fields that are kept.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(super) struct Fields(Vec<Shared>);

#[derive(Clone, Debug, Serialize, Deserialize)]
struct Shared {
    group: Group,
    /// Worked out again from what follows.
    #[serde(skip)]
    field: GoalField,
    /// The work that it was allowed since it was begun or last begun anew.
    allowed: Vec<u32>,
    /// The radius of the widest body that went down it, in metres: all that follows is for that.
    radius: f32,
    /// From where ways down the field were looked at since it changed last, and the work that was allowed.
    traced: Vec<(Cell, u32)>,
    /// Legs of routes down the field.
    leaps: Leaps,
    /// The round in which it was used last.
    used: u64,
}

impl Fields {
    pub(super) fn settled(&self, group: Group) -> Option<u32> {
        self.of(group).map(|shared| shared.field.settled_count())
    }

    fn of(&self, group: Group) -> Option<&Shared> {
        self.0.iter().find(|shared| shared.group == group)
    }

    /// The field of a way down it, if it is kept.
    pub(super) fn slope(&self, down: Down) -> Option<Slope<'_>> {
        self.of(down.group).map(|shared| Slope {
            field: &shared.field,
            leaps: &shared.leaps,
            known: down.leaps,
        })
    }

    /// Adds legs of a route of a body of a radius down the field of a group, unless wider ones go down it, too.
    pub(super) fn note_legs(&mut self, (group, radius): (Group, f32), legs: &[(u32, u32)]) {
        let mut known = self.0.iter_mut();
        let known = known.find(|shared| shared.group == group && shared.radius <= radius);
        if let Some(shared) = known {
            legs.iter()
                .for_each(|(from, to)| shared.leaps.note(*from, *to));
        }
    }

    /// Gets the field of a group ready for a body of a radius. Returns whether ways down it have been forgotten for that: they were
    /// for narrower ones.
    pub(super) fn widen(&mut self, group: Group, radius: f32) -> bool {
        let mut known = self.0.iter_mut();
        let narrow = known.find(|shared| shared.group == group && shared.radius < radius);
        narrow.is_some_and(|shared| {
            shared.radius = radius;
            shared.traced.clear();
            shared.leaps.clear();
            shared.field.forget_anchors();
            true
        })
    }

    /// Whether the field of a group is kept, which is then used.
    pub(super) fn uses(&mut self, group: Group, round: u64) -> bool {
        let known = self.0.iter_mut().find(|shared| shared.group == group);
        known.map(|shared| shared.used = round).is_some()
    }

    pub(super) fn forget_unused(&mut self, round: u64) {
        self.0.retain(|shared| round - shared.used <= KEPT_ROUNDS);
    }

    /// Gives the work.
    pub(super) fn repair(&mut self, body: u16, clearance: &ClearanceMap, touched: Patch) -> u32 {
        let mut work = 0;
        // One whose goal was closed is of no more use.
        self.0.retain_mut(|shared| {
            if shared.group.body != body || touched.is_empty() {
                return true;
            }
            shared.allowed.clear();
            shared.traced.clear();
            shared.leaps.clear();
            let mended = shared.field.repair_within(clearance, touched, MOST_MENDED);
            // A repaired field that is complete equals a newly computed one.
            if shared.field.is_done() {
                shared.allowed.push(u32::MAX);
            } else {
                work += clearance.weights().len() as u32 / BEGUN_A_CELL;
            }
            work += mended.map_or(0, |looked_at| looked_at * MENDED_CELLS);
            mended.is_ok()
        });
        work
    }

    /// Works all out again.
    pub(super) fn redo<'a>(
        &mut self,
        ground: &Ground,
        clearance: impl Fn(u16) -> Option<&'a ClearanceMap>,
    ) -> Result<(), &'static str> {
        for shared in &mut self.0 {
            let known =
                clearance(shared.group.body).ok_or("a field for bodies that do not exist")?;
            if !(0.0..=ClearanceMap::max_radius_m(ground)).contains(&shared.radius) {
                return Err("a field for bodies of no possible radius");
            }
            let field = GoalField::begin(known, &[shared.group.cell()]);
            shared.field = field.map_err(|_| "a field whose goal is closed")?;
            for most in &shared.allowed {
                shared.field.advance(known, *most);
            }
            let view = ground.view(known.gait());
            for (cell, most) in &shared.traced {
                let node = known.node(*cell).ok_or("a way from off the map")?;
                let asked = (node as u32, *most);
                shared.field.look_down(view, known, shared.radius, asked);
            }
        }
        Ok(())
    }

    /// Whether they could have come about: for what was read from a file.
    pub(super) fn is_consistent(&self, round: u64) -> bool {
        self.0.len() <= MOST && self.0.iter().all(|shared| shared.used <= round)
    }

    /// Whether the field of a group leads one of it to its goal. The field is begun if `many` go there.
    pub(super) fn serve(
        &mut self,
        ground: &Ground,
        (group, many, round): (Group, bool, u64),
        budget: &mut Budget,
        ask: &Ask<'_>,
    ) -> Served {
        if !matches!(ask.goal, Goal::Point(_)) {
            return Served::NotHere;
        }
        let at = match self.place(group, many, round, (budget, ask)) {
            Ok(at) => at,
            Err(served) => return served,
        };
        let shared = &mut self.0[at];
        shared.used = round;
        let footing = reach::footing(ground, ask.clearance, ask.radius, ask.from);
        let Some(footing) = footing else {
            return Served::NotHere;
        };
        if !shared.field.knows(ask.clearance, footing.cell) {
            let most = budget.spare().saturating_mul(SPREAD_A_CELL);
            shared.allowed.push(most);
            let settled = shared.field.advance(ask.clearance, most);
            budget.charge(settled.div_ceil(SPREAD_A_CELL));
            if !shared.field.knows(ask.clearance, footing.cell) {
                return Served::UnderWay;
            }
        }
        if shared.field.left_m(ask.clearance, footing.cell).is_none() {
            return Served::NotHere;
        }
        let Some(node) = ask.clearance.node(footing.cell) else {
            return Served::NotHere;
        };
        let (view, most) = (ground.view(ask.clearance.gait()), budget.spare());
        let asked = (node as u32, most);
        let (work, is_done) = shared
            .field
            .look_down(view, ask.clearance, shared.radius, asked);
        if work > 0 {
            shared.traced.push((footing.cell, most));
        }
        budget.charge(work);
        if is_done {
            let leaps = shared.leaps.count();
            Served::ByField(Down { group, leaps })
        } else {
            Served::UnderWay
        }
    }

    /// The index of the field of a group, which is begun if `many` go there.
    fn place(
        &mut self,
        group: Group,
        many: bool,
        round: u64,
        (budget, ask): (&mut Budget, &Ask<'_>),
    ) -> Result<usize, Served> {
        let known = self.0.iter().position(|shared| shared.group == group);
        if let Some(at) = known {
            return Ok(at);
        }
        let cells = ask.clearance.weights().len() as u32 / BEGUN_A_CELL;
        if many && !budget.allows(cells) {
            return Err(Served::UnderWay);
        }
        let begun = many.then(|| self.begin(group, ask, round)).flatten();
        let at = begun.ok_or(Served::NotHere)?;
        budget.charge(cells);
        Ok(at)
    }

    /// Begins the field of a group, in place of the least recently used one if there are too many. Returns its index; `None` if all of
    /// them were used in this round or the one before.
    fn begin(&mut self, group: Group, ask: &Ask<'_>, round: u64) -> Option<usize> {
        let all = self.0.iter().enumerate();
        let oldest = all.min_by_key(|(_, shared)| shared.used);
        let oldest = oldest.filter(|_| self.0.len() >= MOST);
        if let Some((at, shared)) = oldest {
            // Otherwise groups would remove each other's fields in turn.
            if shared.used + 1 >= round {
                return None;
            }
            self.0.remove(at);
        }
        let field = GoalField::begin(ask.clearance, &[group.cell()]).ok()?;
        self.0.push(Shared {
            group,
            field,
            allowed: Vec::new(),
            radius: ask.radius,
            traced: Vec::new(),
            leaps: Leaps::default(),
            used: round,
        });
        Some(self.0.len() - 1)
    }
}
