//! Judging: whether a wave is over, and whether the game is.

use crate::world::game::{Condition, Decision, Ending};
use crate::world::message::Event;
use crate::world::state::{Events, State};

pub(super) fn run(state: &mut State, events: &mut Events) {
    let now = state.clock.tick;
    if let Some(running) = &mut state.assault
        && let Some(over) = running.assault.judge(now)
    {
        let (wave, tally) = (over.wave, over.tally);
        events.push(Event::WaveOver { wave, tally });
    }
    let ending = state.endings.iter().find(|ending| holds(state, ending));
    if let Some(&ending) = ending {
        let decision = Decision { ending, tick: now };
        state.decision = Some(decision);
        events.push(Event::Decided { decision });
    }
}

fn holds(state: &State, ending: &Ending) -> bool {
    let assault = state.assault.as_ref().map(|running| &running.assault);
    match ending.when {
        Condition::Falls { unit } => state.units.row(unit).is_none(),
        Condition::Leaks { more_than } => {
            assault.is_some_and(|assault| assault.leaked() > more_than)
        }
        Condition::WavesOver => assault.is_some_and(crate::waves::Assault::is_finished),
        Condition::Time { tick } => state.clock.tick >= tick,
    }
}
