//! Looking at units without touching them.

use super::activity::{Activity, PatrolRoute};
use super::orders::{Held, Minds};
use super::state::{Berth, Destination, Locomotion, March, Marcher, Owner, Place, State, Walk};
use super::{
    Action, Kind, KindId, OrderNo, Posture, ProjectileId, Side, SideId, Spot, Ticket, UnitId, World,
};
use crate::combat::Projectile;
use crate::economy::{Deposit, Load, ProductionLine};
use crate::geom::{Block, Vec2, angle};
use crate::motion::formation::{Form, placed};
use crate::route::Standing;

/// A unit, to be looked at. Cheap to copy.
#[derive(Clone, Copy)]
pub struct UnitView<'a> {
    state: &'a State,
    minds: &'a Minds,
    row: usize,
}

/// What a unit is doing.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Doing {
    /// It stands.
    Standing,
    /// It has an order and waits for its route to be found.
    AwaitingRoute,
    /// It walks.
    Going,
    /// It walks round bodies that stand in its way.
    GoingRound,
    /// It has somewhere to go and waits for others: they leave it no way at present, it backs off to let them pass, or they
    /// have taken the places at the unit to which it comes up.
    Waiting,
    /// It stands, and strikes a foe.
    Striking,
}

/// Whether others have taken the places at the unit to which one comes up, and it strikes nobody from where it stands.
fn waits_behind(state: &State, row: usize) -> bool {
    let target = |berth: Berth| state.units.row(berth.target);
    let waits = state.units.berth[row].filter(|berth| !berth.is_near);
    waits
        .and_then(target)
        .is_some_and(|target| !state.is_in_range(row, target))
}

/// Whether others keep a unit that walks from getting on.
fn waits(state: &State, walk: &Walk) -> bool {
    walk.is_held_up(state.rules.ticks_per_second) || walk.backs_off(state.clock.tick)
}

