//! Making a map.

use super::error::GroundError;
use super::{Gait, Ground, Lattice, MAX_CELLS_A_SIDE, MAX_GAITS, MAX_TERRAINS, Terrain};

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
        let mut ground = Ground::bare(width, height, cell_m, terrains, classes)?;
        let mut terrains_in_use = ground.classes.iter().map(|&class| usize::from(class));
        if !terrains_in_use.any(|terrain| ground.terrains[terrain].passable) {
            return Err(GroundError::NothingOpen);
        }
        ground.lay_out(ground.whole());
        Ok(ground)
    }

    /// A map of squares without doors, links and obstacles, before its layers are laid out.
    pub(super) fn bare(
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
        Ok(Ground {
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
        })
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
