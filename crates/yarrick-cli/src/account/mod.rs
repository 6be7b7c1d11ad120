//! What happened in a run: recorded tick by tick, then written as text or as JSON.

mod contest;
mod contest_text;
mod json;
mod minds;
mod orders;
mod text;
mod words;

use contest::Contest;
pub(crate) use json::code;
pub(crate) use minds::Mind;
use orders::OrderTale;
use serde::Serialize;
use std::collections::BTreeSet;
use words::Names;
use yarrick::scenario::{
    GroundChange, Play, PlayEvent, Scenario, ScriptLine, SelectedBy, ZoneChange,
};
use yarrick::world::{Doing, Effect, Event, KindId, NotPlaced, Ticket, UnitId, World};
use yarrick::{SideId, Vec2};

/// The account of a run.
pub(crate) struct Account {
    head: Head,
    names: Names,
    /// What the zones of the scenario are called.
    zones: Vec<String>,
    happenings: Vec<LogEntry>,
    orders: Vec<OrderTale>,
    contest: Contest,
    /// The units whose drills are explained.
    minds: Vec<Mind>,
    /// How the fighting went, by side.
    tolls: Vec<Losses>,
    /// Those that were struck down.
    dead: BTreeSet<UnitId>,
    /// The units that have leaked.
    leaked: BTreeSet<UnitId>,
    end: End,
}

/// What fighting cost a side, and what it did.
#[derive(Clone, Copy, Default, Serialize)]
struct Losses {
    /// Its units at the start.
    began_with: usize,
    /// Its units that came in later.
    came_in: usize,
    /// The blows that it struck, hits of projectiles included.
    blows: usize,
    /// The projectiles that it fired, and how many of them hit.
    fired: usize,
    hits: usize,
    /// Its units that were struck down.
    fallen: usize,
}

/// What was run.
#[derive(Serialize)]
struct Head {
    title: String,
    seed: u64,
    ticks_per_second: u32,
    width_m: f32,
    height_m: f32,
    sides: Vec<String>,
    kinds: Vec<String>,
    /// The units of each side at the start, such as "10 raker, 6 warden".
    #[serde(skip)]
    strength: Vec<String>,
}

/// Something that happened, and when.
struct LogEntry {
    time_s: f64,
    /// The entry of the script that it answers.
    line: Option<ScriptLine>,
    what: What,
}

enum What {
    Selected {
        side: SideId,
        units: Vec<UnitId>,
        kinds: String,
        how: SelectedBy,
    },
    Grouped {
        side: SideId,
        number: usize,
        units: Vec<UnitId>,
        kinds: String,
    },
    /// A building in hand was not placed.
    NotPlaced {
        side: SideId,
        kind: KindId,
        why: NotPlaced,
    },
    /// The ground has changed: how, what by name, and where.
    Ground {
        how: &'static str,
        what: String,
        from: Vec2,
        to: Vec2,
    },
    /// A zone has changed: which, and how.
    Zone {
        name: String,
        change: ZoneChange,
    },
    Event(Event),
}

/// How things stand at the end.
#[derive(Default)]
struct End {
    ticks: u64,
    time_s: f64,
    checksum: u64,
    trail: u64,
    units: Vec<UnitEnd>,
}

/// A unit at the end.
#[derive(Serialize)]
struct UnitEnd {
    id: String,
    /// What it is called in the scenario, if it has a name there.
    #[serde(skip_serializing_if = "Option::is_none")]
    name: Option<String>,
    /// Its name, or kind and id.
    #[serde(skip)]
    called: String,
    kind: String,
    side: String,
    at: [f32; 2],
    facing_deg: f32,
    health: f32,
    doing: &'static str,
    orders: Vec<u32>,
}

impl UnitEnd {
    /// Whether it walks.
    fn walks(&self) -> bool {
        matches!(self.doing, "going" | "going-round")
    }

    /// Whether it waits for others.
    fn waits(&self) -> bool {
        self.doing == "waiting"
    }
}

