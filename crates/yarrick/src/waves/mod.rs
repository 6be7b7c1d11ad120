//! The assault: what comes, when and where, and when a wave is over.
//!
//! The types to know: [`AssaultPlan`] (waves of batches, one after another, with a lull between), [`Assault`] (a plan
//! that is being carried out) and [`Progress`] (what a game shows of it).
//!
//! ```
//! use yarrick::waves::{Assault, AssaultPlan, Batch, Gone, Wave};
//!
//! // Two of kind 3 come in at entry 0, ten ticks apart.
//! let batch = Batch { kind: 3, count: 2, delay: 0, spacing: 10, entry: 0, goal: 0 };
//! let plan = AssaultPlan { first_after: 5, lull: 100, waves: vec![Wave { batches: vec![batch] }] };
//! let mut assault = Assault::new(plan)?;
//!
//! let mut came = Vec::new();
//! for tick in 0..40 {
//!     assault.begin(tick);
//!     assault.send(tick, |arrival| {
//!         came.push((tick, arrival.kind));
//!         true // There was room.
//!     });
//!     assert_eq!(assault.judge(tick), None, "both live");
//! }
//! assert_eq!(came, [(5, 3), (15, 3)]);
//!
//! assault.gone(0, Gone::Killed);
//! assault.gone(0, Gone::Leaked);
//! let over = assault.judge(40).unwrap();
//! assert_eq!((over.tally.killed, over.tally.leaked), (1, 1));
//! assert!(assault.is_finished());
//! # Ok::<(), yarrick::waves::PlanError>(())
//! ```
//!
//! It knows no units: kinds, entries and goals are numbers of the caller's, who finds room for each arrival and reports
//! when it is gone. Times are ticks.

mod assault;
mod plan;

pub use assault::{Arrival, Assault, Gone, Over, Progress, Tally};
pub use plan::{
    AssaultPlan, Batch, MAX_BATCHES_A_WAVE, MAX_UNITS_A_WAVE, MAX_WAVES, PlanError, Wave,
};
