//! What happened in a tick.

use super::{Action, Outcome, Refusal, Spot, Verb, When};
use crate::drill::Value;
use crate::economy::Load;
use crate::geom::Vec2;
use crate::motion::flock::{MemberId, ZoneId};
use crate::waves::Tally;
use crate::world::game::Decision;
use crate::world::ids::{FlockId, OrderNo, ProjectileId, SideId, Ticket, UnitId};
use crate::world::kind::KindId;
use serde::{Deserialize, Serialize};

/// Something that happened in a tick. Plain data, in the order in which it happened.
///
/// An event that answers a change carries the [`Ticket`] of that change.
///
/// Its JSON is its serde form, with the sort of event under `"what"`.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "what", rename_all = "kebab-case")]
pub enum Event {
    /// A command was taken up by some units: once a command, for feedback at the place.
    Ordered {
        /// The ticket of the command.
        ticket: Ticket,
        /// The number that the order has from now on.
        order: OrderNo,
        /// The side that gave it.
        side: SideId,
        /// The units that took it up, in order of id.
        units: Vec<UnitId>,
        /// What they are to do.
        action: Action,
        /// When, with regard to the orders that they have already.
        when: When,
        /// What an [`Action::Context`] came to, and for how many units; empty for all others.
        became: Vec<(Verb, u32)>,
    },
    /// A command, or its part for one unit, was refused.
    Refused {
        /// The ticket of the command.
        ticket: Ticket,
        /// The side that gave it.
        side: SideId,
        /// What was asked.
        action: Action,
        /// The unit that it was for; `None` where the whole command was refused.
        unit: Option<UnitId>,
        /// Why.
        why: Refusal,
    },
    /// A change other than a command was made.
    Changed {
        /// The ticket of the change.
        ticket: Ticket,
        /// What came of it.
        effect: Effect,
    },
    /// A change other than a command was refused, and changed nothing.
    ChangeRefused {
        /// The ticket of the change.
        ticket: Ticket,
        /// Why.
        why: Refusal,
    },
    /// A unit found its way to the place of its order and set out.
    SetOut {
        /// The unit.
        unit: UnitId,
        /// The order that it carries out.
        order: OrderNo,
        /// The length of its way, in metres.
        length_m: f32,
    },
    /// An order ended, for one unit.
    Ended {
        /// The ticket of the command that gave the order.
        ticket: Ticket,
        /// The unit.
        unit: UnitId,
        /// The order.
        order: OrderNo,
        /// How it ended.
        outcome: Outcome,
    },
    /// An activity that was started without an order ended.
    ActivityEnded {
        /// The ticket of the change that started it.
        ticket: Ticket,
        /// The unit.
        unit: UnitId,
        /// How it ended.
        outcome: Outcome,
    },
    /// A building's rally points changed.
    Rallied {
        /// The building.
        unit: UnitId,
        /// Where it sends units now: to each in turn.
        to: Vec<Spot>,
    },
    /// A unit turned on a foe: it goes for it, or strikes it from where it stands.
    Engaged {
        /// The unit.
        unit: UnitId,
        /// The foe.
        foe: UnitId,
    },
    /// A unit fired a projectile.
    Fired {
        /// The unit that fired.
        unit: UnitId,
        /// The foe that it aimed at.
        target: UnitId,
        /// The projectile.
        projectile: ProjectileId,
    },
    /// A unit fired a projectile at a point of the ground.
    FiredAtGround {
        /// The unit that fired.
        unit: UnitId,
        /// The point, in metres.
        at: Vec2,
        /// The projectile.
        projectile: ProjectileId,
    },
    /// A projectile came to the end of its flight without a hit.
    Spent {
        /// The projectile.
        projectile: ProjectileId,
    },
    /// A unit struck another.
    Struck {
        /// The unit that struck. Where a projectile did, it may be gone by now.
        unit: UnitId,
        /// The unit that it struck.
        target: UnitId,
        /// The damage of the blow, in points.
        damage: f32,
        /// The projectile that hit, which is gone; `None` for a weapon that hits at once.
        projectile: Option<ProjectileId>,
    },
    /// A unit died. Its orders end as lost, and it leaves the world, in this tick.
    Died {
        /// The unit.
        unit: UnitId,
        /// The unit that struck the last blow; `None` where the game did the damage.
        by: Option<UnitId>,
    },
    /// A unit did a stroke of work, on a deposit or on a site.
    Stroke {
        /// The unit.
        unit: UnitId,
        /// The deposit or the site.
        at: UnitId,
        /// Whether there was an item in it.
        item: bool,
    },
    /// A unit handed its load in.
    Delivered {
        /// The unit.
        unit: UnitId,
        /// The depot.
        depot: UnitId,
        /// What it carried.
        load: Load,
    },
    /// A unit that carried a load, or held a resource, left the world, and that with it.
    Spilled {
        /// The unit.
        unit: UnitId,
        /// The load.
        load: Load,
    },
    /// A unit came out of a building that produced it.
    Produced {
        /// The unit.
        unit: UnitId,
        /// The building.
        by: UnitId,
    },
    /// A building has finished a unit that finds no room round it: it waits.
    NoWayOut {
        /// The building.
        by: UnitId,
        /// The kind of the unit.
        kind: KindId,
    },
    /// A side has paid for a building and reserved its site, which is a unit from now on.
    SiteReserved {
        /// The site.
        site: UnitId,
        /// What is to be built.
        kind: KindId,
    },
    /// A building stands.
    Built {
        /// The building.
        unit: UnitId,
        /// The unit that did the last stroke.
        by: UnitId,
    },
    /// A signal of a drill for animation and sound.
    Cue {
        /// The unit.
        unit: UnitId,
        /// The number of its text: see [`World::drill_text`](crate::World::drill_text).
        cue: u16,
    },
    /// A drill has come to a step of the game: it lasts until [`Change::StepDone`](super::Change::StepDone) says that it is
    /// done, or the drill goes to another state.
    Asked {
        /// The unit.
        unit: UnitId,
        /// The number of the drill among those of its kind.
        drill: u8,
        /// The number of the step among those of the game.
        step: u16,
        /// Its values, in the order of its pattern, options last.
        values: Vec<Value>,
    },
    /// A wave of the assault began.
    WaveBegan {
        /// Its number, from 0.
        wave: u32,
    },
    /// A unit of the assault came into the world.
    CameIn {
        /// The unit.
        unit: UnitId,
        /// The number of its wave, from 0.
        wave: u32,
    },
    /// A unit of the assault came to its goal. It leaves the world in this tick.
    Leaked {
        /// The unit.
        unit: UnitId,
        /// The number of its wave, from 0.
        wave: u32,
        /// The number of its goal.
        goal: u16,
    },
    /// A wave is over: all of it has come, and none of it lives.
    WaveOver {
        /// Its number, from 0.
        wave: u32,
        /// What became of its units.
        tally: Tally,
    },
    /// The game has ended: the world stands still from now on.
    Decided {
        /// How, and why.
        decision: Decision,
    },
    /// A unit left the world.
    Gone {
        /// The unit.
        unit: UnitId,
    },
}

/// What came of a change that is no command.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Effect {
    /// It was made.
    Made,
    /// A unit came into the world.
    Spawned {
        /// The unit.
        unit: UnitId,
    },
    /// An activity was started.
    Started {
        /// The unit.
        unit: UnitId,
    },
    /// A flock came into the world.
    FlockAdded {
        /// The flock.
        flock: FlockId,
    },
    /// A flock has a new member.
    MemberAdded {
        /// The flock.
        flock: FlockId,
        /// The member.
        member: MemberId,
    },
    /// A flock has a new zone.
    ZoneAdded {
        /// The flock.
        flock: FlockId,
        /// The zone.
        zone: ZoneId,
    },
}
