//! What is selected.

/// A list of ids without repeats, the leading one first.
///
/// Those selected together stand in the order in which they were given; those added later stand
/// behind them. A limit, if the game wants one, holds at all times: a unit that comes too late stays
/// out.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Selection<Id> {
    /// In the order of selection.
    ids: Vec<Id>,
    /// The same in ascending order, to be searched.
    sorted: Vec<Id>,
    most: usize,
}

impl<Id> Default for Selection<Id> {
    /// An empty selection without a limit.
    fn default() -> Selection<Id> {
        Selection::with_limit(usize::MAX)
    }
}

impl<Id> Selection<Id> {
    /// An empty selection that never holds more than `most`.
    #[must_use]
    pub fn with_limit(most: usize) -> Selection<Id> {
        Selection {
            ids: Vec::new(),
            sorted: Vec::new(),
            most,
        }
    }
}

impl<Id: Copy + Ord> Selection<Id> {
    /// Selects these and nothing else.
    pub fn replace(&mut self, ids: impl IntoIterator<Item = Id>) {
        self.clear();
        self.add(ids);
    }

    /// Selects these besides those that are selected.
    pub fn add(&mut self, ids: impl IntoIterator<Item = Id>) {
        let first_new = self.ids.len();
        self.ids.extend(ids);
        // Of repeats, the first stays. Sorted with their places, so that this costs n log n.
        let mut places: Vec<(Id, usize)> = self.ids.iter().copied().zip(0..).collect();
        places.sort_unstable();
        places.dedup_by_key(|(id, _)| *id);
        places.sort_unstable_by_key(|(_, place)| *place);
        places.truncate(self.most.max(first_new));
        self.ids.clear();
        self.ids.extend(places.iter().map(|(id, _)| *id));
        self.index();
    }

    /// Takes these out, as far as they are selected.
    pub fn take_away(&mut self, ids: impl IntoIterator<Item = Id>) {
        let mut gone: Vec<Id> = ids.into_iter().collect();
        gone.sort_unstable();
        self.retain(|id| gone.binary_search(&id).is_err());
    }

    /// Takes the id out if it is selected, and selects it besides the others if it is not.
    pub fn toggle(&mut self, id: Id) {
        if self.contains(id) {
            self.take_away([id]);
        } else {
            self.add([id]);
        }
    }

    /// Selects nothing.
    pub fn clear(&mut self) {
        self.ids.clear();
        self.sorted.clear();
    }

    /// Drops those for which `keep` says no: the dead, say.
    pub fn retain(&mut self, mut keep: impl FnMut(Id) -> bool) {
        self.ids.retain(|id| keep(*id));
        self.index();
    }

    /// The selected ids, the leading one first.
    #[must_use]
    pub fn ids(&self) -> &[Id] {
        &self.ids
    }

    /// The one that leads: whose picture a game shows, and that answers for the others.
    #[must_use]
    pub fn lead(&self) -> Option<Id> {
        self.ids.first().copied()
    }

    /// Whether the id is selected. Costs a binary search.
    #[must_use]
    pub fn contains(&self, id: Id) -> bool {
        self.sorted.binary_search(&id).is_ok()
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

    fn index(&mut self) {
        self.sorted.clone_from(&self.ids);
        self.sorted.sort_unstable();
    }
}
