//! The sorts of order, a file each: its word and keys in scenario files, what is wrong with one, which units can carry
//! it out, and what each of them then does.

mod approach;
mod attack;
mod attack_ground;
mod attack_move;
mod build;
mod call_off;
mod cancel;
mod cancel_production;
mod checks;
mod click;
mod construct;
mod deliver;
mod fire;
mod follow;
mod gather;
mod guard;
mod hold;
mod march;
mod move_to;
mod patrol;
mod posture;
mod produce;
mod rally;
mod reading;
mod stop;

pub use reading::{OrderReader, OrderWriter};

use super::{Dispatch, Minds, resting_place};
use crate::geom::{Vec2, angle};
use crate::world::activity::{Activity, Go};
use crate::world::ids::{OrderNo, SideId};
use crate::world::legs::{self, Member, assign_places};
use crate::world::message::{Action, Finish, Refusal, When};
use crate::world::state::{Destination, GroupNo, March, Place, Scratch, State};

/// A sort of order.
pub(crate) struct OrderKind {
    /// What it is called in scenario files.
    pub(crate) word: &'static str,
    /// The keys that it uses in scenario files, besides those of every order.
    pub(crate) keys: &'static [&'static str],
    /// Reads it. What is missing or wrong was noted by the reader.
    pub(crate) read: fn(&dyn OrderReader) -> Option<Action>,
    /// Writes the keys of one.
    pub(crate) write: fn(&Action, &mut dyn OrderWriter),
    /// What is wrong with one as a whole.
    pub(crate) flaw: fn(&State, SideId, &Action) -> Option<Refusal>,
    /// Why a unit cannot carry it out.
    pub(crate) check: fn(&Asked<'_>, &Action) -> Result<(), Refusal>,
    /// What comes of it.
    pub(crate) effect: Effect,
}

