//! Turns what a pointer does into clicks and boxes.

use crate::geom::{Rect, Vec2};
use serde::{Deserialize, Serialize};

/// A button of the pointer.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Button {
    /// The one that selects: usually the left one.
    Primary,
    /// The one that orders: usually the right one.
    Secondary,
}

/// The modifier keys that are held.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(default)]
pub struct Keys {
    /// Shift.
    pub shift: bool,
    /// Control.
    pub control: bool,
    /// Alt.
    pub alt: bool,
}

/// What a pointer did.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum PointerAction {
    /// A button went down.
    Press(Button),
    /// The pointer moved.
    Move,
    /// A button came up.
    Release(Button),
    /// The drag is off: escape was pressed, the window lost the pointer, and the like.
    Cancel,
}

/// One thing that a pointer did.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct PointerInput {
    /// What it did.
    pub action: PointerAction,
    /// Where it is, in screen pixels.
    pub at: Vec2,
    /// When, in seconds from any fixed moment.
    pub time_s: f64,
    /// The modifier keys held.
    pub keys: Keys,
    /// Whether the game's interface (a button, a minimap) has used this input itself.
    pub taken: bool,
}

impl PointerInput {
    /// An input with no keys held that the interface left alone.
    #[must_use]
    pub fn new(action: PointerAction, at: Vec2, time_s: f64) -> PointerInput {
        PointerInput {
            action,
            at,
            time_s,
            keys: Keys::default(),
            taken: false,
        }
    }
}

/// What the player meant by a press and what followed.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Gesture {
    /// A press and release in one place.
    Click {
        /// The button.
        button: Button,
        /// Where it was pressed, in screen pixels.
        at: Vec2,
        /// The keys held at the release.
        keys: Keys,
        /// Whether it follows another in the same place so soon that the two are a double click.
        double: bool,
    },
    /// A box dragged with the primary button, in any direction.
    Box {
        /// The box, in screen pixels.
        rect: Rect,
        /// The keys held at the release.
        keys: Keys,
    },
}

/// When a press stops being a click and becomes a box.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct GestureSettings {
    /// How far the pointer may slip within a click, in screen pixels; 4 by default. Raise it for
    /// shaky input such as touch; lower it for small boxes.
    pub slip_px: f32,
    /// After how many seconds of holding any movement of at least a pixel begins a box, however
    /// small it is; 0.35 by default. Raise it for players who press slowly.
    pub hold_s: f64,
    /// How soon a second click must follow in the same place to be a double click, in seconds
    /// from press to press; 0.3 by default. Raise it for players who click slowly.
    pub double_s: f64,
}

impl Default for GestureSettings {
    fn default() -> GestureSettings {
        GestureSettings {
            slip_px: 4.0,
            hold_s: 0.35,
            double_s: 0.3,
        }
    }
}

/// Reads one pointer.
///
/// - A secondary press is always a click, at the point where it was pressed.
/// - A second press while a button is held interrupts the drag: neither means anything.
/// - Input that the interface has taken begins nothing. A box that ends over the interface is
///   still a box; a click that ends there is none.
/// - Releases without a press, and points that are not finite, are ignored.
#[derive(Clone, Debug, Default)]
pub struct GestureReader {
    settings: GestureSettings,
    held: Option<Held>,
    /// The last click that was not the second of a double one.
    last_click: Option<Held>,
}

#[derive(Clone, Copy, Debug)]
struct Held {
    button: Button,
    from: Vec2,
    at: Vec2,
    since_s: f64,
    is_box: bool,
}

impl GestureReader {
    /// A reader with settings of its own.
    #[must_use]
    pub fn new(settings: GestureSettings) -> GestureReader {
        GestureReader {
            settings,
            held: None,
            last_click: None,
        }
    }

    /// Takes the next input, in order of time. Gives the gesture that it completes, if any.
    pub fn read(&mut self, input: PointerInput) -> Option<Gesture> {
        match input.action {
            PointerAction::Press(button) => {
                let begins = self.held.is_none() && !input.taken && input.at.is_finite();
                self.held = begins.then_some(Held {
                    button,
                    from: input.at,
                    at: input.at,
                    since_s: input.time_s,
                    is_box: false,
                });
                None
            }
            PointerAction::Move => {
                self.drag(&input);
                None
            }
            PointerAction::Release(button) => self.release(button, &input),
            PointerAction::Cancel => {
                self.held = None;
                None
            }
        }
    }

    /// The box being dragged, in screen pixels, for drawing; `None` while it is still a click.
    #[must_use]
    pub fn current_box(&self) -> Option<Rect> {
        self.held
            .filter(|held| held.is_box)
            .map(|held| Rect::from_corners(held.from, held.at))
    }

    /// Whether a button is held in a gesture.
    #[must_use]
    pub fn is_held(&self) -> bool {
        self.held.is_some()
    }

    fn drag(&mut self, input: &PointerInput) {
        let settings = self.settings;
        let Some(held) = self.held.as_mut().filter(|_| input.at.is_finite()) else {
            return;
        };
        held.at = input.at;
        let slipped = held.from.distance(held.at);
        let held_long = input.time_s - held.since_s > settings.hold_s;
        let moved = slipped > settings.slip_px || (held_long && slipped >= 1.0);
        held.is_box |= moved && held.button == Button::Primary;
    }

    fn release(&mut self, button: Button, input: &PointerInput) -> Option<Gesture> {
        if self.held.is_none_or(|held| held.button != button) {
            return None;
        }
        self.drag(input);
        let held = self.held.take()?;
        let keys = input.keys;
        if held.is_box {
            self.last_click = None;
            let rect = Rect::from_corners(held.from, held.at);
            return Some(Gesture::Box { rect, keys });
        }
        if input.taken {
            return None;
        }
        let double = self.follows_a_click(&held);
        self.last_click = (!double).then_some(held);
        Some(Gesture::Click {
            button,
            at: held.from,
            keys,
            double,
        })
    }

    fn follows_a_click(&self, held: &Held) -> bool {
        self.last_click.is_some_and(|last| {
            let soon = 0.0..=self.settings.double_s;
            last.button == held.button
                && soon.contains(&(held.since_s - last.since_s))
                && last.from.distance(held.from) <= self.settings.slip_px
        })
    }
}
