//! Playing a scenario: its script fed into its world, tick by tick.

use super::entry::{GroundChange, GroupDeed, Recipients, ScriptAct, ScriptLine, Scripted};
use super::flocks::{self, Handles, ZoneChange};
use super::{Placed, Scenario};
use crate::geom::{Rect, Vec2};
use crate::ground::Patch;
use crate::motion::formation::Formation;
use crate::rng::Stream;
use crate::select::{Camera, FlatView, GestureSettings, PointerInput};
use crate::world::{
    Change, Command, Event, FlockChange, Hand, HandOutput, KindId, NotPlaced, SideId, Ticket,
    TooManyChanges, UnitId, Verb, World, WorldError,
};
use std::collections::BTreeMap;

/// How near the players' camera is: script points are on the ground, gestures on the screen.
const PX_PER_M: f32 = 16.0;

/// A scenario under way.
#[derive(Clone, Debug)]
pub struct Play {
    world: World,
    script: Vec<Scripted>,
    /// The next entry of the script.
    next: usize,
    hands: Vec<Hand>,
    /// The ids of the units that the scenario placed, by their number, and what they are called.
    placed: Vec<UnitId>,
    names: BTreeMap<UnitId, String>,
    /// The entries of the script that handed in changes, by ticket.
    asked: BTreeMap<Ticket, ScriptLine>,
    /// What the zones of the scenario are called in the world, by their number.
    zones: Handles,
    happened: Vec<PlayEvent>,
    trail: u64,
}

/// Something that happened in a tick of a play.
#[derive(Clone, Debug, PartialEq)]
pub enum PlayEvent {
    /// A player selected.
    Selected {
        /// Whose player.
        side: SideId,
        /// What is selected now.
        units: Vec<UnitId>,
        /// How.
        how: SelectedBy,
    },
    /// A player made a control group, or added to it.
    Grouped {
        /// Whose player.
        side: SideId,
        /// The number of the group.
        number: usize,
        /// Who is in it now.
        units: Vec<UnitId>,
    },
    /// A player's click placed no building: the plan stays in the hand.
    NotPlaced {
        /// Whose player.
        side: SideId,
        /// The kind of the building.
        kind: KindId,
        /// Why.
        why: NotPlaced,
    },
    /// The ground has changed, by the script.
    Ground(GroundChange),
    /// A zone has changed, by the script.
    Zone {
        /// Which, by its number among those of the scenario.
        zone: u32,
        /// How.
        change: ZoneChange,
    },
    /// Something happened in the world.
    Event(Event),
}

/// How a player selected.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum SelectedBy {
    /// With a click.
    Click,
    /// With a box, on the ground in metres; `None` where a corner of it showed no ground.
    Box(Option<Rect>),
    /// By recalling the control group of this number.
    Group(usize),
}

impl Scenario {
    /// Begins a play with the scenario's own seed, or another.
    ///
    /// # Errors
    /// [`WorldError`] only for a scenario that was changed after it was loaded.
    pub fn play(&self, seed: Option<u64>) -> Result<Play, WorldError> {
        let mut setup = self.setup.clone();
        setup.seed = seed.unwrap_or(setup.seed);
        let mut scatter = Stream::new(setup.seed, "scatter");
        let mut world = World::new(setup)?;
        let mut placed = Vec::with_capacity(self.units.len());
        let mut names = BTreeMap::new();
        for unit in &self.units {
            let at = scattered(&world, unit, &mut scatter);
            let id = world.spawn(unit.kind, unit.side, at, unit.facing)?;
            placed.push(id);
            names.extend(unit.name.clone().map(|name| (id, name)));
        }
        for ending in &self.endings {
            world.add_ending(*ending)?;
        }
        let zones = flocks::put_in(&mut world, &self.flocks, &self.zones, &placed)?;
        let size = world.ground().bounds().max;
        let camera = Camera::Flat(FlatView {
            corner: Vec2::new(0.0, size.y),
            px_per_m: PX_PER_M,
            size_px: size * PX_PER_M,
        });
        let hands = (0..world.sides().len() as u8)
            .map(|side| Hand::new(SideId(side), camera, GestureSettings::default()))
            .collect();
        Ok(Play {
            world,
            script: self.script.clone(),
            next: 0,
            hands,
            placed,
            names,
            asked: BTreeMap::new(),
            zones,
            happened: Vec::new(),
            trail: 0,
        })
    }
}

/// Where the seed puts a unit. One that would not fit there stays where the scenario has it.
fn scattered(world: &World, unit: &Placed, scatter: &mut Stream) -> Vec2 {
    let reach = unit.scatter_m;
    if reach <= 0.0 {
        return unit.at;
    }
    let x = scatter.between(-reach, reach);
    let y = scatter.between(-reach, reach);
    let at = unit.at + Vec2::new(x, y);
    let kind = world.kinds().get(usize::from(unit.kind.0));
    let fits = kind.is_some_and(|kind| {
        let view = world.ground().view(kind.body.gait);
        view.disc_is_clear(at, kind.body.radius_m)
    });
    if fits { at } else { unit.at }
}

