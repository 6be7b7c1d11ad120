//! Activities: what units do over many ticks, a file each.
//!
//! All have the same shape, [`Behaviour`]. An activity starts; it advances in every tick; it may ask for a *child* to be
//! run first, as an attack-move does when it meets a foe; it hears how legs fared; it hears when the unit that it is
//! about is gone; and it ends with an outcome, or is stopped. It owns all the state that it needs.
//!
//! An activity does not know why it was started. An order starts one, a change may start one, and both lead legs and
//! arms by the same calls: see [`legs`](super::legs) and [`arms`](super::arms).

mod answer;
mod approach;
mod attack;
mod attack_ground;
mod attack_move;
mod chase;
mod closing;
mod construct;
mod dash;
mod deliver;
mod engage;
mod face;
mod fire;
mod flee;
mod follow;
mod gather;
mod go;
mod guard;
mod hold;
mod journey;
mod keep_range;
mod level;
mod patrol;
mod steering;
mod strike;
mod wander;
mod way_round;

pub(crate) use answer::Answer;
pub(crate) use approach::Approach;
pub(crate) use attack::Attack;
pub(crate) use attack_ground::AttackGround;
pub(crate) use attack_move::AttackMove;
pub(crate) use chase::Chase;
pub(crate) use construct::Construct;
pub(crate) use dash::Dash;
pub(crate) use deliver::{AT_DEPOT_M, Deliver};
pub(crate) use engage::Engage;
pub(crate) use face::Face;
pub(crate) use fire::Fire;
pub(crate) use flee::Flee;
pub(crate) use follow::{Follow, line_up};
pub(crate) use gather::Gather;
pub(crate) use go::Go;
pub(crate) use guard::{Guard, GuardPlace};
pub(crate) use hold::Hold;
pub(crate) use journey::{Journey, Toward};
pub(crate) use keep_range::KeepRange;
pub(crate) use level::Level;
pub(crate) use patrol::Patrol;
pub use patrol::PatrolRoute;
pub(crate) use strike::Strike;
pub(crate) use wander::Wander;

use super::arms::{self, Alertness};
use super::ids::UnitId;
use super::kind::{Ability, Kind, Posture};
use super::legs;
use super::message::{Event, Failure, Outcome};
use super::state::{Departure, Events, Owner, Place, Report, Scratch, Sighting, State};
use crate::drill::Faculty;
use serde::{Deserialize, Serialize};
use smallvec::SmallVec;

/// What an activity works with: the world, and the unit that it is the activity of.
pub(crate) struct Act<'a> {
    pub(crate) state: &'a mut State,
    pub(crate) scratch: &'a mut Scratch,
    pub(crate) events: &'a mut Events,
    pub(crate) row: usize,
    /// The foe that the unit has noticed in this tick.
    pub(crate) sighting: Option<Sighting>,
}

impl Act<'_> {
    /// Aims at a foe, and says so.
    pub(crate) fn engage(&mut self, foe: UnitId) {
        arms::aim_at(self.state, self.row, foe);
        let unit = self.state.units.id[self.row];
        self.events.push(Event::Engaged { unit, foe });
    }

    /// Aims at nothing any more.
    pub(crate) fn stand_down(&mut self) {
        arms::lower(self.state, self.row);
    }

    /// Strikes a foe that was noticed within reach, and goes on for as long as it stays there.
    pub(crate) fn strike_in_reach(&mut self) {
        if let Some(sighting) = self.sighting.take() {
            self.engage(sighting.foe);
        }
        arms::keep_in_reach(self.state, self.row);
    }
}

/// How an activity goes on.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Next {
    /// As it does.
    Continue,
    /// This is done first; then the activity is [resumed](Behaviour::resumed).
    RunFirst(Activity),
    /// It is over.
    Ended(Outcome),
}

/// The faculties that an activity needs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(crate) struct Faculties {
    pub(crate) legs: bool,
    pub(crate) arms: bool,
}