impl<'a> UnitView<'a> {
    pub(super) fn new(state: &'a State, minds: &'a Minds, row: usize) -> UnitView<'a> {
        UnitView { state, minds, row }
    }

    pub(super) fn row(&self) -> usize {
        self.row
    }

    /// Its id.
    #[must_use]
    pub fn id(&self) -> UnitId {
        self.state.units.id[self.row]
    }

    /// The number of its kind.
    #[must_use]
    pub fn kind_id(&self) -> KindId {
        self.state.units.kind[self.row]
    }

    /// Its kind.
    #[must_use]
    pub fn kind(&self) -> &'a Kind {
        self.state.kind(self.kind_id())
    }

    /// The number of its side.
    #[must_use]
    pub fn side_id(&self) -> SideId {
        self.state.units.side[self.row]
    }

    /// Its side.
    #[must_use]
    pub fn side(&self) -> &'a Side {
        &self.state.rules.sides[usize::from(self.side_id().0)]
    }

    /// Its radius, in metres.
    #[must_use]
    pub fn radius(&self) -> f32 {
        self.kind().body.radius_m
    }

    /// The ground that it covers, for a building with a footprint.
    #[must_use]
    pub fn block(&self) -> Option<Block> {
        self.state.block(self.row)
    }

    /// Its position at the end of the last tick, in metres.
    #[must_use]
    pub fn position(&self) -> Vec2 {
        self.state.units.position[self.row]
    }

    /// Where it looks, in radians.
    #[must_use]
    pub fn facing(&self) -> f32 {
        self.state.units.facing[self.row]
    }

    /// Where its arms point, in radians: where it looks, unless they turn on its body.
    #[must_use]
    pub fn pointing(&self) -> f32 {
        let turned = self.state.arms_turned.get(self.id()).copied();
        angle::wrap(self.facing() + turned.unwrap_or(0.0))
    }

    /// How it moved in the last tick, in metres a second.
    #[must_use]
    pub fn velocity(&self) -> Vec2 {
        self.state.units.velocity[self.row]
    }

    /// What it is doing.
    #[must_use]
    pub fn doing(&self) -> Doing {
        let state = self.state;
        let waits_behind = || waits_behind(state, self.row);
        match &state.units.locomotion[self.row] {
            Locomotion::Standing if waits_behind() => Doing::Waiting,
            Locomotion::Standing if self.foe().is_some() => Doing::Striking,
            Locomotion::Standing => Doing::Standing,
            Locomotion::AwaitingRoute { .. } => Doing::AwaitingRoute,
            Locomotion::Walking(walk) if waits(state, walk) => Doing::Waiting,
            Locomotion::Walking(walk) if walk.is_on_detour() => Doing::GoingRound,
            Locomotion::Walking(_) | Locomotion::Steered(_) => Doing::Going,
        }
    }

    /// Whether it walks, or would walk if others let it.
    #[must_use]
    pub fn is_under_way(&self) -> bool {
        let locomotion = &self.state.units.locomotion[self.row];
        matches!(locomotion, Locomotion::Walking(_) | Locomotion::Steered(_))
    }

    /// What is left of its health, in points; `0` for what cannot be harmed.
    #[must_use]
    pub fn health(&self) -> f32 {
        self.state.units.health[self.row]
    }

    /// What it does about foes while it has nothing else to do.
    #[must_use]
    pub fn posture(&self) -> Posture {
        self.state.posture(self.row)
    }

    /// The foe that it strikes or goes for.
    #[must_use]
    pub fn foe(&self) -> Option<UnitId> {
        self.state.units.aim[self.row].map(|aim| aim.foe)
    }

    /// What it carries, if anything.
    #[must_use]
    pub fn load(&self) -> Option<Load> {
        self.state.loads.get(self.id()).copied()
    }

    /// What can still be gathered from it; `None` for what is no deposit.
    #[must_use]
    pub fn deposit(&self) -> Option<Deposit> {
        self.state
            .deposits
            .get(self.id())
            .map(|worked| worked.deposit)
    }

    /// Who holds which of its slots; empty for what is no deposit.
    #[must_use]
    pub fn slots(&self) -> &'a [Option<UnitId>] {
        let worked = self.state.deposits.get(self.id());
        worked.map_or(&[], |worked| worked.slots.owners())
    }

    /// What it produces: its queue, and how much of the first item is done. `None` for what produces nothing.
    #[must_use]
    pub fn production(&self) -> Option<&'a ProductionLine<KindId>> {
        self.state
            .productions
            .get(self.id())
            .map(|production| &production.line)
    }

    /// How much of it is built, from 0 to 1; `None` for what stands.
    #[must_use]
    pub fn construction(&self) -> Option<f32> {
        let construction = self.state.constructions.get(self.id())?;
        let takes = construction.takes.max(1);
        Some(construction.done as f32 / takes as f32)
    }

    /// Where it sends units that come out of it: to each in turn.
    #[must_use]
    pub fn rally_points(&self) -> &'a [Spot] {
        let points = self.minds.rally.get(self.id());
        points.map_or(&[], Vec::as_slice)
    }

    /// Its orders, the one that it carries out first.
    pub fn orders(&self) -> impl ExactSizeIterator<Item = OrderView<'a>> + use<'a> {
        let unit = *self;
        let queue = self.minds.queue[self.row].iter().enumerate();
        queue.map(move |(at, held)| OrderView {
            unit,
            held,
            is_first: at == 0,
        })
    }

    /// The order that it carries out.
    #[must_use]
    pub fn current_order(&self) -> Option<OrderView<'a>> {
        self.orders().next()
    }

    /// Whether it has an order.
    #[must_use]
    pub fn has_orders(&self) -> bool {
        !self.minds.queue[self.row].is_empty()
    }

    /// What controls its legs.
    #[must_use]
    pub fn legs_owner(&self) -> Owner {
        self.state.units.legs_owner[self.row]
    }

    /// What controls its arms.
    #[must_use]
    pub fn arms_owner(&self) -> Owner {
        self.state.units.arms_owner[self.row]
    }

    /// How its request for a route stands; `None` where it has made none. A unit that walks may have
    /// one, too: for a better way, since the ground has changed.
    #[must_use]
    pub fn route_standing(&self) -> Option<Standing> {
        self.state.planner.standing(self.id().number())
    }

    /// The points that it has still to walk to, the place where it will stand last.
    #[must_use]
    pub fn way_ahead(&self) -> &'a [Vec2] {
        let walk = self.state.units.locomotion[self.row].walk();
        walk.map_or(&[], |walk| walk.ahead())
    }
}

/// A projectile in flight, to be looked at. Cheap to copy.
#[derive(Clone, Copy)]
pub struct ProjectileView<'a> {
    state: &'a State,
    row: usize,
}

impl ProjectileView<'_> {
    /// Its id.
    #[must_use]
    pub fn id(&self) -> ProjectileId {
        self.state.projectiles.id[self.row]
    }

    /// The unit that fired it, which may be gone by now.
    #[must_use]
    pub fn fired_by(&self) -> UnitId {
        self.state.projectiles.by[self.row]
    }

    /// The side of that unit when it fired.
    #[must_use]
    pub fn side_id(&self) -> SideId {
        self.state.projectiles.side[self.row]
    }

    /// Where it is and how it flies.
    #[must_use]
    pub fn flight(&self) -> Projectile {
        self.state.projectiles.flight[self.row]
    }

    /// Where it is a `fraction` of a tick after the last but one, as [`World::pose`] has it for units.
    #[must_use]
    pub fn position(&self, fraction: f32) -> Vec2 {
        let before = self.state.projectiles.before[self.row];
        before.lerp(self.flight().position, fraction.clamp(0.0, 1.0))
    }
}

/// An order of a unit, to be looked at. Cheap to copy.
#[derive(Clone, Copy)]
pub struct OrderView<'a> {
    unit: UnitView<'a>,
    held: &'a Held,
    is_first: bool,
}

impl<'a> OrderView<'a> {
    /// Its number.
    #[must_use]
    pub fn number(&self) -> OrderNo {
        self.held.number
    }

    /// The ticket of the command that gave it.
    #[must_use]
    pub fn ticket(&self) -> Option<Ticket> {
        self.unit.minds.tickets.get(&self.held.number).copied()
    }