impl Play {
    /// Feeds in what the script says for the next tick, and steps the world. Gives what
    /// happened, in order.
    ///
    /// An entry takes effect in the first tick that ends at its time or later.
    pub fn step(&mut self) -> &[PlayEvent] {
        self.feed();
        self.advance()
    }

    /// Hands in what the script says for the next tick: the first half of [`Play::step`]. A game may look at the
    /// changes that wait before it goes on, a recorder above all, or hand in its own.
    pub fn feed(&mut self) {
        self.happened.clear();
        let rate = f64::from(self.world.ticks_per_second());
        let tick_end = (self.world.tick() + 1) as f64;
        while let Some(entry) = self.script.get(self.next) {
            // A time that is a whole number of ticks must not slip by a rounding error.
            if entry.time_s * rate > tick_end + 1e-6 {
                break;
            }
            let entry = entry.clone();
            self.next += 1;
            self.act(&entry);
        }
    }

    /// Hands in a change besides those of the script, as [`World::change`] does: what a player does who sits before this
    /// play.
    ///
    /// # Errors
    /// [`TooManyChanges`] where as many wait as may; the change is not taken.
    pub fn change(&mut self, change: Change) -> Result<Ticket, TooManyChanges> {
        self.world.change(change)
    }

    /// Steps the world: the second half of [`Play::step`].
    pub fn advance(&mut self) -> &[PlayEvent] {
        let events = self.world.step().iter().cloned();
        self.happened.extend(events.map(PlayEvent::Event));
        let (trail, checksum) = (self.trail, self.world.checksum());
        self.trail = trail.rotate_left(5).wrapping_mul(0x9e37_79b9_7f4a_7c15) ^ checksum;
        &self.happened
    }

    /// Steps until a time in seconds, telling `watch` what happens in each tick.
    pub fn run_until(&mut self, time_s: f64, mut watch: impl FnMut(&World, &[PlayEvent])) {
        while !self.is_past(time_s) {
            self.step();
            watch(&self.world, &self.happened);
        }
    }

    /// Whether the game has ended, or the next tick would end after a time in seconds.
    #[must_use]
    pub fn is_past(&self, time_s: f64) -> bool {
        if self.world.decision().is_some() {
            return true;
        }
        let rate = f64::from(self.world.ticks_per_second());
        (self.world.tick() + 1) as f64 > time_s.min(super::MAX_SECONDS) * rate + 1e-6
    }

    /// The world.
    #[must_use]
    pub fn world(&self) -> &World {
        &self.world
    }

    /// What a unit is called in the scenario, if it has a name there.
    #[must_use]
    pub fn name_of(&self, unit: UnitId) -> Option<&str> {
        self.names.get(&unit).map(String::as_str)
    }

    /// The unit of a name in the scenario.
    #[must_use]
    pub fn unit_named(&self, name: &str) -> Option<UnitId> {
        let mut names = self.names.iter();
        names
            .find(|(_, known)| *known == name)
            .map(|(unit, _)| *unit)
    }

    /// The entry of the script that handed in a change, for messages about it.
    #[must_use]
    pub fn script_line(&self, ticket: Ticket) -> Option<&ScriptLine> {
        self.asked.get(&ticket)
    }

    /// The hands of the players, by side.
    #[must_use]
    pub fn hands(&self) -> &[Hand] {
        &self.hands
    }

    /// The checksums of all ticks so far in one number: two plays with the same trail went the
    /// same way all along.
    #[must_use]
    pub fn trail(&self) -> u64 {
        self.trail
    }

    fn act(&mut self, entry: &Scripted) {
        let deed = match &entry.act {
            ScriptAct::Pointer {
                pointer,
                action,
                point,
                keys,
                taken,
            } => {
                let input = PointerInput {
                    pointer: *pointer,
                    keys: *keys,
                    taken: *taken,
                    ..PointerInput::new(*action, Vec2::ZERO, entry.time_s)
                };
                self.point(entry.side, *point, input)
            }
            ScriptAct::Intent(verb) => {
                let hand = &mut self.hands[usize::from(entry.side.0)];
                return hand.intend(Some(*verb).filter(|verb| *verb != Verb::Nothing));
            }
            ScriptAct::Plan(plan) => {
                let hand = &mut self.hands[usize::from(entry.side.0)];
                return match plan {
                    Some((kind, rules)) => hand.plan_site(*kind, *rules),
                    None => hand.drop_plan(),
                };
            }
            ScriptAct::Turn(by) => {
                let hand = &mut self.hands[usize::from(entry.side.0)];
                return hand.turn_plan(&self.world, *by);
            }
            ScriptAct::Form(form) => {
                let hand = &mut self.hands[usize::from(entry.side.0)];
                return hand.choose_formation(form.map(Formation::new));
            }
            ScriptAct::Ground(deed) => {
                return self.change_ground(&entry.line, *deed);
            }
            ScriptAct::Zone { zone, change } => {
                return self.change_zone(&entry.line, *zone, *change);
            }
            ScriptAct::Group { number, deed } => {
                return self.group(entry, *number, *deed);
            }
            ScriptAct::Order {
                action,
                units,
                when,
            } => Some(HandOutput::Commanded(Command {
                side: entry.side,
                units: self.recipients(entry.side, units),
                action: action.clone(),
                when: *when,
            })),
        };
        self.note(entry, deed);
    }

