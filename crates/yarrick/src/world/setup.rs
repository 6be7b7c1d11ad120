//! What a world begins with.

use super::game::{AssaultError, AssaultSetup, MAX_ENDINGS};
use super::orders::Minds;
use super::state::{Clock, Derived, Rules, RunningAssault, Scratch, State};
use super::{
    ContextRules, FlockId, Kind, KindError, KindId, MAX_KINDS, MAX_SIDES, MAX_UNITS, NoRoom, Side,
    SideId, UnitId, World,
};
use crate::drill::{BadPattern, Drill, Program, Vocabulary, Word};
use crate::economy::{Ledger, MAX_RESOURCES, ResourceId, Stores};
use crate::ground::Ground;
use crate::motion::flock::{FlockError, FlockParamsError};
use crate::threads::Threads;

/// The most ticks in a second.
pub const MAX_TICKS_PER_SECOND: u32 = 240;

/// How many ticks make a second unless a setup says otherwise.
pub const DEFAULT_TICKS_PER_SECOND: u32 = 20;

/// How many cells the searches of one tick may settle unless a setup says otherwise.
pub const DEFAULT_PLAN_BUDGET: u32 = 100_000;

/// What a world begins with.
#[derive(Clone, Debug)]
pub struct WorldSetup {
    /// The map.
    pub ground: Ground,
    /// Who owns units: 1 to [`MAX_SIDES`], with names that differ.
    pub sides: Vec<Side>,
    /// The kinds of unit: 1 to [`MAX_KINDS`], with names that differ.
    pub kinds: Vec<Kind>,
    /// The seed of all random numbers.
    pub seed: u64,
    /// How many ticks make a second, 1 to [`MAX_TICKS_PER_SECOND`];
    /// [`DEFAULT_TICKS_PER_SECOND`] by default. More make
    /// movement finer and cost accordingly.
    pub ticks_per_second: u32,
    /// How many cells the searches of one tick may settle, 1 or more;
    /// [`DEFAULT_PLAN_BUDGET`] by default.
    /// Lower, and crowds wait longer for their routes; higher, and a tick may take longer.
    pub plan_budget: u32,
    /// What fits which click, for whom.
    pub context_rules: ContextRules,
    /// What the resources are called, by their numbers: at most [`MAX_RESOURCES`], with names that differ.
    pub resources: Vec<String>,
    /// What each side owns at the start, by their numbers. Sides beyond the list own nothing.
    pub stores: Vec<Stores>,
    /// The drills by which kinds go, compiled with [`vocabulary`](super::vocabulary) and the words below.
    pub program: Program,
    /// The words that the game adds to those of the world: senses that give numbers, and steps.
    pub own_words: Vec<Word>,
    /// The assault, if there is one.
    pub assault: Option<AssaultSetup>,
}

impl WorldSetup {
    /// A setup on a map, with no sides and kinds yet, and the defaults for the rest.
    #[must_use]
    pub fn on(ground: Ground) -> WorldSetup {
        WorldSetup {
            ground,
            sides: Vec::new(),
            kinds: Vec::new(),
            seed: 0,
            ticks_per_second: DEFAULT_TICKS_PER_SECOND,
            plan_budget: DEFAULT_PLAN_BUDGET,
            context_rules: ContextRules::default(),
            resources: Vec::new(),
            stores: Vec::new(),
            program: Program::default(),
            own_words: Vec::new(),
            assault: None,
        }
    }
}