impl Faculties {
    pub(crate) const LEGS: Faculties = Faculties {
        legs: true,
        arms: false,
    };
    pub(crate) const ARMS: Faculties = Faculties {
        legs: false,
        arms: true,
    };
    pub(crate) const BOTH: Faculties = Faculties {
        legs: true,
        arms: true,
    };

    /// The faculties that a drill controls.
    pub(crate) fn of_drill(controls: crate::drill::Faculties) -> Faculties {
        Faculties {
            legs: controls & Faculty::Legs as u8 != 0,
            arms: controls & Faculty::Arms as u8 != 0,
        }
    }

    /// Whether two activities need the same faculty.
    pub(crate) fn overlap(self, other: Faculties) -> bool {
        self.legs && other.legs || self.arms && other.arms
    }
}

/// The shape of every activity.
pub(crate) trait Behaviour {
    /// The faculties that it needs.
    fn needs(&self) -> Faculties;

    /// Begins it, or goes on with it after an order that came first.
    fn start(&mut self, act: &mut Act<'_>) -> Next;

    /// Whether [`advance`](Behaviour::advance) does nothing unless the unit has noticed a foe.
    fn only_waits(&self) -> bool {
        false
    }

    /// Goes on with it for a tick.
    fn advance(&mut self, _act: &mut Act<'_>) -> Next {
        Next::Continue
    }

    /// Takes up what the legs report that it has sent to a place.
    fn heard(&mut self, _act: &mut Act<'_>, _report: Report) -> Next {
        Next::Continue
    }

    /// Goes on where it was after a child.
    fn resumed(&mut self, act: &mut Act<'_>) -> Next {
        self.start(act)
    }

    /// The unit that it is about.
    fn target(&self) -> Option<UnitId> {
        None
    }

    /// Ends, or chooses another target: the unit that it is about has left.
    fn target_gone(&mut self, _act: &mut Act<'_>, _departure: Departure) -> Next {
        let why = Failure::TargetGone;
        Next::Ended(Outcome::Failed { why })
    }

    /// Whether it still makes sense when its target is a foe from now on, or is not.
    fn suits(&self, _target_is_foe: bool) -> bool {
        true
    }

    /// Whether units of a kind can carry it out.
    fn is_possible_for(&self, kind: &Kind) -> bool {
        !self.needs().legs || kind.can(Ability::Moves)
    }

    /// Leaves nothing behind: it has ended, or is interrupted. What its legs are at, its successor decides.
    fn stop(&mut self, _act: &mut Act<'_>) {}

    /// How the unit looks for foes meanwhile.
    fn alertness(&self, _state: &State) -> Alertness {
        Alertness::Off
    }

    /// The place that it leads the unit to.
    fn place(&self) -> Option<Place> {
        None
    }
}

/// How the strikes of a unit at a target end when the target leaves.
fn struck_or_gone(departure: Departure) -> Next {
    Next::Ended(match departure {
        Departure::Died => Outcome::Done,
        Departure::Removed | Departure::Leaked | Departure::CalledOff => Outcome::Failed {
            why: Failure::TargetGone,
        },
    })
}

/// An activity of a unit.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) enum Activity {
    Go(Go),
    AttackMove(AttackMove),
    Patrol(Box<Patrol>),
    Attack(Attack),
    AttackGround(AttackGround),
    Answer(Answer),
    Engage(Engage),
    Fire(Fire),
    Approach(Approach),
    Follow(Follow),
    Guard(Guard),
    GuardPlace(GuardPlace),
    Hold(Hold),
    Gather(Gather),
    Deliver(Deliver),
    Construct(Construct),
    Chase(Chase),
    Dash(Dash),
    Face(Face),
    Flee(Flee),
    Journey(Journey),
    KeepRange(KeepRange),
    Level(Level),
    Strike(Strike),
    Wander(Box<Wander>),
}

/// What is inside an activity; `$inside` leads into a box.
macro_rules! inside {
    ($activity:expr, $inside:ident) => {
        match $activity {
            Activity::Go(activity) => activity,
            Activity::AttackMove(activity) => activity,
            Activity::Patrol(activity) => activity.$inside(),
            Activity::Attack(activity) => activity,
            Activity::AttackGround(activity) => activity,
            Activity::Answer(activity) => activity,
            Activity::Engage(activity) => activity,
            Activity::Fire(activity) => activity,
            Activity::Approach(activity) => activity,
            Activity::Follow(activity) => activity,
            Activity::Guard(activity) => activity,
            Activity::GuardPlace(activity) => activity,
            Activity::Hold(activity) => activity,
            Activity::Gather(activity) => activity,
            Activity::Deliver(activity) => activity,
            Activity::Construct(activity) => activity,
            Activity::Chase(activity) => activity,
            Activity::Dash(activity) => activity,
            Activity::Face(activity) => activity,
            Activity::Flee(activity) => activity,
            Activity::Journey(activity) => activity,
            Activity::KeepRange(activity) => activity,
            Activity::Level(activity) => activity,
            Activity::Strike(activity) => activity,
            Activity::Wander(activity) => activity.$inside(),
        }
    };
}

impl Activity {
    pub(crate) fn behaviour(&mut self) -> &mut dyn Behaviour {
        inside!(self, as_mut)
    }

