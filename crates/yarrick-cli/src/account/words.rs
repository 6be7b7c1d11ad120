//! What is said of units and orders in an account.

use std::collections::BTreeMap;
use yarrick::world::{Action, KindId, Posture, Spot, UnitId, Verb, World};
use yarrick::{SideId, Vec2};

/// What units are called, those that are gone included.
#[derive(Default)]
pub(super) struct Names {
    of: BTreeMap<UnitId, (String, SideId)>,
    /// Where each was when it was first taken down, in metres.
    at: BTreeMap<UnitId, Vec2>,
    kinds: Vec<String>,
}

/// The values that a rule measured, in base units: `, measured 4.2 and 0.5`, or nothing where there are none.
pub(super) fn list_of_values(values: &[f32]) -> String {
    let values: Vec<String> = values.iter().map(|value| format!("{value:.2}")).collect();
    if values.is_empty() {
        String::new()
    } else {
        format!(", measured {}", values.join(" and "))
    }
}

impl Names {
    /// Takes down the units of a world that are new in it. `name_of` gives the name of a unit in the scenario.
    pub(super) fn note<'a>(&mut self, world: &World, name_of: impl Fn(UnitId) -> Option<&'a str>) {
        if self.kinds.is_empty() {
            self.kinds = world.kinds().iter().map(|kind| kind.name.clone()).collect();
        }
        for unit in world.units() {
            let id = unit.id();
            let name = || match name_of(id) {
                Some(name) => name.to_owned(),
                None => format!("{} {id}", unit.kind().name),
            };
            let entry = self.of.entry(id);
            entry.or_insert_with(|| (name(), unit.side_id()));
            self.at.entry(id).or_insert(unit.position());
        }
    }

    /// Its name in the scenario, or its kind and id: `warden 7v1`.
    pub(super) fn name(&self, unit: UnitId) -> String {
        match self.of.get(&unit) {
            Some((name, _)) => name.clone(),
            None => format!("unit {unit}"),
        }
    }

    /// What a kind is called.
    pub(super) fn kind(&self, kind: KindId) -> &str {
        let name = self.kinds.get(usize::from(kind.0));
        name.map_or("?", String::as_str)
    }

    /// Where a unit was when it came in, in metres.
    pub(super) fn place(&self, unit: UnitId) -> Option<Vec2> {
        self.at.get(&unit).copied()
    }

    pub(super) fn side(&self, unit: UnitId) -> Option<SideId> {
        self.of.get(&unit).map(|(_, side)| *side)
    }

    fn spot(&self, spot: Spot) -> String {
        match spot {
            Spot::Ground(at) => point(at),
            Spot::Unit(unit) => self.name(unit),
        }
    }

    /// What is to be done, in words. A click is shown as the order that it came to.
    pub(super) fn order(&self, action: &Action, became: &[(Verb, u32)]) -> String {
        match action {
            Action::Move { to, finish } => {
                let within = match finish.within_m {
                    0.0 => String::new(),
                    within_m => format!("within {within_m} m of "),
                };
                format!("move to {within}{}", point(*to))
            }
            Action::AttackGround { at } => format!("attack the ground at {}", point(*at)),
            Action::SetPosture { posture } => format!("be ready to {}", in_words_of(*posture)),
            Action::AttackMove { to } => format!("attack-move to {}", point(*to)),
            Action::March {
                to,
                formation,
                fight,
            } => {
                let fight = if *fight { ", fighting" } else { "" };
                let form = match formation.slots.len() {
                    0 => format!("{} formation", formation.form.word()),
                    slots => format!("a formation of {slots} slots"),
                };
                format!("march to {} in {form}{fight}", point(*to))
            }
            Action::Patrol { points, round } => {
                let points: Vec<String> = points.iter().map(|at| point(*at)).collect();
                let by = if *round { "round by" } else { "to" };
                format!("patrol {by} {}", points.join(", "))
            }
            Action::Attack { target } => format!("attack {}", self.name(*target)),
            Action::Fire { target } => format!("fire at {}", self.name(*target)),
            Action::Approach { target, .. } => format!("walk up to {}", self.name(*target)),
            Action::Follow { target, .. } => format!("follow {}", self.name(*target)),
            Action::Guard { ward } => format!("guard {}", self.spot(*ward)),
            Action::Gather { target } => format!("gather at {}", self.name(*target)),
            Action::Deliver { target } => format!("deliver to {}", self.name(*target)),
            Action::Build { kind, at, .. } => {
                format!("build a {} at {}", self.kind(*kind), point(*at))
            }
            Action::Construct { target } => format!("build on {}", self.name(*target)),
            Action::CallOff => "call the building off".to_owned(),
            Action::Produce { kind } => format!("produce a {}", self.kind(*kind)),
            Action::CancelProduction { place } => format!("cancel item {place} of its queue"),
            Action::Hold => "hold ground".to_owned(),
            Action::Stop => "stop".to_owned(),
            Action::Cancel { order } => format!("cancel order {order}"),
            Action::Rally { to } => format!("rally at {}", self.spot(*to)),
            Action::Context { at } => match became {
                [] => format!("do what fits {}", self.spot(*at)),
                [(verb, _)] => format!("{} {}", in_words(*verb, *at), self.spot(*at)),
                shares => {
                    let share = |(verb, count): &(Verb, u32)| format!("{count} {}", verb.word());
                    let shares: Vec<String> = shares.iter().map(share).collect();
                    format!("act on {}: {}", self.spot(*at), shares.join(", "))
                }
            },
        }
    }
}

fn in_words_of(posture: Posture) -> &'static str {
    match posture {
        Posture::Passive => "suffer attacks",
        Posture::Hold => "strike what comes within range",
        Posture::Defend => "answer attacks",
        Posture::Pursue => "go for foes",
    }
}

fn in_words(verb: Verb, at: Spot) -> &'static str {
    match (verb, at) {
        (Verb::Approach, Spot::Unit(_)) => "walk up to",
        (Verb::Follow, Spot::Unit(_)) => "follow",
        (Verb::Attack, _) => "attack",
        (Verb::AttackMove, _) => "attack-move to",
        (Verb::Patrol, _) => "patrol to",
        (Verb::Guard, _) => "guard",
        (Verb::Rally, _) => "rally at",
        (Verb::Move | Verb::Approach | Verb::Follow, _) => "move to",
        (Verb::Gather, _) => "gather at",
        (Verb::Deliver, _) => "deliver to",
        (Verb::Construct, _) => "build on",
        (Verb::Nothing, _) => "do nothing about",
    }
}

pub(super) fn point(at: Vec2) -> String {
    format!("({:.1}, {:.1})", at.x, at.y)
}
