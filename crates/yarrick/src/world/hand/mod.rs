//! A player's hand on a world: what clicks, boxes and keys mean to it.

mod keys;
mod plan;

pub use plan::{NotPlaced, PlanRules, SitePlan};

use super::{
    Ability, Action, Aspect, Command, KindId, Preview, SideId, Spot, UnitId, Verb, When, World,
};
use crate::geom::{Rect, Vec2, angle};
use crate::motion::formation::Formation;
use crate::select::pick::foremost;
use crate::select::{
    Button, Camera, Gesture, GestureReader, GestureSettings, Groups, Keys, PointerInput, Selection,
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
/// A click with the secondary button gives the order that fits what is under it: see
/// [`ContextRules`](super::ContextRules). With shift it comes behind what the units do already,
/// with alt before it.
///
/// With a formation chosen ([`Hand::choose_formation`]), groups that are sent to open ground go in it: a secondary click
/// sends them so that they look the way that they came, and a drag with the secondary button has them look from where it
/// began to where it ended.
///
/// After [`Hand::intend`], the next primary click gives that order instead of selecting: what an
/// "attack-move" button or key does. With shift held, the one after that does, too. A secondary
/// click takes the intent back.
///
/// With a building in hand ([`Hand::plan_site`]), it follows the pointer, and a primary click or drag places it.
///
/// Units of a side that shares control are selected and ordered like one's own; but where both
/// are under a click or in a box, one's own go first.
///
/// ```
/// use yarrick::select::{Button, Camera, FlatView, GestureSettings, PointerAction, PointerInput};
/// use yarrick::world::HandOutput;
/// use yarrick::{Action, Ground, Hand, Kind, Side, Terrain, Vec2, World, WorldSetup};
///
/// let ground = Ground::from_rows(1.0, &["............"; 6], &[('.', Terrain::open("sand"))])?;
/// let mut world = World::new(WorldSetup {
///     sides: vec![Side::new("keepers")],
///     kinds: vec![Kind::walker("raker", 0.4, 1.5)],
///     ..WorldSetup::on(ground)
/// })?;
/// let (keepers, raker) = (world.side("keepers").unwrap(), world.kind("raker").unwrap());
/// let unit = world.spawn(raker, keepers, Vec2::new(2.0, 3.0), 0.0)?;
///
/// // The map fills a screen of 240 by 120 pixels; y points down there.
/// let camera = Camera::Flat(FlatView {
///     corner: Vec2::new(0.0, 6.0),
///     px_per_m: 20.0,
///     size_px: Vec2::new(240.0, 120.0),
/// });
/// let mut hand = Hand::new(keepers, camera, GestureSettings::default());
///
/// // A click on the raker, then a secondary click on open ground.
/// let mut click = |hand: &mut Hand, button, at, time_s| {
///     hand.pointer(&world, PointerInput::new(PointerAction::Press(button), at, time_s));
///     hand.pointer(&world, PointerInput::new(PointerAction::Release(button), at, time_s + 0.1))
/// };
/// click(&mut hand, Button::Primary, Vec2::new(40.0, 60.0), 0.0);
/// assert_eq!(hand.selection().ids(), [unit]);
/// let output = click(&mut hand, Button::Secondary, Vec2::new(200.0, 60.0), 1.0);
/// let Some(HandOutput::Commanded(command)) = output else { panic!("no command") };
/// assert_eq!(command.units, [unit]);
/// world.submit(command)?;
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
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
    /// What the next primary click orders.
    intent: Option<Verb>,
    /// In what formation groups are sent.
    formation: Option<Formation>,
    /// The building in hand.
    plan: Option<plan::Planned>,
}

/// What a hand may do with a unit, the most first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Claim {
    Own,
    Shared,
    Foreign,
}

