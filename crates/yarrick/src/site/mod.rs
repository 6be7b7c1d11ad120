//! Placing a building: where its footprint snaps to, and everything that speaks against it there.
//!
//! The functions to know: [`snapped`] and [`turned`] (where a plan that follows the pointer lies), [`objections`] (what
//! speaks against it) and [`cells_under`] (the ground that a footprint takes up).
//!
//! ```
//! use yarrick::geom::{Block, Vec2};
//! use yarrick::ground::{GaitId, Ground, Terrain};
//! use yarrick::site::{Objection, objections, snapped};
//!
//! let ground = Ground::from_rows(1.0, &["......", "......", "...#..", "......"], &[
//!     ('.', Terrain::open("sand")),
//!     ('#', Terrain::closed("dyke")),
//! ])?;
//! // A rack of 2 by 2 cells follows the pointer, and lies on whole cells.
//! let size_m = Vec2::splat(2.0);
//! let centre = snapped(&ground, size_m, 0.0, Vec2::new(3.2, 2.1));
//! assert_eq!(centre, Vec2::new(3.0, 2.0));
//!
//! let rack = Block { centre, half: size_m * 0.5, facing: 0.0 };
//! let salthouse = Block { centre: Vec2::new(1.5, 3.0), half: Vec2::splat(1.0), facing: 0.3 };
//! let raker = ("raker", Vec2::new(4.0, 2.5), 0.4);
//! let view = ground.view(GaitId::default());
//! let against: Vec<_> = objections(view, rack, [("salthouse", salthouse)], [raker]).collect();
//! assert_eq!(against, [
//!     Objection::Overlaps { building: "salthouse" },
//!     Objection::ClosedGround { at: Vec2::new(3.5, 1.5) },
//!     Objection::InTheWay { body: "raker" },
//! ]);
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! It knows no sides and no prices: whether a side can pay is for the caller to say.

mod beside;
mod sealing;
mod snap;
mod verdict;

pub use beside::is_walled_off;
pub use sealing::{Way, closed_ways};
pub use snap::{snapped, turned};
pub use verdict::{Objection, WALL_TO_WALL_M, cells_under, objections};