    pub(crate) fn look(&self) -> &dyn Behaviour {
        inside!(self, as_ref)
    }
}

/// An activity under way, with the children that run first.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Running {
    pub(crate) owner: Owner,
    needs: Faculties,
    /// The activity itself, then its child, and so on: the last one runs.
    /// A child beside its parent, not in a list elsewhere: in a fight most units have one.
    stack: SmallVec<[Activity; 2]>,
}

/// The activities of a unit: at most one a faculty. Most units have one or none.
pub(crate) type Activities = SmallVec<[Running; 1]>;

impl Running {
    /// Starts an activity. Gives the outcome instead where that is known at once.
    pub(crate) fn start(
        act: &mut Act<'_>,
        owner: Owner,
        mut activity: Activity,
    ) -> Result<Running, Outcome> {
        let needs = activity.look().needs();
        if act.state.units.arms_owner[act.row] == Owner::Nobody {
            // It aimed at something by itself.
            arms::lower(act.state, act.row);
        }
        let next = activity.behaviour().start(act);
        let mut running = Running {
            owner,
            needs,
            stack: SmallVec::from_iter([activity]),
        };
        match running.take(act, next) {
            Some(outcome) => Err(outcome),
            None => {
                running.claim(act.state, act.row, owner);
                Ok(running)
            }
        }
    }

    fn claim(&self, state: &mut State, row: usize, owner: Owner) {
        if self.needs.legs {
            state.units.legs_owner[row] = owner;
            if owner == Owner::Nobody {
                legs::leave_berth(state, row);
            }
        }
        if self.needs.arms {
            state.units.arms_owner[row] = owner;
        }
    }

    pub(crate) fn needs(&self) -> Faculties {
        self.needs
    }

    /// The activity itself, not its children.
    pub(crate) fn root(&self) -> &Activity {
        &self.stack[0]
    }

    pub(crate) fn root_mut(&mut self) -> &mut Activity {
        &mut self.stack[0]
    }

    /// The activity and its children.
    pub(crate) fn each(&self) -> impl Iterator<Item = &Activity> {
        self.stack.iter()
    }

    /// Whether a tick in which the unit has noticed no foe changes nothing in it.
    pub(crate) fn only_waits(&self) -> bool {
        let running = self.stack.last();
        running.is_none_or(|activity| activity.look().only_waits())
    }

    /// Goes on for a tick. Gives the outcome, once there is one.
    pub(crate) fn advance(&mut self, act: &mut Act<'_>) -> Option<Outcome> {
        let next = self.stack.last_mut()?.behaviour().advance(act);
        self.take(act, next)
    }