/// What came of an input.
#[derive(Clone, Debug, PartialEq)]
pub enum HandOutput {
    /// The selection was set or changed.
    Selected {
        /// The box on the screen in pixels, or `None` for a click.
        dragged: Option<Rect>,
    },
    /// A command, to be given to [`World::submit`].
    Commanded(Command),
    /// The building in hand was not placed.
    NotPlaced(NotPlaced),
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
            intent: None,
            formation: None,
            plan: None,
        }
    }

    /// The same hand, selecting at most `most` units.
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

    /// The box being dragged, in screen pixels; none while the next click is an order or places a building.
    #[must_use]
    pub fn current_box(&self) -> Option<Rect> {
        let dragged = self.reader.current_box();
        dragged.filter(|_| self.intent.is_none() && self.plan.is_none())
    }

    /// What the next primary click orders instead of selecting.
    #[must_use]
    pub fn intent(&self) -> Option<Verb> {
        self.intent
    }

    /// Chooses what the next primary click orders, or that it selects again. Drops a building in hand.
    pub fn intend(&mut self, intent: Option<Verb>) {
        self.intent = intent;
        self.plan = None;
    }

    /// In what formation groups are sent to open ground; `None` where they gather in a heap.
    #[must_use]
    pub fn formation(&self) -> Option<&Formation> {
        self.formation.as_ref()
    }

    /// Chooses in what formation groups are sent to open ground from now on. Its facing is that of clicks; drags have
    /// their own.
    pub fn choose_formation(&mut self, formation: Option<Formation>) {
        self.reader.look_for_sweeps(formation.is_some());
        self.formation = formation;
    }

    /// Breaks off whatever drag, intent or site plan there is: escape was pressed, or the window was left.
    pub fn cancel(&mut self) {
        self.reader.cancel_all();
        self.intent = None;
        self.plan = None;
    }

    /// What a click at a point of the screen would point at: a foe that is under it or very near,
    /// or else the nearest unit that is under it, or else the ground; `None` where there is none.
    /// Selected units that can walk are looked through, since they do not act on themselves.
    #[must_use]
    pub fn spot(&self, world: &World, at: Vec2) -> Option<Spot> {
        let is_foe = |id: &UnitId| world.aspect(self.side, Spot::Unit(*id)) == Some(Aspect::Foe);
        let near = world.under(&self.camera, at, PICK_SLACK_PX);
        if let Some(foe) = near.iter().copied().find(is_foe) {
            return Some(Spot::Unit(foe));
        }
        let stands_for_itself = |id: &UnitId| {
            let walks = world
                .unit(*id)
                .is_some_and(|unit| unit.kind().can(Ability::Moves));
            !(walks && self.selection.contains(*id))
        };
        let under = world.under(&self.camera, at, 0.0);
        let unit = under.into_iter().find(stands_for_itself).map(Spot::Unit);
        unit.or_else(|| world.ground_under(&self.camera, at).map(Spot::Ground))
    }

    /// What an ordering click at a point of the screen would do, for the cursor; `None` where it
    /// would do nothing. Changes nothing.
    #[must_use]
    pub fn preview(&self, world: &World, at: Vec2) -> Option<Preview> {
        if !self.can_order(world) {
            return None;
        }
        let spot = self.spot(world, at)?;
        world.preview(self.side, self.selection.ids(), spot, self.intent)
    }

    /// Takes one input of a pointer.
    pub fn pointer(&mut self, world: &World, input: PointerInput) -> Option<HandOutput> {
        self.carry_plan(&input);
        let gesture = self.reader.read(input)?;
        self.forget_the_gone(world);
        if self.plan.is_some() {
            return self.place(world, gesture);
        }
        if let Some(verb) = self.intent {
            return self.carry_out(world, verb, gesture);
        }
        match gesture {
            Gesture::Box { rect, keys, .. } => {
                let found = self.chosen_by_box(world, rect);
                self.choose(world, found, keys);
                let dragged = Some(rect);
                Some(HandOutput::Selected { dragged })
            }
            Gesture::Click {
                button: Button::Primary,
                at,
                keys,
                double,
            } => {
                self.click(world, at, keys, double);
                Some(HandOutput::Selected { dragged: None })
            }
            Gesture::Click {
                button: Button::Secondary,
                at,
                keys,
                ..
            } => {
                let spot = self.spot(world, at)?;
                let march = self.march(world, (spot, None), None);
                self.order(world, march.unwrap_or(Action::Context { at: spot }), keys)
            }
            Gesture::Sweep { from, to, keys } => {
                let spot = self.spot(world, from)?;
                let march = self.march(world, (spot, None), Some(to));
                self.order(world, march.unwrap_or(Action::Context { at: spot }), keys)
            }
        }
    }

    /// Whether all that is selected obeys this hand. A foreign unit can only be looked at.
    #[must_use]
    pub fn can_order(&self, world: &World) -> bool {
        let mut units = self.selection.ids().iter().filter_map(|id| world.unit(*id));
        units.all(|unit| world.may_command(self.side, unit.side_id()))
    }

    fn forget_the_gone(&mut self, world: &World) {
        self.selection.retain(|id| world.unit(id).is_some());
        self.groups.retain(|id| world.unit(id).is_some());
    }

    /// How readily a unit is picked: one's own before those that one may command besides, and
    /// these before foreign ones.
    fn claim(&self, world: &World, id: UnitId) -> Claim {
        match world.unit(id).map(|unit| unit.side_id()) {
            Some(side) if side == self.side => Claim::Own,
            Some(side) if world.may_command(self.side, side) => Claim::Shared,
            _ => Claim::Foreign,
        }
    }

    /// Those of some units to which this hand has the best claim.
    fn claimed(&self, world: &World, mut units: Vec<UnitId>) -> (Claim, Vec<UnitId>) {
        let claims = units.iter().map(|id| self.claim(world, *id));
        let best = claims.min().unwrap_or(Claim::Foreign);
        units.retain(|id| self.claim(world, *id) == best);
        (best, units)
    }

    /// One's own units of the foremost rank in a box, or else the first foreign one.
    fn chosen_by_box(&self, world: &World, screen: Rect) -> Vec<UnitId> {
        let found = world.in_screen_box(&self.camera, screen);
        let (claim, mut found) = self.claimed(world, found);
        if claim != Claim::Foreign {
            let kind = |id: UnitId| world.unit(id).map(|unit| unit.kind_id());
            let rank = |id: UnitId| world.unit(id).map(|unit| unit.kind().rank);
            return foremost(found, rank, |id| (kind(id), id));
        }
        found.truncate(1);
        found
    }

    fn kind_in_view(&self, world: &World, side: SideId, kind: KindId) -> Vec<UnitId> {
        let screen = Rect {
            min: Vec2::ZERO,
            max: self.camera.size_px(),
        };
        let mut found = world.in_screen_box(&self.camera, screen);
        found.retain(|id| {
            let unit = world.unit(*id);
            unit.is_some_and(|unit| (unit.side_id(), unit.kind_id()) == (side, kind))
        });
        found
    }

    fn click(&mut self, world: &World, at: Vec2, keys: Keys, double: bool) {
        if double && let Some(unit) = self.last_pick.and_then(|(_, id)| world.unit(id)) {
            let (side, kind) = (unit.side_id(), unit.kind_id());
            if world.may_command(self.side, side) {
                let found = self.kind_in_view(world, side, kind);
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
        self.claim(world, id) != Claim::Foreign && self.can_order(world)
    }

    /// The unit that a click means: the one after that which a click there meant before.
    fn picked(&self, world: &World, at: Vec2) -> Option<UnitId> {
        let stack = world.under(&self.camera, at, PICK_SLACK_PX);
        let (_, stack) = self.claimed(world, stack);
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

    /// Gives the order that the player intends. A drag is a click at the point where it began.
    fn carry_out(&mut self, world: &World, verb: Verb, gesture: Gesture) -> Option<HandOutput> {
        let (at, keys) = match gesture {
            Gesture::Click {
                button: Button::Secondary,
                ..
            }
            | Gesture::Sweep { .. } => {
                self.intent = None;
                return None;
            }
            Gesture::Click { at, keys, .. } => (at, keys),
            Gesture::Box { from, keys, .. } => (from, keys),
        };
        self.intent = Some(verb).filter(|_| keys.shift);
        let where_at = |unit: UnitId| world.unit(unit).map(|unit| unit.position());
        let spot = self.spot(world, at)?;
        let march = self.march(world, (spot, Some(verb)), None);
        let action = march.or_else(|| verb.about(spot, where_at))?;
        self.order(world, action, keys)
    }

    /// The order to go to a spot in the chosen formation, and to look from there to a point of the screen. `None` where
    /// none is chosen, or the spot means anything else than to go there for any that is selected.
    fn march(
        &self,
        world: &World,
        (spot, verb): (Spot, Option<Verb>),
        look_at: Option<Vec2>,
    ) -> Option<Action> {
        let formation = self.formation.clone()?;
        let Spot::Ground(to) = spot else {
            return None;
        };
        let preview = world.preview(self.side, self.selection.ids(), spot, verb)?;
        let [(verb @ (Verb::Move | Verb::AttackMove), _)] = preview.shares[..] else {
            return None;
        };
        let looked_at = look_at.and_then(|at| world.ground_under(&self.camera, at));
        let facing = looked_at
            .and_then(|at| angle::of(at - to))
            .or(formation.facing);
        Some(Action::March {
            to,
            formation: Formation {
                facing,
                ..formation
            },
            fight: verb == Verb::AttackMove,
        })
    }

    fn order(&self, world: &World, action: Action, keys: Keys) -> Option<HandOutput> {
        if self.selection.is_empty() || !self.can_order(world) {
            return None;
        }
        Some(HandOutput::Commanded(Command {
            side: self.side,
            units: self.selection.ids().to_vec(),
            action,
            when: when_by(keys),
        }))
    }
}

/// When an order given with some keys held is carried out.
fn when_by(keys: Keys) -> When {
    match (keys.shift, keys.alt) {
        (true, _) => When::Afterwards,
        (false, true) => When::First,
        (false, false) => When::Now,
    }
}
