//! Workspaces of the desks.

use crate::ground::Tile;
use crate::route::{Router, smooth};
use std::sync::{Mutex, PoisonError};

/// What it takes to serve tickets, one at a time.
#[derive(Clone, Debug, Default)]
pub(super) struct Tools {
    pub(super) router: Router,
    pub(super) tile: Box<Tile>,
    pub(super) pull: smooth::Pull,
}

/// Workspaces that are free. The one used last is taken first: it is still in the caches of the processor. Which one a search gets
/// makes no difference to what it finds.
#[derive(Debug, Default)]
pub(super) struct Toolbox(Mutex<Vec<Tools>>);

impl Clone for Toolbox {
    fn clone(&self) -> Toolbox {
        Toolbox::default()
    }
}

impl Toolbox {
    pub(super) fn take(&self) -> Tools {
        let free = self.0.lock().unwrap_or_else(PoisonError::into_inner).pop();
        free.unwrap_or_default()
    }

    pub(super) fn put_back(&self, tools: Tools) {
        let mut free = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        free.push(tools);
    }
}
