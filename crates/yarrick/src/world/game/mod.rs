//! What a game is played for: resources, the assault with its entries and goals, and how a game ends. Plain data, given
//! when a world is made.

mod assault;
mod ending;

pub use assault::{AssaultError, AssaultSetup, Entry, GoalArea, LeakCost, MAX_AREA_M, MAX_AREAS};
pub use ending::{Condition, Decision, Ending, GameResult, MAX_ENDINGS};
