//! Gives places anew to units under way whose old ones the ground has closed, or that can get nearer to their goals now.

use crate::world::legs;
use crate::world::state::{Scratch, State};

pub(super) fn run(state: &mut State, scratch: &mut Scratch) {
    legs::give_places_anew(state, scratch);
}