    /// What was asked, as it was given; a context order as what it was, not as what it came to.
    #[must_use]
    pub fn action(&self) -> Option<&'a Action> {
        let given = self.unit.minds.given.get(self.held.number);
        given.map(|given| &given.action)
    }

    /// What the unit does about it: the word of that order in scenario files.
    #[must_use]
    pub fn word(&self) -> &'static str {
        match self.activity() {
            Some(Activity::Go(_)) => "move",
            Some(Activity::AttackMove(_)) => "attack-move",
            Some(Activity::Patrol(_)) => "patrol",
            Some(Activity::Attack(_) | Activity::Engage(_)) => "attack",
            Some(Activity::AttackGround(_)) => "attack-ground",
            // A unit without orders does this.
            Some(Activity::Answer(_)) => "posture",
            Some(Activity::Fire(_)) => "fire",
            Some(Activity::Approach(_)) => "approach",
            Some(Activity::Follow(_)) => "follow",
            Some(Activity::Guard(_) | Activity::GuardPlace(_)) => "guard",
            Some(Activity::Hold(_)) => "hold",
            Some(Activity::Gather(_)) => "gather",
            Some(Activity::Deliver(_)) => "deliver",
            Some(Activity::Construct(_)) => "construct",
            // Drills start these, and no order does.
            Some(
                Activity::Chase(_)
                | Activity::Dash(_)
                | Activity::Face(_)
                | Activity::Flee(_)
                | Activity::Journey(_)
                | Activity::KeepRange(_)
                | Activity::Level(_)
                | Activity::Strike(_)
                | Activity::Wander(_),
            ) => "drill",
            None => "stop",
        }
    }

    /// The point that the unit was sent to, and its place there; of a patrol, the post that it is on the way to.
    /// `None` for orders that lead to no place.
    #[must_use]
    pub fn destination(&self) -> Option<Destination> {
        let mut destination = match self.activity()? {
            Activity::Go(go) => go.destination,
            Activity::AttackMove(activity) => activity.0.destination,
            Activity::GuardPlace(activity) => activity.0.destination,
            Activity::Patrol(patrol) => *patrol.post(),
            _ => return None,
        };
        // On the way, places may be traded.
        let legs = self.unit.state.units.locomotion[self.unit.row].place();
        if let Some(target) = legs.filter(|_| self.is_first) {
            destination.place = Ok(target.place);
        }
        Some(destination)
    }

    /// The place that the unit goes to, if the order leads to one that can be reached.
    #[must_use]
    pub fn place(&self) -> Option<Place> {
        self.destination()?.place.ok()
    }

    /// The way of a patrol.
    #[must_use]
    pub fn patrol(&self) -> Option<&'a PatrolRoute> {
        match self.activity()? {
            Activity::Patrol(patrol) => Some(patrol.route()),
            _ => None,
        }
    }

    /// The unit that the order is about.
    #[must_use]
    pub fn target(&self) -> Option<UnitId> {
        self.activity()?.look().target()
    }

    fn activity(&self) -> Option<&'a Activity> {
        let running = self.unit.minds.activities[self.unit.row].iter();
        let mut ordered = running.filter(|running| running.owner == Owner::Order(self.held.number));
        match ordered.next().filter(|_| self.is_first) {
            Some(running) => Some(running.root()),
            None => self.held.activity.as_ref(),
        }
    }
}

/// A group that goes in formation, to be looked at.
#[derive(Clone, Debug, PartialEq)]
pub struct MarchView {
    /// The order that it carries out; `None` where a change has sent it.
    pub order: Option<OrderNo>,
    /// The shape.
    pub form: Form,
    /// Where its middle is now, in metres, and where it looks, in radians: ahead of the members, if they fall behind.
    /// `None` before it has set out, and after it has come to its end.
    pub guide: Option<(Vec2, f32)>,
    /// Its members, and where each is to be now, in metres.
    pub slots: Vec<(UnitId, Vec2)>,
}

impl World {
    /// All projectiles in flight. Their order is not that of their ids.
    pub fn projectiles(&self) -> impl ExactSizeIterator<Item = ProjectileView<'_>> {
        let state = &self.state;
        (0..state.projectiles.len()).map(move |row| ProjectileView { state, row })
    }

    /// A projectile, or `None` where the id names none that is in flight.
    #[must_use]
    pub fn projectile(&self, id: ProjectileId) -> Option<ProjectileView<'_>> {
        let row = self.state.projectiles.row(id)?;
        Some(ProjectileView {
            state: &self.state,
            row,
        })
    }

    /// The groups that go in formation, in the order in which they were sent.
    pub fn marches(&self) -> impl Iterator<Item = MarchView> + '_ {
        self.state.marches.iter().map(|march: &March| {
            let guide = march.guide.as_ref();
            let guide = guide.map(|guide| (guide.at, guide.facing));
            let (middle, facing) = guide.unwrap_or((march.middle, march.facing));
            let slot = |marcher: &Marcher| (marcher.unit, placed(marcher.offset, middle, facing));
            MarchView {
                order: march.order,
                form: march.formation.form,
                guide,
                slots: march.members.iter().map(slot).collect(),
            }
        })
    }
}
