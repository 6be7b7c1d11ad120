//! What goes into a world and what comes out of it, as plain data: commands and other changes,
//! events, and how orders end.

mod change;
mod command;
mod event;
mod objection;
mod outcome;
mod refusal;
mod verb;

pub use change::{Appearance, Change, FlockChange};
pub use command::{
    Action, Command, Finish, MAX_COORDINATE_M, MAX_FACING, MAX_PATROL_POINTS, MAX_STAND_OFF_M,
    Spot, USUAL_FOLLOW_GAP_M, USUAL_STAND_OFF_M, When,
};
pub use event::{Effect, Event};
pub use objection::SiteObjection;
pub use outcome::{Failure, Outcome};
pub use refusal::{NoRoom, Refusal};
pub use verb::{Aspect, Verb};
