//! The entries of a script: what the players do, and when.

use super::flocks::ZoneChange;
use crate::geom::Vec2;
use crate::ground::{DoorId, Patch};
use crate::motion::formation::Form;
use crate::select::{Keys, PointerAction};
use crate::world::{Action, KindId, PlanRules, SideId, UnitId, Verb, When};
use core::fmt;

/// Something that a player does.
#[derive(Clone, Debug, PartialEq)]
pub struct Scripted {
    /// The file and the line of the entry, for messages.
    pub line: ScriptLine,
    /// When, in seconds.
    pub time_s: f64,
    /// Whose player.
    pub side: SideId,
    /// What.
    pub act: ScriptAct,
}

/// Where an entry of a script stands.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ScriptLine {
    /// The file, as it was asked for.
    pub file: String,
    /// The line, counted from 1.
    pub line: usize,
}

impl fmt::Display for ScriptLine {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}:{}", self.file, self.line)
    }
}

/// What a player does.
#[derive(Clone, Debug, PartialEq)]
pub enum ScriptAct {
    /// Something with the pointer.
    Pointer {
        /// Which pointer.
        pointer: u32,
        /// What it does.
        action: PointerAction,
        /// Where, on the ground in metres.
        point: Vec2,
        /// The keys held.
        keys: Keys,
        /// Whether the game's interface took it.
        taken: bool,
    },
    /// Something with a control group.
    Group {
        /// Which, from 0 to 9.
        number: usize,
        /// What.
        deed: GroupDeed,
    },
    /// Chooses what the next primary click orders; [`Verb::Nothing`] takes it back.
    Intent(Verb),
    /// The ground changes.
    Ground(GroundChange),
    /// Takes a building in hand, or gives it up.
    Plan(Option<(KindId, PlanRules)>),
    /// Turns the building in hand by some steps, anticlockwise.
    Turn(i32),
    /// Chooses in what formation clicks send groups, or that they go in none.
    Form(Option<Form>),
    /// A zone changes.
    Zone {
        /// Which, by its number among those of the scenario.
        zone: u32,
        /// How.
        change: ZoneChange,
    },
    /// A plain command.
    Order {
        /// What is to be done.
        action: Action,
        /// By whom.
        units: Recipients,
        /// What becomes of what they do already.
        when: When,
    },
}

/// Whom an order is for.
#[derive(Clone, Debug, PartialEq)]
pub enum Recipients {
    /// What the side's player has selected.
    Selected,
    /// Units that the scenario placed, by their numbers.
    Placed(Vec<u32>),
    /// Units by their ids.
    Ids(Vec<UnitId>),
}

/// How the ground changes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum GroundChange {
    /// A door opens or shuts.
    Door {
        /// Which.
        door: DoorId,
        /// Whether it is shut from now on.
        shut: bool,
    },
    /// An obstacle comes to lie on cells.
    Block(Patch),
    /// It is taken off them.
    Unblock(Patch),
    /// Cells become another terrain.
    Terrain {
        /// Which cells.
        patch: Patch,
        /// The number of the terrain in the list of the map.
        terrain: u8,
    },
}

/// What a player does with a control group.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum GroupDeed {
    /// Makes it of what is selected.
    Set,
    /// Adds what is selected to it.
    Add,
    /// Selects it.
    Recall,
}
