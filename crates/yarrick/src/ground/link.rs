//! Links: ways from one cell to another that lead over no ground, such as a ladder, a ferry, or
//! a drop off a dyke, which leads down and not back.

use super::{GaitId, Ground, GroundError};
use crate::geom::Vec2;
use serde::{Deserialize, Serialize};

/// The most links that a map may have.
pub const MAX_LINKS: usize = 200;

/// The dearest that a link may be, in metres of plain ground.
pub const MAX_LINK_COST_M: f32 = 100_000.0;

/// Names a link, by its place in the list of a map.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct LinkId(pub u16);

/// A way between two points that leads over no ground.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Link {
    /// What it is called.
    pub name: String,
    /// Where it begins, in metres.
    pub from: Vec2,
    /// Where it ends, in metres.
    pub to: Vec2,
    /// The metres of plain ground that take as long, above 0. Lower draws more units to it.
    pub cost_m: f32,
    /// Whether it leads back, too.
    pub both_ways: bool,
    /// Who can use it; empty for everybody.
    pub gaits: Vec<GaitId>,
}

impl Link {
    /// Whether a gait can use it.
    #[must_use]
    pub fn is_for(&self, gait: GaitId) -> bool {
        self.gaits.is_empty() || self.gaits.contains(&gait)
    }
}

impl Ground {
    /// The same map with links.
    ///
    /// # Errors
    /// [`GroundError::BadLink`] for one that begins or ends off the map, or whose cost is out of
    /// range; [`GroundError::TooMany`] for more than [`MAX_LINKS`].
    pub fn with_links(mut self, links: Vec<Link>) -> Result<Ground, GroundError> {
        if links.len() > MAX_LINKS {
            return Err(GroundError::TooMany {
                what: "links",
                count: links.len(),
                most: MAX_LINKS,
            });
        }
        let is_bad = |link: &&Link| {
            let ends = [link.from, link.to];
            let off = ends.into_iter().any(|end| self.cell_at(end).is_none());
            let costs = link.cost_m > 0.0 && link.cost_m <= MAX_LINK_COST_M;
            off || !costs
        };
        match links.iter().find(is_bad) {
            Some(link) => Err(GroundError::BadLink {
                name: link.name.clone(),
            }),
            None => {
                self.links = links;
                Ok(self)
            }
        }
    }

    /// The links of the map.
    #[must_use]
    pub fn links(&self) -> &[Link] {
        &self.links
    }
}
