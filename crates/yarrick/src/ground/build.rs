//! Making a map, and what can be wrong with one.

use super::{Gait, Ground, Lattice, MAX_GAITS, Terrain};

/// The most cells that a map may have on a side.
pub const MAX_CELLS_A_SIDE: u32 = 4096;

/// The most terrain classes that a map may tell apart.
pub const MAX_TERRAINS: usize = 64;

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
    #[error("the map tells {count} terrain classes apart; allowed is 1 to {MAX_TERRAINS}")]
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
        Gait::MAX_CLIMB
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

impl Ground {
    /// Makes a map from the terrain class of each cell, row by row from below.
    ///
    /// # Errors
    /// [`GroundError`] for a map that is empty, too large, has nowhere to stand, or whose
    /// parts do not fit one another.
    pub fn new(
        width: u32,
        height: u32,
        cell_m: f32,
        terrains: Vec<Terrain>,
        classes: Vec<u8>,
    ) -> Result<Ground, GroundError> {
        check_size(width as usize, height as usize)?;
        if !(0.05..=100.0).contains(&cell_m) {
            return Err(GroundError::BadCellSize { cell_m });
        }
        check_terrains(&terrains)?;
        let expected = width as usize * height as usize;
        let known = classes.iter().all(|&c| usize::from(c) < terrains.len());
        if classes.len() != expected || !known {
            let found = classes.len();
            return Err(GroundError::BadCells { expected, found });
        }
        let mut classes_in_use = classes.iter().map(|&class| &terrains[usize::from(class)]);
        if !classes_in_use.any(|terrain| terrain.passable) {
            return Err(GroundError::NothingOpen);
        }
        let mut ground = Ground {
            lattice: Lattice::default(),
            width,
            height,
            cell_m,
            terrains,
            classes,
            heights: Vec::new(),
            height_range: (0.0, 0.0),
            gaits: vec![Gait::new(Gait::FOOT)],
            doors: Vec::new(),
            links: Vec::new(),
            blocks: Vec::new(),
            shut: Vec::new(),
            layers: Vec::new(),
        };
        ground.lay_out(ground.whole());
        Ok(ground)
    }

    /// The same map with cells that lie otherwise.
    #[must_use]
    pub fn with_lattice(mut self, lattice: Lattice) -> Ground {
        self.lattice = lattice;
        self.lay_out(self.whole());
        self
    }

    /// The same map with more gaits. One called [`Gait::FOOT`] takes the place of the one that every
    /// map begins with; the others follow in their order.
    ///
    /// # Errors
    /// [`GroundError`] for values out of range, terrains that the map does not have, names given
    /// twice, and more than [`MAX_GAITS`].
    pub fn with_gaits(mut self, gaits: Vec<Gait>) -> Result<Ground, GroundError> {
        let mut all = vec![Gait::new(Gait::FOOT)];
        let mut has_foot = false;
        for gait in gaits {
            gait.check(&self.terrains)?;
            if gait.name == Gait::FOOT && !has_foot {
                has_foot = true;
                all[0] = gait;
            } else if all.iter().any(|known| known.name == gait.name) {
                return Err(GroundError::SameName { name: gait.name });
            } else {
                all.push(gait);
            }
        }
        if all.len() > MAX_GAITS {
            return Err(GroundError::TooMany {
                what: "gaits",
                count: all.len(),
                most: MAX_GAITS,
            });
        }
        self.gaits = all;
        self.lay_out(self.whole());
        Ok(self)
    }

    /// Makes a map from rows of characters, the top row first.
    ///
    /// # Errors
    /// As [`Ground::new`], and for ragged rows and characters that the legend does not name.
    pub fn from_rows(
        cell_m: f32,
        rows: &[&str],
        legend: &[(char, Terrain)],
    ) -> Result<Ground, GroundError> {
        let width = rows.first().map_or(0, |row| row.chars().count());
        check_size(width, rows.len())?;
        let mut classes = Vec::with_capacity(width * rows.len());
        for (k, row) in rows.iter().enumerate().rev() {
            let found = row.chars().count();
            if found != width {
                return Err(GroundError::Ragged {
                    row: k + 1,
                    expected: width,
                    found,
                });
            }
            for (x, symbol) in row.chars().enumerate() {
                let class = legend.iter().position(|(known, _)| *known == symbol);
                classes.push(class.ok_or(GroundError::UnknownSymbol {
                    row: k + 1,
                    column: x + 1,
                    symbol,
                })? as u8);
            }
        }
        let terrains = legend.iter().map(|(_, terrain)| terrain.clone()).collect();
        Ground::new(width as u32, rows.len() as u32, cell_m, terrains, classes)
    }

    /// The same map with heights at the cell centres, in metres, row by row from below.
    ///
    /// # Errors
    /// [`GroundError::BadHeights`] unless there is one finite height for every cell.
    pub fn with_heights(self, heights: Vec<f32>) -> Result<Ground, GroundError> {
        let expected = self.classes.len();
        if heights.len() != expected || heights.iter().any(|h| !h.is_finite()) {
            let found = heights.len();
            return Err(GroundError::BadHeights { expected, found });
        }
        let low = heights.iter().copied().fold(f32::INFINITY, f32::min);
        let high = heights.iter().copied().fold(f32::NEG_INFINITY, f32::max);
        let mut ground = Ground {
            heights,
            height_range: (low, high),
            ..self
        };
        ground.lay_out(ground.whole());
        Ok(ground)
    }
}

fn check_size(width: usize, height: usize) -> Result<(), GroundError> {
    if width == 0 || height == 0 {
        return Err(GroundError::Empty);
    }
    if width.max(height) > MAX_CELLS_A_SIDE as usize {
        return Err(GroundError::TooLarge { width, height });
    }
    Ok(())
}

fn check_terrains(terrains: &[Terrain]) -> Result<(), GroundError> {
    if !(1..=MAX_TERRAINS).contains(&terrains.len()) {
        let count = terrains.len();
        return Err(GroundError::TerrainCount { count });
    }
    let allowed = Terrain::SLOWEST..=Terrain::FASTEST;
    match terrains.iter().find(|t| !allowed.contains(&t.speed)) {
        Some(terrain) => Err(GroundError::BadSpeed {
            name: terrain.name.clone(),
            speed: terrain.speed,
        }),
        None => Ok(()),
    }
}
