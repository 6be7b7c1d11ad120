//! The tale of each order: who gave it, to whom, and how it ended for them.

use super::words::Names;
use yarrick::SideId;
use yarrick::world::{Action, Event, Outcome, Spot, Verb, When, World};

/// An order from beginning to end.
pub(super) struct OrderTale {
    pub(super) number: u32,
    pub(super) side: SideId,
    pub(super) given_s: f64,
    pub(super) units: usize,
    pub(super) action: Action,
    /// What it came to, if it fitted itself to each unit.
    pub(super) became: Vec<(Verb, u32)>,
    /// What is to be done, in words.
    pub(super) what: String,
    pub(super) when: When,
    pub(super) endings: Vec<Ending>,
}

/// Those for whom an order ended in the same way.
pub(super) struct Ending {
    pub(super) way: Way,
    pub(super) units: usize,
    pub(super) first_s: f64,
    pub(super) last_s: f64,
    /// How short of the goal they came, from least to most, in metres.
    pub(super) short_m: Option<(f32, f32)>,
}

/// A way for an order to end.
#[derive(Clone, PartialEq)]
pub(super) enum Way {
    Done,
    CameShort(String),
    Replaced(u32),
    Failed(String),
    UnitLost,
    Stopped,
}

impl OrderTale {
    /// For how many units it has not ended yet.
    pub(super) fn open(&self) -> usize {
        let ended: usize = self.endings.iter().map(|ending| ending.units).sum();
        self.units.saturating_sub(ended)
    }

    /// Whether there is nothing to tell of its end: all did it in the tick in which it was given.
    pub(super) fn was_done_at_once(&self) -> bool {
        let at_once = |ending: &Ending| ending.way == Way::Done && ending.last_s == self.given_s;
        self.endings.iter().all(at_once)
    }
}

impl Ending {
    /// In words, such as `10 came 4.9 to 6.9 m short: it is cut off`.
    pub(super) fn in_words(&self) -> String {
        let units = self.units;
        match (&self.way, self.short_m) {
            (Way::Done, _) => format!("{units} done"),
            (Way::CameShort(why), Some((least, most))) if least == most => {
                format!("{units} came {least:.1} m short: {why}")
            }
            (Way::CameShort(why), short) => {
                let (least, most) = short.unwrap_or_default();
                format!("{units} came {least:.1} to {most:.1} m short: {why}")
            }
            (Way::Replaced(by), _) => format!("{units} replaced by order {by}"),
            (Way::Failed(why), _) => format!("{units} failed: {why}"),
            (Way::UnitLost, _) => format!("{units} lost"),
            (Way::Stopped, _) => format!("{units} stopped"),
        }
    }
}

/// Follows the orders through an event.
pub(super) fn follow(
    orders: &mut Vec<OrderTale>,
    names: &Names,
    world: &World,
    time_s: f64,
    event: &Event,
) {
    match event {
        Event::Ordered {
            order,
            side,
            units,
            action,
            when,
            became,
            ..
        } => orders.push(OrderTale {
            number: order.0,
            side: *side,
            given_s: time_s,
            units: units.len(),
            what: names.order(action, became),
            action: action.clone(),
            became: became.clone(),
            when: *when,
            endings: Vec::new(),
        }),
        Event::Ended { order, outcome, .. } => {
            // Numbers count up from 1, so the tale is found at once.
            let at = (order.0 as usize).wrapping_sub(1);
            if let Some(tale) = orders.get_mut(at) {
                let closed = closed_ground(world, &tale.action);
                tale.end(time_s, *outcome, closed);
            }
        }
        _ => {}
    }
}

impl OrderTale {
    fn end(&mut self, time_s: f64, outcome: Outcome, closed: Option<String>) {
        let because = |why: String| match &closed {
            Some(terrain) => format!("{why} ({terrain})"),
            None => why,
        };
        let (way, by_m) = match outcome {
            Outcome::CameShort { why, by_m } => {
                (Way::CameShort(because(why.to_string())), Some(by_m))
            }
            Outcome::Replaced { by } => (Way::Replaced(by.0), None),
            Outcome::Failed { why } => (Way::Failed(because(why.to_string())), None),
            Outcome::UnitLost => (Way::UnitLost, None),
            Outcome::Stopped => (Way::Stopped, None),
            Outcome::Done => (Way::Done, None),
        };
        let short_m = by_m.map(|by_m| (by_m, by_m));
        match self.endings.iter_mut().find(|known| known.way == way) {
            Some(known) => {
                known.units += 1;
                known.last_s = time_s;
                if let (Some((least, most)), Some(by_m)) = (&mut known.short_m, by_m) {
                    *least = least.min(by_m);
                    *most = most.max(by_m);
                }
            }
            None => self.endings.push(Ending {
                way,
                units: 1,
                first_s: time_s,
                last_s: time_s,
                short_m,
            }),
        }
    }
}

/// The closed terrain at the point that a move goes to.
fn closed_ground(world: &World, action: &Action) -> Option<String> {
    let to = match action {
        Action::Move { to, .. }
        | Action::AttackMove { to }
        | Action::March { to, .. }
        | Action::Context {
            at: Spot::Ground(to),
        } => to,
        Action::Patrol { points, .. } if points.len() == 1 => &points[0],
        _ => return None,
    };
    let terrain = world.ground().terrain_at(*to)?;
    (!terrain.passable).then(|| terrain.name.clone())
}