/// Why a world cannot be made, or a unit not be put into it.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum WorldError {
    /// Too few or too many sides.
    #[error("a world has 1 to {MAX_SIDES} sides, not {count}")]
    SideCount {
        /// How many were given.
        count: usize,
    },
    /// Too few or too many kinds.
    #[error("a roster has 1 to {MAX_KINDS} kinds, not {count}")]
    KindCount {
        /// How many were given.
        count: usize,
    },
    /// Two sides or two kinds of the same name.
    #[error("the name {name:?} is used twice")]
    SameName {
        /// The name.
        name: String,
    },
    /// Something is wrong with a kind.
    #[error(transparent)]
    Kind(#[from] KindError),
    /// The tick rate or the planning budget is out of range.
    #[error("{what} is {value}; allowed is {low} to {high}")]
    BadRate {
        /// Which of the two.
        what: &'static str,
        /// The value.
        value: u32,
        /// The least that is allowed.
        low: u32,
        /// The most that is allowed.
        high: u32,
    },
    /// No kind has this number.
    #[error("there is no kind with number {}", kind.0)]
    NoSuchKind {
        /// The number.
        kind: KindId,
    },
    /// No side has this number.
    #[error("there is no {side}")]
    NoSuchSide {
        /// The number.
        side: SideId,
    },
    /// A coordinate or angle is NaN or infinite.
    #[error("a coordinate or angle is not a finite number")]
    NotFinite,
    /// The body does not fit where it was to be put.
    #[error("there is no room for {kind:?} at ({x}, {y}): {why}")]
    NoRoom {
        /// The kind.
        kind: String,
        /// Metres from the left.
        x: f32,
        /// Metres from below.
        y: f32,
        /// What is in the way.
        why: NoRoom,
    },
    /// There are [`MAX_FLOCKS`](super::MAX_FLOCKS) flocks already.
    #[error("a world has at most {} flocks", super::MAX_FLOCKS)]
    TooManyFlocks,
    /// No flock has this number.
    #[error("there is no {flock}")]
    NoSuchFlock {
        /// The number.
        flock: FlockId,
    },
    /// No unit that lives has this id.
    #[error("there is no unit {unit}, or no longer")]
    NoSuchUnit {
        /// The id.
        unit: UnitId,
    },
    /// Something was not done to a flock.
    #[error(transparent)]
    Flock(#[from] FlockError),
    /// The parameters of a flock make no sense.
    #[error(transparent)]
    FlockParams(#[from] FlockParamsError),
    /// More resources than [`MAX_RESOURCES`].
    #[error("a world has at most {MAX_RESOURCES} resources, not {count}")]
    TooManyResources {
        /// How many were given.
        count: usize,
    },
    /// No resource has this number.
    #[error("there is no resource with number {}", resource.0)]
    NoSuchResource {
        /// The number.
        resource: ResourceId,
    },
    /// A word of the game that makes no sense.
    #[error(transparent)]
    Word(#[from] BadPattern),
    /// A kind goes by a drill that does not exist, or sets a dial that the drill does not have.
    #[error(
        "{kind:?} goes by drill {drill}, which does not exist, or sets a dial that it does not have"
    )]
    NoSuchDrill {
        /// The kind.
        kind: String,
        /// The number of the drill.
        drill: u16,
    },
    /// Two drills of a kind control the same faculty.
    #[error("{kind:?} goes by {first:?} and {second:?}, which control the same faculty")]
    DrillsClash {
        /// The kind.
        kind: String,
        /// One of the drills.
        first: String,
        /// The other.
        second: String,
    },
    /// Something is wrong with the assault.
    #[error(transparent)]
    Assault(#[from] AssaultError),
    /// There are [`MAX_ENDINGS`] endings already.
    #[error("a world has at most {MAX_ENDINGS} endings")]
    TooManyEndings,
    /// The first tick has been made: from then on, everything that is done to a world is a
    /// [`Change`](super::Change).
    #[error("the world has begun: hand in a change instead")]
    HasBegun,
    /// There are [`MAX_UNITS`] units already.
    #[error("the world is full: it holds {MAX_UNITS} units")]
    Full,
}

impl World {
    /// Makes a world without units.
    ///
    /// Costs a few passes over the map for each class of body that the kinds need.
    ///
    /// # Errors
    /// [`WorldError`] for a setup with a value out of range.
    pub fn new(setup: WorldSetup) -> Result<World, WorldError> {
        check(&setup)?;
        let rules = Rules {
            seed: setup.seed,
            ticks_per_second: setup.ticks_per_second,
            plan_budget: setup.plan_budget,
            sides: setup.sides,
            kinds: setup.kinds,
            resources: setup.resources,
            program: setup.program,
            own_words: count_own(&setup.own_words),
        };
        let assault = setup.assault;
        let assault = assault.and_then(|assault| RunningAssault::begin(assault, setup.seed));
        let mut stores = setup.stores;
        stores.resize_with(rules.sides.len(), Stores::default);
        let ledgers = stores.into_iter().map(Ledger::new).collect();
        let derived = Derived::new(&rules, &setup.ground, assault.as_ref());
        let derived = derived.map_err(|side| WorldError::NoSuchSide { side })?;
        Ok(World {
            state: state_at_start((rules, derived), setup.ground, (assault, ledgers)),
            minds: Minds {
                context_rules: setup.context_rules,
                ..Minds::default()
            },
            inbox: Default::default(),
            checksum: 0,
            scratch: Scratch::default(),
            events: Vec::new(),
            threads: Threads::default(),
        })
    }
}

/// The state of a world without units.
fn state_at_start(
    (rules, derived): (Rules, Derived),
    ground: Ground,
    (assault, ledgers): (Option<RunningAssault>, Vec<Ledger>),
) -> State {
    State {
        rules,
        clock: Clock::default(),
        ground,
        units: Default::default(),
        ordered_facing: Default::default(),
        no_chase_until: Default::default(),
        pace: Default::default(),
        sway: Default::default(),
        last_hit: Default::default(),
        homes: Default::default(),
        dials: Default::default(),
        own_senses: Default::default(),
        arms_turned: Default::default(),
        projectiles: Default::default(),
        unrest: Default::default(),
        mending: Default::default(),
        ground_aims: Default::default(),
        planner: Default::default(),
        marches: Vec::new(),
        flocks: Vec::new(),
        assault,
        of_wave: Default::default(),
        ledgers,
        spilled: Stores::default(),
        deposits: Default::default(),
        loads: Default::default(),
        productions: Default::default(),
        constructions: Default::default(),
        endings: Vec::new(),
        decision: None,
        derived,
    }
}

/// How many senses and steps are among the words of a game.
fn count_own(words: &[Word]) -> (u16, u16) {
    let own = Vocabulary::new(words.to_vec(), &[], &[]).unwrap_or_default();
    (own.senses().count() as u16, own.steps().count() as u16)
}

fn check(setup: &WorldSetup) -> Result<(), WorldError> {
    let count = setup.sides.len();
    if !(1..=MAX_SIDES).contains(&count) {
        return Err(WorldError::SideCount { count });
    }
    let count = setup.kinds.len();
    if !(1..=MAX_KINDS).contains(&count) {
        return Err(WorldError::KindCount { count });
    }
    for (what, value, low, high) in [
        (
            "ticks_per_second",
            setup.ticks_per_second,
            1,
            MAX_TICKS_PER_SECOND,
        ),
        ("plan_budget", setup.plan_budget, 1, u32::MAX),
    ] {
        if !(low..=high).contains(&value) {
            return Err(WorldError::BadRate {
                what,
                value,
                low,
                high,
            });
        }
    }
    check_names(setup.sides.iter().map(|side| &side.name))?;
    check_names(setup.kinds.iter().map(|kind| &kind.name))?;
    let count = setup.resources.len();
    if count > MAX_RESOURCES {
        return Err(WorldError::TooManyResources { count });
    }
    check_names(setup.resources.iter())?;
    if let Some(assault) = &setup.assault {
        assault.check(&setup.ground, (setup.sides.len(), setup.kinds.len()))?;
        check_names(assault.entries.iter().map(|entry| &entry.name))?;
        check_names(assault.goals.iter().map(|goal| &goal.name))?;
    }
    check_references(setup)?;
    super::vocabulary(&setup.own_words)?;
    setup
        .kinds
        .iter()
        .try_for_each(|kind| check_drills(setup, kind))?;
    let mut kinds = setup.kinds.iter();
    Ok(kinds.try_for_each(|kind| kind.check(&setup.ground))?)
}

/// Whether the kinds and resources that kinds, stores and the assault name are there.
fn check_references(setup: &WorldSetup) -> Result<(), WorldError> {
    for kind in &setup.kinds {
        let named = kind.produces().iter().chain(kind.builds());
        for &kind in named {
            if usize::from(kind.0) >= setup.kinds.len() {
                return Err(WorldError::NoSuchKind { kind });
            }
        }
        let price = kind
            .cost
            .price
            .amounts()
            .iter()
            .map(|(resource, _)| *resource);
        let mut resources = price.chain(kind.holding.map(|holding| holding.resource));
        let unknown = resources.find(|resource| usize::from(resource.0) >= setup.resources.len());
        if let Some(resource) = unknown {
            return Err(WorldError::NoSuchResource { resource });
        }
    }
    Ok(())
}

/// Whether the drills of a kind are there, and drive different faculties.
fn check_drills(setup: &WorldSetup, kind: &Kind) -> Result<(), WorldError> {
    let drills = &setup.program.drills;
    let mut before: Vec<&Drill> = Vec::new();
    for used in &kind.drills {
        let known = drills.get(usize::from(used.drill));
        let has = |drill: &&Drill| {
            let is_one = |(dial, value): &(u16, f32)| {
                let dial = drill.dials.get(usize::from(*dial));
                dial.is_some_and(|dial| (dial.least..=dial.most).contains(value))
            };
            used.dials.iter().all(is_one)
        };
        let Some(drill) = known.filter(has) else {
            return Err(WorldError::NoSuchDrill {
                kind: kind.name.clone(),
                drill: used.drill,
            });
        };
        if let Some(first) = before
            .iter()
            .find(|other| other.controls & drill.controls != 0)
        {
            return Err(WorldError::DrillsClash {
                kind: kind.name.clone(),
                first: first.name.clone(),
                second: drill.name.clone(),
            });
        }
        before.push(drill);
    }
    Ok(())
}

fn check_names<'a>(names: impl Iterator<Item = &'a String>) -> Result<(), WorldError> {
    let mut names: Vec<&String> = names.collect();
    names.sort_unstable();
    match names.windows(2).find(|pair| pair[0] == pair[1]) {
        Some(pair) => Err(WorldError::SameName {
            name: pair[0].clone(),
        }),
        None => Ok(()),
    }
}
