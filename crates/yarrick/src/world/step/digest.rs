//! The checksum of a tick.

use crate::world::orders::Minds;
use crate::world::state::{Digest, State};

/// The checksum of all that decides how the world goes on. Tickets are no part of it: they only label answers.
pub(in crate::world) fn run(state: &State, minds: &Minds, digest: &mut Digest) -> u64 {
    digest.begin();
    state.visit(&mut |_, _, column| column.feed(digest));
    minds.visit(&mut |_, _, column| column.feed(digest));
    digest.finish()
}
