//! A player's hand on a world: what a click and a box mean to it.

use super::{Action, Command, SideId, UnitId, World};
use crate::geom::{Rect, Vec2};
use crate::select::{
    Button, FlatView, Gesture, GestureReader, GestureSettings, PointerInput, Selection,
};

/// How far beside a unit a click still picks it, in screen pixels.
const PICK_SLACK_PX: f32 = 6.0;

/// The pointer of one side's player, and what it has selected.
///
/// - A click with the primary button selects the unit of one's own side under it, a box all
///   that it touches. With shift they are added to the selection. A click on open ground
///   selects nothing, unless shift is held.
/// - A click with the secondary button sends the selected units there. With shift the move
///   waits behind what they do already.
#[derive(Clone, Debug)]
pub struct Hand {
    side: SideId,
    view: FlatView,
    reader: GestureReader,
    selection: Selection<UnitId>,
}

/// What came of an input.
#[derive(Clone, Debug, PartialEq)]
pub enum Deed {
    /// The selection was set or changed.
    Selected {
        /// The box on the ground in metres, or `None` for a click.
        dragged: Option<Rect>,
    },
    /// A command, to be given to [`World::submit`].
    Commanded(Command),
}

impl Hand {
    /// A hand for a side, behind a camera.
    #[must_use]
    pub fn new(side: SideId, view: FlatView, settings: GestureSettings) -> Hand {
        Hand {
            side,
            view,
            reader: GestureReader::new(settings),
            selection: Selection::default(),
        }
    }

    /// The side whose hand it is.
    #[must_use]
    pub fn side(&self) -> SideId {
        self.side
    }

    /// The camera.
    #[must_use]
    pub fn view(&self) -> FlatView {
        self.view
    }

    /// Moves the camera.
    pub fn set_view(&mut self, view: FlatView) {
        self.view = view;
    }

    /// What is selected. Ids of units that are gone are dropped with the next input.
    #[must_use]
    pub fn selection(&self) -> &Selection<UnitId> {
        &self.selection
    }

    /// Selects by other means: a control group, a list in the game's interface.
    pub fn select(&mut self, units: impl IntoIterator<Item = UnitId>) {
        self.selection.replace(units);
    }

    /// The box being dragged, on the ground in metres.
    #[must_use]
    pub fn current_box(&self) -> Option<Rect> {
        self.reader
            .current_box()
            .map(|rect| self.view.box_to_ground(rect))
    }

    /// Takes one input of the pointer.
    pub fn pointer(&mut self, world: &World, input: PointerInput) -> Option<Deed> {
        let gesture = self.reader.read(input)?;
        self.selection.retain(|id| world.unit(id).is_some());
        match gesture {
            Gesture::Box { rect, keys } => {
                let rect = self.view.box_to_ground(rect);
                let found = world.pick_box(self.side, rect);
                self.choose(found, keys.shift);
                let dragged = Some(rect);
                Some(Deed::Selected { dragged })
            }
            Gesture::Click {
                button: Button::Primary,
                at,
                keys,
            } => {
                let slack = PICK_SLACK_PX / self.view.px_per_m;
                let found = world.pick(self.side, self.view.to_ground(at), slack);
                self.choose(found, keys.shift);
                Some(Deed::Selected { dragged: None })
            }
            Gesture::Click {
                button: Button::Secondary,
                at,
                keys,
            } => self.order(self.view.to_ground(at), keys.shift),
        }
    }

    fn choose(&mut self, found: impl IntoIterator<Item = UnitId>, add: bool) {
        if add {
            self.selection.add(found);
        } else {
            self.selection.replace(found);
        }
    }

    fn order(&self, to: Vec2, queued: bool) -> Option<Deed> {
        (!self.selection.is_empty()).then(|| {
            Deed::Commanded(Command {
                side: self.side,
                units: self.selection.ids().to_vec(),
                action: Action::Move { to },
                queued,
            })
        })
    }
}
