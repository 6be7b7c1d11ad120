//! What a map consists of, for saving it: without what is worked out from that.

use super::{Cell, Door, Gait, Ground, Lattice, Link, Terrain};
use serde::{Deserialize, Deserializer, Serialize, Serializer};

/// What a map consists of, with lists that are borrowed to save it and owned when it is read.
#[derive(Serialize, Deserialize)]
struct Parts<Terrains, Bytes, Heights, Gaits, Doors, Links, Counts> {
    lattice: Lattice,
    width: u32,
    height: u32,
    cell_m: f32,
    terrains: Terrains,
    classes: Bytes,
    heights: Heights,
    gaits: Gaits,
    doors: Doors,
    links: Links,
    blocks: Counts,
}

type Read = Parts<Vec<Terrain>, Vec<u8>, Vec<f32>, Vec<Gait>, Vec<Door>, Vec<Link>, Vec<u16>>;

impl Serialize for Ground {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let parts = Parts {
            lattice: self.lattice,
            width: self.width,
            height: self.height,
            cell_m: self.cell_m,
            terrains: &self.terrains,
            classes: &self.classes,
            heights: &self.heights,
            gaits: &self.gaits,
            doors: &self.doors,
            links: &self.links,
            blocks: &self.blocks,
        };
        parts.serialize(serializer)
    }
}

impl<'de> Deserialize<'de> for Ground {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Ground, D::Error> {
        let parts = Read::deserialize(deserializer)?;
        Ground::of_parts(parts).map_err(serde::de::Error::custom)
    }
}

impl Ground {
    /// The map of parts that were read from a file. All its cells may be closed: terrain changes after a map is made.
    fn of_parts(parts: Read) -> Result<Ground, String> {
        let made = Ground::bare(
            parts.width,
            parts.height,
            parts.cell_m,
            parts.terrains,
            parts.classes,
        );
        let mut ground = made.map_err(|error| error.to_string())?;
        if !parts.blocks.is_empty() && parts.blocks.len() != ground.classes.len() {
            return Err("obstacles that do not fit the map".to_owned());
        }
        ground.lattice = parts.lattice;
        ground.blocks = parts.blocks;
        if !parts.heights.is_empty() {
            let heights = ground.with_heights(parts.heights);
            ground = heights.map_err(|error| error.to_string())?;
        }
        // This lays out the layers, too.
        let made = ground
            .with_gaits(parts.gaits)
            .and_then(|ground| {
                if parts.doors.is_empty() {
                    Ok(ground)
                } else {
                    ground.with_doors(parts.doors)
                }
            })
            .and_then(|ground| ground.with_links(parts.links));
        made.map_err(|error| error.to_string())
    }

    /// What a cell holds that may change: the number of its terrain, and how many obstacles lie on it.
    pub(crate) fn contents(&self, cell: Cell) -> (u8, u16) {
        let Some(at) = self.index(cell) else {
            return (0, 0);
        };
        let blocks = self.blocks.get(at).copied().unwrap_or(0);
        (self.classes[at], blocks)
    }

    /// Shows everything that never changes, part by part.
    pub(crate) fn fixed_parts(&self, mut show: impl FnMut(&dyn Fixed)) {
        show(&(self.lattice, self.width, self.height, self.cell_m));
        show(&self.terrains);
        show(&self.heights);
        show(&self.gaits);
        show(&self.links);
        let doors: Vec<_> = self
            .doors
            .iter()
            .map(|door| (&door.name, door.patch))
            .collect();
        show(&doors);
    }
}

/// A part of a map, as the bytes in which it would be saved.
pub(crate) trait Fixed {
    fn bytes(&self) -> Vec<u8>;
}

impl<T: Serialize> Fixed for T {
    fn bytes(&self) -> Vec<u8> {
        postcard::to_extend(self, Vec::new()).unwrap_or_default()
    }
}
