//! Scenario files: a map, a roster, units and a script, in TOML.
//!
//! The types to know: [`Scenario`] (loaded from text), [`Play`] (a scenario under way) and
//! [`Diagnostics`] (all that is wrong with one, each at its line and column). Loading is all or
//! nothing, and reads files only through the caller.
//!
//! ```
//! use yarrick::scenario::Scenario;
//!
//! let scenario = Scenario::parse(r#"
//!     [scenario]
//!     title = "A walk on the flats"
//!
//!     [ground]
//!     rows = ["........", "..~~....", "........"]
//!     legend = { "." = { name = "sand" }, "~" = { name = "creek", passable = false } }
//!
//!     [[side]]
//!     name = "keepers"
//!
//!     [[kind]]
//!     name = "raker"
//!     radius = 0.4
//!     speed = 1.5
//!
//!     [[unit]]
//!     name = "Orla"
//!     kind = "raker"
//!     side = "keepers"
//!     at = [0.5, 1.5]
//!
//!     [[script]]
//!     time = 0.5
//!     side = "keepers"
//!     order = "move"
//!     units = ["Orla"]
//!     point = [6.5, 1.5]
//! "#)?;
//! let mut play = scenario.play(None)?;
//! play.run_until(10.0, |_, _| {});
//! assert_eq!(play.world().units().next().unwrap().position().x, 6.5);
//!
//! let wrong = Scenario::parse("[scenario]\ntitel = 'A walk'").unwrap_err();
//! assert!(wrong.to_string().contains("did you mean \"title\"?"));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod assault;
mod clicks;
mod depots;
mod drills;
mod endings;
mod entry;
mod error;
mod errors;
mod flocks;
mod ground;
mod load;
mod measure;
mod named;
mod orders;
mod pattern;
mod places;
mod plain;
mod play;
mod read;
mod resources;
mod roster;
mod script;
mod sides;
mod source;
mod table;
mod tally;
mod units;
mod value;
mod ways;
mod write;

pub use entry::{GroundChange, GroupDeed, Recipients, ScriptAct, ScriptLine, Scripted};
pub use error::{Diagnostic, MAX_ERRORS, Span};
pub use errors::Diagnostics;
pub use flocks::{FlockPlan, ZoneChange, ZonePlan};
pub use measure::{
    Calm, FlockMeasured, FlockPart, Measure, Measured, OrderMeasured, Overlap, STILL_M_S,
    TREMBLES_M, TallyLine, TallyMeasured, ZoneMeasured,
};
pub use pattern::Pattern;
pub use plain::{MAX_PAIRS, USUAL_LEGEND, read_pairs};
pub use play::{Play, PlayEvent, SelectedBy};
pub use script::MAX_SECONDS;
pub use source::{MAX_FILE_BYTES, MAX_FILES, Read, Source};
pub use units::Placed;
pub use write::{ScriptWriter, kind_entry};

use crate::route::Waypoints;
use crate::world::{Ending, WorldSetup};

/// The most entries that a script has.
pub const MAX_SCRIPT: usize = 1 << 15;

/// A scenario: what a world begins with, and what the players do.
#[derive(Clone, Debug)]
pub struct Scenario {
    /// What it is called.
    pub title: String,
    /// How long it lasts unless asked otherwise, in seconds.
    pub duration_s: f64,
    /// What the world begins with.
    pub setup: WorldSetup,
    /// The places that are drawn on the map, and the legs between them, if any are: units know nothing of
    /// them.
    pub waypoints: Option<Waypoints>,
    /// The lines at which units are counted, if any are drawn: units know nothing of them.
    pub tallies: Vec<TallyLine>,
    /// The units at the start.
    pub units: Vec<Placed>,
    /// The flocks at the start.
    pub flocks: Vec<FlockPlan>,
    /// What keeps, draws and scares them at the start.
    pub zones: Vec<ZonePlan>,
    /// How the game ends. Units are named by their number in [`Scenario::units`]: the ids that they get.
    pub endings: Vec<Ending>,
    /// What the players do, in order of time.
    pub script: Vec<Scripted>,
    /// What is allowed in its files, but hardly what was meant: a key that an order has no use for, say.
    pub warnings: Diagnostics,
}
