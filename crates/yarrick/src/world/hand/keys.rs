//! What keys and buttons do to the selection of a hand: kinds, idle workers, control groups.

use super::{Hand, Recalled};
use crate::geom::Vec2;
use crate::select::NoSuchGroup;
use crate::world::{KindId, World};

impl Hand {
    /// Selects all units of a kind, wherever they are.
    pub fn select_all_of_kind(&mut self, world: &World, kind: KindId) {
        self.selection.replace(world.all_of_kind(self.side, kind));
    }

    /// Selects all units of a kind that the camera shows.
    pub fn select_kind_in_view(&mut self, world: &World, kind: KindId) {
        let found = self.kind_in_view(world, self.side, kind);
        self.selection.replace(found);
    }

    /// Selects the next worker without an order, and gives its position. After the last one comes
    /// the first again; `None` where all are at work.
    pub fn next_idle_worker(&mut self, world: &World) -> Option<Vec2> {
        let idle = world.idle_workers(self.side);
        let next = idle.iter().find(|id| Some(**id) > self.last_idle);
        let next = *next.or(idle.first())?;
        self.last_idle = Some(next);
        self.selection.replace([next]);
        world.unit(next).map(|unit| unit.position())
    }

    /// Makes a control group of what is selected.
    ///
    /// # Errors
    /// [`NoSuchGroup`] for a number above 9.
    pub fn set_group(&mut self, number: usize) -> Result<(), NoSuchGroup> {
        self.groups.set(number, self.selection.ids().to_vec())
    }

    /// Adds what is selected to a control group.
    ///
    /// # Errors
    /// [`NoSuchGroup`] for a number above 9.
    pub fn add_to_group(&mut self, number: usize) -> Result<(), NoSuchGroup> {
        self.groups.add(number, self.selection.ids().to_vec())
    }

    /// Selects a control group, as far as it lives. Recalled twice at once, it says where to
    /// look.
    ///
    /// # Errors
    /// [`NoSuchGroup`] for a number above 9.
    pub fn recall_group(
        &mut self,
        world: &World,
        number: usize,
        time_s: f64,
    ) -> Result<Recalled, NoSuchGroup> {
        self.forget_the_gone(world);
        let (members, again) = self.groups.recall(number, time_s)?;
        self.selection.replace(members.to_vec());
        let lead = self.selection.lead().filter(|_| again);
        let lead = lead.and_then(|id| world.unit(id));
        Ok(Recalled {
            look_at: lead.map(|unit| unit.position()),
        })
    }
}