impl Account {
    /// Begins the account of a play that has not begun yet.
    pub(crate) fn begin(scenario: &Scenario, play: &Play) -> Account {
        let world = play.world();
        let size = world.ground().bounds().size();
        let of_side = |side: u8| {
            let units = world
                .units()
                .filter(move |unit| unit.side_id() == SideId(side));
            kinds_of(world, units.map(|unit| unit.id()))
        };
        let mut names = Names::default();
        names.note(world, |unit| play.name_of(unit));
        let count = |side| {
            world
                .units()
                .filter(|unit| unit.side_id() == SideId(side))
                .count()
        };
        let toll = |side| Losses {
            began_with: count(side),
            ..Losses::default()
        };
        Account {
            names,
            zones: scenario
                .zones
                .iter()
                .map(|zone| zone.name.clone())
                .collect(),
            contest: Contest::begin(world),
            minds: Vec::new(),
            tolls: (0..world.sides().len() as u8).map(toll).collect(),
            head: Head {
                title: scenario.title.clone(),
                seed: world.seed(),
                ticks_per_second: world.ticks_per_second(),
                width_m: size.x,
                height_m: size.y,
                sides: world.sides().iter().map(|side| side.name.clone()).collect(),
                kinds: world.kinds().iter().map(|kind| kind.name.clone()).collect(),
                strength: (0..world.sides().len() as u8).map(of_side).collect(),
            },
            happenings: Vec::new(),
            orders: Vec::new(),
            dead: BTreeSet::new(),
            leaked: BTreeSet::new(),
            end: End::default(),
        }
    }

    /// Explains, too, what the drills of these units do, each by its name in the scenario or its id.
    pub(crate) fn explain(&mut self, units: &[String]) {
        self.minds = units.iter().map(|unit| Mind::of(unit)).collect();
    }

    /// The units whose drills are explained.
    pub(crate) fn minds(&self) -> &[Mind] {
        &self.minds
    }

    /// Takes down what happened in a tick.
    pub(crate) fn note(&mut self, play: &Play, happened: &[PlayEvent]) {
        let world = play.world();
        let time_s = world.time_s();
        if happened.iter().any(brings_a_unit) {
            self.names.note(world, |unit| play.name_of(unit));
        }
        for happening in happened {
            let line = ticket_of(happening).and_then(|ticket| play.script_line(ticket));
            let what = match happening {
                PlayEvent::Selected { side, units, how } => What::Selected {
                    side: *side,
                    kinds: kinds_of(world, units.iter().copied()),
                    units: units.clone(),
                    how: *how,
                },
                PlayEvent::Grouped {
                    side,
                    number,
                    units,
                } => What::Grouped {
                    side: *side,
                    number: *number,
                    kinds: kinds_of(world, units.iter().copied()),
                    units: units.clone(),
                },
                PlayEvent::NotPlaced { side, kind, why } => What::NotPlaced {
                    side: *side,
                    kind: *kind,
                    why: why.clone(),
                },
                PlayEvent::Zone { zone, change } => What::Zone {
                    name: self.zones.get(*zone as usize).cloned().unwrap_or_default(),
                    change: *change,
                },
                PlayEvent::Ground(deed) => ground_changed(world, *deed),
                PlayEvent::Event(event) => {
                    orders::follow(&mut self.orders, &self.names, world, time_s, event);
                    self.reckon(event);
                    self.contest.note(time_s, event);
                    What::Event(event.clone())
                }
            };
            let line = line.cloned();
            self.happenings.push(LogEntry { time_s, line, what });
        }
        for mind in &mut self.minds {
            mind.note(play, &self.names);
        }
    }

    fn reckon(&mut self, event: &Event) {
        let of = |unit: &UnitId| self.names.side(*unit).map(|side| usize::from(side.0));
        match event {
            Event::CameIn { unit, .. }
            | Event::Produced { unit, .. }
            | Event::Built { unit, .. }
            | Event::Changed {
                effect: Effect::Spawned { unit },
                ..
            } => {
                if let Some(toll) = of(unit).and_then(|side| self.tolls.get_mut(side)) {
                    toll.came_in += 1;
                }
            }
            Event::Struck {
                unit, projectile, ..
            } => {
                if let Some(toll) = of(unit).and_then(|side| self.tolls.get_mut(side)) {
                    toll.blows += 1;
                    toll.hits += usize::from(projectile.is_some());
                }
            }
            Event::Leaked { unit, .. } => {
                self.leaked.insert(*unit);
            }
            Event::Fired { unit, .. } | Event::FiredAtGround { unit, .. } => {
                if let Some(toll) = of(unit).and_then(|side| self.tolls.get_mut(side)) {
                    toll.fired += 1;
                }
            }
            Event::Died { unit, .. } => {
                self.dead.insert(*unit);
                if let Some(toll) = of(unit).and_then(|side| self.tolls.get_mut(side)) {
                    toll.fallen += 1;
                }
            }
            _ => {}
        }
    }

