//! A player's hand on a world: what clicks, boxes and keys mean to it.

use super::{Action, Command, KindId, SideId, UnitId, When, World};
use crate::geom::{Rect, Vec2};
use crate::select::pick::foremost;
use crate::select::{
    Button, Camera, Gesture, GestureReader, GestureSettings, Groups, Keys, NoSuchGroup,
    PointerInput, Selection,
};

/// How far beside a unit a click still picks it, in screen pixels.
const PICK_SLACK_PX: f32 = 6.0;

/// The pointer of one side's player, what it has selected, and its control groups.
///
/// With the primary button:
///
/// - A click selects the unit under it: one of one's own if there is one, else a foreign one, to
///   be looked at but not ordered. Clicks repeated in one place go through all that stand there.
/// - A double click selects all of the same kind that the camera shows.
/// - A box selects all of one's own that it touches, of the foremost rank among them: fighters
///   over workers over buildings. One that touches foreign units only selects the first of them.
/// - With shift, a click takes the unit into the selection or out of it, and a box adds to it.
///   With control, both take away.
/// - A click on open ground selects nobody, unless shift or control is held.
///
/// A click with the secondary button sends the selected units there; with shift, when they are
/// done with what they do already.
#[derive(Clone, Debug)]
pub struct Hand {
    side: SideId,
    camera: Camera,
    reader: GestureReader,
    selection: Selection<UnitId>,
    groups: Groups<UnitId>,
    /// The last click on units: where, and which of those there was taken.
    last_pick: Option<(Vec2, UnitId)>,
    /// The idle worker that was shown last.
    last_idle: Option<UnitId>,
}

/// What came of an input.
#[derive(Clone, Debug, PartialEq)]
pub enum Deed {
    /// The selection was set or changed.
    Selected {
        /// The box on the screen in pixels, or `None` for a click.
        dragged: Option<Rect>,
    },
    /// A command, to be given to [`World::submit`].
    Commanded(Command),
}

/// What came of recalling a control group.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Recalled {
    /// Where the player wants to look, on the ground in metres: at the leading unit of a group
    /// that was recalled twice at once.
    pub look_at: Option<Vec2>,
}

impl Hand {
    /// A hand for a side, behind a camera.
    #[must_use]
    pub fn new(side: SideId, camera: Camera, settings: GestureSettings) -> Hand {
        Hand {
            side,
            camera,
            reader: GestureReader::new(settings),
            selection: Selection::default(),
            groups: Groups::default(),
            last_pick: None,
            last_idle: None,
        }
    }

    /// The same hand, selecting at most so many units.
    #[must_use]
    pub fn with_limit(self, most: usize) -> Hand {
        Hand {
            selection: Selection::with_limit(most),
            ..self
        }
    }

    /// The side whose hand it is.
    #[must_use]
    pub fn side(&self) -> SideId {
        self.side
    }

    /// The camera.
    #[must_use]
    pub fn camera(&self) -> &Camera {
        &self.camera
    }

    /// Moves the camera, or takes another.
    pub fn set_camera(&mut self, camera: Camera) {
        self.camera = camera;
    }

    /// What is selected, the leading unit first. Ids of units that are gone are dropped with the
    /// next input.
    #[must_use]
    pub fn selection(&self) -> &Selection<UnitId> {
        &self.selection
    }

    /// The control groups.
    #[must_use]
    pub fn groups(&self) -> &Groups<UnitId> {
        &self.groups
    }

    /// Selects by other means: from a list in the game's interface, say.
    pub fn select(&mut self, units: impl IntoIterator<Item = UnitId>) {
        self.selection.replace(units);
    }

    /// The box being dragged, in screen pixels.
    #[must_use]
    pub fn current_box(&self) -> Option<Rect> {
        self.reader.current_box()
    }

    /// Takes one input of the pointer.
    pub fn pointer(&mut self, world: &World, input: PointerInput) -> Option<Deed> {
        let gesture = self.reader.read(input)?;
        self.forget_the_gone(world);
        match gesture {
            Gesture::Box { rect, keys } => {
                let found = self.chosen_by_box(world, rect);
                self.choose(world, found, keys);
                let dragged = Some(rect);
                Some(Deed::Selected { dragged })
            }
            Gesture::Click {
                button: Button::Primary,
                at,
                keys,
                double,
            } => {
                self.click(world, at, keys, double);
                Some(Deed::Selected { dragged: None })
            }
            Gesture::Click {
                button: Button::Secondary,
                at,
                keys,
                ..
            } => {
                let when = if keys.shift {
                    When::Afterwards
                } else {
                    When::Now
                };
                self.order(world, at, when)
            }
        }
    }

