//! What is selected.

/// A set of ids, kept in ascending order.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Selection<Id> {
    ids: Vec<Id>,
}

impl<Id> Default for Selection<Id> {
    fn default() -> Selection<Id> {
        Selection { ids: Vec::new() }
    }
}

impl<Id: Copy + Ord> Selection<Id> {
    /// Selects these and nothing else.
    pub fn replace(&mut self, ids: impl IntoIterator<Item = Id>) {
        self.ids.clear();
        self.add(ids);
    }

    /// Selects these besides those that are selected.
    pub fn add(&mut self, ids: impl IntoIterator<Item = Id>) {
        self.ids.extend(ids);
        self.ids.sort_unstable();
        self.ids.dedup();
    }

    /// Selects nothing.
    pub fn clear(&mut self) {
        self.ids.clear();
    }

    /// Drops those for which `keep` says no: the dead, say.
    pub fn retain(&mut self, mut keep: impl FnMut(Id) -> bool) {
        self.ids.retain(|id| keep(*id));
    }

    /// The selected ids, in ascending order.
    #[must_use]
    pub fn ids(&self) -> &[Id] {
        &self.ids
    }

    /// Whether the id is selected. Costs a binary search.
    #[must_use]
    pub fn contains(&self, id: Id) -> bool {
        self.ids.binary_search(&id).is_ok()
    }

    /// How many are selected.
    #[must_use]
    pub fn len(&self) -> usize {
        self.ids.len()
    }

    /// Whether nothing is selected.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.ids.is_empty()
    }
}
