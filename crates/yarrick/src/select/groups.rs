//! Control groups: ten selections kept for later.

use super::Selection;

/// How many control groups there are, numbered from 0.
pub const GROUPS: usize = 10;

/// How soon a group must be recalled again, in seconds, to mean "show me".
const AGAIN_S: f64 = 0.4;

/// There is no control group of this number.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("there is no control group {0}; there are 0 to 9")]
pub struct NoSuchGroup(pub usize);

/// The control groups of a player.
#[derive(Clone, Debug, PartialEq)]
pub struct Groups<Id> {
    groups: [Selection<Id>; GROUPS],
    /// The group recalled last, and when.
    last: Option<(usize, f64)>,
}

impl<Id> Default for Groups<Id> {
    fn default() -> Groups<Id> {
        Groups {
            groups: core::array::from_fn(|_| Selection::default()),
            last: None,
        }
    }
}

impl<Id: Copy + Ord> Groups<Id> {
    /// Makes a group of these and nobody else. A unit can be in several groups.
    ///
    /// # Errors
    /// [`NoSuchGroup`] for a number above 9.
    pub fn set(
        &mut self,
        number: usize,
        ids: impl IntoIterator<Item = Id>,
    ) -> Result<(), NoSuchGroup> {
        self.group(number)?.replace(ids);
        Ok(())
    }

    /// Adds these to a group.
    ///
    /// # Errors
    /// [`NoSuchGroup`] for a number above 9.
    pub fn add(
        &mut self,
        number: usize,
        ids: impl IntoIterator<Item = Id>,
    ) -> Result<(), NoSuchGroup> {
        self.group(number)?.add(ids);
        Ok(())
    }

    /// The members of a group, and whether it was recalled a moment before: then the player
    /// wants to see them. A third recall counts as a first one again.
    ///
    /// # Errors
    /// [`NoSuchGroup`] for a number above 9.
    pub fn recall(&mut self, number: usize, time_s: f64) -> Result<(&[Id], bool), NoSuchGroup> {
        self.group(number)?;
        let again = self
            .last
            .is_some_and(|(last, at)| last == number && (0.0..=AGAIN_S).contains(&(time_s - at)));
        self.last = (!again).then_some((number, time_s));
        Ok((self.groups[number].ids(), again))
    }

    /// Drops the members for which `keep` says no, from all groups: the dead, say.
    pub fn retain(&mut self, mut keep: impl FnMut(Id) -> bool) {
        for group in &mut self.groups {
            group.retain(&mut keep);
        }
    }

    /// The members of a group; nobody for a number above 9.
    #[must_use]
    pub fn members(&self, number: usize) -> &[Id] {
        self.groups.get(number).map_or(&[], Selection::ids)
    }

    fn group(&mut self, number: usize) -> Result<&mut Selection<Id>, NoSuchGroup> {
        self.groups.get_mut(number).ok_or(NoSuchGroup(number))
    }
}
