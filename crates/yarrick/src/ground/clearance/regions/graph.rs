//! A clearance map as its regions see it.

/// Where one can step from each entry of a clearance map.
pub(in crate::ground::clearance) struct Graph<'a> {
    pub(in crate::ground::clearance) weights: &'a [u8],
    pub(in crate::ground::clearance) steps: &'a [u8],
    pub(in crate::ground::clearance) offsets: [isize; 8],
    /// Entries in a row.
    pub(in crate::ground::clearance) stride: usize,
    /// Columns and rows without the rim.
    pub(in crate::ground::clearance) size: (usize, usize),
    /// The steps that matter. On squares straight ones are enough: a diagonal one is allowed only
    /// where the two straight ones are.
    pub(in crate::ground::clearance) counted: u8,
}

impl Graph<'_> {
    pub(super) fn is_open(&self, node: usize) -> bool {
        self.weights[node] > 0
    }

    /// The entries to which one can step from one.
    pub(in crate::ground::clearance) fn beside(
        &self,
        node: usize,
    ) -> impl Iterator<Item = usize> + '_ {
        let mut steps = self.steps[node] & self.counted;
        core::iter::from_fn(move || {
            (steps != 0).then(|| {
                let step = steps.trailing_zeros() as usize;
                steps &= steps - 1;
                node.wrapping_add_signed(self.offsets[step])
            })
        })
    }
}