    /// Takes up what legs report.
    pub(crate) fn heard(&mut self, act: &mut Act<'_>, report: Report) -> Option<Outcome> {
        let next = self.stack.last_mut()?.behaviour().heard(act, report);
        self.take(act, next)
    }

    /// Takes up that units have left.
    pub(crate) fn targets_gone(
        &mut self,
        act: &mut Act<'_>,
        departure: &dyn Fn(UnitId) -> Option<Departure>,
    ) -> Option<Outcome> {
        // The activity itself first: a child ends with it.
        for depth in 0..self.stack.len() {
            let Some(activity) = self.stack.get_mut(depth) else {
                break;
            };
            let gone = activity.look().target().and_then(departure);
            if let Some(departure) = gone {
                let next = activity.behaviour().target_gone(act, departure);
                self.stop_children(act, depth);
                if let Some(outcome) = self.take(act, next) {
                    return Some(outcome);
                }
            }
        }
        None
    }

    fn stop_children(&mut self, act: &mut Act<'_>, depth: usize) {
        while self.stack.len() > depth + 1 {
            if let Some(mut child) = self.stack.pop() {
                child.behaviour().stop(act);
                if child.look().needs().legs {
                    legs::leave_berth(act.state, act.row);
                }
            }
        }
    }

    /// Carries on as the running activity says. Gives the outcome of the whole, once there is one.
    fn take(&mut self, act: &mut Act<'_>, mut next: Next) -> Option<Outcome> {
        loop {
            match next {
                Next::Continue => return None,
                Next::RunFirst(child) => {
                    self.stack.push(child);
                    next = self.stack.last_mut()?.behaviour().start(act);
                }
                Next::Ended(outcome) => {
                    let mut ended = self.stack.pop()?;
                    ended.behaviour().stop(act);
                    if ended.look().needs().legs {
                        legs::leave_berth(act.state, act.row);
                    }
                    let Some(parent) = self.stack.last_mut() else {
                        self.claim(act.state, act.row, Owner::Nobody);
                        return Some(outcome);
                    };
                    next = parent.behaviour().resumed(act);
                }
            }
        }
    }

    /// Stops it, and gives the activity itself back: to go on with it later.
    pub(crate) fn stop(mut self, act: &mut Act<'_>) -> Option<Activity> {
        self.stop_children(act, 0);
        let mut activity = self.stack.pop()?;
        activity.behaviour().stop(act);
        self.claim(act.state, act.row, Owner::Nobody);
        Some(activity)
    }

    /// Whether its lists can be worked with: for what was read from a file.
    pub(crate) fn is_consistent(&self) -> bool {
        (1..=MAX_DEPTH).contains(&self.stack.len())
    }
}

/// The most activities that wait for each other.
const MAX_DEPTH: usize = 4;

/// How a unit looks for foes, given what it is about.
pub(crate) fn alertness(state: &State, row: usize, activities: &Activities) -> Alertness {
    let with = |has: fn(Faculties) -> bool| activities.iter().find(|running| has(running.needs));
    let running = with(|needs| needs.arms).or_else(|| with(|needs| needs.legs));
    match running {
        Some(running) if running.owner == Owner::Posture => match state.units.aim[row] {
            Some(_) => Alertness::Off,
            None => of_posture(state, row),
        },
        Some(running) => running.root().look().alertness(state),
        None => of_posture(state, row),
    }
}

/// How a unit looks for foes that has nothing else to do.
fn of_posture(state: &State, row: usize) -> Alertness {
    let in_reach = Alertness::InReach {
        only_standing: true,
    };
    // A unit that goes by drills answers attacks as these say.
    let is_driven = !state.kind_of(row).drills.is_empty();
    match state.posture(row) {
        Posture::Passive => Alertness::Off,
        Posture::Hold => in_reach,
        _ if is_driven => in_reach,
        Posture::Defend => Alertness::Answering,
        Posture::Pursue => Alertness::AroundItself,
    }
}
