//! The colours. Every fact that one carries is carried by a shape, pattern or letter too.

use crate::sheet::Colour;
use yarrick::Terrain;

pub(crate) const PAPER: Colour = Colour::hex(0xfb_f9f4);
pub(crate) const INK: Colour = Colour::hex(0x23_2a30);
pub(crate) const FAINT_INK: Colour = Colour::hex(0x5f_666b);
pub(crate) const RULE: Colour = Colour::hex(0xc9_c4b8);
pub(crate) const CONTOUR: Colour = Colour::hex(0x9a_8a6a);

/// The hues of the sides, which differ also with the common kinds of colour blindness; the
/// outline shapes differ as well.
const SIDES: [u32; 6] = [
    0x12_5a9c, 0xc2_5a08, 0x7d_3f86, 0x00_7a6a, 0x8a_6d00, 0x4a_4f57,
];

pub(crate) fn side(number: u8) -> Colour {
    Colour::hex(SIDES[usize::from(number) % SIDES.len()])
}

/// What a terrain looks like: its character decides, not its name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Look {
    /// Walked at one's own speed.
    Plain,
    /// Walked faster: planks.
    Fast,
    /// Walked slower: dots.
    Slow,
    /// Open, but hides what is behind it: tufts.
    Screen,
    /// Closed, but can be seen across: waves.
    Gap,
    /// Closed, and hides what is behind it: masonry.
    Wall,
}

pub(crate) fn look(terrain: &Terrain) -> Look {
    match (terrain.passable, terrain.blocks_sight) {
        (false, true) => Look::Wall,
        (false, false) => Look::Gap,
        (true, true) => Look::Screen,
        (true, false) if terrain.speed > 1.05 => Look::Fast,
        (true, false) if terrain.speed < 0.95 => Look::Slow,
        (true, false) => Look::Plain,
    }
}

/// The fill and the pattern colour of a look; `nth` numbers the terrains of the same look.
pub(crate) fn ground(look: Look, nth: usize) -> (Colour, Colour) {
    let (fill, pattern) = match look {
        Look::Plain => (0xf0_ead9, 0xf0_ead9),
        Look::Fast => (0xe6_dcc8, 0xb3_a486),
        Look::Slow => (0xdd_d2ba, 0xb0_a080),
        Look::Screen => (0xd8_dbc0, 0x8f_9768),
        Look::Gap => (0xc6_d6dc, 0x8f_adb9),
        Look::Wall => (0xa9_a398, 0x6c_675d),
    };
    let shade = nth as f32 * 0.18;
    let darker = |colour: u32| Colour::hex(colour).towards(INK, shade.min(0.5));
    (darker(fill), darker(pattern))
}

/// The hue of a way that is no unit's.
pub(crate) fn traced() -> Colour {
    side(2)
}
