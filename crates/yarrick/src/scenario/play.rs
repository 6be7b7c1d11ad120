//! Playing a scenario: its script fed into its world, tick by tick.

use super::script::{ScriptAct, Scripted};
use super::{Placed, Scenario};
use crate::geom::{Rect, Vec2};
use crate::rng::Stream;
use crate::select::{Camera, FlatView, GestureSettings, PointerInput};
use crate::world::{Command, Deed, Event, Hand, SideId, UnitId, World, WorldError};

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
    /// The ids of the units that the scenario placed, by their number.
    placed: Vec<UnitId>,
    happened: Vec<Happening>,
    trail: u64,
}

/// Something that happened in a tick of a play.
#[derive(Clone, Debug, PartialEq)]
pub enum Happening {
    /// A player selected.
    Selected {
        /// Whose player.
        side: SideId,
        /// What is selected now.
        units: Vec<UnitId>,
        /// The box on the ground in metres, or `None` for a click.
        dragged: Option<Rect>,
    },
    /// Something happened in the world.
    Event(Event),
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
        for unit in &self.units {
            let at = scattered(&world, unit, &mut scatter);
            placed.push(world.spawn(unit.kind, unit.side, at, unit.facing)?);
        }
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
    let radius = world
        .kinds()
        .get(usize::from(unit.kind.0))
        .map_or(0.0, |kind| kind.radius_m);
    if world.ground().disc_is_clear(at, radius) {
        at
    } else {
        unit.at
    }
}

impl Play {
    /// Feeds in what the script says for the next tick, and steps the world. Tells what
    /// happened, in order.
    ///
    /// An entry takes effect in the first tick that ends at its time or later.
    pub fn step(&mut self) -> &[Happening] {
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
        let events = self.world.step().iter().cloned();
        self.happened.extend(events.map(Happening::Event));
        let (trail, checksum) = (self.trail, self.world.checksum());
        self.trail = trail.rotate_left(5).wrapping_mul(0x9e37_79b9_7f4a_7c15) ^ checksum;
        &self.happened
    }

    /// Steps until a time in seconds, telling `watch` what happens in each tick.
    pub fn run_until(&mut self, time_s: f64, mut watch: impl FnMut(&World, &[Happening])) {
        while !self.is_past(time_s) {
            self.step();
            watch(&self.world, &self.happened);
        }
    }

    /// Whether the next tick would end after a time in seconds.
    #[must_use]
    pub fn is_past(&self, time_s: f64) -> bool {
        let rate = f64::from(self.world.ticks_per_second());
        (self.world.tick() + 1) as f64 > time_s.min(super::MAX_SECONDS) * rate + 1e-6
    }

    /// The world.
    #[must_use]
    pub fn world(&self) -> &World {
        &self.world
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
        match self.deed(entry) {
            Some(Deed::Selected { dragged }) => {
                let hand = &self.hands[usize::from(entry.side.0)];
                let ground = |screen| self.world.ground_under(hand.camera(), screen);
                let corners = dragged.map(|rect| (ground(rect.min), ground(rect.max)));
                self.happened.push(Happening::Selected {
                    side: entry.side,
                    units: hand.selection().ids().to_vec(),
                    dragged: match corners {
                        Some((Some(a), Some(b))) => Some(Rect::from_corners(a, b)),
                        _ => None,
                    },
                });
            }
            // The limit on commands is far above that on script entries in a tick.
            Some(Deed::Commanded(command)) => drop(self.world.submit(command)),
            None => {}
        }
    }

    fn deed(&mut self, entry: &Scripted) -> Option<Deed> {
        let hand = &mut self.hands[usize::from(entry.side.0)];
        match &entry.act {
            ScriptAct::Pointer {
                action,
                point,
                keys,
                taken,
            } => {
                let height = self.world.ground().height_at(*point);
                let at = hand.camera().to_screen(point.extend(height))?;
                let input = PointerInput {
                    keys: *keys,
                    taken: *taken,
                    ..PointerInput::new(*action, at, entry.time_s)
                };
                hand.pointer(&self.world, input)
            }
            ScriptAct::Order {
                action,
                units,
                queued,
            } => Some(Deed::Commanded(Command {
                side: entry.side,
                units: match units {
                    Some(units) => units.iter().map(|k| self.placed[*k as usize]).collect(),
                    None => hand.selection().ids().to_vec(),
                },
                action: *action,
                queued: *queued,
            })),
        }
    }
}
