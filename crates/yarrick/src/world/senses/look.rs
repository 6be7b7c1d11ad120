//! What a drill can know of the world: the side of it that changes nothing.

use super::names::GROUPS;
use crate::drill::Value;
use crate::geom::Vec2;
use crate::near::Near;
use crate::world::ids::UnitId;
use crate::world::kind::KindId;
use crate::world::sides::Stance;
use crate::world::state::State;

/// The world as the drill of one unit sees it.
#[derive(Clone, Copy)]
pub(crate) struct Look<'a> {
    pub(crate) state: &'a State,
    /// Everybody by place; `None` looks at all one by one.
    pub(crate) near: Option<&'a Near>,
    pub(crate) row: usize,
    /// The number of the drill among those of its kind.
    pub(crate) nth: usize,
    /// The tick in which the state of the drill began.
    pub(crate) since: u64,
}

impl Look<'_> {
    /// The row of a unit that is a value.
    pub(in crate::world) fn row_of(&self, value: Option<&Value>) -> Option<usize> {
        match value {
            Some(Value::Unit(number)) => self.state.units.row(UnitId::of_number(*number)),
            _ => None,
        }
    }

    /// The point of a place that is a value.
    pub(in crate::world) fn point_of(&self, value: Option<&Value>) -> Option<Vec2> {
        let here = self.state.units.position[self.row];
        match value? {
            Value::Point([x, y]) => Some(Vec2::new(*x, *y)),
            Value::Unit(_) => self.row_of(value).map(|row| self.state.middle(row)),
            Value::Place(0) => self.goal(),
            Value::Place(1) => {
                let home = self.state.homes.get(self.state.units.id[self.row]);
                Some(home.copied().unwrap_or(here))
            }
            Value::Place(_) => Some(here),
            _ => None,
        }
    }

    /// The goal of its wave. A unit of the same side that no wave sent makes for the first one.
    fn goal(&self) -> Option<Vec2> {
        let (state, row) = (self.state, self.row);
        let running = state.assault.as_ref()?;
        let sent = state.of_wave.get(state.units.id[row]);
        let is_of_side = state.units.side[row] == running.side;
        let number = match sent {
            Some(sent) => sent.goal,
            None => is_of_side.then_some(0)?,
        };
        running.goals.get(usize::from(number)).map(|goal| goal.at)
    }

    /// The nearest unit of a group within some metres from edge to edge, of those that `counts`; ties by id.
    pub(in crate::world) fn nearest(
        &self,
        who: Option<&Value>,
        within_m: f32,
        counts: impl Fn(usize) -> bool,
    ) -> Option<usize> {
        let Some(Value::Who(group, named)) = who else {
            return None;
        };
        let state = self.state;
        let kind = match named {
            Some(text) => Some(self.kind_called(*text)?),
            None => None,
        };
        let (at, own) = (state.units.position[self.row], state.kind_of(self.row));
        let reach_m = own.reach_m() + within_m + state.derived.farthest;
        let all = self.near.is_none().then_some(0..state.units.len());
        let filed = self.near.map(|near| near.within(at, reach_m));
        let filed = filed.into_iter().flatten().map(|number| number as usize);
        let mut best: Option<(f32, UnitId, usize)> = None;
        for other in all.into_iter().flatten().chain(filed) {
            let is_it = other != self.row
                && kind.is_none_or(|kind| state.units.kind[other] == kind)
                && self.is_of(*group, other);
            if !is_it {
                continue;
            }
            let (gap, id) = (state.gap_m(self.row, other), state.units.id[other]);
            let is_nearer = best.is_none_or(|(known, known_id, _)| {
                gap.total_cmp(&known)
                    .then_with(|| id.cmp(&known_id))
                    .is_lt()
            });
            if gap <= within_m && is_nearer && counts(other) {
                best = Some((gap, id, other));
            }
        }
        best.map(|(_, _, row)| row)
    }

    fn kind_called(&self, text: u16) -> Option<KindId> {
        let name = self.state.rules.program.texts.get(usize::from(text))?;
        let kinds = self.state.rules.kinds.iter();
        let at = kinds.into_iter().position(|kind| kind.name == *name)?;
        Some(KindId(at as u16))
    }

    /// Whether another unit belongs to a group, as this one sees it.
    fn is_of(&self, group: u16, other: usize) -> bool {
        let units = &self.state.units;
        let stance = self
            .state
            .derived
            .stances
            .between(units.side[self.row], units.side[other]);
        match GROUPS.get(usize::from(group)).copied() {
            Some("foe") => stance == Stance::Foe && self.state.kind_of(other).body.health > 0.0,
            Some("friend") => matches!(stance, Stance::Own | Stance::Ally),
            Some("own kind") => stance == Stance::Own && units.kind[other] == units.kind[self.row],
            _ => true,
        }
    }
}
