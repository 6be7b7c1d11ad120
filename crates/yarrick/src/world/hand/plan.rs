//! The site plan of a hand: a building that follows the pointer until it is placed or given up.

use super::{Hand, HandOutput};
use crate::geom::{Block, Vec2, angle};
use crate::select::{Button, Gesture, PointerAction, PointerInput};
use crate::site::{snapped, turned};
use crate::world::{Action, Command, KindId, SiteObjection, UnitId, World};

/// The steps in a whole turn of a plan that lies on square cells.
const QUARTERS: u16 = 4;

/// How site plans follow the pointer and turn.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct PlanRules {
    /// Whether footprints lie on whole cells; true by default. On square cells, plans then turn by quarters only.
    pub on_cells: bool,
    /// The number of steps in a whole turn; 8 by default. More turn a plan more finely; with 0 it does not turn.
    pub steps_a_turn: u16,
    /// Where a new plan faces, in radians; 0 by default.
    pub facing: f32,
}

impl Default for PlanRules {
    fn default() -> PlanRules {
        PlanRules {
            on_cells: true,
            steps_a_turn: 8,
            facing: 0.0,
        }
    }
}

/// A building that is being tried somewhere: what a hand shows, and what a click would place.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct SitePlan {
    /// Its kind.
    pub kind: KindId,
    /// Where the building would stand, in metres.
    pub at: Vec2,
    /// Where it would face, in radians.
    pub facing: f32,
}

impl SitePlan {
    /// The footprint that it would cover; `None` for a kind without one.
    #[must_use]
    pub fn block(&self, world: &World) -> Option<Block> {
        let kind = world.kinds().get(usize::from(self.kind.0))?;
        kind.footprint_at(self.at, self.facing)
    }
}

/// Why a click placed nothing. The plan stays in the hand.
#[derive(Clone, Debug, PartialEq)]
pub enum NotPlaced {
    /// Everything that speaks against the site, at least one objection.
    Objections(Vec<SiteObjection>),
    /// No selected unit builds buildings of this kind for this hand.
    NoBuilder,
}

/// A kind that was chosen to be placed. Where it lies follows from the pointer and the camera.
#[derive(Clone, Copy, Debug)]
pub(super) struct Planned {
    kind: KindId,
    rules: PlanRules,
    facing: f32,
    /// The point of the screen that it follows; `None` until the pointer shows one.
    screen: Option<Vec2>,
}

/// A drag on the screen.
#[derive(Clone, Copy, Debug)]
struct Drag {
    from: Vec2,
    to: Vec2,
}

impl Hand {
    /// Takes a building in hand: it follows the pointer, and the next primary click has the selected builders reserve the
    /// site and build there. Replaces any plan or intent. With shift held, the click keeps the plan for another one.
    ///
    /// A primary drag turns the plan: it lies where the drag began, faces the pointer, and is placed when the button comes
    /// up. [`Hand::turn_plan`] turns it by steps. A secondary click, or [`Hand::cancel`], gives it up. The plan is in the
    /// hand only: nothing in the world changes before it is placed.
    ///
    /// ```
    /// # use yarrick::select::{Button, Camera, FlatView, GestureSettings, PointerAction, PointerInput};
    /// # use yarrick::world::{HandOutput, PlanRules, Work};
    /// # use yarrick::{Action, Ground, Hand, Kind, KindId, Side, SideId, Terrain, Vec2, World, WorldSetup};
    /// # let ground = Ground::from_rows(1.0, &["............"; 6], &[('.', Terrain::open("sand"))])?;
    /// # let rack = Kind::building("drying rack", Vec2::new(2.0, 1.0));
    /// # let work = Work { builds: vec![KindId(1)], ..Work::default() };
    /// # let raker = Kind { work: Some(work), ..Kind::walker("raker", 0.4, 1.5) };
    /// # let mut world = World::new(WorldSetup {
    /// #     sides: vec![Side::new("keepers")], kinds: vec![raker, rack], ..WorldSetup::on(ground)
    /// # })?;
    /// # let (keepers, raker, rack) = (SideId(0), KindId(0), KindId(1));
    /// # let unit = world.spawn(raker, keepers, Vec2::new(2.0, 3.0), 0.0)?;
    /// # let camera = Camera::Flat(FlatView {
    /// #     corner: Vec2::new(0.0, 6.0), px_per_m: 20.0, size_px: Vec2::new(240.0, 120.0),
    /// # });
    /// # let mut hand = Hand::new(keepers, camera, GestureSettings::default());
    /// hand.select([unit]);
    /// hand.plan_site(rack, PlanRules::default());
    /// let mut input = |hand: &mut Hand, action| {
    ///     hand.pointer(&world, PointerInput::new(action, Vec2::new(163.0, 66.0), 0.0))
    /// };
    /// input(&mut hand, PointerAction::Move);
    /// // Draw the plan there, with what speaks against it.
    /// assert_eq!(hand.site_plan(&world).unwrap().at, Vec2::new(8.0, 2.5));
    /// assert_eq!(hand.plan_verdict(&world), []);
    /// input(&mut hand, PointerAction::Press(Button::Primary));
    /// let placed = input(&mut hand, PointerAction::Release(Button::Primary));
    /// let Some(HandOutput::Commanded(command)) = placed else { panic!("{placed:?}") };
    /// assert_eq!(command.action, Action::Build { kind: rack, at: Vec2::new(8.0, 2.5), facing: 0.0 });
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn plan_site(&mut self, kind: KindId, rules: PlanRules) {
        self.intent = None;
        self.plan = Some(Planned {
            kind,
            rules,
            facing: angle::wrap(rules.facing),
            // Another choice lies where the one before did.
            screen: self.plan.and_then(|plan| plan.screen),
        });
    }

