//! What a search from corner to corner knows of the nodes that it has come upon: of so few of a map that a table of them stays in
//! the nearest caches, where an entry for each cell of the map would not.

/// What is known of a node. Each entry is 16 bytes.
#[derive(Clone, Copy, Debug, Default)]
struct Entry {
    /// The node, and above it the number of the search that noted it; `0` is none.
    key: u32,
    /// From where it was reached.
    parent: u32,
    /// The cost, above the last step, and whether it is settled.
    value: u64,
}

/// Number of bits that a node takes: the largest map has fewer than 2^25 cells.
pub(super) const NODE_BITS: u32 = 25;

/// Number of bits of a value that the step takes.
const STEP_BITS: u32 = 4;

/// The bit of a value that is set once the node is settled.
const SETTLED: u64 = 1;

/// Searches before all entries are cleared.
const RUNS: u32 = (1 << (32 - NODE_BITS)) - 1;

/// The length of the table at first.
const LEAST: usize = 256;

/// The table: open addressing, at most half full.
#[derive(Clone, Debug, Default)]
pub(super) struct Known {
    entries: Vec<Entry>,
    count: usize,
    run: u32,
    /// By how much hashes are shifted to be places in the table.
    shift: u32,
}

impl Known {
    /// Forgets everything.
    pub(super) fn begin(&mut self) {
        if self.entries.is_empty() {
            self.lay_out(LEAST);
        }
        self.count = 0;
        self.run += 1;
        if self.run > RUNS {
            self.entries.fill(Entry::default());
            self.run = 1;
        }
    }

    fn lay_out(&mut self, length: usize) {
        self.entries.clear();
        self.entries.resize(length, Entry::default());
        self.shift = u32::BITS - length.ilog2();
    }

    /// Where a node is in the table, or belongs.
    #[inline]
    fn place(&self, node: usize) -> usize {
        let key = self.run << NODE_BITS | node as u32;
        let mask = self.entries.len() - 1;
        // Fibonacci hashing.
        let mut at = ((node as u32).wrapping_mul(0x9E37_79B1) >> self.shift) as usize;
        loop {
            let known = self.entries[at].key;
            if known == key || known >> NODE_BITS != self.run {
                return at;
            }
            at = (at + 1) & mask;
        }
    }

    #[inline]
    fn get(&self, node: usize) -> Option<&Entry> {
        let entry = &self.entries[self.place(node)];
        (entry.key >> NODE_BITS == self.run).then_some(entry)
    }

    /// The least cost at which a node has been reached, the last step of that, and from where: all zero if it has not.
    pub(super) fn reached(&self, node: usize) -> (u64, u8, u32) {
        self.get(node).map_or((0, 0, 0), |entry| {
            let step = entry.value >> 1 & ((1 << STEP_BITS) - 1);
            (entry.value >> (1 + STEP_BITS), step as u8, entry.parent)
        })
    }

    /// Notes a way to a node. Gives whether it is better than any known so far.
    pub(super) fn reach(&mut self, node: usize, cost: u64, step: u8, parent: u32) -> bool {
        let mut at = self.place(node);
        let known = self.entries[at];
        if known.key >> NODE_BITS == self.run {
            if known.value >> (1 + STEP_BITS) <= cost {
                return false;
            }
        } else {
            self.count += 1;
            if self.count * 2 > self.entries.len() {
                self.grow();
                at = self.place(node);
            }
        }
        self.entries[at] = Entry {
            key: self.run << NODE_BITS | node as u32,
            parent,
            value: cost << (1 + STEP_BITS) | u64::from(step) << 1,
        };
        true
    }

    fn grow(&mut self) {
        let length = self.entries.len() * 2;
        let before = core::mem::take(&mut self.entries);
        self.lay_out(length);
        let noted = before.iter();
        for entry in noted.filter(|entry| entry.key >> NODE_BITS == self.run) {
            let at = self.place(node_of(entry));
            self.entries[at] = *entry;
        }
    }

    /// Settles a node that was reached. Gives whether it was not settled before.
    pub(super) fn settle(&mut self, node: usize) -> bool {
        let at = self.place(node);
        let value = &mut self.entries[at].value;
        let is_new = *value & SETTLED == 0;
        *value |= SETTLED;
        is_new
    }

    /// The settled nodes, in order.
    pub(super) fn settled(&self) -> Vec<usize> {
        let entries = self.entries.iter();
        let settled = entries
            .filter(|entry| entry.key >> NODE_BITS == self.run && entry.value & SETTLED != 0);
        let mut nodes: Vec<usize> = settled.map(node_of).collect();
        nodes.sort_unstable();
        nodes
    }
}

fn node_of(entry: &Entry) -> usize {
    (entry.key & ((1 << NODE_BITS) - 1)) as usize
}