    /// Selects all units of a kind, wherever they are.
    pub fn select_all_of_kind(&mut self, world: &World, kind: KindId) {
        self.selection.replace(world.all_of_kind(self.side, kind));
    }

    /// Selects all units of a kind that the camera shows.
    pub fn select_kind_in_view(&mut self, world: &World, kind: KindId) {
        let found = self.kind_in_view(world, kind);
        self.selection.replace(found);
    }

    /// Selects the next worker without an order, and tells where it is. After the last one comes
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

    /// Selects a control group, as far as it lives. Recalled twice at once, it tells where to
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

    /// Whether all that is selected obeys this hand. A foreign unit can only be looked at.
    #[must_use]
    pub fn can_order(&self, world: &World) -> bool {
        let mut units = self.selection.ids().iter().filter_map(|id| world.unit(*id));
        units.all(|unit| unit.side_id() == self.side)
    }

    fn forget_the_gone(&mut self, world: &World) {
        self.selection.retain(|id| world.unit(id).is_some());
        self.groups.retain(|id| world.unit(id).is_some());
    }

    fn is_own(&self, world: &World, id: UnitId) -> bool {
        world
            .unit(id)
            .is_some_and(|unit| unit.side_id() == self.side)
    }

    /// One's own units of the foremost rank in a box, or else the first foreign one.
    fn chosen_by_box(&self, world: &World, screen: Rect) -> Vec<UnitId> {
        let mut found = world.in_screen_box(&self.camera, screen);
        if found.iter().any(|id| self.is_own(world, *id)) {
            found.retain(|id| self.is_own(world, *id));
            let kind = |id: UnitId| world.unit(id).map(|unit| unit.kind_id());
            let rank = |id: UnitId| world.unit(id).map(|unit| unit.kind().rank);
            return foremost(found, rank, |id| (kind(id), id));
        }
        found.truncate(1);
        found
    }

    fn kind_in_view(&self, world: &World, kind: KindId) -> Vec<UnitId> {
        let screen = Rect {
            min: Vec2::ZERO,
            max: self.camera.size_px(),
        };
        let mut found = world.in_screen_box(&self.camera, screen);
        found.retain(|id| self.is_own(world, *id));
        found.retain(|id| world.unit(*id).is_some_and(|unit| unit.kind_id() == kind));
        found
    }

    fn click(&mut self, world: &World, at: Vec2, keys: Keys, double: bool) {
        if double && let Some(unit) = self.last_pick.and_then(|(_, id)| world.unit(id)) {
            let kind = unit.kind_id();
            if unit.side_id() == self.side {
                let found = self.kind_in_view(world, kind);
                return self.choose(world, found, keys);
            }
        }
        let Some(id) = self.picked(world, at) else {
            self.last_pick = None;
            return self.choose(world, Vec::new(), keys);
        };
        self.last_pick = Some((at, id));
        if keys.shift && !keys.control && self.can_join(world, id) {
            self.selection.toggle(id);
        } else {
            self.choose(world, vec![id], keys);
        }
    }

    /// Whether a unit can be selected besides those that are: own and foreign ones never are
    /// together.
    fn can_join(&self, world: &World, id: UnitId) -> bool {
        self.is_own(world, id) && self.can_order(world)
    }

    /// The unit that a click means: the one after that which a click there meant before.
    fn picked(&self, world: &World, at: Vec2) -> Option<UnitId> {
        let mut stack = world.under(&self.camera, at, PICK_SLACK_PX);
        if stack.iter().any(|id| self.is_own(world, *id)) {
            stack.retain(|id| self.is_own(world, *id));
        }
        let before = self
            .last_pick
            .filter(|(place, _)| place.distance(at) <= PICK_SLACK_PX)
            .and_then(|(_, id)| stack.iter().position(|known| *known == id))
            // Once the player has selected others, clicks begin with the nearest again.
            .filter(|at| self.selection.ids() == [stack[*at]]);
        let next = before.map_or(0, |before| (before + 1) % stack.len());
        stack.get(next).copied()
    }

    fn choose(&mut self, world: &World, found: Vec<UnitId>, keys: Keys) {
        if keys.control {
            self.selection.take_away(found);
        } else if keys.shift && found.iter().all(|id| self.can_join(world, *id)) {
            self.selection.add(found);
        } else {
            self.selection.replace(found);
        }
    }

    fn order(&self, world: &World, at: Vec2, when: When) -> Option<Deed> {
        if self.selection.is_empty() || !self.can_order(world) {
            return None;
        }
        let to = world.ground_under(&self.camera, at)?;
        Some(Deed::Commanded(Command {
            side: self.side,
            units: self.selection.ids().to_vec(),
            action: Action::Move { to },
            when,
        }))
    }
}