    /// Gives up the plan in hand, if there is one.
    pub fn drop_plan(&mut self) {
        self.plan = None;
    }

    /// The kind of building in hand, whether or not the pointer shows a place for it.
    #[must_use]
    pub fn planned_kind(&self) -> Option<KindId> {
        self.plan.map(|plan| plan.kind)
    }

    /// Turns the plan in hand by some steps, anticlockwise. On square cells a step is at least a quarter.
    pub fn turn_plan(&mut self, world: &World, by: i32) {
        if let Some(plan) = &mut self.plan {
            let mut steps = plan.rules.steps_a_turn;
            if lies_on_squares(world, &plan.rules) {
                steps = steps.min(QUARTERS);
            }
            plan.facing = turned(plan.facing, by, steps);
        }
    }

    /// The building in hand, where it would stand now; `None` where there is none, while the pointer shows no ground, and
    /// for a kind that does not exist.
    #[must_use]
    pub fn site_plan(&self, world: &World) -> Option<SitePlan> {
        let planned = self.plan?;
        let drag = self.reader.current_drag();
        let drag = drag.map(|[from, to]| Drag { from, to });
        let pressed = self.reader.pressed_at().or(planned.screen);
        self.plan_at(world, planned, pressed?, drag)
    }

    /// Everything that speaks against the building in hand where it is now; empty where it may be built, and without one.
    /// Costs as much as [`World::site_verdict`].
    #[must_use]
    pub fn plan_verdict(&self, world: &World) -> Vec<SiteObjection> {
        let plan = self.site_plan(world);
        plan.map_or_else(Vec::new, |plan| {
            world.site_verdict(self.side, plan.kind, plan.at, plan.facing)
        })
    }

    /// The selected units that build buildings of a kind and obey this hand.
    #[must_use]
    pub fn builders(&self, world: &World, kind: KindId) -> Vec<UnitId> {
        let builds = |id: &UnitId| {
            world.unit(*id).is_some_and(|unit| {
                world.may_command(self.side, unit.side_id()) && unit.kind().builds().contains(&kind)
            })
        };
        let selected = self.selection.ids().iter().copied();
        selected.filter(builds).collect()
    }

    /// Lets the plan follow the pointer. Over the game's interface it lies nowhere. A secondary press within a drag gives
    /// it up at once.
    pub(super) fn carry_plan(&mut self, input: &PointerInput) {
        let is_secondary = input.action == PointerAction::Press(Button::Secondary);
        if is_secondary && !input.taken && self.reader.current_drag().is_some() {
            self.plan = None;
        }
        if let Some(plan) = &mut self.plan
            && input.action != PointerAction::Cancel
        {
            plan.screen = Some(input.at).filter(|at| at.is_finite() && !input.taken);
        }
    }

    /// Places the plan, or gives it up.
    pub(super) fn place(&mut self, world: &World, gesture: Gesture) -> Option<HandOutput> {
        let planned = self.plan?;
        let (at, keys, drag) = match gesture {
            Gesture::Sweep { .. } => return self.give_up(),
            Gesture::Click {
                button: Button::Secondary,
                ..
            } => return self.give_up(),
            Gesture::Click { at, keys, .. } => (at, keys, None),
            Gesture::Box { rect, from, keys } => {
                let to = rect.min + rect.max - from;
                (from, keys, Some(Drag { from, to }))
            }
        };
        let site = self.plan_at(world, planned, at, drag)?;
        let facing = site.facing;
        self.plan = Some(Planned { facing, ..planned });
        let against = world.site_verdict(self.side, site.kind, site.at, facing);
        if !against.is_empty() {
            return Some(HandOutput::NotPlaced(NotPlaced::Objections(against)));
        }
        let units = self.builders(world, site.kind);
        if units.is_empty() {
            return Some(HandOutput::NotPlaced(NotPlaced::NoBuilder));
        }
        if !keys.shift {
            self.plan = None;
        }
        let (kind, at) = (site.kind, site.at);
        Some(HandOutput::Commanded(Command {
            side: self.side,
            units,
            action: Action::Build { kind, at, facing },
            when: super::when_by(keys),
        }))
    }

    fn give_up(&mut self) -> Option<HandOutput> {
        self.plan = None;
        None
    }

    fn plan_at(
        &self,
        world: &World,
        planned: Planned,
        screen: Vec2,
        drag: Option<Drag>,
    ) -> Option<SitePlan> {
        let kind = world.kinds().get(usize::from(planned.kind.0))?;
        let pointed = world.ground_under(&self.camera, screen)?;
        let dragged = drag.and_then(|drag| {
            let from = world.ground_under(&self.camera, drag.from)?;
            angle::of(world.ground_under(&self.camera, drag.to)? - from)
        });
        let rules = &planned.rules;
        let mut facing = dragged.unwrap_or(planned.facing);
        if lies_on_squares(world, rules) {
            facing = turned(facing, 0, QUARTERS);
        }
        let footprint = kind.footprint_at(pointed, facing);
        let at = match footprint.filter(|_| rules.on_cells) {
            None => pointed,
            Some(block) => {
                let middle = snapped(world.ground(), block.half * 2.0, facing, block.centre);
                pointed + (middle - block.centre)
            }
        };
        Some(SitePlan {
            kind: planned.kind,
            at,
            facing,
        })
    }
}

fn lies_on_squares(world: &World, rules: &PlanRules) -> bool {
    rules.on_cells && world.ground().lattice().is_square()
}
