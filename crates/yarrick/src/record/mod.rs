//! Recordings of runs, and their replay.
//!
//! A run is what a world begins with and the changes of each tick: that is all that a recording holds, with the
//! checksum of every tick. Replayed, it gives the same run to the last bit, and says at which tick it does not.
//!
//! The types to know: [`Recorder`] (takes down a run while it goes on), [`Recording`] (what it took down) and
//! [`Replay`] (plays it again).
//!
//! ```
//! # use yarrick::{Action, Command, Ground, Kind, Side, SideId, Terrain, Vec2, When, World, WorldSetup};
//! # let ground = Ground::from_rows(1.0, &["............"; 8], &[('.', Terrain::open("sand"))])?;
//! # let mut world = World::new(WorldSetup {
//! #     sides: vec![Side::new("keepers")],
//! #     kinds: vec![Kind::walker("raker", 0.4, 1.5)],
//! #     ..WorldSetup::on(ground)
//! # })?;
//! # let raker = world.kind("raker").unwrap();
//! # let unit = world.spawn(raker, SideId(0), Vec2::new(1.5, 1.5), 0.0)?;
//! use yarrick::record::{Recorder, Recording};
//!
//! let mut recorder = Recorder::begin("a walk", &world);
//! let action = Action::move_to(Vec2::new(9.5, 4.5));
//! world.submit(Command { side: SideId(0), units: vec![unit], action, when: When::Now })?;
//! for _ in 0..150 {
//!     recorder.before(&world);
//!     world.step();
//!     recorder.after(&world);
//! }
//! let bytes = recorder.recording().to_bytes();
//!
//! let recording = Recording::from_bytes(&bytes)?;
//! let mut replay = recording.replay()?;
//! while replay.step()?.is_some() {}
//! assert_eq!(replay.world().unit(unit).unwrap().position(), Vec2::new(9.5, 4.5));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! It does not record what players select or where cameras are: that changes nothing in the world.

mod recording;
mod replay;

pub use recording::{Recorder, Recording, RecordingError};
pub use replay::{Diverged, Replay};