    /// Takes down how things stand at the end.
    pub(crate) fn close(&mut self, play: &Play) {
        let world = play.world();
        let mut contest = core::mem::take(&mut self.contest);
        contest.close(play, |decision| self.verdict(decision, world.time_s()));
        self.contest = contest;
        let mut ids: Vec<UnitId> = world.units().map(|unit| unit.id()).collect();
        ids.sort_unstable();
        self.end = End {
            ticks: world.tick(),
            time_s: world.time_s(),
            checksum: world.checksum(),
            trail: play.trail(),
            units: ids
                .into_iter()
                .filter_map(|id| unit_end(play, &self.names, id))
                .collect(),
        };
    }

    fn side(&self, side: SideId) -> &str {
        let name = self.head.sides.get(usize::from(side.0));
        name.map_or("?", String::as_str)
    }
}

/// Whether a unit came into the world.
fn brings_a_unit(happening: &PlayEvent) -> bool {
    let PlayEvent::Event(event) = happening else {
        return false;
    };
    let effect = match event {
        Event::CameIn { .. } | Event::Produced { .. } | Event::SiteReserved { .. } => return true,
        Event::Changed { effect, .. } => effect,
        _ => return false,
    };
    matches!(effect, Effect::Spawned { .. })
}

/// The ticket of the change that something answers.
fn ticket_of(happening: &PlayEvent) -> Option<Ticket> {
    let PlayEvent::Event(event) = happening else {
        return None;
    };
    match event {
        Event::Refused { ticket, .. } | Event::ChangeRefused { ticket, .. } => Some(*ticket),
        _ => None,
    }
}

fn unit_end(play: &Play, names: &Names, id: UnitId) -> Option<UnitEnd> {
    let unit = play.world().unit(id)?;
    Some(UnitEnd {
        id: id.to_string(),
        name: play.name_of(id).map(str::to_owned),
        called: names.name(id),
        kind: unit.kind().name.clone(),
        side: unit.side().name.clone(),
        at: unit.position().to_array(),
        facing_deg: unit.facing().to_degrees(),
        health: unit.health(),
        doing: match unit.doing() {
            Doing::Standing => "standing",
            Doing::AwaitingRoute => "awaiting-route",
            Doing::Going => "going",
            Doing::GoingRound => "going-round",
            Doing::Waiting => "waiting",
            Doing::Striking => "striking",
        },
        orders: unit.orders().map(|order| order.number().0).collect(),
    })
}

/// How many of each kind, such as "6 warden, 4 slinger".
fn kinds_of(world: &World, units: impl Iterator<Item = UnitId>) -> String {
    let mut counts = vec![0_usize; world.kinds().len()];
    for unit in units.filter_map(|id| world.unit(id)) {
        counts[usize::from(unit.kind_id().0)] += 1;
    }
    let counts = counts.into_iter().zip(world.kinds());
    let parts: Vec<String> = counts
        .filter(|(count, _)| *count > 0)
        .map(|(count, kind)| format!("{count} {}", kind.name))
        .collect();
    parts.join(", ")
}

/// `1 unit`, `2 units`; `script entry` becomes `script entries`.
pub(crate) fn plural(count: usize, what: &str) -> String {
    match (count, what.strip_suffix('y')) {
        (1, _) => format!("1 {what}"),
        (_, Some(stem)) => format!("{count} {stem}ies"),
        (_, None) => format!("{count} {what}s"),
    }
}

fn ground_changed(world: &World, deed: GroundChange) -> What {
    let ground = world.ground();
    let (how, what, patch) = match deed {
        GroundChange::Door { door, shut } => {
            let door = &ground.doors()[usize::from(door.0)];
            let how = if shut { "shut" } else { "opened" };
            (how, door.name.clone(), door.patch)
        }
        GroundChange::Block(patch) => ("blocked", String::new(), patch),
        GroundChange::Unblock(patch) => ("unblocked", String::new(), patch),
        GroundChange::Terrain { patch, terrain } => {
            let terrain = &ground.terrains()[usize::from(terrain)];
            ("turned", terrain.name.clone(), patch)
        }
    };
    What::Ground {
        how,
        what,
        from: ground.centre(patch.min),
        to: ground.centre(patch.max),
    }
}
