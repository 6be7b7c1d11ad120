//! Unit AI for strategy and defense games.
//!
//! Drawing, sound and windows are your game's. Yarrick gives it what lies between the player's
//! mouse and the unit's next position: selecting, ordering, finding a way, moving among others,
//! fighting. It repeats bit for bit, and every order ends in an outcome with a reason.
//!
//! A game makes a [`World`], hands in [`Command`]s, calls [`World::step`] once a tick, and reads
//! back [`Event`]s and poses:
//!
//! ```
//! use yarrick::{Action, Command, Ground, Kind, Side, Terrain, Vec2, When, World, WorldSetup};
//!
//! let ground = Ground::from_rows(1.0, &["......", "..~~..", "......"], &[
//!     ('.', Terrain::open("sand")),
//!     ('~', Terrain::closed("creek")),
//! ])?;
//! let mut world = World::new(WorldSetup {
//!     sides: vec![Side::new("keepers")],
//!     kinds: vec![Kind::walker("warden", 0.4, 2.0)],
//!     ..WorldSetup::on(ground)
//! })?;
//! let (keepers, warden) = (world.side("keepers").unwrap(), world.kind("warden").unwrap());
//! let unit = world.spawn(warden, keepers, Vec2::new(0.5, 1.5), 0.0)?;
//!
//! world.submit(Command {
//!     side: keepers,
//!     units: vec![unit],
//!     action: Action::move_to(Vec2::new(5.5, 1.5)),
//!     when: When::Now,
//! })?;
//! for _ in 0..100 {
//!     for event in world.step() {
//!         println!("{event:?}");
//!     }
//! }
//! assert_eq!(world.unit(unit).unwrap().position(), Vec2::new(5.5, 1.5));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! Where to go next: [`world`] for the tick and all that goes in and out, [`scenario`] for
//! worlds described in text files, [`record`] for recordings and replays, [`select`] for the player's hand. Every room below works
//! alone, with no world around it: [`route`], [`motion`], [`combat`], [`economy`], [`site`], [`waves`], [`near`], [`ground`],
//! [`rng`], [`geom`].

pub mod combat;
pub mod drill;
pub mod economy;
mod envelope;
pub mod geom;
pub mod ground;
pub mod motion;
pub mod near;
pub mod record;
pub mod rng;
pub mod route;
pub mod scenario;
pub mod select;
pub mod site;
mod threads;
pub mod waves;
pub mod world;

pub use geom::{Rect, Vec2};
pub use ground::{Ground, Terrain};
pub use scenario::Scenario;
pub use threads::Threads;
pub use world::{
    Action, Change, Command, Event, Hand, Kind, KindId, Outcome, Pacer, Side, SideId, Spot, UnitId,
    Verb, When, World, WorldSetup,
};
