//! The player's hand: gestures, picking and selections.
//!
//! The types to know: [`GestureReader`] (press, move and release become clicks and boxes),
//! [`Selection`] (a set of ids) and the functions of [`pick`] (which of these does a click or a
//! box mean). [`FlatView`] turns screen points into ground points for a camera that looks
//! straight down.
//!
//! ```
//! use yarrick::geom::Vec2;
//! use yarrick::select::{Button, Gesture, GestureReader, PointerAction, PointerInput};
//!
//! let mut reader = GestureReader::default();
//! let input = |action, x, y, time_s| PointerInput::new(action, Vec2::new(x, y), time_s);
//! let primary = Button::Primary;
//!
//! assert_eq!(reader.read(input(PointerAction::Press(primary), 80.0, 60.0, 0.0)), None);
//! assert_eq!(reader.read(input(PointerAction::Move, 20.0, 10.0, 0.1)), None);
//! assert!(reader.current_box().is_some(), "there is a box to draw");
//! let gesture = reader.read(input(PointerAction::Release(primary), 20.0, 10.0, 0.2));
//! assert!(matches!(gesture, Some(Gesture::Box { .. })));
//! ```
//!
//! It knows nothing of units and sides: ids are whatever the caller uses. How a world is picked
//! from and commanded is in [`world`](crate::world).

pub mod pick;

mod gesture;
mod selection;
mod view;

pub use gesture::{
    Button, Gesture, GestureReader, GestureSettings, Keys, PointerAction, PointerInput,
};
pub use selection::Selection;
pub use view::FlatView;
