//! Films: sheets one after another, as an animated GIF.
//!
//! Of each frame only the box that differs from the one before is written, and in it only what differs.

use crate::png::{PngError, raster};
use crate::sheet::Sheet;
use gif::{DisposalMethod, Encoder, Frame, Repeat};
use tiny_skia::Pixmap;

/// How hard the encoder looks for good colours, from 1 (long) to 30.
const COLOUR_SPEED: i32 = 10;

/// A film in the making.
///
/// ```
/// use yarrick_draw::{Film, Scene, Size};
/// # let ground = yarrick::Ground::from_rows(1.0, &["..."; 3], &[('.', yarrick::Terrain::open("sand"))])?;
/// # let mut world = yarrick::World::new(yarrick::WorldSetup {
/// #     sides: vec![yarrick::Side::new("keepers")],
/// #     kinds: vec![yarrick::Kind::walker("raker", 0.4, 1.5)],
/// #     ..yarrick::WorldSetup::on(ground)
/// # })?;
/// let size = Size::new(640, 480).unwrap();
/// let mut film = Film::new(0.1, 1_000_000);
/// for _ in 0..3 {
///     world.step();
///     film.add(&Scene::of("Before the tide", &world).draw(size))?;
/// }
/// assert_eq!(&film.finish()?[..6], b"GIF89a");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub struct Film {
    /// How long each frame is shown, in hundredths of a second.
    delay: u16,
    limit: usize,
    encoder: Option<Encoder<Vec<u8>>>,
    /// What is shown now.
    shown: Option<Pixmap>,
    frames: usize,
}

/// Why a frame could not be added.
#[derive(Debug, thiserror::Error)]
pub enum FilmError {
    /// The film has grown beyond its limit. The frames before this one are in it.
    #[error("the film has grown beyond {0} bytes")]
    TooLarge(usize),
    /// The frame is of another size than the first.
    #[error("a frame is of another size than the first")]
    OtherSize,
    /// The frame could not be drawn.
    #[error(transparent)]
    Picture(#[from] PngError),
    /// The encoder failed.
    #[error("the film could not be encoded: {0}")]
    Encode(String),
    /// There are no frames.
    #[error("a film needs a frame")]
    Empty,
}

impl Film {
    /// A film whose frames are shown for so many seconds each (in steps of a hundredth, two of them at the least), and
    /// that is to have at most so many bytes. It runs over and over.
    #[must_use]
    pub fn new(frame_s: f64, limit: usize) -> Film {
        Film {
            // What is no number casts to 0.
            delay: ((frame_s * 100.0).round().min(6000.0) as u16).max(2),
            limit,
            encoder: None,
            shown: None,
            frames: 0,
        }
    }

    /// Adds a frame. All must have the size of the first, at most 65,535 pixels a side.
    ///
    /// # Errors
    /// [`FilmError`]; where it has grown too large, this frame is still in it, and no other can be added.
    pub fn add(&mut self, sheet: &Sheet) -> Result<(), FilmError> {
        let now = raster(sheet)?;
        if self.encoder.is_none() {
            let (width, height) = (now.width() as u16, now.height() as u16);
            let made = Encoder::new(Vec::new(), width, height, &[]).map_err(encode)?;
            self.encoder
                .insert(made)
                .set_repeat(Repeat::Infinite)
                .map_err(encode)?;
        }
        let Some(encoder) = &mut self.encoder else {
            return Err(FilmError::Empty);
        };
        if self.frames > 0 && encoder.get_ref().len() > self.limit {
            return Err(FilmError::TooLarge(self.limit));
        }
        let frame = match &self.shown {
            None => whole(&now),
            Some(shown) if (shown.width(), shown.height()) != (now.width(), now.height()) => {
                return Err(FilmError::OtherSize);
            }
            Some(shown) => difference(shown, &now),
        };
        let frame = Frame {
            delay: self.delay,
            dispose: DisposalMethod::Keep,
            ..frame
        };
        encoder.write_frame(&frame).map_err(encode)?;
        self.shown = Some(now);
        self.frames += 1;
        if encoder.get_ref().len() > self.limit {
            Err(FilmError::TooLarge(self.limit))
        } else {
            Ok(())
        }
    }

    /// How many frames it has.
    #[must_use]
    pub fn frames(&self) -> usize {
        self.frames
    }

    /// The film as a GIF file. The same sheets give the same bytes.
    ///
    /// # Errors
    /// [`FilmError::Empty`].
    pub fn finish(self) -> Result<Vec<u8>, FilmError> {
        let encoder = self.encoder.ok_or(FilmError::Empty)?;
        encoder
            .into_inner()
            .map_err(|error| FilmError::Encode(error.to_string()))
    }
}

fn encode(error: gif::EncodingError) -> FilmError {
    FilmError::Encode(error.to_string())
}

fn whole(now: &Pixmap) -> Frame<'static> {
    let mut pixels = now.data().to_vec();
    let (width, height) = (now.width() as u16, now.height() as u16);
    Frame::from_rgba_speed(width, height, &mut pixels, COLOUR_SPEED)
}

/// The box in which two pictures differ; what is the same in it is left clear.
fn difference(shown: &Pixmap, now: &Pixmap) -> Frame<'static> {
    let width = now.width() as usize;
    let differs = |k: usize| shown.pixels()[k] != now.pixels()[k];
    let mut bounds: Option<[usize; 4]> = None;
    for k in (0..now.pixels().len()).filter(|k| differs(*k)) {
        let (x, y) = (k % width, k / width);
        let [left, top, right, bottom] = bounds.unwrap_or([x, y, x, y]);
        bounds = Some([left.min(x), top.min(y), right.max(x), bottom.max(y)]);
    }
    // Where nothing has changed, a single clear pixel takes the frame's time.
    let [left, top, right, bottom] = bounds.unwrap_or([0; 4]);
    let mut pixels = Vec::with_capacity((right - left + 1) * (bottom - top + 1) * 4);
    for y in top..=bottom {
        for k in y * width + left..=y * width + right {
            let pixel = now.pixels()[k];
            if differs(k) {
                pixels.extend([pixel.red(), pixel.green(), pixel.blue(), 255]);
            } else {
                pixels.extend([0; 4]);
            }
        }
    }
    let (wide, high) = ((right - left + 1) as u16, (bottom - top + 1) as u16);
    Frame {
        left: left as u16,
        top: top as u16,
        ..Frame::from_rgba_speed(wide, high, &mut pixels, COLOUR_SPEED)
    }
}
