//! The way down a goal field, read corner by corner.
//!
//! ```text
//!   s--c              From the start s by the centre of its cell c to the anchor of that, to the anchor of the anchor, and so
//!       '-.           on to the goal g of the field, then on to the end e. From a corner where a leg of an earlier route begins
//!          a--b--g    it goes on by legs instead: these are known to be pulled straight.
//!                 'e
//! ```

use super::field::GoalField;
use super::leaps::Leaps;
use super::work::CORNERS_A_CELL;
use crate::geom::Vec2;
use crate::ground::{ClearanceMap, Ground, LinkId};

/// How many of the last legs are pulled again: the end may be in sight of where they begin.
const PULLED_AGAIN: usize = 4;

/// Maximum number of legs that one route adds. Each counts as a settled cell.
pub(super) const MOST_LEGS: u32 = 1024;

/// A field, and the first legs of earlier routes down it.
#[derive(Clone, Copy)]
pub(super) struct Slope<'a> {
    pub(super) field: &'a GoalField,
    pub(super) leaps: &'a Leaps,
    pub(super) known: usize,
}

/// The way from the goal of a field to a point near it: the corners after the goal, and the links among them, each with the number of
/// the corner to which it leads.
#[derive(Clone, Debug, Default)]
pub(super) struct Rest {
    pub(super) corners: Vec<Vec2>,
    pub(super) links: Vec<(u32, LinkId)>,
}

/// A way from a cell down a field, and on from its goal.
#[derive(Clone, Debug, Default)]
pub(super) struct Descent {
    /// The corners so far, and the links among them, each with the number of the corner to which it leads.
    corners: Vec<Vec2>,
    links: Vec<(u32, LinkId)>,
    /// The number of corners before the centre of the cell where it begins.
    before: usize,
    /// The entries of that and of the corners that follow, each with whether a leg led to it.
    nodes: Vec<(u32, bool)>,
    rest: Rest,
    is_done: bool,
}

impl Descent {
    /// Begins at some corners of which the last is the centre of the cell of an entry. `rest` leads on from the goal of the field.
    pub(super) fn begin(&mut self, corners: impl IntoIterator<Item = Vec2>, node: u32, rest: Rest) {
        self.corners.clear();
        self.links.clear();
        self.nodes.clear();
        self.corners.extend(corners);
        self.before = self.corners.len().saturating_sub(1);
        self.nodes.push((node, false));
        self.rest = rest;
        self.is_done = false;
    }

    /// Reads on, for about `most` work. Returns whether it is done. Of the field, [`GoalField::look_down`] must be done for the
    /// entry where it began.
    pub(super) fn advance(
        &mut self,
        slope: Slope<'_>,
        (ground, clearance): (&Ground, &ClearanceMap),
        most: u32,
    ) -> bool {
        for _ in 0..most.saturating_mul(CORNERS_A_CELL) {
            if self.is_done {
                break;
            }
            self.read(slope, ground, clearance);
        }
        self.is_done
    }

    /// Adds a corner.
    fn read(&mut self, slope: Slope<'_>, ground: &Ground, clearance: &ClearanceMap) {
        let Some(&(here, _)) = self.nodes.last() else {
            return;
        };
        let leap = slope.leaps.next(here, slope.known);
        let leap = leap.filter(|to| slope.field.is_nearer(*to, here));
        let next = leap.map(|to| (to, None));
        let next = next.or_else(|| slope.field.next_corner(clearance, here));
        let Some((next, link)) = next else {
            let before = self.corners.len() as u32;
            self.corners.extend(&self.rest.corners);
            let links = self.rest.links.iter();
            self.links
                .extend(links.map(|(at, link)| (at + before, *link)));
            self.is_done = true;
            return;
        };
        self.links
            .extend(link.map(|link| (self.corners.len() as u32, link)));
        self.nodes.push((next, leap.is_some()));
        let at = ground.centre(clearance.cell(next as usize));
        self.corners.push(at);
    }

    /// The corners, if the last of them follows straight after the goal of the field, to which no link leads.
    pub(super) fn turn_at_goal(&mut self) -> Option<&mut [Vec2]> {
        let goal = self.corners.len().checked_sub(2)?;
        let is_linked = self.links.iter().any(|(at, _)| *at as usize >= goal);
        let is_one = self.is_done && self.rest.corners.len() == 1 && !is_linked;
        is_one.then_some(&mut self.corners[..])
    }

    /// The work so far, in settled cells.
    pub(super) fn work(&self) -> u32 {
        self.corners.len() as u32 / CORNERS_A_CELL
    }

    /// The corners and the links among them, each with the number of the corner to which it leads.
    pub(super) fn way(&self) -> (&[Vec2], &[(u32, LinkId)]) {
        (&self.corners, &self.links)
    }

    /// The numbers of the corners to which the corner before leads straight, and to none farther on.
    pub(super) fn pulled(&self) -> impl Iterator<Item = usize> {
        let leaps = self.nodes.iter().enumerate();
        let leaps = leaps.filter(|(_, (_, is_leap))| *is_leap);
        let count = leaps.clone().count().saturating_sub(PULLED_AGAIN);
        leaps.map(|(at, _)| at + self.before).take(count)
    }

    /// The first legs of the way pulled straight that are new and that others can share, given the numbers of the corners that were
    /// kept.
    pub(super) fn legs(&self, kept: &[usize]) -> Vec<(u32, u32)> {
        let node = |at: usize| self.nodes.get(at.checked_sub(self.before)?);
        let leg = |pair: &[usize]| {
            let (from, to) = (node(pair[0])?, node(pair[1])?);
            let link = self
                .links
                .binary_search_by_key(&pair[1], |(at, _)| *at as usize);
            let is_new = !to.1 && link.is_err();
            // The goal may be passed by.
            let is_goal = Some(to) == self.nodes.last();
            (is_new && !is_goal).then_some((from.0, to.0))
        };
        kept.windows(2)
            .filter_map(leg)
            .take(MOST_LEGS as usize)
            .collect()
    }
}
