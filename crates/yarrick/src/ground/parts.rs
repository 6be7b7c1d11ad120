//! What a map consists of, for saving it: without what is worked out from that.

use super::{Cell, Door, Gait, Ground, Lattice, Link, MAX_CELLS_A_SIDE, MAX_TERRAINS, Terrain};
use serde::{Deserialize, Deserializer, Serialize, Serializer};

/// What a map consists of. `E` are its lists, borrowed or not.
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
    /// A map of parts that were read from a file. Every cell may be closed: it may have changed since it was made.
    fn of_parts(parts: Read) -> Result<Ground, String> {
        let Parts {
            lattice,
            width,
            height,
            cell_m,
            terrains,
            classes,
            heights,
            gaits,
            doors,
            links,
            blocks,
        } = parts;
        let sides = 1..=MAX_CELLS_A_SIDE;
        let count = width as usize * height as usize;
        let fits = sides.contains(&width)
            && sides.contains(&height)
            && (0.05..=100.0).contains(&cell_m)
            && (1..=MAX_TERRAINS).contains(&terrains.len())
            && classes.len() == count
            && classes
                .iter()
                .all(|class| usize::from(*class) < terrains.len())
            && (blocks.is_empty() || blocks.len() == count)
            && !gaits.is_empty();
        if !fits {
            return Err("a map whose parts do not fit each other".to_owned());
        }
        let ground = Ground {
            lattice,
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
            blocks,
            shut: Vec::new(),
            layers: Vec::new(),
        };
        let ground = if heights.is_empty() {
            Ok(ground)
        } else {
            ground.with_heights(heights)
        };
        let made = ground
            .and_then(|ground| ground.with_gaits(gaits))
            .and_then(|ground| {
                if doors.is_empty() {
                    Ok(ground)
                } else {
                    ground.with_doors(doors)
                }
            })
            .and_then(|ground| ground.with_links(links));
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
        postcard::to_stdvec(self).unwrap_or_default()
    }
}
