//! Pictures of a Yarrick world.
//!
//! A picture is laid out once, as a [`Sheet`] of marks, and then written as PNG or SVG, so that
//! both show the same. The same world gives the same bytes. A [`Film`] is sheets one after another.
//!
//! ```
//! use yarrick_draw::{Scene, Size};
//! # let ground = yarrick::Ground::from_rows(1.0, &["..."; 3], &[('.', yarrick::Terrain::open("sand"))])?;
//! # let world = yarrick::World::new(yarrick::WorldSetup {
//! #     sides: vec![yarrick::Side::new("keepers")],
//! #     kinds: vec![yarrick::Kind::walker("raker", 0.4, 1.5)],
//! #     ..yarrick::WorldSetup::on(ground)
//! # })?;
//! let scene = Scene::of("Before the tide", &world);
//! let sheet = scene.draw(Size::default());
//! assert!(sheet.to_svg().starts_with("<svg"));
//! assert_eq!(&sheet.to_png()?[1..4], b"PNG");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod contour;
mod film;
mod flocks;
mod font;
mod frame;
mod ground;
mod legend;
mod lines;
mod marches;
mod motions;
mod orders;
mod overlay;
mod palette;
mod path;
mod plans;
mod png;
mod scene;
mod sheet;
mod svg;
mod ties;
mod traced;
mod units;
mod work;

pub use film::{Film, FilmError};
pub use frame::Size;
pub use motions::{Motions, Subject};
pub use overlay::Overlay;
pub use png::PngError;
pub use scene::Scene;
pub use sheet::Sheet;
pub use traced::Traced;