/// What comes of an order.
#[derive(Clone, Copy)]
pub(crate) enum Effect {
    /// Each unit does something, one activity a unit in the order of rows.
    Activities(fn(&mut Prepare<'_>, &Action) -> Vec<Activity>),
    /// Each unit drops what it does.
    Stop,
    /// It is done at once, and does not wait in queues.
    AtOnce(fn(&mut Dispatch<'_>, Taken, &Action)),
    /// Something is done once for all units of a side, and they take up what that comes to.
    Becomes(fn(&mut Dispatch<'_>, SideId, &Action) -> Result<Action, Refusal>),
    /// It becomes what fits for each unit.
    WhatFits,
}

/// A unit that is asked to take up an order.
pub(crate) struct Asked<'a> {
    pub(crate) state: &'a State,
    pub(crate) minds: &'a Minds,
    pub(crate) row: usize,
    pub(crate) when: When,
}

/// An order that a unit has taken up, to be done at once.
#[derive(Clone, Copy)]
pub(crate) struct Taken {
    pub(crate) row: usize,
    pub(crate) number: OrderNo,
    pub(crate) when: When,
}

/// What is known when the activities of an order are made.
pub(crate) struct Prepare<'a> {
    pub(crate) state: &'a State,
    pub(crate) minds: &'a Minds,
    pub(crate) scratch: &'a mut Scratch,
    pub(crate) members: Vec<Member>,
    pub(crate) group: GroupNo,
    /// Whether they begin at once.
    pub(crate) is_now: bool,
    /// The march that the units make, if they go in formation.
    pub(crate) march: Option<March>,
    /// Where each is bound for, by row, if all go to one point.
    pub(crate) bound: Vec<(usize, Destination)>,
}

impl Prepare<'_> {
    /// The same activity for every unit.
    fn each(&self, activity: impl Fn() -> Activity) -> Vec<Activity> {
        self.members.iter().map(|_| activity()).collect()
    }

    /// Sees to it that the places where units will stand are known.
    fn claim(&mut self) {
        let (state, minds) = (self.state, self.minds);
        legs::claim_places(state, self.scratch, |row| resting_place(state, minds, row));
    }

    /// The places of all units at a point.
    fn places_at(&mut self, goal: Vec2) -> Vec<Destination> {
        self.claim();
        let places = assign_places(self.state, self.scratch, &self.members, goal);
        let goal = crate::geom::canonical(goal);
        let places = places.into_iter();
        places.map(|place| Destination { goal, place }).collect()
    }

    /// What each unit does that goes to a point.
    fn go_to(
        &mut self,
        (goal, finish): (Vec2, Finish),
        activity: fn(Go) -> Activity,
    ) -> Vec<Activity> {
        let asked = crate::geom::canonical(goal);
        let goal = match self.group_bound_for(asked) {
            Some((group, goal)) => {
                self.group = group;
                goal
            }
            None => asked,
        };
        let group = self.group;
        let places = self.places_at(goal);
        let rows = self.members.iter().map(|member| member.row);
        self.bound = rows.zip(places.iter().copied()).collect();
        let facing = finish.facing.map(angle::wrap);
        let own = places.into_iter().map(|given| Destination {
            goal: asked,
            place: given.place.map(|place| Place {
                facing,
                within_m: finish.within_m,
                ..place
            }),
        });
        let go = |destination| activity(Go { group, destination });
        own.map(go).collect()
    }

    /// The group of the same side that is under way to a point, if the units go there now, and the point that it was sent
    /// to.
    fn group_bound_for(&mut self, goal: Vec2) -> Option<(GroupNo, Vec2)> {
        let row = self.members.first().filter(|_| self.is_now)?.row;
        let radii = self
            .members
            .iter()
            .map(|member| self.state.units.radius[member.row]);
        let radius_m = radii.fold(f32::INFINITY, f32::min);
        let of = (self.state.units.side[row], goal);
        legs::group_bound_for(self.state, self.scratch, of, radius_m)
    }

    /// What each unit does that goes to a point in formation.
    fn march_to(
        &mut self,
        goal: (Vec2, &crate::motion::formation::Formation),
        activity: fn(Go) -> Activity,
    ) -> Vec<Activity> {
        self.claim();
        let group = self.group;
        let (places, march) = legs::form_up(self.state, self.scratch, &self.members, goal);
        self.march = Some(March { group, ..march });
        let go = |destination| activity(Go { group, destination });
        places.into_iter().map(go).collect()
    }
}

/// All sorts of order, in the order in which the guide explains them.
pub(crate) const ORDERS: [&OrderKind; 23] = [
    &move_to::ORDER,
    &attack_move::ORDER,
    &march::ORDER,
    &patrol::ORDER,
    &attack::ORDER,
    &attack_ground::ORDER,
    &fire::ORDER,
    &approach::ORDER,
    &follow::ORDER,
    &guard::ORDER,
    &hold::ORDER,
    &posture::ORDER,
    &stop::ORDER,
    &cancel::ORDER,
    &rally::ORDER,
    &gather::ORDER,
    &deliver::ORDER,
    &build::ORDER,
    &construct::ORDER,
    &call_off::ORDER,
    &produce::ORDER,
    &cancel_production::ORDER,
    &click::ORDER,
];

/// The sort of order that an action is.
pub(crate) fn kind_of_order(action: &Action) -> &'static OrderKind {
    match action {
        Action::Move { .. } => &move_to::ORDER,
        Action::AttackMove { .. } => &attack_move::ORDER,
        Action::March { .. } => &march::ORDER,
        Action::Patrol { .. } => &patrol::ORDER,
        Action::Attack { .. } => &attack::ORDER,
        Action::Fire { .. } => &fire::ORDER,
        Action::Approach { .. } => &approach::ORDER,
        Action::Follow { .. } => &follow::ORDER,
        Action::Guard { .. } => &guard::ORDER,
        Action::Hold => &hold::ORDER,
        Action::AttackGround { .. } => &attack_ground::ORDER,
        Action::SetPosture { .. } => &posture::ORDER,
        Action::Stop => &stop::ORDER,
        Action::Cancel { .. } => &cancel::ORDER,
        Action::Rally { .. } => &rally::ORDER,
        Action::Gather { .. } => &gather::ORDER,
        Action::Deliver { .. } => &deliver::ORDER,
        Action::Build { .. } => &build::ORDER,
        Action::Construct { .. } => &construct::ORDER,
        Action::CallOff => &call_off::ORDER,
        Action::Produce { .. } => &produce::ORDER,
        Action::CancelProduction { .. } => &cancel_production::ORDER,
        Action::Context { .. } => &click::ORDER,
    }
}

impl Action {
    /// What it is called in scenario files: `"attack-move"`.
    #[must_use]
    pub fn word(&self) -> &'static str {
        kind_of_order(self).word
    }

    /// Writes its keys for a scenario file: reading them gives the very same action.
    pub fn write_keys(&self, writer: &mut dyn OrderWriter) {
        (kind_of_order(self).write)(self, writer);
    }
}
