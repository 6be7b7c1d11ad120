//! The player's hand: gestures, picking and selections.
//!
//! The types to know: [`GestureReader`] (press, move and release become clicks and boxes),
//! [`Selection`] and [`Groups`] (lists of ids, and ten of them kept for later), [`Camera`] (from
//! screen points to ground points and back) and the functions of [`pick`] (which of these does a
//! click or a box mean).
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

mod camera;
mod gesture;
mod groups;
mod selection;

pub use camera::{Camera, CameraError, FlatView, MatrixView, Ray, Relief, Shows};
pub use gesture::{
    Button, Gesture, GestureReader, GestureSettings, Keys, MAX_POINTERS, PointerAction,
    PointerInput,
};
pub use groups::{GROUPS, Groups, NoSuchGroup};
pub use selection::Selection;