    fn recipients(&self, side: SideId, units: &Recipients) -> Vec<UnitId> {
        match units {
            Recipients::Selected => self.hand(side).selection().ids().to_vec(),
            Recipients::Placed(units) => units.iter().map(|k| self.placed[*k as usize]).collect(),
            Recipients::Ids(ids) => ids.clone(),
        }
    }

    /// Hands in or notes down what an entry came to.
    fn note(&mut self, entry: &Scripted, deed: Option<HandOutput>) {
        match deed {
            Some(HandOutput::Selected { dragged: None }) => {
                self.note_selected(entry.side, SelectedBy::Click);
            }
            Some(HandOutput::Selected {
                dragged: Some(rect),
            }) => {
                let camera = self.hand(entry.side).camera();
                let ground = |screen| self.world.ground_under(camera, screen);
                let corners = ground(rect.min).zip(ground(rect.max));
                let rect = corners.map(|(a, b)| Rect::from_corners(a, b));
                self.note_selected(entry.side, SelectedBy::Box(rect));
            }
            Some(HandOutput::Commanded(command)) => {
                self.hand_in(&entry.line, Change::Command(command));
            }
            Some(HandOutput::NotPlaced(why)) => {
                let (side, kind) = (entry.side, self.hand(entry.side).planned_kind());
                let refused = kind.map(|kind| PlayEvent::NotPlaced { side, kind, why });
                self.happened.extend(refused);
            }
            None => {}
        }
    }

    /// Hands in a change of an entry. The limit on changes is far above that on script entries in a tick.
    fn hand_in(&mut self, line: &ScriptLine, change: Change) {
        if let Ok(ticket) = self.world.change(change) {
            self.asked.insert(ticket, line.clone());
        }
    }

    fn change_ground(&mut self, line: &ScriptLine, what: GroundChange) {
        let cells = |patch: Patch| patch.cells().collect();
        let change = match what {
            GroundChange::Door { door, shut } => Change::SetDoor { door, shut },
            GroundChange::Block(patch) => Change::Block {
                cells: cells(patch),
            },
            GroundChange::Unblock(patch) => Change::Unblock {
                cells: cells(patch),
            },
            GroundChange::Terrain { patch, terrain } => Change::SetTerrain {
                cells: cells(patch),
                terrain,
            },
        };
        self.hand_in(line, change);
        self.happened.push(PlayEvent::Ground(what));
    }

    fn change_zone(&mut self, line: &ScriptLine, number: u32, change: ZoneChange) {
        let known = self.zones.get(number as usize).cloned();
        for (flock, zone) in known.into_iter().flatten() {
            let change = match change {
                ZoneChange::Switch { on } => FlockChange::SwitchZone { zone, on },
                ZoneChange::Move { to: at } => FlockChange::MoveZone {
                    zone,
                    at,
                    facing: None,
                },
                ZoneChange::Remove => FlockChange::RemoveZone(zone),
            };
            self.hand_in(line, Change::Flock { flock, change });
        }
        let zone = number;
        self.happened.push(PlayEvent::Zone { zone, change });
    }

    /// Computes ticks on `threads` threads: the result is the same.
    pub fn set_threads(&mut self, threads: usize) {
        self.world.set_threads(threads);
    }

    fn hand(&self, side: SideId) -> &Hand {
        &self.hands[usize::from(side.0)]
    }

    /// Does something with a pointer at a point of the ground.
    fn point(&mut self, side: SideId, point: Vec2, input: PointerInput) -> Option<HandOutput> {
        let height = self.world.ground().height_at(point);
        let hand = &mut self.hands[usize::from(side.0)];
        let at = hand.camera().to_screen(point.extend(height))?;
        hand.pointer(&self.world, PointerInput { at, ..input })
    }

    fn group(&mut self, entry: &Scripted, number: usize, deed: GroupDeed) {
        let side = entry.side;
        let hand = &mut self.hands[usize::from(side.0)];
        // Numbers were checked when the script was read.
        let done = match deed {
            GroupDeed::Set => hand.set_group(number).is_ok(),
            GroupDeed::Add => hand.add_to_group(number).is_ok(),
            GroupDeed::Recall => hand.recall_group(&self.world, number, entry.time_s).is_ok(),
        };
        if !done {
            return;
        }
        if deed == GroupDeed::Recall {
            return self.note_selected(side, SelectedBy::Group(number));
        }
        let units = hand.groups().members(number).to_vec();
        self.happened.push(PlayEvent::Grouped {
            side,
            number,
            units,
        });
    }

    fn note_selected(&mut self, side: SideId, how: SelectedBy) {
        let units = self.hand(side).selection().ids().to_vec();
        self.happened.push(PlayEvent::Selected { side, units, how });
    }
}
