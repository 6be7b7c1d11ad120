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
    /// Its drag is off: escape was pressed, the system took the touch away, and the like.
    Cancel,
}

/// One thing that a pointer did.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct PointerInput {
    /// Which pointer: the mouse, the pen, or a finger, by any number that your system gives it.
    /// A game with a mouse only leaves it at 0.
    #[serde(default)]
    pub pointer: u32,
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
    /// An input of pointer 0 with no keys held that the interface left alone.
    #[must_use]
    pub fn new(action: PointerAction, at: Vec2, time_s: f64) -> PointerInput {
        PointerInput {
            pointer: 0,
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
    /// A drag with the secondary button, from one point to another: only where the reader looks for sweeps.
    Sweep {
        /// Where it began, in screen pixels.
        from: Vec2,
        /// Where it ended.
        to: Vec2,
        /// The keys held at the release.
        keys: Keys,
    },
    /// A box dragged with the primary button, in any direction.
    Box {
        /// The box, in screen pixels.
        rect: Rect,
        /// The corner at which it was begun.
        from: Vec2,
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
    /// After how many seconds without a sign of life a pointer that is down counts as up, once
    /// another is pressed: its release got lost; 2 by default. Raise it for players who rest a
    /// finger on the screen.
    pub lost_s: f64,
}

impl Default for GestureSettings {
    fn default() -> GestureSettings {
        GestureSettings {
            slip_px: 4.0,
            hold_s: 0.35,
            double_s: 0.3,
            lost_s: 2.0,
        }
    }
}

/// The most pointers that are followed at once; the one down longest makes way for another.
pub const MAX_POINTERS: usize = 16;

/// A sweep is longer than this multiple of what a click may slip.
const SWEEP_SLIPS: f32 = 4.0;

/// Reads what pointers do: one mouse, a pen, or several fingers.
///
/// - A secondary press is always a click, at the point where it was pressed, unless sweeps are looked for
///   ([`GestureReader::look_for_sweeps`]) and it slips far.
/// - A press while a button or finger is down interrupts the drag, and means nothing itself: two
///   fingers are for the game's camera. Only when all fingers are up does a press count again.
/// - Input that the interface has taken begins nothing, and interrupts nothing: a thumb may press
///   a button while another finger drags. A box that ends over the interface is still a box; a
///   click that ends there is none.
/// - A cancelled pointer cancels its own drag, and no other's.
/// - Releases may get lost. The same button pressed again begins anew, and a pointer that is
///   silent for [`GestureSettings::lost_s`] does not hold up the next.
/// - Releases without a press, and points that are not finite, are ignored.
#[derive(Clone, Debug, Default)]
pub struct GestureReader {
    settings: GestureSettings,
    held: Option<Held>,
    /// The pointers that are down, those whose press meant nothing included.
    down: Vec<Down>,
    /// Whether secondary drags are reported as such.
    sweeps: bool,
    /// The last click that was not the second of a double one.
    last_click: Option<Held>,
}

/// A pointer that is down.
#[derive(Clone, Copy, Debug)]
struct Down {
    pointer: u32,
    /// When it last did something.
    seen_s: f64,
}

#[derive(Clone, Copy, Debug)]
struct Held {
    pointer: u32,
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
            ..GestureReader::default()
        }
    }

    /// Reports secondary drags as [`Gesture::Sweep`] from now on, or as clicks where they began.
    pub fn look_for_sweeps(&mut self, sweeps: bool) {
        self.sweeps = sweeps;
    }

    /// Takes the next input, in order of time. Gives the gesture that it completes, if any.
    pub fn read(&mut self, input: PointerInput) -> Option<Gesture> {
        if let Some(down) = self
            .down
            .iter_mut()
            .find(|down| down.pointer == input.pointer)
        {
            down.seen_s = input.time_s;
        }
        match input.action {
            PointerAction::Press(button) => {
                self.press(button, &input);
                None
            }
            PointerAction::Move => {
                self.drag(&input);
                None
            }
            PointerAction::Release(button) => {
                self.down.retain(|down| down.pointer != input.pointer);
                self.release(button, &input)
            }
            PointerAction::Cancel => {
                self.down.retain(|down| down.pointer != input.pointer);
                self.held = self.held.filter(|held| held.pointer != input.pointer);
                None
            }
        }
    }

    /// Forgets all pointers that are down: the window was left, say.
    pub fn cancel_all(&mut self) {
        self.down.clear();
        self.held = None;
    }

    fn press(&mut self, button: Button, input: &PointerInput) {
        let mine = |held: &Held| held.pointer == input.pointer;
        let pressed_again = self
            .held
            .is_some_and(|held| mine(&held) && held.button == button);
        let second_button = self
            .held
            .is_some_and(|held| mine(&held) && held.button != button);
        if pressed_again || second_button {
            self.held = None;
        }
        if input.taken || !input.at.is_finite() {
            return;
        }
        // Times that are no numbers count as long ago: nothing is ever held up for good.
        let alive = |down: &Down| input.time_s - down.seen_s <= self.settings.lost_s;
        self.down
            .retain(|down| down.pointer != input.pointer && alive(down));
        let alone = self.down.is_empty();
        if self.down.len() >= MAX_POINTERS {
            self.down.remove(0);
        }
        self.down.push(Down {
            pointer: input.pointer,
            seen_s: input.time_s,
        });
        self.held = (alone && !second_button).then_some(Held {
            pointer: input.pointer,
            button,
            from: input.at,
            at: input.at,
            since_s: input.time_s,
            is_box: false,
        });
    }

    /// The box being dragged, in screen pixels, for drawing; `None` while it is still a click.
    #[must_use]
    pub fn current_box(&self) -> Option<Rect> {
        self.current_drag()
            .map(|[from, to]| Rect::from_corners(from, to))
    }

    /// Where a drag with the primary button began, and where it has come to, in screen pixels; `None` while it is still a
    /// click.
    #[must_use]
    pub fn current_drag(&self) -> Option<[Vec2; 2]> {
        self.held
            .filter(|held| held.is_box)
            .map(|held| [held.from, held.at])
    }

    /// Where the button that is held in a gesture was pressed, in screen pixels.
    #[must_use]
    pub fn pressed_at(&self) -> Option<Vec2> {
        self.held.map(|held| held.from)
    }

    /// Whether a button is held in a gesture.
    #[must_use]
    pub fn is_held(&self) -> bool {
        self.held.is_some()
    }

    fn drag(&mut self, input: &PointerInput) {
        let settings = self.settings;
        let Some(held) = self
            .held
            .as_mut()
            .filter(|held| held.pointer == input.pointer && input.at.is_finite())
        else {
            return;
        };
        held.at = input.at;
        let slipped = held.from.distance(held.at);
        let held_long = input.time_s - held.since_s > settings.hold_s;
        let moved = slipped > settings.slip_px || (held_long && slipped >= 1.0);
        held.is_box |= moved && held.button == Button::Primary;
    }

    fn release(&mut self, button: Button, input: &PointerInput) -> Option<Gesture> {
        let mine = |held: Held| held.pointer == input.pointer && held.button == button;
        if !self.held.is_some_and(mine) {
            return None;
        }
        self.drag(input);
        let held = self.held.take()?;
        let keys = input.keys;
        if held.is_box {
            self.last_click = None;
            let rect = Rect::from_corners(held.from, held.at);
            let from = held.from;
            return Some(Gesture::Box { rect, from, keys });
        }
        if input.taken {
            return None;
        }
        let swept = held.from.distance(held.at) > SWEEP_SLIPS * self.settings.slip_px;
        if self.sweeps && held.button == Button::Secondary && swept {
            self.last_click = None;
            let (from, to) = (held.from, held.at);
            return Some(Gesture::Sweep { from, to, keys });
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
