//! What can be wrong with a map.

/// The most cells that a map may have on a side.
pub const MAX_CELLS_A_SIDE: u32 = 4096;

/// The most terrain classes that a map may tell apart.
pub const MAX_TERRAINS: usize = 64;

/// The most that a slope may slow a gait.
pub(super) const MAX_CLIMB: f32 = 50.0;

/// Why a map was refused.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum GroundError {
    /// There is no row, or the rows are empty.
    #[error("the map has no cells; it needs at least one row of one cell")]
    Empty,
    /// More cells on a side than [`MAX_CELLS_A_SIDE`].
    #[error("the map is {width} by {height} cells; at most {MAX_CELLS_A_SIDE} a side are allowed")]
    TooLarge {
        /// Cells from left to right.
        width: usize,
        /// Cells from bottom to top.
        height: usize,
    },
    /// A row is longer or shorter than the first.
    #[error("row {row} of the map has {found} cells, the first row has {expected}")]
    Ragged {
        /// The row, counted from 1 at the top.
        row: usize,
        /// How many cells the first row has.
        expected: usize,
        /// How many this one has.
        found: usize,
    },
    /// A character that the legend does not name.
    #[error("row {row}, column {column}: the legend has no entry for {symbol:?}")]
    UnknownSymbol {
        /// The row, counted from 1 at the top.
        row: usize,
        /// The column, counted from 1 at the left.
        column: usize,
        /// The character.
        symbol: char,
    },
    /// The side of a cell is not a sensible length.
    #[error("a cell cannot be {cell_m} m wide; allowed is 0.05 to 100")]
    BadCellSize {
        /// The length that was given, in metres.
        cell_m: f32,
    },
    /// A terrain's speed factor is out of range.
    #[error("the speed factor of {name:?} is {speed}; allowed is 0.1 to 4")]
    BadSpeed {
        /// The terrain.
        name: String,
        /// Its factor.
        speed: f32,
    },
    /// More terrain classes than [`MAX_TERRAINS`], or none.
    #[error("the map has {count} terrain classes; allowed is 1 to {MAX_TERRAINS}")]
    TerrainCount {
        /// How many there are.
        count: usize,
    },
    /// The classes of the cells do not fit the map's size, or name a terrain that is not there.
    #[error("{found} cells were given for a map of {expected}, or one names a missing terrain")]
    BadCells {
        /// Width times height.
        expected: usize,
        /// How many classes were given.
        found: usize,
    },
    /// There is nowhere to stand.
    #[error("no cell of the map can be walked on")]
    NothingOpen,
    /// A gait names a terrain that the map does not have.
    #[error("the gait {gait:?} names the terrain {name:?}, which the map does not have")]
    NoSuchTerrain {
        /// The gait.
        gait: String,
        /// What it names.
        name: String,
    },
    /// A gait with a value out of range.
    #[error(
        "the gait {gait:?} goes up to a slope of {steepest} and climbs at {climb}; allowed are 0 and \
         more, and 0 to {}",
        MAX_CLIMB
    )]
    BadGait {
        /// The gait.
        gait: String,
        /// Its steepest slope.
        steepest: f32,
        /// How much slopes slow it.
        climb: f32,
    },
    /// Two gaits of the same name.
    #[error("there are two gaits {name:?}")]
    SameName {
        /// The name.
        name: String,
    },
    /// More gaits, doors or links than allowed.
    #[error("the map has {count} {what}; at most {most} are allowed")]
    TooMany {
        /// Of what.
        what: &'static str,
        /// How many there are.
        count: usize,
        /// How many are allowed.
        most: usize,
    },
    /// A door that does not lie on the map.
    #[error("the door {name:?} does not lie on the map")]
    BadDoor {
        /// The door.
        name: String,
    },
    /// A link that begins or ends off the map, or whose cost is out of range.
    #[error("the link {name:?} begins or ends off the map, or its cost is not above 0")]
    BadLink {
        /// The link.
        name: String,
    },
    /// Heights that do not fit the map, or are not finite.
    #[error("{found} heights were given for a map of {expected} cells, or one is not finite")]
    BadHeights {
        /// Width times height.
        expected: usize,
        /// How many heights were given.
        found: usize,
    },
}
