//! Production: each line works on its first item for a tick.

use crate::world::ids::UnitId;
use crate::world::state::State;

pub(super) fn run(state: &mut State) {
    let busy = |(unit, production): (UnitId, &crate::world::state::Production)| {
        let is_at_work = production.line.items().len() > 0 && production.line.finished().is_none();
        is_at_work.then_some(unit)
    };
    let busy: Vec<UnitId> = state.productions.iter().filter_map(busy).collect();
    for unit in busy {
        state
            .productions
            .change(unit, |production| production.line.advance());
    }
}
